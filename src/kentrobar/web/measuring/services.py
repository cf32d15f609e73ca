"""Every write of instruments, calibrations and readings."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

from django.db import transaction

from kentrobar.core.calibration import Calibration as Found
from kentrobar.core.specs import MeasuredSpecs
from kentrobar.web.frames.models import Frame, SpecSheet
from kentrobar.web.frames.services import record_specs
from kentrobar.web.measuring.models import Calibration, Instrument, Reading


class TakenReading(NamedTuple):
    """One reading to be kept: as typed, and as the instrument's calibration makes it."""

    spec: str
    text: str
    unit: str
    value: float
    left_out: bool
    instrument: Instrument | None
    detail: dict[str, Any]


@transaction.atomic
def record_readings(
    frame: Frame,
    measured: MeasuredSpecs,
    build: str,
    fitting_ids: Sequence[int],
    typed: dict[str, Any],
    readings: Sequence[TakenReading],
    by: Any,
) -> SpecSheet:
    """Record a set of readings; what was measured before stays as it was."""
    locked = Frame.objects.select_for_update().get(pk=frame.pk)
    sheet = record_specs(locked, measured, build, typed, by, fitting_ids)
    frame.specs = sheet
    counts: dict[str, int] = {}
    rows = []
    for reading in readings:
        counts[reading.spec] = counts.get(reading.spec, 0) + 1
        rows.append(Reading(sheet=sheet, number=counts[reading.spec], **reading._asdict()))
    Reading.objects.bulk_create(rows)
    return sheet


def record_calibration(
    instrument: Instrument, found: Found, known: list[dict[str, Any]], by: Any
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
