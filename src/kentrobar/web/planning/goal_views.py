"""From what a player wants to plans that reach it, one school at a time; the frame that suits it best.

A search is told as it goes: the page asks for school after school, or frame after frame, shows each
answer as it comes, and can be stopped. Each request solves for a few seconds at most.
"""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse, QueryDict
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET

from kentrobar.core.errors import KentrobarError
from kentrobar.core.goals import GOALS
from kentrobar.core.matching import Match
from kentrobar.core.plans import predict
from kentrobar.core.proposals import LEAST, SCHOOLS, Proposal, propose_by
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.queries import frames_of
from kentrobar.web.kit.numbers import shown_specs
from kentrobar.web.planning import services
from kentrobar.web.planning.board import LaidPiece
from kentrobar.web.planning.goal_forms import AimForm
from kentrobar.web.planning.goal_presenting import card, piece_text, reasons, specs
from kentrobar.web.planning.queries import shelf_of

MOST_PLATFORMS = 40
NEAREST = "nearest"  # beside the schools: what comes nearest where no plan reaches the target


def _frame(request: HttpRequest, pk: int) -> Frame:
    return get_object_or_404(frames_of(request.user).prefetch_related("fittings"), pk=pk)


def _form(request: HttpRequest, frame: Frame, data: QueryDict | None) -> AimForm:
    return AimForm(data, frame=frame, shelf=shelf_of(request.user), units=request.user.units)


@require_GET
def aim(request: HttpRequest, frame_pk: int) -> HttpResponse:
    """Targets by wish or by number; where a search is asked for, a place for each of its answers."""
    frame = _frame(request, frame_pk)
    search = request.GET.get("search", "")
    form = _form(request, frame, request.GET if search else None)
    goal = GOALS.get(request.GET.get("wish", ""))
    if goal and not search:
        form.wish(goal, form.now)
    context: dict[str, Any] = {
        "frame": frame, "form": form, "goals": GOALS.values(), "goal": goal,
        "now": [(s.name, s.value(getattr(form.now, s.key)), s.unit)
                for s in shown_specs(request.user.units)],
    }  # fmt: skip
    if not search:
        return render(request, "planning/aim.html", context)
    if form.is_valid():
        context |= _searches(request, frame)
    return render(request, "planning/aim.html", context, status=200 if form.is_valid() else 422)


def _searches(request: HttpRequest, frame: Frame) -> dict[str, Any]:
    """What the page asks for in turn: every school, or every frame that could serve."""
    query = request.GET.urlencode()
    if request.GET["search"] == "platform":
        frames = frames_of(request.user).filter(sport=frame.sport, specs__isnull=False)
        return {
            "platforms": [(f, f"/plans/platform/{f.pk}?{query}") for f in frames[:MOST_PLATFORMS]]
        }
    return {"schools": [(key, f"/plans/aim/{frame.pk}/{key}?{query}") for key in SCHOOLS]}


def _answer(
    request: HttpRequest, frame: Frame, key: str, data: QueryDict
) -> tuple[AimForm, Proposal | None, Match]:
    """One school's plan for what was typed. Raises KentrobarError, or Http404 for a form tampered with."""
    form = _form(request, frame, data)
    key = LEAST if key == NEAREST else key
    if key not in SCHOOLS or not form.is_valid():
        raise Http404
    proposal, found = propose_by(key, form.workpiece(), form.aim())
    return form, proposal, found


@require_GET
def school(request: HttpRequest, frame_pk: int, key: str) -> HttpResponse:
    """The plan of one school as a card; why there is none, for the school of least weight."""
    frame = _frame(request, frame_pk)
    units = request.user.units
    try:
        form, proposal, found = _answer(request, frame, key, request.GET)
    except KentrobarError as error:
        return render(request, "planning/_no_plan.html", {"reasons": [error.message]})
    if proposal:
        context = {
            "p": card(proposal, form, frame, units), "frame": frame, "typed": request.GET.items(),
        }  # fmt: skip
        return render(request, "planning/_proposal.html", context)
    if key != LEAST:
        return HttpResponse("")
    context: dict[str, Any] = {
        "reasons": reasons(found, frame, units), "found": found, "frame": frame,
        "typed": request.GET.items(),
    }  # fmt: skip
    if found.nearest:
        nearest = predict(
            frame.measured, found.nearest, length_cm=frame.length_cm,
            axis_cm=frame.measured.axis_cm, outline=frame.outline,
        )  # fmt: skip
        context["nearest"] = [piece_text(piece, frame, units) for piece in found.nearest]
        context["nearest_specs"] = specs(nearest, units)
    return render(request, "planning/_no_plan.html", context)


def lay(request: HttpRequest, frame_pk: int, key: str) -> HttpResponse:
    """Lay the plan of one school on the board."""
    if request.method != "POST":
        return redirect("planning:aim", frame_pk=frame_pk)
    frame = _frame(request, frame_pk)
    try:
        form, proposal, found = _answer(request, frame, key, request.POST)
    except KentrobarError as error:
        messages.error(request, error.message)
        return redirect("planning:aim", frame_pk=frame_pk)
    if proposal is None and key != NEAREST:
        raise Http404
    chosen = found.pieces if proposal else found.nearest
    pieces = []
    for number, piece in enumerate(chosen, 1):
        material = form.material_of(piece)
        pieces.append(LaidPiece(number, material.pk if material else None, piece))
    title = proposal.school.title if proposal else "The nearest"
    name = f"{title} for {frame.label}"[:80]
    plan = services.create_plan(frame, request.user, name=name, pieces=tuple(pieces))
    messages.success(request, f"“{name}” is laid; move and change it as you like.")
    return redirect("planning:board", pk=plan.pk)


@require_GET
def platform(request: HttpRequest, frame_pk: int) -> HttpResponse:
    """One frame's row in the search for the best platform: what it would take to reach the target."""
    frame = _frame(request, frame_pk)
    units = request.user.units
    asked = request.GET.copy()
    asked["search"] = "plans"
    row: dict[str, Any] = {"frame": frame, "query": asked.urlencode()}
    try:
        _, proposal, found = _answer(request, frame, LEAST, request.GET)
    except KentrobarError as error:
        row |= {"reasons": [error.message], "order": 1e6}
    else:
        row |= {"reasons": reasons(found, frame, units), "order": 1e5}
        if proposal:
            row |= {
                "added": f"{units.piece_mass_text(found.added_g)} {units.mass}",
                "order": found.added_g,
                "specs": specs(proposal.prediction, units),
            }
    return render(request, "planning/_platform.html", row)
