"""Taking frames in: a short form for what they share, a table with a row a frame."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from kentrobar.core.slips import mean_of_siblings
from kentrobar.core.specs import MeasuredSpecs
from kentrobar.core.strings import STRING_DENSITIES, installed_mass_g
from kentrobar.web.frames import queries, services
from kentrobar.web.frames.builds import fittings_in
from kentrobar.web.frames.intake_forms import INTAKE_OF, MOST_FRAMES, IntakeForm
from kentrobar.web.frames.models import Frame, FrameModel
from kentrobar.web.frames.services import fit_accessories, model_named, record_specs, restring


def take_in(request: HttpRequest, sport: str) -> HttpResponse:
    """One frame or several of one model, with what is fitted and what was read."""
    form = _form(request, sport)
    if request.method == "POST" and form.is_valid() and not form.ask(_known(request, form)):
        frames = _take_in(request, form)
        if len(frames) == 1:
            messages.success(request, f"{frames[0].label} is taken in.")
            return redirect("frames:detail", pk=frames[0].pk)
        messages.success(
            request, f"{len(frames)} frames of {form.cleaned_data['model_name']} are in."
        )
        return redirect("frames:list")
    context = {
        "form": form,
        "sport": sport,
        "noun": "rackets" if sport == "tennis" else "paddles",
        "clients": queries.client_names(request.user),
        "models": queries.model_names(request.user, sport),
        "most": MOST_FRAMES,
        "only_asks": not form.errors and any(row.unusual for row in form.rows),
    }
    return render(
        request, "frames/intake.html", context, status=422 if request.method == "POST" else 200
    )


def _form(request: HttpRequest, sport: str) -> IntakeForm:
    """The form; for a known model it starts with what the last frame of it had."""
    units = request.user.units
    if request.method == "POST":
        return INTAKE_OF[sport](request.POST, units=units)
    name = request.GET.get("model_name", "")[:80]
    like = queries.last_of_model(request.user, sport, name) if name else None
    form = INTAKE_OF[sport](units=units, like=like, model_name=name)
    form.initial["player"] = request.GET.get("player", "")[:80]
    form.like = like
    return form


def _known(request: HttpRequest, form: IntakeForm) -> MeasuredSpecs | None:
    """What other frames of the model, or its maker, let one expect."""
    sport, name = form.sport.value, form.cleaned_data["model_name"]
    axis_cm = form.cleaned_data["axis"].base
    siblings = queries.specs_of_model(request.user, sport, name, form.cleaned_data["build"])
    mean = mean_of_siblings(siblings, axis_cm)
    if mean.knows_mass:
        return mean
    stated = form.stated()
    return (
        stated
        if stated and form.cleaned_data["stated_build"] == form.cleaned_data["build"]
        else None
    )


@transaction.atomic
def _take_in(request: HttpRequest, form: IntakeForm) -> list[Frame]:
    shop, cleaned = request.user.shop, form.cleaned_data
    model = model_named(shop, form.sport.value, cleaned["model_name"])
    stated = form.stated()
    if model and stated:
        services.state_figures(model, stated, cleaned["stated_build"], form.typed_figures())
    return [_one(request, form, row, model) for row in form.filled]


def _one(request: HttpRequest, form: IntakeForm, row: Any, model: FrameModel | None) -> Frame:
    cleaned = form.cleaned_data
    frame = services.create_frame(
        request.user.shop,
        about=form.about(row) | {"model": model},
        dimensions=form.dimensions,
        typed=form.typed_dimensions(),
    )
    shelf = queries.shelf_of_accessories(request.user).filter(kind__in=cleaned["fitted"])
    first_of_kind = {accessory.kind: accessory for accessory in reversed(shelf)}
    fit_accessories(frame, first_of_kind.values())
    if cleaned["string_material"] and cleaned["gauge"]:
        _string(frame, cleaned)
    if row.typed:
        keys = [fitting.key for fitting in fittings_in(frame, cleaned["build"])]
        record_specs(frame, row.measured, cleaned["build"], row.typed, request.user, keys)
    return frame


def _string(frame: Frame, cleaned: dict[str, Any]) -> Any:
    material, gauge = cleaned["string_material"], cleaned["gauge"]
    found = installed_mass_g(
        frame.outline, frame.mains or 16, frame.crosses or 19, gauge.base * 10,
        STRING_DENSITIES[material],
    )  # fmt: skip
    return restring(
        frame,
        label=f"Strings, {material} {gauge.base * 10:.2f} mm",
        mass_g=found.value,
        mass_u_g=found.u,
        source="computed",
        typed={"material": material, "gauge": gauge.record()},
    )
