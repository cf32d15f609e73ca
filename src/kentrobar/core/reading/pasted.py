"""A block of a spreadsheet pasted as text: which column is what, and in which unit its numbers are.

The heads are read for the field's own words in any case, with a unit behind a comma, in brackets or alone.
What is guessed is shown and can be changed; a number keeps its own unit where it has one.
"""

from __future__ import annotations

import csv
import re
from collections.abc import Mapping, Sequence
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.body.specs import READ_BY_FIELD
from kentrobar.core.quantities.units import POINTS_UNIT

LARGEST_CHARACTERS: Final = 50_000
MOST_COLUMNS: Final = 30
MOST_ROWS: Final = 60
_DELIMITERS: Final = "\t;,|"

# What a head has to hold to be taken for a column, the first that fits; None: holds a word of its own.
_WORDS: Final[Mapping[str, re.Pattern[str]]] = MappingProxyType(
    {
        "swingweight": re.compile(r"\b(swing\s*weight|sw|swing)\b"),
        "twistweight": re.compile(r"\b(twist\s*weight|tw|twist)\b"),
        "balance": re.compile(r"\b(balance|balance point|bal)\b"),
        "mass": re.compile(r"\b(static\s*weight|weight|mass|static)\b"),
        "colour": re.compile(r"\bcolou?r\b"),
        "used": re.compile(r"\b(used|condition|state)\b"),
        "mark": re.compile(r"\b(mark|frame|racket|racquet|paddle|serial|digits|id|no|number|name|label)\b"),
    }
)
_OTHER: Final = re.compile(r"\b(recoil|spin|after|added|plan)\b")  # columns that are none of these
_POINTS: Final = frozenset({"pt", "pts", "point", "points"})


class PastedColumn(NamedTuple):
    """One column: its head, the field that it is taken for (empty: none), the unit in its head, its cells."""

    head: str
    field: str
    unit: str
    cells: tuple[str, ...]

    @property
    def example(self) -> str:
        """The first cell with anything in it."""
        return next((cell for cell in self.cells if cell), "")

    def texts(self, field: str) -> list[str]:
        """Its cells as they are typed into a field: a bare number gets the unit of the head."""
        spec = READ_BY_FIELD.get(field)
        unit = self.unit if spec and self.unit in spec.typed_units else ""
        return [f"{cell} {unit}" if unit and _is_bare(cell) else cell for cell in self.cells]


def read_pasted(text: str) -> list[PastedColumn]:
    """The columns of a pasted block; none where there is nothing in it. What is too much is cut off."""
    rows = [[cell.strip() for cell in row] for row in _rows(text[:LARGEST_CHARACTERS])]
    rows = [row for row in rows if any(row)]
    if not rows:
        return []
    width = min(max(map(len, rows)), MOST_COLUMNS)
    rows = [(row + [""] * width)[:width] for row in rows]
    heads, body = (rows[0], rows[1:]) if _is_head(rows[0]) else ([""] * width, rows)
    taken: set[str] = set()
    columns = []
    for i, head in enumerate(heads):
        field = _field_of(head, taken)
        taken.add(field)
        cells = tuple(row[i] for row in body[:MOST_ROWS])
        columns.append(PastedColumn(head, field, _unit_of(head, field), cells))
    return columns


def _rows(text: str) -> list[list[str]]:
    lines = text.replace("\r\n", "\n").replace("\r", "\n").strip("\n")
    first = lines.partition("\n")[0]
    delimiter = max(_DELIMITERS, key=first.count)
    return list(csv.reader(lines.split("\n"), delimiter=delimiter))


def _is_head(row: Sequence[str]) -> bool:
    """Whether a row names columns: none of its cells is a number."""
    return not any(_is_bare(cell) for cell in row)


def _is_bare(cell: str) -> bool:
    return bool(re.fullmatch(r"[+-]?\d+([.,]\d+)?", cell))


def _field_of(head: str, taken: set[str]) -> str:
    words = head.lower()
    if _OTHER.search(words):
        return ""
    found = (field for field, word in _WORDS.items() if word.search(words) and field not in taken)
    return next(found, "")


def _unit_of(head: str, field: str) -> str:
    """The unit that a head tells, as units are written here; empty where it tells none."""
    spec = READ_BY_FIELD.get(field)
    if spec is None:
        return ""
    for part in re.split(r"[\s,()\[\]/]+", head.lower()):
        unit = POINTS_UNIT if part in _POINTS else spec.dimension.unit_named(part)
        if unit in spec.typed_units:
            return unit
    return ""
