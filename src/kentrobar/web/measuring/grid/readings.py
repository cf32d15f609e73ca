"""The reading grid: several readings a spec as typed, what they come to, and what is odd about them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, NamedTuple

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import (
    BALANCE,
    READ,
    READ_BY_FIELD,
    READ_BY_KEY,
    SWING_WEIGHT,
    ReadSpec,
)
from kentrobar.core.frame.outline import Sport
from kentrobar.core.quantities.errors import KentrobarError, UnitError
from kentrobar.core.quantities.estimates import NOT_MEASURED, Quantity
from kentrobar.core.quantities.units import (
    LENGTH,
    parse_balance,
    parse_quantity,
)
from kentrobar.core.reading.calibration import NO_CORRECTION, Correction
from kentrobar.core.reading.checks import Question, require_possible
from kentrobar.core.reading.crosscheck import CrossCheck, cross_check
from kentrobar.core.reading.series import (
    Precision,
    Series,
    disagree,
    scatters_more_than_known,
    summarize,
    usual_precision,
)
from kentrobar.core.reading.slips import (
    Reference,
    TypedNumber,
    TypedSpecs,
    fits_as_shown,
    mend_outlier,
    questions,
)
from kentrobar.core.weight.builds import Build, Fitting
from kentrobar.web.frames.builds import fittings_in, same_build
from kentrobar.web.frames.hooks import applied_since
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.numbers import Units
from kentrobar.web.kit.requests import Sent, read_count
from kentrobar.web.measuring.expecting import expectation
from kentrobar.web.measuring.grid.carrying import KnownSpecs, Since, carried_over
from kentrobar.web.measuring.models import Instrument
from kentrobar.web.measuring.queries import readers_of
from kentrobar.web.measuring.services import TakenReading, Taking

MOST_READINGS = 9
SHOWN_READINGS = 3


class Cell(NamedTuple):
    """One reading as typed; ``value`` is calibrated, in the base unit, None where it is no reading."""

    text: str
    value: float | None
    unit: str
    error: str
    left_out: bool


@dataclass
class ReadingRow:
    """The readings of one spec."""

    kind: ReadSpec
    unit: str
    instruments: Sequence[Instrument]
    instrument: Instrument | None
    cells: list[Cell]
    error: str = ""

    @property
    def spec(self) -> str:
        return self.kind.field

    @property
    def standing(self) -> list[Cell]:
        return [cell for cell in self.cells if cell.value is not None]

    @cached_property
    def precision(self) -> Precision:
        values = [cell.value for cell in self.standing if cell.value is not None]
        if self.instrument is None or not values:
            return usual_precision(self.kind)
        return self.instrument.precision_at(values[0])

    @cached_property
    def series(self) -> Series | None:
        """All that was read in this row, None where nothing stands."""
        values = [cell.value for cell in self.standing if cell.value is not None]
        out = frozenset(i for i, cell in enumerate(self.standing) if cell.left_out)
        if not values or len(out) == len(values):
            return None
        return summarize(values, self.precision, out)

    @property
    def quantity(self) -> Quantity:
        return self.series.estimate if self.series else NOT_MEASURED

    @property
    def typical(self) -> float:
        """The mean of the readings that do not stand out, in the base unit."""
        assert self.series is not None  # noqa: S101 - asked by the caller
        out = self.series.left_out | frozenset(self.series.outliers)
        return summarize(self.series.values, self.precision, out).mean

    def as_typed(self) -> TypedNumber:
        """What was typed, as the instrument showed it; of several readings the middle, which they all say."""
        standing = [cell for cell in self.standing if not cell.left_out]
        first = standing[0]
        if len(standing) == 1:
            return TypedNumber(first.text, first.unit, correction=self.correction)
        shown, unit = self.correction.shown(self.typical), first.unit
        if unit not in self.kind.dimension.factors:  # points count from half of the length
            unit = self.kind.unit
        text = f"{self.kind.dimension.from_base(shown, unit):.4f}"
        return TypedNumber(text, unit, True, self.correction)

    @property
    def is_calibrated(self) -> bool:
        """Whether what the instrument shows is not yet the spec."""
        return self.correction != NO_CORRECTION

    @property
    def correction(self) -> Correction:
        return self.instrument.correction if self.instrument else NO_CORRECTION

    @property
    def two_disagree(self) -> bool:
        return self.series is not None and disagree(self.series, self.precision)

    @property
    def scatters_more(self) -> bool:
        return self.series is not None and scatters_more_than_known(self.series, self.precision)

    def outlier_mends(self) -> list[tuple[int, str, str | None]]:
        """Those that stand out: place among the cells, text, and the text likely meant."""
        if self.series is None:
            return []
        places = [i for i, cell in enumerate(self.cells) if cell.value is not None]
        texts = [cell.text for cell in self.standing]
        shown = tuple(map(self.correction.shown, self.series.values))
        as_shown = replace(self.series, values=shown)
        found = []
        for i in self.series.outliers:
            u = max(self.precision.one_reading_u, 1e-6) * 2
            plain = self.unit if self.unit != "pt" else "cm"
            meant = mend_outlier(texts, i, plain, self.kind.dimension, as_shown, u)
            found.append((places[i], texts[i], meant if self.unit != "pt" else None))
        return found


class ReadingGrid:
    """The whole form: rows, the build read in, the axis; ``data`` is what was typed, if anything."""

    def __init__(
        self,
        frame: Frame,
        instruments: Sequence[Instrument],
        units: Units,
        data: Sent = None,
    ) -> None:
        self.frame, self.units = frame, units
        self.data = data or {}
        self.is_typed = data is not None
        self.build = self._build()
        self.chosen = set(map(read_count, self._list("fitted")))
        self.offered = applied_since(frame)
        self.since = self._since()
        self.keep = bool(self.data.get("keep"))
        self.rows = [self._row(kind, instruments) for kind in READ]
        self.axis_error = ""
        self.axis_text, self.axis_unit, self.axis_cm = self._axis()
        self.errors: list[str] = []

    def row(self, spec: str) -> ReadingRow:
        return next(row for row in self.rows if row.spec == spec)

    # -- what was typed ----------------------------------------------------------------

    def _list(self, name: str) -> list[str]:
        getlist = getattr(self.data, "getlist", None)
        return getlist(name) if getlist else list(self.data.get(name, []))

    def _since(self) -> Since:
        key = read_count(str(self.data.get("laid", "")))
        usual = next(iter(self.offered), None) if "laid" not in self.data else None
        laid = next((each for each in self.offered if each.key == key), usual)
        return Since(bool(self.data.get("was_changed")), laid)

    def _build(self) -> str:
        typed = str(self.data.get("build", ""))
        if typed in set(Build):
            return typed
        return str(self.frame.specs.build) if self.frame.specs else Build.PLAYING.value

    def _row(self, kind: ReadSpec, instruments: Sequence[Instrument]) -> ReadingRow:
        fit = readers_of(kind, instruments)
        chosen = str(self.data.get(f"{kind.field}_instrument", ""))
        usual = None if self.is_typed else next(iter(fit), None)
        instrument = next((i for i in fit if str(i.pk) == chosen), usual)
        unit = str(self.data.get(f"{kind.field}_unit", ""))
        if unit not in kind.typed_units:
            unit = self.units.of(kind)
        out = set(self._list(f"{kind.field}_out"))
        cells = []
        for number in range(1, MOST_READINGS + 1):
            text = str(self.data.get(f"{kind.field}_{number}", "")).strip()
            cells.append(self._cell(kind, text, unit, instrument, str(number) in out))
        return ReadingRow(kind, unit, fit, instrument, cells)

    def _cell(
        self, kind: ReadSpec, text: str, unit: str, instrument: Instrument | None, left_out: bool
    ) -> Cell:
        if not text:
            return Cell("", None, unit, "", False)
        try:
            unit, base = self._base(kind, text, unit)
            if base <= 0 and unit != "pt":
                raise UnitError(f"The {kind.noun} is above 0.", code="not_positive")
        except KentrobarError as error:
            return Cell(text, None, unit, error.message, left_out)
        if instrument is not None and unit != "pt":
            base = instrument.correction.truth(base)
        return Cell(text, base, unit, "", left_out)

    def _base(self, kind: ReadSpec, text: str, unit: str) -> tuple[str, float]:
        if kind is BALANCE:
            _, unit, base = parse_balance(text, unit, self.frame.length_cm)
            return unit, base
        value, unit = parse_quantity(text, kind.dimension, unit)
        return unit, kind.dimension.to_base(value, unit)

    def _axis(self) -> tuple[str, str, float]:
        machine = self.row("swingweight").instrument
        usual = 10.0 if self.frame.is_racket else 5.0
        if machine and machine.address:
            usual = machine.axis_cm  # what a machine sends is about its own axis
        elif self.frame.specs:
            usual = self.frame.specs.axis_cm
        text = str(self.data.get("axis", f"{usual:g}")).strip()
        unit = str(self.data.get("axis_unit", "cm"))
        unit = unit if unit in LENGTH.factors else "cm"
        try:
            value, unit = parse_quantity(text, LENGTH, unit)
            return text, unit, LENGTH.to_base(value, unit)
        except KentrobarError as error:
            self.axis_error = error.message
            return text, unit, usual

    # -- what it comes to ----------------------------------------------------------------

    @cached_property
    def fitted(self) -> list[Fitting]:
        return fittings_in(self.frame, self.build, self.chosen)

    @cached_property
    def known(self) -> KnownSpecs | None:
        """What is known of the frame in this build before it is read."""
        return carried_over(self.frame, self.since, self.build, self.fitted, self.axis_cm)

    def carried(self, spec: str) -> Quantity:
        """A spec that is not read anew, as far as it is known; not measured where it is read."""
        if self.known is None or self.row(spec).series is not None:
            return NOT_MEASURED
        return self.known.measured.of(READ_BY_FIELD[spec])

    @cached_property
    def measured(self) -> MeasuredSpecs:
        """What the readings come to, with what is carried over."""
        measured = self.known.measured if self.known else MeasuredSpecs(axis_cm=self.axis_cm)
        for row in self.rows:
            if row.series is not None:
                measured = measured.with_reading(row.kind, row.quantity, axis_cm=self.axis_cm)
        return measured

    @cached_property
    def read_anew(self) -> MeasuredSpecs:
        """What the readings come to by themselves."""
        read = {row.kind.key: row.quantity for row in self.rows}
        return MeasuredSpecs.read_apart(read, self.axis_cm)

    @property
    def is_empty(self) -> bool:
        return all(row.series is None for row in self.rows)

    @property
    def has_errors(self) -> bool:
        return bool(self.errors or self.axis_error) or any(
            row.error or any(cell.error for cell in row.cells) for row in self.rows
        )

    @cached_property
    def reference(self) -> Reference | None:
        return expectation(
            self.frame, self.build, self.fitted, self.axis_cm, was_changed=self.since.was_changed
        )

    def entry(self) -> TypedSpecs:
        """What was typed, for the rules that look for slips."""
        typed = {"length": TypedNumber(f"{self.frame.length_cm:g}", "cm", True)}
        for row in self.rows:
            if row.series is None:
                continue
            typed[row.spec] = row.as_typed()
        if "swingweight" in typed:
            typed["axis"] = TypedNumber(f"{self.axis_cm:g}", "cm")
        sport = Sport(self.frame.sport)
        return TypedSpecs(sport, typed, self.build)

    @cached_property
    def asked(self) -> list[Question]:
        """What is odd about the readings together."""
        return [] if self.is_empty else questions(self.entry(), self.reference)

    @cached_property
    def fits_uncalibrated(self) -> str:
        """The balance, where it fits once the board's own offset is left out: it was from the butt."""
        row = self.row("balance")
        if not self.asked or not row.is_calibrated or row.series is None:
            return ""
        shown = row.correction.shown(row.typical)
        return "balance" if fits_as_shown(self.entry(), "balance", shown, self.reference) else ""

    @cached_property
    def checked(self) -> CrossCheck:
        """Where weight was added since the last reading: what it was, and whether it can be."""
        sheet = self.frame.specs
        was_changed = self.since.was_changed
        if not was_changed or sheet is None or not same_build(self.frame, sheet, self.fitted):
            return CrossCheck()
        return cross_check(sheet.measured, self.read_anew, self.frame.length_cm)

    def check(self) -> bool:
        """Whether it can be saved: all is read, nothing impossible, what is odd is kept or gone."""
        if self.is_empty and not any(c.error for row in self.rows for c in row.cells):
            self.errors.append("Type at least one reading.")
        try:
            require_possible(self.measured, self.frame.length_cm)
        except KentrobarError as error:
            spec = READ_BY_KEY.get(error.field)
            if spec:
                self.row(spec.field).error = error.message
            else:
                self.errors.append(error.message)
        return not self.has_errors and (self.keep or not self.is_odd)

    @property
    def is_odd(self) -> bool:
        outliers = any(row.series and row.series.outliers for row in self.rows)
        return bool(self.asked or self.checked.message or outliers)

    # -- what is kept -----------------------------------------------------------------------

    def taking(self) -> Taking:
        """What is to be recorded."""
        keys = [fitting.key for fitting in self.fitted]
        return Taking(self.measured, self.build, self._readings(), keys)

    def _readings(self) -> list[TakenReading]:
        return [
            TakenReading(
                row.spec, cell.text, cell.unit, cell.value, cell.left_out, row.instrument,
                self._detail(row),
            )
            for row in self.rows
            for cell in row.standing
            if cell.value is not None
        ]  # fmt: skip

    def _detail(self, row: ReadingRow) -> dict[str, Any]:
        if row.kind is not SWING_WEIGHT:
            return {}
        return {"axis": {"text": self.axis_text, "unit": self.axis_unit}}
