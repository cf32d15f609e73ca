"""The boxes in which a frame's readings are typed, the same on every page: they collect, the rules read.

By the field of a spec, ``mass_1`` to ``mass_9`` hold its readings, ``mass_unit`` their unit, ``mass_spread``
a ±, ``mass_instrument`` what they were read with, ``mass_out`` which do not count; ``axis`` and
``axis_unit`` the swing axis.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.body.ranges import USUAL_AXIS_CM
from kentrobar.core.body.specs import READ, READ_BY_KEY, SWING_WEIGHT, ReadSpec
from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.units import LENGTH
from kentrobar.core.reading.entry import Entry, SpecEntry, TypedAxis, TypedSpec, read_entry
from kentrobar.web.kit.records import Json
from kentrobar.web.kit.requests import Sent, read_count
from kentrobar.web.measuring.models import Instrument
from kentrobar.web.measuring.queries import in_use, readers_of, used_last
from kentrobar.web.measuring.services import TakenReading
from kentrobar.web.shops.models import User

MOST_READINGS: Final = 9
SHOWN_READINGS: Final = 3
SAME_AXIS_CM: Final = 1e-6


# Of a frame whose own length is not read yet: a racket's and a paddle's usual one.
USUAL_LENGTH_CM: Final = MappingProxyType({Sport.TENNIS: 68.58, Sport.PICKLEBALL: 41.0})


class Readers(NamedTuple):
    """What may have read a spec, and what is chosen of it."""

    offered: Sequence[Instrument]
    chosen: Instrument | None


def readers_chosen(
    data: Sent, user: User, specs: Sequence[ReadSpec] = READ, axis_cm: float | None = None
) -> dict[str, Readers]:
    """The instruments of each spec, by its field, and the one that was chosen or, before that, used last.

    Where a page has an axis of its own, only machines of that axis read its swing weight.
    """
    instruments, last = in_use(user), used_last(user) if data is None else {}
    found = {}
    for spec in specs:
        fit = [
            each
            for each in readers_of(spec, instruments)
            if spec is not SWING_WEIGHT or axis_cm is None or abs(each.axis_cm - axis_cm) < SAME_AXIS_CM
        ]
        sent = str((data or {}).get(f"{spec.field}_instrument", ""))
        key = last.get(spec.field) if data is None else read_count(sent)
        found[spec.field] = Readers(fit, next((each for each in fit if each.pk == key), None))
    return found


@dataclass
class SpecBoxes:
    """The boxes of one spec: what was typed into them, what it was read with, what is wrong."""

    entry: SpecEntry
    title: str
    instruments: Sequence[Instrument]
    instrument: Instrument | None
    spread: str
    errors: list[str] = field(default_factory=list)
    summary: object = None  # what the page with a live summary says beside the boxes

    @property
    def name(self) -> str:
        """The spec's field, which the names of its boxes begin with."""
        return self.entry.spec.field

    @property
    def units(self) -> Sequence[str]:
        """The units that may be chosen."""
        return self.entry.spec.typed_units

    @property
    def shown(self) -> int:
        """How many boxes are open."""
        return max(SHOWN_READINGS, self.filled)

    @property
    def filled(self) -> int:
        """How many boxes are open where one is enough to start with."""
        return max((i for i, cell in enumerate(self.entry.cells, 1) if cell.text), default=1)

    @property
    def has_axis(self) -> bool:
        """Whether the swing axis is typed beside it."""
        return self.entry.spec is SWING_WEIGHT


