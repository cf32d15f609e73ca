"""A likely slip put right in one click: what a button says, and the fields it fills.

One format for every page: the fields of its form by name, each with the text that goes into it.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import NamedTuple

from kentrobar.core.reading.checks import Question
from kentrobar.core.reading.slips import EntryFix, TypedNumber
from kentrobar.web.measuring.boxes import ReadingBoxes, SpecBoxes

Fill = Mapping[str, str]


class FixButton(NamedTuple):
    """A button: its sentence, and its order for the page's script."""

    sentence: str
    order: str


class ShownQuestion(NamedTuple):
    """A question about what was typed, with the buttons that answer it."""

    message: str
    fixes: list[FixButton]


def button(sentence: str, fill: Fill) -> FixButton:
    """A button that puts these texts into these fields."""
    return FixButton(sentence, json.dumps(fill, ensure_ascii=False))


def buttons(fixes: Iterable[EntryFix], fill_of: Callable[[EntryFix], Fill]) -> list[FixButton]:
    """The fixes that a page has fields for; ``fill_of`` says which, and is empty where it has none."""
    filled = ((fix.sentence, fill_of(fix)) for fix in fixes)
    return [button(sentence, fill) for sentence, fill in filled if fill]


def shown_questions(
    questions: Sequence[Question], fill_of: Callable[[EntryFix], Fill]
) -> list[ShownQuestion]:
    """Questions with their fixes as buttons."""
    return [ShownQuestion(each.message, buttons(each.fixes, fill_of)) for each in questions]


def quantity_fill(changes: Mapping[str, TypedNumber]) -> Fill:
    """The fields of quantities that are boxes with a unit beside them, by the field's name."""
    fill: dict[str, str] = {}
    for name, typed in changes.items():
        fill |= {f"{name}_0": typed.text, f"{name}_1": typed.unit}
    return fill


def boxes_fill(fix: EntryFix, boxes: ReadingBoxes, *, length_is_typed: bool = False) -> Fill:
    """What a fix fills among a page's boxes; none where it is of a length that is not typed there."""
    if fix.build:
        return {"build": fix.build}
    fill: dict[str, str] = {}
    if "length" in fix.changes:
        if not length_is_typed:
            return {}
        fill |= quantity_fill({"length": fix.changes["length"]})
    changes = {name: typed for name, typed in fix.changes.items() if name != "length"}
    if len(changes) == 2:
        return {**fill, **_exchanged(changes, boxes)}
    for name, typed in changes.items():
        fill |= {"axis": typed.text} if name == "axis" else _first_box(boxes.row(name), typed)
        fill[f"{name}_unit"] = typed.unit
    return fill


def _first_box(row: SpecBoxes, typed: TypedNumber) -> Fill:
    """What was typed first, put right; the boxes stay where other readings beside it say the same."""
    filled = (i for i, cell in enumerate(row.entry.cells, 1) if cell.text)
    return {} if typed.repeated else {f"{row.name}_{next(filled, 1)}": typed.text}


def _exchanged(changes: Mapping[str, TypedNumber], boxes: ReadingBoxes) -> Fill:
    """All boxes of two rows exchanged."""
    one, other = changes
    fill: dict[str, str] = {}
    for here, there in ((one, other), (other, one)):
        for i, cell in enumerate(boxes.row(there).entry.cells, 1):
            fill[f"{here}_{i}"] = cell.text
        fill[f"{here}_unit"] = changes[here].unit
    return fill
