"""Readings before and after weight was laid: what was added, and whether they can all be right.

Three differences name the added piece: Δm = ΔM, its place ȳ = ΔS/Δm, its spread ΔA/Δm - ȳ². The place
lies on the frame and the spread is between 0 and ȳ(L - ȳ), whatever was laid; readings that say
otherwise beyond their ± contradict each other.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import NamedTuple

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import GCM2_PER_KGCM2

LEAST_ADDED_SIGMAS = 3.0  # below this nothing was surely added or taken away
_SIGMAS = 2.5


class Added(NamedTuple):
    """The body that the differences tell of: mass (negative when taken away) and its place."""

    mass_g: Estimate
    place_cm: Estimate


@dataclass(frozen=True)
class CrossCheck:
    """What was added, where that can be told, and a sentence where the readings contradict.

    ``culprit`` names the reading that is likely wrong: mass, balance or swingweight.
    """

    added: Added | None = None
    culprit: str = ""
    message: str = ""


class _Readings(NamedTuple):
    mass: Estimate
    balance: Estimate
    swing: Estimate
    axis_cm: float


def cross_check(before: MeasuredSpecs, after: MeasuredSpecs, length_cm: float) -> CrossCheck:
    """Check readings before and after weight was only added, or only taken away."""
    one, other = _known(before), _known(after)
    if one is None or other is None:
        return CrossCheck()
    dm = Estimate(other.mass.value - one.mass.value, math.hypot(one.mass.u, other.mass.u))
    if abs(dm.value) < LEAST_ADDED_SIGMAS * max(dm.u, 0.05):
        return _nothing_added(one, other, dm)
    added = Added(dm, _place(one, other, dm))
    swing = _swing_change(one, other)
    p = other.axis_cm
    most = max((length_cm - p) ** 2, p * p) / GCM2_PER_KGCM2
    off_frame = _beyond(added.place_cm, 0.0, length_cm)
    toward = swing.value * math.copysign(1.0, dm.value)
    reach = Estimate(toward, math.hypot(swing.u, most * dm.u))
    too_far = _beyond(reach, 0.0, most * abs(dm.value))
    if too_far and off_frame:
        return CrossCheck(
            added, "mass",
            f"Balance and swing weight both changed by more than {_grams(dm)} could anywhere on the"
            " frame: the weight before or after is likely wrong.",
        )  # fmt: skip
    if too_far:
        return CrossCheck(
            added, "swingweight",
            f"{_grams(dm)} changed the swing weight by {swing.value:+.1f} kg·cm²; at the tip, where it"
            f" does most, it makes {math.copysign(most * abs(dm.value), dm.value):+.1f}. The swing"
            " weight before or after, or its axis, is likely wrong.",
        )  # fmt: skip
    if off_frame:
        return CrossCheck(
            added, "balance",
            f"The balance says that {_grams(dm)} lie at {added.place_cm.value:.0f} cm, off the frame of"
            f" {length_cm:.1f} cm; the balance before or after is likely wrong.",
        )  # fmt: skip
    return _check_spread(added, swing, p, length_cm)


def _check_spread(added: Added, swing: Estimate, axis_cm: float, length_cm: float) -> CrossCheck:
    """Whether the place that the balance tells agrees with the swing weight's change."""
    grams, place = abs(added.mass_g.value), added.place_cm
    y = min(max(place.value, 0.0), length_cm)
    toward = swing.value * math.copysign(1.0, added.mass_g.value)
    least = grams * (y - axis_cm) ** 2 / GCM2_PER_KGCM2
    most = least + grams * y * (length_cm - y) / GCM2_PER_KGCM2
    of_place = grams * abs(2 * (y - axis_cm)) * place.u / GCM2_PER_KGCM2
    u = math.hypot(swing.u, of_place, (y - axis_cm) ** 2 * added.mass_g.u / GCM2_PER_KGCM2)
    if not _beyond(Estimate(toward, u), least, most):
        return CrossCheck(added)
    nearer = "less" if toward < least else "more"
    return CrossCheck(
        added,
        "swingweight",
        f"By the balance {_grams(added.mass_g)} lie at {y:.0f} cm and change the swing weight by "
        f"{math.copysign(least, added.mass_g.value):+.1f} kg·cm² or so; it changed by "
        f"{swing.value:+.1f}, which is {nearer}. Read swing weight and balance once more.",
    )


def _nothing_added(one: _Readings, other: _Readings, dm: Estimate) -> CrossCheck:
    """The weight says that nothing was added; then balance and swing weight stay too."""
    swing = _swing_change(one, other)
    if abs(swing.value) <= 2 * _SIGMAS * max(swing.u, 0.5):
        return CrossCheck()
    return CrossCheck(
        None,
        "swingweight",
        f"The weight changed by {dm.value:+.1f} g only, but the swing weight by {swing.value:+.1f}; "
        "one of the two is likely wrong.",
    )


def _known(measured: MeasuredSpecs) -> _Readings | None:
    m, b, s = measured.mass_g, measured.balance_cm, measured.swingweight_kgcm2
    if isinstance(m, Estimate) and isinstance(b, Estimate) and isinstance(s, Estimate):
        return _Readings(m, b, s, measured.axis_cm)
    return None


def _place(one: _Readings, other: _Readings, dm: Estimate) -> Estimate:
    place = (other.mass.value * other.balance.value - one.mass.value * one.balance.value) / dm.value
    of_mass = math.hypot(
        (other.balance.value - place) * other.mass.u, (one.balance.value - place) * one.mass.u
    )
    of_balance = math.hypot(other.mass.value * other.balance.u, one.mass.value * one.balance.u)
    return Estimate(place, math.hypot(of_mass, of_balance) / abs(dm.value))


def _swing_change(one: _Readings, other: _Readings) -> Estimate:
    """Change of the swing weight about the axis of the later reading."""
    m, b, p = one.mass.value, one.balance.value, other.axis_cm
    about_axis = one.swing.value + m * ((b - p) ** 2 - (b - one.axis_cm) ** 2) / GCM2_PER_KGCM2
    of_balance = m * 2 * abs(one.axis_cm - p) * one.balance.u / GCM2_PER_KGCM2
    u = math.hypot(one.swing.u, other.swing.u, of_balance)
    return Estimate(other.swing.value - about_axis, u)


def _beyond(value: Estimate, low: float, high: float) -> bool:
    return value.value < low - _SIGMAS * value.u or value.value > high + _SIGMAS * value.u


def _grams(dm: Estimate) -> str:
    return f"{abs(dm.value):.1f} g {'added' if dm.value > 0 else 'taken away'}"
