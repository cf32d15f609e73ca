"""Timing the swings of a frame, step by step."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from kentrobar.instruments.lines import InstrumentError
from kentrobar.instruments.taking import take_passes
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.queries import frames_with_fittings
from kentrobar.web.measuring import queries, services
from kentrobar.web.measuring.models import Instrument
from kentrobar.web.measuring.timing.swing import METHODS, SwingForm, TimedSwing
from kentrobar.web.shops.requests import SignedIn

GATE_PASSES = 11


def swing(request: SignedIn, pk: int, method: str) -> HttpResponse:
    """The timer; saving adds the answer to what was read of the frame in the same build."""
    frame, instrument, context = page_context(request, _frame(request, pk), method)
    form = SwingForm(
        request.POST or None,
        request.FILES or None,
        method,
        frame,
        instrument,
        queries.scatter_learnt_of(request.user),
    )
    context |= {"form": form} | addresses("measuring", pk, method, reverse("frames:detail", args=[pk]))
    status = 200
    if request.method == "POST":
        found = TimedSwing(frame, method, form, instrument) if form.is_valid() else None
        if found and found.answer and (not found.suspicion or request.POST.get("keep")):
            return _save(request, found)
        status = 422
        context |= shown(found)
        context["unsaved"] = True
    return render(request, "measuring/swing.html", context, status=status)


@require_POST
def swing_summary(request: SignedIn, pk: int, method: str) -> HttpResponse:
    """What the taps or the recording come to so far; saves nothing."""
    return summary_of(request, _frame(request, pk), method)


def addresses(app: str, pk: int, method: str, back: str) -> dict[str, Any]:
    """Where the timer's page leads to: each method of an app, what its taps come to, back."""
    return {
        "methods": [(k, name, reverse(f"{app}:swing", args=[pk, k])) for k, name in METHODS.items()],
        "summary_address": reverse(f"{app}:swing_summary", args=[pk, method]),
        "back": back,
    }


def summary_of(request: SignedIn, of: Frame, method: str) -> HttpResponse:
    """What a swing of a frame comes to."""
    frame, instrument, context = page_context(request, of, method)
    form = SwingForm(
        request.POST, request.FILES, method, frame, instrument, queries.scatter_learnt_of(request.user)
    )
    found = TimedSwing(frame, method, form, instrument) if form.is_valid() else None
    context |= {"form": form} | shown(found)
    return render(request, "measuring/_swing.html", context)


@require_POST
def take_gate(request: SignedIn, pk: int) -> HttpResponse:
    """The times of some passes from a light gate."""
    instrument = get_object_or_404(Instrument, pk=pk, shop=request.user.shop_id)
    try:
        times = take_passes(instrument.device, GATE_PASSES)
    except InstrumentError as error:
        return JsonResponse({"message": error.message, "code": error.code}, status=503)
    return JsonResponse({"times": times})


def _frame(request: SignedIn, pk: int) -> Frame:
    return get_object_or_404(frames_with_fittings(request.user).select_related("shop"), pk=pk)


def page_context(
    request: SignedIn, frame: Frame, method: str
) -> tuple[Frame, Instrument | None, dict[str, Any]]:
    """A frame, the instrument that is chosen, and what the timer's page is given. Raises Http404."""
    if method not in METHODS:
        raise Http404
    instruments = [i for i in queries.in_use(request.user) if i.kind == method]
    chosen = request.POST.get("instrument", request.GET.get("instrument", ""))
    instrument = next((i for i in instruments if str(i.pk) == chosen), None)
    if instrument is None and not chosen:
        instrument = next(iter(instruments), None)
    measured = frame.measured
    missing = [
        noun
        for noun, known in (("weight", measured.knows_mass), ("balance", measured.knows_balance))
        if not known and (noun == "weight" or method == "pendulum")
    ]
    context = {
        "frame": frame,
        "method": method,
        "title": METHODS[method],
        "instruments": instruments,
        "instrument": instrument,
        "missing": missing,
        "gravity": frame.shop.gravity_cms2,
    }
    return frame, instrument, context


def shown(found: TimedSwing | None) -> dict[str, Any]:
    """What a swing comes to, for the page."""
    if found is None:
        return {}
    told: dict[str, Any] = {"found": found, "decimals": 2 if found.is_twist else 1}
    if found.fit:
        told["drawn"] = {
            "t": [round(t, 4) for t, _, _ in found.fit.drawn],
            "signal": [y for _, y, _ in found.fit.drawn],
            "fit": [f for _, _, f in found.fit.drawn],
            "name": found.fit.signal,
        }
    for name in ("answer", "recoil", "period"):
        value = getattr(found, name)
        if value:
            told[name] = value
    return told


def _save(request: SignedIn, found: TimedSwing) -> HttpResponse:
    services.record(found.frame, found.taking(), request.user)
    messages.success(request, f"The {found.noun} of {found.frame.label} is saved.")
    return redirect("frames:detail", pk=found.frame.pk)
