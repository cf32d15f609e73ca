"""Stretches of a rim where nothing can be laid: tie-off holes and the like, as a person names them."""

from __future__ import annotations

import re
from typing import NamedTuple

from kentrobar.core.frame.anatomy import HOLE_HALF_CM, MAINS_REACH, USUAL_MAINS
from kentrobar.core.frame.clock import CLOCK_MINUTES, parse_clock
from kentrobar.core.frame.outline import Outline, Sport
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.errors import KentrobarError, OutlineError

_HOLE = re.compile(r"^(\d{1,2})\s*([TH])$", re.IGNORECASE)
_HEIGHT = re.compile(r"^(\d+(?:[.,]\d+)?)\s*(?:cm)?$")


class BlockedStretch(NamedTuple):
    """Part of the rim by clock minutes, ``from_min`` before ``to_min`` clockwise, as named."""

    name: str
    from_min: float
    to_min: float


def parse_blocked(text: str, outline: Outline, mains: int = 0) -> list[BlockedStretch]:
    """Stretches from a list such as "6T, 8H, 1:15-1:45, 57-59 cm".

    A hole is the main's number from the middle with T (throat) or H (head end); a hole or a height
    counts on both sides, a clock position on its own side.

    Raises:
        OutlineError: a part that cannot be read or is not on this rim; the message quotes it.
    """
    found: list[BlockedStretch] = []
    for part in filter(None, (piece.strip() for piece in re.split(r"[,;]", text))):
        try:
            found += _one(part, outline, mains)
        except (KentrobarError, ValueError):
            raise OutlineError(
                f"“{part[:30]}” is no place on this rim; write a hole such as 6T, a clock position "
                "such as 1:30 or 1:15-1:45, or a height such as 57-59 cm.",
                code="unknown_place",
                field="blocked",
            ) from None
    return found


def _one(part: str, outline: Outline, mains: int) -> list[BlockedStretch]:
    line = outline.rim(Face.INNER)
    hole = _HOLE.match(part)
    if hole:
        if (
            outline.sport is not Sport.TENNIS
            or not 1 <= int(hole[1]) <= (mains or USUAL_MAINS) // 2
        ):
            raise ValueError(part)
        widest = line.point(line.at_clock(180)).x
        x = (int(hole[1]) - 0.5) * 2 * MAINS_REACH * widest / ((mains or USUAL_MAINS) - 1)
        at_head = hole[2].upper() == "H"
        low, high = (0.0, line.at_clock(180)) if at_head else (line.at_clock(180), line.half_length)
        for _ in range(50):
            middle = (low + high) / 2
            if (line.point(middle).x < x) == at_head:
                low = middle
            else:
                high = middle
        return _both_sides(part, outline, low - HOLE_HALF_CM, low + HOLE_HALF_CM)
    ends = re.split(r"\s*[-–]\s*", part)
    if ":" in part:
        first, last = (parse_clock(end) for end in (ends[0], ends[-1]))
        if len(ends) == 1:
            s = line.at_clock(first)
            return [_stretch(part, outline, s - HOLE_HALF_CM, s + HOLE_HALF_CM)]
        return [BlockedStretch(part, first, last)]
    heights = [_HEIGHT.match(end) for end in ends]
    if len(ends) > 2 or not all(heights):
        raise ValueError(part)
    ys = sorted(float(h[1].replace(",", ".")) for h in heights if h)
    upper, lower = line.at_y(ys[-1]), line.at_y(ys[0])
    if len(ends) == 1:
        upper, lower = upper - HOLE_HALF_CM, lower + HOLE_HALF_CM
    return _both_sides(part, outline, upper, lower)


def _stretch(name: str, outline: Outline, start: float, end: float) -> BlockedStretch:
    line = outline.rim(Face.INNER)
    return BlockedStretch(name, line.clock_at(start), line.clock_at(end))


def _both_sides(name: str, outline: Outline, start: float, end: float) -> list[BlockedStretch]:
    right = _stretch(name, outline, start, end)
    mirrored = ((CLOCK_MINUTES - m) % CLOCK_MINUTES for m in (right.to_min, right.from_min))
    return [right, BlockedStretch(name, *mirrored)]
