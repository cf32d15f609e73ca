"""Moving a piece by hand: along the rim or the handle, longer, heavier, mirrored.

Every function returns a new piece; a move that would leave the frame stops at its end.
"""

from __future__ import annotations

import math
from dataclasses import replace
from enum import StrEnum
from functools import lru_cache

from kentrobar.core.errors import PieceError
from kentrobar.core.estimates import Estimate
from kentrobar.core.outline import CLOCK_MINUTES, Face, Outline, RimLine, RimPoint
from kentrobar.core.pieces import ClockPlace, Piece, Plug, PointPiece, RimStrip, Sleeve, StringBed
from kentrobar.core.sites import shaft_at

SHORTEST_STRIP_CM = 0.5
LIGHTEST_G = 0.1
LENGTH_STEP_CM = 0.1
MASS_STEP_G = 0.1
CLOCK_DECIMALS = 4  # 0.0001 min of the clock is below 1 µm on any rim


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


class Toward(StrEnum):
    """A direction on the frame as it lies: along it, or across it (its own left and right)."""

    TIP = "tip"
    BUTT = "butt"
    LEFT = "left"
    RIGHT = "right"


_DIRECTIONS = {  # (x, y)
    Toward.TIP: (0.0, 1.0),
    Toward.BUTT: (0.0, -1.0),
    Toward.LEFT: (-1.0, 0.0),
    Toward.RIGHT: (1.0, 0.0),
}
_ACROSS = 1e-6  # below this cosine a direction lies across the rim and moves nothing
ON_RIM_CM = 0.8  # how near the rim a compact piece counts as lying on it


def nudged(piece: Piece, outline: Outline, toward: Toward, by_cm: float) -> Piece:
    """The piece ``by_cm`` (≥ 0) farther toward one side, along the rim, a shaft or the handle.

    A direction that lies across the line it can follow moves nothing.
    """
    if isinstance(piece, RimStrip):
        line = outline.rim(piece.face)
        s = line.wrap(piece.at.arc_length(line))
        return laid_at(piece, outline, _nudged_along(line, s, toward, by_cm))
    if isinstance(piece, StringBed):
        return piece
    along = by_cm * _DIRECTIONS[toward][1]
    if not isinstance(piece, PointPiece):
        return _slid(piece, outline, (piece.from_cm + piece.to_cm) / 2 + along)
    line = outline.rim(Face.OUTER)
    s, distance = nearest_on_rim(outline, Face.OUTER, piece.x_cm, piece.y_cm)
    if distance <= ON_RIM_CM:
        return _at_rim_point(piece, line.point(_nudged_along(line, s, toward, by_cm)))
    return _on_shaft_or_axis(piece, outline, piece.y_cm + along)


def _nudged_along(line: RimLine, s: float, toward: Toward, by_cm: float) -> float:
    """Arc length after moving in a direction; stops where the line turns away from it."""
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


def laid_at(piece: RimStrip, outline: Outline, s: float) -> RimStrip:
    """The strip centred at arc length ``s``, pushed back where an open rim would end."""
    line = outline.rim(piece.face)
    if line.closed:
        return replace(piece, at=clock_place(line, s))
    room = line.half_length - piece.length_cm.value / 2
    if room < 0:
        return replace(piece, at=clock_place(line, 0.0))
    # A hair's breadth inside, so that rounding the clock never leaves the rim.
    return replace(piece, at=clock_place(line, _within(s, -room + 1e-4, room - 1e-4)))


GAP_AT_TIP_CM = 3.0  # a pair nearer to tip or bridge is told by its gap from the centre line


def cut_to(strip: RimStrip, outline: Outline, start: float, end: float) -> RimStrip:
    """The part of a strip, or the strip moved, from arc length ``start`` to ``end`` (mm steps)."""
    length = round(end - start, 2)
    sized = replace(strip, length_cm=strip.length_cm._replace(value=length), gap_cm=0.0)
    if isinstance(strip.mass_g, Estimate):
        share = length / strip.length_cm.value
        sized = replace(sized, mass_g=Estimate(strip.mass_g.value * share, strip.mass_g.u))
    line = outline.rim(strip.face)
    if strip.mirrored and 0 <= start < GAP_AT_TIP_CM:
        return replace(sized, at=ClockPlace(0.0), gap_cm=round(start, 2))
    if strip.mirrored and line.closed and 0 <= line.half_length - end < GAP_AT_TIP_CM:
        gap = round(line.half_length - end, 2)
        return replace(sized, at=ClockPlace(CLOCK_MINUTES / 2), gap_cm=gap)
    return laid_at(sized, outline, (start + end) / 2)


