"""Tables for spreadsheets: written so that no cell is taken for a formula, read with bounds."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from typing import Final

from kentrobar.core.quantities.errors import KentrobarError

LARGEST_TABLE_BYTES: Final = 1_000_000
_FORMULA: Final = tuple("=+-@\t\r")  # what a spreadsheet takes for a formula where a text begins so
_BOM: Final = "\ufeff"  # spreadsheets take a file for UTF-8 by it

Cell = str | float | int | None


def write_table(heads: Sequence[str], rows: Iterable[Sequence[Cell]]) -> str:
    """A table as CSV (RFC 4180), in UTF-8 with its mark; numbers as they are, nothing for None."""
    written = io.StringIO()
    written.write(_BOM)
    out = csv.writer(written)
    out.writerow([safe(head) for head in heads])
    for row in rows:
        out.writerow([_written(cell) for cell in row])
    return written.getvalue()


def safe(text: str) -> str:
    """A text that no spreadsheet takes for a formula."""
    return f"'{text}" if text.startswith(_FORMULA) else text


def _written(cell: Cell) -> str:
    if cell is None:
        return ""
    if isinstance(cell, bool):
        return "yes" if cell else "no"
    if isinstance(cell, int | float):
        return f"{cell:.6g}" if isinstance(cell, float) else str(cell)
    return safe(cell)


def read_text(data: bytes) -> str:
    """The text of a table that was sent. Raises KentrobarError for one that is too large, or no text."""
    if len(data) > LARGEST_TABLE_BYTES:
        raise KentrobarError(
            f"A table has at most {LARGEST_TABLE_BYTES // 1000} kB here; send it in parts.", code="too_large"
        )
    for encoding in ("utf-8-sig", "utf-16" if data[:2] in (b"\xff\xfe", b"\xfe\xff") else "cp1252"):
        try:
            text = data.decode(encoding)
        except UnicodeDecodeError:
            continue
        if "\x00" not in text:
            return text
    raise KentrobarError("This is no text; save the table as CSV.", code="no_text")
