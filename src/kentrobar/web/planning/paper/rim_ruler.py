"""The rim ruler of a plan at true size: a strip of paper to wrap round the hoop or a paddle's edge."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

from kentrobar.core.bench.cut_list import as_cut
from kentrobar.core.bench.rim_ruler import OnRim, blocked_on, hours, strips_on
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.units import CM_PER_IN
from kentrobar.web.kit.numbers import Units

LONGEST_MM = 170.0  # of a part: fits both papers between their margins
NEAR_CUT_MM = 3.0  # half the width of a label
MM_PER_IN = 10 * CM_PER_IN
CHANNEL = "channel under the bumper"


class Mark(NamedTuple):
    """A line across the ruler, mm from the start of its part, its text and how that stands beside it."""

    x: float
    text: str
    anchor: str


class Block(NamedTuple):
    """A stretch of a part, mm from its start, and what lies there."""

    x: float
    width: float
    name: str

    @property
    def middle(self) -> float:
        return self.x + self.width / 2


@dataclass(frozen=True)
class RulerPart:
    """One part of a ruler from ``start_mm``, which counts from the middle of the tip, negative on the left."""

    start_mm: float
    length_mm: float
    ticks: list[Mark]
    hours: list[Mark]
    blocked: list[Block]
    strips: list[Block]


@dataclass(frozen=True)
class RimRuler:
    """The ruler of one face; ``front_below``: its lower edge is toward the front of the frame."""

    face: str
    front_below: bool
    blocked: list[str]
    parts: list[RulerPart]


def rim_rulers(plan: PlanState, shelf: Shelf, units: Units, *, usual: bool = False) -> list[RimRuler]:
    """A ruler for each face that carries tape; ``usual``: where none does, for the usual face."""
    strips = [
        (each.name, strip)
        for each in as_cut(plan, shelf)
        if (strip := each.piece.as_strip) is not None and not strip.removed
    ]
    laid = {face: strips_on(strips, plan.outline, face) for face in plan.outline.faces}
    faces = [face for face, found in laid.items() if found] or [plan.outline.usual_face] * usual
    return [_ruler(plan, face, laid[face], units) for face in faces]


def _ruler(plan: PlanState, face: Face, strips: list[OnRim], units: Units) -> RimRuler:
    line = plan.outline.rim(face)
    blocked = blocked_on(plan.baseline.circumstances, plan.outline, face)
    clock = hours(line)
    return RimRuler(
        _named(face, plan.outline),
        face is not Face.INNER,
        list(dict.fromkeys(each.name for each in blocked)),
        [
            RulerPart(
                start,
                length,
                _ticks(start, length, units.ruler == "in"),
                [
                    _mark(x, text, length)
                    for at, text in clock
                    if -1e-6 <= (x := 10 * at - start) <= length + 1e-6
                ],
                _blocks(blocked, start, length),
                _blocks(strips, start, length),
            )
            for start, length in parts_of(10 * line.half_length)
        ],
    )


def _named(face: Face, outline: Outline) -> str:
    return CHANNEL if face is Face.BUMPER else outline.face_name(face)


def parts_of(half_mm: float) -> list[tuple[float, float]]:
    """Start and length of equal parts that fit on paper; an odd number, so that none is joined at the tip."""
    count = 2 * math.ceil(half_mm / LONGEST_MM - 0.5) + 1
    length = 2 * half_mm / count
    return [(i * length - half_mm, length) for i in range(count)]


def _ticks(start: float, length: float, inches: bool) -> list[Mark]:
    """Every 5 mm with a number every 10 mm, or every eighth of an inch with a number every inch."""
    step, labelled = (MM_PER_IN / 8, 8) if inches else (5.0, 2)
    first, last = math.ceil(start / step - 1e-9), math.floor((start + length) / step + 1e-9)
    numbers = {i: str(abs(i) // labelled if inches else abs(5 * i)) for i in range(first, last + 1)}
    return [_mark(i * step - start, "" if i % labelled else text, length) for i, text in numbers.items()]


def _mark(x: float, text: str, length: float) -> Mark:
    """A mark whose text stays on the paper where it stands near a cut."""
    near_start, near_end = x < NEAR_CUT_MM, x > length - NEAR_CUT_MM
    return Mark(x, text, "start" if near_start else "end" if near_end else "middle")


def _blocks(found: Sequence[OnRim], start: float, length: float) -> list[Block]:
    """What of each stretch lies on a part."""
    blocks = []
    for each in found:
        first, last = max(10 * each.start - start, 0.0), min(10 * each.end - start, length)
        if last - first > 1e-3:
            blocks.append(Block(first, last - first, each.name))
    return blocks
