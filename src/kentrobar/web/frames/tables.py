"""The list of frames: its columns, how it is sorted, a page of its rows."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final, NamedTuple

from django.core.paginator import Page, Paginator
from django.db.models import F, QuerySet
from django.http import QueryDict

from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import POINTS_UNIT, points_headlight
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.numbers import Units, points_text, shown_specs

PER_PAGE: Final = 50


class ListColumn(NamedTuple):
    """What a column is sorted by, by its name in an address; ``css`` may leave it out on a phone."""

    title: str
    name: str
    path: str
    css: str = ""


COLUMNS: Final = (
    ListColumn("Frame", "label", "label"),
    ListColumn("Player", "player", "client__name", "on-wide"),
    ListColumn("Sport", "sport", "sport", "on-wide"),
    ListColumn("Static weight", "mass", "specs__mass_g", "number"),
    ListColumn("Balance", "balance", "specs__balance_cm", "number"),
    ListColumn("Swing weight", "swingweight", "specs__swingweight_kgcm2", "number"),
    ListColumn("Twist weight", "twistweight", "specs__twistweight_kgcm2", "number on-wide"),
    ListColumn("Read in", "build", "specs__build", "on-wide"),
    ListColumn("Plans", "plan_count", "plan_count", "number on-wide"),
)


@dataclass(frozen=True, slots=True)
class Heading:
    """The head of a column: a click sorts by it, the next the other way round."""

    column: ListColumn
    sort: str
    direction: str  # as a reader is told: ascending, descending or none


@dataclass(frozen=True, slots=True)
class FrameLine:
    """A frame as its row tells it; what was not read is empty."""

    frame: Frame
    is_marked: bool = False
    build: str = "–"
    mass: str = ""
    balance: str = ""
    points: str = ""
    swing: str = ""
    axis: str = ""
    twist: str = ""


@dataclass(frozen=True, slots=True)
class FrameTable:
    """One page of the list."""

    headings: Sequence[Heading]
    lines: Sequence[FrameLine]
    page: Page[Frame]


def frame_table(frames: QuerySet[Frame], query: QueryDict, units: Units) -> FrameTable:
    """The page that is asked for, sorted as asked, the nearest where there is none of that number."""
    sort = query.get("sort", "")
    column = next((each for each in COLUMNS if each.name == sort.lstrip("-")), None)
    if column is not None:
        path = F(column.path)
        is_last = sort.startswith("-")
        order = path.desc(nulls_last=True) if is_last else path.asc(nulls_last=True)
        frames = frames.order_by(order, "pk")
    page = Paginator(frames, PER_PAGE).get_page(query.get("page", ""))
    marked = set(query.getlist("marked"))
    lines = [line_of(frame, units, is_marked=str(frame.pk) in marked) for frame in page.object_list]
    return FrameTable([_heading(each, sort) for each in COLUMNS], lines, page)


def _heading(column: ListColumn, sort: str) -> Heading:
    is_first, is_last = sort == column.name, sort == f"-{column.name}"
    direction = "ascending" if is_first else "descending" if is_last else "none"
    return Heading(column, f"-{column.name}" if is_first else column.name, direction)


def line_of(frame: Frame, units: Units, *, is_marked: bool = False) -> FrameLine:
    """A frame as its row tells it."""
    sheet = frame.specs
    if sheet is None:
        return FrameLine(frame, is_marked)
    shown = {spec.key: spec for spec in shown_specs(units)}

    def text(key: str, value: float | None) -> str:
        return "" if value is None else shown[key].value(Estimate(value))

    points = balance = ""
    if sheet.balance_cm is not None:
        points = points_text(points_headlight(sheet.balance_cm, frame.length_cm))
        balance = points
        if units.balance != POINTS_UNIT:
            balance = f"{text('balance_cm', sheet.balance_cm)} {units.balance}"
    return FrameLine(
        frame,
        is_marked,
        sheet.setup_text,
        "" if sheet.mass_g is None else f"{text('mass_g', sheet.mass_g)} {units.mass}",
        balance,
        "" if units.balance == POINTS_UNIT else points,
        text("swingweight_kgcm2", sheet.swingweight_kgcm2),
        units.axis_text(sheet.axis_cm),
        text("twistweight_kgcm2", sheet.twistweight_kgcm2),
    )
