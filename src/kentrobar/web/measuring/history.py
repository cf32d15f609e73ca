"""The readings of a frame so far, with what was typed or sent: a section of its page."""

from __future__ import annotations

from typing import NamedTuple

from django.db.models import F, OuterRef, Prefetch, Subquery

from kentrobar.core.body.specs import READ, SWING_WEIGHT, ReadSpec
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.reading.entry import Cell, correction_of, taken_as
from kentrobar.web.frames.models import Frame, SetAside, SpecSheet
from kentrobar.web.kit.numbers import Units, read_specs
from kentrobar.web.measuring.models import Reading
from kentrobar.web.shops.models import User

MOST_SHEETS = 20


class ReadingCell(NamedTuple):
    """One spec of a sheet in the person's unit; beside it as typed, where that is several or another unit."""

    text: str
    several: list[str] = []
    not_read: str = ""


class ReadingsPanel(NamedTuple):
    """The newest sheets of readings, a cell a spec."""

    sheets: list[tuple[SpecSheet, list[ReadingCell]]]
    nouns: list[str]


def readings_panel(frame: Frame, user: User) -> ReadingsPanel:
    """The section of a frame's page on what was read."""
    rows = Prefetch("readings", Reading.objects.select_related("instrument").order_by("spec", "number"))
    why = SetAside.objects.filter(sheet=OuterRef("pk"), lifted_at=None).values("reason")
    taken = frame.spec_sheets.annotate(by=F("taken_by__username"), set_aside=Subquery(why))
    taken = taken.prefetch_related(rows)
    sheets: list[SpecSheet] = list(taken[: 2 * MOST_SHEETS])
    by_pk = {sheet.pk: sheet for sheet in sheets}
    shown = [
        (sheet, [_cell(sheet, spec, by_pk, user.units) for spec in READ]) for sheet in sheets[:MOST_SHEETS]
    ]
    return ReadingsPanel(shown, [spec.title for spec in READ])


def _cell(sheet: SpecSheet, spec: ReadSpec, by_pk: dict[int, SpecSheet], units: Units) -> ReadingCell:
    value = sheet.measured.of(spec)
    if not value:
        return ReadingCell("–")
    rows, not_read = _rows_of(sheet, spec, by_pk)
    counted = [row for row in rows if not row.left_out]
    is_direct = len(counted) == 1 and _is_as_shown(counted[0], spec, units)
    text = _as_typed(counted[0], spec) if is_direct else _mean(value, spec, units)
    axis = next((row.detail["axis"] for row in counted if "axis" in row.detail), None)
    if spec is SWING_WEIGHT:
        text += f" at {axis['text']} {axis['unit']}" if axis else f" at {units.axis_text(sheet.axis_cm)}"
    several = [] if is_direct else [_as_typed(row, spec) for row in counted]
    return ReadingCell(text, several, not_read)


def _rows_of(sheet: SpecSheet, spec: ReadSpec, by_pk: dict[int, SpecSheet]) -> tuple[list[Reading], str]:
    """The rows that a spec of a sheet rests on, and how it came from them where it was not read itself."""
    at = sheet
    while True:
        rows = [row for row in at.readings.all() if row.spec == spec.field]
        if rows:
            return rows, "" if at is sheet else "carried over"
        before = by_pk.get(at.replaces_id or 0)
        if before is None:
            return [], ""
        if before.measured.of(spec) != at.measured.of(spec):
            return [], "predicted, not measured"
        at = before


def _mean(value: Estimate, spec: ReadSpec, units: Units) -> str:
    shown = next(each for each in read_specs(units) if each.read_key == spec.key)
    if shown.key != spec.key:  # points count from half of the length, which readings do not know
        return f"{units.length_text(value.value)} {units.length}"
    return f"{shown.value(value)} {shown.unit}"


def _is_as_shown(row: Reading, spec: ReadSpec, units: Units) -> bool:
    """Whether what was typed is the spec itself, in the person's unit."""
    if row.unit != units.of(spec):
        return False
    return row.instrument is None or correction_of(spec, _cell_of(row)) is None


def _as_typed(row: Reading, spec: ReadSpec) -> str:
    """One reading as it was typed, with what its instrument was corrected by."""
    cell = _cell_of(row)
    return taken_as(spec, cell, row.instrument.name) if row.instrument else cell.with_unit


def _cell_of(row: Reading) -> Cell:
    return Cell(row.text, row.unit, row.value)
