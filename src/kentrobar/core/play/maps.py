"""A map of the face: one measure of a hit over it, with contours at round numbers."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from enum import StrEnum
from itertools import pairwise
from types import MappingProxyType
from typing import Final, NamedTuple, cast

import numpy as np

from kentrobar.core.play.impact import Array, Ball, FreeBody, StrokeSwing
from kentrobar.core.play.sweet_zone import HittingFace

POINTS: Final = 60  # of a map along and across the face
MOST_CONTOURS: Final = 8


class Measure(StrEnum):
    """What a map tells of a hit."""

    BALL_SPEED = "ball_speed"
    REBOUND = "rebound"
    EFFECTIVE_MASS = "effective_mass"


MEASURES: Final[Mapping[Measure, str]] = MappingProxyType(
    {Measure.BALL_SPEED: "ball speed", Measure.REBOUND: "rebound", Measure.EFFECTIVE_MASS: "effective mass"}
)


class FaceMap(NamedTuple):
    """A measure on a grid over the face, ``values[i, j]`` at ``y_cm[i]``, ``x_cm[j]``; NaN nowhere.

    Beyond the rim it goes on, so that contours run up to it; ``on_face`` tells which points count.
    """

    x_cm: Array
    y_cm: Array
    values: Array
    on_face: Array

    @property
    def range(self) -> tuple[float, float]:
        """The least and the greatest value on the face, in the base unit of what the map tells."""
        counted = self.values[self.on_face.astype(bool)]
        return float(counted.min()), float(counted.max())

    def minus(self, other: FaceMap) -> FaceMap:
        """By how much it is more than another map of the same face."""
        return self._replace(values=self.values - other.values)


class Contour(NamedTuple):
    """The lines along which a map has one value, each a row of (x, y) in cm."""

    level: float
    lines: list[Array]


def face_map(measure: Measure, body: FreeBody, ball: Ball, swing: StrokeSwing, face: HittingFace) -> FaceMap:
    """A measure over the face: ball speed in m/s, rebound in per cent, effective mass in g."""
    grid = face_grid(face)
    across, along = np.meshgrid(grid.x_cm, grid.y_cm)
    match measure:
        case Measure.BALL_SPEED:
            values = body.ball_speed_ms(ball, swing, across, along)
        case Measure.REBOUND:
            values = 100 * body.apparent_restitution(ball, across, along)
        case _:
            values = body.effective_mass_g(across, along)
    return grid._replace(values=values)


def face_grid(face: HittingFace) -> FaceMap:
    """The points of a map over a face, its values all 0 yet."""
    widest = float(face.half_width_cm.max())
    x = np.linspace(-widest, widest, POINTS)
    y = np.linspace(face.y_cm[0], face.y_cm[-1], POINTS)
    across, along = np.meshgrid(x, y)
    on_face = np.abs(across) <= np.interp(along, face.y_cm, face.half_width_cm)
    return FaceMap(x, y, np.zeros_like(across), on_face)


def round_levels(low: float, high: float, factor: float = 1.0) -> tuple[list[float], int]:
    """Values between two that are round numbers when told times ``factor``, and their decimals."""
    low, high = low * factor, high * factor
    if not high > low:
        return [], 0
    step = 10.0 ** math.floor(math.log10((high - low) / MOST_CONTOURS))
    step *= next(f for f in (1, 2, 5, 10) if (high - low) / (step * f) <= MOST_CONTOURS)
    decimals = max(0, -math.floor(math.log10(step) + 1e-9))
    first, last = math.ceil(low / step + 1e-9), math.floor(high / step - 1e-9)
    return [i * step / factor for i in range(first, last + 1)], decimals


def contours(of: FaceMap, levels: Sequence[float]) -> Iterator[Contour]:
    """The contour lines of a map at some levels; they run on beyond the rim."""
    # It takes a while to load, which every start of the application would pay.
    from contourpy import contour_generator

    made = contour_generator(of.x_cm, of.y_cm, of.values)
    for level in levels:
        yield Contour(level, [np.asarray(line) for line in made.lines(level)])


def bands(of: FaceMap, levels: Sequence[float]) -> Iterator[tuple[float, float, list[Array]]]:
    """What lies between neighbouring levels, from below the first to above the last.

    Each from where to where, with its outlines in cm; what lies in an even number of them lies outside.
    """
    from contourpy import FillType, contour_generator

    made = contour_generator(of.x_cm, of.y_cm, of.values, fill_type=FillType.OuterOffset)
    ends = [float(of.values.min()) - 1.0, *levels, float(of.values.max()) + 1.0]
    for start, end in pairwise(ends):
        points, offsets = cast("tuple[list[Array], list[Array]]", made.filled(start, end))
        shapes = [
            np.asarray(each[a:b]) for each, at in zip(points, offsets, strict=True) for a, b in pairwise(at)
        ]
        if shapes:
            yield start, end, shapes
