"""What goes on on court: trials under way, hit maps, rules of thumb."""

from __future__ import annotations

from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from kentrobar.web.play.queries import hit_maps_of, trials_of
from kentrobar.web.shops.requests import SignedIn

SHOWN = 20


@require_GET
def home(request: SignedIn) -> HttpResponse:
    """Where to go on."""
    trials = trials_of(request.user)
    context = {
        "open": trials.filter(ended_at=None)[:SHOWN],
        "ended": trials.exclude(ended_at=None)[:SHOWN],
        "maps": hit_maps_of(request.user)[:SHOWN],
    }
    return render(request, "play/home.html", context)
