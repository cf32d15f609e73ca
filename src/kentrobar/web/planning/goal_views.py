"""From what a player wants to plans that reach it."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render

from kentrobar.core.errors import KentrobarError
from kentrobar.core.goals import GOALS
from kentrobar.core.matching import Match
from kentrobar.core.pieces import Piece, RimStrip, total_mass_g
from kentrobar.core.plans import predict
from kentrobar.core.proposals import Proposal, propose
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.queries import frames_of
from kentrobar.web.kit.numbers import Units, shown_specs
from kentrobar.web.planning import services
from kentrobar.web.planning.board import LaidPiece
from kentrobar.web.planning.goal_forms import AimForm
from kentrobar.web.planning.queries import shelf_of


def aim(request: HttpRequest, frame_pk: int) -> HttpResponse:
    """Targets by wish or by number; the plans that reach them; laying one of them."""
    frame = get_object_or_404(frames_of(request.user), pk=frame_pk)
    units, axis_cm = request.user.units, frame.measured.axis_cm
    now = predict(frame.measured, [], length_cm=frame.length_cm, axis_cm=axis_cm).before
    form = AimForm(request.POST or None, frame=frame, shelf=shelf_of(request.user), units=units)
    goal = GOALS.get(request.GET.get("wish", ""))
    if goal and request.method == "GET":
        form.wish(goal, now)
    context: dict[str, Any] = {
        "frame": frame, "form": form, "goals": GOALS.values(), "goal": goal, "axis_cm": axis_cm,
        "now": [(s.name, s.value(getattr(now, s.key)), s.unit) for s in shown_specs(units)],
    }  # fmt: skip
    status = 200
    if request.method == "POST":
        status = 422
        if form.is_valid():
            try:
                found, first = propose(
                    frame.measured, frame.outline, form.aim(axis_cm), form.supply()
                )
            except KentrobarError as error:
                form.add_error(None, error.message)
            else:
                chosen = next((p for p in found if p.key == request.POST.get("lay")), None)
                if chosen:
                    return _lay(request, frame, form, chosen)
                status = 200
                context |= _shown(found, first, frame, units, axis_cm)
    return render(request, "planning/aim.html", context, status=status)


def _lay(request: HttpRequest, frame: Frame, form: AimForm, chosen: Proposal) -> HttpResponse:
    tape, putty = form.cleaned_data["tape"], form.cleaned_data["putty"]
    pieces = tuple(
        LaidPiece(number, (tape if isinstance(piece, RimStrip) else putty).pk, piece)
        for number, piece in enumerate(chosen.pieces, 1)
    )
    name = f"{chosen.school.title} for {frame.label}"[:80]
    plan = services.create_plan(frame, request.user, name=name, pieces=pieces)
    messages.success(request, f"“{name}” is laid; move and change it as you like.")
    return redirect("planning:board", pk=plan.pk)


def _shown(
    found: list[Proposal], first: Match, frame: Frame, units: Units, axis_cm: float
) -> dict[str, Any]:
    shown: dict[str, Any] = {"asked": True, "reasons": first.reasons}
    shown["proposals"] = [
        {
            "key": p.key, "title": p.school.title, "reason": p.school.reason,
            "added": units.piece_mass_text(p.found.added_g), "unit": units.mass,
            "proven": p.found.is_proven, "visible": p.visible,
            "pieces": [_piece_text(piece, units) for piece in p.pieces],
            "specs": _specs(p.prediction, units),
        }
        for p in found
    ]  # fmt: skip
    if not found and first.nearest:
        nearest = predict(
            frame.measured, first.nearest, length_cm=frame.length_cm, axis_cm=axis_cm,
            outline=frame.outline,
        )  # fmt: skip
        shown["nearest"] = [_piece_text(piece, units) for piece in first.nearest]
        shown["nearest_specs"] = _specs(nearest, units)
    return shown


def _specs(prediction: Any, units: Units) -> list[dict[str, str]]:
    return [
        {
            "name": s.name, "unit": s.unit, "after": s.value(getattr(prediction.after, s.key)),
            "u": s.spread(getattr(prediction.after, s.key)),
            "change": s.change(getattr(prediction.change, s.key)),
        }
        for s in shown_specs(units)
    ]  # fmt: skip


def _piece_text(piece: Piece, units: Units) -> str:
    """A piece as it is cut and where it goes."""
    weight = f"{units.piece_mass_text(total_mass_g(piece))} {units.mass}"
    if isinstance(piece, RimStrip):
        length = f"{units.length_text(piece.length_cm.value)} {units.length}"
        sides = "2 × " if piece.mirrored else ""
        return f"{piece.label}: {sides}{length} at {piece.at}, {weight}"
    sides = ", half on either side" if getattr(piece, "mirrored", False) else ""
    return f"{piece.label}: {weight}{sides}"
