"""A photo of a face laid under its drawing: four places of the face, found in the photo, tell the rest.

A flat face seen by a camera without distortion is mapped to the photo by a projective map, whatever the angle
and the distance; four places of which no three lie on a line tell it. Its nine numbers solve eight linear
equations (direct linear transformation; R. Hartley and A. Zisserman, Multiple View Geometry in Computer
Vision). Not in it: how a lens bends straight lines, and how far strings lie behind the rim.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final, NamedTuple

import numpy as np

from kentrobar.core.play.impact import Array
from kentrobar.core.play.sweet_zone import HittingFace
from kentrobar.core.quantities.errors import SpecError

LEAST_TURN: Final = 0.02  # of the photographed quadrangle: three places nearer to a line tell nothing


class PlanePoint(NamedTuple):
    """A place in a plane: of a photo in its pixels, y down; of a face in cm, or in units of a drawing."""

    x: float
    y: float


def corners_of(face: HittingFace) -> tuple[PlanePoint, ...]:
    """The places of a face to be found in a photo, in cm: top, right, bottom, left.

    Where its sides are straight, their middle.
    """
    half = float(face.half_width_cm.max())
    y = float(face.y_cm[face.half_width_cm > half - 1e-6].mean())
    top, bottom = float(face.y_cm[-1]), float(face.y_cm[0])
    return PlanePoint(0.0, top), PlanePoint(half, y), PlanePoint(0.0, bottom), PlanePoint(-half, y)


class Straightened(NamedTuple):
    """The projective map from a photo to a plane, as a matrix of three rows."""

    matrix: Array

    def of(self, point: PlanePoint) -> PlanePoint:
        """Where a place of the photo lies in the plane."""
        x, y, w = self.matrix @ np.array([*point, 1.0])
        return PlanePoint(float(x / w), float(y / w))

    @property
    def css(self) -> tuple[float, ...]:
        """The sixteen numbers of a transformation of the plane, column by column."""
        (a, b, c), (d, e, f), (g, h, i) = (self.matrix / self.matrix[2, 2]).tolist()
        return a, d, 0, g, b, e, 0, h, 0, 0, 1, 0, c, f, 0, i


def straighten(photo: Sequence[PlanePoint], plane: Sequence[PlanePoint]) -> Straightened:
    """The map that brings four places of a photo onto four of a plane, both in the same order round.

    Raises:
        SpecError: three of them lie on a line, or they were tapped crosswise or the other way round.
    """
    _require_round(photo)
    rows, known = [], []
    for (x, y), (u, v) in zip(photo, plane, strict=True):
        rows += [[x, y, 1, 0, 0, 0, -u * x, -u * y], [0, 0, 0, x, y, 1, -v * x, -v * y]]
        known += [u, v]
    solved = np.linalg.solve(np.array(rows, dtype=float), np.array(known, dtype=float))
    return Straightened(np.append(solved, 1.0).reshape(3, 3))


def _require_round(photo: Sequence[PlanePoint]) -> None:
    """Refuse four places of a photo that are no convex quadrangle in their order, clockwise as it is seen."""
    points = np.array(photo, dtype=float)
    size = max(np.ptp(points, axis=0).prod(), 1e-12)
    turns = [_turn(*points[list(three)]) / size for three in ((0, 1, 2), (1, 2, 3), (2, 3, 0), (3, 0, 1))]
    if min(abs(turn) for turn in turns) < LEAST_TURN:  # all threes there are of four places
        raise SpecError(
            "Three of the four places lie on a line; tap top, right, bottom and left of the face once more.",
            code="on_a_line",
            field="taps",
        )
    if len({turn > 0 for turn in turns}) > 1:
        raise SpecError(
            "The four places were tapped crosswise; go round: top, right, bottom, left.",
            code="crosswise",
            field="taps",
        )
    if turns[0] < 0:  # y is down
        raise SpecError(
            "Right and left are exchanged: tap the right side of the picture second. Turn a mirrored picture over "
            "first.",
            code="mirrored",
            field="taps",
        )


def _turn(a: Array, b: Array, c: Array) -> float:
    """Twice the area of a triangle, positive one way round."""
    return float((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]))
