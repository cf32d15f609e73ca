"""A frame hung so that it can swing: what a timed period comes to, and whether that can be.

``Rig`` is the frame with all that is measured but the period. A period of twice or half the true one is
the usual slip (passes of one direction counted as both, or the other way round), so it is looked for by
name where an answer does not fit what is known of the frame.
"""

from __future__ import annotations

import math
from abc import ABC, abstractmethod
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum
from types import MappingProxyType
from typing import Final

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.ranges import PLAUSIBLE
from kentrobar.core.body.specs import BALANCE, STATIC_WEIGHT, SWING_WEIGHT, TWIST_WEIGHT, ReadSpec
from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.outline import Outline
from kentrobar.core.quantities.errors import KentrobarError, SpecError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.reading.air import AIR_U_RELATIVE, carried_air_kgcm2
from kentrobar.core.reading.pendulum import (
    NO_HOLDER,
    PHONE_LENGTH_CM,
    Holder,
    PendulumReading,
    SidewaysReading,
    TwoCordsReading,
    pendulum,
    twistweight,
)
from kentrobar.core.reading.slips import TypedNumber, TypedSpecs, expect_earlier, judge
from kentrobar.core.reading.timing import Timing, swings_worth_it

AMPLITUDE_U_DEG: Final = 1.0
_STEP_S: Final = 1e-4  # for the slope of the answer by the period
_MISCOUNTS: Final = (
    (2.0, "Only half of each swing seems to be timed: choose “at every pass”."),
    (4.0, "Both edges of the frame seem to be timed at every pass: let the gate tell one of them."),
    (0.5, "Two swings seem to be counted as one, or passes missed: choose “once a swing”."),
)


@dataclass(frozen=True, kw_only=True)
class Rig(ABC):
    """A frame of known weight hung so that it can swing; ``axis_cm`` is the axis of its swing weight."""

    sport: Sport
    length_cm: float
    measured: MeasuredSpecs
    gravity_cms2: Estimate
    axis_cm: float
    spec: ReadSpec = field(init=False, default=TWIST_WEIGHT)

    @abstractmethod
    def answer(self, period_s: Estimate) -> Estimate:
        """Swing or twist weight that a period comes to, kg·cm². Raises SpecError for one that cannot be."""

    def known(self, spec: ReadSpec, request: str) -> Estimate:
        """What was read of a spec, in its base unit. Raises SpecError with a request where it was not."""
        quantity = self.measured.of(spec)
        if not quantity:
            raise SpecError(request, code="not_measured", field=spec.key)
        return quantity

    @property
    def mass_g(self) -> Estimate:
        """The frame's weight, g."""
        return self.known(STATIC_WEIGHT, "Weigh the frame first.")

    def slopes(self, period_s: Estimate) -> Mapping[str, float]:
        """How far the answer follows from what was read of the frame: twist weight from its weight alone."""
        return {STATIC_WEIGHT.key: self.answer(period_s).value / self.mass_g.value}

    def measured_with(self, period_s: Estimate) -> MeasuredSpecs:
        """What is known of the frame with the answer, which hangs together with its weight and balance."""
        return self.measured.with_reading(
            self.spec, self.answer(period_s), axis_cm=self.axis_cm, slopes=self.slopes(period_s)
        )

    def suspicion(self, answer: Estimate, period_s: Estimate) -> str:
        """A sentence where an answer does not fit the frame, with the likely slip; empty where it fits."""
        if not self._is_odd(answer.value):
            return ""
        return self.miscount(period_s) or (
            f"This {self.spec.noun} does not fit the frame; check where it hangs, weight, balance and count."
        )

    def miscount(self, period_s: Estimate) -> str:
        """The slip of counting, where twice or half the period fits the frame."""
        for factor, slip in _MISCOUNTS:
            if self.fits(Estimate(period_s.value * factor, period_s.u)):
                return slip
        return ""

    def fits(self, period_s: Estimate) -> bool:
        """Whether a period comes to something that fits what is known of the frame."""
        try:
            return not self._is_odd(self.answer(period_s).value)
        except KentrobarError:
            return False

    def more_swings(self, timing: Timing) -> int:
        """How many swings more are worth their time, 0 where none are."""
        at = self.answer(Estimate(timing.period_s.value))
        shifted = self.answer(Estimate(timing.period_s.value + _STEP_S))
        return swings_worth_it(timing, at.u, abs(shifted.value - at.value) / _STEP_S)

    def _is_odd(self, value: float) -> bool:
        """Whether a swing or twist weight, kg·cm², does not fit what is known of the frame."""
        typed = {"length": TypedNumber(f"{self.length_cm}", "cm", True)}
        for spec in (STATIC_WEIGHT, BALANCE):
            quantity = self.measured.of(spec)
            if quantity:
                typed[spec.field] = TypedNumber(f"{quantity.value:.4f}", spec.unit, True)
        typed[self.spec.field] = TypedNumber(f"{value:.4f}", self.spec.unit, True)
        typed["axis"] = TypedNumber(f"{self.axis_cm}", "cm")
        before = self.measured.of(self.spec)
        reference = expect_earlier("the last reading", self.measured) if before else None
        return judge(TypedSpecs(self.sport, typed), reference).is_odd


class SwingDirection(StrEnum):
    """Which way a hanging frame swings."""

    FACE_ON = "face"  # front to back, its axle across the face: the way of a drive
    EDGE_ON = "edge"  # side to side, its axle square to the face


