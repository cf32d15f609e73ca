"""The one way from what a person typed of a frame to specs, questions about them, and fixes.

A page only collects: the texts of one reading or several, the unit of their box, a ±, what they were read
with, the swing axis, the build. Everything else follows from that here, so that the same typing comes to the
same specs wherever it was typed.
"""

from __future__ import annotations

import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Final, NamedTuple, Protocol

from kentrobar.core.body.limits import require_possible
from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.ranges import USUAL_AXIS_CM
from kentrobar.core.body.specs import BALANCE, READ_BY_FIELD, SWING_WEIGHT, ReadSpec
from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.errors import KentrobarError, UnitError
from kentrobar.core.quantities.estimates import NOT_MEASURED, Quantity
from kentrobar.core.quantities.units import (
    CM_PER_POINT,
    LENGTH,
    POINTS_UNIT,
    parse_balance,
    parse_number,
    parse_quantity,
)
from kentrobar.core.reading.calibration import NO_CORRECTION, Correction
from kentrobar.core.reading.checks import Question
from kentrobar.core.reading.series import (
    Precision,
    Series,
    disagree,
    scatters_more_than_known,
    summarize,
    usual_precision,
)
from kentrobar.core.reading.slips import (
    EntryFix,
    Reference,
    TypedNumber,
    TypedSpecs,
    find_fixes,
    fits_as_shown,
    fix_outlier,
    questions,
)

SHOWN_CORRECTION: Final = 5e-4  # in the unit typed; less is not shown


class Reader(Protocol):
    """What is asked of the instrument that a spec was read with."""

    @property
    def correction(self) -> Correction:
        """What makes the truth of what it shows, in the base unit."""

    def precision_at(self, reading: float) -> Precision:
        """How surely it reads near ``reading``, in the base unit."""


class TypedSpec(NamedTuple):
    """One spec as it was typed: each reading's text, the unit of the box, the ± of one reading.

    ``reader`` is None where nobody said; ``left_out`` are the readings, by index, that do not count.
    """

    texts: Sequence[str]
    unit: str
    spread: str = ""
    reader: Reader | None = None
    left_out: frozenset[int] = frozenset()


class TypedAxis(NamedTuple):
    """The swing axis from the butt as it was typed; an empty text is none."""

    text: str
    unit: str = "cm"


class Cell(NamedTuple):
    """One reading: ``value`` is corrected, in the base unit, None where it is no reading."""

    text: str
    unit: str
    value: float | None = None
    error: str = ""
    left_out: bool = False

    @property
    def with_unit(self) -> str:
        """Its text with the unit, which a person may have typed already."""
        has_unit = any(sign.isalpha() for sign in self.text)
        return self.text if has_unit else f"{self.text} {self.unit}"


