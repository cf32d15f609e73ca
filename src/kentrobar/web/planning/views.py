"""Plans: the list, the board's page, and what is done with a whole plan."""

from __future__ import annotations

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import HttpResponse, HttpResponseRedirect, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from kentrobar.core.bench.steps import OrderOfWork
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.frames.queries import frames_of
from kentrobar.web.kit.archive import archive_or_restore, in_use_or_archived, shows_archive
from kentrobar.web.kit.requests import context_of, one_of, read_count
from kentrobar.web.planning import services
from kentrobar.web.planning.board import view_models
from kentrobar.web.planning.board.context import board_view, tray_view
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.queries import plans_in_full
from kentrobar.web.shops.requests import SignedIn

PLANS_ON_A_PAGE = 50


@require_GET
def plan_list(request: SignedIn) -> HttpResponse:
    """All plans of the shop with what they add, a page at a time."""
    is_archive = shows_archive(request)
    plans = in_use_or_archived(plans_in_full(request.user), is_archive=is_archive)
    page = Paginator(plans, PLANS_ON_A_PAGE).get_page(request.GET.get("page"))
    rows = [view_models.listed(plan, request.user.units.of_sport(plan.frame.sport)) for plan in page]
    context = {"rows": rows, "page": page, "units": request.user.units, "is_archive": is_archive}
    return render(request, "planning/list.html", context)


@require_GET
def of_frame(request: SignedIn, frame_pk: int) -> HttpResponse:
    """The plans of one frame: a tab of it."""
    frame = get_object_or_404(frames_of(request.user), pk=frame_pk)
    plans = in_use_or_archived(plans_in_full(request.user), is_archive=False).filter(frame=frame)
    units = request.user.units.of_sport(frame.sport)
    rows = [view_models.listed(plan, units) for plan in plans[:PLANS_ON_A_PAGE]]
    return render(request, "planning/frame.html", {"frame": frame, "rows": rows})


@require_POST
def create(request: SignedIn) -> HttpResponse:
    """Start a plan on a frame and go to its board."""
    frame = get_object_or_404(frames_of(request.user), pk=read_count(request.POST.get("frame", "")))
    plan = services.create_plan(frame, request.user, name=f"Plan for {frame.label}"[:80])
    return redirect("planning:board", pk=plan.pk)


@require_GET
def board(request: SignedIn, pk: int) -> HttpResponse:
    """The plan board."""
    plan = get_object_or_404(plans_in_full(request.user), pk=pk)
    view = board_view(plan, request.user)
    return render(request, "planning/board.html", context_of(view, tray_view(view, request.user)))


@require_POST
def copy(request: SignedIn, pk: int) -> JsonResponse:
    """A new plan from an earlier state, to keep what could not be saved onto this one."""
    plan = _mine(request, pk)
    revision = read_count(request.POST.get("revision", ""), without=plan.at)
    made = services.copy_plan(plan, revision, request.user)
    answer = {"url": reverse("planning:board", args=[made.pk]), "plan": made.pk}
    return JsonResponse(answer | {"version": made.version})


@require_POST
def duplicate(request: SignedIn, pk: int) -> HttpResponse:
    """A copy of the plan as it is, to try something else."""
    plan = _mine(request, pk)
    made = services.copy_plan(plan, plan.at, request.user)
    messages.success(request, f"This is the copy: {made.name}.")
    return redirect("planning:board", pk=made.pk)


@require_POST
def order_of_work(request: SignedIn, pk: int) -> HttpResponse:
    """Choose the order in which the steps are told."""
    order = one_of(OrderOfWork, request.POST.get("order", ""))
    services.set_order_of_work(_mine(request, pk), order)
    return HttpResponseRedirect(f"{reverse('planning:board', args=[pk])}#steps")


@require_POST
def cut(request: SignedIn, pk: int) -> HttpResponse:
    """Take what the plan uses off the shelf."""
    try:
        count = services.take_from_stock(_mine(request, pk), request.user)
        messages.success(request, view_models.taken_text(count))
    except KentrobarError as error:
        messages.error(request, error.message)
    return redirect("planning:board", pk=pk)


@require_POST
def take_new_start(request: SignedIn, pk: int) -> HttpResponse:
    """Lay the plan on what was read of its frame since."""
    try:
        services.take_new_start(_mine(request, pk), read_count(request.POST.get("base", "")), request.user)
    except KentrobarError as error:
        messages.error(request, error.message)
    return redirect("planning:board", pk=pk)


@require_POST
def archive(request: SignedIn, pk: int) -> HttpResponse:
    """Put a plan out of sight, or back."""
    plan = _mine(request, pk)
    archive_or_restore(request, plan, f"“{plan.name}”", "find it among the archived plans")
    return redirect("planning:list")


@require_POST
def move(request: SignedIn, pk: int) -> HttpResponse:
    """The same pieces as a new plan on another frame, predicted for that frame."""
    plan, key = _mine(request, pk), read_count(request.POST.get("frame", ""))
    frame = get_object_or_404(frames_of(request.user), pk=key)
    try:
        made = services.copy_plan(plan, plan.at, request.user, frame)
    except KentrobarError as error:
        messages.error(request, error.message)
        return redirect("planning:board", pk=pk)
    messages.success(request, f"“{made.name}” on {frame.label}: these are the predicted specs.")
    return redirect("planning:board", pk=made.pk)


def _mine(request: SignedIn, pk: int) -> Plan:
    return get_object_or_404(plans_in_full(request.user), pk=pk)
