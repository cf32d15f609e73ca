"""Instruments, and persons, beside each other on frames that both read with nothing changed in between.

Readings of instruments are compared as their calibrations of today would give them, so that what was once
corrected is not found again.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping, Sequence
from itertools import combinations
from typing import NamedTuple

from kentrobar.core.body.specs import READ_BY_FIELD, ReadSpec
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import POINTS_UNIT
from kentrobar.core.reading.series import Precision, usual_precision
from kentrobar.core.reading.side_by_side import ReadingPair, SideBySide, side_by_side
from kentrobar.web.frames.models import SpecSheet
from kentrobar.web.measuring.models import Instrument, Reading
from kentrobar.web.measuring.queries import instruments_of
from kentrobar.web.shops.models import User

MOST_READINGS = 20_000
SAME_WEIGHT_G = 0.6  # what two scales and a day's moisture may differ by


class InstrumentComparison(NamedTuple):
    """Two instruments, or two persons, that read a spec of the same frames."""

    spec: ReadSpec
    one: str
    other: str
    found: SideBySide
    instrument: int = 0  # the other's key, where it is one


class _Read(NamedTuple):
    """A reading: of which spec, of a frame in which state, by whom or what, and how surely."""

    spec: str
    state: tuple[int, int]
    by: int
    value: float
    precision: Precision


def compared(user: User) -> list[InstrumentComparison]:
    """Every two instruments of a shop that read a spec of frames in one and the same state."""
    known = {each.pk: each for each in instruments_of(user)}
    names = {pk: each.name for pk, each in known.items()}
    read = (
        _read_today(row, state, known[row.instrument_id])
        for row, state in _readings(user)
        if row.instrument_id in known
    )
    return [each._replace(instrument=other) for each, other in _side_by_side(read, names)]


def _read_today(row: Reading, state: tuple[int, int], instrument: Instrument) -> _Read:
    """A reading as the instrument's calibration of today gives it; one in points knows no calibration."""
    value = row.value
    if row.unit != POINTS_UNIT:
        value = instrument.correction.truth(instrument.correction_at(row.sheet.taken_at).shown(value))
    return _Read(row.spec, state, instrument.pk, value, instrument.precision_at(value))


def persons_compared(user: User) -> list[InstrumentComparison]:
    """Every two persons of a shop that read a spec of frames in one and the same state."""
    names = {each.pk: each.username for each in user.own_shop.people.all()}
    usual = {field: usual_precision(spec) for field, spec in READ_BY_FIELD.items()}
    read = (
        _Read(row.spec, state, row.sheet.taken_by_id or 0, row.value, usual[row.spec])
        for row, state in _readings(user)
    )
    return [each for each, _ in _side_by_side((r for r in read if r.by in names), names)]


def _side_by_side(
    readings: Iterable[_Read], names: Mapping[int, str]
) -> Iterator[tuple[InstrumentComparison, int]]:
    """All that read the same, two by two, with the key of the second."""
    values: dict[tuple[str, tuple[int, int]], dict[int, list[_Read]]] = defaultdict(lambda: defaultdict(list))
    for each in readings:
        values[each.spec, each.state][each.by].append(each)
    pairs: dict[tuple[str, int, int], list[ReadingPair]] = defaultdict(list)
    for (spec, _), by in values.items():
        for one, other in combinations(sorted(by), 2):
            pairs[spec, one, other].append(ReadingPair(_mean(by[one]), _mean(by[other])))
    for (spec, one, other), both in pairs.items():
        comparison = side_by_side(both)
        if comparison:
            yield InstrumentComparison(READ_BY_FIELD[spec], names[one], names[other], comparison), other


def _mean(read: Sequence[_Read]) -> Estimate:
    """The mean of readings by one, as unsure as those scatter; what all of them share is not in it."""
    precision = read[0].precision
    mean = sum(each.value for each in read) / len(read)
    return Estimate(mean, math.hypot(precision.repeatability / math.sqrt(len(read)), precision.step_u))


def _readings(user: User) -> Iterator[tuple[Reading, tuple[int, int]]]:
    """Readings with the state that their frame was in, told by the frame and a number."""
    rows = (
        Reading.objects.filter(sheet__frame__shop=user.shop_id, left_out=False)
        .exclude(unit="s")
        .select_related("sheet")
        .order_by("sheet__frame", "sheet__taken_at", "sheet")[:MOST_READINGS]
    )
    before: SpecSheet | None = None
    number = 0
    for row in rows:
        if before is not None and not _is_same_state(before, row.sheet):
            number += 1
        before = row.sheet
        yield row, (row.sheet.frame_id, number)


def _is_same_state(before: SpecSheet, sheet: SpecSheet) -> bool:
    """Whether nothing was laid or fitted between two sheets: the same things on, hardly another weight."""
    if (before.frame_id, before.build, before.axis_cm) != (sheet.frame_id, sheet.build, sheet.axis_cm):
        return False
    if before.fitting_ids != sheet.fitting_ids:
        return False
    if before.mass_g is None or sheet.mass_g is None:
        return True
    return abs(before.mass_g - sheet.mass_g) <= SAME_WEIGHT_G
