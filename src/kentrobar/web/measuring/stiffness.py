"""Stiffness of frame and string bed: a section of a frame's page, and rows of a comparison."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from django import forms
from django.contrib import messages
from django.db.models import QuerySet
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_POST

from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.queries import frames_of
from kentrobar.web.kit.quantities import style_fields
from kentrobar.web.kit.requests import Sent
from kentrobar.web.measuring.models import Stiffness
from kentrobar.web.measuring.services import record_stiffness
from kentrobar.web.shops.requests import SignedIn

MOST_SHOWN = 12


class StiffnessForm(forms.Form):
    """One reading, in whatever number its instrument tells."""

    of = forms.ChoiceField(choices=Stiffness.Of, label="Stiffness of the")
    value = forms.FloatField(min_value=0.1, max_value=1000, label="Read")
    scale = forms.CharField(max_length=40, required=False, label="With, and its unit")

    def __init__(self, data: Sent, is_racket: bool) -> None:
        super().__init__(data)
        if not is_racket:
            self.fields["of"].choices = Stiffness.Of.choices[:1]  # type: ignore[attr-defined]
        style_fields(self)
        self.fields["value"].widget.attrs |= {"class": "form-control", "step": "any"}


class StiffnessPanel(NamedTuple):
    """What was read so far, the newest first, and the form for one more."""

    frame: Frame
    readings: QuerySet[Stiffness]
    form: StiffnessForm


def stiffness_panel(frame: Frame) -> StiffnessPanel:
    """What was measured of a frame's stiffness so far."""
    readings = frame.stiffness_readings.select_related("taken_by")[:MOST_SHOWN]
    return StiffnessPanel(frame, readings, StiffnessForm(None, frame.is_racket))


@require_POST
def add(request: SignedIn, pk: int) -> HttpResponse:
    """Note one reading of stiffness."""
    frame = get_object_or_404(frames_of(request.user), pk=pk)
    form = StiffnessForm(request.POST, frame.is_racket)
    if form.is_valid():
        made = record_stiffness(frame, request.user, **form.cleaned_data)
        messages.success(request, f"Stiffness of the {made.get_of_display()}: {made} is saved.")
    else:
        errors = [str(error) for each in form.errors.values() for error in each]
        messages.error(request, f"Nothing is saved: {' '.join(errors)}")
    return redirect("measuring:readings", pk=pk)


def stiffness_rows(frames: Sequence[Frame]) -> list[tuple[str, list[Stiffness | None]]]:
    """The newest stiffness of each frame, side by side: a row for frames, one for string beds."""
    read = Stiffness.objects.filter(frame__in=frames).order_by("taken_at", "pk")
    newest = {(each.frame_id, each.of): each for each in read}
    rows = []
    for of, noun in Stiffness.Of.choices:
        cells = [newest.get((frame.pk, of)) for frame in frames]
        if any(cells):
            rows.append((f"Stiffness of the {noun}", cells))
    return rows
