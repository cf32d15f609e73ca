"""The air that a face carries along when it moves face on.

A plate a x b (a the shorter side) that moves square to itself has the added mass C·ρ·π/4·a²·b, with C by
its sides (tables of added mass of rectangular plates, such as DNV-RP-C205). On a paddle that is some 6 g
spread over its face; through the strings of a racket the air goes, and next to nothing is carried.
What is read on a machine includes the air at the machine's axis; a swing about another axis carries
another part of it, and a swing edge on carries none.
"""

from __future__ import annotations

from typing import Final

import numpy as np

from kentrobar.core.frame.outline import Outline, PaddleDimensions
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import GCM2_PER_KGCM2

AIR_G_CM3: Final = 0.0012  # at sea level and 20 °C
AIR_U_RELATIVE: Final = 0.25  # a face is no rectangle, its edge is thick, and height thins the air
_SIDES: Final = (1.0, 1.25, 1.5, 2.0)  # longer by shorter
_COEFFICIENTS: Final = (0.58, 0.64, 0.69, 0.76)
_EDGES_CARRY_LESS: Final = 16.0  # of b²: the air over an ellipse, where a rectangle of even air has 12


def carried_air_kgcm2(outline: Outline, axis_cm: float) -> Estimate:
    """Inertia of the air that a frame carries face on, about an axis so far from the butt, kg·cm²."""
    d = outline.dimensions
    if not isinstance(d, PaddleDimensions):
        return Estimate(0.0)
    along, across = d.length_cm - d.handle_length_cm, d.width_cm
    shorter, longer = sorted((along, across))
    coefficient = float(np.interp(longer / shorter, _SIDES, _COEFFICIENTS))
    mass_g = coefficient * AIR_G_CM3 * np.pi / 4 * shorter**2 * longer
    lever_cm = outline.centre_y_cm - axis_cm
    inertia = mass_g * (lever_cm**2 + along**2 / _EDGES_CARRY_LESS) / GCM2_PER_KGCM2
    return Estimate(inertia, AIR_U_RELATIVE * inertia)
