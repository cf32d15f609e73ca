"""What was measured of a frame, and the moments that follow from it."""

from __future__ import annotations

from dataclasses import dataclass

from kentrobar.core.body.moments import Moments, moments_from_specs
from kentrobar.core.body.specs import READ, ReadSpec
from kentrobar.core.quantities.estimates import (
    NOT_MEASURED,
    Estimate,
    NotMeasured,
    Quantity,
    Vector,
)
from kentrobar.core.quantities.units import GCM2_PER_KGCM2


@dataclass(frozen=True)
class MeasuredSpecs:
    """Readings of one frame in one build. The swing weight belongs to the axis at ``axis_cm``."""

    mass_g: Quantity = NOT_MEASURED
    balance_cm: Quantity = NOT_MEASURED
    swingweight_kgcm2: Quantity = NOT_MEASURED
    axis_cm: float = 10.0
    twistweight_kgcm2: Quantity = NOT_MEASURED

    @property
    def knows_mass(self) -> bool:
        """Whether static weight was measured."""
        return isinstance(self.mass_g, Estimate)

    @property
    def knows_balance(self) -> bool:
        """Whether mass and balance are known, hence the first moment."""
        return self.knows_mass and isinstance(self.balance_cm, Estimate)

    def knows_swingweight(self, axis_cm: float) -> bool:
        """Whether the swing weight at ``axis_cm`` follows from the readings."""
        if not isinstance(self.swingweight_kgcm2, Estimate):
            return False
        return self.knows_balance or abs(axis_cm - self.axis_cm) < 1e-9

    @property
    def knows_recoil(self) -> bool:
        """Whether recoil weight follows from what was measured."""
        return self.knows_balance and isinstance(self.swingweight_kgcm2, Estimate)

    @property
    def knows_twistweight(self) -> bool:
        """Whether twist weight was measured."""
        return isinstance(self.twistweight_kgcm2, Estimate)

    def missing(self) -> tuple[str, ...]:
        """The nouns of what was not measured, in the order of measuring."""
        return tuple(spec.noun for spec in READ if isinstance(self.of(spec), NotMeasured))

    def of(self, spec: ReadSpec) -> Quantity:
        """What was read of one spec, in its base unit."""
        quantity: Quantity = getattr(self, spec.key)
        return quantity

    def moments(self) -> Moments:
        """The frame's moments; a spec that was not measured counts as 0 and must not be shown."""
        return moments_from_specs(
            _value(self.mass_g),
            _value(self.balance_cm) if self.knows_balance else 0.0,
            _value(self.swingweight_kgcm2),
            self.axis_cm,
            _value(self.twistweight_kgcm2),
        )

    def deviations(self) -> list[Vector]:
        """What one standard deviation of each reading does to the moments (first order)."""
        vectors: list[Vector] = []
        p = self.axis_cm
        if isinstance(self.mass_g, Estimate):
            b = _value(self.balance_cm) if self.knows_balance else 0.0
            u = self.mass_g.u
            vectors.append((u, b * u, (2 * p * b - p * p) * u, 0.0, 0.0))
            if isinstance(self.balance_cm, Estimate):
                first_y = self.mass_g.value * self.balance_cm.u
                vectors.append((0.0, first_y, 2 * p * first_y, 0.0, 0.0))
        if isinstance(self.swingweight_kgcm2, Estimate):
            vectors.append((0.0, 0.0, GCM2_PER_KGCM2 * self.swingweight_kgcm2.u, 0.0, 0.0))
        if isinstance(self.twistweight_kgcm2, Estimate):
            vectors.append((0.0, 0.0, 0.0, GCM2_PER_KGCM2 * self.twistweight_kgcm2.u, 0.0))
        return vectors


def _value(quantity: Quantity) -> float:
    return quantity.value if isinstance(quantity, Estimate) else 0.0
