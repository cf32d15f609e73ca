"""What the reading grid says beside each row, in the row's own unit."""

from __future__ import annotations

import json
from typing import Any

from kentrobar.core.checks import Question
from kentrobar.core.estimates import Estimate
from kentrobar.core.slips import Mend
from kentrobar.core.units import points_headlight
from kentrobar.web.kit.numbers import points_text
from kentrobar.web.measuring.grid import ReadingGrid, Row

_DECIMALS = {"g": 2, "oz": 3, "mm": 2, "cm": 3, "in": 3, "kg·cm²": 2, "oz·in²": 1}


def summary_of(row: Row, grid: ReadingGrid) -> dict[str, Any]:
    """The line beside a row: mean with ±, spread, advice, readings that stand out."""
    said: dict[str, Any] = {
        "spec": row.spec,
        "errors": [
            f"Reading {i}: {cell.error}" for i, cell in enumerate(row.cells, 1) if cell.error
        ],
    }
    if row.error:
        said["errors"].append(row.error)
    unit = "mm" if row.unit == "pt" else row.unit
    factor = row.kind.dimension.from_base(1.0, unit)
    decimals = _DECIMALS[unit]

    def text(base: float) -> str:
        return f"{base * factor:.{decimals}f}"

    series = row.series
    if series is None:
        before = grid.quantity_before(row.spec) if row.spec in grid.carried else None
        if isinstance(before, Estimate):
            said["carried"] = f"{text(before.value)} {unit}"
        return said
    said |= {
        "mean": text(series.mean),
        "u": text(series.u),
        "unit": unit,
        "count": series.count,
        "spread": text(series.deviation),
        "standard_error": text(series.standard_error),
        "advice": _advice(row, text),
        "helps": series.one_more_helps,
        "outliers": [
            {"place": place + 1, "text": shown, "meant": meant}
            for place, shown, meant in row.outlier_mends()
        ],
    }
    if row.is_calibrated:
        said["calibrated"] = _calibrated(row, factor, decimals, unit)
    if row.spec == "balance":
        said["beside"] = points_text(points_headlight(series.mean, grid.frame.length_cm))
    return said


def _calibrated(row: Row, factor: float, decimals: int, unit: str) -> str:
    """How the spec comes from what the instrument shows."""
    assert row.instrument is not None  # noqa: S101 - it is calibrated
    found = row.instrument.calibration
    zero = f"{abs(found.zero) * factor:.{decimals}f} {unit}"
    sign = "plus" if found.zero >= 0 else "less"
    if found.scale == 1.0:
        return f"What it shows {sign} {zero}."
    return f"What it shows times {found.scale:.4f}, {sign} {zero}."


def _advice(row: Row, text: Any) -> str:
    series = row.series
    assert series is not None  # noqa: S101 - asked by the caller
    if row.two_disagree:
        return "The two differ by more than this instrument does; read a third."
    if series.outliers:
        return "Mend the reading that stands out, or leave it out."
    if series.count == 1:
        return "A second reading would catch a slip."
    if series.one_more_helps:
        return f"One more would bring ± from {text(series.u)} to {text(series.next_u)}."
    if row.precision.step_u > 0.7 * series.u:
        return "More would not help: the instrument's own step sets the ±."
    if row.precision.systematic > 0.7 * series.u:
        return "More would not help: the calibration sets the ±."
    return "Enough: one more would hardly change the ±."


def questions_of(grid: ReadingGrid) -> list[dict[str, Any]]:
    """What is odd, each with its mends as the page's script takes them."""
    asked = [_asked(question) for question in grid.asked]
    if grid.fits_uncalibrated and asked:
        order = json.dumps({"changes": {}, "build": "", "plain": grid.fits_uncalibrated})
        sentence = "Balance was read from the butt, not on this board"
        asked[0]["mends"].insert(0, {"sentence": sentence, "order": order})
    if grid.checked.message:
        asked.append({"message": grid.checked.message, "mends": []})
    return asked


def _asked(question: Question) -> dict[str, Any]:
    # The frame's length is no row of the grid.
    mends = [_mend(mend) for mend in question.mends if "length" not in mend.changes]
    return {"message": question.message, "mends": mends}


def _mend(mend: Mend) -> dict[str, str]:
    changes = {
        name: {"text": typed.text, "unit": typed.unit, "repeated": typed.repeated}
        for name, typed in mend.changes.items()
    }
    order = json.dumps({"changes": changes, "build": mend.build}, ensure_ascii=False)
    return {"sentence": mend.sentence, "order": order}


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
