"""Pages of where a player hits, and plans that move the sweet spot there."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse, JsonResponse, QueryDict
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from kentrobar.core.play.hits import hit_centre
from kentrobar.core.play.zone_plans import GIVE_CM
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.units import LENGTH
from kentrobar.web.frames.queries import frames_of
from kentrobar.web.kit.requests import context_of, page, read_count
from kentrobar.web.kit.searches import SearchList, ask, found_for
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.planning.targets.searching import typed_in
from kentrobar.web.planning.targets.view_models import strain_first
from kentrobar.web.play.hits import services
from kentrobar.web.play.hits.forms import HitMapForm, SpeedsForm, ZoneForm
from kentrobar.web.play.hits.marking import on_drawing, tapped, typed
from kentrobar.web.play.hits.proposing import weight_tried
from kentrobar.web.play.hits.searching import ZoneProblem, ZoneSearches, ask_schools
from kentrobar.web.play.hits.view_models import hit_map_view
from kentrobar.web.play.impact.asking import HitChoice
from kentrobar.web.play.impact.setting import Impact, bare_plan, impact_of
from kentrobar.web.play.models import HitMap
from kentrobar.web.play.queries import hit_maps_in_full, hit_maps_of
from kentrobar.web.shops.requests import SignedIn


def of_frame(request: SignedIn, pk: int) -> HttpResponse:
    """The hit maps of a frame; starts one."""
    frame = get_object_or_404(frames_of(request.user), pk=pk)
    form = HitMapForm(request.POST or None, sport=frame.outline.sport)
    if request.method == "POST" and form.is_valid():
        started = services.start_hit_map(frame, request.user, **form.cleaned_data)
        return redirect("play:hits", pk=started.pk)
    maps = hit_maps_of(request.user).filter(frame=frame)
    return page(request, "play/hits/list.html", {"frame": frame, "form": form, "maps": maps})


def _hit_map(request: SignedIn, pk: int) -> HitMap:
    return get_object_or_404(hit_maps_in_full(request.user), pk=pk)


@require_GET
def hits(request: SignedIn, pk: int) -> HttpResponse:
    """One map: the face to tap on, and what its hits tell."""
    return render(request, "play/hits/map.html", _context(request, _hit_map(request, pk)))


def _context(request: SignedIn, hit_map: HitMap, error: str = "", typed: str = "") -> dict[str, object]:
    """What the page of a map and its marked part are given; what was typed is kept with an error."""
    form = SpeedsForm(request.GET, hit_map=hit_map, units=request.user.units)
    impact, problem = _impact(hit_map, form.choice())
    view = hit_map_view(hit_map, impact, request.user.units)
    return context_of(view, form=form, problem=problem, error=error, typed=typed)


def _impact(hit_map: HitMap, requests: HitChoice) -> tuple[Impact | None, str]:
    """The frame as it is under the stroke, or what must be read first."""
    try:
        return impact_of(bare_plan(hit_map.frame), requests), ""
    except KentrobarError as error:
        return None, error.message


@require_POST
def mark(request: SignedIn, pk: int) -> HttpResponse:
    """Mark hits: taps on the drawing, or typed ones."""
    hit_map, unit = _hit_map(request, pk), request.user.units.length
    seen = read_count(request.POST.get("seen", ""))
    try:
        if "typed" in request.POST:
            found = typed(request.POST["typed"], unit)
        else:
            found = tapped(request.POST.get("taps", ""), hit_map.frame.outline)
        services.mark_hits(hit_map, found, seen)
    except KentrobarError as error:
        return _marked(request, hit_map, error)
    return _marked(request, hit_map)


@require_POST
def take_back(request: SignedIn, pk: int) -> HttpResponse:
    """Take one hit back."""
    hit_map = _hit_map(request, pk)
    seen, number = (read_count(request.POST.get(name, "")) for name in ("seen", "number"))
    try:
        services.take_back(hit_map, seen, number)
    except KentrobarError as error:
        return _marked(request, hit_map, error)
    return _marked(request, hit_map)


def _marked(request: SignedIn, hit_map: HitMap, error: KentrobarError | None = None) -> HttpResponse:
    """The marked part of the page for a script, the page for a form; what was typed is kept with an error."""
    if error is None and not request.htmx:
        return redirect("play:hits", pk=hit_map.pk)
    if error:
        hit_map.refresh_from_db(fields=["hits"])  # those of another page are shown with it
        context = _context(request, hit_map, error.message, request.POST.get("typed", ""))
    else:
        context = _context(request, hit_map)
    if request.htmx:
        return render(request, "play/hits/_marked.html", context)
    return page(request, "play/hits/map.html", context)


@require_GET
def straighten(request: SignedIn, pk: int) -> JsonResponse:
    """How a photo lies under the drawing, by four taps in it; the photo itself is never sent."""
    hit_map = _hit_map(request, pk)
    try:
        found = on_drawing(request.GET.get("taps", ""), hit_map.frame.outline)
    except KentrobarError as error:
        return JsonResponse({"error": error.message}, status=422)
    return JsonResponse({"matrix": found.css})


# -- plans that move the zone ----------------------------------------------------------------------


def plans(request: SignedIn, pk: int) -> HttpResponse:
    """Where the zone is to lie, what else is wanted, and plans that bring it there."""
    hit_map, sent = _hit_map(request, pk), request.POST or request.GET
    search = sent.get("search", "")
    form = _zone_form(request, hit_map, sent if search else None)
    if request.method == "POST" and form.is_valid():
        return _ask(request, hit_map)
    impact, problem = _impact(hit_map, _choice(request, hit_map))
    units = request.user.units
    context = context_of(
        hit_map_view(hit_map, impact, units),
        *([weight_tried(impact, units)] if impact else []),
        form=form,
        problem=problem,
        speeds=_speeds(sent),
        strain=strain_first(hit_map.frame, form, units),
        found=_found(request, hit_map) if search and form.is_valid() else None,
    )
    status = 422 if search and not form.is_valid() else 200
    return render(request, "play/hits/plans.html", context, status=status)


def _ask(request: SignedIn, hit_map: HitMap) -> HttpResponse:
    """Ask workers for plans, and lead to the page that shows them."""
    typed = typed_in(request.POST)
    try:
        problem = ZoneProblem(hit_map, typed, request.user)
        ask(ZoneSearches.name, hit_map.pk, ask_schools(problem, typed), request.user)
    except KentrobarError as error:
        messages.error(request, error.message)
    return redirect(f"{reverse('play:zone_plans', args=[hit_map.pk])}?{typed}&search=plans#search")


def _found(request: SignedIn, hit_map: HitMap) -> SearchList | None:
    """The cards of what was searched for what stands in the address."""
    typed = typed_in(request.GET)
    try:
        requests = ask_schools(ZoneProblem(hit_map, typed, request.user), typed)
    except KentrobarError:
        return None
    return found_for(ZoneSearches.name, hit_map.pk, requests, request.user)


def _choice(request: SignedIn, hit_map: HitMap) -> HitChoice:
    return SpeedsForm(request.POST or request.GET, hit_map=hit_map, units=request.user.units).choice()


def _speeds(sent: QueryDict) -> list[tuple[str, str]]:
    """The speeds that were typed on the page of the map, to be carried on."""
    return [(name, str(sent[name])) for name in ("face", "ball", "axis") if sent.get(name)]


def _zone_form(request: SignedIn, hit_map: HitMap, sent: QueryDict | None) -> ZoneForm:
    units = request.user.units
    form = ZoneForm(sent, frame=hit_map.frame, shelf=shelf_of(request.user), units=units)
    centre = hit_centre(hit_map.marked)
    if centre:
        wanted = [LENGTH.from_base(cm, units.length) for cm in (centre.y_cm.value, GIVE_CM)]
        form.initial["zone"] = f"{wanted[0]:.2f}", units.length, f"{wanted[1]:.2g}"
    return form
