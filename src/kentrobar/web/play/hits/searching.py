"""Plans that move the sweet spot to a player's hits, searched for by a worker school by school."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property
from typing import Any

from django.http import QueryDict

from kentrobar.core.play.zone_plans import GIVE_CM, WantedZone, propose_nearest_zone, propose_zone
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.solving.matching import Match
from kentrobar.core.solving.proposals import LEAST, SCHOOLS, Proposal
from kentrobar.web.kit.fingerprints import fingerprint
from kentrobar.web.kit.models import Search
from kentrobar.web.kit.records import Json
from kentrobar.web.kit.searches import Prepared, SearchCard, SearchRequest
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.planning.targets.searching import (
    read_answer,
    show_no_plan,
    show_plan,
    stored_answer,
    waiting_card,
)
from kentrobar.web.planning.targets.view_models import NoPlanView
from kentrobar.web.play.hits.forms import SpeedsForm, ZoneForm
from kentrobar.web.play.hits.proposing import zone_plan_view
from kentrobar.web.play.impact.setting import Impact, bare_plan, impact_of
from kentrobar.web.play.models import HitMap
from kentrobar.web.play.queries import hit_maps_in_full
from kentrobar.web.shops.models import User

OUT_OF_REACH = (
    "No weight at these positions moves the sweet spot that way. Allow another position, or keep less."
)


class ZoneProblem:
    """Where a frame's sweet spot is to lie, with what else is wanted, as it was typed.

    Raises:
        KentrobarError: what was typed cannot be read, or a spec that a hit needs was not.
    """

    def __init__(self, hit_map: HitMap, typed: str, user: User) -> None:
        self.hit_map, self.units, sent = hit_map, user.units, QueryDict(typed)
        self.form = ZoneForm(sent, frame=hit_map.frame, shelf=shelf_of(user), units=user.units)
        if not self.form.is_valid():
            raise KentrobarError("This target does not work for this frame.", code="no_target")
        choice = SpeedsForm(sent, hit_map=hit_map, units=user.units).choice()
        self.impact: Impact = impact_of(bare_plan(hit_map.frame), choice)
        zone = self.form.cleaned_data["zone"]
        give_cm = GIVE_CM if zone.u_base is None else zone.u_base
        self.place = WantedZone(self.impact.setting.zone, zone.base, give_cm)
        self.work, self.target = self.form.workpiece(), self.form.target()

    @cached_property
    def fingerprint(self) -> str:
        """Of everything that a plan rests on."""
        place = (self.place.y_cm, self.place.give_cm, self.impact.choice)
        return fingerprint(self.work, self.target, *place)

    def solve(self, school: str) -> Json:
        """The plan of one school; the nearest there is for that of least weight."""
        if school != LEAST:
            found = propose_zone(school, self.work, self.target, self.place)
            return _kept(found, is_met=True)
        nearest = propose_nearest_zone(self.work, self.target, self.place)
        return _kept(nearest.proposal, nearest.is_met) if nearest else _kept(None, is_met=False)


def _kept(proposal: Proposal | None, is_met: bool) -> Json:
    return stored_answer(proposal, Match(False)) | {"is_met": is_met}


class ZoneSearches:
    """Searches for plans that move a sweet spot; their parts are schools."""

    name = "zone"

    def prepare(self, search: Search) -> Prepared:
        problem = _problem(search, search.asked_by)
        return Prepared(problem.fingerprint, lambda _watch: problem.solve(search.part))

    def cards(self, searches: Sequence[Search], user: Any) -> list[SearchCard]:
        shown = [waiting_card(each) for each in searches]
        answered = [card for card in shown if card.search.result]
        if answered:
            problem = _problem(searches[0], user)
            for each in answered:
                _tell_answer(each, problem)
        return shown


def ask_schools(problem: ZoneProblem, typed: str) -> list[SearchRequest]:
    """The searches of all schools."""
    return [SearchRequest(key, problem.fingerprint, {"typed": typed}) for key in SCHOOLS]


def _problem(search: Search, user: User) -> ZoneProblem:
    hit_map = hit_maps_in_full(user).get(pk=search.subject)
    return ZoneProblem(hit_map, search.request["typed"], user)


def _tell_answer(shown: SearchCard, problem: ZoneProblem) -> None:
    search, axis_cm = shown.search, problem.target.axis_cm
    kept = search.result or {}
    proposal, _ = read_answer(kept, search.part, problem.work, axis_cm)
    if proposal:
        view = zone_plan_view(
            proposal,
            form=problem.form,
            hit_map=problem.hit_map,
            impact=problem.impact,
            units=problem.units,
            is_met=kept["is_met"],
        )
        show_plan(shown, proposal, "play/hits/_proposal.html", view)
    elif search.part == LEAST:
        show_no_plan(shown, NoPlanView(problem.hit_map.frame, [OUT_OF_REACH], is_proven=True))
    else:
        shown.is_shown = False
