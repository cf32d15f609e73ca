"""Two frames side by side: the gap, whether it is real, whether a player likely feels it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import NamedTuple

from kentrobar.core.estimates import Estimate, Quantity
from kentrobar.core.units import CM_PER_POINT

REAL_SIGMAS = 2.0  # two frames differ for real when the gap exceeds twice its ±


class Verdict(StrEnum):
    REAL = "real"
    NOISE = "within the noise"
    UNKNOWN = "unknown"


@dataclass(frozen=True)
class FeltRule:
    """Gaps that a shop takes as likely felt: a starting point, not a law."""

    mass_g: float = 5.0
    balance_cm: float = 0.5
    swingweight_kgcm2: float = 10.0
    twistweight_kgcm2: float = 1.0

    def threshold(self, spec: str) -> float | None:
        """The least felt gap of a spec, None where the rule says nothing of it."""
        if spec == "points_headlight":
            return self.balance_cm / CM_PER_POINT
        return getattr(self, spec, None)


class Gap(NamedTuple):
    """How far one spec of a frame is from that of another, with its ±."""

    difference: Quantity
    verdict: Verdict
    likely_felt: bool


def gap(spec: str, one: Quantity, other: Quantity, rule: FeltRule) -> Gap:
    """The gap ``other - one`` of the spec named ``spec``, by the shop's rule."""
    if not (isinstance(one, Estimate) and isinstance(other, Estimate)):
        missing = other if isinstance(one, Estimate) else one
        return Gap(missing, Verdict.UNKNOWN, False)
    difference = Estimate(other.value - one.value, math.hypot(one.u, other.u))
    return gap_of(spec, difference, rule)


def gap_of(spec: str, difference: Quantity, rule: FeltRule) -> Gap:
    """The verdict on a difference whose ± is known."""
    if not isinstance(difference, Estimate):
        return Gap(difference, Verdict.UNKNOWN, False)
    # What rounding leaves of two equal numbers is no gap.
    real = abs(difference.value) > max(REAL_SIGMAS * difference.u, 1e-9)
    least = rule.threshold(spec)
    felt = real and least is not None and abs(difference.value) >= least
    return Gap(difference, Verdict.REAL if real else Verdict.NOISE, felt)
