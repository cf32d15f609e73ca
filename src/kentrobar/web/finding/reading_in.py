"""Import readings: each row finds its frame, is shown beforehand, and is recorded where it is sound."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Final

from django.core import signing
from django.db import transaction
from django.db.models import Q
from django.db.models.functions import Lower

from kentrobar.core.body.specs import READ, READ_BY_FIELD, ReadSpec
from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.errors import KentrobarError, SpecError
from kentrobar.core.reading.entry import Cell, Entry, TypedAxis, TypedSpec, read_entry
from kentrobar.core.reading.pasted import MOST_ROWS, PastedColumn, read_pasted
from kentrobar.web.frames.builds import fittings_in
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.queries import frames_with_fittings
from kentrobar.web.kit.records import Json
from kentrobar.web.measuring.boxes import taken_readings
from kentrobar.web.measuring.grid.carrying import Since, carried_over
from kentrobar.web.measuring.services import Taking, record
from kentrobar.web.shops.models import User

_SALT: Final = "readings of a table, as texts"  # a preview of another form is refused
NEEDS: Final = "Give it column names, such as “frame”, “weight, g”, “balance, mm”, “swing weight”."


@dataclass
class ImportRow:
    """One row: what it names, the frame that is, what was read of it, why it cannot be taken."""

    name: str
    frame: Frame | None = None
    read: dict[str, str] = field(default_factory=dict)  # texts, by the field of the spec
    problem: str = ""

    @property
    def shown(self) -> list[str]:
        """Each spec with what was read of it; a bare number is in the base unit."""
        specs = ((READ_BY_FIELD[name], text) for name, text in self.read.items())
        return [f"{spec.noun} {Cell(text, spec.unit).with_unit}" for spec, text in specs]


def lines_of(user: User, text: str, build: str, axis_cm: float) -> list[ImportRow]:
    """The rows of a table as they would be recorded. Raises KentrobarError for one without names or specs."""
    columns = {column.field: column for column in read_pasted(text)}
    names = columns.get("mark")
    specs = [spec for spec in READ if spec.field in columns]
    if names is None or not specs:
        raise KentrobarError(
            f"This table has no column for frames, or none for a spec. {NEEDS}", code="no_heads"
        )
    frames = _by_name(user, names.cells)
    lines = [_line(frames, name, i, specs, columns) for i, name in enumerate(names.cells[:MOST_ROWS])]
    for line in lines:
        if not line.problem:
            line.problem = _objection(line, build, axis_cm)
    return lines


def _objection(line: ImportRow, build: str, axis_cm: float) -> str:
    try:
        taking_of(line, build, axis_cm)
    except KentrobarError as error:
        return error.message
    return ""


def _by_name(user: User, names: Iterable[str]) -> dict[str, list[Frame]]:
    """The shop's frames by their names and marks, in small letters."""
    labels = {name.lower() for name in names if name}
    found: dict[str, list[Frame]] = {}
    named = frames_with_fittings(user).annotate(called=Lower("label"), marked=Lower("mark"))
    for frame in named.filter(Q(called__in=labels) | Q(marked__in=labels)):
        for name in {frame.label.lower(), frame.mark.lower()} & labels:
            found.setdefault(name, []).append(frame)
    return found


def _line(
    frames: dict[str, list[Frame]], name: str, i: int, specs: list[ReadSpec], columns: dict[str, PastedColumn]
) -> ImportRow:
    line, called = ImportRow(name), frames.get(name.lower(), [])
    if len(called) != 1:
        line.problem = "no frame has this name" if not called else f"{len(called)} frames have this name"
        return line
    line.frame = called[0]
    line.read = {spec.field: text for spec in specs if (text := columns[spec.field].texts(spec.field)[i])}
    if not line.read:
        line.problem = "nothing was read"
    return line


def taking_of(line: ImportRow, build: str, axis_cm: float) -> Taking:
    """What a row comes to, to be recorded: what it leaves out is carried over, as nothing was laid since.

    Raises:
        KentrobarError: no frame can be so.
    """
    frame = line.frame
    assert frame is not None  # noqa: S101 - only sound rows are recorded
    fitted = fittings_in(frame, build)
    known = carried_over(frame, Since(False, None), build, fitted, axis_cm)
    entry = _entry(line, frame, build, axis_cm)
    before = known.measured if known else None
    problem = entry.problem(before)
    if problem is not None:
        raise problem
    return Taking(entry.upon(before), build, taken_readings(entry), [fitting.key for fitting in fitted])


def _entry(line: ImportRow, frame: Frame, build: str, axis_cm: float) -> Entry:
    """What was typed of a row; a bare number is in the base unit. Raises SpecError for what is no reading."""
    typed = {name: TypedSpec((text,), READ_BY_FIELD[name].unit) for name, text in line.read.items()}
    entry = read_entry(
        typed,
        sport=Sport(frame.sport),
        length_cm=frame.length_cm,
        axis=TypedAxis(f"{axis_cm:.10g}"),
        build=build,
    )
    wrong = [sentence for each in entry.specs.values() for sentence in each.errors]
    if wrong:
        raise SpecError(wrong[0], code="no_reading")
    return entry


def carried_as(lines: Iterable[ImportRow], build: str, axis_cm: float) -> str:
    """What a preview carries, signed: what is recorded is what was shown."""
    sound = [(line.frame.pk, line.read) for line in lines if line.frame and not line.problem]
    return signing.dumps({"build": build, "axis_cm": axis_cm, "lines": sound}, salt=_SALT, compress=True)


@transaction.atomic
def record_signed(user: User, text: str) -> int:
    """Record what a preview carries; answers of how many frames.

    Raises:
        signing.BadSignature: it was not made here.
    """
    stored: Json = signing.loads(text, salt=_SALT, max_age=24 * 3600)
    keys = [pk for pk, _ in stored["lines"]]
    frames = {frame.pk: frame for frame in frames_with_fittings(user).filter(pk__in=keys)}
    count = 0
    for pk, read in stored["lines"]:
        frame = frames.get(pk)
        if frame is None:
            continue
        line = ImportRow(frame.label, frame, read)
        record(frame, taking_of(line, stored["build"], stored["axis_cm"]), user)
        count += 1
    return count
