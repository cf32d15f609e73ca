"""Timing the swings of a frame, step by step."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.views.decorators.http import require_POST

from kentrobar.instruments.lines import InstrumentError
from kentrobar.instruments.taking import take_passes
from kentrobar.web.frames.queries import frames_with_fittings
from kentrobar.web.measuring import services
from kentrobar.web.measuring.models import Instrument
from kentrobar.web.measuring.timing.swing import TimedFrame, TimedSwing
from kentrobar.web.measuring.timing.timer import Timer, TimerLinks
from kentrobar.web.shops.requests import SignedIn

GATE_PASSES = 11


def swing(request: SignedIn, pk: int, method: str) -> HttpResponse:
    """The timer; saving adds the answer to what was read of the frame in the same build."""
    timer = Timer(request, _timed(request, pk), method)
    if timer.settled:
        return _save(request, timer.settled)
    return timer.page(request, TimerLinks("measuring", pk, reverse("frames:detail", args=[pk])))


@require_POST
def swing_summary(request: SignedIn, pk: int, method: str) -> HttpResponse:
    """What the taps or the recording come to so far; saves nothing."""
    return Timer(request, _timed(request, pk), method).summary(request)


@require_POST
def take_gate(request: SignedIn, pk: int) -> HttpResponse:
    """The times of some passes from a light gate."""
    instrument = get_object_or_404(Instrument, pk=pk, shop=request.user.shop_id)
    try:
        times = take_passes(instrument.device, GATE_PASSES)
    except InstrumentError as error:
        return JsonResponse({"message": error.message, "code": error.code}, status=503)
    return JsonResponse({"times": times})


def _timed(request: SignedIn, pk: int) -> TimedFrame:
    frames = frames_with_fittings(request.user).select_related("shop")
    return TimedFrame.as_read(get_object_or_404(frames, pk=pk))


def _save(request: SignedIn, found: TimedSwing) -> HttpResponse:
    services.record(found.of.frame, found.taking(), request.user)
    messages.success(request, f"The {found.noun} of {found.of.frame.label} is saved.")
    return redirect("frames:detail", pk=found.of.frame.pk)
