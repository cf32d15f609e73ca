"""The rim of a frame as a curve: clock positions, y, arc length and moments along it.

A frame is even from left to right, so only the right half of its rim is kept: it starts at the
tip (arc length s = 0) and runs clockwise, down the right side. For each face that tape can lie on
(inner, outer, under the bumper) the rim's mid-line is shifted along its normal by that face's
offset d; with curvature κ (negative on a convex rim run clockwise) the shifted line has the speed
(1 - κd) times that of the mid-line.

Along such a line ``RimLine`` keeps ∫y, ∫y², ∫x, ∫x² ds as quintic Hermite polynomials between
knots about 2 mm apart: value, slope and curvature at the knots are exact (Gauss-Legendre
quadrature between them), so the integral over any stretch is two look-ups and agrees with fine
quadrature to better than 1e-9.

The hoop of a racket is the closed curve

    x = a·(sin φ + c·sin 3φ)/(1 - c),   y = b·(cos φ - c·cos 3φ)/(1 - c)

an ellipse for c = 0 and fuller for c > 0, with the area πab(1 - 3c²)/(1 - c)²; c is what makes
the given head size come true. A paddle is made of straight lines, a round corner and an elliptic
shoulder.
"""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from kentrobar.core.errors import OutlineError
from kentrobar.core.units import CM2_PER_IN2

Array = NDArray[np.float64]

HOOP_WALL_CM: Final = 1.1  # radial thickness of a usual hoop; the offsets of its faces follow
PADDLE_GUARD_CM: Final = 0.8  # how far an edge guard reaches over the face
HANDLE_RADIUS_CM: Final = 1.6  # half the width of a middle grip size
HOOP_FULLNESS: Final = 0.035  # c of a usual hoop, used where no head size is given
FULLNESS_RANGE: Final = (-0.06, 0.1)  # beyond 1/9 the rim would be hollow at 3:00
HEAD_ASPECT: Final = 1.31  # length : width of a usual head, where only its size is given
CLOCK_MINUTES: Final = 720.0
KNOT_SPACING_CM: Final = 0.2
_NODES, _WEIGHTS = np.polynomial.legendre.leggauss(8)


class Sport(StrEnum):
    TENNIS = "tennis"
    PICKLEBALL = "pickleball"


class Face(StrEnum):
    """Where on the rim a strip lies."""

    INNER = "inner"
    OUTER = "outer"
    BUMPER = "bumper"


class RimPoint(NamedTuple):
    """A point of a rim line, cm: x to the right, y from the butt."""

    x: float
    y: float


class Sums(NamedTuple):
    """Integrals along a stretch of a rim line: ∫ds, ∫y ds, ∫y² ds, ∫x² ds, ∫x ds (cm … cm³)."""

    length: float
    y: float
    yy: float
    xx: float
    x: float


# -- dimensions ---------------------------------------------------------------------


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


Dimensions = RacketDimensions | PaddleDimensions


# -- curves -------------------------------------------------------------------------


class _Run(NamedTuple):
    """A smooth stretch of the mid-line: position and its two derivatives by t in [0, 1]."""

    position: Callable[[Array], tuple[Array, Array]]
    first: Callable[[Array], tuple[Array, Array]]
    second: Callable[[Array], tuple[Array, Array]]


def _hoop_run(a: float, b: float, c: float, centre_y: float) -> _Run:
    k = math.pi
    a, b = a / (1 - c), b / (1 - c)

    def position(t: Array) -> tuple[Array, Array]:
        p = k * t
        return (
            a * (np.sin(p) + c * np.sin(3 * p)),
            centre_y + b * (np.cos(p) - c * np.cos(3 * p)),
        )

    def first(t: Array) -> tuple[Array, Array]:
        p = k * t
        return (
            k * a * (np.cos(p) + 3 * c * np.cos(3 * p)),
            k * b * (-np.sin(p) + 3 * c * np.sin(3 * p)),
        )

    def second(t: Array) -> tuple[Array, Array]:
        p = k * t
        return (
            -(k**2) * a * (np.sin(p) + 9 * c * np.sin(3 * p)),
            k**2 * b * (-np.cos(p) + 9 * c * np.cos(3 * p)),
        )

    return _Run(position, first, second)