class ReadingBoxes:
    """All boxes of a page. ``data`` is what was sent, None where the page is shown first."""

    def __init__(
        self,
        data: Sent,
        user: User,
        *,
        specs: Sequence[ReadSpec] = READ,
        axis_cm: float | None = None,
        is_axis_fixed: bool = False,
        titles: Mapping[str, str] = MappingProxyType({}),
    ) -> None:
        self.data, self.units = data or {}, user.units
        self.axis_cm, self.is_axis_fixed = axis_cm, is_axis_fixed
        self.specs, self.titles = specs, titles
        self.readers = readers_chosen(data, user, specs, axis_cm if is_axis_fixed else None)
        self.rows: list[SpecBoxes] = []
        self.entry: Entry

    def read(self, sport: Sport, length_cm: float, build: str = "") -> Entry:
        """Have what was typed read, of a frame so long; its rows then say what is wrong with it."""
        typed = {spec.field: self._typed(spec) for spec in self.specs}
        axis = self._axis(sport)
        self.entry = read_entry(typed, sport=sport, length_cm=length_cm, axis=axis, build=build)
        self.rows = [self._row(each) for each in self.entry.specs.values()]
        return self.entry

    def row(self, name: str) -> SpecBoxes:
        """The boxes of a spec, by its field."""
        return next(row for row in self.rows if row.name == name)

    def blame(self, error: KentrobarError) -> bool:
        """Show an error of the rules at the spec that it names; whether it names one that is typed here."""
        spec = READ_BY_KEY.get(error.field)
        row = next((row for row in self.rows if spec and row.name == spec.field), None)
        if row is not None:
            row.errors.append(error.message)
        return row is not None

    @property
    def has_chosen(self) -> bool:
        """Whether an instrument is chosen for any spec: that is what is measured here."""
        return any(row.instrument for row in self.rows)

    @property
    def has_others_typed(self) -> bool:
        """Whether something is typed, or wrong, where no instrument is chosen."""
        others = (row for row in self.rows if not row.instrument)
        return any(row.errors or any(cell.text for cell in row.entry.cells) for row in others)

    @property
    def axis_units(self) -> list[str]:
        """The units that an axis is typed in."""
        return list(LENGTH.factors)

    def readings(self) -> list[TakenReading]:
        """Each reading as it is kept."""
        return taken_readings(self.entry, self._detail)

    # -- what was typed ----------------------------------------------------------------

    def _text(self, name: str, without: str = "") -> str:
        return str(self.data.get(name, without)).strip()

    def sent_list(self, name: str) -> list[str]:
        """All values that were sent under a name."""
        getlist = getattr(self.data, "getlist", None)
        return getlist(name) if getlist else list(self.data.get(name, []))

    def _typed(self, spec: ReadSpec) -> TypedSpec:
        name = spec.field
        unit = self._text(f"{name}_unit")
        out = {read_count(each) - 1 for each in self.sent_list(f"{name}_out")}
        texts = [self._text(f"{name}_{i}") for i in range(1, MOST_READINGS + 1)]
        return TypedSpec(
            texts,
            unit if unit in spec.typed_units else self.units.of(spec),
            self._text(f"{name}_spread"),
            self.readers[name].chosen,
            frozenset(out),
        )

    def _axis(self, sport: Sport) -> TypedAxis:
        """The swing axis as typed; before that, the chosen machine's, the page's or the usual one."""
        swings = self.readers.get(SWING_WEIGHT.field)
        machine = swings.chosen if swings else None
        usual = self.axis_cm if self.axis_cm is not None else USUAL_AXIS_CM[sport]
        if machine is not None and machine.address:
            usual = machine.axis_cm  # what a machine sends is about its own axis
        if self.is_axis_fixed:
            return TypedAxis(f"{usual:.10g}")
        unit = self._text("axis_unit", "cm")
        return TypedAxis(self._text("axis", f"{usual:g}"), unit if unit in LENGTH.factors else "cm")

    def _row(self, entry: SpecEntry) -> SpecBoxes:
        name = entry.spec.field
        row = SpecBoxes(
            entry,
            self.titles.get(name, entry.spec.title),
            *self.readers[name],
            self._text(f"{name}_spread"),
            list(entry.errors),
        )
        if row.has_axis and self.entry.axis_error:
            row.errors.append(f"Swing axis: {self.entry.axis_error}")
        return row

    def _detail(self, spec: ReadSpec) -> Json:
        spread = self._text(f"{spec.field}_spread")
        detail: Json = {"spread": spread} if spread else {}
        if spec is SWING_WEIGHT and not self.is_axis_fixed:
            detail["axis"] = self.entry.axis._asdict()
        return detail


def taken_readings(
    entry: Entry, detail_of: Callable[[ReadSpec], Json] = lambda _spec: {}
) -> list[TakenReading]:
    """Each reading of an entry as it is kept; ``detail_of`` a spec tells how it was taken."""
    return [
        TakenReading(
            field,
            cell.text,
            cell.unit,
            cell.value,
            cell.left_out,
            each.reader if isinstance(each.reader, Instrument) else None,
            detail_of(each.spec),
        )
        for field, each in entry.specs.items()
        for cell in each.cells
        if cell.value is not None
    ]
