"""From what a player wants to plans that reach it, one school at a time; the frame that suits it best.

Workers search school by school, or frame by frame; the page shows each answer as it comes.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from django.contrib import messages
from django.core.paginator import Page, Paginator
from django.http import HttpResponse, QueryDict
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.solving.goals import GENTLER, GOALS, Goal, goals_for
from kentrobar.web.frames import services as frames
from kentrobar.web.frames.baselines import strains_of
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.queries import frames_with_fittings
from kentrobar.web.kit.archive import IN_USE
from kentrobar.web.kit.requests import context_of
from kentrobar.web.kit.searches import SearchRequest, ask, found_for
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.planning import services
from kentrobar.web.planning.targets.forms import AllowedPositionsForm, TargetForm
from kentrobar.web.planning.targets.searching import (
    PlanSearches,
    PlatformSearches,
    as_fields,
    ask_platforms,
    ask_schools,
    typed_in,
)
from kentrobar.web.planning.targets.signed_proposal import unpack
from kentrobar.web.planning.targets.view_models import coarse_readings, strain_first, unread
from kentrobar.web.shops.requests import SignedIn

PLATFORMS_AT_ONCE = 40


def _frame(request: SignedIn, pk: int) -> Frame:
    return get_object_or_404(frames_with_fittings(request.user), pk=pk)


def _form(request: SignedIn, frame: Frame, data: QueryDict | None) -> TargetForm:
    return TargetForm(data, frame=frame, shelf=shelf_of(request.user), units=request.user.units)


@dataclass(frozen=True, slots=True)
class TargetView:
    """The page of a target: the frame as it is, the wishes to start from, what to mind first."""

    frame: Frame
    form: TargetForm
    goals: Sequence[Goal]
    goal: Goal | None
    strain: str
    unread: str
    coarse: list[str]


def target(request: SignedIn, frame_pk: int) -> HttpResponse:
    """Targets by goal or by number; asks workers for plans, and shows what they found."""
    frame, sent = _frame(request, frame_pk), request.POST or request.GET
    search = sent.get("search", "")
    form = _form(request, frame, sent if search else None)
    if request.method == "POST" and form.is_valid():
        return _ask(request, frame, form)
    goal = _goal(request, frame)
    if goal and not search:
        form.begin_with(goal, form.now)
    form.start_from(request.GET)
    units, is_searched = form.units, bool(search) and form.is_valid()
    view = TargetView(
        frame,
        form,
        goals_for(bool(strains_of(frame))),
        goal,
        strain_first(frame, form, units),
        unread(form, goal),
        coarse_readings(frame, form.target(), units) if is_searched else [],
    )
    found = _found(request, frame, form) if is_searched else {}
    status = 422 if search and not form.is_valid() else 200
    return render(request, "planning/target.html", context_of(view, **found), status=status)


def _ask(request: SignedIn, frame: Frame, form: TargetForm) -> HttpResponse:
    """Ask workers for what is searched, and lead to the page that shows it."""
    kind, requests, _ = _search_requests(request, frame, form, request.POST)
    try:
        ask(kind, frame.pk, requests(), request.user)
    except KentrobarError as error:
        messages.error(request, error.message)
    kept = request.POST.copy()
    kept.pop("csrfmiddlewaretoken", None)
    return redirect(f"{reverse('planning:target', args=[frame.pk])}?{kept.urlencode()}#search")


def _found(request: SignedIn, frame: Frame, form: TargetForm) -> dict[str, object]:
    """The cards of what was searched for what stands in the address."""
    kind, requests, page = _search_requests(request, frame, form, request.GET)
    try:
        found = found_for(kind, frame.pk, requests(), request.user)
    except KentrobarError as error:
        return {"problem": error.message}
    return {
        "found": found,
        "is_platform": page is not None,
        "page": page,
        "further": _at_page(request.GET, page.number + 1) if page and page.has_next() else [],
    }


def _search_requests(
    request: SignedIn, frame: Frame, form: TargetForm, sent: QueryDict
) -> tuple[str, Callable[[], list[SearchRequest]], Page[Frame] | None]:
    """What is searched for: plans of every school, or every frame that could serve, with their page."""
    typed = typed_in(sent)
    if sent["search"] == "platform":
        page = _platforms(request, frame, sent)
        return PlatformSearches.name, lambda: ask_platforms(page, typed, request.user), page
    return PlanSearches.name, lambda: ask_schools(form, typed), None


def _platforms(request: SignedIn, frame: Frame, sent: QueryDict) -> Page[Frame]:
    """The frames that could serve, so many at a time."""
    frames = frames_with_fittings(request.user).filter(IN_USE, sport=frame.sport, specs__isnull=False)
    return Paginator(frames, PLATFORMS_AT_ONCE).get_page(sent.get("page"))


def _goal(request: SignedIn, frame: Frame) -> Goal | None:
    """The goal that was chosen; where none was, the gentler one for a player with reported pain."""
    if not request.GET and strains_of(frame):
        return GOALS[GENTLER]
    return GOALS.get(request.GET.get("goal", ""))


def _at_page(query: QueryDict, number: int) -> list[tuple[str, str]]:
    """What was asked, of another page, as the fields of a form."""
    other = query.copy()
    other["page"] = str(number)
    return as_fields(other)


@require_POST
def remember_places(request: SignedIn, frame_pk: int) -> HttpResponse:
    """Keep the places that are ticked with the frame, and say so."""
    frame = _frame(request, frame_pk)
    form = AllowedPositionsForm(request.POST, frame=frame)
    if form.is_valid():
        frames.remember_allowed(frame, form.allowed)
    return render(request, "planning/_places_kept.html", {"form": form, "frame": frame})


def lay(request: SignedIn, frame_pk: int) -> HttpResponse:
    """Lay on the board what a card showed; nothing is solved again."""
    if request.method != "POST":
        return redirect("planning:target", frame_pk=frame_pk)
    frame = _frame(request, frame_pk)
    try:
        title, pieces, target = unpack(frame, request.POST.get("signed", ""))
    except KentrobarError as error:
        messages.error(request, error.message)
        return redirect("planning:target", frame_pk=frame_pk)
    name = f"{title} for {frame.label}"[:80]
    plan = services.create_plan(frame, request.user, name=name, pieces=pieces, target=target)
    messages.success(request, f"“{name}” is ready. Move and change it as you like.")
    return redirect("planning:board", pk=plan.pk)
