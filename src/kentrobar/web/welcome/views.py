"""First steps: opening a shop of one's own, bringing a file in."""

from __future__ import annotations

from collections.abc import Callable

from allauth.account.views import signup
from django.contrib import messages
from django.contrib.auth.decorators import login_not_required
from django.db import IntegrityError, transaction
from django.http import HttpRequest, HttpResponse, HttpResponseBase
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.exchange.reading import LARGEST_DOCUMENT_BYTES
from kentrobar.web.kit.requests import page
from kentrobar.web.shops.models import User
from kentrobar.web.shops.requests import SignedIn
from kentrobar.web.welcome.forms import FirstForm, ImportForm
from kentrobar.web.welcome.importing import import_plan, import_set, is_of_a_set
from kentrobar.web.welcome.sample import asked_for, keep
from kentrobar.web.welcome.trying import begin


def import_file(request: SignedIn) -> HttpResponse:
    """Read a kentrobar/1 file into a frame with a plan, or into a set of frames."""
    form = ImportForm(request.POST or None, request.FILES or None)
    if request.method == "POST" and form.is_valid():
        try:
            data = form.cleaned_data["file"].read(LARGEST_DOCUMENT_BYTES + 1)
            if is_of_a_set(data):
                made = import_set(request.user, data)
                messages.success(request, f"{made.members.count()} frames are imported as a set.")
                return redirect("matching:set", pk=made.pk)
            plan = import_plan(request.user, data)
        except KentrobarError as error:
            form.add_error("file", error.message)
        else:
            messages.success(request, f"{plan.frame.label} is imported, with its plan.")
            return redirect("planning:board", pk=plan.pk)
    return page(request, "welcome/import.html", {"form": form})


def first_steps(request: SignedIn) -> HttpResponse:
    """From an empty shop to a board in one form: a name, a weight, a balance."""
    form = FirstForm(request.POST or None, request.user)
    if request.method == "POST" and form.is_valid():
        boxes = form.boxes
        plan = begin(
            request.user, form.cleaned_data["label"], form.dimensions, boxes.entry.measured, boxes.readings()
        )
        messages.success(request, "Click a ring on the drawing: tape goes there, and the numbers follow.")
        return redirect("planning:board", pk=plan.pk)
    return page(request, "welcome/first.html", {"form": form})


@require_POST
def try_out(request: SignedIn) -> HttpResponse:
    """A sample racket on the board, to try what the drawing does."""
    plan = keep(request.user, Sport.TENNIS)
    messages.success(
        request, "This is a sample racket. Click a ring on the drawing, drag the tape, watch the numbers."
    )
    return redirect("planning:board", pk=plan.pk)


@login_not_required
def sign_up(request: HttpRequest) -> HttpResponseBase:
    """Open a shop of one's own, whole or not at all; a sample that was tried before comes along."""
    view: Callable[[HttpRequest], HttpResponseBase] = signup
    try:
        with transaction.atomic():
            answer = view(request)
            if request.method == "POST" and "sport" in request.POST and isinstance(request.user, User):
                sample = asked_for(request.POST["sport"], request.POST.getlist("on"))
                return redirect("planning:board", pk=keep(request.user, *sample).pk)
            return answer
    except IntegrityError:
        # Somebody took the name at the same moment; asked again, the form says so.
        return view(request)
