"""What was measured of a frame, and the specs that are shown of a body."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from operator import mul
from typing import Final, NamedTuple

from kentrobar.core.estimates import NOT_MEASURED, Estimate, NotMeasured, Quantity
from kentrobar.core.moments import Moments, moments_from_specs

# Standard uncertainties of usual instruments, taken where none is stated.
SCALE_U_G = 0.1
BALANCE_BOARD_U_CM = 0.1
SWINGWEIGHT_U_KGCM2 = 1.0
TWISTWEIGHT_U_KGCM2 = 0.2

Vector = tuple[float, float, float, float, float]  # one standard deviation, as (M, S, A, T, X)

# A symmetric 5 x 5 matrix by (M, S, A, T, X): its upper triangle, row by row. At this size plain
# numbers are several times faster than arrays.
Covariance = tuple[float, ...]
PAIRS: Final = tuple((i, j) for i in range(5) for j in range(i, 5))
NO_COVARIANCE: Final[Covariance] = (0.0,) * len(PAIRS)


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
        return self.knows_balance and isinstance(self.swingweight_kgcm2, Estimate)

    @property
    def knows_twistweight(self) -> bool:
        return isinstance(self.twistweight_kgcm2, Estimate)

    def missing(self) -> tuple[str, ...]:
        """The nouns of what was not measured, in the order of measuring."""
        named = {
            "static weight": self.mass_g,
            "balance": self.balance_cm,
            "swing weight": self.swingweight_kgcm2,
            "twist weight": self.twistweight_kgcm2,
        }
        return tuple(noun for noun, quantity in named.items() if isinstance(quantity, NotMeasured))

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
            vectors.append((0.0, 0.0, 1000 * self.swingweight_kgcm2.u, 0.0, 0.0))
        if isinstance(self.twistweight_kgcm2, Estimate):
            vectors.append((0.0, 0.0, 0.0, 1000 * self.twistweight_kgcm2.u, 0.0))
        return vectors


def covariance_of(deviations: Sequence[Vector]) -> Covariance:
    """Covariance of independent deviations: the sum of their outer products."""
    if not deviations:
        return NO_COVARIANCE
    if len(deviations) == 1:
        v = deviations[0]
        return tuple([v[i] * v[j] for i, j in PAIRS])
    columns = tuple(zip(*deviations, strict=True))
    return tuple([sum(map(mul, columns[i], columns[j])) for i, j in PAIRS])


def _value(quantity: Quantity) -> float:
    return quantity.value if isinstance(quantity, Estimate) else 0.0


class Specs(NamedTuple):
    """The specs of a body, or their change. ``axis_cm`` is the axis of the swing weight."""

    mass_g: Quantity
    balance_cm: Quantity
    points_headlight: Quantity
    swingweight_kgcm2: Quantity
    twistweight_kgcm2: Quantity
    recoil_kgcm2: Quantity
    gyration_cm: Quantity
    axis_cm: float
