"""Specs on a page: one kind of row on every page that shows frames or plans spec by spec.

A row is one spec; a cell is what one frame or plan has of it. The templates ``kit/_spec_name.html`` and
``kit/_spec_cell.html`` show them, so that a spec reads the same on every page.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Final, NamedTuple

from kentrobar.core.body.specs import POINTS, SWING_WEIGHT, Specs
from kentrobar.core.quantities.estimates import Estimate, Quantity
from kentrobar.core.reading.comparing import Gap, Verdict
from kentrobar.core.weight.further import FurtherSpecs
from kentrobar.web.kit.numbers import ShownSpec, Units, beside_balance


class SpecText(NamedTuple):
    """A quantity as it is written: number, ±, and a balance counted the other way beside it."""

    value: str = ""
    u: str = ""
    beside: str = ""

    def __str__(self) -> str:
        return f"{self.value} {self.u}".rstrip()


NO_TEXT: Final = SpecText()


class GapText(NamedTuple):
    """How far a value is from the one it is held against; ``verdict`` is empty where nothing is said."""

    by: SpecText
    verdict: str
    is_felt: bool = False
    is_within: bool = False
    percent: str = ""

    @property
    def is_real(self) -> bool:
        """Whether it is beyond what the readings can be off by."""
        return self.verdict == Verdict.REAL

    @property
    def words(self) -> str:
        """What is said of it."""
        if self.is_within:
            return "within"
        return f"{self.verdict}, likely felt" if self.is_felt else self.verdict


class TargetText(NamedTuple):
    """What a spec is to become: centre with its unit, tolerance, and whether it does (None: not known).

    ``off`` is by how much it does not; ``about`` names the axis where it is another than the page's.
    """

    centre: str
    tolerance: str = ""
    is_within: bool | None = None
    off: str = ""
    about: str = ""

    def __str__(self) -> str:
        return f"{self.centre} ± {self.tolerance}{self.about}" if self.tolerance else self.centre

    @property
    def words(self) -> str:
        """Whether it is met, or by how much it is missed."""
        if self.is_within:
            return "within"
        return f"{self.off} off" if self.off else ""


@dataclass(frozen=True, slots=True)
class ReferenceStrip:
    """Where a value stands among others: positions along a strip from 0 to 100, and the same in words."""

    band: float
    width: float
    dots: Sequence[float]
    before: float | None
    now: float
    standing: str
    range: str
    words: str = ""

    @property
    def count(self) -> int:
        """How many others are shown."""
        return len(self.dots)


@dataclass(frozen=True, slots=True)
class SpecCell:
    """One frame's or plan's part of a row."""

    now: SpecText
    before: SpecText = NO_TEXT
    change: SpecText = NO_TEXT
    percent: str = ""
    gap: GapText | None = None
    strip: ReferenceStrip | None = None


@dataclass(frozen=True, slots=True)
class SpecRow:
    """One spec of one or several frames or plans; ``missing`` says what would make it known."""

    key: str
    name: str
    unit: str
    cells: Sequence[SpecCell] = field(default=())
    axis: str = ""
    target: TargetText | None = None
    missing: str = ""

    @property
    def cell(self) -> SpecCell:
        """The cell of a row with but one."""
        return self.cells[0]


def row_of(
    spec: ShownSpec,
    *cells: SpecCell,
    axis: str = "",
    target: TargetText | None = None,
    missing: str = "",
    has_sides: bool = False,
) -> SpecRow:
    """A row of these cells; only a swing weight has an axis.

    ``has_sides``: points have their side beside them, and so need no unit beside the name.
    """
    about = axis if spec.key == SWING_WEIGHT.key else ""
    unit = "" if has_sides and spec.key == POINTS.key else spec.unit
    return SpecRow(spec.key, spec.name, unit, cells, about, target, missing)


def text_of(spec: ShownSpec, quantity: Quantity, beside: str = "") -> SpecText:
    """A value of a spec."""
    return SpecText(spec.value(quantity), spec.spread(quantity), beside)


def change_of(spec: ShownSpec, quantity: Quantity, beside: str = "") -> SpecText:
    """A change of a spec, with its sign."""
    return SpecText(spec.change(quantity), spec.spread(quantity), beside)


def cell_of(
    spec: ShownSpec,
    before: Specs | FurtherSpecs | None,
    after: Specs | FurtherSpecs,
    change: Specs | FurtherSpecs | None,
    units: Units,
    *,
    strip: ReferenceStrip | None = None,
) -> SpecCell:
    """What a spec was, becomes, and changes by."""
    by: Quantity | None = getattr(change, spec.key, None)
    was: Quantity | None = getattr(before, spec.key, None)

    def beside(specs: Specs | FurtherSpecs, *, is_change: bool = False) -> str:
        if not (spec.is_balance and isinstance(specs, Specs)):
            return ""
        return beside_balance(specs, units, change=is_change)

    return SpecCell(
        now=text_of(spec, getattr(after, spec.key), beside(after)),
        before=NO_TEXT if before is None or was is None else text_of(spec, was, beside(before)),
        change=NO_TEXT
        if change is None or by is None
        else change_of(spec, by, beside(change, is_change=True)),
        percent=spec.percent(_before(getattr(after, spec.key), by), by) if units.percent and by else "",
        strip=strip,
    )


def _before(after: Quantity, change: Quantity) -> Quantity:
    """What a value was before it changed."""
    return Estimate(after.value - change.value) if after and change else after


def gap_text(spec: ShownSpec, gap: Gap, percent: str = "") -> GapText:
    """A gap between two frames, with what is to be made of it."""
    return GapText(change_of(spec, gap.difference), gap.verdict.value, gap.likely_felt, percent=percent)
