"""A block of a spreadsheet filled into the table of frames; what each column is taken for can be changed."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, NamedTuple

from kentrobar.core.body.specs import READ
from kentrobar.core.reading.pasted import PastedColumn, read_pasted
from kentrobar.web.measuring.taking_in.intake_forms import MOST_FRAMES, ROW_FIELDS, FrameRow, IntakeForm

FIELD_NAMES = (
    ("", "leave out"),
    ("mark", "mark or last digits"),
    ("colour", "colour"),
    ("used", "new or used"),
    *((spec.field, spec.noun) for spec in READ),
)


class ShownColumn(NamedTuple):
    """A column as it is shown: its number, and the field that it fills."""

    number: int
    column: PastedColumn
    field: str


class Pasted(NamedTuple):
    """What was pasted, and what its columns are taken for."""

    text: str
    columns: list[ShownColumn]
    fields: tuple[tuple[str, str], ...] = FIELD_NAMES


def pasted_in(sent: Mapping[str, Any]) -> Pasted:
    """What was pasted with the choice of its columns, guessed where nobody chose yet."""
    text = str(sent.get("pasted", ""))
    is_same = sent.get("pasted_before") == text
    columns = []
    for i, column in enumerate(read_pasted(text)):
        chosen = sent.get(f"column_{i}") if is_same else None
        field = chosen if chosen in dict(FIELD_NAMES) else column.field
        columns.append(ShownColumn(i, column, str(field or "")))
    return Pasted(text, columns)


def fill(form: IntakeForm, pasted: Pasted, sent: Any) -> None:
    """Give an empty form what was typed into it so far, and a row for each that was pasted."""
    for name, field in form.fields.items():
        form.initial[name] = field.widget.value_from_datadict(sent, {}, name)
    by_field = {each.field: each.column.texts(each.field) for each in pasted.columns if each.field}
    count = max(map(len, by_field.values()), default=0)
    if count:
        form.rows = [
            FrameRow(i + 1, {n: _cell(by_field, n, i) for n in ROW_FIELDS})
            for i in range(min(count, MOST_FRAMES))
        ]


def _cell(by_field: Mapping[str, list[str]], name: str, i: int) -> str:
    texts = by_field.get(name, [])
    return texts[i][:60] if i < len(texts) else ""
