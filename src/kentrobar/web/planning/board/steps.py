"""A plan as steps of work: what is laid in which order, and what should be read after each."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Final

from kentrobar.core.bench.cautions import cautions_for, hazards_of
from kentrobar.core.bench.cut_list import as_cut
from kentrobar.core.bench.instructions import dosing
from kentrobar.core.bench.joining import Joined
from kentrobar.core.bench.procedures import NumberWriter
from kentrobar.core.bench.steps import ORDERS, OrderDescription, OrderOfWork, Step, steps_of
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.weight.pieces import Piece
from kentrobar.core.weight.pieces.piece import RemovalKind
from kentrobar.web.kit.numbers import Units, shown_specs
from kentrobar.web.kit.spec_rows import SpecCell, SpecRow, change_of, row_of, text_of
from kentrobar.web.planning.board.view_models import PieceRow
from kentrobar.web.showing.pieces import CutWords, cut_words


@dataclass(frozen=True, slots=True)
class StepLine:
    """One thing to do as the sheet tells it: strips that meet are one."""

    number: str
    name: str
    is_lead: bool
    does: str
    mass_value: str
    dose: str
    cut: CutWords


@dataclass(frozen=True, slots=True)
class StepView:
    """A step: pieces, cautions that were not told before, and what should be read then."""

    title: str
    rows: list[PieceRow]
    lines: list[StepLine]
    cautions: list[str]
    expected: list[SpecRow]


def steps_shown(
    plan: PlanState, order: str, units: Units, rows: Iterable[PieceRow], shelf: Shelf
) -> list[StepView]:
    """The plan as steps of work."""
    by_number = {row.number: row for row in rows}
    said: set[str] = set()
    shown = []
    for step in steps_of(plan, OrderOfWork(order)):
        numbers = [plan.placed[i].number for i in step.pieces]
        cautions = cautions_for(hazards_of(plan.only(numbers), shelf))
        shown.append(
            StepView(
                step.title,
                [by_number[number] for number in numbers],
                [_line(each, plan, by_number, units, shelf) for each in as_cut(plan.only(numbers), shelf)],
                [caution for caution in cautions if caution not in said],
                list(_expected(step, units)),
            )
        )
        said.update(cautions)
    return shown


def _line(
    each: Joined, plan: PlanState, by_number: Mapping[int, PieceRow], units: Units, shelf: Shelf
) -> StepLine:
    piece, row = each.piece, by_number[each.numbers[0]]
    return StepLine(
        each.name,
        row.name,
        row.stock.is_lead,
        _deed(piece, units),
        units.piece_mass_text(piece.one_mass_g),
        dosing(piece, shelf, number_writer(units)),
        cut_words(piece, plan.outline, units),
    )


_DEEDS: Final = {RemovalKind.OFF: "take it off", RemovalKind.TRIM: "trim", RemovalKind.CUT: "cut out"}


def _deed(piece: Piece, units: Units) -> str:
    """What is done with a fitting, in words; empty for what is laid."""
    if piece.source.deed is RemovalKind.EXCHANGE:
        less = "lighter" if piece.removed else "heavier"
        return f"exchange: {units.piece_mass_text(piece.total_mass_g)} {units.mass} {less}"
    return _DEEDS.get(piece.source.deed, "take away" if piece.removed else "")


def number_writer(units: Units) -> NumberWriter:
    """Lengths off a ruler and small weights, in a person's units."""
    return NumberWriter(
        units.bench_lengths.text, lambda grams: f"{units.piece_mass_text(grams)} {units.mass}"
    )


def _expected(step: Step, units: Units) -> Iterator[SpecRow]:
    """What to read after a step: the spec, or by how much it changed where it was never read."""
    for spec in shown_specs(units):
        if spec.read_key not in step.read:
            continue
        quantity, change = getattr(step.expected, spec.key), getattr(step.change, spec.key)
        if quantity:
            yield row_of(spec, SpecCell(text_of(spec, quantity)))
        elif change:
            change_row = row_of(spec, SpecCell(change_of(spec, change)))
            yield replace(change_row, name=f"Change of {spec.name.lower()}")


def order_shown(order: str) -> OrderDescription:
    """The order of work of a plan in words."""
    return ORDERS[OrderOfWork(order)]
