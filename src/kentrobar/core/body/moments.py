"""Moment space: a body as five additive numbers, and every spec that derives from the sum.

With y along the long axis from the butt, x across the face and z out of it, a body is

    M = Σ m,  S = Σ m·y,  A = Σ m·(y² + z²),  T = Σ m·(x² + z²),  X = Σ m·x

in g, g·cm and g·cm². Adding a piece adds its five numbers and taking it away subtracts them, so
every question about weight on a frame is a sum in this space. The inertia about an axis across
the handle at y = p follows from Σ m·((y - p)² + z²) = A - 2pS + p²M (parallel-axis theorem in
its additive form), the one about the long axis through the centre of mass from T - X²/M.
"""

from __future__ import annotations

import math
from typing import NamedTuple

from kentrobar.core.quantities.errors import SpecError
from kentrobar.core.quantities.units import GCM2_PER_KGCM2

STANDARD_GRAVITY_CMS2 = 980.665  # ISO 80000-3, exact by convention


class Moments(NamedTuple):
    """The five additive numbers of a body, in g, g·cm and g·cm²."""

    mass: float = 0.0
    first_y: float = 0.0
    second_yz: float = 0.0
    second_xz: float = 0.0
    first_x: float = 0.0

    def plus(self, other: Moments) -> Moments:
        """The moments of both bodies together."""
        return Moments(
            self.mass + other.mass,
            self.first_y + other.first_y,
            self.second_yz + other.second_yz,
            self.second_xz + other.second_xz,
            self.first_x + other.first_x,
        )

    def times(self, factor: float) -> Moments:
        """The moments of so many such bodies."""
        return Moments(
            self.mass * factor,
            self.first_y * factor,
            self.second_yz * factor,
            self.second_xz * factor,
            self.first_x * factor,
        )

    def mirrored(self) -> Moments:
        """The same body on the other side of the long axis."""
        return self._replace(first_x=-self.first_x)

    # -- what derives from the sum ------------------------------------------------

    @property
    def balance_cm(self) -> float:
        """Balance point from the butt, cm. Raises SpecError without mass."""
        if self.mass <= 0:
            raise SpecError("A body without weight has no balance point.", code="no_mass")
        return self.first_y / self.mass

    def swingweight_kgcm2(self, axis_cm: float) -> float:
        """Inertia about the axis across the handle (parallel to x) at ``axis_cm``, kg·cm²."""
        inertia = self.second_yz - 2 * axis_cm * self.first_y + axis_cm**2 * self.mass
        return inertia / GCM2_PER_KGCM2

    @property
    def twistweight_kgcm2(self) -> float:
        """Inertia about the long axis through the centre of mass, kg·cm²."""
        return (self.second_xz - self.first_x**2 / self.mass) / GCM2_PER_KGCM2

    @property
    def recoil_kgcm2(self) -> float:
        """Recoil weight: inertia about the axis parallel to x through the centre of mass."""
        return (self.second_yz - self.first_y**2 / self.mass) / GCM2_PER_KGCM2

    @property
    def gyration_cm(self) -> float:
        """Radius of gyration about the centre of mass: the spread of mass along the length, cm."""
        return math.sqrt(max(GCM2_PER_KGCM2 * self.recoil_kgcm2 / self.mass, 0.0))

    def spinweight_kgcm2(self, axis_cm: float) -> float:
        """Inertia about the axis parallel to z (edge first) at ``axis_cm``, thin frame, kg·cm²."""
        return self.swingweight_kgcm2(axis_cm) + self.twistweight_kgcm2

    def mgr_per_i(self, axis_cm: float) -> float:
        """``g·M·(b-p)/SW`` about the axis at ``axis_cm``, in s⁻²."""
        torque = STANDARD_GRAVITY_CMS2 * (self.first_y - axis_cm * self.mass)
        return torque / (GCM2_PER_KGCM2 * self.swingweight_kgcm2(axis_cm))


def moments_from_specs(
    mass_g: float, balance_cm: float, swingweight_kgcm2: float, axis_cm: float, twistweight_kgcm2: float = 0.0
) -> Moments:
    """Moments of a frame of these specs, taken as even from left to right (X = 0)."""
    first_y = mass_g * balance_cm
    second_yz = GCM2_PER_KGCM2 * swingweight_kgcm2 + 2 * axis_cm * first_y - axis_cm**2 * mass_g
    return Moments(mass_g, first_y, second_yz, GCM2_PER_KGCM2 * twistweight_kgcm2)


def swingweight_at_axis(
    swingweight_kgcm2: float, axis_cm: float, mass_g: float, balance_cm: float, new_axis_cm: float
) -> float:
    """A swing weight moved from one axis to another, kg·cm²."""
    change = mass_g * ((balance_cm - new_axis_cm) ** 2 - (balance_cm - axis_cm) ** 2)
    return swingweight_kgcm2 + change / GCM2_PER_KGCM2
