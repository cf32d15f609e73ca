"""Stretches of a rim where nothing can be laid: tie-off holes and the like, as a person names them."""

from __future__ import annotations

import re
from typing import NamedTuple

from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.anatomy import HOLE_HALF_CM, MAINS_REACH, USUAL_MAINS
from kentrobar.core.frame.clock import CLOCK_MINUTES, parse_clock
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.errors import KentrobarError, OutlineError
from kentrobar.core.quantities.units import LENGTH, parse_quantity

_HOLE = re.compile(r"^(\d{1,2})\s*([TH])$", re.IGNORECASE)
_HEIGHT = re.compile(r"^\d")


class BlockedStretch(NamedTuple):
    """Part of the rim by clock minutes, ``from_min`` before ``to_min`` clockwise, as named."""

    name: str
    from_min: float
    to_min: float


def parse_blocked(text: str, outline: Outline, mains: int = 0, unit: str = "cm") -> list[BlockedStretch]:
    """Stretches from a list such as "6T, 8H, 1:15-1:45, 57-59 cm, 22 1/2 in".

    A hole is the main's number from the middle with T (throat) or H (head end); a hole or a height
    counts on both sides, a clock position on its own side. A height without a unit is in ``unit``; what
    reaches beyond the tip ends there.

    Raises:
        OutlineError: a part that cannot be read or is not on this rim; it quotes the part and says why.
    """
    found: list[BlockedStretch] = []
    for part in _parts(text):
        try:
            found += _one(part, outline, mains or USUAL_MAINS, unit)
        except KentrobarError as error:
            raise OutlineError(
                f"“{part[:30]}”: {error.message}", code="unknown_place", field="blocked"
            ) from None
    return found


def with_unit(text: str, unit: str) -> str:
    """The list with ``unit`` behind each height that was typed without one, so that it is kept as meant."""
    return ", ".join(
        f"{part} {unit}" if _HEIGHT.match(part) and not re.search(r"[a-z:\"]", part, re.IGNORECASE) else part
        for part in _parts(text)
    )


def _parts(text: str) -> list[str]:
    return [part for part in (piece.strip() for piece in re.split(r"[;]|,(?!\d)", text)) if part]


def _one(part: str, outline: Outline, mains: int, unit: str) -> list[BlockedStretch]:
    hole = _HOLE.match(part)
    if hole:
        return _hole(part, int(hole[1]), hole[2].upper() == "H", outline, mains)
    ends = re.split(r"\s*[-–]\s*", part)
    if ":" in part:
        return [_hours(part, ends, outline)]
    if len(ends) > 2 or not _HEIGHT.match(part):
        raise OutlineError(
            "write a hole such as 6T, a clock position such as 1:30 or 1:15-1:45, or a height such as "
            "57-59 cm.",
            code="unknown_place",
        )
    return _heights(part, ends, outline, unit)


def _hole(name: str, number: int, at_head: bool, outline: Outline, mains: int) -> list[BlockedStretch]:
    if outline.sport is not Sport.TENNIS:
        raise OutlineError("a paddle has no string holes.", code="no_holes")
    if not 1 <= number <= mains // 2:
        raise OutlineError(
            f"with {mains} mains the holes of either side are numbered 1 to {mains // 2} from the middle.",
            code="no_such_hole",
        )
    line = outline.rim(Face.INNER)
    widest = line.point(line.at_clock(180)).x
    x = (number - 0.5) * 2 * MAINS_REACH * widest / (mains - 1)
    low, high = (0.0, line.at_clock(180)) if at_head else (line.at_clock(180), line.half_length)
    for _ in range(50):
        middle = (low + high) / 2
        if (line.point(middle).x < x) == at_head:
            low = middle
        else:
            high = middle
    return _both_sides(name, outline, low - HOLE_HALF_CM, low + HOLE_HALF_CM)


def _hours(name: str, ends: list[str], outline: Outline) -> BlockedStretch:
    first, last = (parse_clock(end) for end in (ends[0], ends[-1]))
    if len(ends) > 1:
        return BlockedStretch(name, first, last)
    s = outline.rim(Face.INNER).at_clock(first)
    return _stretch(name, outline, s - HOLE_HALF_CM, s + HOLE_HALF_CM)


def _heights(name: str, ends: list[str], outline: Outline, unit: str) -> list[BlockedStretch]:
    """Heights from the butt, the unit behind the last counting for both."""
    line = outline.rim(Face.INNER)
    top, bottom = line.point(0.0).y, line.point(line.half_length).y
    last, unit = parse_quantity(ends[-1], LENGTH, unit)
    typed = [LENGTH.to_base(last, unit)]
    if len(ends) > 1:
        typed.append(LENGTH.to_base(*parse_quantity(ends[0], LENGTH, unit)))
    low, high = min(typed), max(typed)
    if high < bottom or low > outline.length_cm:
        raise OutlineError(
            f"the rim reaches from {LENGTH.from_base(bottom, unit):.4g} to "
            f"{LENGTH.from_base(outline.length_cm, unit):.4g} {unit} from the butt.",
            code="not_on_rim",
        )
    upper, lower = (line.at_y(min(max(y, bottom), top)) for y in (high, low))
    if len(ends) == 1:
        upper, lower = upper - HOLE_HALF_CM, lower + HOLE_HALF_CM
    return _both_sides(name, outline, max(upper, 0.0), lower)


def _stretch(name: str, outline: Outline, start: float, end: float) -> BlockedStretch:
    line = outline.rim(Face.INNER)
    return BlockedStretch(name, line.clock_at(start), line.clock_at(end))


def _both_sides(name: str, outline: Outline, start: float, end: float) -> list[BlockedStretch]:
    right = _stretch(name, outline, start, end)
    mirrored = ((CLOCK_MINUTES - m) % CLOCK_MINUTES for m in (right.to_min, right.from_min))
    return [right, BlockedStretch(name, *mirrored)]