def _arc_run(
    centre: tuple[float, float], radii: tuple[float, float], start: float, end: float
) -> _Run:
    """An elliptic arc; angles in radians clockwise from the tip's direction."""
    (cx, cy), (rx, ry), turn = centre, radii, end - start

    def position(t: Array) -> tuple[Array, Array]:
        p = start + turn * t
        return cx + rx * np.sin(p), cy + ry * np.cos(p)

    def first(t: Array) -> tuple[Array, Array]:
        p = start + turn * t
        return turn * rx * np.cos(p), -turn * ry * np.sin(p)

    def second(t: Array) -> tuple[Array, Array]:
        p = start + turn * t
        return -(turn**2) * rx * np.sin(p), -(turn**2) * ry * np.cos(p)

    return _Run(position, first, second)


def _line_run(start: tuple[float, float], end: tuple[float, float]) -> _Run:
    dx, dy = end[0] - start[0], end[1] - start[1]
    return _Run(
        lambda t: (start[0] + dx * t, start[1] + dy * t),
        lambda t: (np.full_like(t, dx), np.full_like(t, dy)),
        lambda t: (np.zeros_like(t), np.zeros_like(t)),
    )


class _Samples(NamedTuple):
    """A shifted line at given t: position, unit tangent, curvature, speed ds/dt."""

    x: Array
    y: Array
    tx: Array
    ty: Array
    curvature: Array
    speed: Array


def _sample(run: _Run, t: Array, offset: float) -> _Samples:
    (x, y), (dx, dy), (ddx, ddy) = run.position(t), run.first(t), run.second(t)
    speed = np.hypot(dx, dy)
    tx, ty = dx / speed, dy / speed
    curvature = (dx * ddy - dy * ddx) / speed**3
    stretch = 1 - curvature * offset
    if np.any(stretch <= 0.02):
        raise OutlineError(
            "The rim bends more sharply than tape on this face can follow; "
            "enlarge the corner radius or the shoulder.",
            code="too_sharp",
            field="corner_radius_cm",
        )
    return _Samples(x - offset * ty, y + offset * tx, tx, ty, curvature / stretch, speed * stretch)


def _knots(run: _Run, offset: float) -> tuple[Array, Array, Array]:
    """Arc length, and value/slope/curvature of the six kept functions at the knots of a run.

    Returns arrays of shape (n,), (3, 6, n) with the functions (∫y, ∫y², ∫x², ∫x, x, y) by arc
    length counted from the run's own start, and the total (5,) of s and the four integrals.
    """
    rough = _sample(run, np.linspace(0, 1, 33), offset).speed.mean()
    count = max(4, math.ceil(rough / KNOT_SPACING_CM))
    t = np.linspace(0, 1, count + 1)
    half = 0.5 / count
    nodes = (t[:-1] + half)[:, None] + half * _NODES
    inside = _sample(run, nodes.ravel(), offset)
    integrands = np.array([np.ones_like(inside.x), inside.y, inside.y**2, inside.x**2, inside.x])
    steps = ((integrands * inside.speed).reshape(5, count, -1) * (_WEIGHTS * half)).sum(axis=2)
    sums = np.concatenate([np.zeros((5, 1)), np.cumsum(steps, axis=1)], axis=1)
    at = _sample(run, t, offset)
    x, y, tx, ty, bend = at.x, at.y, at.tx, at.ty, at.curvature
    values = np.array([*sums[1:], x, y])
    slopes = np.array([y, y**2, x**2, x, tx, ty])
    curvatures = np.array([ty, 2 * y * ty, 2 * x * tx, tx, -bend * ty, bend * tx])
    return sums[0], np.array([values, slopes, curvatures]), sums[:, -1]


