"""The pages and parts of pages that show what a hit does."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, render
from django.views.decorators.http import require_GET, require_POST

from kentrobar.core.editing.plan import PlanState
from kentrobar.core.play.hits import hit_centre
from kentrobar.core.quantities.errors import KentrobarError, SpecError
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.queries import frames_with_fittings
from kentrobar.web.kit.numbers import Units
from kentrobar.web.kit.requests import Sent
from kentrobar.web.planning.hand.actions import act
from kentrobar.web.planning.hand.requests import asked_of
from kentrobar.web.planning.queries import plan_in_hand, plans_in_full
from kentrobar.web.planning.showing.compare import chosen
from kentrobar.web.planning.showing.drawing import x_mm
from kentrobar.web.planning.stored import laid_plan
from kentrobar.web.play.impact.asking import HitForm
from kentrobar.web.play.impact.common_claims import answered
from kentrobar.web.play.impact.presenting import shown
from kentrobar.web.play.impact.setting import bare_plan, impact_of
from kentrobar.web.play.queries import latest_hits
from kentrobar.web.shops.requests import SignedIn


@require_GET
def frame(request: SignedIn, pk: int) -> HttpResponse:
    """A frame as it is, under a hit."""
    of = get_object_or_404(frames_with_fittings(request.user), pk=pk)
    return _page(request, bare_plan(of), {"frame": of})


@require_GET
def plan(request: SignedIn, pk: int) -> HttpResponse:
    """A plan under a hit, on a page of its own."""
    of = get_object_or_404(plans_in_full(request.user), pk=pk)
    return _page(request, laid_plan(of), {"frame": of.frame, "plan": of})


def _page(request: SignedIn, plan: PlanState, about: dict[str, Any]) -> HttpResponse:
    template = "play/_hit.html" if request.htmx else "play/hit.html"
    units = request.user.units
    context = hit_context(plan, request.GET, units) | {"sayings": answered(plan, units)}
    if "map" in context:
        context["map"] |= _hits_shown(about["frame"], context["form"].stroke_key)
    return render(request, template, context | about | {"address": request.path})


def _hits_shown(frame: Frame, stroke: str) -> dict[str, Any]:
    """Where the player's hits have their middle, if they were marked."""
    centre = hit_centre(latest_hits(frame, stroke))
    return {"hits_x": x_mm(centre.y_cm.value)} if centre else {}


@require_POST
def follow(request: SignedIn, pk: int) -> HttpResponse:
    """The map as an action of the board would make it, nothing saved."""
    held = plan_in_hand(request.user, pk)
    if held is None:
        return HttpResponse(status=404)
    try:
        moved = act(request.POST.get("action", ""), asked_of(request, held)).plan
    except KentrobarError:
        return HttpResponse(status=204)  # the board itself says why
    return render(request, "play/_shown.html", hit_context(moved, request.POST, request.user.units))


@require_GET
def compare(request: SignedIn) -> HttpResponse:
    """Plans under one hit, side by side."""
    plans, _ = chosen(request)
    columns = [
        {"plan": each} | hit_context(laid_plan(each), request.GET, request.user.units, f"map-{each.pk}")
        for each in plans
    ]
    told = [column["rows"] for column in columns if "rows" in column]
    rows = [replace(rows[0], cells=[row.cell for row in rows]) for rows in zip(*told, strict=True)]
    return render(request, "play/_compare.html", {"columns": columns, "rows": rows})


def hit_context(plan: PlanState, data: Sent, units: Units, key: str = "map") -> dict[str, Any]:
    """The form above a map and, where the readings allow one, the map with its numbers."""
    form = HitForm(data, sport=plan.outline.sport, units=units, has_plan=bool(plan.laid))
    asked = form.asked()
    try:
        return {"form": form} | shown(impact_of(plan, asked), units, key)
    except SpecError as error:
        return {"form": form, "problem": error.message}
