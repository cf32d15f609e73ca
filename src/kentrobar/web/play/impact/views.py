"""The pages and parts of pages that show what a hit does."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, render
from django.views.decorators.http import require_GET, require_POST

from kentrobar.core.editing.plan import PlanState
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.frames.models import Frame, SpecSheet
from kentrobar.web.frames.queries import frames_with_fittings
from kentrobar.web.kit.requests import context_of, is_part
from kentrobar.web.planning.board.actions import act
from kentrobar.web.planning.board.requests import action_request
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.queries import plan_in_hand, plans_in_full, plans_marked, ready_in_hand
from kentrobar.web.planning.stored import plan_state
from kentrobar.web.play.impact.common_claims import answered
from kentrobar.web.play.impact.setting import plan_as_read, ready_plan
from kentrobar.web.play.impact.view_models import hit_view
from kentrobar.web.shops.requests import SignedIn


@require_GET
def frame(request: SignedIn, pk: int) -> HttpResponse:
    """A frame as it is, under a hit."""
    of = get_object_or_404(frames_with_fittings(request.user), pk=pk)
    return _page(request, plan_as_read(of), of, of.specs)


@require_GET
def plan(request: SignedIn, pk: int) -> HttpResponse:
    """A plan under a hit, on a page of its own."""
    of = get_object_or_404(plans_in_full(request.user), pk=pk)
    return _page(request, plan_state(of), of.frame, of.specs, of)


def _page(
    request: SignedIn, state: PlanState, frame: Frame, sheet: SpecSheet | None, plan: Plan | None = None
) -> HttpResponse:
    template = "play/_hit.html" if is_part(request) else "play/hit.html"
    units = request.user.units
    view = hit_view(
        state, request.GET, units, hits_of=frame, turn=partial(ready_plan, frame=frame, sheet=sheet)
    )
    asked = view.impact.plan if view.impact else state
    about = {"sayings": answered(asked, units), "frame": frame, "plan": plan, "address": request.path}
    return render(request, template, context_of(view, **about))


@require_POST
def follow(request: SignedIn, pk: int) -> HttpResponse:
    """The map as an action of the board would make it, nothing saved."""
    held = plan_in_hand(request.user, pk)
    if held is None:
        return HttpResponse(status=404)
    try:
        moved = act(request.POST.get("action", ""), action_request(request, held)).plan
    except KentrobarError:
        return HttpResponse(status=204)  # the board itself says why
    view = hit_view(moved, request.POST, request.user.units, turn=partial(ready_in_hand, request.user, pk))
    return render(request, "play/_shown.html", context_of(view))


@require_GET
def compare(request: SignedIn) -> HttpResponse:
    """Plans under one hit, side by side."""
    plans, _ = plans_marked(request.user, request.GET.getlist("plan"))
    columns = [
        (
            each,
            hit_view(
                plan_state(each),
                request.GET,
                request.user.units,
                f"map-{each.pk}",
                turn=partial(ready_plan, frame=each.frame, sheet=each.specs),
            ),
        )
        for each in plans
    ]
    tables = [view.rows for _, view in columns if view.rows]
    rows = [replace(rows[0], cells=[row.cell for row in rows]) for rows in zip(*tables, strict=True)]
    return render(request, "play/_compare.html", {"columns": columns, "rows": rows})
