"""What the page of a set is given."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property

from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.reading.likeness import Difference
from kentrobar.core.solving.set_ways import WAYS, SetWay
from kentrobar.web.frames.queries import frames_in_use
from kentrobar.web.kit.models import Search
from kentrobar.web.kit.numbers import ShownSpec, Units
from kentrobar.web.kit.searches import SearchList, in_order, known
from kentrobar.web.matching import cards, picture, services, view_models
from kentrobar.web.matching.models import FrameSet, SetLaying
from kentrobar.web.matching.prepared import PreparedFrame, prepared_frames
from kentrobar.web.matching.searching import SetProblem, SetSearches
from kentrobar.web.matching.targets import given_target, start_of_drag, target_of
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.planning.models import Plan
from kentrobar.web.shops.models import User

MOST_ADDABLE = 200


class Shown:
    """A set with its frames as one person looks at it; what is derived is worked out once."""

    def __init__(self, of: FrameSet, user: User) -> None:
        self.of, self.user = of, user

    @cached_property
    def units(self) -> Units:
        """How the person reads frames of the set's sport."""
        return self.user.units.of_sport(self.frames[0].frame.sport)

    @cached_property
    def frames(self) -> list[PreparedFrame]:
        return prepared_frames(self.of)

    @cached_property
    def ready(self) -> list[PreparedFrame]:
        return [each for each in self.frames if each.is_ready]

    @cached_property
    def shelf(self) -> Shelf:
        return shelf_of(self.user)

    @cached_property
    def searchable(self) -> SetProblem | None:
        """The set as it is planned; None where it cannot be."""
        try:
            return SetProblem(self.of, self.frames, self.shelf)
        except KentrobarError:
            return None

    def searches(self) -> list[Search]:
        """What was searched for the set as it is now."""
        if self.searchable is None:
            return []
        return known(SetSearches.name, self.of.pk, self.searchable.ask(list(SetWay)), self.user)


@dataclass(frozen=True, slots=True)
class SetView:
    """The page of a set: its frames beside the target, its pictures, what was found and laid."""

    set: FrameSet
    units: Units
    problem: str
    specs: list[ShownSpec]
    rows: list[view_models.SetRow]
    spreads: list[view_models.Spread]
    differences: list[Difference]
    has_target: bool
    pictures: list[picture.SetPicture]
    start: dict[str, float]
    presets: list[tuple[str, str, str]]
    alike_sentence: str
    found: SearchList
    further_ways: list[tuple[str, str, str]]
    plans: list[Plan]
    laying: SetLaying | None
    applied_target: list[tuple[str, str]]
    addable: Iterable[tuple[int, str, str]]
    is_ready: bool
    is_chosen: bool
    is_pinned: bool


def _is_aimed_at(of: FrameSet, laying: SetLaying) -> bool:
    """Whether the target is still the one that plans were laid for."""
    centres, applied = of.target.centres, laying.target.centres
    return centres.keys() == applied.keys() and all(
        math.isclose(centres[name], applied[name], abs_tol=1e-3) for name in centres
    )


def set_view(shown: Shown) -> SetView:
    """A set as its page shows it."""
    of, user, units = shown.of, shown.user, shown.units
    problem = ""
    try:
        target = given_target(of, shown.ready) or {}
        target_of(of, shown.ready)
    except KentrobarError as error:
        target, problem = {}, error.message
    start = start_of_drag(of, shown.ready)
    searches = shown.searches()
    waiting = [cards.waiting_card(each, units) for each in searches]
    found = in_order(cards.answered(waiting, of, shown.ready, shown.shelf, units))
    searched = {each.part for each in searches}
    first, laying = shown.frames[0].frame, next(iter(of.layings.all()), None)
    return SetView(
        set=of,
        units=units,
        problem=problem,
        specs=view_models.set_specs(of, units),
        rows=view_models.rows(of, shown.frames, target, units, user.own_shop.felt_rule),
        spreads=view_models.spreads(of, shown.ready, units),
        differences=view_models.differing(shown.frames, units),
        has_target=bool(target),
        pictures=picture.pictures(shown.frames, start, of.target.tolerances, units, first.length_cm),
        start=start,
        presets=view_models.presets(),
        alike_sentence=view_models.alike_sentence(of),
        found=SearchList(searches, found),
        further_ways=[
            (w.value, text.title, text.reason) for w, text in WAYS.items() if w.value not in searched
        ],
        plans=services.plans_applied(of),
        laying=laying,
        applied_target=view_models.target_shown(laying.target.centres, first, units) if laying else [],
        addable=frames_in_use(user)
        .filter(sport=first.sport, specs__isnull=False)
        .exclude(pk__in=[each.frame.pk for each in shown.frames])
        .values_list("pk", "label", "client__name")[:MOST_ADDABLE],
        is_ready=len(shown.ready) > 1 and not problem,
        is_chosen=of.version > 1 or bool(searches),
        is_pinned=laying is not None and _is_aimed_at(of, laying),
    )
