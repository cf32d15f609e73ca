"""What is wanted of a frame, or of each frame of a set: one type for plans, sets, the bench and sign-off."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum
from types import MappingProxyType
from typing import Any, Final

from kentrobar.core.body.specs import AIMED_BY_KEY, STATIC_WEIGHT, Specs

Bands = Mapping[str, tuple[float, float]]  # lowest and highest value by the key of a spec, in its base unit
NO_BANDS: Final[Bands] = MappingProxyType({})
Values = Mapping[str, float]  # by the key of a spec, in its base unit

DEFAULT_CHANCE: Final = 0.95
MIDDLE_PART: Final = 1 / 3  # of a tolerance: what plans try for first, since the bench needs the rest
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
    ``changes`` are bands of how far a spec is to move where nobody measured from where.
    """

    bands: Bands = field(default_factory=dict)
    axis_cm: float = 10.0
    setup: str = ""
    alike: Alike = Alike.TO_TARGET
    chance: float = DEFAULT_CHANCE
    is_free: bool = False
    ceiling_g: float = math.inf
    kept: frozenset[str] = frozenset()
    changes: Bands = field(default_factory=dict)

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
        return bool(self.bands or self.changes)

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

    def counted_from(self, before: Specs) -> Target:
        """The same with each change of a spec that is known by now as a band of the spec itself."""
        known = {name: q.value for name in self.changes if (q := getattr(before, name))}
        moved = {
            name: (known[name] + low, known[name] + high)
            for name, (low, high) in self.changes.items()
            if name in known
        }
        left = {name: band for name, band in self.changes.items() if name not in known}
        return replace(self, bands=dict(self.bands) | moved, changes=left)

    @property
    def in_the_middle(self) -> Target:
        """The same with the middle :data:`MIDDLE_PART` of each tolerance; what has one end keeps it."""
        two_sided = self.two_sided.bands
        return replace(self, bands=dict(self.bands) | _middle_of(two_sided), changes=_middle_of(self.changes))

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

    def contains(self, specs: Specs, change: Specs | None = None) -> bool:
        """Whether every wanted spec is known and lies in its band; an edge belongs to it.

        A wanted change is met only by a ``change`` that is given.
        """
        missed = self.miss(specs)
        is_met = missed.keys() == self.bands.keys() and not any(missed.values())
        if not self.changes:
            return is_met
        return (
            is_met and change is not None and replace(self, bands=self.changes, changes={}).contains(change)
        )

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
            "changes": {name: list(band) for name, band in self.changes.items()},
        }

    @classmethod
    def decoded(cls, stored: Mapping[str, Any]) -> Target:
        """The target that was stored; an empty mapping wants nothing."""
        if not stored:
            return NOTHING_WANTED
        ceiling_g = stored["ceiling_g"]
        return cls(
            _known_bands(stored["bands"]),
            stored["axis_cm"],
            stored["setup"],
            Alike(stored["alike"]),
            stored["chance"],
            stored["is_free"],
            math.inf if ceiling_g is None else ceiling_g,
            frozenset(stored["kept"]),
            _known_bands(stored.get("changes", {})),
        )


NOTHING_WANTED: Final = Target()


def _middle_of(bands: Bands) -> dict[str, tuple[float, float]]:
    away = {name: (1 - MIDDLE_PART) * (high - low) / 2 for name, (low, high) in bands.items()}
    return {name: (low + away[name], high - away[name]) for name, (low, high) in bands.items()}


def _known_bands(stored: Mapping[str, Any]) -> dict[str, tuple[float, float]]:
    return {name: (low, high) for name, (low, high) in stored.items() if name in AIMED_BY_KEY}


def _outside(value: float, low: float, high: float) -> float:
    if value < low - _ROUNDING:
        return value - low
    return value - high if value > high + _ROUNDING else 0.0
