"""Frames side by side: in one build, about one axis, with the gap to the first of them."""

from __future__ import annotations

from typing import NamedTuple

from kentrobar.core.body.ranges import USUAL_AXIS_CM
from kentrobar.core.body.specs import Specs
from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.reading.comparing import FeltRule, gap, gap_of
from kentrobar.core.weight.builds import Build, BuildChange, Fitting, change_build
from kentrobar.core.weight.prediction import as_measured, predict
from kentrobar.web.frames.builds import fitted_at, fittings_in, in_build
from kentrobar.web.frames.models import Frame, SpecSheet
from kentrobar.web.kit.numbers import ShownSpec, Units, shown_specs
from kentrobar.web.kit.spec_rows import GapText, ReferenceStrip, SpecCell, SpecRow, gap_text, row_of, text_of

AS_READ = "read"
MOST_COMPARED = 8


class FrameInSetup(NamedTuple):
    """One frame in one build."""

    frame: Frame
    build: str
    fitted: list[Fitting]
    change: BuildChange
    converted: bool
    note: str

    @property
    def specs(self) -> Specs:
        """Its specs in this build."""
        return self.change.prediction.after

    @property
    def about_usual_axis(self) -> Specs:
        """The same about the usual axis of its sport."""
        axis_cm, outline = USUAL_AXIS_CM[Sport(self.frame.sport)], self.frame.outline
        measured = as_measured(self.change.prediction)
        return predict(measured, [], length_cm=outline.length_cm, axis_cm=axis_cm).before


def compared(frame: Frame, build: str, axis_cm: float, sheet: SpecSheet | None = None) -> FrameInSetup:
    """The frame's specs in a build; as read where it cannot be converted, which the note says.

    From the readings that count, or from those of ``sheet``.
    """
    sheet = sheet or frame.specs
    read = str(sheet.build) if sheet else Build.PLAYING.value
    fitted = fitted_at(frame, sheet) if sheet else []
    wanted, note = fitted, ""
    if build in (AS_READ, read):
        build = read
    elif frame.fittings.all():
        wanted = fittings_in(frame, build)
    else:
        note, build = "Its fittings are unknown, so it is shown as measured.", read
    try:
        change = in_build(frame, build, wanted, axis_cm, sheet)
    except KentrobarError as error:
        as_read = in_build(frame, read, fitted, axis_cm, sheet)
        return FrameInSetup(frame, read, fitted, as_read, False, error.message)
    return FrameInSetup(frame, build, wanted, change, build != read, note)


def table(
    columns: list[FrameInSetup], strips: list[dict[str, ReferenceStrip]], units: Units, rule: FeltRule
) -> list[SpecRow]:
    """A row a spec: every frame's value, its gap to the first frame, where it stands among others."""
    changes = [_change_of_build(columns[0], column) for column in columns]
    sports = {column.frame.sport for column in columns}
    units = units.of_sport(sports.pop()) if len(sports) == 1 else units
    return [
        row_of(
            spec,
            *(
                SpecCell(
                    text_of(spec, getattr(column.specs, spec.key)),
                    gap=None
                    if column is columns[0]
                    else _gap_of(spec, columns[0], column, change, units, rule),
                    strip=of.get(spec.key),
                )
                for column, change, of in zip(columns, changes, strips, strict=True)
            ),
        )
        for spec in shown_specs(units)
    ]


def _gap_of(
    spec: ShownSpec,
    first: FrameInSetup,
    column: FrameInSetup,
    change: Specs | None,
    units: Units,
    rule: FeltRule,
) -> GapText:
    was = getattr(first.specs, spec.key)
    if change:
        found = gap_of(spec.key, getattr(change, spec.key), rule)
    else:
        found = gap(spec.key, was, getattr(column.specs, spec.key), rule)
    percent = units.of_sport(column.frame.sport).percent
    return gap_text(spec, found, spec.percent(was, found.difference) if percent else "")


def _change_of_build(first: FrameInSetup, other: FrameInSetup) -> Specs | None:
    """Between two builds of one frame only the fittings differ, and only their ± counts."""
    if first.frame.pk != other.frame.pk:
        return None
    start = first.change.measured
    outline, axis_cm = first.frame.outline, first.specs.axis_cm
    changed = change_build(start, first.fitted, other.fitted, outline=outline, axis_cm=axis_cm)
    return changed.prediction.change
