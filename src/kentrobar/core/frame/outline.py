"""The outline of a racket or a paddle, made from its dimensions.

The hoop of a racket is the closed curve

    x = a·(sin φ + c·sin 3φ)/(1 - c),   y = b·(cos φ - c·cos 3φ)/(1 - c)

an ellipse for c = 0 and fuller for c > 0, with the area πab(1 - 3c²)/(1 - c)²; c is what makes
the given head size come true. A paddle is made of straight lines, a round corner and an elliptic
shoulder.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from types import MappingProxyType
from typing import Final

import numpy as np

from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.anatomy import (
    FULLNESS_RANGE,
    HANDLE_RADIUS_CM,
    HEAD_ASPECT,
    HOOP_FULLNESS,
    HOOP_WALL_CM,
    PADDLE_GUARD_CM,
)
from kentrobar.core.frame.curves import Run, arc_run, hoop_run, line_run, root, sample
from kentrobar.core.frame.rim import Face, RimLine
from kentrobar.core.quantities.errors import OutlineError
from kentrobar.core.quantities.units import CM2_PER_IN2


@dataclass(frozen=True)
class RacketDimensions:
    """What a racket's outline is made from. The head is measured over its outside.

    ``head_size_cm2`` is the area inside the hoop; without it a usual fullness is assumed.
    """

    length_cm: float
    head_length_cm: float
    head_width_cm: float
    beam_mm: float = 23.0
    handle_length_cm: float = 18.0
    head_size_cm2: float | None = None

    @property
    def width_cm(self) -> float:
        """Width over all, cm."""
        return self.head_width_cm

    @property
    def depth_cm(self) -> float:
        """Thickness over all, cm."""
        return self.beam_mm / 10


@dataclass(frozen=True)
class PaddleDimensions:
    """What a paddle's outline is made from.

    ``shoulder_cm`` is the height over which the face widens from the handle to its full width.
    """

    length_cm: float
    width_cm: float
    corner_radius_cm: float = 4.0
    shoulder_cm: float = 5.0
    handle_length_cm: float = 13.0
    thickness_mm: float = 16.0

    @property
    def depth_cm(self) -> float:
        """Thickness over all, cm."""
        return self.thickness_mm / 10


Dimensions = RacketDimensions | PaddleDimensions


# The faces of each sport with their names, the usual one first.
FACE_NAMES: Final[Mapping[Sport, Mapping[Face, str]]] = MappingProxyType(
    {
        Sport.TENNIS: {Face.INNER: "inner face", Face.OUTER: "outer face", Face.BUMPER: "under the bumper"},
        Sport.PICKLEBALL: {Face.OUTER: "edge guard", Face.INNER: "face beside the edge"},
    }
)


class Outline:
    """The outline of one frame: its rim on each face, its head or face, its handle."""

    def __init__(
        self,
        sport: Sport,
        dimensions: Dimensions,
        runs: Sequence[Run],
        centre_y: float,
        face_offsets: dict[Face, float],
        face_heights: dict[Face, float],
    ) -> None:
        self.sport = sport
        self.dimensions = dimensions
        self.length_cm = dimensions.length_cm
        self.handle_length_cm = dimensions.handle_length_cm
        self.centre_y_cm = centre_y
        self.face_heights_cm = face_heights
        closed = sport is Sport.TENNIS
        self._lines = {face: RimLine(runs, offset, closed, centre_y) for face, offset in face_offsets.items()}

    @property
    def faces(self) -> tuple[Face, ...]:
        """The faces of the rim that a strip can lie on."""
        return tuple(self._lines)

    @property
    def usual_face(self) -> Face:
        """Where weight is laid on the rim as a rule: inside a racket's hoop, on a paddle's edge."""
        return Face.INNER if self.sport is Sport.TENNIS else Face.OUTER

    def rim(self, face: Face) -> RimLine:
        """The line that a strip on ``face`` follows; raises OutlineError where there is none."""
        try:
            return self._lines[face]
        except KeyError:
            raise OutlineError(
                "A paddle has no bumper guard; put the strip on the edge (outer) or on the face "
                "beside the edge guard (inner).",
                code="no_such_face",
                field="face",
            ) from None

    def face_name(self, face: Face) -> str:
        """A face as the sport calls it."""
        return FACE_NAMES[self.sport][face]

    @property
    def head_area_cm2(self) -> float:
        """Area inside a racket's hoop, or of a paddle's face, cm² (Gauss's area formula)."""
        face = Face.INNER if self.sport is Sport.TENNIS else Face.OUTER
        line = self.rim(face)
        points = np.array(line.polyline(0.0, line.half_length, spacing=0.01))
        return abs(float(np.trapezoid(points[:, 0], points[:, 1]))) * 2


@lru_cache(maxsize=512)
def outline_of(dimensions: Dimensions) -> Outline:
    """The outline of these dimensions.

    Raises:
        OutlineError: they do not make a frame; ``field`` names the dimension at fault.
    """
    if isinstance(dimensions, RacketDimensions):
        return _racket_outline(dimensions)
    return _paddle_outline(dimensions)


def _require(condition: bool, message: str, field: str) -> None:
    if not condition:
        raise OutlineError(message, code="impossible_outline", field=field)


def _racket_outline(d: RacketDimensions) -> Outline:
    _require(30 <= d.length_cm <= 90, "A racket is 30 to 90 cm long.", "length_cm")
    _require(
        15 <= d.head_length_cm <= 0.75 * d.length_cm,
        f"A head of {d.head_length_cm:.1f} cm does not fit a racket {d.length_cm:.1f} cm long.",
        "head_length_cm",
    )
    _require(
        12 <= d.head_width_cm <= 1.1 * d.head_length_cm,
        f"A head {d.head_width_cm:.1f} cm wide does not fit one {d.head_length_cm:.1f} cm long.",
        "head_width_cm",
    )
    _require(10 <= d.beam_mm <= 45, "A beam is 10 to 45 mm thick.", "beam_mm")
    _require(
        5 <= d.handle_length_cm <= d.length_cm - d.head_length_cm,
        f"A handle of {d.handle_length_cm:.1f} cm reaches into the head.",
        "handle_length_cm",
    )
    a = (d.head_width_cm - HOOP_WALL_CM) / 2
    b = (d.head_length_cm - HOOP_WALL_CM) / 2
    centre_y = d.length_cm - d.head_length_cm / 2
    fullness = HOOP_FULLNESS if d.head_size_cm2 is None else _fullness(a, b, d.head_size_cm2)
    half_wall, beside_strings = HOOP_WALL_CM / 2, d.beam_mm / 10 / 4
    return Outline(
        Sport.TENNIS,
        d,
        [hoop_run(a, b, fullness, centre_y)],
        centre_y,
        # Under the bumper the tape lies in the string channel, a little below the outer face.
        {Face.INNER: -half_wall, Face.OUTER: half_wall, Face.BUMPER: 0.8 * half_wall},
        {Face.INNER: beside_strings, Face.OUTER: beside_strings, Face.BUMPER: 0.0},
    )


def _inner_area(a: float, b: float, c: float) -> float:
    """Area inside the hoop by Steiner's formula for a parallel curve of a convex one."""
    mid_area = math.pi * a * b * (1 - 3 * c**2) / (1 - c) ** 2
    t = np.linspace(0, 1, 401)
    perimeter = 2 * float(np.trapezoid(sample(hoop_run(a, b, c, 0.0), t, 0.0).speed, t))
    d = HOOP_WALL_CM / 2
    return mid_area - perimeter * d + math.pi * d**2


def _fullness(a: float, b: float, head_size_cm2: float) -> float:
    smallest, largest = (_inner_area(a, b, c) for c in FULLNESS_RANGE)
    _require(
        smallest <= head_size_cm2 <= largest,
        f"A head of these outside measures holds {smallest / CM2_PER_IN2:.0f} to "
        f"{largest / CM2_PER_IN2:.0f} in² ({smallest:.0f} to {largest:.0f} cm²); check head size, "
        "head length and head width.",
        "head_size_cm2",
    )
    return root(lambda c: _inner_area(a, b, c) - head_size_cm2, *FULLNESS_RANGE)


def head_from_size(head_size_cm2: float) -> tuple[float, float]:
    """Outside length and width in cm of a usual head of this inside area."""
    _require(200 <= head_size_cm2 <= 1000, "A head is 200 to 1000 cm² (31 to 155 in²).", "head_size_cm2")

    def surplus(width: float) -> float:
        a, b = (width - HOOP_WALL_CM) / 2, (HEAD_ASPECT * width - HOOP_WALL_CM) / 2
        return _inner_area(a, b, HOOP_FULLNESS) - head_size_cm2

    width = root(surplus, 5.0, 60.0)
    return HEAD_ASPECT * width, width


def _paddle_outline(d: PaddleDimensions) -> Outline:
    half_width, face_length = d.width_cm / 2, d.length_cm - d.handle_length_cm
    _require(25 <= d.length_cm <= 65, "A paddle is 25 to 65 cm long.", "length_cm")
    _require(10 <= d.width_cm <= 30, "A paddle is 10 to 30 cm wide.", "width_cm")
    _require(5 <= d.thickness_mm <= 30, "A paddle is 5 to 30 mm thick.", "thickness_mm")
    _require(
        5 <= d.handle_length_cm <= 0.6 * d.length_cm,
        f"A handle of {d.handle_length_cm:.1f} cm does not fit a paddle {d.length_cm:.1f} cm long.",
        "handle_length_cm",
    )
    _require(
        1.0 <= d.corner_radius_cm <= half_width,
        f"The corner radius must be between 1 cm and half the width ({half_width:.1f} cm).",
        "corner_radius_cm",
    )
    _require(
        1.0 <= d.shoulder_cm <= face_length - d.corner_radius_cm,
        f"The shoulder must be between 1 cm and {face_length - d.corner_radius_cm:.1f} cm high, "
        "what the corners leave of the face.",
        "shoulder_cm",
    )
    r, top, shoulder_y = d.corner_radius_cm, d.length_cm, d.handle_length_cm + d.shoulder_cm
    runs = []
    if half_width > r:
        runs.append(line_run((0.0, top), (half_width - r, top)))
    runs.append(arc_run((half_width - r, top - r), (r, r), 0.0, math.pi / 2))
    if top - r > shoulder_y:
        runs.append(line_run((half_width, top - r), (half_width, shoulder_y)))
    shoulder_radii = (half_width - HANDLE_RADIUS_CM, d.shoulder_cm)
    runs.append(arc_run((HANDLE_RADIUS_CM, shoulder_y), shoulder_radii, math.pi / 2, math.pi))
    sharpest = min(r, min(shoulder_radii) ** 2 / max(shoulder_radii))
    guard = min(PADDLE_GUARD_CM, 0.7 * sharpest)
    return Outline(
        Sport.PICKLEBALL,
        d,
        runs,
        (d.handle_length_cm + top) / 2,
        {Face.OUTER: 0.0, Face.INNER: -guard},
        {Face.OUTER: 0.0, Face.INNER: d.thickness_mm / 20},
    )
