"""The practice bench: what can be practised, one exercise, its score."""

from __future__ import annotations

from typing import Any

from django import forms
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_POST

from kentrobar.core.bench.practice.hidden import SPECS
from kentrobar.core.bench.practice.reading_well import MOST_READINGS
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.kit.requests import page, read_count
from kentrobar.web.practice import services
from kentrobar.web.practice.exercises import OFFERED, Task, weighing
from kentrobar.web.practice.forms import BeginForm, DosesForm, SlipForm, SpecsForm
from kentrobar.web.practice.models import PracticeRun
from kentrobar.web.practice.queries import records_of, runs_of
from kentrobar.web.practice.view_models import exercise_view, means_of, readings_of, record_chart
from kentrobar.web.shops.requests import SignedIn

SHOWN_RUNS = 12


@require_GET
def home(request: SignedIn) -> HttpResponse:
    """What can be practised, and how it went so far."""
    records = records_of(request.user)
    offered = [
        {
            "task": task,
            "about": about,
            "levels": list(enumerate(about.levels, 1)),
            "record": records.get(task),
            "chart": record_chart(records[task]) if task in records else None,
        }
        for task, about in OFFERED.items()
    ]
    runs = runs_of(request.user)[:SHOWN_RUNS]
    context = {"offered": offered, "runs": runs, "sports": PracticeRun.PracticeSport.choices}
    return render(request, "practice/home.html", context)


@require_POST
def begin(request: SignedIn) -> HttpResponse:
    """A new exercise."""
    form = BeginForm(request.POST)
    if not form.is_valid():
        return redirect("practice:home")
    return redirect("practice:run", pk=services.begin(request.user, **form.cleaned_data).pk)


def run(request: SignedIn, pk: int) -> HttpResponse:
    """One exercise: what is done in it, what is stated in the end, what that was worth."""
    of = get_object_or_404(runs_of(request.user), pk=pk)
    is_sent = request.method == "POST"
    form = _form(request, of, request.POST if is_sent else None)
    error = ""
    if is_sent:
        try:
            if _done(request, of, form):
                return redirect("practice:run", pk=pk)
        except KentrobarError as refused:
            error = refused.message
    context = {"exercise": exercise_view(of, request.user.units), "form": form, "error": error}
    return page(request, "practice/run.html", context)


def _form(request: SignedIn, of: PracticeRun, sent: Any) -> SpecsForm | SlipForm | DosesForm:
    """The form of an exercise, with what it starts from."""
    units = request.user.units
    is_stated = sent if sent and "finish" in sent else None
    match of.task:
        case Task.READ:
            return SpecsForm(is_stated, units=units, changes=False, start=means_of(of))
        case Task.PREDICT:
            return SpecsForm(is_stated, units=units, changes=True)
        case Task.SLIP:
            return SlipForm(is_stated)
        case _:
            last = of.moves[-1]["doses"] if of.moves else {}
            is_placed = sent if sent and "lay" in sent else None
            return DosesForm(is_placed, exercise=weighing(of), units=units, start=last)


def _done(request: SignedIn, of: PracticeRun, form: forms.Form) -> bool:
    """Carry out what was sent; whether it could be. Raises KentrobarError."""
    sent, seen = request.POST, read_count(request.POST.get("seen", ""))
    if "read" in sent:
        _read(of, seen, sent["read"])
    elif "out" in sent:
        key, _, number = sent["out"].partition("/")
        services.move(of, seen, out=[key, read_count(number)])
    elif isinstance(form, DosesForm):
        if "finish" in sent:
            services.finish(of, seen, {})
        elif form.is_valid():
            services.move(of, seen, doses=form.doses())
        else:
            return False
    elif isinstance(form, SpecsForm | SlipForm) and form.is_valid():
        services.finish(of, seen, form.answer())
    else:
        return False
    return True


def _read(of: PracticeRun, seen: int, key: str) -> None:
    """Read a spec once more. Raises KentrobarError."""
    if of.task != Task.READ or key not in {spec.key for spec in SPECS}:
        raise KentrobarError("There is nothing to measure here.", code="nothing")
    if len(readings_of(of)[key]) >= MOST_READINGS:
        raise KentrobarError(
            f"{MOST_READINGS} readings of one spec are more than it takes; state what you found.",
            code="too_many",
        )
    services.move(of, seen, read=key)
