"""What is wanted of a frame, or of each frame of a set: one type for plans, sets, the bench and sign-off."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum
from typing import Any, Final

from kentrobar.core.body.specs import AIMED_BY_KEY, STATIC_WEIGHT, Specs

Bands = Mapping[str, tuple[float, float]]  # lowest and highest value by the key of a spec, in its base unit
Values = Mapping[str, float]  # by the key of a spec, in its base unit

DEFAULT_CHANCE: Final = 0.95
_ROUNDING: Final = 1e-9  # an edge belongs to its band
_DIGITS: Final = 9  # to which a tolerance comes back out of its band
_CODEC: Final = 1  # version of the stored form


class Alike(StrEnum):
    """What a matched set means: each within the tolerance of the target, or all within it of each other."""

    TO_TARGET = "target"
    TO_EACH_OTHER = "each_other"

    @property
    def part(self) -> float:
        """The part of the tolerance to either side of the middle of a band, 0 to 1."""
        return 0.5 if self is Alike.TO_EACH_OTHER else 1.0


@dataclass(frozen=True)
class Target:
    """Bands that specs must come to lie in, by their keys; a spec without a band is free.

    A swing weight is about ``axis_cm``. ``setup`` is the setup that the values are of, empty for that of the
    readings. Where a target ``is_free`` its bands lie about centres that are chosen with the plan. ``chance``
    is the wanted probability, 0 to 1, that every spec lies within; ``ceiling_g`` the static weight that no
    frame may exceed. Where not all bands can be met, those that are ``kept`` give way last.

    Recoil weight is wanted together with the balance: about any other point it is no sum of moments.
    """

    bands: Bands = field(default_factory=dict)
    axis_cm: float = 10.0
    setup: str = ""
    alike: Alike = Alike.TO_TARGET
    chance: float = DEFAULT_CHANCE
    is_free: bool = False
    ceiling_g: float = math.inf
    kept: frozenset[str] = frozenset()

    @classmethod
    def about(
        cls,
        centres: Values,
        tolerances: Values,
        axis_cm: float = 10.0,
        *,
        alike: Alike = Alike.TO_TARGET,
        **more: Any,
    ) -> Target:
        """Each spec within its tolerance of its centre; without any centres these are free.

        A spec that has no centre where others have, or no tolerance, is left out.
        """
        is_free = not centres
        reach = {name: alike.part * t for name, t in tolerances.items()}
        bands = {
            name: (centres.get(name, 0.0) - r, centres.get(name, 0.0) + r)
            for name, r in reach.items()
            if is_free or name in centres
        }
        return cls(bands, axis_cm, alike=alike, is_free=is_free, **more)

    # -- its parts ----------------------------------------------------------------------

    def __bool__(self) -> bool:
        """Whether anything is wanted."""
        return bool(self.bands)

    @property
    def centres(self) -> dict[str, float]:
        """The middle of each band; none where they are chosen with the plan."""
        return {} if self.is_free else {n: (low + high) / 2 for n, (low, high) in self.bands.items()}

    @property
    def reach(self) -> dict[str, float]:
        """How far from the middle of its band each spec may lie."""
        return {n: round((high - low) / 2, _DIGITS) for n, (low, high) in self.bands.items()}

    @property
    def tolerances(self) -> dict[str, float]:
        """What was asked for: how far from the target, or from each other, each spec may lie."""
        return {name: round(r / self.alike.part, _DIGITS) for name, r in self.reach.items()}

    @property
    def freed(self) -> Target:
        """The same with centres that are chosen with the plan."""
        return replace(self, bands={n: (-r, r) for n, r in self.reach.items()}, is_free=True)

    def placed(self, centres: Values) -> Target:
        """The same about these centres; specs without one are left out."""
        return replace(self, bands=self.bands_about(centres), is_free=False)

    def bands_about(self, centres: Values) -> dict[str, tuple[float, float]]:
        """The bands as they lie about these centres."""
        return {n: (centres[n] - r, centres[n] + r) for n, r in self.reach.items() if n in centres}

    def with_tolerances(self, tolerances: Values) -> Target:
        """The same with other tolerances, about the same centres."""
        about = Target.about(self.centres, tolerances, self.axis_cm, alike=self.alike)
        return replace(self, bands=about.bands)

    @property
    def two_sided(self) -> Target:
        """The same with the bands that have a middle: a ceiling alone is nothing to come to."""
        return replace(self, bands={n: band for n, band in self.bands.items() if band[0] > 0})

    @property
    def under_ceiling(self) -> Target:
        """The same with a band of the static weight that ends at the ceiling."""
        if self.ceiling_g == math.inf:
            return self
        low, high = self.bands.get(STATIC_WEIGHT.key, (0.0, math.inf))
        below = {STATIC_WEIGHT.key: (low, min(high, self.ceiling_g))}
        return replace(self, bands=dict(self.bands) | below)

    # -- what is held against it --------------------------------------------------------

    def miss(self, specs: Specs) -> dict[str, float]:
        """By how much each known spec lies outside its band, 0 within; signed, and by key.

        ``specs`` are about the axis of the target; a spec that is not known is left out.
        """
        found = {}
        for name, (low, high) in self.bands.items():
            quantity = getattr(specs, name)
            if quantity:
                found[name] = _outside(quantity.value, low, high)
        return found

    def contains(self, specs: Specs) -> bool:
        """Whether every wanted spec is known and lies in its band; an edge belongs to it."""
        missed = self.miss(specs)
        return missed.keys() == self.bands.keys() and not any(missed.values())

    # -- as it is stored ----------------------------------------------------------------

    def encoded(self) -> dict[str, Any]:
        """What databases keep; :meth:`decoded` reads it."""
        return {
            "v": _CODEC,
            "bands": {name: list(band) for name, band in self.bands.items()},
            "axis_cm": self.axis_cm,
            "setup": self.setup,
            "alike": self.alike.value,
            "chance": self.chance,
            "is_free": self.is_free,
            "ceiling_g": None if self.ceiling_g == math.inf else self.ceiling_g,
            "kept": sorted(self.kept),
        }

    @classmethod
    def decoded(cls, stored: Mapping[str, Any]) -> Target:
        """The target that was stored; an empty mapping wants nothing."""
        if not stored:
            return NOTHING_WANTED
        ceiling_g = stored["ceiling_g"]
        return cls(
            {n: (low, high) for n, (low, high) in stored["bands"].items() if n in AIMED_BY_KEY},
            stored["axis_cm"],
            stored["setup"],
            Alike(stored["alike"]),
            stored["chance"],
            stored["is_free"],
            math.inf if ceiling_g is None else ceiling_g,
            frozenset(stored["kept"]),
        )


NOTHING_WANTED: Final = Target()


def _outside(value: float, low: float, high: float) -> float:
    if value < low - _ROUNDING:
        return value - low
    return value - high if value > high + _ROUNDING else 0.0
