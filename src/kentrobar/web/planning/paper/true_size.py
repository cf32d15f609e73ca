"""Strips and marks along the rim at their true size, as the bench sheet prints them."""

from __future__ import annotations

from typing import NamedTuple

from kentrobar.core.bench.cut_list import sold_strip_cm, strips_of
from kentrobar.core.bench.cutting import ROLL, in_parts
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.quantities.units import CM_PER_IN

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
