"""The player's phone on court: one question, large answers, nothing that tells which setup is which."""

from __future__ import annotations

from collections.abc import Mapping

from django.contrib.auth.decorators import login_not_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.cache import never_cache

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.kit.requests import read_count
from kentrobar.web.play.models import Trial
from kentrobar.web.play.trials import services
from kentrobar.web.play.trials.trial_state import trial_state
from kentrobar.web.play.trials.view_models import progress
from kentrobar.web.play.trials.views import answered


@login_not_required
@never_cache
def play(request: HttpRequest, secret: str) -> HttpResponse:
    """Ask the player, and take the answer. Whoever has the address may answer."""
    trial = get_object_or_404(Trial.objects.select_related("frame", "twin", "shop"), secret=secret)
    error = ""
    if trial.has_expired:
        return _answer(request, {"trial": trial}, 410)
    if request.method == "POST":
        try:
            if "take_back" in request.POST:
                services.take_back(trial, read_count(request.POST["take_back"]))
            else:
                services.answer(trial, **answered(request.POST))
        except KentrobarError as refused:
            error = refused.message
        else:
            return redirect("play:play", secret=secret)
    return _asking(request, trial, error)


def _asking(request: HttpRequest, trial: Trial, error: str) -> HttpResponse:
    state = trial_state(trial)
    context = {
        "trial": trial,
        "ask": state.open,
        "progress": progress(state),
        "error": error,
        "last": None if trial.ended_at else state.last_answered,
        "ratings": range(1, 8),
    }
    return _answer(request, context, 422 if request.method == "POST" else 200)


def _answer(request: HttpRequest, context: Mapping[str, object], status: int) -> HttpResponse:
    answer = render(request, "play/trials/play.html", context, status=status)
    answer["X-Robots-Tag"] = "noindex"
    return answer
