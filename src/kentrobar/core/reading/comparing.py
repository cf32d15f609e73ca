"""Two frames side by side: the gap, whether it is real, whether a player likely feels it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import NamedTuple

from kentrobar.core.body.specs import BALANCE, POINTS, STATIC_WEIGHT, SWING_WEIGHT, TWIST_WEIGHT
from kentrobar.core.quantities.estimates import Estimate, Quantity
from kentrobar.core.quantities.units import CM_PER_POINT

REAL_SIGMAS = 2.0  # two frames differ for real when the gap exceeds twice its ±


class Verdict(StrEnum):
    REAL = "real"
    NOISE = "within the noise"
    UNKNOWN = "unknown"


@dataclass(frozen=True)
class FeltRule:
    """Gaps that a shop takes as likely felt: a starting point, not a law."""

    mass_g: float = STATIC_WEIGHT.felt
    balance_cm: float = BALANCE.felt
    swingweight_kgcm2: float = SWING_WEIGHT.felt
    twistweight_kgcm2: float = TWIST_WEIGHT.felt

    def threshold(self, key: str) -> float:
        """The least felt gap of this spec, in its base unit; infinite where nothing is said of it."""
        if key == POINTS.key:
            return self.balance_cm / CM_PER_POINT
        return float(getattr(self, key, math.inf))


class Gap(NamedTuple):
    """How far one spec of a frame is from that of another, with its ±."""

    difference: Quantity
    verdict: Verdict
    likely_felt: bool


def gap(spec: str, one: Quantity, other: Quantity, rule: FeltRule) -> Gap:
    """The gap ``other - one`` of the spec named ``spec``, by the shop's rule."""
    if not (one and other):
        missing = other if one else one
        return Gap(missing, Verdict.UNKNOWN, False)
    difference = Estimate(other.value - one.value, math.hypot(one.u, other.u))
    return gap_of(spec, difference, rule)


def gap_of(spec: str, difference: Quantity, rule: FeltRule) -> Gap:
    """The verdict on a difference whose ± is known."""
    if not difference:
        return Gap(difference, Verdict.UNKNOWN, False)
    # What rounding leaves of two equal numbers is no gap.
    real = abs(difference.value) > max(REAL_SIGMAS * difference.u, 1e-9)
    felt = real and abs(difference.value) >= rule.threshold(spec)
    return Gap(difference, Verdict.REAL if real else Verdict.NOISE, felt)
