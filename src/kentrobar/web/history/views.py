"""The time line of a frame."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_POST

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.bench.models import BenchWork
from kentrobar.web.bench.services import take_off_later
from kentrobar.web.frames.queries import frames_with_fittings
from kentrobar.web.history.applied import applied_pieces
from kentrobar.web.history.changes import changes_of
from kentrobar.web.history.expecting import expected_of
from kentrobar.web.history.queries import sheets_of, steps_of
from kentrobar.web.history.queries import time_line as events_of
from kentrobar.web.history.view_models import applied_view, charts, event_view, expected_view
from kentrobar.web.shops.requests import SignedIn


@require_GET
def time_line(request: SignedIn, pk: int) -> HttpResponse:
    """All that happened to a frame in one line, its specs over time, what lies on it now."""
    frame = get_object_or_404(frames_with_fittings(request.user), pk=pk)
    units = request.user.units.of_sport(frame.sport)
    sheets, steps = sheets_of(frame), steps_of(frame)
    events = events_of(frame, sheets, steps, changes_of(frame))
    expected = expected_of(frame)
    context = {
        "frame": frame,
        "events": [event_view(event, frame, units) for event in events],
        "charts": charts(sheets, events, frame, units),
        "expected": expected and expected_view(expected, units),
        "lying": applied_view(applied_pieces(steps), frame, units),
    }
    return render(request, "history/time_line.html", context)


@require_POST
def take_off(request: SignedIn, pk: int, work_pk: int, number: int) -> HttpResponse:
    """Note that a piece that was left on the frame is off."""
    mine = BenchWork.objects.filter(plan__shop=request.user.shop_id, plan__frame=pk)
    work = get_object_or_404(mine, pk=work_pk)
    try:
        take_off_later(work, number, request.user)
    except KentrobarError as error:
        messages.error(request, error.message)
    else:
        messages.success(request, "Removed. Measure the frame: its specs were measured with the weight on.")
    return redirect("history:time_line", pk=pk)
