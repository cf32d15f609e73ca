"""Ways to make a set alike: with the least weight, in the same places, out of sight, as sure as can be."""

from __future__ import annotations

import math
import time
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from itertools import combinations, islice
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.body.target import Alike, Target
from kentrobar.core.frame.places import ClockPlace
from kentrobar.core.solving.candidates import RimSlot, Slot
from kentrobar.core.solving.relaxation import least_weights, prospect
from kentrobar.core.solving.set_plans import (
    SetFrame,
    SetPlan,
    Status,
    TooCoarse,
    WorthReading,
    most_worth_reading,
    plan_most_reliable,
    plan_set,
)
from kentrobar.core.solving.set_targets import alike_already, values_of
from kentrobar.core.solving.sets import Relaxed, Watch, relaxed
from kentrobar.core.solving.supply import Workpiece, sites_in_hand

MOST_PLACES: Final = 3  # that a set has in common
MOST_GROUPS: Final = 6  # of frames that are alike already, that are tried to be kept


class SetWay(StrEnum):
    """How a set is made alike."""

    LEAST = "least"
    MOST_RELIABLE = "surest"
    SAME_PLACES = "same_places"
    SAME_LOOK = "same_look"
    HIDDEN = "hidden"
    TAKE_OFF = "take_off"
    EXCHANGE = "exchange"


class WayText(NamedTuple):
    """A way's name and why one would choose it."""

    title: str
    reason: str


WAYS: Final[Mapping[SetWay, WayText]] = MappingProxyType(
    {
        SetWay.LEAST: WayText(
            "Least weight", "Open sites of hoop, throat and handle, each frame where it needs it."
        ),
        SetWay.MOST_RELIABLE: WayText(
            "Most reliable",
            "Narrower bands, by the ± of readings and work, until the wanted chance is reached.",
        ),
        SetWay.SAME_PLACES: WayText(
            "Same places",
            f"At most {MOST_PLACES} places, the same on all frames; pieces differ as they must.",
        ),
        SetWay.SAME_LOOK: WayText(
            "Same look",
            f"At most {MOST_PLACES} places, strips about the same points, differing in length only.",
        ),
        SetWay.HIDDEN: WayText(
            "Hidden",
            "Strips under bumper and grommet strip, the rest in the handle; strings come out for it.",
        ),
        SetWay.TAKE_OFF: WayText(
            "Remove first", "What comes off easily may make room. Nothing is cut or replaced."
        ),
        SetWay.EXCHANGE: WayText(
            "Replace first",
            "Grip, cap or strings, heavier or lighter, and bumper ends cut short may do part of it; tape and putty "
            "the rest.",
        ),
    }
)


@dataclass(frozen=True)
class SetWork:
    """One frame of a set as a workpiece; see ``SetFrame``."""

    work: Workpiece
    is_kept: bool = False
    left_out: frozenset[str] = frozenset()

    def frame(self, slots: Sequence[Slot]) -> SetFrame:
        """The frame with what may be laid on it."""
        outline = self.work.outline
        return SetFrame(self.work.measured, slots, outline.length_cm, outline, self.is_kept, self.left_out)

    def frame_by(self, way: SetWay) -> SetFrame:
        """The frame with all that a way may use on it."""
        return self.frame(list(self.sites(way).values()))

    def sites(self, way: SetWay) -> dict[str, Slot]:
        """What a way may use on it, by key."""
        hidden = way is SetWay.HIDDEN or not self.work.allowed.lets_lie(is_hidden=False)
        sites = sites_in_hand(self.work, is_hidden=hidden)
        if way is SetWay.SAME_LOOK:
            return {key: _growing(site) for key, site in sites.items()}
        if way is SetWay.TAKE_OFF:
            sites |= {f"off.{choice.label}": choice for choice in self.work.supply.removals}
        if way is SetWay.EXCHANGE:
            replaced = self.work.supply.swaps + self.work.supply.lighter
            sites |= {f"swap.{i}.{choice.label}": choice for i, choice in enumerate(replaced)}
        return sites


class WayResult(NamedTuple):
    """The plan of a way; where no plan is as sure as was wished, what stands in the way.

    ``worth`` is the one further reading that would tell most of whether it was met.
    """

    plan: SetPlan
    obstacle: TooCoarse | None = None
    worth: WorthReading | None = None


def plan_by(
    way: SetWay,
    works: Sequence[SetWork],
    target: Target,
    *,
    chance: float = 0.95,
    seconds: float = 60.0,
    polish_s: float = 0.0,
    watch: Watch = lambda _best, _bound: True,
) -> WayResult:
    """The plan of one way.

    Raises:
        SpecError: a spec that is aimed at but was never read of a frame, and not left out for it.
    """
    if way in (SetWay.SAME_PLACES, SetWay.SAME_LOOK):
        of_each = [work.sites(way) for work in works]
        return WayResult(_at_same_places(works, of_each, target, seconds, watch))
    frames = [work.frame_by(way) for work in works]
    share = seconds / 3 if way is SetWay.MOST_RELIABLE else seconds
    plan = _planned(frames, target, share, watch, polish_s)
    if way is not SetWay.MOST_RELIABLE:
        return WayResult(plan, worth=most_worth_reading(frames, target, plan))
    plan, obstacle = plan_most_reliable(frames, target, plan, chance, seconds - share, _unheard(watch))
    return WayResult(plan, obstacle, most_worth_reading(frames, target, plan))