@dataclass(frozen=True)
class SpecEntry:
    """What was typed of one spec, and what it comes to; ``u`` is the ± that was typed, in the base unit."""

    spec: ReadSpec
    unit: str
    cells: tuple[Cell, ...]
    reader: Reader | None = None
    u: float | None = None
    spread_error: str = ""

    @property
    def counted(self) -> list[Cell]:
        """The cells that hold a reading."""
        return [cell for cell in self.cells if cell.value is not None]

    @property
    def values(self) -> list[float]:
        """The readings, corrected, in the base unit."""
        return [cell.value for cell in self.cells if cell.value is not None]

    @property
    def errors(self) -> list[str]:
        """Why something typed cannot be read, a sentence each."""
        filled = [cell for cell in self.cells if cell.text]
        named = [
            f"Reading {i}: {cell.error}" if len(filled) > 1 else cell.error
            for i, cell in enumerate(self.cells, 1)
            if cell.error
        ]
        return [*named, self.spread_error] if self.spread_error else named

    @cached_property
    def precision(self) -> Precision:
        """How surely one of these readings was taken, in the base unit."""
        if self.u is not None:
            return Precision(0.0, self.u)
        if self.reader is None or not self.values:
            return usual_precision(self.spec, self._step_typed())
        return self.reader.precision_at(self.correction.shown(self.values[0]))

    def _step_typed(self) -> float:
        """The step that the digits show, in the base unit: 312 g was read off a scale in whole grams.

        The finest of several readings, since a 0 at the end may be left out; 0 where digits do not tell.
        """
        steps = [_step_of(self.spec, cell) for cell in self.counted]
        return min(steps, default=0.0)

    @cached_property
    def series(self) -> Series | None:
        """All readings of this spec summed up, None where none stands."""
        out = frozenset(i for i, cell in enumerate(self.counted) if cell.left_out)
        if not self.values or len(out) == len(self.values):
            return None
        return summarize(self.values, self.precision, out)

    @property
    def quantity(self) -> Quantity:
        """What the readings come to, in the base unit."""
        return self.series.estimate if self.series else NOT_MEASURED

    @property
    def correction(self) -> Correction:
        """What makes the truth of what the instrument shows."""
        return self.reader.correction if self.reader else NO_CORRECTION

    @property
    def is_corrected(self) -> bool:
        """Whether what the instrument shows is not yet the spec."""
        return self.correction != NO_CORRECTION

    @property
    def typical(self) -> float:
        """The mean of the readings that do not stand out, in the base unit; some must stand."""
        assert self.series is not None  # noqa: S101 - asked by the caller
        out = self.series.left_out | frozenset(self.series.outliers)
        return summarize(self.series.values, self.precision, out).mean

    @property
    def two_disagree(self) -> bool:
        """Whether two readings differ by more than their instrument does."""
        return self.series is not None and disagree(self.series, self.precision)

    @property
    def scatters_more(self) -> bool:
        """Whether the readings scatter far more than their instrument is known for."""
        return self.series is not None and scatters_more_than_known(self.series, self.precision)

    def as_typed(self) -> TypedNumber:
        """What was typed, as the instrument showed it; of several readings the middle."""
        counted = [cell for cell in self.counted if not cell.left_out]
        first = counted[0]
        if len(counted) == 1:
            return TypedNumber(first.text, first.unit, correction=self._correction_of(first.unit))
        unit = first.unit
        if unit not in self.spec.dimension.factors:  # points count from half of the length
            unit = self.spec.unit
        shown = self.spec.dimension.from_base(self.correction.shown(self.typical), unit)
        return TypedNumber(f"{shown:.4f}", unit, True, self.correction)

    def _correction_of(self, unit: str) -> Correction:
        """No board shows points: they were worked out from what it showed."""
        return NO_CORRECTION if unit == POINTS_UNIT else self.correction

    def outlier_fixes(self) -> list[tuple[int, str, str | None]]:
        """Readings that stand out: place among the cells, text, and the text likely meant."""
        if self.series is None:
            return []
        places = [i for i, cell in enumerate(self.cells) if cell.value is not None]
        texts = [cell.text for cell in self.counted]
        as_shown = replace(self.series, values=tuple(map(self.correction.shown, self.series.values)))
        u = max(self.precision.one_reading_u, 1e-6) * 2
        found = []
        for i in self.series.outliers:
            meant = None
            if self.unit != POINTS_UNIT:
                meant = fix_outlier(texts, i, self.unit, self.spec.dimension, as_shown, u)
                meant = meant if meant and self._fits_with(i, meant) else None
            found.append((places[i], texts[i], meant))
        return found

    def _fits_with(self, i: int, text: str) -> bool:
        """Whether one reading, typed so, no longer stands out among the others."""
        assert self.series is not None  # noqa: S101 - asked by the caller
        value, unit = parse_quantity(text, self.spec.dimension, self.unit)
        truth = self.correction.truth(self.spec.dimension.to_base(value, unit))
        values = [*self.values[:i], truth, *self.values[i + 1 :]]
        return i not in summarize(values, self.precision, self.series.left_out).outliers


@dataclass(frozen=True)
class Entry:
    """Everything typed of one frame at once, read; ``specs`` by the field of each spec."""

    sport: Sport
    length_cm: float
    specs: Mapping[str, SpecEntry]
    axis: TypedAxis
    axis_cm: float
    axis_error: str = ""
    build: str = ""

    @property
    def is_empty(self) -> bool:
        """Whether nothing was read."""
        return all(each.series is None for each in self.specs.values())

    @property
    def has_errors(self) -> bool:
        """Whether something typed cannot be read."""
        return bool(self.axis_error) or any(each.errors for each in self.specs.values())

    @cached_property
    def measured(self) -> MeasuredSpecs:
        """What the readings come to by themselves."""
        return self.upon(None)

    def upon(self, known: MeasuredSpecs | None) -> MeasuredSpecs:
        """What the readings come to where the rest is ``known``, about this entry's axis."""
        measured = known or MeasuredSpecs(axis_cm=self.axis_cm)
        for each in self.specs.values():
            if each.series is not None:
                measured = measured.with_reading(each.spec, each.quantity, axis_cm=self.axis_cm)
        return measured

    def problem(self, known: MeasuredSpecs | None = None) -> KentrobarError | None:
        """Why no frame of this length can have these specs, with what is ``known`` of the rest."""
        try:
            require_possible(self.upon(known), self.length_cm)
        except KentrobarError as error:
            return error
        return None

    @cached_property
    def typed(self) -> TypedSpecs:
        """What was typed, for the rules that look for slips."""
        typed = {"length": TypedNumber(f"{self.length_cm:g}", "cm", True)}
        typed |= {f: each.as_typed() for f, each in self.specs.items() if each.series is not None}
        if SWING_WEIGHT.field in typed:
            typed["axis"] = TypedNumber(f"{self.axis_cm:g}", "cm")
        return TypedSpecs(self.sport, typed, self.build)

    def questions(self, reference: Reference | None = None) -> list[Question]:
        """What is odd about the readings together, each with fixes that pass."""
        return [] if self.is_empty else questions(self.typed, reference)

    def fixes(self, reference: Reference | None = None) -> list[EntryFix]:
        """Slips that, turned back, make the entry pass."""
        return find_fixes(self.typed, reference)

    def fits_uncorrected(self, field: str, reference: Reference | None) -> bool:
        """Whether the entry fits once a spec is taken as its instrument showed it."""
        each = self.specs[field]
        if not each.is_corrected or each.series is None:
            return False
        return fits_as_shown(self.typed, field, each.correction.shown(each.typical), reference)


