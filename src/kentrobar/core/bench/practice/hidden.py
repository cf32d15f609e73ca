"""Frames that nobody knows, and the instruments of the practice bench that read them.

All is drawn by a seed: the same exercise comes out again however often it is asked for.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Final, NamedTuple

import numpy as np

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import (
    BALANCE,
    READ_BY_KEY,
    STATIC_WEIGHT,
    SWING_WEIGHT,
    TWIST_WEIGHT,
    ReadSpec,
)
from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.outline import Outline, PaddleDimensions, RacketDimensions, outline_of
from kentrobar.core.quantities.estimates import Estimate, Quantity

LEVELS: Final = (1, 2, 3)
AXIS_CM: Final = {Sport.TENNIS: 10.0, Sport.PICKLEBALL: 5.0}
SPECS: Final = (STATIC_WEIGHT, BALANCE, SWING_WEIGHT)  # what the bench reads of every frame


class _Usual(NamedTuple):
    """Middle and spread of each spec of a sport's frames, in base units, in the order of the readings."""

    mass_g: tuple[float, float]
    balance_cm: tuple[float, float]
    swingweight_kgcm2: tuple[float, float]
    twistweight_kgcm2: tuple[float, float]


_USUAL: Final = {
    Sport.TENNIS: _Usual((308.0, 9.0), (32.2, 0.5), (308.0, 8.0), (13.4, 0.5)),
    Sport.PICKLEBALL: _Usual((226.0, 5.0), (23.7, 0.4), (111.0, 4.0), (6.1, 0.4)),
}
_OUTLINES: Final = {
    Sport.TENNIS: outline_of(RacketDimensions(68.58, 34.2, 26.1)),
    Sport.PICKLEBALL: outline_of(PaddleDimensions(41.9, 19.0)),
}
# One standard deviation of a single reading on this bench, by level: the higher, the coarser.
NOISE: Final[dict[str, tuple[float, float, float]]] = {
    STATIC_WEIGHT.key: (0.1, 0.15, 0.3),
    BALANCE.key: (0.05, 0.08, 0.12),
    SWING_WEIGHT.key: (0.7, 1.0, 1.6),
    TWIST_WEIGHT.key: (0.1, 0.15, 0.25),
}


@dataclass(frozen=True)
class HiddenFrame:
    """One frame of the practice bench with its true specs."""

    outline: Outline
    truth: MeasuredSpecs

    def true(self, spec: ReadSpec) -> float:
        """What a spec truly is, in its base unit."""
        value: Quantity = getattr(self.truth, spec.key)
        assert value  # noqa: S101 - all of them are drawn
        return value.value


def rng_of(seed: int, *parts: object) -> np.random.Generator:
    """Chance that is the same for the same seed and purpose."""
    return np.random.default_rng([seed, *(sum(map(ord, str(part))) for part in parts)])


def hidden_frame(seed: int, sport: Sport) -> HiddenFrame:
    """A frame as they come, its specs rounded as nobody would notice."""
    rng = rng_of(seed, "frame")
    mass, balance, swing, twist = (float(rng.normal(*pair)) for pair in _USUAL[sport])
    truth = MeasuredSpecs(
        Estimate(round(mass, 2)),
        Estimate(round(balance, 3)),
        Estimate(round(swing, 2)),
        AXIS_CM[sport],
        Estimate(round(twist, 3)),
    )
    return HiddenFrame(_OUTLINES[sport], truth)


def noise_of(key: str, level: int) -> float:
    """One standard deviation of a reading, in the spec's base unit."""
    return NOISE[key][level - 1]


def reading_of(value: float, key: str, level: int, rng: np.random.Generator) -> float:
    """A single reading of a value, in the spec's base unit, rounded to what its instrument shows."""
    read = value + rng.normal(0.0, noise_of(key, level))
    step = READ_BY_KEY[key].step
    return float(round(round(read / step) * step, 4))


@dataclass(frozen=True)
class Exercise:
    """What is practised, told by its seed: how hard, and on which frames."""

    seed: int
    level: int
    sport: Sport

    @cached_property
    def frame(self) -> HiddenFrame:
        """The frame on the bench."""
        return hidden_frame(self.seed, self.sport)
