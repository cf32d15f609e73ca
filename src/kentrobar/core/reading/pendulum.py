"""Inertia from the time of a swing: a frame hung as a pendulum, or turning on two cords.

A frame hung at distance h from its butt, d = |b - h| away from its balance point, swings with the
period P of a compound pendulum: I_h = M·g·d·P²/(4π²). What holds the frame swings with it and is
taken off: its moment of mass m_j·d_j helps gravity, its inertia I_j is part of what turns. All in g,
cm and s, so that inertia comes out in g·cm² and is answered in kg·cm².

Source: The Physics and Technology of Tennis (2005); gravity from the World Geodetic System 1984
(NIMA TR8350.2, Somigliana's formula with the free-air term).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any, Final, TypeVar

from kentrobar.core.body.limits import most_recoil_kgcm2
from kentrobar.core.body.moments import STANDARD_GRAVITY_CMS2
from kentrobar.core.quantities.errors import SpecError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import GCM2_PER_KGCM2
from kentrobar.core.reading.timing import LONGEST_PERIOD_S, SHORTEST_PERIOD_S

HANG_U_CM: Final = 0.1  # a ruler's reading of where the frame hangs
GRAVITY_U_CMS2: Final = 0.05  # of gravity by latitude and height, or as somebody gave it
LARGEST_AMPLITUDE_DEG: Final = 60.0
# Sea level at a pole to the highest towns at the equator.
GRAVITY_ON_EARTH_CMS2: Final = (976.0, 984.0)
LONGEST_CM: Final = 75.0  # of any frame, with its ±
# Of two periods of one swing: a hand scatters by a tenth, a miscount is twice or half.
ODD_RATIO: Final = 1.3
# Sea level at any latitude: nobody said where.
SOMEWHERE_CMS2: Final = Estimate(STANDARD_GRAVITY_CMS2, 2.5)
NO_AMPLITUDE: Final = Estimate(0.0)
_FOUR_PI_SQUARED: Final = 4 * math.pi**2


@dataclass(frozen=True)
class Holder:
    """What swings with the frame: mass, centre from the axle toward the balance point, inertia.

    The axle lies ``beside_cm`` off the frame's middle plane, as a dowel does that the frame hangs on.
    """

    mass_g: float = 0.0
    centre_cm: float = 0.0
    inertia_kgcm2: float = 0.0
    beside_cm: float = 0.0

    def with_body(self, mass_g: float, at_cm: float, length_cm: float) -> Holder:
        """With a body so long tied on along the frame, ``at_cm`` from the axle toward the balance."""
        mass = self.mass_g + mass_g
        moment = self.mass_g * self.centre_cm + mass_g * at_cm
        inertia = mass_g * (at_cm**2 + length_cm**2 / 12) / GCM2_PER_KGCM2
        centre = moment / mass if mass else 0.0
        return Holder(mass, centre, self.inertia_kgcm2 + inertia, self.beside_cm)


NO_HOLDER: Final = Holder()
PHONE_LENGTH_CM: Final = 15.0


@dataclass(frozen=True)
class PendulumReading:
    """One frame swinging about an axle at ``hang_cm`` from its butt; the axle lies across the frame.

    ``amplitude_deg`` is how far it swings to either side of the middle.
    """

    mass_g: Estimate
    balance_cm: Estimate
    hang_cm: Estimate
    period_s: Estimate
    gravity_cms2: Estimate = SOMEWHERE_CMS2
    amplitude_deg: Estimate = NO_AMPLITUDE
    holder: Holder = NO_HOLDER
    mass_and_balance: float = 0.0  # their correlation, where one was not read apart from the other

    @property
    def arm_cm(self) -> float:
        """How far the balance point lies from the axle, cm."""
        return math.hypot(self.balance_cm.value - self.hang_cm.value, self.holder.beside_cm)


@dataclass(frozen=True)
class PendulumResult:
    """Inertia in kg·cm²; ``swingweight_kgcm2`` is about the axis at ``axis_cm``.

    ``slopes`` tell how far it follows from weight and balance, by their keys: kg·cm² for a g and for a cm.
    """

    swingweight_kgcm2: Estimate
    recoil_kgcm2: Estimate
    axis_cm: float
    period_s: Estimate
    slopes: Mapping[str, float]


def local_gravity_cms2(latitude_deg: float, altitude_m: float = 0.0) -> float:
    """Gravity on the ellipsoid at a latitude, less what height takes, cm/s²."""
    if not (-90 <= latitude_deg <= 90 and -500 <= altitude_m <= 9000):
        raise SpecError(
            "Latitude is from -90 to 90 degrees and height from -500 to 9000 m.",
            code="not_on_earth",
            field="latitude_deg",
        )
    sine_squared = math.sin(math.radians(latitude_deg)) ** 2
    on_ellipsoid = (
        9.7803253359 * (1 + 0.00193185265241 * sine_squared) / math.sqrt(1 - 0.00669437999013 * sine_squared)
    )
    free_air = (3.0877e-6 - 4.4e-9 * sine_squared) * altitude_m - 7.2e-13 * altitude_m**2
    return (on_ellipsoid - free_air) * 100


def gravity_at(latitude_deg: float | None, altitude_m: float | None = None) -> Estimate:
    """Gravity where somebody works, cm/s²; where nobody said where that is, with the ± of that.

    Raises:
        SpecError: a place that is not on earth.
    """
    if latitude_deg is None:
        return SOMEWHERE_CMS2
    return Estimate(local_gravity_cms2(latitude_deg, altitude_m or 0.0), GRAVITY_U_CMS2)


def small_swing_period_s(period_s: float, amplitude_deg: float) -> float:
    """The period that the same pendulum has for small swings; ``amplitude_deg`` to either side."""
    squared = math.radians(amplitude_deg) ** 2
    return period_s / (1 + squared / 16 + 11 * squared**2 / 3072)


def swing_period_s(recoil_kgcm2: float, reading: PendulumReading) -> float:
    """The period of small swings of a frame of known recoil weight; turns :func:`pendulum` round."""
    mass, d, holder = reading.mass_g.value, reading.arm_cm, reading.holder
    inertia = GCM2_PER_KGCM2 * (recoil_kgcm2 + holder.inertia_kgcm2) + mass * d**2
    pull = (mass * d + holder.mass_g * holder.centre_cm) * reading.gravity_cms2.value
    return 2 * math.pi * math.sqrt(inertia / pull)


def pendulum(reading: PendulumReading, axis_cm: float) -> PendulumResult:
    """Swing weight about ``axis_cm`` and recoil weight of a swinging frame, with ±.

    Raises:
        SpecError: quantities that no hanging frame can have; ``field`` names the one at fault.
    """
    _require_swinging(reading)
    small = small_swing_period_s(reading.period_s.value, reading.amplitude_deg.value)
    widened = small / reading.period_s.value
    recoil = _with_spread(reading, _recoil)
    if recoil.value <= 0:
        least = swing_period_s(0.0, reading) / widened
        raise SpecError(
            f"A period of {reading.period_s.value:.4f} s is too short for a frame that hangs "
            f"{abs(reading.hang_cm.value - reading.balance_cm.value):.1f} cm from its balance point"
            f"; it takes more than {least:.4f} s. Check weight, balance, where it hangs, and "
            "whether every swing was counted.",
            code="period_too_short",
            field="period_s",
        )
    most = most_recoil_kgcm2(reading.mass_g.value, reading.balance_cm.value, LONGEST_CM)
    if recoil.value > most:
        raise SpecError(
            f"A period of {reading.period_s.value:.4f} s is too long for a frame so heavy and so balanced: "
            f"it takes at most {swing_period_s(most, reading) / widened:.4f} s. Check weight, balance, where "
            "it hangs, and that one swing is there and back.",
            code="period_too_long",
            field="period_s",
        )

    def swingweight(of: PendulumReading) -> float:
        lever = of.balance_cm.value - axis_cm
        return _recoil(of) + of.mass_g.value * lever**2 / GCM2_PER_KGCM2

    return PendulumResult(
        _with_spread(reading, swingweight),
        recoil,
        axis_cm,
        Estimate(small, reading.period_s.u * widened),
        {name: _slope(reading, name, swingweight) for name in ("mass_g", "balance_cm")},
    )


def _recoil(reading: PendulumReading) -> float:
    mass = reading.mass_g.value
    d, holder = reading.arm_cm, reading.holder
    small = small_swing_period_s(reading.period_s.value, reading.amplitude_deg.value)
    pull = mass * d + holder.mass_g * holder.centre_cm
    inertia = pull * reading.gravity_cms2.value * small**2 / _FOUR_PI_SQUARED
    return (inertia - mass * d**2) / GCM2_PER_KGCM2 - holder.inertia_kgcm2


def require_one_swing(periods_s: Sequence[float]) -> None:
    """Refuse periods that cannot all be of one frame on one axle, whoever timed them.

    Raises:
        SpecError: the longest is more than ``ODD_RATIO`` times the shortest.
    """
    shortest, longest = min(periods_s), max(periods_s)
    if longest > ODD_RATIO * shortest:
        raise SpecError(
            f"Periods of {shortest:.3f} and {longest:.3f} s are not of one swing; leave out the one that was "
            "counted wrongly.",
            code="not_one_swing",
            field="period_s",
        )


def _require_on_frame(reading: PendulumReading) -> None:
    """Refuse an axle or a balance that lies off any frame, and what swings faster or slower than any."""
    for field, noun in (("balance_cm", "balance"), ("hang_cm", "place where it hangs")):
        value = getattr(reading, field).value
        if not 0 <= value <= LONGEST_CM:
            raise SpecError(
                f"A {noun} {value:g} cm from the butt is off any frame; measure from the butt end, in cm.",
                code="off_frame",
                field=field,
            )
    if not SHORTEST_PERIOD_S <= reading.period_s.value <= LONGEST_PERIOD_S:
        raise SpecError(
            f"No frame swings once in {reading.period_s.value:g} s; give the time of one whole swing, "
            "there and back.",
            code="not_a_period",
            field="period_s",
        )
    low, high = GRAVITY_ON_EARTH_CMS2
    if not low <= reading.gravity_cms2.value <= high:
        raise SpecError(
            f"Gravity on earth is {low:.0f} to {high:.0f} cm/s², not {reading.gravity_cms2.value:g}.",
            code="not_on_earth",
            field="gravity_cms2",
        )


def _require_holder(holder: Holder) -> None:
    least = holder.mass_g * holder.centre_cm**2 / GCM2_PER_KGCM2
    if holder.inertia_kgcm2 < least * (1 - 1e-9):
        raise SpecError(
            f"A holder of {holder.mass_g:g} g centred {abs(holder.centre_cm):g} cm from the axle has at "
            f"least {least:.3f} kg·cm² about it, not {holder.inertia_kgcm2:g}; check its weight, centre "
            "and inertia.",
            code="holder_too_light",
            field="holder",
        )


def _require_swinging(reading: PendulumReading) -> None:
    _require_positive(mass_g=reading.mass_g, period_s=reading.period_s, gravity_cms2=reading.gravity_cms2)
    if not 0 <= reading.amplitude_deg.value <= LARGEST_AMPLITUDE_DEG:
        raise SpecError(
            f"Swing by at most {LARGEST_AMPLITUDE_DEG:.0f} degrees to either side; 5 is best.",
            code="amplitude_too_large",
            field="amplitude_deg",
        )
    _require_on_frame(reading)
    _require_holder(reading.holder)
    d = abs(reading.balance_cm.value - reading.hang_cm.value)
    if d < 1.0:
        raise SpecError(
            f"A frame that hangs {d:.1f} cm from its balance point hardly swings; hang it near the "
            "tip or at the handle.",
            code="hangs_at_balance",
            field="hang_cm",
        )
    if reading.mass_g.value * d + reading.holder.mass_g * reading.holder.centre_cm <= 0:
        raise SpecError(
            "The holder outweighs the frame; its centre counts from the axle toward the balance point.",
            code="holder_outweighs",
            field="holder",
        )


# -- twist weight -----------------------------------------------------------------------


@dataclass(frozen=True)
class SidewaysReading:
    """A frame hung level from a line along its long axis, ``drop_cm`` below that line."""

    mass_g: Estimate
    drop_cm: Estimate
    period_s: Estimate
    gravity_cms2: Estimate = SOMEWHERE_CMS2

    def twistweight(self) -> float:
        """M·g·h·P²/(4π²) - M·h², kg·cm²."""
        m, h, g = self.mass_g.value, self.drop_cm.value, self.gravity_cms2.value
        about_line = m * g * h * self.period_s.value**2 / _FOUR_PI_SQUARED
        return (about_line - m * h**2) / GCM2_PER_KGCM2


@dataclass(frozen=True)
class TwoCordsReading:
    """A frame hung upright from two cords ``apart_cm`` apart, turning about its long axis."""

    mass_g: Estimate
    cord_cm: Estimate
    apart_cm: Estimate
    period_s: Estimate
    gravity_cms2: Estimate = SOMEWHERE_CMS2

    def twistweight(self) -> float:
        """M·g·D²·P²/(16π²·ℓ), kg·cm²."""
        pull = self.mass_g.value * self.gravity_cms2.value * self.apart_cm.value**2
        about_axis = pull * self.period_s.value**2 / (4 * _FOUR_PI_SQUARED * self.cord_cm.value)
        return about_axis / GCM2_PER_KGCM2


TwistReading = SidewaysReading | TwoCordsReading


def twistweight(reading: TwistReading) -> Estimate:
    """Twist weight with ±, kg·cm².

    Raises:
        SpecError: a length, weight or period that is not above 0, or a period that is too short.
    """
    _require_positive(**vars(reading))
    found = _with_spread(reading, lambda of: of.twistweight())
    if found.value <= 0:
        raise SpecError(
            f"A period of {reading.period_s.value:.3f} s is too short for a frame hung so far below"
            " its line; check the drop, and whether every swing was counted.",
            code="period_too_short",
            field="period_s",
        )
    return found


# -- helpers ------------------------------------------------------------------------------


def _require_positive(**quantities: Estimate) -> None:
    for field, quantity in quantities.items():
        if not (math.isfinite(quantity.value) and quantity.value > 0):
            noun = field.rpartition("_")[0].replace("_", " ")
            raise SpecError(f"The {noun} is above 0.", code="not_positive", field=field)


_STEP: Final = 1e-5  # of a value: the functions are smooth, so a difference serves


_Reading = TypeVar("_Reading", bound=PendulumReading | SidewaysReading | TwoCordsReading)


def _with_spread(reading: _Reading, function: Callable[[_Reading], float]) -> Estimate:
    """The function of a reading with its ± by first derivatives over all that was measured."""
    parts = {
        name: _slope(reading, name, function) * quantity.u
        for name, quantity in vars(reading).items()
        if isinstance(quantity, Estimate) and quantity.u > 0
    }
    variance = sum(part**2 for part in parts.values())
    if isinstance(reading, PendulumReading):
        together = parts.get("mass_g", 0.0) * parts.get("balance_cm", 0.0)
        variance += 2 * reading.mass_and_balance * together
    return Estimate(function(reading), math.sqrt(max(variance, 0.0)))


def _slope(reading: _Reading, name: str, function: Callable[[_Reading], float]) -> float:
    """The first derivative of a function of a reading by one of its quantities."""
    value: float = getattr(reading, name).value
    step = _STEP * max(abs(value), 1.0)
    above = function(_with(reading, name, value + step))
    below = function(_with(reading, name, value - step))
    return (above - below) / (2 * step)


def _with(reading: _Reading, name: str, value: float) -> _Reading:
    changed: dict[str, Any] = {name: Estimate(value)}
    return replace(reading, **changed)
