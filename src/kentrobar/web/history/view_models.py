"""The time line of a frame, as its page shows it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import TypedDict

from django.http import QueryDict
from django.urls import reverse

from kentrobar.core.body.specs import BALANCE, POINTS, READ, READ_BY_FIELD, Specs
from kentrobar.core.editing.stored import read_pieces
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.estimates import Quantity
from kentrobar.core.quantities.units import CM_PER_POINT, LENGTH, MASS, POINTS_UNIT, points_headlight
from kentrobar.core.weight.pieces import Piece
from kentrobar.web.bench.models import BenchEvent
from kentrobar.web.frames.models import Frame, SpecSheet
from kentrobar.web.history.applied import PieceOnFrame
from kentrobar.web.history.expecting import Expected
from kentrobar.web.history.queries import HistoryEvent, HistoryKind
from kentrobar.web.kit.numbers import ShownSpec, Units, read_specs, shown_specs
from kentrobar.web.kit.spec_rows import SpecCell, SpecRow, row_of, text_of
from kentrobar.web.showing.drawing import SmallDrawing, small_drawing
from kentrobar.web.showing.pieces import piece_text

Step = BenchEvent.EventKind


@dataclass(frozen=True, slots=True)
class ReadingView:
    """What a line tells of a reading besides that it was taken."""

    specs: list[str]
    build: str
    set_aside: str | None
    counts: bool
    back: str


@dataclass(frozen=True, slots=True)
class EventView:
    """One event as its line tells it: its mark, a sentence, where it leads."""

    kind: str
    at: datetime
    by: str
    text: str
    address: str
    reading: ReadingView | None


def event_view(event: HistoryEvent, frame: Frame, units: Units) -> EventView:
    """An event of a frame as the page shows it."""
    reading = _reading(event.of, frame, units) if event.kind is HistoryKind.READING else None
    return EventView(event.kind.value, event.at, event.by, *_sentence(event, frame, units), reading)


def _reading(sheet: SpecSheet, frame: Frame, units: Units) -> ReadingView:
    return ReadingView(
        specs_text(sheet, frame, units),
        sheet.setup_text,
        getattr(sheet, "set_aside", None),
        sheet.pk == frame.specs_id,
        back_to(sheet, frame, units),
    )


def _sentence(event: HistoryEvent, frame: Frame, units: Units) -> tuple[str, str]:
    job = {HistoryKind.JOB, HistoryKind.HANDED_OVER, HistoryKind.SIGNED_OFF}
    if event.kind in job:
        texts = {
            HistoryKind.JOB: f"job created: {event.text}",
            HistoryKind.HANDED_OVER: "collected",
            HistoryKind.SIGNED_OFF: f"signed off by {event.text}",
        }
        return texts[event.kind], reverse("orders:job", args=[event.key])
    match event.kind:
        case HistoryKind.READING:
            return "read", ""
        case HistoryKind.PLAN:
            return f"planned: {event.text}", reverse("planning:board", args=[event.key])
        case HistoryKind.STARTED:
            return f"bench work started: {event.text}", reverse("bench:work", args=[event.key])
        case HistoryKind.ENDED:
            return f"bench work finished: {event.text}", reverse("bench:work", args=[event.key])
        case HistoryKind.STEP:
            return _step(event.of, frame, units), reverse("bench:work", args=[event.key])
        case HistoryKind.FITTED:
            return f"{event.text} on", reverse("frames:fittings", args=[frame.pk])
        case HistoryKind.TAKEN_OFF:
            return f"{event.text} off", reverse("frames:fittings", args=[frame.pk])
        case HistoryKind.PLAYED:
            said = f": “{event.text}”" if event.text else ""
            return f"player feedback{said}", reverse("orders:follow_up", args=[event.key])
    return f"corrected: {event.text}", ""


def _step(step: BenchEvent, frame: Frame, units: Units) -> str:
    match Step(step.kind):
        case Step.READ:
            return "measured at the bench: " + ", ".join(
                f"{READ_BY_FIELD[each['spec']].noun} {each['text']} {each['unit']}"
                for each in step.data["readings"]
            )
        case Step.PERMANENT:
            return "secured"
        case Step.BELIEVED:
            return "a questioned reading was accepted"
    item = step.data or next((i for i in step.work.pieces if i["id"] == step.piece), None)
    what = piece_text(read_pieces([item])[0].piece, frame, units) if item else "a piece"
    return f"{step.get_kind_display()}: {what}"


def specs_text(sheet: SpecSheet, frame: Frame, units: Units) -> list[str]:
    """What was read, spec by spec, in the person's units."""
    found = []
    for spec in read_specs(units):
        quantity = _quantity(sheet, spec, frame)
        if quantity:
            unit = "" if spec.key == POINTS.key else f" {spec.unit}"
            found.append(f"{spec.name.lower()} {spec.value(quantity)}{unit}")
    return found


