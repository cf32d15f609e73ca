"""Reading a frame: the grid, and one reading from a device."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_POST

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.weight.builds import Build
from kentrobar.instruments.lines import InstrumentError
from kentrobar.instruments.taking import take_reading
from kentrobar.web.frames.builds import build_name, builds_of
from kentrobar.web.frames.models import SpecSheet
from kentrobar.web.frames.queries import frames_of, frames_with_fittings
from kentrobar.web.kit.requests import page
from kentrobar.web.measuring import services
from kentrobar.web.measuring.grid import view_models
from kentrobar.web.measuring.grid.readings import ReadingGrid
from kentrobar.web.measuring.history import readings_panel
from kentrobar.web.measuring.models import Instrument
from kentrobar.web.measuring.stiffness import stiffness_panel
from kentrobar.web.shops.requests import SignedIn


def measure(request: SignedIn, pk: int) -> HttpResponse:
    """The reading grid of one frame; saving makes a new sheet of specs."""
    grid = _grid(request, pk)
    if request.method == "POST" and grid.check():
        services.record(grid.frame, grid.taking(), request.user)
        messages.success(request, f"The readings of {grid.frame.label} are saved.")
        return redirect("frames:detail", pk=pk)
    return page(request, "measuring/grid.html", _context(grid))


@require_GET
def readings(request: SignedIn, pk: int) -> HttpResponse:
    """What was measured of a frame so far."""
    frame = get_object_or_404(frames_of(request.user), pk=pk)
    context = {
        "frame": frame,
        "panel": readings_panel(frame, request.user),
        "stiffness": stiffness_panel(frame),
    }
    return render(request, "measuring/readings.html", context)


@require_POST
def summary(request: SignedIn, pk: int) -> HttpResponse:
    """What the readings typed so far come to; saves nothing."""
    grid = _grid(request, pk)
    if not grid.entry.is_empty:
        grid.check()
    return render(request, "measuring/_summaries.html", _context(grid) | {"is_fragment": True})


def _grid(request: SignedIn, pk: int) -> ReadingGrid:
    frame = get_object_or_404(frames_with_fittings(request.user), pk=pk)
    return ReadingGrid(frame, request.user, request.POST if request.method == "POST" else None)


def _context(grid: ReadingGrid) -> dict[str, object]:
    for row in grid.boxes.rows:
        row.summary = view_models.summary_of(row, grid)
    return {
        "grid": grid,
        "boxes": grid.boxes,
        "frame": grid.frame,
        "questions": view_models.questions_of(grid),
        "added": view_models.added_text(grid),
        "builds": [
            (build, build_name(build, grid.frame.sport))
            for build in SpecSheet.SheetBuild.values
            if build == Build.MIX or build in builds_of(grid.frame)
        ],
        "fittings": [f for f in grid.frame.fittings.all() if f.is_on],
    }


@require_POST
def set_aside(request: SignedIn, pk: int) -> HttpResponse:
    """Let a sheet of readings count no longer, for a reason."""
    sheet = get_object_or_404(SpecSheet, pk=pk, frame__shop=request.user.shop_id)
    try:
        services.set_aside(sheet, request.POST.get("reason", ""), request.user)
    except KentrobarError as error:
        messages.error(request, error.message)
    return redirect("measuring:readings", pk=sheet.frame_id)


@require_POST
def count_again(request: SignedIn, pk: int) -> HttpResponse:
    """Let a sheet that was set aside count again."""
    sheet = get_object_or_404(SpecSheet, pk=pk, frame__shop=request.user.shop_id)
    services.count_again(sheet)
    return redirect("measuring:readings", pk=sheet.frame_id)


@require_POST
def take(request: SignedIn, pk: int) -> HttpResponse:
    """One settled reading from a device; says plainly why there is none."""
    instrument = get_object_or_404(Instrument, pk=pk, shop=request.user.shop_id)
    try:
        sent = take_reading(instrument.device)
    except InstrumentError as error:
        return JsonResponse({"message": error.message, "code": error.code}, status=503)
    return JsonResponse(view_models.as_typed(sent))
