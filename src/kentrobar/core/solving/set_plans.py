"""Plans for a whole set: each frame to a target that is given, or all alike at once; lightest or surest.

Where the target is given and each frame is to lie within the tolerance of it, the frames part and each is
planned by itself. Where it is free, or all are to lie within the tolerance of each other, they are planned
together (``sets``).
"""

from __future__ import annotations

import math
import time
from collections.abc import Container, Iterable, Mapping, Sequence
from dataclasses import replace
from enum import StrEnum
from typing import Final, NamedTuple, TypeVar

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import AIMED_BY_KEY, READ, RECOIL_WEIGHT, TWIST_WEIGHT, ReadSpec
from kentrobar.core.body.target import Alike, Target
from kentrobar.core.frame.outline import Outline
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.solving.candidates import Slot
from kentrobar.core.solving.chance import chance_alike, chance_all_within, chance_within
from kentrobar.core.solving.matching import Match, match
from kentrobar.core.solving.most_reliable import coarsest, drawn_in, most_reliable
from kentrobar.core.solving.set_programme import FrameProblem
from kentrobar.core.solving.sets import SetMatch, Watch, match_set
from kentrobar.core.weight.pieces import Piece
from kentrobar.core.weight.prediction import Prediction, predict

SEARCHES: Final = 9  # that the time is shared by where the surest plan is looked for
LEAST_SECONDS: Final = 0.05  # for a frame whose turn comes when the time is over

_T = TypeVar("_T")


class Status(StrEnum):
    """How much is proven of a set's plan: of all frames the worst."""

    OPTIMAL = "optimal"  # no plan is lighter by a cutting step a frame
    FEASIBLE = "feasible"  # time ran out with a plan
    INFEASIBLE = "infeasible"  # there is none
    UNDECIDED = "undecided"  # time ran out with neither plan nor proof

    @property
    def has_plan(self) -> bool:
        """Whether there is a plan."""
        return self in (Status.OPTIMAL, Status.FEASIBLE)


class SetFrame(NamedTuple):
    """One frame of a set: what was read of it, and what may be laid on it and taken off it.

    ``is_kept``: the others are made like it, and nothing is laid on it. ``left_out`` are specs that it need
    not meet, since they were not read of it.
    """

    measured: MeasuredSpecs
    slots: Sequence[Slot]
    length_cm: float
    outline: Outline | None
    is_kept: bool = False
    left_out: frozenset[str] = frozenset()

    def predict(self, pieces: Sequence[Piece], axis_cm: float) -> Prediction:
        """What pieces make of it. Raises PieceError for more taken away than there is."""
        return predict(self.measured, pieces, length_cm=self.length_cm, axis_cm=axis_cm, outline=self.outline)

    @property
    def problem(self) -> FrameProblem:
        """The same as the programme of all frames takes it."""
        slots = () if self.is_kept else self.slots
        return FrameProblem(self.measured, slots, self.outline, self.left_out)

    def us(self, axis_cm: float) -> dict[str, float]:
        """The ± of each spec that was read of it, by its key."""
        specs = self.predict([], axis_cm).before
        return {n: q.u for n in AIMED_BY_KEY if (q := getattr(specs, n))}


class FramePlan(NamedTuple):
    """What is laid on one frame of a set and what it comes to; no ``chance`` where there is no plan."""

    found: Match
    prediction: Prediction
    chance: float | None

    @property
    def pieces(self) -> tuple[Piece, ...]:
        """What is laid, or what comes nearest where the demands cannot be met."""
        return self.found.pieces if self.found.is_feasible else self.found.nearest


class SetPlan(NamedTuple):
    """Plans for all frames of a set, in their order."""

    frames: tuple[FramePlan, ...]
    target: Mapping[str, float]
    status: Status
    bound_g: float
    chance: float | None

    @property
    def added_g(self) -> float:
        """What is laid and taken away in all, g."""
        return sum(each.found.added_g for each in self.frames)