def _hermite(arc: Array, data: Array) -> Array:
    """Quintic coefficients (6 functions, intervals, 6 powers of u in [0, 1])."""
    h = np.diff(arc)
    value, slope, bend = data[0], data[1], data[2]
    rise = np.diff(value, axis=1)
    d0, d1 = slope[:, :-1] * h, slope[:, 1:] * h
    e0, e1 = bend[:, :-1] * h**2, bend[:, 1:] * h**2
    return np.stack(
        [
            value[:, :-1],
            d0,
            e0 / 2,
            10 * rise - 6 * d0 - 4 * d1 - 1.5 * e0 + 0.5 * e1,
            -15 * rise + 8 * d0 + 7 * d1 + 1.5 * e0 - e1,
            6 * rise - 3 * d0 - 3 * d1 - 0.5 * e0 + 0.5 * e1,
        ],
        axis=2,
    )


class RimLine:
    """The line that a strip on one face follows.

    Arc length ``s`` (cm) is 0 at the tip, grows clockwise and is negative on the left side. On a
    closed rim it repeats after ``2 * half_length``; an open one ends at ``±half_length``.
    """

    def __init__(self, runs: Sequence[_Run], offset: float, closed: bool, centre_y: float) -> None:
        self.closed = closed
        self.centre_y = centre_y
        starts: list[float] = []
        widths: list[float] = []
        coefficients: list[list[list[float]]] = []
        total = np.zeros(5)
        for run in runs:
            arc, data, run_total = _knots(run, offset)
            data[0, :4] += total[1:, None]
            starts += (arc[:-1] + total[0]).tolist()
            widths += np.diff(arc).tolist()
            coefficients += _hermite(arc, data).transpose(1, 0, 2).tolist()
            total += run_total
        self.half_length = float(total[0])
        self._starts, self._widths, self._coefficients = starts, widths, coefficients
        self._whole = Sums(*map(float, total))
        self._angles = [self._angle_at(s) for s in starts]
        self._end_angle = self._angle_at(self.half_length)

    @property
    def length(self) -> float:
        """Length of the whole line, both sides, cm."""
        return 2 * self.half_length

    # -- look-ups -------------------------------------------------------------------

    def _locate(self, s: float) -> tuple[list[list[float]], float]:
        index = max(bisect_right(self._starts, s) - 1, 0)
        return self._coefficients[index], (s - self._starts[index]) / self._widths[index]

    def point(self, s: float) -> RimPoint:
        """The point at arc length ``s``; raises OutlineError beyond the end of an open rim."""
        s = self.wrap(s)
        (*_, cx, cy), u = self._locate(abs(s))
        return RimPoint(math.copysign(_horner(cx, u), s), _horner(cy, u))

    def wrap(self, s: float) -> float:
        """The same place with ``s`` in [-half_length, half_length]."""
        half = self.half_length
        if -half <= s <= half:
            return s
        if not self.closed:
            if abs(s) < half + 1e-9:
                return math.copysign(half, s)
            raise OutlineError(
                "This place is beyond the end of the rim, where the handle begins.",
                code="beyond_rim",
                field="at",
            )
        return (s + half) % (2 * half) - half

    def sums(self, start: float, end: float) -> Sums:
        """Integrals over the stretch from ``start`` to ``end`` (start ≤ end).

        Raises:
            OutlineError: the stretch is longer than the rim or leaves an open one.
        """
        if end - start > self.length + 1e-9:
            raise OutlineError(
                f"A strip of {end - start:.1f} cm is longer than the rim ({self.length:.1f} cm); "
                "shorten it or use several layers.",
                code="longer_than_rim",
                field="length_cm",
            )
        if not self.closed and (start < -self.half_length - 1e-9 or end > self.half_length + 1e-9):
            raise OutlineError(
                "The strip reaches past the end of the rim into the handle; "
                "shorten it or move it toward the tip.",
                code="beyond_rim",
                field="length_cm",
            )
        y1, yy1, xx1, x1 = self._from_tip(end)
        y0, yy0, xx0, x0 = self._from_tip(start)
        return Sums(end - start, y1 - y0, yy1 - yy0, xx1 - xx0, x1 - x0)

    def _from_tip(self, s: float) -> tuple[float, float, float, float]:
        """Integrals from the tip to ``s``; even integrands make them odd in s, x makes it even."""
        turns = 0
        if self.closed and abs(s) > self.half_length:
            turns = math.floor((s + self.half_length) / (2 * self.half_length))
            s -= 2 * self.half_length * turns
        (cy, cyy, cxx, cx, _, _), u = self._locate(abs(s))
        y, yy, xx = _horner(cy, u), _horner(cyy, u), _horner(cxx, u)
        if s < 0:
            y, yy, xx = -y, -yy, -xx
        if turns:
            round_trips = 2 * turns
            y += round_trips * self._whole.y
            yy += round_trips * self._whole.yy
            xx += round_trips * self._whole.xx
        return y, yy, xx, _horner(cx, u)

    # -- clock and height -------------------------------------------------------------

    def _angle_at(self, s: float) -> float:
        (*_, cx, cy), u = self._locate(s)
        return math.atan2(_horner(cx, u), _horner(cy, u) - self.centre_y)

    def at_clock(self, minutes: float) -> float:
        """Arc length at a clock position in minutes of the 12-hour face (3:00 is 180).

        Raises:
            OutlineError: an open rim has no such place (the handle is there).
        """
        turn = (minutes + CLOCK_MINUTES / 2) % CLOCK_MINUTES - CLOCK_MINUTES / 2
        angle = abs(turn) * (2 * math.pi / CLOCK_MINUTES)
        s = self._at_angle(angle)
        if s > self.half_length + 1e-6:
            raise OutlineError(
                f"There is no rim at {clock_text(minutes)}: the handle is there.",
                code="no_rim_there",
                field="at",
            )
        s = min(max(s, 0.0), self.half_length)
        return -s if turn < 0 else s

    def _at_angle(self, angle: float) -> float:
        """Arc length where the ray at ``angle`` from the tip's direction meets the rim."""
        index = min(bisect_right(self._angles, angle), len(self._starts)) - 1
        begin, width = self._angles[index], self._widths[index]
        end = self._angles[index + 1] if index + 1 < len(self._angles) else self._end_angle
        u = (angle - begin) / (end - begin)
        *_, cx, cy = self._coefficients[index]
        sine, cosine = math.sin(angle), math.cos(angle)
        for _ in range(20):  # Newton's method; two rounds are usual
            miss = _horner(cx, u) * cosine - (_horner(cy, u) - self.centre_y) * sine
            step = miss / (_slope(cx, u) * cosine - _slope(cy, u) * sine)
            u -= step
            if abs(step) < 1e-7:  # it converges quadratically: what is left is below 1e-13
                break
        return self._starts[index] + u * width

    def clock_at(self, s: float) -> float:
        """The clock position in minutes (0 ≤ … < 720) at arc length ``s``."""
        s = self.wrap(s)
        minutes = self._angle_at(abs(s)) * CLOCK_MINUTES / (2 * math.pi)
        return (-minutes if s < 0 else minutes) % CLOCK_MINUTES

    def at_y(self, y_cm: float) -> float:
        """Arc length on the right side at distance ``y_cm`` from the butt.

        Raises:
            OutlineError: the rim does not reach there.
        """
        top, bottom = self.point(0.0).y, self.point(self.half_length).y
        if not bottom - 1e-9 <= y_cm <= top + 1e-9:
            raise OutlineError(
                f"{y_cm:.1f} cm from the butt is not on this rim, which reaches from "
                f"{bottom:.1f} to {top:.1f} cm.",
                code="not_on_rim",
                field="at",
            )
        if y_cm >= top:
            return 0.0
        if y_cm <= bottom:
            return self.half_length
        return _root(lambda s: y_cm - self.point(s).y, 0.0, self.half_length)

    def polyline(self, start: float, end: float, spacing: float = 0.4) -> list[RimPoint]:
        """Points along the line from ``start`` to ``end``, about ``spacing`` cm apart."""
        count = max(2, math.ceil(abs(end - start) / spacing) + 1)
        return [self.point(start + (end - start) * i / (count - 1)) for i in range(count)]


