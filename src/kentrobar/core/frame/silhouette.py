"""The shapes that make up the drawing of a frame, in cm: x to the right, y from the butt.

A drawing turns them as it likes; here they only lie on the frame's own axes.
"""

from __future__ import annotations

from dataclasses import dataclass

from kentrobar.core.frame.anatomy import HANDLE_RADIUS_CM, SHAFT_WIDTH_CM
from kentrobar.core.frame.outline import Outline, RacketDimensions
from kentrobar.core.frame.rim import Face, RimPoint
from kentrobar.core.frame.sites import shaft_at, shaft_ends

Path = list[RimPoint]
BUTT_FLARE_CM = 0.25
STRING_GAP_CM = 1.15


@dataclass(frozen=True)
class Silhouette:
    """Closed shapes from back to front, and open lines for the strings."""

    body: list[Path]
    opening: Path | None
    handle: Path
    strings: list[Path]


def silhouette_of(outline: Outline) -> Silhouette:
    """The shapes of one frame."""
    rim = outline.rim(Face.OUTER)
    whole = rim.polyline(-rim.half_length, rim.half_length)
    if not isinstance(outline.dimensions, RacketDimensions):
        return Silhouette([whole], None, _handle(outline), [])
    inner = outline.rim(Face.INNER)
    opening = inner.polyline(-inner.half_length, inner.half_length)
    shafts = [_shaft(outline, side) for side in (1, -1)]
    return Silhouette([*shafts, whole], opening, _handle(outline), _strings(outline))


def _handle(outline: Outline) -> Path:
    r, top = HANDLE_RADIUS_CM, outline.handle_length_cm
    flare = r + BUTT_FLARE_CM
    right = [(flare, 0.0), (flare, 1.2), (r, 2.6), (r, top - 0.6), (r - 0.3, top)]
    left = [(-x, y) for x, y in reversed(right)]
    return [RimPoint(x, y) for x, y in right + left]


def _shaft(outline: Outline, side: int) -> Path:
    """One shaft, from the handle to where it runs into the hoop."""
    (_, top), (_, bottom) = shaft_ends(outline)
    heights = [bottom - 0.4 + (top - bottom + 0.4) * i / 24 for i in range(25)]
    middle = [(shaft_at(outline, max(y, bottom)) or 0.0, y) for y in heights]
    half = SHAFT_WIDTH_CM / 2
    outer = [RimPoint(side * (x + half), y) for x, y in middle]
    inner = [RimPoint(side * (x - half), y) for x, y in reversed(middle)]
    return outer + inner


def _strings(outline: Outline) -> list[Path]:
    """Faint mains and crosses: the stretches of an even grid inside the hoop."""
    inner = outline.rim(Face.INNER)
    right = inner.polyline(0.0, inner.half_length, spacing=0.25)
    widest = max(point.x for point in right)
    top, bottom = right[0].y, right[-1].y
    lines = []
    for i in range(int((top - bottom) / STRING_GAP_CM)):
        y = bottom + (i + 0.5) * STRING_GAP_CM
        x = inner.point(inner.at_y(y)).x
        lines.append([RimPoint(-x, y), RimPoint(x, y)])
    for i in range(int(widest / STRING_GAP_CM)):
        x = (i + 0.5) * STRING_GAP_CM
        heights = [point.y for point in right if point.x >= x]
        lines += [[RimPoint(side * x, min(heights)), RimPoint(side * x, max(heights))] for side in (1, -1)]
    return lines


def box(x: float, start: float, end: float, half_width: float) -> Path:
    """A closed box about x, between two distances from the butt, cm."""
    corners = ((-1, start), (1, start), (1, end), (-1, end))
    return [RimPoint(x + side * half_width, y) for side, y in corners]


def wall_between(outline: Outline, start: float, end: float) -> Path:
    """The part of a racket's wall (or a strip beside a paddle's edge) between two arc lengths inside.

    The arc lengths are those of the inner face; both ends lie across the wall.
    """
    inner, outer = outline.rim(Face.INNER), outline.rim(Face.OUTER)
    inside = inner.polyline(start, end)
    steps = [start + (end - start) * i / (len(inside) - 1) for i in range(len(inside))]
    outside = [outer.point(outer.at_clock(inner.clock_at(s))) for s in steps]
    return [*inside, *reversed(outside)]
