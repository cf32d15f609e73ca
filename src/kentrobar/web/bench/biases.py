"""What all readings of an instrument are off by together: its step and its calibration."""

from __future__ import annotations

from kentrobar.core.body.specs import READ, ReadSpec
from kentrobar.core.reading.series import usual_precision
from kentrobar.core.rounds.estimation import Bias
from kentrobar.web.bench.models import BenchEvent
from kentrobar.web.frames.models import SpecSheet
from kentrobar.web.measuring.models import Reading


def biases_of(event: BenchEvent) -> dict[str, Bias]:
    """By the keys of the specs that were read at the bench; of older readings nothing is kept."""
    readers = {each["spec"]: each["instrument"] for each in event.data["readings"]}
    kept = event.data["specs"]
    return {
        spec.key: Bias(_key(readers.get(spec.field), spec), shared)
        for spec in READ
        if (shared := kept.get(spec.key, {}).get("shared_u"))
    }


def biases_at_first(sheet: SpecSheet | None) -> dict[str, Bias]:
    """By the keys of the specs that the frame was read with before, as its instruments read today.

    A ± that was typed and a swing that was timed have nothing in common with another reading.
    """
    read = {each.spec: each for each in sheet.readings.all() if _is_of_instrument(each)} if sheet else {}
    found = {}
    for spec in READ:
        if reading := read.get(spec.field):
            by = reading.instrument
            precision = by.precision_at(reading.value) if by else usual_precision(spec)
            found[spec.key] = Bias(_key(reading.instrument_id, spec), precision.shared_u)
    return {key: bias for key, bias in found.items() if bias.u}


def _key(instrument: int | None, spec: ReadSpec) -> str:
    """An instrument as it reads one spec; those that nobody named are one."""
    return f"{instrument or 'unnamed'} {spec.field}"


def _is_of_instrument(reading: Reading) -> bool:
    return "spread" not in reading.detail and bool(reading.instrument or reading.detail.keys() <= {"axis"})
