"""What was measured of a frame, and the moments that follow from it.

Readings taken apart are independent. What was found from others (a swing weight timed with the frame's own
weight and balance, specs converted into another build) is not: its correlations with them are kept, so that
nothing that came from one measurement later counts as independent of itself.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from itertools import combinations
from types import MappingProxyType
from typing import Any, Final

from kentrobar.core.body.moments import Moments, moments_from_specs
from kentrobar.core.body.specs import BALANCE, READ, SWING_WEIGHT, ReadSpec
from kentrobar.core.quantities.estimates import (
    NOT_MEASURED,
    Covariance,
    Estimate,
    NotMeasured,
    Quantity,
    Vector,
    covariance_of,
    covariance_of_pair,
)
from kentrobar.core.quantities.units import GCM2_PER_KGCM2

Correlations = tuple[float, ...]  # -1 to 1, of each two specs of READ, in the order of their pairs
SPEC_PAIRS: Final = tuple(combinations(range(len(READ)), 2))
INDEPENDENT: Final[Correlations] = (0.0,) * len(SPEC_PAIRS)


@dataclass(frozen=True)
class MeasuredSpecs:
    """Readings of one frame in one build. The swing weight belongs to the axis at ``axis_cm``."""

    mass_g: Quantity = NOT_MEASURED
    balance_cm: Quantity = NOT_MEASURED
    swingweight_kgcm2: Quantity = NOT_MEASURED
    axis_cm: float = 10.0
    twistweight_kgcm2: Quantity = NOT_MEASURED
    correlations: Correlations = INDEPENDENT

    @classmethod
    def read_apart(cls, quantities: Mapping[str, Quantity], axis_cm: float) -> MeasuredSpecs:
        """Independent readings by the keys of their specs; what is left out was not measured."""
        known: dict[str, Any] = dict(quantities)
        return cls(axis_cm=axis_cm, **known)

    @property
    def knows_mass(self) -> bool:
        """Whether static weight was measured."""
        return bool(self.mass_g)

    @property
    def knows_balance(self) -> bool:
        """Whether mass and balance are known, hence the first moment."""
        return bool(self.mass_g and self.balance_cm)

    def knows_swingweight(self, axis_cm: float) -> bool:
        """Whether the swing weight at ``axis_cm`` follows from the readings."""
        if not self.swingweight_kgcm2:
            return False
        return self.knows_balance or abs(axis_cm - self.axis_cm) < 1e-9

    @property
    def knows_recoil(self) -> bool:
        """Whether recoil weight follows from what was measured."""
        return bool(self.knows_balance and self.swingweight_kgcm2)

    @property
    def knows_twistweight(self) -> bool:
        """Whether twist weight was measured."""
        return bool(self.twistweight_kgcm2)

    def has(self, key: str) -> bool:
        """Whether a spec of READ was read, by its key."""
        return bool(getattr(self, key))

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
            self.mass_g.or_else(0.0),
            self.balance_cm.or_else(0.0) if self.knows_balance else 0.0,
            self.swingweight_kgcm2.or_else(0.0),
            self.axis_cm,
            self.twistweight_kgcm2.or_else(0.0),
        )

    def covariance(self) -> Covariance:
        """Covariance of the moments (first order)."""
        deviations = self._deviations()
        covariance = covariance_of(deviations)
        for (i, j), r in zip(SPEC_PAIRS, self.correlations, strict=True):
            if r:
                both = covariance_of_pair(deviations[i], deviations[j])
                covariance = tuple(c + r * each for c, each in zip(covariance, both, strict=True))
        return covariance

    def _deviations(self) -> list[Vector]:
        """What one standard deviation of each spec of READ does to the moments."""
        p, (mass_u, balance_u, swing_u, twist_u) = self.axis_cm, map(u_of, map(self.of, READ))
        b = self.balance_cm.or_else(0.0) if self.knows_balance else 0.0
        first_y = self.mass_g.or_else(0.0) * balance_u
        return [
            (mass_u, b * mass_u, (2 * p * b - p * p) * mass_u, 0.0, 0.0),
            (0.0, first_y, 2 * p * first_y, 0.0, 0.0),
            (0.0, 0.0, GCM2_PER_KGCM2 * swing_u, 0.0, 0.0),
            (0.0, 0.0, 0.0, GCM2_PER_KGCM2 * twist_u, 0.0),
        ]

    def with_reading(
        self,
        spec: ReadSpec,
        quantity: Quantity,
        *,
        axis_cm: float | None = None,
        slopes: Mapping[str, float] = MappingProxyType({}),
    ) -> MeasuredSpecs:
        """With one spec read anew, about ``axis_cm`` where it is the swing weight.

        ``slopes`` tell how far it follows from specs known already, by their keys: its derivatives, each in
        the new spec's unit for one unit of that spec. Without, it is independent of all of them.
        """
        position = READ.index(spec)
        us = [u_of(self.of(each)) for each in READ]
        own = {READ.index(each): slopes[each.key] for each in READ if each.key in slopes}
        correlations = list(self.correlations)
        for index, pair in enumerate(SPEC_PAIRS):
            if position not in pair:
                continue
            other = pair[0] if pair[1] == position else pair[1]
            shared = sum(slope * us[i] * self._correlation(i, other) for i, slope in own.items())
            spread = u_of(quantity)
            correlations[index] = shared / spread if spread else 0.0
        changes: dict[str, Any] = {spec.key: quantity, "correlations": tuple(correlations)}
        if spec is SWING_WEIGHT and axis_cm is not None:
            changes["axis_cm"] = axis_cm
        return replace(self, **changes)

    def counted_from_zero(self, keys: Iterable[str], axis_cm: float) -> MeasuredSpecs:
        """The same with these specs, by key, as 0 ± 0 where nobody read them: what they come to is their change.

        Of a balance there is none. A swing weight so counted is about ``axis_cm``.
        """
        unread = {key for key in keys if not self.has(key) and key != BALANCE.key}
        changes: dict[str, Any] = dict.fromkeys(unread, Estimate(0.0))
        if SWING_WEIGHT.key in unread:
            changes["axis_cm"] = axis_cm
        return replace(self, **changes)

    def without(self, specs: Iterable[ReadSpec]) -> MeasuredSpecs:
        """The same with these specs not measured."""
        gone: dict[str, Any] = {spec.key: NOT_MEASURED for spec in specs}
        return replace(self, **gone)

    def _correlation(self, i: int, j: int) -> float:
        return 1.0 if i == j else self.correlations[SPEC_PAIRS.index((min(i, j), max(i, j)))]

    def correlation(self, one: ReadSpec, other: ReadSpec) -> float:
        """How far two specs err together, -1 to 1."""
        return self._correlation(READ.index(one), READ.index(other))


def u_of(quantity: Quantity) -> float:
    """The ± of a quantity, 0 where it is not known; in its unit."""
    return quantity.u if quantity else 0.0
