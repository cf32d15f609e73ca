"""Plans for a typed target, searched for by a worker: school by school, or frame by frame."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from django.http import QueryDict

from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.editing.stored import numbered, read_pieces, stored_pieces
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.solving.matching import Match, Reason
from kentrobar.core.solving.proposals import LEAST, SCHOOLS, Proposal, propose_by
from kentrobar.core.solving.supply import Workpiece
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.queries import frames_with_fittings
from kentrobar.web.kit.fingerprints import fingerprint
from kentrobar.web.kit.models import Search
from kentrobar.web.kit.numbers import Units
from kentrobar.web.kit.records import Json
from kentrobar.web.kit.searches import Prepared, SearchCard, SearchRequest
from kentrobar.web.kit.spec_rows import SpecRow
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.planning.targets.forms import TargetForm
from kentrobar.web.planning.targets.view_models import (
    NoPlanView,
    ProposalView,
    no_plan_view,
    proposal_view,
    reasons,
)
from kentrobar.web.shops.models import User
from kentrobar.web.showing.pieces import moved_text
from kentrobar.web.showing.specs import prediction_rows

NOT_OF_THE_TARGET = ("csrfmiddlewaretoken", "search", "page", "goal")


def typed_in(sent: QueryDict, but: Iterable[str] = NOT_OF_THE_TARGET) -> str:
    """What was typed into a form, as a search keeps it."""
    kept = sent.copy()
    for name in but:
        kept.pop(name, None)
    return kept.urlencode()


def as_fields(sent: QueryDict) -> list[tuple[str, str]]:
    """What was typed, as the hidden fields of another form."""
    return [(name, str(value)) for name, values in sent.lists() for value in values]


def form_of(frame: Frame, typed: str, shelf: Shelf, units: Units) -> TargetForm:
    """The form of a target as it was typed, for a frame. Raises KentrobarError where it cannot be read."""
    form = TargetForm(QueryDict(typed), frame=frame, shelf=shelf, units=units)
    if not form.is_valid():
        raise KentrobarError("This target does not work for this frame.", code="no_target")
    return form


# -- what is kept of an answer -------------------------------------------------------------------


def stored_answer(proposal: Proposal | None, found: Match) -> Json:
    """One school's answer as a search keeps it."""
    of_school = proposal.found if proposal else found
    return {
        "status": _status(found if proposal is None else of_school),
        "title": proposal.title if proposal else "",
        "reason": proposal.reason if proposal else "",
        "chance": float(proposal.chance) if proposal else None,
        "pieces": stored_pieces(numbered(of_school.pieces)),
        "nearest": stored_pieces(numbered(of_school.nearest)),
        "added_g": float(of_school.added_g),
        "bound_g": float(of_school.lower_bound_g),
        "is_proven": bool(of_school.is_proven),
        "why": list(of_school.reason.names) if of_school.reason else None,
        "why_numbers": [
            of_school.reason.now,
            of_school.reason.low,
            of_school.reason.high,
            of_school.reason.is_change,
        ]
        if of_school.reason
        else [],
    }


def _status(found: Match) -> str:
    if found.is_feasible:
        return "optimal" if found.is_proven else "feasible"
    return "infeasible" if found.is_proven else "undecided"


def read_answer(kept: Json, key: str, work: Workpiece, axis_cm: float) -> tuple[Proposal | None, Match]:
    """The inverse of :func:`stored_answer`, on the frame that it was found for."""
    pieces, nearest = (
        tuple(each.piece for each in read_pieces(kept[name])) for name in ("pieces", "nearest")
    )
    why = None if kept["why"] is None else Reason(tuple(kept["why"]), *kept["why_numbers"])
    found = Match(
        kept["status"] in ("optimal", "feasible"),
        pieces,
        kept["added_g"],
        kept["bound_g"],
        why,
        nearest,
        kept["is_proven"],
    )
    if not kept["title"]:
        return None, found
    prediction = work.predict(pieces, axis_cm)
    title, reason, chance = kept["title"], kept["reason"], kept["chance"]
    return Proposal(key, title, reason, SCHOOLS[key], found, prediction, chance), found


# -- school by school ----------------------------------------------------------------------------


class PlanSearches:
    """Searches for plans of one frame; their parts are schools."""

    name = "plans"

    def prepare(self, search: Search) -> Prepared:
        return _prepared(search.asked_by, search.subject, search, search.part)

    def cards(self, searches: Sequence[Search], user: Any) -> list[SearchCard]:
        shown = [waiting_card(each) for each in searches]
        answered = [card for card in shown if card.search.result]
        if answered:
            frame = _frame(user, searches[0].subject)
            form = form_of(frame, searches[0].request["typed"], shelf_of(user), user.units)
            for each in answered:
                _tell_answer(each, form, frame)
        return shown


