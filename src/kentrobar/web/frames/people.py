"""The people whose frames the shop looks after."""

from __future__ import annotations

from django.core.paginator import Paginator
from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from kentrobar.web.frames.queries import clients_of
from kentrobar.web.shops.requests import SignedIn

PER_PAGE = 50


@require_GET
def people(request: SignedIn) -> HttpResponse:
    """Each with their frames, and where they reported pain."""
    shown = Paginator(clients_of(request.user), PER_PAGE).get_page(request.GET.get("page"))
    return render(request, "frames/people.html", {"page": shown})