def divided(strip: RimStrip, outline: Outline, parts: int) -> list[RimStrip]:
    """A strip cut into equal parts that lie side by side where it lay.

    Raises:
        PieceError: no whole number of parts, or parts too short to hold.
    """
    length = strip.length_cm.value / max(parts, 1)
    if parts < 2 or length < SHORTEST_STRIP_CM:
        raise PieceError(
            f"A strip is divided into 2 or more parts of at least {SHORTEST_STRIP_CM:g} cm each.",
            code="bad_division",
            field="parts",
        )
    start, _ = strip.stretch(outline.rim(strip.face))
    return [
        cut_to(strip, outline, start + i * length, start + (i + 1) * length) for i in range(parts)
    ]


def dragged(piece: Piece, outline: Outline, x_cm: float, y_cm: float) -> Piece:
    """The piece where a hand at (x, y) puts it: the nearest place it can lie at."""
    if isinstance(piece, RimStrip):
        s, _ = nearest_on_rim(outline, piece.face, x_cm, y_cm)
        return laid_at(piece, outline, s)
    if isinstance(piece, StringBed):
        return piece
    if not isinstance(piece, PointPiece):
        return _slid(piece, outline, y_cm)
    half_distance = shaft_at(outline, y_cm)
    beside_shaft = math.inf if half_distance is None else abs(abs(x_cm) - half_distance)
    s, beside_rim = nearest_on_rim(outline, Face.OUTER, x_cm, y_cm)
    if y_cm > outline.handle_length_cm and beside_rim <= beside_shaft:
        return _at_rim_point(piece, outline.rim(Face.OUTER).point(s))
    x = math.copysign(half_distance, x_cm) if half_distance is not None else piece.x_cm
    return _on_shaft_or_axis(replace(piece, x_cm=x), outline, y_cm)


def _at_rim_point(piece: PointPiece, point: RimPoint) -> PointPiece:
    return replace(piece, x_cm=round(point.x, 2), y_cm=round(point.y, 2))


def _on_shaft_or_axis(piece: PointPiece, outline: Outline, y_cm: float) -> PointPiece:
    """A piece on the shafts follows them; below them it lies on the long axis."""
    y = round(_within(y_cm, 0.0, outline.length_cm), 2)
    half_distance = shaft_at(outline, y)
    if y <= outline.handle_length_cm:
        return replace(piece, y_cm=y, x_cm=0.0)
    if half_distance is None or not piece.x_cm:
        return replace(piece, y_cm=y)
    return replace(piece, y_cm=y, x_cm=round(math.copysign(half_distance, piece.x_cm), 2))


def grown(piece: Piece, outline: Outline, steps: int) -> Piece:
    """The piece longer by so many steps of 1 mm (a strip) or heavier by so many of 0.1 g."""
    if isinstance(piece, RimStrip) and isinstance(piece.g_per_cm, Estimate):
        longest = outline.rim(piece.face).length / (2 if piece.mirrored else 1)
        length = _within(piece.length_cm.value + steps * LENGTH_STEP_CM, SHORTEST_STRIP_CM, longest)
        return replace(piece, length_cm=piece.length_cm._replace(value=round(length, 2)))
    old = piece.mass_g
    assert isinstance(old, Estimate)  # noqa: S101 - held by the pieces themselves
    heavier = old._replace(value=round(max(old.value + steps * MASS_STEP_G, LIGHTEST_G), 2))
    if isinstance(piece, RimStrip | PointPiece | StringBed):
        return replace(piece, mass_g=heavier)
    factor = heavier.value / old.value  # of the same stuff: the plug or sleeve grows in length
    if isinstance(piece, Sleeve):
        return replace(piece, mass_g=heavier)
    length = (piece.to_cm - piece.from_cm) * factor
    return replace(piece, mass_g=heavier, to_cm=round(piece.from_cm + length, 2))


def mirror_toggled(piece: Piece) -> Piece:
    """The piece on both sides instead of one, or the other way round."""
    if isinstance(piece, RimStrip | PointPiece):
        return replace(piece, mirrored=not piece.mirrored)
    return piece


def _slid(piece: Piece, outline: Outline, centre_cm: float) -> Piece:
    assert isinstance(piece, Sleeve | Plug)  # noqa: S101
    half = (piece.to_cm - piece.from_cm) / 2
    centre = _within(centre_cm, half, max(outline.handle_length_cm - half, half))
    start = round(centre - half, 2)
    return replace(piece, from_cm=start, to_cm=round(start + 2 * half, 2))


def _within(value: float, low: float, high: float) -> float:
    return min(max(value, low), high)
