"""Setups of a trial, worked out by a worker, which plans the trial with them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.http import QueryDict
from django.urls import reverse

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.queries import frames_with_fittings
from kentrobar.web.kit.fingerprints import fingerprint
from kentrobar.web.kit.models import Search
from kentrobar.web.kit.searches import Prepared, SearchCard, SearchRequest
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.play.models import Trial
from kentrobar.web.play.trials.forms import TrialForm
from kentrobar.web.play.trials.services import TrialRequest, plan_trial
from kentrobar.web.shops.models import User


class SetupSearches:
    """Searches for the setups of a trial on a frame; what is found is a trial."""

    name = "setups"

    def prepare(self, search: Search) -> Prepared:
        by: User = search.asked_by
        frame = frames_with_fittings(by).get(pk=search.subject)
        form = form_of(frame, search.request["typed"], by)
        trial_request = form.trial_request()
        if trial_request is None:
            raise KentrobarError("This play test's request does not work.", code="no_trial")
        return Prepared(
            rests_on(trial_request),
            lambda _watch: {"status": "optimal", "trial": plan_trial(trial_request, by).pk},
        )

    def cards(self, searches: Sequence[Search], user: Any) -> list[SearchCard]:
        return [_card(each) for each in searches]


def form_of(frame: Frame, typed: str, user: User) -> TrialForm:
    """The form of a trial as it was typed."""
    return TrialForm(QueryDict(typed), frame=frame, shelf=shelf_of(user), user=user)


def refused_form(frame: Frame, searches: Sequence[Search], user: User) -> TrialForm | None:
    """What was typed for the last trial that could not be planned, with the reason at its field."""
    failed = [each for each in searches if each.state == Search.State.FAILED]
    if not failed:
        return None
    form = form_of(frame, failed[-1].request["typed"], user)
    form.is_valid()
    form.refuse(KentrobarError(failed[-1].problem, code="refused", field=failed[-1].problem_field))
    return form


def rests_on(trial_request: TrialRequest) -> str:
    """The fingerprint of what a trial rests on; another one of the same frame is another trial."""
    earlier = list(Trial.objects.filter(frame=trial_request.frame).values_list("pk", flat=True))
    twin = trial_request.twin.pk if trial_request.twin else None
    return fingerprint(
        trial_request.work,
        trial_request.twin_work,
        twin,
        trial_request.steps,
        trial_request.held,
        trial_request.way,
        trial_request.is_blind,
        sorted(earlier),
    )


def ask_setups(trial_request: TrialRequest, typed: str) -> list[SearchRequest]:
    """The search for the setups of one trial."""
    return [SearchRequest("", rests_on(trial_request), {"typed": typed})]


def _card(search: Search) -> SearchCard:
    shown = SearchCard(search, "Setups of the play test")
    if search.result:
        address = reverse("play:trial", args=[search.result["trial"]])
        shown.template, shown.leads_to = "play/trials/_planned.html", address
    return shown
