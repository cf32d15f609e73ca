"""Strips and marks along the rim at their true size, as the bench sheet prints them."""

from __future__ import annotations

import math
from typing import NamedTuple

from kentrobar.core.bench.cut_list import as_cut, sold_strip_cm, strips_of
from kentrobar.core.bench.cutting import ROLL, StripEnd, in_parts, rim_marks
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.units import CM_PER_IN
from kentrobar.web.kit.numbers import Units

SEGMENT_MM = 170.0  # of a true-size strip: fits both papers between their margins
USUAL_WIDTH_MM = 6.35
MARGIN_MM = 1.0  # round a template, for the thickness of its outline
MM_PER_IN = 10 * CM_PER_IN


class Template(NamedTuple):
    """One strip at its true size, in mm; a long one comes in several parts."""

    number: str
    copies: int
    name: str
    width_mm: float
    parts_mm: list[float]

    @property
    def total_cm(self) -> float:
        return sum(self.parts_mm) / 10

    @property
    def boxes(self) -> list[tuple[float, float]]:
        """The length of each part, and that of its drawing with a margin for the outline."""
        return [(part, part + 2 * MARGIN_MM) for part in self.parts_mm]

    @property
    def height(self) -> float:
        return self.width_mm + 2 * MARGIN_MM


def templates(plan: PlanState, shelf: Shelf) -> list[Template]:
    """The strips of a plan as they are cut, each length of a piece once."""
    found = []
    for each, tape, lengths in strips_of(plan, shelf):
        cut = in_parts(lengths[0], sold_strip_cm(tape) if tape else ROLL)
        width = USUAL_WIDTH_MM if tape is None or not tape.width_mm else tape.width_mm
        name = each.piece.material or each.piece.label
        for length in dict.fromkeys(cut):
            count = len(lengths) * cut.count(length)
            found.append(Template(each.name, count, name, width, _on_paper(10 * length)))
    return found


def _on_paper(length_mm: float) -> list[float]:
    """A length as parts that fit between the margins."""
    whole, rest = divmod(length_mm, SEGMENT_MM)
    return [SEGMENT_MM] * int(whole) + ([rest] if rest > 1e-6 else [])


class RulerTick(NamedTuple):
    """A line of a ruler, mm from the start of its stretch, and its figure."""

    x: float
    label: str


class RimSegment(NamedTuple):
    """A stretch of the paper strip along one face, from ``start_mm``; marks by mm from its start."""

    start_mm: float
    length_mm: float
    marks: list[tuple[float, StripEnd]]
    inches: bool

    @property
    def ticks(self) -> list[RulerTick]:
        """Every 5 mm with a number every 10 mm, or every eighth of an inch with a number every inch."""
        step, labelled = (MM_PER_IN / 8, 8) if self.inches else (5.0, 2)
        first = math.ceil(self.start_mm / step - 1e-9)
        last = math.floor((self.start_mm + self.length_mm) / step + 1e-9)
        return [RulerTick(i * step - self.start_mm, self._label(i, labelled)) for i in range(first, last + 1)]

    def _label(self, i: int, labelled: int) -> str:
        if i % labelled:
            return ""
        return str(i // labelled) if self.inches else str(5 * i)


CHANNEL = "channel under the bumper"


class RimRuler(NamedTuple):
    face: str
    segments: list[RimSegment]


def rim_rulers(plan: PlanState, shelf: Shelf, units: Units) -> list[RimRuler]:
    """A true-size strip for each face that carries tape, from the middle of the tip down one side."""
    strips = [
        (each.name, strip)
        for each in as_cut(plan, shelf)
        if (strip := each.piece.as_strip) is not None and not strip.removed
    ]
    rulers = []
    for face in plan.outline.faces:
        marks = rim_marks(strips, plan.outline, face)
        if not marks:
            continue
        reach = 10 * max(mark.at_cm for mark in marks) + 5
        count = int(reach // SEGMENT_MM) + 1
        segments = [
            RimSegment(
                i * SEGMENT_MM,
                SEGMENT_MM if i < count - 1 else reach - i * SEGMENT_MM,
                [
                    (10 * mark.at_cm - i * SEGMENT_MM, mark)
                    for mark in marks
                    if i * SEGMENT_MM <= 10 * mark.at_cm < (i + 1) * SEGMENT_MM
                ],
                units.ruler == "in",
            )
            for i in range(count)
        ]
        rulers.append(RimRuler(CHANNEL if face is Face.BUMPER else plan.outline.face_name(face), segments))
    return rulers