DEPTH_U_KGCM2: Final = 0.3  # by which twist and swing weight of a frame with a beam miss its inertia edge on
_TAKEN_THE_OTHER_WAY: Final = MappingProxyType(
    {
        SwingDirection.FACE_ON: "It fits a frame that swung edge on, side to side: choose that, or swing it face on.",
        SwingDirection.EDGE_ON: "It fits a frame that swung face on, front to back: choose that, or swing it edge on.",
    }
)


@dataclass(frozen=True, kw_only=True)
class HangingRig(Rig):
    """A frame hung at ``hang_cm`` from its butt, swinging by ``amplitude_deg`` to either side.

    Edge on the swing is about the axis parallel to z, whose inertia is larger by the twist weight. With an
    ``outline`` the air that the face carries is told about the axis of the answer, as a machine reads it.
    """

    hang_cm: Estimate
    amplitude_deg: float = 0.0
    holder: Holder = NO_HOLDER
    way: SwingDirection = SwingDirection.FACE_ON
    outline: Outline | None = None
    spec: ReadSpec = field(init=False, default=SWING_WEIGHT)

    def with_phone(self, mass_g: float, from_butt_cm: float) -> HangingRig:
        """With a phone or sensor tied on along the frame, its middle so far from the butt."""
        balance = self.known(BALANCE, "Measure the balance first.")
        toward = 1.0 if balance.value > self.hang_cm.value else -1.0
        at_cm = toward * (from_butt_cm - self.hang_cm.value)
        return replace(self, holder=self.holder.with_body(mass_g, at_cm, PHONE_LENGTH_CM))

    def reading(self, period_s: Estimate) -> PendulumReading:
        """The rig with its period."""
        amplitude = Estimate(self.amplitude_deg, min(AMPLITUDE_U_DEG, self.amplitude_deg / 2))
        balance = self.known(BALANCE, "Measure the balance first.")
        return PendulumReading(
            self.mass_g,
            balance,
            self.hang_cm,
            period_s,
            self.gravity_cms2,
            amplitude,
            self.holder,
            self.measured.correlation(STATIC_WEIGHT, BALANCE),
        )

    def answer(self, period_s: Estimate) -> Estimate:
        return self._turned(pendulum(self.reading(period_s), self.axis_cm).swingweight_kgcm2)

    def slopes(self, period_s: Estimate) -> Mapping[str, float]:
        slopes = pendulum(self.reading(period_s), self.axis_cm).slopes
        return {**slopes, TWIST_WEIGHT.key: -1.0} if self.way is SwingDirection.EDGE_ON else slopes

    def recoil(self, period_s: Estimate) -> Estimate:
        """The recoil weight that a period comes to, kg·cm²."""
        return self._turned(pendulum(self.reading(period_s), self.axis_cm).recoil_kgcm2)

    def air_kgcm2(self) -> Estimate:
        """The air about the axis of the answer that this swing did not carry, kg·cm²."""
        if self.outline is None:
            return Estimate(0.0)
        of_air = carried_air_kgcm2(self.outline, self.axis_cm)
        swung = carried_air_kgcm2(self.outline, self.hang_cm.value)
        missing = of_air.value - (swung.value if self.way is SwingDirection.FACE_ON else 0.0)
        return Estimate(missing, abs(missing) * AIR_U_RELATIVE)

    def _turned(self, inertia: Estimate) -> Estimate:
        """An inertia of this swing as that of a swing face on about the axis of the answer."""
        air = self.air_kgcm2()
        value, us = inertia.value + air.value, [inertia.u, air.u]
        if self.way is SwingDirection.EDGE_ON:
            twist = self.known(
                TWIST_WEIGHT,
                "A swing edge on includes the twist weight: measure that first, or swing face on.",
            )
            value, us = value - twist.value, [*us, twist.u, DEPTH_U_KGCM2]
        return Estimate(value, math.hypot(*us))

    def miscount(self, period_s: Estimate) -> str:
        """The slip of the way it swung, else that of counting."""
        ways = {
            SwingDirection.FACE_ON: SwingDirection.EDGE_ON,
            SwingDirection.EDGE_ON: SwingDirection.FACE_ON,
        }
        other = replace(self, way=ways[self.way])
        if other.way is SwingDirection.EDGE_ON and not self.measured.knows_twistweight:
            usual = PLAUSIBLE[self.sport][TWIST_WEIGHT.key]
            twist = Estimate((usual.low + usual.high) / 2)
            other = replace(other, measured=self.measured.with_reading(TWIST_WEIGHT, twist))
        return _TAKEN_THE_OTHER_WAY[self.way] if other.fits(period_s) else super().miscount(period_s)


@dataclass(frozen=True, kw_only=True)
class SidewaysRig(Rig):
    """A frame hung level, its long axis ``drop_cm`` below the line it turns about."""

    drop_cm: Estimate

    def answer(self, period_s: Estimate) -> Estimate:
        return twistweight(SidewaysReading(self.mass_g, self.drop_cm, period_s, self.gravity_cms2))


@dataclass(frozen=True, kw_only=True)
class CordsRig(Rig):
    """A frame hung upright from two cords, turning about its long axis."""

    cord_cm: Estimate
    apart_cm: Estimate

    def answer(self, period_s: Estimate) -> Estimate:
        return twistweight(
            TwoCordsReading(self.mass_g, self.cord_cm, self.apart_cm, period_s, self.gravity_cms2)
        )
