"""What the reading grid says beside each row, in the row's own unit."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import INERTIA, LENGTH, MASS, POINTS_UNIT, points_headlight
from kentrobar.core.reading.entry import SpecEntry, taken_as
from kentrobar.core.reading.series import Series
from kentrobar.instruments.lines import DeviceLine
from kentrobar.web.kit.numbers import DECIMALS, points_text
from kentrobar.web.measuring.boxes import SpecBoxes
from kentrobar.web.measuring.fixes import FixButton, ShownQuestion, boxes_fill, button, shown_questions
from kentrobar.web.measuring.grid.readings import ReadingGrid


def as_typed(sent: DeviceLine) -> dict[str, str]:
    """What a device sent, as a cell of the grid holds it: number and unit, "" for a unit not known."""
    named = (dimension.unit_named(sent.unit) for dimension in (MASS, LENGTH, INERTIA))
    return {"text": f"{sent.value:g}", "unit": next(filter(None, named), "")}


@dataclass(frozen=True)
class Outlier:
    """A reading that stands out: its place in the row, its text, and what was likely meant."""

    place: int
    text: str
    fix: FixButton | None


@dataclass(frozen=True)
class SeriesSummary:
    """What the readings of a row come to, in its unit."""

    mean: str
    u: str
    unit: str
    beside: str
    count: int
    spread: str
    standard_error: str
    advice: str
    outliers: list[Outlier]
    taken_as: list[str]


@dataclass(frozen=True)
class RowSummary:
    """The line beside a row: what was read, or what is carried over and from where."""

    read: SeriesSummary | None = None
    carried_text: str = ""
    source: str = ""


def summary_of(row: SpecBoxes, grid: ReadingGrid) -> RowSummary:
    """The line beside a row: mean with ±, spread, advice, readings that stand out."""
    unit = "mm" if row.entry.unit == POINTS_UNIT else row.entry.unit
    factor = row.entry.spec.dimension.from_base(1.0, unit)
    decimals = DECIMALS[unit] + 1  # finer than a frame's value

    def text(base: float) -> str:
        return f"{base * factor:.{decimals}f}"

    series = row.entry.series
    if series is not None:
        return RowSummary(_of_series(row, series, unit, text, grid.frame.length_cm))
    carried = grid.carried(row.name)
    if carried and grid.known:
        shown = f"{text(carried.value)} ±{text(carried.u)} {unit}"
        return RowSummary(None, shown, grid.known.source)
    return RowSummary()


def _of_series(
    row: SpecBoxes, series: Series, unit: str, text: Callable[[float], str], length_cm: float
) -> SeriesSummary:
    is_balance = row.name == "balance"
    instrument = row.instrument.name if row.instrument else ""
    return SeriesSummary(
        mean=text(series.mean),
        u=text(series.u),
        unit=unit,
        beside=points_text(points_headlight(series.mean, length_cm)) if is_balance else "",
        count=series.count,
        spread=text(series.deviation),
        standard_error=text(series.standard_error),
        advice=_advice(row.entry, series, text),
        outliers=_outliers(row),
        taken_as=[
            taken_as(row.entry.spec, cell, instrument) for cell in row.entry.counted if row.entry.is_corrected
        ],
    )


def _outliers(row: SpecBoxes) -> list[Outlier]:
    return [
        Outlier(
            place + 1,
            shown,
            button(f"{meant} was meant", {f"{row.name}_{place + 1}": meant}) if meant else None,
        )
        for place, shown, meant in row.entry.outlier_fixes()
    ]


def _advice(row: SpecEntry, series: Series, text: Callable[[float], str]) -> str:
    if row.two_disagree:
        return "The two differ by more than this instrument scatters. Take a third."
    if series.outliers:
        return "Fix the reading that stands out, or exclude it."
    if row.scatters_more:
        return "They scatter more than this instrument usually does. Look for the cause."
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


def questions_of(grid: ReadingGrid) -> list[ShownQuestion]:
    """What is odd, each with its fixes as buttons."""
    questions = shown_questions(grid.questions, lambda fix: boxes_fill(fix, grid.boxes))
    if grid.fits_uncorrected:
        sentence = "Balance measured from the butt, not on this board"
        questions[0].fixes.insert(0, button(sentence, {"balance_instrument": ""}))
    if grid.checked.message:
        questions.append(ShownQuestion(grid.checked.message, []))
    return questions


def added_text(grid: ReadingGrid) -> str:
    """What the readings say was added or taken away, where they say it."""
    added = grid.checked.added
    if added is None or grid.checked.message:
        return ""
    grams, place = added
    verb = "added" if grams.value > 0 else "removed"
    where = Estimate(*place)
    return (
        f"By these readings {abs(grams.value):.1f} ±{grams.u:.1f} g were {verb}, "
        f"{where.value:.0f} ±{where.u:.0f} cm from the butt."
    )