def _horner(c: Sequence[float], u: float) -> float:
    return ((((c[5] * u + c[4]) * u + c[3]) * u + c[2]) * u + c[1]) * u + c[0]


def _root(rising: Callable[[float], float], low: float, high: float) -> float:
    """Where a rising function crosses 0, by bisection to the last bits: no start-up, no surprise."""
    while True:
        middle = (low + high) / 2
        if not low < middle < high:
            return middle
        if rising(middle) < 0:
            low = middle
        else:
            high = middle


def _slope(c: Sequence[float], u: float) -> float:
    return (((5 * c[5] * u + 4 * c[4]) * u + 3 * c[3]) * u + 2 * c[2]) * u + c[1]


# -- clock text ---------------------------------------------------------------------


def parse_clock(text: str) -> float:
    """Minutes of the 12-hour face from "3:00", "10:30" or "2:31.25".

    Raises:
        OutlineError: not a clock position.
    """
    hours, colon, minutes = text.strip().partition(":")
    try:
        hour, minute = int(hours), float(minutes or "0") if colon else 0.0
    except ValueError:
        hour, minute = -1, 0.0
    if not (0 <= hour <= 12 and 0 <= minute < 60):
        raise OutlineError(
            f"“{text[:20]}” is not a clock position; write it as 3:00 or 10:30.",
            code="not_a_clock",
            field="at",
        )
    return (hour % 12) * 60.0 + minute


