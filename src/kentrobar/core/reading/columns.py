"""A recording's text as columns of numbers, one of them times: whatever wrote it, however it is laid out.

Sensors and phones write commas, semicolons or tabs, points or commas in their numbers, one header row or
two, several times in one row, clock times and dates, and not always the oldest row first.
"""

from __future__ import annotations

import codecs
import csv
import io
import math
import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from kentrobar.core.reading.timing import NoSwingError

LARGEST_RECORDING_BYTES: Final = 3_000_000
MOST_ROWS: Final = 60_000
LONGEST_RECORDING_S: Final = 900.0  # a swing is timed over seconds to a few minutes
_LEAST_ROWS: Final = 4
_DAY_S: Final = 86_400.0
_MOST_UNEVEN: Final = 20.0  # of two steps of a clock, the longest by the usual one
_MOST_LOST: Final = 0.1  # of a column's cells or of the rows
_DELIMITERS: Final = (";", "\t", ",", "|", " ")
_TIME_FACTORS: Final = (1.0, 1e-3, 1e-6, 1e-9)
_CLOCK: Final = re.compile(r"(?:(\d{1,3}):)?(\d{1,2}):(\d{1,2}(?:[.,]\d{1,9})?)")
_DATED: Final = re.compile(r"\d{4}-\d{2}-\d{2}[T ]\d{2}:\d{2}")
_NAMES_TIME: Final = re.compile(r"\b(time|times|timestamp|elapsed|seconds?|millis\w*|ms|t|zeit)\b")
_NAMES_INDEX: Final = re.compile(r"\b(index|sample|samples|nr|no|n|row|count|frame)\b|^#$")

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Recording:
    """Columns of equal length: ``times_s`` and, unless only passes were noted, named signals.

    ``notes`` are sentences about how the file was read.
    """

    times_s: Array
    signals: dict[str, Array]
    notes: tuple[str, ...] = ()


class _Table(NamedTuple):
    """Names and columns; a cell that is no number is not a number there."""

    names: list[str]
    columns: list[Array]
    are_clock: list[bool]  # whether a column's cells are times of day or dates


def read_recording(data: bytes) -> Recording:
    """The columns of a text file of a recording.

    Raises:
        NoSwingError: too large, no text, no numbers, no times; says which.
    """
    if len(data) > LARGEST_RECORDING_BYTES:
        raise no_swing(
            "recording_too_large",
            f"The file is larger than {LARGEST_RECORDING_BYTES / 1e6:.0f} MB; cut it to the swing.",
        )
    notes: list[str] = []
    table = _table(_text(data), notes)
    position = _time_column(table, notes)
    times = table.columns[position]
    keep = np.isfinite(times)
    factor = 1.0 if table.are_clock[position] else _time_factor(table.names[position], times[keep])
    times = (times - np.nanmin(times)) * factor
    signals = {
        name: column
        for i, (name, column) in enumerate(zip(table.names, table.columns, strict=True))
        if i != position and not _runs_forward(column) and not table.are_clock[i]
    }
    return _in_order(times, signals, notes)


# -- text -----------------------------------------------------------------------------------


def _text(data: bytes) -> str:
    """The file's text, in whichever of the usual encodings it is."""
    if data.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        return _decoded(data, "utf-16")
    if b"\0" in data[:400]:
        first = "utf-16-le" if data[1:2] == b"\0" else "utf-16-be"
        return _decoded(data, first)
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        return _decoded(data, "cp1252")  # what older programs write: Latin-1 and a little more


def _decoded(data: bytes, encoding: str) -> str:
    try:
        text = data.decode(encoding)
    except UnicodeDecodeError:
        text = "\0"
    odd = sum(not (c.isprintable() or c in "\r\n\t") for c in text[:2000])
    if odd:
        raise no_swing("not_text", "This is not a text file; save the recording as CSV.")
    return text


# -- rows and columns -------------------------------------------------------------------------


