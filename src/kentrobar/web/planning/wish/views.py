"""From what a player wants to plans that reach it, one school at a time; the frame that suits it best.

A search is told as it goes: the page asks for school after school, or frame after frame, shows each
answer as it comes, and can be stopped. Each request solves for a few seconds at most.
"""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import Http404, HttpResponse, QueryDict
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.solving.goals import GENTLER, GOALS, Goal, goals_for
from kentrobar.core.solving.matching import Match
from kentrobar.core.solving.proposals import LEAST, SCHOOLS, Proposal, propose_by
from kentrobar.web.frames import services as frames
from kentrobar.web.frames.baselines import strains_of
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.queries import frames_with_fittings
from kentrobar.web.kit.numbers import shown_specs
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.planning import services
from kentrobar.web.planning.wish.forms import AllowedPositionsForm, TargetForm
from kentrobar.web.planning.wish.presenting import (
    card,
    coarse_readings,
    no_plan,
    reasons,
    specs,
    wish_strain,
)
from kentrobar.web.planning.wish.signed_proposal import unpack
from kentrobar.web.shops.requests import SignedIn

PLATFORMS_AT_ONCE = 40


def _frame(request: SignedIn, pk: int) -> Frame:
    return get_object_or_404(frames_with_fittings(request.user), pk=pk)


def _form(request: SignedIn, frame: Frame, data: QueryDict | None) -> TargetForm:
    return TargetForm(data, frame=frame, shelf=shelf_of(request.user), units=request.user.units)


@require_GET
def aim(request: SignedIn, frame_pk: int) -> HttpResponse:
    """Targets by wish or by number; where a search is asked for, a place for each of its answers."""
    frame, search = _frame(request, frame_pk), request.GET.get("search", "")
    form = _form(request, frame, request.GET if search else None)
    goal = _goal(request, frame)
    if goal and not search:
        form.wish(goal, form.now)
    form.start_from(request.GET)
    context: dict[str, Any] = {
        "frame": frame, "form": form, "goals": goals_for(bool(strains_of(frame))), "goal": goal,
        "strain": wish_strain(frame, form, request.user.units),
        "now": [(s.name, s.value(getattr(form.now, s.key)), s.unit)
                for s in shown_specs(request.user.units)],
    }  # fmt: skip
    if search and form.is_valid():
        context |= _searches(request, frame)
        context["strain"] = wish_strain(frame, form, request.user.units)
        context["coarse"] = coarse_readings(frame, form.target(), request.user.units)
    status = 422 if search and not form.is_valid() else 200
    return render(request, "planning/aim.html", context, status=status)


def _goal(request: SignedIn, frame: Frame) -> Goal | None:
    """The wish that is asked for; where nothing is, for who told of strain the gentler one."""
    if not request.GET and strains_of(frame):
        return GOALS[GENTLER]
    return GOALS.get(request.GET.get("wish", ""))


def _searches(request: SignedIn, frame: Frame) -> dict[str, Any]:
    """What the page asks for in turn: every school, or every frame that could serve."""
    query = request.GET.urlencode()
    if request.GET["search"] == "platform":
        frames = frames_with_fittings(request.user).filter(
            sport=frame.sport, specs__isnull=False, archived_at=None
        )
        page = Paginator(frames, PLATFORMS_AT_ONCE).get_page(request.GET.get("page"))
        return {
            "platforms": [
                (each, f"{reverse('planning:platform', args=[each.pk])}?{query}") for each in page
            ],
            "page": page,
            "further": _at_page(request.GET, page.number + 1) if page.has_next() else "",
        }
    return {
        "schools": [
            (key, f"{reverse('planning:school', args=[frame.pk, key])}?{query}") for key in SCHOOLS
        ]
    }


def _at_page(asked: QueryDict, number: int) -> str:
    """What was asked, of another page."""
    other = asked.copy()
    other["page"] = str(number)
    return other.urlencode()


@require_POST
def remember_places(request: SignedIn, frame_pk: int) -> HttpResponse:
    """Keep the places that are ticked with the frame, and say so."""
    frame = _frame(request, frame_pk)
    form = AllowedPositionsForm(request.POST, frame=frame)
    if form.is_valid():
        frames.remember_places(frame, form.cleaned_data["places"], form.allowed.hoop.value)
    return render(request, "planning/_places_kept.html", {"form": form, "frame": frame})


def _answer(request: SignedIn, frame: Frame, key: str) -> tuple[TargetForm, Proposal | None, Match]:
    """One school's plan for what was typed. Raises KentrobarError, or Http404 for a form tampered with."""
    form = _form(request, frame, request.GET)
    if key not in SCHOOLS or not form.is_valid():
        raise Http404
    proposal, found = propose_by(key, form.workpiece(), form.target())
    return form, proposal, found


@require_GET
def school(request: SignedIn, frame_pk: int, key: str) -> HttpResponse:
    """The plan of one school as a card; why there is none, for the school of least weight."""
    frame, units = _frame(request, frame_pk), request.user.units
    try:
        form, proposal, found = _answer(request, frame, key)
    except KentrobarError as error:
        return render(
            request, "planning/_no_plan.html", {"reasons": [error.message], "frame": frame}
        )
    if proposal:
        shown = card(proposal, form.shelf, frame, units, form.target())
        context = {"p": shown, "frame": frame}
        return render(request, "planning/_proposal.html", context)
    if key != LEAST:
        return HttpResponse("")
    context = no_plan(found, frame, units, form.target()) | {"frame": frame}
    return render(request, "planning/_no_plan.html", context)


def lay(request: SignedIn, frame_pk: int) -> HttpResponse:
    """Lay on the board what a card showed; nothing is solved again."""
    if request.method != "POST":
        return redirect("planning:aim", frame_pk=frame_pk)
    frame = _frame(request, frame_pk)
    try:
        title, pieces, target = unpack(frame, request.POST.get("carried", ""))
    except KentrobarError as error:
        messages.error(request, error.message)
        return redirect("planning:aim", frame_pk=frame_pk)
    name = f"{title} for {frame.label}"[:80]
    plan = services.create_plan(frame, request.user, name=name, pieces=pieces, target=target)
    messages.success(request, f"“{name}” is laid; move and change it as you like.")
    return redirect("planning:board", pk=plan.pk)


@require_GET
def platform(request: SignedIn, frame_pk: int) -> HttpResponse:
    """One frame's row in the search for the best platform: what it would take to reach the target."""
    frame, units = _frame(request, frame_pk), request.user.units
    asked = request.GET.copy()
    asked["search"] = "plans"
    row: dict[str, Any] = {"frame": frame, "query": asked.urlencode()}
    try:
        _, proposal, found = _answer(request, frame, LEAST)
    except KentrobarError as error:
        row |= {"reasons": [error.message], "order": 1e6}
        return render(request, "planning/_platform.html", row)
    row |= {"reasons": reasons(found, frame, units), "order": 1e5}
    if proposal:
        added = f"{units.piece_mass_text(found.added_g)} {units.mass}"
        row |= {
            "added": added,
            "order": found.added_g,
            "specs": specs(proposal.prediction, frame, units),
        }
    return render(request, "planning/_platform.html", row)
