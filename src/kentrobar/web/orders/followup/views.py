"""Ask how it plays; from which gap on this shop's players feel a difference."""

from __future__ import annotations

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_POST

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.kit.requests import page
from kentrobar.web.orders.followup import services
from kentrobar.web.orders.followup.forms import PlayForm
from kentrobar.web.orders.followup.view_models import felt_rows, said_view
from kentrobar.web.orders.models import Job, PlayTest
from kentrobar.web.orders.queries import jobs_in_full, play_tests_of
from kentrobar.web.shops.requests import SignedIn


def follow_up(request: SignedIn, pk: int) -> HttpResponse:
    """What the player says of each frame; asked blind, the page tells nothing of what was changed."""
    job = get_object_or_404(jobs_in_full(request.user), pk=pk)
    is_blind = "blind" in request.GET or "blind" in request.POST
    forms = _forms(request, job)
    problem = ""
    if request.method == "POST" and not any(form.errors for form in forms):
        said = [(f.row, f.about() | {"is_blind": is_blind}) for f in forms if f.is_said]
        try:
            services.note_play(job, said, request.user)
        except KentrobarError as error:
            problem = error.message
        else:
            return redirect("orders:follow_up", pk=pk)
    tests = play_tests_of(request.user).filter(job=job)
    context = {
        "job": job,
        "forms": forms,
        "is_blind": is_blind,
        "problem": problem,
        "tests": [] if is_blind else [said_view(each, request.user.units) for each in tests],
    }
    return page(request, "orders/followup/follow_up.html", context)


def _forms(request: SignedIn, job: Job) -> list[PlayForm]:
    rows = list(job.members.all())
    data = request.POST if request.method == "POST" else None
    return [PlayForm(data, row=row, others=[o for o in rows if o != row]) for row in rows]


@require_POST
def ask_no_more(request: SignedIn, pk: int) -> HttpResponse:
    """Let it be."""
    services.ask_no_more(get_object_or_404(jobs_in_full(request.user), pk=pk))
    return redirect("orders:job", pk=pk)


@require_GET
def felt(request: SignedIn) -> HttpResponse:
    """From which gap on players feel a difference, with the answers that tell it."""
    user = request.user
    tests: list[PlayTest] = list(play_tests_of(user))
    rows = list(felt_rows(tests, user.own_shop.felt_rule, user.units))
    shown = [said_view(each, user.units) for each in tests[:30]]
    return render(request, "orders/followup/felt.html", {"rows": rows, "tests": shown})