def _table(text: str, notes: list[str]) -> _Table:
    lines = [line for line in text.splitlines() if line.strip() and not line.startswith(("#", "sep="))]
    if len(lines) > MOST_ROWS:
        notes.append(f"Only the first {MOST_ROWS} of {len(lines)} rows were read.")
    split = _split(lines[: MOST_ROWS + 5])
    first = next((i for i, cells in enumerate(split) if _is_data(cells)), len(split))
    width = Counter(map(len, split[first:])).most_common(1)[0][0] if first < len(split) else 0
    rows = [cells for cells in split[first:] if len(cells) == width]
    if len(rows) < _LEAST_ROWS:
        raise no_swing(
            "no_numbers",
            "No rows of numbers were found; the file needs a column of times, with a column of "
            "what was recorded beside it unless the times are passes.",
        )
    lost = len(split) - first - len(rows)
    if lost:
        notes.append(f"{lost} row{'s' if lost > 1 else ''} of another length left out.")
    # A delimiter at the end of every row makes an empty column that the header need not have.
    header = [[*cells, ""][:width] for cells in split[:first] if len(cells) in (width, width - 1)][-2:]
    return _columns(_names(header, width), rows)


def _split(lines: Sequence[str]) -> list[list[str]]:
    """The lines' cells, by the delimiter that gives most lines the same number of several cells."""
    best: list[list[str]] = [[line.strip()] for line in lines]
    score = 0.0
    for delimiter in _DELIMITERS:
        sample = _cells(lines[-40:], delimiter)
        width, count = Counter(map(len, sample)).most_common(1)[0] if sample else (1, 0)
        numbers = sum(_number(cell) is not None for cells in sample for cell in cells)
        whole = sum(map(len, sample)) or 1
        found = (count / max(len(sample), 1)) * numbers / whole if width > 1 else 0.0
        if found > score + 0.05:
            score, best = found, _cells(lines, delimiter)
    return best


def _cells(lines: Sequence[str], delimiter: str) -> list[list[str]]:
    if delimiter == " ":
        return [line.split() for line in lines]
    reader = csv.reader(io.StringIO("\n".join(lines)), delimiter=delimiter)
    return [[cell.strip() for cell in cells] for cells in reader]


def _is_data(cells: list[str]) -> bool:
    """Whether at least half of a row's cells are numbers or times."""
    return bool(cells) and 2 * sum(_value(cell) is not None for cell in cells) >= len(cells)


def _names(header: list[list[str]], width: int) -> list[str]:
    """A name for each column, no two alike; a second header row holds the units."""
    rows = header or [[""] * width]
    names: list[str] = []
    for i in range(width):
        parts = [row[i].strip("\"' ") for row in rows]
        name = parts[0] or f"column {i + 1}"
        if len(parts) > 1 and parts[1]:
            unit = parts[1].strip("()[]")
            name = f"{name} ({unit})" if parts[0] else unit
        count = sum(each == name or each.startswith(f"{name} #") for each in names)
        names.append(f"{name} #{count + 1}" if count else name)
    return names


def _columns(names: list[str], rows: list[list[str]]) -> _Table:
    found = _Table([], [], [])
    for name, cells in zip(names, zip(*rows, strict=True), strict=True):
        numbers = [_number(cell) for cell in cells]
        is_clock = sum(number is None for number in numbers) > _MOST_LOST * len(cells)
        values = [_clock(cell) for cell in cells] if is_clock else numbers
        if sum(value is None for value in values) <= _MOST_LOST * len(cells):
            found.names.append(name)
            column = np.array([math.nan if v is None else v for v in values])
            found.columns.append(_past_midnight(column) if is_clock else column)
            found.are_clock.append(is_clock)
    return found


def _value(cell: str) -> float | None:
    number = _number(cell)
    return _clock(cell) if number is None else number


def _number(cell: str) -> float | None:
    """A cell as a number, with a point or a comma; None for what is none."""
    text = cell.strip()
    if text.count(",") == 1 and "." not in text:
        text = text.replace(",", ".")
    try:
        number = float(text)
    except ValueError:
        return None
    return number if math.isfinite(number) and "_" not in text else None


def _clock(cell: str) -> float | None:
    """A time of day, a stopwatch's time or a date with its time, s; None for what is none."""
    text = cell.strip()
    if _DATED.match(text):
        try:
            moment = datetime.fromisoformat(text.replace(",", "."))
        except ValueError:
            return None
        return (moment if moment.tzinfo else moment.replace(tzinfo=UTC)).timestamp()
    found = _CLOCK.fullmatch(text)
    if found is None:
        return None
    hours, minutes, seconds = found.groups()
    return 3600.0 * int(hours or 0) + 60.0 * int(minutes) + float(seconds.replace(",", "."))


# -- times ------------------------------------------------------------------------------------