def _unheard(watch: Watch) -> Watch:
    """The same without the figures: those of a stricter or a narrower search are none of the whole."""
    return lambda _best, _bound: watch(math.inf, 0.0)


def _planned(
    frames: Sequence[SetFrame], target: Target, seconds: float, watch: Watch, polish_s: float = 0.0
) -> SetPlan:
    plan = plan_set(frames, target, seconds=seconds, polish_s=polish_s, watch=watch)
    assert plan is not None  # noqa: S101 - bands that are not drawn in never close
    return plan


def plan_fewest(
    works: Sequence[SetWork],
    target: Target,
    *,
    seconds: float = 60.0,
    watch: Watch = lambda _best, _bound: True,
) -> WayResult:
    """The plan that leaves the most frames as they are; of groups as large, the one that takes least weight.

    Groups of frames that are alike already are tried in falling size; where none of them can be kept, it is
    the plan of least weight. Raises as :func:`plan_by`.
    """
    until = time.monotonic() + seconds
    apart = {name: 2 * t for name, t in target.reach.items()}
    values = [values_of(each.work.measured, target.axis_cm) for each in works]
    best: SetPlan | None = None
    size = 0
    for group in islice(alike_already(values, apart), MOST_GROUPS):
        left = until - time.monotonic()
        if len(group) < max(size, 2) or left <= 0:
            break
        frames = [
            work.frame([]) if i in group else work.frame_by(SetWay.LEAST) for i, work in enumerate(works)
        ]
        plan = _planned(frames, target, left, _unheard(watch))
        if plan.status.has_plan and (best is None or plan.added_g < best.added_g):
            best, size = plan, len(group)
    if best is not None:
        return WayResult(best)
    left = max(until - time.monotonic(), 1.0)
    return plan_by(SetWay.LEAST, works, target, seconds=left, watch=watch)


# -- the same places --------------------------------------------------------------------


def _at_same_places(
    works: Sequence[SetWork],
    of_each: Sequence[Mapping[str, Slot]],
    target: Target,
    seconds: float,
    watch: Watch,
) -> SetPlan:
    """The lightest plan over all choices of a few places, those of the least bound first."""
    until = time.monotonic() + seconds
    choices = sorted(_bounded(works, of_each, target), key=lambda each: each[0])
    best: SetPlan | None = None
    is_whole = True
    bound_g = math.inf
    for least_g, frames in choices:
        if best is not None and least_g >= best.added_g:
            break
        left = until - time.monotonic()
        if left <= 0:
            bound_g, is_whole = min(bound_g, least_g), False
            break
        plan = _planned(frames, target, left, _unheard(watch))
        bound_g = min(bound_g, plan.bound_g if plan.status.has_plan else math.inf)
        is_whole &= plan.status in (Status.OPTIMAL, Status.INFEASIBLE)
        if plan.status.has_plan and (best is None or plan.added_g < best.added_g):
            best = plan
    if best is None:
        frames = [work.frame(list(s.values())) for work, s in zip(works, of_each, strict=True)]
        nothing = _planned(frames, target, max(until - time.monotonic(), 0.1), watch)
        status = Status.INFEASIBLE if is_whole else Status.UNDECIDED
        return nothing if not nothing.status.has_plan else nothing._replace(status=status)
    status = Status.OPTIMAL if is_whole else Status.FEASIBLE
    return best._replace(status=status, bound_g=min(bound_g, best.added_g))


def _bounded(
    works: Sequence[SetWork], of_each: Sequence[Mapping[str, Slot]], target: Target
) -> Iterator[tuple[float, list[SetFrame]]]:
    """Every choice of places that may do, with a bound of its weight, g."""
    keys = list(dict.fromkeys(key.partition(".")[0] for sites in of_each for key in sites))
    for places in combinations(keys, min(MOST_PLACES, len(keys))):
        frames = [
            work.frame([s for key, s in sites.items() if key.partition(".")[0] in places])
            for work, sites in zip(works, of_each, strict=True)
        ]
        bound_g = bound_of(frames, target)
        if bound_g is not None:
            yield bound_g, frames


def bound_of(frames: Sequence[SetFrame], target: Target) -> float | None:
    """Below which weight there is no plan for the set, g, quickly; None where there is none at all."""
    if target.centres and target.alike is Alike.TO_TARGET:
        prospects = [prospect(frame) for frame in frames]
        least = least_weights(prospects, target, target.centres)
        known = [each for each in least if each is not None]
        return sum(known) if len(known) == len(least) else None
    found = relaxed_target(frames, target)
    return None if found is None else found.bound_g


def relaxed_target(frames: Sequence[SetFrame], target: Target) -> Relaxed | None:
    """The target that would take least weight if strips and putty were of any size; None where none does."""
    return relaxed([frame.problem for frame in frames], target)


def _growing(site: Slot) -> Slot:
    """A strip that always lies about one place: from the middle of the tip, else about that of its site."""
    if not isinstance(site, RimSlot):
        return site
    is_at_tip = isinstance(site.start, ClockPlace) and site.start.minutes == 0.0
    return replace(site, grows_from=0.0 if is_at_tip else 0.5)