_DECIMAL: Final = re.compile(r"^[-+−]?\s*\d+(?:[.,](?P<digits>\d+))?\s*(?:[^\d\s/].*)?$")


def _step_of(spec: ReadSpec, cell: Cell) -> float:
    """What the last digit of a reading counts, in the base unit; 0 for a fraction."""
    found = _DECIMAL.match(cell.text.strip())
    if found is None:
        return 0.0
    last = 10.0 ** -len(found["digits"] or "")
    return last * CM_PER_POINT if cell.unit == POINTS_UNIT else spec.dimension.to_base(last, cell.unit)


def correction_of(spec: ReadSpec, cell: Cell) -> tuple[float, str] | None:
    """By how much a reading was corrected, with its unit; None where what was typed is what counts."""
    if cell.value is None or cell.unit not in spec.dimension.factors:
        return None
    value, unit = parse_quantity(cell.text, spec.dimension, cell.unit)
    more = spec.dimension.from_base(cell.value - spec.dimension.to_base(value, unit), unit)
    return (more, unit) if abs(more) >= SHOWN_CORRECTION else None


def taken_as(spec: ReadSpec, cell: Cell, instrument: str) -> str:
    """A reading as it was typed, beside what it was corrected by: "314 mm + 50 mm of the board"."""
    corrected = correction_of(spec, cell)
    if corrected is None:
        return cell.with_unit
    more, unit = corrected
    return f"{cell.with_unit} {'+' if more > 0 else '−'} {abs(more):.4g} {unit} of {instrument}"


def read_entry(
    typed: Mapping[str, TypedSpec], *, sport: Sport, length_cm: float, axis: TypedAxis, build: str = ""
) -> Entry:
    """Read what was typed of a frame ``length_cm`` long; ``typed`` by the field of each spec.

    Nothing is refused here: what cannot be read has its sentence, and counts as not read.
    """
    specs = {field: read_spec(READ_BY_FIELD[field], each, length_cm) for field, each in typed.items()}
    swings = SWING_WEIGHT.field in specs and bool(specs[SWING_WEIGHT.field].values)
    axis_cm, error = _read_axis(axis, USUAL_AXIS_CM[sport], is_needed=swings)
    return Entry(sport, length_cm, specs, axis, axis_cm, error, build)


def read_spec(spec: ReadSpec, typed: TypedSpec, length_cm: float) -> SpecEntry:
    """Read what was typed of one spec of a frame ``length_cm`` long."""
    cells = tuple(
        _read_cell(spec, text.strip(), typed, length_cm, i in typed.left_out)
        for i, text in enumerate(typed.texts)
    )
    try:
        u, error = _read_spread(spec, typed.spread.strip(), typed.unit), ""
    except UnitError as refused:
        u, error = None, refused.message
    return SpecEntry(spec, typed.unit, cells, typed.reader, u, error)


def _read_cell(spec: ReadSpec, text: str, typed: TypedSpec, length_cm: float, left_out: bool) -> Cell:
    if not text:
        return Cell("", typed.unit)
    try:
        unit, base = _in_base(spec, text, typed.unit, length_cm)
    except UnitError as error:
        return Cell(text, typed.unit, None, error.message, left_out)
    if typed.reader is not None and unit != POINTS_UNIT:
        base = typed.reader.correction.truth(base)
    return Cell(text, unit, base, "", left_out)


def _in_base(spec: ReadSpec, text: str, unit: str, length_cm: float) -> tuple[str, float]:
    """The unit meant, and the reading in the base unit. Raises UnitError for what is no reading."""
    if spec is BALANCE:
        _, unit, base = parse_balance(text, unit, length_cm)
    else:
        value, unit = parse_quantity(text, spec.dimension, unit)
        base = spec.dimension.to_base(value, unit)
    if not math.isfinite(base) or (base <= 0 and unit != POINTS_UNIT):
        raise UnitError(f"The {spec.noun} is above 0.", code="not_positive")
    return unit, base


def _read_spread(spec: ReadSpec, text: str, unit: str) -> float | None:
    """The ± of one reading in the base unit, None where none was typed. Raises UnitError."""
    if not text:
        return None
    value, _ = parse_number(text.lstrip("±"))
    if value < 0:
        raise UnitError("A ± is 0 or more.", code="negative_spread")
    return value * CM_PER_POINT if unit == POINTS_UNIT else spec.dimension.to_base(value, unit)


def _read_axis(axis: TypedAxis, usual_cm: float, *, is_needed: bool) -> tuple[float, str]:
    """The swing axis in cm; the usual one, with a sentence where it is needed or cannot be read."""
    if not axis.text:
        sentence = "A swing weight needs its axis. Enter it, such as 10 cm."
        return usual_cm, sentence if is_needed else ""
    try:
        return LENGTH.to_base(*parse_quantity(axis.text, LENGTH, axis.unit)), ""
    except UnitError as error:
        return usual_cm, error.message
