"""Every write of instruments, calibrations and readings.

Every road by which a reading comes in (typed in a form, taken in, read into the grid, timed, recorded,
sent by a device, imported) ends in :func:`record`.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Final, NamedTuple

from django.db import transaction
from django.utils import timezone

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import READ, SWING_WEIGHT, ReadSpec
from kentrobar.core.quantities.errors import SpecError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.reading.calibration import Correction
from kentrobar.web.frames.models import Frame, SetAside, SpecSheet, spread_columns
from kentrobar.web.kit.records import Json, locked, write
from kentrobar.web.measuring.models import Calibration, Instrument, Reading, Stiffness
from kentrobar.web.shops.models import User

COMPARED_WITH: Final = "compared_with"  # marks a calibration that came from frames two instruments read


class TakenReading(NamedTuple):
    """One reading to be kept: as typed or sent, and what it is in the base unit after calibration.

    ``spec`` is the spec's field; ``detail`` tells how it was taken: ``spread`` and ``axis`` as typed, the
    times of a swing.
    """

    spec: str
    text: str
    unit: str
    value: float
    left_out: bool = False
    instrument: Instrument | None = None
    detail: Json = {}


@dataclass(frozen=True)
class Taking:
    """What was read of one frame at once: the specs it comes to, in which build, and each reading.

    ``fitted`` are the keys of what was on the frame; None where nobody noted them. Specs without a reading
    of their own are carried over from the reading before.
    """

    measured: MeasuredSpecs
    build: str
    readings: Sequence[TakenReading] = field(default=())
    fitted: Sequence[int] | None = None


@transaction.atomic
def record_stiffness(frame: Frame, by: User | None, of: str, value: float, scale: str) -> Stiffness:
    """One reading of a frame's or a string bed's stiffness; that of the frame counts from now on."""
    if of == Stiffness.Of.FRAME:
        write(frame, stiffness=value)
    return Stiffness.objects.create(frame=frame, of=of, value=value, scale=scale, taken_by=by)


@transaction.atomic
def record(frame: Frame, taking: Taking, by: User | None) -> SpecSheet:
    """Record readings, which count from now on; what was measured before stays as it was."""
    kept = locked(frame)
    sheet = SpecSheet.objects.create(
        frame=kept,
        build=taking.build,
        axis_cm=taking.measured.axis_cm,
        correlations=list(taking.measured.correlations),
        fitting_ids=None if taking.fitted is None else list(taking.fitted),
        replaces_id=kept.specs_id,
        taken_by=by,
        **columns_of(taking.measured),
    )
    kept.specs = frame.specs = sheet
    kept.save(update_fields=["specs"])
    Reading.objects.bulk_create(_rows(sheet, taking.readings))
    return sheet


@transaction.atomic
def set_aside(sheet: SpecSheet, reason: str, by: User | None) -> None:
    """Let a sheet of readings count no longer; the newest of the others counts. Nothing is deleted.

    Raises:
        SpecError: no reason is given.
    """
    if not reason.strip():
        raise SpecError("Give a reason, such as “the scale stood on the towel”.", code="no_reason")
    frame = locked(sheet.frame)
    SetAside.objects.get_or_create(
        sheet=sheet, lifted_at=None, defaults={"reason": reason.strip()[:200], "made_by": by}
    )
    _let_newest_count(frame)


@transaction.atomic
def count_again(sheet: SpecSheet) -> None:
    """Let a sheet that was set aside count again, if it is the newest that does."""
    frame = locked(sheet.frame)
    sheet.set_asides.filter(lifted_at=None).update(lifted_at=timezone.now())
    _let_newest_count(frame)


def _let_newest_count(frame: Frame) -> None:
    aside = SetAside.objects.filter(lifted_at=None).values("sheet")
    write(frame, specs=frame.spec_sheets.exclude(pk__in=aside).order_by("-taken_at", "-pk").first())


def columns_of(measured: MeasuredSpecs) -> dict[str, float | None]:
    """The columns of a sheet that hold these specs with their ±."""
    columns: dict[str, float | None] = {}
    for spec in READ:
        quantity = measured.of(spec)
        known = quantity if quantity else (None, None)
        columns |= dict(zip(spread_columns(spec), known, strict=True))
    return columns


def _rows(sheet: SpecSheet, readings: Sequence[TakenReading]) -> list[Reading]:
    counts: dict[str, int] = {}
    rows = []
    for reading in readings:
        counts[reading.spec] = counts.get(reading.spec, 0) + 1
        rows.append(Reading(sheet=sheet, number=counts[reading.spec], **reading._asdict()))
    return rows


def as_readings(measured: MeasuredSpecs) -> list[TakenReading]:
    """Specs that came from a file, as if each had been read once in its base unit."""
    return [_as_reading(spec, quantity, measured.axis_cm) for spec in READ if (quantity := measured.of(spec))]


def _as_reading(spec: ReadSpec, quantity: Estimate, axis_cm: float) -> TakenReading:
    detail: Json = {"spread": f"{quantity.u:.10g}"}
    if spec is SWING_WEIGHT:
        detail["axis"] = {"text": f"{axis_cm:.10g}", "unit": "cm"}
    text = f"{quantity.value:.10g}"
    return TakenReading(spec.field, text, spec.unit, quantity.value, detail=detail)


@transaction.atomic
def record_calibration(
    instrument: Instrument, found: Correction, known: list[Json], by: User | None
) -> Calibration:
    """Keep scale and zero as found today; they count for the readings from now on."""
    return Calibration.objects.create(
        instrument=instrument,
        scale=found.scale,
        zero=found.zero,
        scale_variance=found.scale_variance,
        zero_variance=found.zero_variance,
        covariance=found.covariance,
        known=known,
        taken_by=by,
    )


@transaction.atomic
def correct_by(instrument: Instrument, against: str, difference: Estimate, by: User | None) -> Calibration:
    """Let an instrument read as another does: its zero moves by what it was found to read more.

    It is a calibration like any other: dated, and what came before stays known.
    """
    kept = locked(instrument)
    now = kept.correction
    found = replace(now, zero=now.zero - difference.value, zero_variance=now.zero_variance + difference.u**2)
    point = {
        COMPARED_WITH: against,
        "before": [now.scale, now.zero, now.scale_variance, now.zero_variance, now.covariance],
        "known_before": kept.latest.known if kept.latest else [],
    }
    return record_calibration(instrument, found, [point], by)


@transaction.atomic
def correct_no_more(instrument: Instrument, by: User | None) -> None:
    """Take back the last correction that came from a comparison, where it is what counts now."""
    latest = locked(instrument).latest
    if latest and latest.known and COMPARED_WITH in latest.known[0]:
        point = latest.known[0]
        record_calibration(instrument, Correction(*point["before"]), point.get("known_before", []), by)
