"""The shop's instruments: how finely they read, their devices, their calibrations."""

from __future__ import annotations

from django.contrib import messages
from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render

from kentrobar.web.kit.merging import row_to_edit
from kentrobar.web.kit.records import save_form
from kentrobar.web.kit.requests import page
from kentrobar.web.measuring import queries, services
from kentrobar.web.measuring.instruments.forms import CalibrationForm, InstrumentForm
from kentrobar.web.measuring.instruments.starting import usual_steps
from kentrobar.web.measuring.models import Instrument
from kentrobar.web.shops.requests import SignedIn

CAN_BE_CALIBRATED = ("scale", "board", "machine", "twist")


def instruments(request: SignedIn) -> HttpResponse:
    """All instruments with the state of their calibration."""
    found = list(queries.instruments_of(request.user))
    context = {
        "instruments": [i for i in found if not i.is_put_away],
        "put_away": [i for i in found if i.is_put_away],
        "kinds": Instrument.InstrumentKind.choices,
        "can_be_calibrated": CAN_BE_CALIBRATED,
    }
    return render(request, "measuring/instruments.html", context)


def new_instrument(request: SignedIn, kind: str) -> HttpResponse:
    """Another instrument of a kind."""
    if kind not in Instrument.InstrumentKind.values:
        return redirect("measuring:instruments")
    instrument = Instrument(shop=request.user.shop, kind=kind, **usual_steps(kind))
    return _edit(request, instrument)


@transaction.atomic
def edit_instrument(request: SignedIn, pk: int) -> HttpResponse:
    """Change what is known of an instrument; readings already taken stay as they are."""
    return _edit(request, row_to_edit(request, queries.instruments_of(request.user), pk))


def _edit(request: SignedIn, instrument: Instrument) -> HttpResponse:
    form = InstrumentForm(request.POST or None, instance=instrument)
    if request.method == "POST" and form.is_valid():
        save_form(form)
        messages.success(request, f"{instrument.name} is saved.")
        return redirect("measuring:instruments")
    context = {"form": form, "instrument": instrument}
    return page(request, "measuring/instrument.html", context)


def calibrate(request: SignedIn, pk: int) -> HttpResponse:
    """Calibrate with a plain rod or known weights; the history and the drift so far."""
    found = queries.instruments_of(request.user).filter(kind__in=CAN_BE_CALIBRATED)
    instrument = get_object_or_404(found, pk=pk)
    form = CalibrationForm(instrument, request.POST or None)
    if request.method == "POST" and form.is_valid():
        services.record_calibration(instrument, form.found, form.typed, request.user)
        messages.success(request, f"{instrument.name} is calibrated; its readings use it from now on.")
        return redirect("measuring:calibrate", pk=pk)
    context = {
        "instrument": instrument,
        "form": form,
        "headings": [heading for heading, _, _ in form.columns.values()],
    }
    return page(request, "measuring/calibrate.html", context | _history(instrument))


# About what an instrument reads, in its base unit: its drift is told there.
_USUAL_READING = {"scale": 310.0, "board": 32.0, "machine": 300.0, "twist": 13.0}


def _history(instrument: Instrument) -> dict[str, object]:
    """The calibrations so far, and what it showed too much or too little at a usual reading."""
    history = list(instrument.calibrations.all())
    usual = _USUAL_READING[instrument.kind]
    drift = {
        "days": [f"{c.taken_at:%-d %b %Y}" for c in reversed(history)],
        "off": [round(c.found.truth(usual) - usual, 4) for c in reversed(history)],
    }
    return {"history": history, "usual": usual, "drift": drift if len(history) > 1 else None}
