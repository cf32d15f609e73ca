"""Strings of a racket: how long they are, what they weigh once strung, where that mass lies."""

from __future__ import annotations

import math
from collections.abc import Iterator
from functools import lru_cache
from types import MappingProxyType
from typing import Final, NamedTuple

import numpy as np

from kentrobar.core.frame.anatomy import CROSSES_REACH, HOOP_WALL_CM, MAINS_REACH, USUAL_CROSSES, USUAL_MAINS
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.quantities.estimates import Estimate, Vector

# Densities of the raw materials, g/cm³ (polymer handbooks); a multifilament holds some air.
STRING_DENSITIES: Final = MappingProxyType(
    {"polyester": 1.38, "nylon": 1.14, "natural gut": 1.28, "multifilament": 1.10, "aramid": 1.44}
)
COMPUTED_U_RELATIVE: Final = 0.04  # density, gauge under tension and loops together


class _Strand(NamedTuple):
    """One straight string: along y at x (a main) or along x at y (a cross), with its loops' half."""

    is_main: bool
    at: float
    low: float
    high: float
    loop_cm: float


def string_length_cm(outline: Outline, mains: int, crosses: int) -> float:
    """Length of all strings with what runs through and along the frame, cm."""
    strands = _strands(outline, mains, crosses)
    return sum(s.high - s.low + 2 * s.loop_cm for s in strands)


def installed_mass_g(
    outline: Outline, mains: int, crosses: int, gauge_mm: float, density_g_cm3: float
) -> Estimate:
    """What the strings in the frame weigh, from gauge, material and pattern."""
    if not 0.8 <= gauge_mm <= 2.0:
        raise PieceError(
            f"A gauge of {gauge_mm:g} mm is no tennis string; 1.10 to 1.40 mm is usual.",
            code="impossible_gauge",
            field="gauge_mm",
        )
    section_cm2 = math.pi / 4 * (gauge_mm / 10) ** 2
    mass = density_g_cm3 * section_cm2 * string_length_cm(outline, mains, crosses)
    return Estimate(mass, COMPUTED_U_RELATIVE * mass)


def strings_weight(outline: Outline, mains: int, crosses: int, gauge_mm: float, material: str) -> Estimate:
    """The same by the material's name, g; of the usual pattern where it is not known (0)."""
    density = STRING_DENSITIES[material]
    return installed_mass_g(outline, mains or USUAL_MAINS, crosses or USUAL_CROSSES, gauge_mm, density)


def package_less_offcuts_g(package_g: float, offcuts_g: float, scale_u_g: float) -> Estimate:
    """What strings weigh in the frame from the package before and the offcuts after, with ±, g."""
    return Estimate(package_g - offcuts_g, scale_u_g * math.sqrt(2))


@lru_cache(maxsize=512)
def string_moments(outline: Outline, mains: int = 0, crosses: int = 0) -> Vector:
    """(1, mean y, mean y², mean x², 0) over the strings' mass."""
    if not (mains and crosses):
        top, bottom, half_width = _opening(outline)
        centre, half = (top + bottom) / 2, (top - bottom) / 2
        return (1.0, centre, centre**2 + half**2 / 4, half_width**2 / 4, 0.0)
    length = y = yy = xx = 0.0
    for strand in _strands(outline, mains, crosses):
        straight, ends = strand.high - strand.low, (strand.low, strand.high)
        whole = straight + 2 * strand.loop_cm
        first = (ends[1] ** 2 - ends[0] ** 2) / 2 + strand.loop_cm * sum(ends)
        second = (ends[1] ** 3 - ends[0] ** 3) / 3 + strand.loop_cm * sum(e * e for e in ends)
        length += whole
        y += first if strand.is_main else whole * strand.at
        yy += second if strand.is_main else whole * strand.at**2
        xx += whole * strand.at**2 if strand.is_main else second
    return (1.0, y / length, yy / length, xx / length, 0.0)


def _opening(outline: Outline) -> tuple[float, float, float]:
    """Top and bottom of the opening (y) and half its width, cm."""
    line = outline.rim(Face.INNER)
    points = line.polyline(0.0, line.half_length)
    return points[0].y, points[-1].y, max(p.x for p in points)


def _strands(outline: Outline, mains: int, crosses: int) -> Iterator[_Strand]:
    if not (8 <= mains <= 24 and 8 <= crosses <= 28):
        raise PieceError(
            f"A pattern of {mains} x {crosses} is none of a racket; 16 x 19 is usual.",
            code="impossible_pattern",
            field="pattern",
        )
    line = outline.rim(Face.INNER)
    rim = np.array(line.polyline(0.0, line.half_length))
    widest = int(np.argmax(rim[:, 0]))
    upper, lower = rim[: widest + 1], rim[widest:][::-1]
    top, bottom, half_width = _opening(outline)
    reach = MAINS_REACH * half_width
    gap = 2 * reach / (mains - 1)
    for x in np.linspace(-reach, reach, mains):
        low = float(np.interp(abs(x), lower[:, 0], lower[:, 1])) - HOOP_WALL_CM
        high = float(np.interp(abs(x), upper[:, 0], upper[:, 1])) + HOOP_WALL_CM
        yield _Strand(True, float(x), low, high, gap / 2)
    middle, half = (top + bottom) / 2, CROSSES_REACH * (top - bottom) / 2
    gap = 2 * half / (crosses - 1)
    by_height = rim[::-1]
    for y in np.linspace(middle - half, middle + half, crosses):
        wide = float(np.interp(y, by_height[:, 1], by_height[:, 0])) + HOOP_WALL_CM
        yield _Strand(False, float(y), -wide, wide, gap / 2)