def plan_set(
    frames: Sequence[SetFrame],
    target: Target,
    *,
    seconds: float = 60.0,
    guard: float = 0.0,
    polish_s: float = 0.0,
    watch: Watch = lambda _best, _bound: True,
) -> SetPlan | None:
    """The plan of least weight, with every band drawn in by ``guard`` times each ±; None where a band closes.

    ``polish_s`` is how long a plan of frames together that is proven already is made lighter at least.

    Raises:
        SpecError: a spec that is aimed at but was never read of a frame, and not left out for it.
        PieceError, OutlineError: a site that cannot be on its frame.
    """
    is_free = len(frames) > 1 and (not target.centres or target.alike is Alike.TO_EACH_OTHER)
    if is_free:
        return _together(frames, target, seconds, guard, polish_s, watch)
    return _apart(frames, target, seconds, guard, watch)


def _apart(
    frames: Sequence[SetFrame], target: Target, seconds: float, guard: float, watch: Watch
) -> SetPlan | None:
    """Each frame by itself; what one leaves of the time is the next one's."""
    until = time.monotonic() + seconds
    bands = target.bands
    found: list[Match] = []
    for i, frame in enumerate(frames):
        if frame.is_kept:
            found.append(Match(True))
            continue
        mine = drawn_in(_of(frame, bands), frame.us(target.axis_cm), guard)
        if mine is None:
            return None
        left = max((until - time.monotonic()) / (len(frames) - i), LEAST_SECONDS)
        found.append(
            match(
                frame.measured,
                frame.slots,
                replace(target, bands=mine).under_ceiling,
                length_cm=frame.length_cm,
                outline=frame.outline,
                seconds=left,
                explain=not guard,
            )
        )
        if not watch(math.inf, sum(each.lower_bound_g for each in found)):
            break
    found += [Match(False, is_proven=False)] * (len(frames) - len(found))
    bound_g = sum(each.lower_bound_g for each in found)
    return _planned(frames, target, found, target.centres, _status(found), bound_g)


def _together(
    frames: Sequence[SetFrame], target: Target, seconds: float, guard: float, polish_s: float, watch: Watch
) -> SetPlan | None:
    us = widest(frames, target.axis_cm)
    within = {name: t - guard * us[name] / target.alike.part for name, t in target.tolerances.items()}
    if min(within.values()) < 0:
        return None
    found = match_set(
        [frame.problem for frame in frames],
        target.with_tolerances(within),
        seconds=seconds,
        polish_s=polish_s,
        watch=watch,
    )
    return _planned(
        frames, target, _of_each(found, len(frames)), found.target, _status_of(found), found.lower_bound_g
    )


def _of_each(found: SetMatch, count: int) -> list[Match]:
    if not found.is_feasible:
        return [Match(False, is_proven=found.is_proven)] * count
    return [Match(True, pieces, added_g) for pieces, added_g in zip(found.pieces, found.added_g, strict=True)]


def _status_of(found: SetMatch) -> Status:
    if found.is_feasible:
        return Status.OPTIMAL if found.is_proven else Status.FEASIBLE
    return Status.INFEASIBLE if found.is_proven else Status.UNDECIDED


def _status(found: Sequence[Match]) -> Status:
    if all(each.is_feasible for each in found):
        return Status.OPTIMAL if all(each.is_proven for each in found) else Status.FEASIBLE
    # One frame that is proven out of reach decides for the set.
    is_ruled_out = any(not each.is_feasible and each.is_proven for each in found)
    return Status.INFEASIBLE if is_ruled_out else Status.UNDECIDED


def _planned(
    frames: Sequence[SetFrame],
    target: Target,
    found: Sequence[Match],
    centres: Mapping[str, float],
    status: Status,
    bound_g: float,
) -> SetPlan:
    bands = target.bands_about(centres)
    plans = []
    for frame, each in zip(frames, found, strict=True):
        pieces = each.pieces if each.is_feasible else each.nearest
        prediction = frame.predict(pieces, target.axis_cm)
        chance = chance_within(prediction, _of(frame, bands)) if each.is_feasible else None
        plans.append(FramePlan(each, prediction, 1.0 if frame.is_kept else chance))
    of_all = None
    if status.has_plan:
        of_all = _chance(frames, target, [each.prediction for each in plans], centres)
    return SetPlan(tuple(plans), centres, status, bound_g, of_all)


