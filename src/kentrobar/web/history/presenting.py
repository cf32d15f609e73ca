"""What the time line of a frame tells."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.http import QueryDict
from django.urls import reverse

from kentrobar.core.body.specs import BALANCE, POINTS, READ, READ_BY_FIELD, Specs
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.estimates import Estimate, Quantity
from kentrobar.core.quantities.units import CM_PER_POINT, LENGTH, MASS, points_headlight
from kentrobar.web.bench.models import BenchEvent
from kentrobar.web.frames.models import Frame, SpecSheet
from kentrobar.web.history.expecting import Expected
from kentrobar.web.history.lying import Lying
from kentrobar.web.history.queries import HistoryEvent, Kind
from kentrobar.web.kit.numbers import ShownSpec, Units, read_specs, shown_specs
from kentrobar.web.planning.showing.drawing import small_drawing
from kentrobar.web.planning.stored import read_pieces
from kentrobar.web.planning.wish.presenting import piece_text

Step = BenchEvent.Kind


def event_shown(event: HistoryEvent, frame: Frame, units: Units) -> dict[str, Any]:
    """One event as its line tells it: its mark, a sentence, where it leads."""
    text, address = _sentence(event, frame, units)
    shown: dict[str, Any] = {"kind": event.kind.value, "at": event.at, "by": event.by, "text": text}
    shown["address"] = address
    if event.kind is Kind.READING:
        sheet: SpecSheet = event.of
        shown |= {"specs": specs_text(sheet, frame, units), "build": sheet.get_build_display(),
                  "set_aside": getattr(sheet, "set_aside", None), "counts": sheet.pk == frame.specs_id,
                  "back": back_to(sheet, frame, units)}  # fmt: skip
    return shown


def _sentence(event: HistoryEvent, frame: Frame, units: Units) -> tuple[str, str]:
    job = {Kind.JOB, Kind.HANDED_OVER, Kind.SIGNED_OFF}
    if event.kind in job:
        told = {
            Kind.JOB: f"a job was taken on: {event.text}",
            Kind.HANDED_OVER: "handed over",
            Kind.SIGNED_OFF: f"signed off by {event.text}",
        }
        return told[event.kind], reverse("orders:job", args=[event.key])
    match event.kind:
        case Kind.READING:
            return "read", ""
        case Kind.PLAN:
            return f"planned: {event.text}", reverse("planning:board", args=[event.key])
        case Kind.STARTED:
            return f"to the bench: {event.text}", reverse("bench:work", args=[event.key])
        case Kind.ENDED:
            return f"done at the bench: {event.text}", reverse("bench:work", args=[event.key])
        case Kind.STEP:
            return _step(event.of, frame, units), reverse("bench:work", args=[event.key])
        case Kind.FITTED:
            return f"{event.text} on", reverse("frames:fittings", args=[frame.pk])
        case Kind.TAKEN_OFF:
            return f"{event.text} off", reverse("frames:fittings", args=[frame.pk])
        case Kind.PLAYED:
            said = f": “{event.text}”" if event.text else ""
            return f"the player said how it plays{said}", reverse(
                "orders:follow_up", args=[event.key]
            )
    return f"corrected: {event.text}", ""


def _step(step: BenchEvent, frame: Frame, units: Units) -> str:
    match Step(step.kind):
        case Step.READ:
            return "read at the bench: " + ", ".join(
                f"{READ_BY_FIELD[name].noun} {typed['text']} {typed['unit']}"
                for name, typed in step.data.get("typed", {}).items() if name in READ_BY_FIELD
            )  # fmt: skip
        case Step.PERMANENT:
            return "made permanent"
        case Step.BELIEVED:
            return "a reading that was questioned counts all the same"
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
    if spec.key == POINTS.key and quantity:
        return Estimate(
            points_headlight(quantity.value, frame.length_cm), quantity.u / CM_PER_POINT
        )
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
                unit = "cm" if units.balance == "pt" else units.balance
                value = LENGTH.from_base(value, unit)
            query[f"{spec.field}_0"], query[f"{spec.field}_1"] = f"{value:.6g}", unit
    return f"{reverse('planning:aim', args=[frame.pk])}?{query.urlencode()}"


def charts(
    sheets: Sequence[SpecSheet], events: Sequence[HistoryEvent], frame: Frame, units: Units
) -> dict[str, Any]:
    """Each spec over time, apart by build, with what happened in between; times in milliseconds."""
    marks = [
        {"at": _ms(event), "text": event.text or event.kind.value}
        for event in events if event.kind in (Kind.ENDED, Kind.FITTED, Kind.TAKEN_OFF, Kind.HANDED_OVER)
    ]  # fmt: skip
    lines = []
    for spec in read_specs(units):
        points: dict[str, list[dict[str, Any]]] = {}
        for sheet in reversed(sheets):
            quantity = _quantity(sheet, spec, frame)
            if quantity and not getattr(sheet, "set_aside", None):
                points.setdefault(sheet.get_build_display(), []).append({
                    "x": sheet.taken_at.timestamp() * 1000,
                    "y": round(quantity.value * spec.factor, spec.decimals + 2),
                    "u": round(quantity.u * abs(spec.factor), spec.decimals + 2),
                })  # fmt: skip
        if any(len(each) > 1 for each in points.values()):
            lines.append({"name": spec.name, "unit": spec.unit, "builds": points})
    return {"lines": lines, "marks": marks}


def _ms(event: HistoryEvent) -> float:
    return event.at.timestamp() * 1000


def lying_shown(lying: Sequence[Lying], frame: Frame, units: Units) -> dict[str, Any]:
    """What lies on the frame now, with its drawing."""
    outline = frame.outline
    pieces = [each.piece for each in lying]
    try:
        drawing = small_drawing(
            pieces, outline, frame.measured.balance_cm, f"What lies on {frame.label} now"
        )
    except KentrobarError:  # its outline was changed since: the pieces have no place any more
        drawing = None
    return {
        "drawing": drawing,
        "lying": [(each, f"{each.piece.material}: " * bool(each.piece.is_strip and each.piece.material)
                   + piece_text(each.piece, frame, units)) for each in lying],
    }  # fmt: skip


def expected_shown(expected: Expected, units: Units) -> dict[str, Any]:
    """What to expect since its fittings changed."""
    return {
        "on": expected.on, "off": expected.off, "cannot": expected.cannot, "sets": expected.sets,
        "rows": [
            {"name": spec.name, "unit": spec.unit, "before": spec.value(before), "after": spec.value(after),
             "u": spec.spread(after)}
            for spec in shown_specs(units)
            if (before := _of(expected.before, spec))
            and (after := _of(expected.after, spec))
        ],
    }  # fmt: skip


def _of(specs: Specs | None, spec: ShownSpec) -> Quantity | None:
    return getattr(specs, spec.key, None)
