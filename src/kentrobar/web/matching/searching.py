"""Plans for a set, searched for by a worker: what goes in, what is kept of the answer, its cards."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property
from typing import Any, Final

from kentrobar.core.body.target import Target
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.editing.stored import numbered, stored_pieces
from kentrobar.core.solving.concessions import Concession, concessions
from kentrobar.core.solving.set_plans import Status
from kentrobar.core.solving.set_ways import SetWay, SetWork, WayResult, plan_by, plan_fewest
from kentrobar.web.kit.fingerprints import fingerprint
from kentrobar.web.kit.models import Search
from kentrobar.web.kit.records import Json
from kentrobar.web.kit.searches import Prepared, SearchCard, SearchRequest, Watch
from kentrobar.web.matching import cards
from kentrobar.web.matching.models import FrameSet
from kentrobar.web.matching.prepared import (
    PreparedFrame,
    prepared_frames,
    ready_frames,
    require_plannable,
    works,
)
from kentrobar.web.matching.queries import sets_in_full
from kentrobar.web.matching.targets import target_of
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.shops.models import User

LONGEST_S: Final = 60.0  # that a search may take
POLISH_S: Final = 8.0  # nobody waits at a page that stands still meanwhile


class SetProblem:
    """A set as it is planned: its frames, its target, what may be used where.

    Raises:
        KentrobarError: fewer than two frames can be planned, or the target was not read.
    """

    def __init__(self, of: FrameSet, frames: Sequence[PreparedFrame], shelf: Shelf) -> None:
        self.of, self.frames = of, require_plannable(frames)
        self.target: Target = target_of(of, self.frames)
        self.works: list[SetWork] = works(of, self.frames, shelf)

    @cached_property
    def fingerprint(self) -> str:
        """Of everything that a plan rests on."""
        return fingerprint(self.of.kind == FrameSet.TargetKind.FEWEST, self.target, self.works)

    def ask(self, ways: Sequence[SetWay]) -> list[SearchRequest]:
        """The searches for plans in these ways."""
        return [SearchRequest(way.value, self.fingerprint, {}) for way in ways]

    def solve(self, way: SetWay, watch: Watch) -> Json:
        """The plan of one way, as it is kept."""
        if self.of.kind == FrameSet.TargetKind.FEWEST and way is SetWay.LEAST:
            answer = plan_fewest(self.works, self.target, seconds=LONGEST_S, watch=watch)
        else:
            answer = plan_by(
                way,
                self.works,
                self.target,
                chance=self.target.chance,
                seconds=LONGEST_S,
                watch=watch,
                polish_s=POLISH_S if way is SetWay.LEAST else 0.0,
            )
        kept = _kept(answer, self.frames)
        if way is SetWay.LEAST and answer.plan.status is Status.INFEASIBLE:
            found = concessions(self.works, self.target, LONGEST_S)
            kept["concessions"] = [_concession_kept(each, self.frames) for each in found]
        return kept


class SetSearches:
    """Searches for the plans of a set; its parts are ways."""

    name = "set"

    def prepare(self, search: Search) -> Prepared:
        by: User = search.asked_by
        of = sets_in_full(by).get(pk=search.subject)
        problem = SetProblem(of, prepared_frames(of), shelf_of(by))
        way = SetWay(search.part)
        return Prepared(problem.fingerprint, lambda watch: problem.solve(way, watch))

    def cards(self, searches: Sequence[Search], user: Any) -> list[SearchCard]:
        shown = [cards.waiting_card(each, user.units) for each in searches]
        if not any(each.result for each in searches):  # asked for often, so it reads nothing
            return shown
        of = sets_in_full(user).get(pk=searches[0].subject)
        ready = ready_frames(of)
        units = user.units.of_sport(ready[0].frame.sport) if ready else user.units
        return cards.answered(shown, of, ready, shelf_of(user), units)


def _concession_kept(out: Concession, frames: Sequence[PreparedFrame]) -> Json:
    return {
        "giving": out.giving.value,
        "frame": frames[out.frame].frame.pk if out.frame >= 0 else None,
        "name": out.name,
        "value": out.value,
        "added_g": out.plan.added_g,
        "chance": out.plan.chance,
        "target": dict(out.plan.target),
    }


def _kept(answer: WayResult, frames: Sequence[PreparedFrame]) -> Json:
    plan = answer.plan
    return {
        "status": plan.status.value,
        "target": dict(plan.target),
        "added_g": plan.added_g,
        "bound_g": plan.bound_g,
        "chance": plan.chance,
        "obstacle": None if answer.obstacle is None else list(answer.obstacle),
        "worth": None
        if answer.worth is None
        else [frames[answer.worth.frame].frame.pk, answer.worth.name, answer.worth.chance],
        "frames": [
            {
                "frame": each.frame.pk,
                "added_g": planned.found.added_g,
                "chance": planned.chance,
                "pieces": stored_pieces(numbered(planned.pieces)),
                "reason": None
                if planned.found.reason is None
                else [
                    list(planned.found.reason.names),
                    planned.found.reason.now,
                    planned.found.reason.low,
                    planned.found.reason.high,
                ],
            }
            for each, planned in zip(frames, plan.frames, strict=True)
        ],
    }
