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
from kentrobar.web.kit.searches import Asked, Prepared, SearchCard
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
        wanted = form.wanted()
        if wanted is None:
            raise KentrobarError("What the trial is to find cannot be read.", code="no_trial")
        return Prepared(
            rests_on(wanted), lambda _watch: {"status": "optimal", "trial": plan_trial(wanted, by).pk}
        )

    def cards(self, searches: Sequence[Search], user: Any) -> list[SearchCard]:
        return [_card(each) for each in searches]


def form_of(frame: Frame, typed: str, user: User) -> TrialForm:
    """The form of a trial as it was typed."""
    return TrialForm(QueryDict(typed), frame=frame, shelf=shelf_of(user), user=user)


def refused_form(frame: Frame, asked: Sequence[Search], user: User) -> TrialForm | None:
    """What was typed for the last trial that could not be planned, with the reason at its field."""
    failed = [each for each in asked if each.state == Search.State.FAILED]
    if not failed:
        return None
    form = form_of(frame, failed[-1].request["typed"], user)
    form.is_valid()
    form.refuse(KentrobarError(failed[-1].problem, code="refused", field=failed[-1].problem_field))
    return form


def rests_on(wanted: TrialRequest) -> str:
    """The fingerprint of what a trial rests on; another one of the same frame is another trial."""
    earlier = list(Trial.objects.filter(frame=wanted.frame).values_list("pk", flat=True))
    twin = wanted.twin.pk if wanted.twin else None
    return fingerprint(
        wanted.work,
        wanted.twin_work,
        twin,
        wanted.steps,
        wanted.held,
        wanted.way,
        wanted.is_blind,
        sorted(earlier),
    )


def ask_setups(wanted: TrialRequest, typed: str) -> list[Asked]:
    """The search for the setups of one trial."""
    return [Asked("", rests_on(wanted), {"typed": typed})]


def _card(search: Search) -> SearchCard:
    shown = SearchCard(search, "Setups of the trial")
    if search.result:
        address = reverse("play:trial", args=[search.result["trial"]])
        shown.template, shown.leads_to = "play/trials/_planned.html", address
    return shown