def clock_text(minutes: float, decimals: int = 0) -> str:
    """A clock position as a person reads it: 12:00 at the tip, 3:00 to the right."""
    shown = round(minutes % CLOCK_MINUTES, decimals) % CLOCK_MINUTES
    hour, minute = divmod(shown, 60)
    width = 2 if decimals == 0 else decimals + 3
    return f"{int(hour) or 12}:{minute:0{width}.{decimals}f}"


# -- outlines -----------------------------------------------------------------------


class Outline:
    """The outline of one frame: its rim on each face, its head or face, its handle."""

    def __init__(
        self,
        sport: Sport,
        dimensions: Dimensions,
        runs: Sequence[_Run],
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
        self._lines = {
            face: RimLine(runs, offset, closed, centre_y) for face, offset in face_offsets.items()
        }

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
                "A paddle has no bumper guard; lay the strip on the edge (outer) or on the face "
                "beside the edge guard (inner).",
                code="no_such_face",
                field="face",
            ) from None

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
        [_hoop_run(a, b, fullness, centre_y)],
        centre_y,
        # Under the bumper the tape lies in the string channel, a little below the outer face.
        {Face.INNER: -half_wall, Face.OUTER: half_wall, Face.BUMPER: 0.8 * half_wall},
        {Face.INNER: beside_strings, Face.OUTER: beside_strings, Face.BUMPER: 0.0},
    )


def _inner_area(a: float, b: float, c: float) -> float:
    """Area inside the hoop by Steiner's formula for a parallel curve of a convex one."""
    mid_area = math.pi * a * b * (1 - 3 * c**2) / (1 - c) ** 2
    t = np.linspace(0, 1, 401)
    perimeter = 2 * float(np.trapezoid(_sample(_hoop_run(a, b, c, 0.0), t, 0.0).speed, t))
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
    return _root(lambda c: _inner_area(a, b, c) - head_size_cm2, *FULLNESS_RANGE)


def head_from_size(head_size_cm2: float) -> tuple[float, float]:
    """Outside length and width in cm of a usual head of this inside area."""
    _require(
        200 <= head_size_cm2 <= 1000, "A head is 200 to 1000 cm² (31 to 155 in²).", "head_size_cm2"
    )

    def surplus(width: float) -> float:
        a, b = (width - HOOP_WALL_CM) / 2, (HEAD_ASPECT * width - HOOP_WALL_CM) / 2
        return _inner_area(a, b, HOOP_FULLNESS) - head_size_cm2

    width = _root(surplus, 5.0, 60.0)
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
        runs.append(_line_run((0.0, top), (half_width - r, top)))
    runs.append(_arc_run((half_width - r, top - r), (r, r), 0.0, math.pi / 2))
    if top - r > shoulder_y:
        runs.append(_line_run((half_width, top - r), (half_width, shoulder_y)))
    shoulder_radii = (half_width - HANDLE_RADIUS_CM, d.shoulder_cm)
    runs.append(_arc_run((HANDLE_RADIUS_CM, shoulder_y), shoulder_radii, math.pi / 2, math.pi))
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