def _quantity(sheet: SpecSheet, spec: ShownSpec, frame: Frame) -> Quantity:
    quantity: Quantity = getattr(sheet.measured, spec.read_key)
    if spec.key == POINTS.key:
        return quantity.map(lambda cm: points_headlight(cm, frame.length_cm), 1 / CM_PER_POINT)
    return quantity


def back_to(sheet: SpecSheet, frame: Frame, units: Units) -> str:
    """Where a plan is sought that leads back to these specs; "" where they count now."""
    if sheet.pk == frame.specs_id or frame.specs is None or sheet.axis_cm != frame.specs.axis_cm:
        return ""
    query = QueryDict(mutable=True)
    for spec in READ:
        quantity = sheet.measured.of(spec)
        if quantity:
            unit, value = spec.unit, quantity.value
            if spec.dimension is MASS:
                unit, value = units.mass, MASS.from_base(value, units.mass)
            elif spec is BALANCE:
                unit = "cm" if units.balance == POINTS_UNIT else units.balance
                value = LENGTH.from_base(value, unit)
            query[f"{spec.field}_0"], query[f"{spec.field}_1"] = f"{value:.6g}", unit
    return f"{reverse('planning:target', args=[frame.pk])}?{query.urlencode()}"


class DatedPoint(TypedDict):
    """A reading of one spec: when, how much, ±."""

    x: float
    y: float
    u: float


class ChartLine(TypedDict):
    """One spec over time, apart by build."""

    name: str
    unit: str
    builds: dict[str, list[DatedPoint]]


class ChartMark(TypedDict):
    """What happened in between."""

    at: float
    text: str


class Charts(TypedDict):
    """All that the script draws; times in milliseconds."""

    lines: list[ChartLine]
    marks: list[ChartMark]


def charts(sheets: Sequence[SpecSheet], events: Sequence[HistoryEvent], frame: Frame, units: Units) -> Charts:
    """Each spec that was read twice in one build, with what happened in between."""
    marks: list[ChartMark] = [
        {"at": _ms(event.at), "text": event.text or event.kind.value}
        for event in events
        if event.kind
        in (HistoryKind.ENDED, HistoryKind.FITTED, HistoryKind.TAKEN_OFF, HistoryKind.HANDED_OVER)
    ]
    lines: list[ChartLine] = []
    for spec in read_specs(units):
        points: dict[str, list[DatedPoint]] = {}
        for sheet in reversed(sheets):
            quantity = _quantity(sheet, spec, frame)
            if quantity and not getattr(sheet, "set_aside", None):
                points.setdefault(sheet.setup_text, []).append(
                    {
                        "x": _ms(sheet.taken_at),
                        "y": round(quantity.value * spec.factor, spec.decimals + 2),
                        "u": round(quantity.u * abs(spec.factor), spec.decimals + 2),
                    }
                )
        if any(len(each) > 1 for each in points.values()):
            lines.append({"name": spec.name, "unit": spec.unit, "builds": points})
    return {"lines": lines, "marks": marks}


def _ms(at: datetime) -> float:
    return at.timestamp() * 1000


@dataclass(frozen=True, slots=True)
class AppliedView:
    """What is on the frame now, each piece with its text, and its drawing where it can be drawn."""

    drawing: SmallDrawing | None
    pieces: list[tuple[PieceOnFrame, str]]


def applied_view(pieces_on: Sequence[PieceOnFrame], frame: Frame, units: Units) -> AppliedView:
    """What is on a frame as the page shows it."""
    pieces = [each.piece for each in pieces_on]
    try:
        drawing = small_drawing(
            pieces, frame.outline, frame.measured.balance_cm, f"Weight on {frame.label} now"
        )
    except KentrobarError:  # its outline was changed since: the pieces have no place any more
        drawing = None
    return AppliedView(drawing, [(each, _piece_text(each.piece, frame, units)) for each in pieces_on])


def _piece_text(piece: Piece, frame: Frame, units: Units) -> str:
    of_tape = f"{piece.material}: " if piece.is_strip and piece.material else ""
    return of_tape + piece_text(piece, frame, units)


@dataclass(frozen=True, slots=True)
class ExpectedView:
    """What to expect since a frame's fittings changed."""

    expected: Expected
    rows: list[SpecRow]


def expected_view(expected: Expected, units: Units) -> ExpectedView:
    """What is expected as the page shows it."""
    return ExpectedView(
        expected,
        [
            row_of(spec, SpecCell(text_of(spec, after)))
            for spec in shown_specs(units)
            if _of(expected.before, spec) and (after := _of(expected.after, spec))
        ],
    )


def _of(specs: Specs | None, spec: ShownSpec) -> Quantity | None:
    return getattr(specs, spec.key, None)
