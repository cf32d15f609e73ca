"""The pages of a trial for who fits the weights."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypedDict

from django.contrib import messages
from django.http import HttpResponse, QueryDict
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.frames.queries import frames_with_fittings
from kentrobar.web.kit.archive import IN_USE
from kentrobar.web.kit.qr import qr
from kentrobar.web.kit.requests import page, read_count
from kentrobar.web.kit.searches import ask, listed, unfinished
from kentrobar.web.matching.queries import sets_of
from kentrobar.web.matching.services import aim_at
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.planning.targets.searching import typed_in
from kentrobar.web.play.models import Trial
from kentrobar.web.play.queries import trials_of
from kentrobar.web.play.trials import services
from kentrobar.web.play.trials.forms import TrialForm
from kentrobar.web.play.trials.searching import SetupSearches, ask_setups, refused_form
from kentrobar.web.play.trials.trial_state import trial_state
from kentrobar.web.play.trials.view_models import trial_view
from kentrobar.web.shops.requests import SignedIn


def of_frame(request: SignedIn, pk: int) -> HttpResponse:
    """The trials of a frame; has one planned."""
    frame = get_object_or_404(frames_with_fittings(request.user), pk=pk)
    form = TrialForm(request.POST or None, frame=frame, shelf=shelf_of(request.user), user=request.user)
    trial_request = form.trial_request() if request.method == "POST" else None
    if trial_request:
        typed = typed_in(request.POST, but=("csrfmiddlewaretoken",))
        ask(SetupSearches.name, frame.pk, ask_setups(trial_request, typed), request.user)
        return redirect("play:frame_trials", pk=pk)
    trials = trials_of(request.user).filter(frame=frame)
    searches = unfinished(SetupSearches.name, frame.pk, request.user)
    if request.method == "GET":
        form = refused_form(frame, searches, request.user) or form
    going = [each for each in searches if not each.is_over]
    context = {"found": listed(going, request.user), "frame": frame, "form": form, "trials": trials}
    return page(request, "play/trials/list.html", context)


def _trial(request: SignedIn, pk: int) -> Trial:
    return get_object_or_404(trials_of(request.user), pk=pk)


@require_GET
def trial(request: SignedIn, pk: int) -> HttpResponse:
    """What to fit now, and what the answers tell so far."""
    of = _trial(request, pk)
    address = request.build_absolute_uri(reverse("play:play", args=[of.secret]))
    context = {
        "trial": of,
        "frame": of.frame,
        "shown": trial_view(trial_state(of), request.user.units),
        "address": address,
        "qr": qr(address),
        "sets": sets_of(request.user).filter(IN_USE, members__frame=of.frame),
    }
    return render(request, "play/trials/trial.html", context)


def _done(request: SignedIn, of: Trial, act: Callable[[], object]) -> HttpResponse:
    """Carry out an action and go back to the trial, with a sentence where it was refused."""
    try:
        act()
    except KentrobarError as error:
        messages.error(request, error.message)
    return redirect("play:trial", pk=of.pk)


@require_POST
def answer(request: SignedIn, pk: int) -> HttpResponse:
    """Take an answer where the player tells it to who fits."""
    of = _trial(request, pk)
    return _done(request, of, lambda: services.answer(of, **answered(request.POST)))


class SentAnswer(TypedDict):
    """An answer as a page sends it: its number, and a choice or a rating."""

    number: int
    said: str
    rated: int


def answered(sent: QueryDict) -> SentAnswer:
    """The answer that was sent."""
    number, rated = (read_count(sent.get(name, "")) for name in ("number", "rated"))
    return {"number": number, "said": sent.get("said", ""), "rated": rated}


@require_POST
def take_back(request: SignedIn, pk: int) -> HttpResponse:
    """Ask the last again; a trial that is over goes on."""
    of = _trial(request, pk)
    number = read_count(request.POST.get("number", ""))
    return _done(request, of, lambda: services.take_back(of, number, reopens=True))


@require_POST
def renew(request: SignedIn, pk: int) -> HttpResponse:
    """Hand out another address; the one before leads nowhere."""
    of = _trial(request, pk)
    return _done(request, of, lambda: services.renew_address(of))


@require_POST
def end(request: SignedIn, pk: int) -> HttpResponse:
    """Ask no more."""
    of = _trial(request, pk)
    return _done(request, of, lambda: services.end(of))


@require_POST
def lay(request: SignedIn, pk: int, number: int) -> HttpResponse:
    """One setup as a plan on the board."""
    setup = get_object_or_404(_trial(request, pk).setups, number=number)
    return redirect("planning:board", pk=services.lay_setup(setup, request.user).pk)


@require_POST
def aim_set(request: SignedIn, pk: int) -> HttpResponse:
    """Make what was found the target of a set."""
    of = _trial(request, pk)
    chosen = get_object_or_404(sets_of(request.user), pk=read_count(request.POST.get("set", "")))
    best = trial_state(of).found.best()
    aim_at(chosen, {key: found.value for key, found in zip(of.sought, best, strict=True)})
    messages.success(request, f"The best value is now the target of “{chosen.name}”.")
    return redirect("matching:set", pk=chosen.pk)
