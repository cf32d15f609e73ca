"""Plans: the list, the board and its changes; what is done with a whole plan."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.template.loader import render_to_string
from django.views.decorators.http import require_GET, require_POST

from kentrobar.core.errors import KentrobarError
from kentrobar.core.estimates import Estimate
from kentrobar.core.sites import site_choices
from kentrobar.core.steps import ORDERS, OrderOfWork
from kentrobar.web.frames.builds import worn_now
from kentrobar.web.frames.queries import frames_of
from kentrobar.web.planning import presenting, services
from kentrobar.web.planning.actions import act
from kentrobar.web.planning.board import Board
from kentrobar.web.planning.compare_views import MOST_COMPARED
from kentrobar.web.planning.context import board_context
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.parameters import Hand
from kentrobar.web.planning.queries import (
    board_in_hand,
    materials_by_id,
    plans_in_full,
    plans_of,
)
from kentrobar.web.planning.refusals import ObjectedError
from kentrobar.web.planning.wording import face_choices


def plan_list(request: HttpRequest) -> HttpResponse:
    """All plans of the shop with what they add."""
    is_archive = "archived" in request.GET
    asked = plans_of(request.user).filter(archived_at__isnull=not is_archive)
    plans = [(plan, Board.of(plan).prediction.change) for plan in asked[:200]]
    units = request.user.units
    rows = [
        {
            "plan": plan,
            "mass": units.mass_text(change.mass_g.value, signed=True),
            "swing": f"{change.swingweight_kgcm2.value:+.1f}".replace("-", "−"),
        }
        for plan, change in plans
    ]
    return render(
        request, "planning/list.html", {"rows": rows, "units": units, "is_archive": is_archive}
    )


@require_POST
def create(request: HttpRequest) -> HttpResponse:
    """Start a plan on a frame and go to its board."""
    frame = get_object_or_404(frames_of(request.user), pk=request.POST.get("frame") or 0)
    plan = services.create_plan(frame, request.user, name=f"Plan for {frame.label}"[:80])
    return redirect("planning:board", pk=plan.pk)


@require_GET
def board(request: HttpRequest, pk: int) -> HttpResponse:
    """The plan board."""
    plan = get_object_or_404(plans_in_full(request.user), pk=pk)
    context = board_context(plan, request.user)
    balance = plan.frame.measured.balance_cm
    context["sites"] = site_choices(
        plan.frame.outline, balance.value if isinstance(balance, Estimate) else None
    )
    context["materials"] = presenting.offered(context["shelf"], request.user.units)
    context["orders"] = [(order.value, school.label) for order, school in ORDERS.items()]
    context["frames"] = (
        frames_of(request.user).filter(sport=plan.frame.sport).exclude(pk=plan.frame_id)[:200]
    )
    context["siblings"] = [
        plan.pk,
        *plans_of(request.user)
        .filter(frame=plan.frame_id, archived_at=None)
        .exclude(pk=plan.pk)
        .values_list("pk", flat=True)[: MOST_COMPARED - 1],
    ]
    context["removals"] = presenting.removals(worn_now(plan.frame), request.user.units)
    context["starts"] = presenting.completion_starts(request.user.units)
    context["faces"] = face_choices(plan.frame.outline)
    return render(request, "planning/board.html", context)


@require_POST
def preview(request: HttpRequest, pk: int) -> JsonResponse:
    """What an action would make of the plan: numbers and shapes, nothing saved."""
    held = board_in_hand(request.user, pk)
    if held is None:
        raise Http404
    try:
        shown, _ = act(held, *_action(request))
    except KentrobarError as error:
        return _refusal(error)
    number = request.POST.get("piece", "")
    moved = int(number) if number.isdecimal() else None
    texts = presenting.numbers(shown, request.user.units, moved)
    return JsonResponse({"numbers": texts, **presenting.shapes(shown, moved)})


@require_POST
def change(request: HttpRequest, pk: int) -> JsonResponse:
    """Carry out an action, undo or redo, save it and answer with the changed parts of the page."""
    plan = get_object_or_404(plans_in_full(request.user), pk=pk)
    base, mark = request.POST.get("base", ""), request.POST.get("mark", "")[:40]
    if mark and mark == plan.last_change:
        return JsonResponse(_parts(request, plan))  # its answer was lost on the way
    try:
        if not base.isdecimal() or int(base) != plan.version:
            raise services.ConflictError(plan)
        name, parameters, hand = _action(request)
        if name == "undo":
            services.undo(plan, int(base), mark)
        elif name == "redo":
            services.redo(plan, int(base), mark)
        else:
            changed, summary = act(Board.of(plan), name, parameters, hand)
            services.save_board(plan, changed, int(base), summary, request.user, mark)
    except services.ConflictError as error:
        return _conflict(plan, error)
    except KentrobarError as error:
        return _refusal(error)
    answer = _parts(request, plan)
    if name == "add":
        answer["laid"] = plan.pieces[-1]["id"]
    return JsonResponse(answer)


@require_GET
def parts(request: HttpRequest, pk: int) -> JsonResponse:
    """The changing parts of the page as they are now, for a page that fell behind."""
    plan = get_object_or_404(plans_in_full(request.user), pk=pk)
    if request.GET.get("version") == str(plan.version):
        return JsonResponse({"version": plan.version})
    return JsonResponse(_parts(request, plan))


@require_POST
def copy(request: HttpRequest, pk: int) -> JsonResponse:
    """A new plan from an earlier state, to keep what could not be saved onto this one."""
    plan = get_object_or_404(plans_of(request.user), pk=pk)
    revision = request.POST.get("revision", "")
    made = services.copy_plan(
        plan, int(revision) if revision.isdecimal() else plan.at, request.user
    )
    return JsonResponse({"url": f"/plans/{made.pk}/", "version": made.version})


def _action(request: HttpRequest) -> tuple[str, Any, Hand]:
    hand = Hand(request.user.units, lambda: materials_by_id(request.user))
    return request.POST.get("action", ""), request.POST, hand


def _parts(request: HttpRequest, plan: Plan) -> dict[str, Any]:
    context = board_context(plan, request.user)
    fragments = ("laid", "pieces", "specs", "cautions", "hold", "steps")
    return {
        "version": plan.version,
        "revision": plan.at,
        "name": plan.name,
        "undo": plan.undo_to is not None,
        "redo": bool(plan.redo),
        "height": context["height"],
        "axis": context["axis"]["text"],
        "fulcrum": context["fulcrum_after"],
        "html": {
            name: render_to_string(f"planning/_{name}.html", context, request) for name in fragments
        },
    }


def _refusal(error: KentrobarError) -> JsonResponse:
    answer = {"message": error.message, "field": error.field}
    if isinstance(error, ObjectedError):
        answer |= {"code": error.code, "ways_out": error.ways_out}
    return JsonResponse(answer, status=422)


def _conflict(plan: Plan, error: services.ConflictError) -> JsonResponse:
    latest = error.latest
    who = latest.made_by.username if latest.made_by else "somebody"
    answer = {
        "message": error.message,
        "theirs": f"{who} {latest.summary}",
        "version": plan.version,
    }
    return JsonResponse(answer, status=409)


@require_POST
def duplicate(request: HttpRequest, pk: int) -> HttpResponse:
    """A copy of the plan as it is, to try something else."""
    plan = get_object_or_404(plans_of(request.user), pk=pk)
    made = services.copy_plan(plan, plan.at, request.user)
    messages.success(request, f"{made.name}: this is the copy.")
    return redirect("planning:board", pk=made.pk)


@require_POST
def order_of_work(request: HttpRequest, pk: int) -> HttpResponse:
    """Choose the school by which the steps are told."""
    plan = get_object_or_404(plans_of(request.user), pk=pk)
    try:
        order = OrderOfWork(request.POST.get("order", ""))
    except ValueError:
        raise Http404 from None
    services.set_order_of_work(plan, order)
    return redirect(f"/plans/{pk}/#steps")


@require_POST
def cut(request: HttpRequest, pk: int) -> HttpResponse:
    """Take what the plan uses off the shelf."""
    plan = get_object_or_404(plans_of(request.user), pk=pk)
    try:
        count = services.take_from_stock(plan, request.user)
    except KentrobarError as error:
        messages.error(request, error.message)
    else:
        messages.success(
            request,
            f"Taken off the shelf: {count} material{'s' if count != 1 else ''}."
            if count
            else "Nothing this plan uses is counted on the shelf; count it to keep what is left.",
        )
    return redirect("planning:board", pk=pk)


@require_POST
def archive(request: HttpRequest, pk: int) -> HttpResponse:
    """Put a plan out of sight, or back."""
    plan = get_object_or_404(plans_of(request.user), pk=pk)
    services.archive(plan, plan.archived_at is None)
    said = "is archived" if plan.archived_at else "is back among the plans"
    messages.success(request, f"“{plan.name}” {said}.")
    return redirect("planning:list")


@require_POST
def move(request: HttpRequest, pk: int) -> HttpResponse:
    """The same pieces as a new plan on another frame, predicted for that frame."""
    plan = get_object_or_404(plans_of(request.user), pk=pk)
    frame = get_object_or_404(frames_of(request.user), pk=request.POST.get("frame") or 0)
    try:
        made = services.copy_plan(plan, plan.at, request.user, frame)
    except KentrobarError as error:
        messages.error(request, error.message)
        return redirect("planning:board", pk=pk)
    messages.success(request, f"“{made.name}” lies on {frame.label}; this is what it makes there.")
    return redirect("planning:board", pk=made.pk)