def _chance(
    frames: Sequence[SetFrame],
    target: Target,
    predictions: Sequence[Prediction],
    centres: Mapping[str, float],
) -> float:
    """Of all frames together, 0 to 1."""
    if target.alike is Alike.TO_EACH_OTHER and len(frames) > 1:
        return chance_alike(predictions, [_of(frame, target.tolerances) for frame in frames])
    bands = target.bands_about(centres)
    return chance_all_within(predictions, [{} if frame.is_kept else _of(frame, bands) for frame in frames])


def _of(frame: SetFrame, by_spec: Mapping[str, _T]) -> dict[str, _T]:
    """What there is for each spec that the frame has to meet."""
    return {name: each for name, each in by_spec.items() if name not in frame.left_out}


def widest(frames: Iterable[SetFrame], axis_cm: float) -> dict[str, float]:
    """The widest ± of each spec over the frames of a set."""
    of_frames = [frame.us(axis_cm) for frame in frames]
    return {n: max((us.get(n, 0.0) for us in of_frames), default=0.0) for n in AIMED_BY_KEY}


class TooCoarse(NamedTuple):
    """Why no plan reaches a chance: the spec read most coarsely, and how many readings it takes.

    One where it was read finely enough: then sites and steps stand in the way.
    """

    name: str
    readings: int


def plan_most_reliable(
    frames: Sequence[SetFrame],
    target: Target,
    lightest: SetPlan,
    wanted_chance: float,
    seconds: float,
    watch: Watch = lambda _best, _bound: True,
) -> tuple[SetPlan, TooCoarse | None]:
    """The lightest plan that reaches the chance, and what stands in the way where none does.

    Nothing lighter than the ``lightest`` plan is in the bands at all: where it reaches the chance, what is
    proven of it stays proven. How near to the least a surer plan comes is not.
    """
    if not lightest.status.has_plan or (lightest.chance or 0.0) >= wanted_chance:
        return lightest, None

    def planned(guard: float) -> SetPlan | None:
        if not guard:
            return lightest
        found = plan_set(frames, target, seconds=seconds / SEARCHES, guard=guard, watch=watch)
        return found if found is not None and found.status.has_plan else None

    found = most_reliable(planned, lambda each: each.chance or 0.0, wanted_chance) or lightest
    found = found._replace(status=Status.FEASIBLE, bound_g=lightest.bound_g)
    if (found.chance or 0.0) >= wanted_chance:
        return found, None
    return found, TooCoarse(*coarsest(target.tolerances, widest(frames, target.axis_cm)))


class WorthReading(NamedTuple):
    """One further reading that would raise the chance most: of which frame (its position) and which spec."""

    frame: int
    name: str
    chance: float


def most_worth_reading(frames: Sequence[SetFrame], target: Target, plan: SetPlan) -> WorthReading | None:
    """The reading that would raise the chance most if it came out as the ones before; None without a plan.

    One more reading like those there are makes a mean surer by √2; it stands apart from all other specs.
    """
    if not plan.status.has_plan:
        return None
    best: WorthReading | None = None
    for i, frame in enumerate(frames):
        for spec in _read_for(_of(frame, target.tolerances)):
            known = frame.measured.of(spec)
            if frame.is_kept or not known or not known.u:
                continue
            surer = frame.measured.with_reading(spec, Estimate(known.value, known.u / math.sqrt(2)))
            chance = _chance_with(frames, target, plan, i, frame._replace(measured=surer))
            if best is None or chance > best.chance:
                best = WorthReading(i, spec.key, chance)
    return best


def _read_for(names: Container[str]) -> list[ReadSpec]:
    """The readings that specs rest on: recoil weight on the first three."""
    is_recoil = RECOIL_WEIGHT.key in names
    return [spec for spec in READ if spec.key in names or (is_recoil and spec is not TWIST_WEIGHT)]


def _chance_with(frames: Sequence[SetFrame], target: Target, plan: SetPlan, i: int, frame: SetFrame) -> float:
    """The chance of the whole set with one of its frames known better."""
    predictions = [each.prediction for each in plan.frames]
    predictions[i] = frame.predict(plan.frames[i].pieces, target.axis_cm)
    return _chance([*frames[:i], frame, *frames[i + 1 :]], target, predictions, plan.target)
