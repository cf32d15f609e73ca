"""What the reading grid says beside each row, in the row's own unit."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import INERTIA, LENGTH, MASS, points_headlight
from kentrobar.core.reading.slips import Mend, TypedNumber
from kentrobar.instruments.lines import DeviceLine
from kentrobar.web.kit.numbers import DECIMALS, points_text
from kentrobar.web.measuring.grid.readings import ReadingGrid, ReadingRow
from kentrobar.web.measuring.mends import Fill, button, buttons


def as_typed(sent: DeviceLine) -> dict[str, str]:
    """What a device sent, as a cell of the grid holds it: number and unit, "" for a unit not known."""
    unit = INERTIA.aliases.get(
        sent.unit.lower().replace("·", "").replace("²", "2"), sent.unit.lower()
    )
    known = {*MASS.factors, *LENGTH.factors, *INERTIA.factors}
    return {"text": f"{sent.value:g}", "unit": unit if unit in known else ""}


def summary_of(row: ReadingRow, grid: ReadingGrid) -> dict[str, Any]:
    """The line beside a row: mean with ±, spread, advice, readings that stand out."""
    summary: dict[str, Any] = {
        "spec": row.spec,
        "errors": [
            f"Reading {i}: {cell.error}" for i, cell in enumerate(row.cells, 1) if cell.error
        ],
    }
    if row.error:
        summary["errors"].append(row.error)
    unit = "mm" if row.unit == "pt" else row.unit
    factor = row.kind.dimension.from_base(1.0, unit)
    decimals = DECIMALS[unit] + 1  # finer than a frame's value

    def text(base: float) -> str:
        return f"{base * factor:.{decimals}f}"

    series = row.series
    if series is None:
        carried = grid.carried(row.spec)
        if carried and grid.known:
            summary["carried"] = f"{text(carried.value)} ±{text(carried.u)} {unit}"
            summary["source"] = grid.known.source
        return summary
    summary |= {
        "mean": text(series.mean),
        "u": text(series.u),
        "unit": unit,
        "count": series.count,
        "spread": text(series.deviation),
        "standard_error": text(series.standard_error),
        "advice": _advice(row, text),
        "helps": series.more_help,
        "outliers": [
            {
                "place": place + 1,
                "text": shown,
                "mend": meant and button(f"{meant} was meant", {f"{row.spec}_{place + 1}": meant}),
            }
            for place, shown, meant in row.outlier_mends()
        ],
    }
    if row.is_calibrated:
        summary["calibrated"] = _calibrated(row, factor, decimals, unit)
    if row.spec == "balance":
        summary["beside"] = points_text(points_headlight(series.mean, grid.frame.length_cm))
    return summary


def _calibrated(row: ReadingRow, factor: float, decimals: int, unit: str) -> str:
    """How the spec comes from what the instrument shows."""
    found = row.correction
    zero = f"{abs(found.zero) * factor:.{decimals}f} {unit}"
    sign = "plus" if found.zero >= 0 else "less"
    if found.scale == 1.0:
        return f"What it shows {sign} {zero}."
    return f"What it shows times {found.scale:.4f}, {sign} {zero}."


def _advice(row: ReadingRow, text: Callable[[float], str]) -> str:
    series = row.series
    assert series is not None  # noqa: S101 - asked by the caller
    if row.two_disagree:
        return "The two differ by more than this instrument does; read a third."
    if series.outliers:
        return "Mend the reading that stands out, or leave it out."
    if row.scatters_more:
        return (
            "They scatter far more than this instrument is known for, and count with their own scatter; look "
            "for the cause."
        )
    if series.count == 1:
        return "A second reading would catch a slip."
    if series.more_help:
        more = {1: "One", 2: "Two"}.get(series.more, "Three")
        return f"{more} more would bring ± from {text(series.u)} to {text(series.next_u)}."
    if row.precision.step_u > 0.7 * series.u:
        return "More would not help: the instrument's own step sets the ±."
    if row.precision.systematic > 0.7 * series.u:
        return "More would not help: the calibration sets the ±."
    return "Enough: one more would hardly change the ±."


def questions_of(grid: ReadingGrid) -> list[dict[str, Any]]:
    """What is odd, each with its mends as buttons."""
    asked: list[dict[str, Any]] = [
        {"message": question.message, "mends": buttons(question.mends, lambda m: _fill(m, grid))}
        for question in grid.asked
    ]
    if grid.fits_uncalibrated and asked:
        sentence = "Balance was read from the butt, not on this board"
        plain = button(sentence, {f"{grid.fits_uncalibrated}_instrument": ""})
        asked[0]["mends"].insert(0, plain)
    if grid.checked.message:
        asked.append({"message": grid.checked.message, "mends": []})
    return asked


def _fill(mend: Mend, grid: ReadingGrid) -> Fill:
    """The boxes that a mend fills; none where it is of the frame's length, which is no row of the grid."""
    if "length" in mend.changes:
        return {}
    if mend.build:
        return {"build": mend.build}
    if len(mend.changes) == 2 and "axis" not in mend.changes:
        return _exchanged(mend, grid)
    fill: dict[str, str] = {}
    for name, typed in mend.changes.items():
        fill |= {"axis": typed.text} if name == "axis" else _first_box(grid.row(name), typed)
        fill[f"{name}_unit"] = typed.unit
    return fill


def _first_box(row: ReadingRow, typed: TypedNumber) -> Fill:
    """What was typed first, put right; the boxes stay where other readings beside it say the same."""
    filled = (i for i, cell in enumerate(row.cells, 1) if cell.text)
    return {} if typed.repeated else {f"{row.spec}_{next(filled, 1)}": typed.text}


def _exchanged(mend: Mend, grid: ReadingGrid) -> Fill:
    """All boxes of two rows exchanged."""
    one, other = mend.changes
    fill: dict[str, str] = {}
    for here, there in ((one, other), (other, one)):
        for i, cell in enumerate(grid.row(there).cells, 1):
            fill[f"{here}_{i}"] = cell.text
        fill[f"{here}_unit"] = mend.changes[here].unit
    return fill


def added_text(grid: ReadingGrid) -> str:
    """What the readings say was added or taken away, where they say it."""
    added = grid.checked.added
    if added is None or grid.checked.message:
        return ""
    grams, place = added
    verb = "added" if grams.value > 0 else "taken away"
    where = Estimate(*place)
    return (
        f"By these readings {abs(grams.value):.1f} ±{grams.u:.1f} g were {verb}, "
        f"{where.value:.0f} ±{where.u:.0f} cm from the butt."
    )
