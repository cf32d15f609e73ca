"""What is fitted on a frame, and its specs converted from build to build."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_POST

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.weight.builds import Build, LedgerLine
from kentrobar.web.frames import services
from kentrobar.web.frames.builds import BUILD_NAMES, builds_of, fittings_in, in_build
from kentrobar.web.frames.fitting_forms import FittingForm, NewFittingForm
from kentrobar.web.frames.models import Frame, FrameFitting
from kentrobar.web.frames.queries import frames_with_fittings, shelf_of_accessories
from kentrobar.web.kit.numbers import shown_specs
from kentrobar.web.kit.quantities import read_axis
from kentrobar.web.kit.requests import page
from kentrobar.web.kit.spec_rows import cell_of, row_of
from kentrobar.web.shops.requests import SignedIn


def fittings(request: SignedIn, pk: int) -> HttpResponse:
    """What is on the frame; adding to it; the ledger from the build read into another."""
    frame = _frame(request, pk)
    form = NewFittingForm(
        request.POST or None,
        frame=frame,
        shelf=list(shelf_of_accessories(request.user)),
        units=request.user.units,
    )
    if request.method == "POST" and form.is_valid():
        values = form.values()
        if values["kind"] == "strings":
            del values["kind"]
            services.restring(frame, **values)
        else:
            services.fit(frame, **values)
        messages.success(request, f"{values['label']} is noted on {frame.label}.")
        return redirect("frames:fittings", pk=pk)
    context = {"form": form, **_page(request, frame)}
    return page(request, "frames/fittings.html", context)


def edit_fitting(request: SignedIn, pk: int, fitting_pk: int) -> HttpResponse:
    """Weigh or move one fitting."""
    frame = _frame(request, pk)
    fitting = get_object_or_404(FrameFitting, pk=fitting_pk, frame=frame, is_on=True)
    form = FittingForm(request.POST or None, frame=frame, fitting=fitting)
    if request.method == "POST" and form.is_valid():
        services.reweigh(fitting, **form.values())
        messages.success(request, f"{fitting.label} is saved.")
        return redirect("frames:fittings", pk=pk)
    context = {"frame": frame, "fitting": fitting, "form": form}
    return page(request, "frames/fitting.html", context)


@require_POST
def take_off(request: SignedIn, pk: int, fitting_pk: int) -> HttpResponse:
    """Take a fitting off the frame."""
    fitting = get_object_or_404(FrameFitting, pk=fitting_pk, frame=_frame(request, pk), is_on=True)
    services.take_off(fitting)
    messages.success(request, f"{fitting.label} is off; readings taken with it still count it.")
    return redirect("frames:fittings", pk=pk)


def _frame(request: SignedIn, pk: int) -> Frame:
    return get_object_or_404(frames_with_fittings(request.user), pk=pk)


def _page(request: SignedIn, frame: Frame) -> dict[str, Any]:
    asked = request.GET.get("build", "")
    read = frame.specs.build if frame.specs else Build.PLAYING
    build = asked if asked in builds_of(frame) else _other_than(read)
    axis_cm, axis_error = read_axis(request.GET.get("axis", ""), frame.measured.axis_cm)
    context: dict[str, Any] = {
        "frame": frame,
        "on": [f for f in frame.fittings.all() if f.is_on],
        "off": [f for f in frame.fittings.all() if not f.is_on],
        "build": build,
        "build_name": BUILD_NAMES[build],
        "builds": [(b.value, BUILD_NAMES[b]) for b in builds_of(frame)],
        "axis_cm": axis_cm,
        "axis_error": axis_error,
    }
    if not frame.specs:
        return context
    try:
        changed = in_build(frame, build, fittings_in(frame, build), axis_cm)
    except KentrobarError as error:
        return context | {"cannot": error.message}
    units = request.user.units
    specs = shown_specs(units)
    before, after = changed.prediction.before, changed.prediction.after
    return context | {
        "converted": [row_of(spec, cell_of(spec, before, after, None, units)) for spec in specs],
        "ledger": [_ledger_line(line, units, specs) for line in changed.ledger],
        "specs": specs,
    }


def _ledger_line(line: LedgerLine, units: Any, specs: Any) -> dict[str, Any]:
    mass = line.fitting.mass_g
    return {
        "what": line.fitting.label,
        "sign": "off" if line.removed else "on",
        "mass": f"{units.mass_text(mass.value)} {units.mass}",
        "u": f"±{units.mass_text(mass.u)}",
        "place": f"{units.length_text(line.y_cm)} {units.length}",
        "changes": [spec.change(getattr(line.change, spec.key)) for spec in specs],
    }


def _other_than(build: str) -> str:
    return Build.PLAYING.value if build != Build.PLAYING else Build.BARE.value
