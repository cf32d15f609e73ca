"""Scale and zero of an instrument from bodies of known inertia, weight or balance.

An instrument shows ``reading``; the truth is ``scale·reading + zero``. Two or more different known
values give both by least squares; one gives the scale of a machine or the zero of a board.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kentrobar.core.quantities.errors import SpecError
from kentrobar.core.quantities.units import GCM2_PER_KGCM2


@dataclass(frozen=True)
class KnownBody:
    """One body of known value with what the instrument showed for it."""

    truth: float
    reading: float


class Finds(StrEnum):
    """What one known value alone is taken to tell."""

    SCALE = "scale"
    ZERO = "zero"


@dataclass(frozen=True)
class Correction:
    """``truth = scale·reading + zero`` with the covariance of the two: what a calibration finds."""

    scale: float = 1.0
    zero: float = 0.0
    scale_variance: float = 0.0
    zero_variance: float = 0.0
    covariance: float = 0.0

    def truth(self, reading: float) -> float:
        """The true value, in the instrument's unit, of what it shows."""
        return self.scale * reading + self.zero

    def shown(self, truth: float) -> float:
        """What the instrument shows for a truth; the inverse of :meth:`truth`, in the same unit."""
        return (truth - self.zero) / self.scale

    def u_at(self, reading: float) -> float:
        """Standard uncertainty that all readings near this one share, in the instrument's unit."""
        variance = self.scale_variance * reading**2 + 2 * self.covariance * reading + self.zero_variance
        return math.sqrt(max(variance, 0.0))


NO_CORRECTION: Final = Correction()


def rod_inertia_kgcm2(mass_g: float, length_cm: float, centre_from_axis_cm: float = 0.0) -> float:
    """Inertia of a plain uniform rod about an axis across it: mℓ²/12 + m·d²."""
    _require_known(mass_g, "mass_g")
    _require_known(length_cm, "length_cm")
    return mass_g * (length_cm**2 / 12 + centre_from_axis_cm**2) / GCM2_PER_KGCM2


def mass_inertia_kgcm2(mass_g: float, from_axis_cm: float) -> float:
    """Inertia of a compact mass at a distance from the axis."""
    _require_known(mass_g, "mass_g")
    return mass_g * from_axis_cm**2 / GCM2_PER_KGCM2


def calibrate(known: Sequence[KnownBody], reading_u: float, alone: Finds) -> Correction:
    """Scale and zero from known values; ``reading_u`` is the ± of one reading.

    Raises:
        SpecError: nothing known, a reading that cannot belong to it, or a scale out of all bounds.
    """
    if not known:
        raise SpecError("Type at least one known value.", code="nothing_known", field="known")
    truths = {round(k.truth, 9) for k in known}
    found = _from_one(known, reading_u, alone) if len(truths) == 1 else _by_least_squares(known, reading_u)
    if not 0.5 <= found.scale <= 2.0:
        raise SpecError(
            f"These readings make the scale {found.scale:.3f}; that far off usually means another "
            "unit or another axis. Check both.",
            code="impossible_scale",
            field="known",
        )
    return found


def _from_one(known: Sequence[KnownBody], reading_u: float, alone: Finds) -> Correction:
    truth, n = known[0].truth, len(known)
    reading = sum(k.reading for k in known) / n
    variance = reading_u**2 / n
    if alone is Finds.ZERO:
        return Correction(zero=truth - reading, zero_variance=variance)
    if reading <= 0:
        raise SpecError("The reading is above 0.", code="not_positive", field="known")
    scale = truth / reading
    return Correction(scale=scale, scale_variance=variance * (scale / reading) ** 2)


def _by_least_squares(known: Sequence[KnownBody], reading_u: float) -> Correction:
    n = len(known)
    mean = sum(k.reading for k in known) / n
    spread = sum((k.reading - mean) ** 2 for k in known)
    if spread <= 0:
        raise SpecError(
            "Bodies of different inertia gave the same reading. Measure them again.",
            code="same_readings",
            field="known",
        )
    scale = sum((k.reading - mean) * k.truth for k in known) / spread
    zero = sum(k.truth for k in known) / n - scale * mean
    of_one = (scale * reading_u) ** 2
    if n > 2:  # what the line leaves over may tell of more scatter than was stated
        rest = sum((k.truth - scale * k.reading - zero) ** 2 for k in known)
        of_one = max(of_one, rest / (n - 2))
    slope = of_one / spread
    return Correction(scale, zero, slope, of_one / n + slope * mean**2, -slope * mean)


def _require_known(value: float, field: str) -> None:
    if not value > 0:
        noun = "weight" if field == "mass_g" else "length"
        raise SpecError(f"The {noun} is above 0.", code="not_positive", field=field)
