"""The setups of a trial: plans for one frame that differ in the spec that is sought and in little else.

Each is the least weight, at places that are quick to change, that brings the frame to its value while what is
to be held stays within a band. A setup counts with what it is predicted to come to.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from itertools import product
from typing import Final, NamedTuple

from kentrobar.core.body.specs import AIMED_BY_KEY, BALANCE, SWING_WEIGHT, TWIST_WEIGHT
from kentrobar.core.body.target import Target
from kentrobar.core.quantities.errors import SpecError
from kentrobar.core.solving.proposals import LEAST, propose_by
from kentrobar.core.solving.supply import Workpiece
from kentrobar.core.weight.pieces import Piece
from kentrobar.core.weight.prediction import Prediction

QUICKEST: Final = ("hoop", "handle", "counter", LEAST)  # schools, the quickest to change first
MOST_OF_ONE: Final = 13
MOST_OF_TWO: Final = 4  # of each of two specs
USUAL_STEPS: Final = 8  # from the least to the greatest
WITH_STRAIN: Final = 0.4  # of the usual range, in so many steps
STEPS_WITH_STRAIN: Final = 4
NEAR: Final = {SWING_WEIGHT.key: 0.7, BALANCE.key: 0.05, TWIST_WEIGHT.key: 0.1}  # base units
HELD: Final = {SWING_WEIGHT.key: 1.0, BALANCE.key: 0.1, TWIST_WEIGHT.key: 0.25}


class Steps(NamedTuple):
    """The values of one spec to try: from the least to the greatest, in steps; base units."""

    key: str
    low: float
    high: float
    step: float

    def values(self) -> list[float]:
        """All of them. Raises SpecError, whose ``field`` is the spec's key."""
        noun = AIMED_BY_KEY[self.key].noun
        if not (self.high > self.low and self.step > 0):
            raise SpecError(
                f"Enter a rising range of {noun}, and a step above 0.", code="no_range", field=self.key
            )
        count = math.floor((self.high - self.low) / self.step + 1e-6) + 1
        if count < 2:
            raise SpecError(
                f"The step of {noun} is wider than the range; make it smaller.", code="step", field=self.key
            )
        return [self.low + i * self.step for i in range(count)]


class SetupPlan(NamedTuple):
    """One plan to try, with what it is predicted to come to."""

    pieces: tuple[Piece, ...]
    prediction: Prediction

    def value(self, key: str) -> float:
        """A spec of it, in its base unit. Raises SpecError where it is not known."""
        reached = self.prediction.after.of(AIMED_BY_KEY[key])
        if not reached:
            raise SpecError(
                f"A trial of the {AIMED_BY_KEY[key].noun} needs it read first.",
                code="not_measured",
                field=key,
            )
        return reached.value


class Made(NamedTuple):
    """The setups that can be made, the frame as it is among them, and the values that cannot."""

    setups: tuple[SetupPlan, ...]
    missed: tuple[tuple[float, ...], ...]


def values_of_steps(steps: Sequence[Steps]) -> list[tuple[float, ...]]:
    """The values to try of each spec. Raises SpecError for a range that is none, or has too many steps."""
    tried = [tuple(each.values()) for each in steps]
    most = MOST_OF_ONE if len(steps) == 1 else MOST_OF_TWO
    for each, several in zip(steps, tried, strict=True):
        if len(several) > most:
            raise SpecError(
                f"{len(several)} steps are more than an evening has; take {most} of the "
                f"{AIMED_BY_KEY[each.key].noun} at most.",
                code="too_many",
                field=each.key,
            )
    return tried


def make_setups(work: Workpiece, steps: Sequence[Steps], held: Sequence[str], axis_cm: float) -> Made:
    """A setup for each value, or pair of values, that can be reached.

    ``held`` are the keys of specs that stay as they are. The frame as it is comes first.

    Raises:
        SpecError: a spec was not read, a range is none, there are too many steps, or too few can be reached.
    """
    tried = values_of_steps(steps)
    bare = SetupPlan((), work.predict([], axis_cm))
    keys = [each.key for each in steps]
    stays = {key: bare.value(key) for key in held}
    now = tuple(bare.value(key) for key in keys)
    found, missed = [bare], list[tuple[float, ...]]()
    for values in product(*tried):
        if all(abs(v - n) <= NEAR[key] for key, v, n in zip(keys, values, now, strict=True)):
            continue
        wanted = dict(zip(keys, values, strict=True))
        bounds = {key: _about(value, NEAR[key]) for key, value in wanted.items()}
        bounds |= {key: _about(value, HELD[key]) for key, value in stays.items()}
        setup = _made(work, Target(bounds, axis_cm))
        if setup:
            found.append(setup)
        else:
            missed.append(values)
    if len(found) < 3:
        raise SpecError(
            "Too few of these values are within reach. Widen the range upward, keep less, or choose heavier tape.",
            code="too_few",
            field=keys[0],
        )
    return Made(tuple(found), tuple(missed))


def _made(work: Workpiece, aim: Target) -> SetupPlan | None:
    """What is quickest to change on court: at the hoop alone where that does, else wherever it must lie."""
    for key in QUICKEST:
        proposal, _ = propose_by(key, work, aim)
        if proposal:
            return SetupPlan(proposal.pieces, proposal.prediction)
    return None


def usual_steps(key: str, now: float, is_racket: bool, has_strain: bool = False) -> Steps:
    """A range to start from: what is easily laid on a frame, in steps that are felt by few.

    For a player who told of strain it reaches two fifths as far. Rules of thumb of this project.
    """
    reach, steps = _REACH[key][0 if is_racket else 1], USUAL_STEPS
    if has_strain:
        reach, steps = reach * WITH_STRAIN, STEPS_WITH_STRAIN
    by = reach * now
    low = now - by if key == BALANCE.key else now
    step = (now + by - low) / steps
    return Steps(key, low, now + by, max(step, 2 * NEAR[key] + 1e-9))


def _about(value: float, give: float) -> tuple[float, float]:
    return value - give, value + give


# Of the spec as it is, for rackets and for paddles: a balance to either side, the others upward only.
_REACH: Final[Mapping[str, tuple[float, float]]] = {
    SWING_WEIGHT.key: (0.05, 0.10),
    BALANCE.key: (0.02, 0.025),
    TWIST_WEIGHT.key: (0.09, 0.2),
}
