"""What is fitted on a frame, and its specs converted from build to build."""

from __future__ import annotations

from dataclasses import dataclass

from django.contrib import messages
from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_POST

from kentrobar.core.editing.alternatives import edge_tapes
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.weight.builds import Build, LedgerLine
from kentrobar.core.weight.prediction import Prediction
from kentrobar.web.frames import services
from kentrobar.web.frames.builds import build_name, builds_of, fittings_in, in_build
from kentrobar.web.frames.fitting_forms import FittingForm, NewFittingForm
from kentrobar.web.frames.models import Frame, FrameFitting
from kentrobar.web.frames.queries import frames_with_fittings, shelf_of_accessories
from kentrobar.web.kit.merging import row_to_edit
from kentrobar.web.kit.numbers import ShownSpec, Units, shown_specs
from kentrobar.web.kit.quantities import read_axis
from kentrobar.web.kit.requests import context_of, page
from kentrobar.web.kit.spec_rows import SpecRow, cell_of, row_of
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.shops.requests import SignedIn


def fittings(request: SignedIn, pk: int) -> HttpResponse:
    """What is on the frame; adding to it; the ledger from the build read into another."""
    frame = _frame(request, pk)
    form = NewFittingForm(
        request.POST or None,
        frame=frame,
        shelf=list(shelf_of_accessories(request.user)),
        units=request.user.units,
        tapes=edge_tapes(frame.outline, shelf_of(request.user)),
    )
    if request.method == "POST" and form.is_valid():
        values = form.values()
        if values["kind"] == "strings":
            del values["kind"]
            services.restring(frame, **values)
        else:
            services.fit(frame, **values)
        messages.success(request, f"{values['label']} added to {frame.label}.")
        return redirect("frames:fittings", pk=pk)
    return page(request, "frames/fittings.html", context_of(_view(request, frame), form=form))


@transaction.atomic
def edit_fitting(request: SignedIn, pk: int, fitting_pk: int) -> HttpResponse:
    """Weigh or move one fitting."""
    frame = _frame(request, pk)
    fitting = row_to_edit(request, FrameFitting.objects.filter(frame=frame, is_on=True), fitting_pk)
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
    messages.success(request, f"{fitting.label} removed. Readings taken with it still count it.")
    return redirect("frames:fittings", pk=pk)


def _frame(request: SignedIn, pk: int) -> Frame:
    return get_object_or_404(frames_with_fittings(request.user), pk=pk)


@dataclass(frozen=True, slots=True)
class LedgerRow:
    """A fitting that goes on or comes off between two builds, and what that alone changes."""

    what: str
    sign: str
    mass: str
    u: str
    place: str
    changes: list[str]


@dataclass(frozen=True, slots=True)
class FittingsView:
    """What is on a frame, and its specs turned from the build read into another, line by line."""

    frame: Frame
    on: list[FrameFitting]
    off: list[FrameFitting]
    build: str
    build_name: str
    builds: list[tuple[str, str]]
    axis_cm: float
    axis_error: str
    cannot: str
    specs: list[ShownSpec]
    converted: list[SpecRow]
    ledger: list[LedgerRow]


def _view(request: SignedIn, frame: Frame) -> FittingsView:
    chosen, units = request.GET.get("build", ""), request.user.units.of_sport(frame.sport)
    read = frame.specs.build if frame.specs else Build.PLAYING
    build = chosen if chosen in builds_of(frame) else _other_than(read)
    axis_cm, axis_error = read_axis(request.GET.get("axis", ""), frame.measured.axis_cm)
    changed, cannot, specs = None, "", shown_specs(units)
    if frame.specs:
        try:
            changed = in_build(frame, build, fittings_in(frame, build), axis_cm)
        except KentrobarError as error:
            cannot = error.message
    return FittingsView(
        frame=frame,
        on=[f for f in frame.fittings.all() if f.is_on],
        off=[f for f in frame.fittings.all() if not f.is_on],
        build=build,
        build_name=build_name(build, frame.sport),
        builds=[(b.value, build_name(b, frame.sport)) for b in builds_of(frame)],
        axis_cm=axis_cm,
        axis_error=axis_error,
        cannot=cannot,
        specs=specs,
        converted=_converted(changed.prediction, specs, units) if changed else [],
        ledger=[_ledger_row(line, units, specs) for line in changed.ledger] if changed else [],
    )


def _converted(found: Prediction, specs: list[ShownSpec], units: Units) -> list[SpecRow]:
    return [row_of(spec, cell_of(spec, found.before, found.after, None, units)) for spec in specs]


def _ledger_row(line: LedgerLine, units: Units, specs: list[ShownSpec]) -> LedgerRow:
    mass = line.fitting.mass_g
    return LedgerRow(
        line.fitting.label,
        "off" if line.removed else "on",
        f"{units.mass_text(mass.value)} {units.mass}",
        f"±{units.mass_text(mass.u)}",
        f"{units.length_text(line.y_cm)} {units.length}",
        [spec.change(getattr(line.change, spec.key)) for spec in specs],
    )


def _other_than(build: str) -> str:
    return Build.PLAYING.value if build != Build.PLAYING else Build.BARE.value
