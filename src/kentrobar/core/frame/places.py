"""Places on a rim: by the clock, by their distance from the butt, or where a hand points."""

from __future__ import annotations

import math
from enum import StrEnum
from functools import lru_cache
from typing import Final, NamedTuple

from kentrobar.core.frame.clock import CLOCK_MINUTES, clock_text
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.rim import Face, RimLine, RimPoint

CLOCK_DECIMALS: Final = 4  # 0.0001 min of the clock is below 1 µm on any rim


class Toward(StrEnum):
    """A direction on the frame as it lies: along it, or across it (its own left and right)."""

    TIP = "tip"
    BUTT = "butt"
    LEFT = "left"
    RIGHT = "right"

    @property
    def along(self) -> float:
        """Its part along the frame, positive to the tip."""
        return _DIRECTIONS[self][1]


_DIRECTIONS: Final = {  # (x, y)
    Toward.TIP: (0.0, 1.0),
    Toward.BUTT: (0.0, -1.0),
    Toward.LEFT: (-1.0, 0.0),
    Toward.RIGHT: (1.0, 0.0),
}
_ACROSS: Final = 1e-6  # below this cosine a direction lies across the rim and moves nothing


class RimStretch(NamedTuple):
    """A stretch of a rim line by arc length, ``start`` ≤ ``end``, cm."""

    start: float
    end: float


class ClockPlace(NamedTuple):
    """A place on the rim by clock position, in minutes of the 12-hour face."""

    minutes: float

    def arc_length(self, line: RimLine) -> float:
        """Its distance from the tip along a line of the rim, cm."""
        return line.at_clock(self.minutes)

    def __str__(self) -> str:
        return clock_text(self.minutes)


class HeightPlace(NamedTuple):
    """A place on the right side of the rim by its distance from the butt."""

    y_cm: float

    def arc_length(self, line: RimLine) -> float:
        """Its distance from the tip along a line of the rim, cm."""
        return line.at_y(self.y_cm)

    def __str__(self) -> str:
        return f"{self.y_cm:.1f} cm"


RimPlace = ClockPlace | HeightPlace


def clock_place(line: RimLine, s: float) -> ClockPlace:
    """The place at arc length ``s``, rounded so that it reads the same when typed again."""
    return ClockPlace(round(line.clock_at(s), CLOCK_DECIMALS) % CLOCK_MINUTES)


def nearest_on_rim(outline: Outline, face: Face, x_cm: float, y_cm: float) -> tuple[float, float]:
    """Arc length of the point of the rim nearest to (x, y), and its distance, cm.

    Where two stretches are equally near to a hundredth of a millimetre, either may be the answer.
    """
    line = outline.rim(face)
    samples = _samples(line)
    squares = [(x - x_cm) ** 2 + (y - y_cm) ** 2 for x, y in samples]
    spacing = line.length / (len(samples) - 1)
    best = -line.half_length + spacing * squares.index(min(squares))

    def distance(s: float) -> float:
        point = line.point(s)
        return math.hypot(point.x - x_cm, point.y - y_cm)

    step = spacing
    while step > 1e-4:  # the distance has one minimum within a step of the best sample
        step /= 2
        near = [best - step, best, best + step]
        best = min((s for s in near if line.closed or abs(s) <= line.half_length), key=distance)
    return best, distance(best)


@lru_cache(maxsize=256)
def _samples(line: RimLine) -> list[RimPoint]:
    return line.polyline(-line.half_length, line.half_length, spacing=0.25)


def along_rim(line: RimLine, s: float, toward: Toward, by_cm: float) -> float:
    """Arc length, cm, ``by_cm`` (≥ 0) farther in a direction; it stops where the line turns away from that."""
    before, after = (
        line.point(s - 1e-4 if not _at_start(line, s) else s),
        line.point(s + 1e-4 if not _at_end(line, s) else s),
    )
    dx, dy = after.x - before.x, after.y - before.y
    x, y = _DIRECTIONS[toward]
    cosine = (dx * x + dy * y) / math.hypot(dx, dy)
    if abs(cosine) < _ACROSS:
        return s
    moved = s + math.copysign(by_cm, cosine)
    if toward in (Toward.TIP, Toward.BUTT) and s * moved < 0:
        return 0.0  # over the tip it would come back down the other side
    if toward in (Toward.TIP, Toward.BUTT) and line.closed and abs(moved) > line.half_length:
        return line.half_length
    return moved


def _at_start(line: RimLine, s: float) -> bool:
    return not line.closed and s <= -line.half_length + 1e-3


def _at_end(line: RimLine, s: float) -> bool:
    return not line.closed and s >= line.half_length - 1e-3
