"""Taking frames in: a short form for what they share, a table with a row a frame."""

from __future__ import annotations

from typing import Any
from urllib.parse import urlencode

from django.contrib import messages
from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.reading.slips import mean_of_siblings
from kentrobar.exchange.tables import LARGEST_TABLE_BYTES, read_text
from kentrobar.web.frames import queries
from kentrobar.web.frames import services as frames
from kentrobar.web.frames.builds import fittings_in
from kentrobar.web.frames.models import Frame, FrameModel
from kentrobar.web.kit.requests import page
from kentrobar.web.measuring.boxes import readers_chosen
from kentrobar.web.measuring.hooks import next_after_check_in
from kentrobar.web.measuring.services import record
from kentrobar.web.measuring.taking_in.forms import NEW_FORM_OF, NewFrameForm
from kentrobar.web.measuring.taking_in.intake_forms import INTAKE_OF, MOST_FRAMES, FrameRow, IntakeForm
from kentrobar.web.measuring.taking_in.pasting import fill, pasted_in
from kentrobar.web.shops.requests import SignedIn


def create(request: SignedIn, sport: str) -> HttpResponse:
    """One new frame, with what was read of it."""
    form = NEW_FORM_OF[sport](request.POST or None, user=request.user)
    if request.method == "POST" and form.is_valid():
        frame = _create(request, form)
        messages.success(request, f"{frame.label} is saved.")
        return redirect(next_after_check_in(request, [frame]) or reverse("frames:detail", args=[frame.pk]))
    context = {"form": form, "sport": sport, "title": f"New {Frame.SportChoice(sport).label}"} | _asked(
        request
    )
    return page(request, "measuring/new_frame.html", context)


@transaction.atomic
def _create(request: SignedIn, form: NewFrameForm) -> Frame:
    frame = frames.create_frame(
        request.user.own_shop, about=form.about, dimensions=form.dimensions, typed=form.typed_dimensions()
    )
    record(frame, form.taking(), request.user)
    return frame


def take_in(request: SignedIn, sport: str) -> HttpResponse:
    """One frame or several of one model, with what is fitted and what was read."""
    if request.method == "POST" and "fill" in request.POST:
        return _fill(request, sport)
    form = _form(request, sport)
    if request.method == "POST" and form.is_valid() and not form.ask(_known(request, form)):
        taken = _take_in(request, form)
        asked_for = next_after_check_in(request, taken)
        if asked_for:
            return redirect(asked_for)
        if len(taken) == 1:
            messages.success(request, f"{taken[0].label} is checked in.")
            return redirect("frames:detail", pk=taken[0].pk)
        name = form.cleaned_data["model_name"]
        messages.success(
            request, f"{len(taken)} frames of {name} are checked in and selected. Compare or match them."
        )
        marked = [("q", name), *(("marked", frame.pk) for frame in taken)]
        return redirect(f"{reverse('frames:list')}?{urlencode(marked)}")
    only_asks = not form.errors and any(row.unusual for row in form.rows)
    return page(request, "measuring/take_in.html", _context(request, form) | {"only_asks": only_asks})


def _asked(request: SignedIn) -> dict[str, Any]:
    """What came with the page: the job that the frames are for, and their client."""
    return {name: (request.POST or request.GET).get(name, "")[:80] for name in ("job", "player")}


def _context(request: SignedIn, form: IntakeForm) -> dict[str, Any]:
    return _asked(request) | {
        "form": form,
        "sport": form.sport.value,
        "clients": queries.client_names(request.user),
        "models": queries.model_names(request.user, form.sport.value),
        "most": MOST_FRAMES,
    }


def _fill(request: SignedIn, sport: str) -> HttpResponse:
    """The same page with what was pasted in its table; nothing is taken in yet."""
    sent = request.POST.dict()
    file = request.FILES.get("pasted_file")
    if file is not None:
        try:
            sent |= {"pasted": read_text(file.read(LARGEST_TABLE_BYTES + 1))}
        except KentrobarError as error:
            messages.error(request, error.message)
    pasted = pasted_in(sent)
    accessories = list(queries.shelf_of_accessories(request.user))
    form = INTAKE_OF[sport](user=request.user, accessories=accessories)
    fill(form, pasted, request.POST)
    form.readers = readers_chosen(request.POST, request.user)
    return render(request, "measuring/take_in.html", _context(request, form) | {"pasted": pasted})


def _form(request: SignedIn, sport: str) -> IntakeForm:
    """The form; for a known model it starts with what the last frame of it had."""
    about: dict[str, Any] = {
        "user": request.user,
        "accessories": list(queries.shelf_of_accessories(request.user)),
    }
    if request.method == "POST":
        return INTAKE_OF[sport](request.POST, **about)
    name = request.GET.get("model_name", "")[:80]
    like = queries.last_of_model(request.user, sport, name) if name else None
    form = INTAKE_OF[sport](**about, like=like, model_name=name)
    form.initial["player"] = request.GET.get("player", "")[:80]
    form.initial.setdefault("build", queries.build_read_last(request.user, sport))
    form.like = like
    return form


def _known(request: SignedIn, form: IntakeForm) -> MeasuredSpecs | None:
    """What other frames of the model, or its maker, let one expect."""
    sport, name = form.sport.value, form.cleaned_data["model_name"]
    axis_cm = form.cleaned_data["axis"].base
    siblings = queries.specs_of_model(request.user, sport, name, form.cleaned_data["build"])
    mean = mean_of_siblings(siblings, axis_cm)
    if mean.knows_mass:
        return mean
    stated = form.stated()
    return stated if stated and form.cleaned_data["stated_build"] == form.cleaned_data["build"] else None


@transaction.atomic
def _take_in(request: SignedIn, form: IntakeForm) -> list[Frame]:
    shop, cleaned = request.user.own_shop, form.cleaned_data
    model = frames.model_named(shop, form.sport.value, cleaned["model_name"])
    stated = form.stated()
    if model and stated:
        frames.state_figures(model, stated, cleaned["stated_build"], form.typed_figures())
    return [_one(request, form, row, model) for row in form.filled]


def _one(request: SignedIn, form: IntakeForm, row: FrameRow, model: FrameModel | None) -> Frame:
    cleaned = form.cleaned_data
    frame = frames.create_frame(
        request.user.own_shop,
        about=form.about(row) | {"model": model},
        dimensions=form.dimensions,
        typed=form.typed_dimensions(),
    )
    frames.fit_accessories(frame, cleaned["fitted"])
    if cleaned["string_material"] and cleaned["gauge"]:
        frames.string_with(frame, cleaned["string_material"], cleaned["gauge"])
    if row.is_read:
        keys = [fitting.key for fitting in fittings_in(frame, cleaned["build"])]
        record(frame, form.taking(row, keys), request.user)
    return frame
