"""Where a set cannot be made alike: what may give way, and what each would cost.

The linear relaxation tells which ways are open at all; each of those is then planned with whole steps, so
that what is offered is a plan with its grams and its chance.
"""

from __future__ import annotations

import time
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace
from enum import StrEnum
from typing import Final, NamedTuple

from kentrobar.core.body.target import Target
from kentrobar.core.solving.set_plans import SetFrame, SetPlan
from kentrobar.core.solving.set_ways import SetWay, SetWork, bound_of, plan_by, relaxed_target

WIDEST: Final = 20.0  # times its tolerance: a spec given so much is not alike any more
MOST_LEFT_OUT: Final = 3  # frames that are offered to be left out, the ones that save most
_STEPS: Final = 9  # of the search for how much wider: to a fiftieth of the tolerance
_OFFERED: Final = 1.02  # a little more than the relaxation needs, for whole steps
SECONDS_EACH: Final = 4.0


class Giving(StrEnum):
    """What gives way."""

    TARGET = "target"
    FRAME = "frame"
    TOLERANCE = "tolerance"
    FITTED = "fitted"


class Concession(NamedTuple):
    """One way: what gives way, how, and the plan that there is then.

    ``frame`` is the position of the one left out, ``name`` and ``value`` the spec and how far it is allowed.
    """

    giving: Giving
    plan: SetPlan
    frame: int = -1
    name: str = ""
    value: float = 0.0


def concessions(works: Sequence[SetWork], target: Target, seconds: float) -> list[Concession]:
    """What may give way so that the rest can be had, the lightest first; as many as there is time for."""
    until = time.monotonic() + seconds
    found = []
    for giving, frame, name, value, then, with_aim, way in _possible(works, target):
        left = min(SECONDS_EACH, until - time.monotonic())
        if left <= 0:
            break
        plan = plan_by(way, then, with_aim, seconds=left).plan
        if plan.status.has_plan:
            found.append(Concession(giving, plan, frame, name, value))
    return sorted(found, key=lambda each: each.plan.added_g)


class _Possible(NamedTuple):
    giving: Giving
    frame: int
    name: str
    value: float
    works: Sequence[SetWork]
    target: Target
    way: SetWay = SetWay.LEAST


def _possible(works: Sequence[SetWork], target: Target) -> Iterator[_Possible]:
    """The ways that the relaxation leaves open."""
    if target.centres:
        yield from _other_target(works, target)
    yield from _without_a_frame(works, target)
    for name in target.tolerances:
        yield from _wider(works, target, name)
    if any(each.work.supply.removals for each in works):
        frames = [each.frame_by(SetWay.TAKE_OFF) for each in works]
        if bound_of(frames, target) is not None:
            yield _Possible(Giving.FITTED, -1, "", 0.0, works, target, SetWay.TAKE_OFF)


def _other_target(works: Sequence[SetWork], target: Target) -> Iterator[_Possible]:
    free = [replace(each, is_kept=False) for each in works]
    moved = target.freed
    if relaxed_target(_frames(free), moved) is not None:
        yield _Possible(Giving.TARGET, -1, "", 0.0, free, moved)


def _without_a_frame(works: Sequence[SetWork], target: Target) -> Iterator[_Possible]:
    if len(works) < 3:
        return
    bounds = []
    for i, each in enumerate(works):
        rest = [w for j, w in enumerate(works) if j != i]
        bound_g = None if each.is_kept else bound_of(_frames(rest), target)
        if bound_g is not None:
            bounds.append((bound_g, i, rest))
    for _, i, rest in sorted(bounds, key=lambda b: b[0])[:MOST_LEFT_OUT]:
        yield _Possible(Giving.FRAME, i, "", 0.0, rest, target)


def _wider(works: Sequence[SetWork], target: Target, name: str) -> Iterator[_Possible]:
    """The least by which one tolerance has to be wider."""
    frames = _frames(works)

    def with_factor(factor: float) -> Target:
        wide: Mapping[str, float] = dict(target.tolerances) | {name: target.tolerances[name] * factor}
        return target.with_tolerances(wide)

    low, high = 1.0, WIDEST
    if bound_of(frames, with_factor(high)) is None:
        return
    for _ in range(_STEPS):
        middle = (low * high) ** 0.5
        if bound_of(frames, with_factor(middle)) is None:
            low = middle
        else:
            high = middle
    wider = with_factor(high * _OFFERED)
    yield _Possible(Giving.TOLERANCE, -1, name, wider.tolerances[name], works, wider)


def _frames(works: Sequence[SetWork]) -> list[SetFrame]:
    return [each.frame_by(SetWay.LEAST) for each in works]