def ask_schools(form: TargetForm, typed: str) -> list[SearchRequest]:
    """The searches of all schools for what was typed."""
    rests_on = fingerprint(form.workpiece(), form.target())
    return [SearchRequest(key, rests_on, {"typed": typed}) for key in SCHOOLS]


def _prepared(by: User, frame_pk: int, search: Search, school: str) -> Prepared:
    form = form_of(_frame(by, frame_pk), search.request["typed"], shelf_of(by), by.units)
    work, target = form.workpiece(), form.target()
    return Prepared(
        fingerprint(work, target), lambda _watch: stored_answer(*propose_by(school, work, target))
    )


def waiting_card(search: Search) -> SearchCard:
    """One school's card before its answer: asked for often, so it reads nothing."""
    return SearchCard(search, SCHOOLS[search.part].title, SCHOOLS[search.part].reason)


def _tell_answer(shown: SearchCard, form: TargetForm, frame: Frame) -> None:
    """Put a school's plan on its card; why there is none for that of least weight, nothing for others."""
    search, target, units = shown.search, form.target(), form.units
    proposal, found = read_answer(search.result or {}, search.part, form.workpiece(), target.axis_cm)
    if proposal:
        view = proposal_view(proposal, form.shelf, frame, units, target)
        show_plan(shown, proposal, "planning/_proposal.html", view)
    elif search.part == LEAST:
        show_no_plan(shown, no_plan_view(found, frame, units, target))
    else:
        shown.is_shown = False


def show_plan(shown: SearchCard, proposal: Proposal, template: str, view: ProposalView) -> None:
    """Put a plan on the card of its school, in the order of its weight; the same places are shown once."""
    shown.title, shown.reason, shown.template = proposal.title, proposal.reason, template
    shown.order, shown.same, shown.view = view.order, view.places, view


def show_no_plan(shown: SearchCard, view: NoPlanView) -> None:
    """Say on a card why there is no plan."""
    shown.reason, shown.template, shown.view = "", "planning/_no_plan.html", view


def _frame(user: User, pk: int) -> Frame:
    return frames_with_fittings(user).get(pk=pk)


# -- frame by frame ------------------------------------------------------------------------------


class PlatformSearches:
    """Searches for the frame that needs least to reach a target; their parts are frames."""

    name = "platform"

    def prepare(self, search: Search) -> Prepared:
        return _prepared(search.asked_by, int(search.part), search, LEAST)

    def cards(self, searches: Sequence[Search], user: Any) -> list[SearchCard]:
        keys = [int(each.part) for each in searches]
        frames = {frame.pk: frame for frame in frames_with_fittings(user).filter(pk__in=keys)}
        shelf = shelf_of(user)
        return [
            _platform_card(
                each, frames[int(each.part)], shelf, user.units.of_sport(frames[int(each.part)].sport)
            )
            for each in searches
            if int(each.part) in frames
        ]


def ask_platforms(frames: Iterable[Frame], typed: str, user: User) -> list[SearchRequest]:
    """The searches of these frames; one for which the target cannot be read is left out."""
    found, shelf = [], shelf_of(user)
    for frame in frames:
        try:
            form = form_of(frame, typed, shelf, user.units)
        except KentrobarError:
            continue
        rests_on = fingerprint(form.workpiece(), form.target())
        found.append(SearchRequest(str(frame.pk), rests_on, {"typed": typed}))
    return found


@dataclass(frozen=True, slots=True)
class PlatformView:
    """A frame that could serve: what it needs and comes to, or why it cannot; the target as fields."""

    frame: Frame
    fields: list[tuple[str, str]]
    added: str
    specs: list[SpecRow]
    reasons: list[str]


def _platform_card(search: Search, frame: Frame, shelf: Shelf, units: Units) -> SearchCard:
    shown = SearchCard(search, frame.label, frame.player, order=1e6)
    if search.result is None:
        return shown
    form = form_of(frame, search.request["typed"], shelf, units)
    proposal, found = read_answer(search.result, LEAST, form.workpiece(), form.target().axis_cm)
    typed = QueryDict(search.request["typed"], mutable=True)
    typed["search"] = "plans"
    shown.template, shown.order = "planning/_platform.html", found.added_g if proposal else 1e5
    shown.view = PlatformView(
        frame,
        as_fields(typed),
        " ".join(moved_text(proposal.pieces, units)) if proposal else "",
        prediction_rows(proposal.prediction, frame, units) if proposal else [],
        [] if proposal else reasons(found, frame, units),
    )
    return shown