def _time_column(table: _Table, notes: list[str]) -> int:
    """Where the times stand: named so, running forward, and no mere count of rows."""
    scores = {i: _time_score(table, i) for i in range(len(table.names))}
    able = [i for i, score in scores.items() if score > 0]
    if not able:
        raise no_swing(
            "no_times",
            "No column of times was found: none runs forward from row to row, but for a mere count of rows. "
            "Record the times beside the signal.",
        )
    best = max(able, key=lambda i: (scores[i], len(np.unique(table.columns[i])), -i))
    if len([i for i in able if _is_named_time(table.names[i])]) > 1:
        notes.append(f"Several columns hold times; “{table.names[best]}” was taken.")
    return best


def _time_score(table: _Table, i: int) -> float:
    """How far a column looks like the times; 0 or less where it cannot be."""
    column, is_named = table.columns[i], _is_named_time(table.names[i])
    known = column[np.isfinite(column)]
    forward = float(np.mean(np.diff(known) >= 0)) if len(known) > 1 else 0.0
    forward = max(forward, float(np.mean(np.diff(known) <= 0)) if len(known) > 1 else 0.0)  # newest first
    is_constant = len(known) < 2 or known.max() == known.min()
    steps = np.diff(np.sort(known))
    is_sure = is_named or table.are_clock[i]
    is_even = is_sure and bool(steps.max(initial=0.0) <= _MOST_UNEVEN * np.median(steps))
    if is_constant or not (forward == 1 or is_even):
        return 0.0
    if not is_named and bool(np.all(steps == 1)) and len(table.names) > 1:
        return 0.0  # a count of rows
    if _NAMES_INDEX.search(_plain(table.names[i])) and bool(np.all(steps == 1)):
        return 0.0
    return 1.0 + 4.0 * is_named + 2.0 * table.are_clock[i] + forward - 0.01 * i


def _plain(name: str) -> str:
    return re.sub(r"[_\-./()\[\]]+", " ", name.lower()).strip()


def _is_named_time(name: str) -> bool:
    return bool(_NAMES_TIME.search(_plain(name)))


def _runs_forward(column: Array) -> bool:
    """Whether a column is another count or clock, and no signal."""
    steps = np.diff(column[np.isfinite(column)])
    return bool(np.all(steps >= 0) and np.any(steps > 0))


def _time_factor(name: str, times: Array) -> float:
    """Seconds, unless the name or the size of the steps says milli-, micro- or nanoseconds."""
    lowered = name.lower()
    for mark, factor in (
        (r"\bns\b|nano", 1e-9),
        (r"[µμ]s|\bus\b|micro", 1e-6),
        (r"\bms\b|milli|_ms", 1e-3),
        (r"\(s\)|\[s\]|second|_s\b", 1.0),
    ):
        if re.search(mark, lowered):
            return factor
    span = float(times.max() - times.min())
    return next((f for f in _TIME_FACTORS if span * f <= LONGEST_RECORDING_S), 1e-9)


def _past_midnight(times: Array) -> Array:
    """Clock times that go on after midnight, s; dates need no such thing."""
    late = np.nanmax(times, initial=0.0)
    goes_on = late < _DAY_S and late - np.nanmin(times, initial=_DAY_S) > _DAY_S / 2
    return np.where(times < _DAY_S / 2, times + _DAY_S, times) if goes_on else times


def _in_order(times: Array, signals: dict[str, Array], notes: list[str]) -> Recording:
    """The oldest row first, rows of one time averaged."""
    known = np.isfinite(times)
    for column in signals.values():
        known &= np.isfinite(column)
    if not known.all():
        count = int((~known).sum())
        notes.append(f"{count} row{'s' if count > 1 else ''} with an empty cell left out.")
    times, signals = times[known], {name: column[known] for name, column in signals.items()}
    if np.any(np.diff(times) < 0):
        notes.append("The rows were not in order of time; they were put in order.")
    if signals:
        whole, inverse, counts = np.unique(times, return_inverse=True, return_counts=True)
        signals = {name: np.bincount(inverse, column) / counts for name, column in signals.items()}
        times = whole
    else:
        times = np.sort(times)
    if len(times) < _LEAST_ROWS:
        raise no_swing("no_numbers", "Fewer than four rows of times are left; check the file.")
    return Recording(times - times[0], signals, tuple(notes))


def no_swing(code: str, message: str) -> NoSwingError:
    """Why no swing was found in a recording."""
    return NoSwingError(message, code=code, field="recording")
