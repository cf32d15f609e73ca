"""The bench: what lies on it, and the work of one plan step by step."""

from __future__ import annotations

from collections.abc import Callable

from django.contrib import messages
from django.core import signing
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from kentrobar.core.laying.plan import LaidPiece
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.frames.queries import frames_of
from kentrobar.web.jobs import services
from kentrobar.web.jobs.forms import CutForm, ReadForm
from kentrobar.web.jobs.learning import findings_of, roll_of, rolls_of
from kentrobar.web.jobs.models import BenchEvent, BenchWork, Correction
from kentrobar.web.jobs.presenting import TOLD, bench_context, frame_context, roll_shown
from kentrobar.web.jobs.queries import works_of
from kentrobar.web.jobs.rounds import stand_of, taking_of
from kentrobar.web.kit.requests import page, read_count
from kentrobar.web.materials.queries import materials_of, shelf_of
from kentrobar.web.planning.queries import plans_of
from kentrobar.web.planning.stored import stored_pieces
from kentrobar.web.planning.wish.presenting import piece_text
from kentrobar.web.shops.requests import SignedIn

Kind = BenchEvent.Kind


@require_GET
def bench(request: SignedIn) -> HttpResponse:
    """What lies on the bench, each with what is to be done next."""
    works = [stand_of(each) for each in works_of(request.user).filter(ended_at=None)]
    ended = works_of(request.user).exclude(ended_at=None)[:10]
    return render(request, "jobs/bench.html", {"stands": works, "ended": ended})


@require_GET
def frame(request: SignedIn, frame_pk: int) -> HttpResponse:
    """What the bench left on a frame, and its works."""
    found = get_object_or_404(frames_of(request.user), pk=frame_pk)
    works = list(works_of(request.user).filter(plan__frame=found))
    return render(request, "jobs/frame.html", frame_context(works, found, request.user.units))


def plan(request: SignedIn, plan_pk: int) -> HttpResponse:
    """Take a plan to the bench, or go on where it lies there."""
    found = get_object_or_404(plans_of(request.user), pk=plan_pk)
    begun = found.works.filter(ended_at=None).first()
    if begun is not None:
        return redirect("jobs:work", pk=begun.pk)
    if request.method != "POST":
        return render(request, "jobs/plan.html", {"plan": found})
    try:
        return redirect("jobs:work", pk=services.start(found, request.user).pk)
    except KentrobarError as error:
        messages.error(request, error.message)
        return redirect("planning:board", pk=plan_pk)


def work(request: SignedIn, pk: int) -> HttpResponse:
    """One work: what to do now; a reading is taken here too."""
    found = _work(request, pk)
    stand = stand_of(found)
    form = ReadForm(
        request.POST if request.method == "POST" else None, length_cm=stand.plan.outline.length_cm,
        axis_cm=found.axis_cm, units=request.user.units,
    )  # fmt: skip
    if request.method == "POST" and form.is_valid():
        return _noted(request, found, lambda base: services.note(
            found, base, request.user, Kind.READ, data=form.record()
        ))  # fmt: skip
    context = bench_context(stand, shelf_of(request.user), request.user.units)
    return page(request, "jobs/work.html", context | {"form": form})


@require_POST
def lay(request: SignedIn, pk: int) -> HttpResponse:
    """Note that the piece whose turn it is lies, or is left out."""
    found = _work(request, pk)
    kind = Kind.LEFT_OUT if "out" in request.POST else Kind.LAID
    number = read_count(request.POST.get("piece", ""))
    if number not in stand_of(found).to_lay:
        messages.error(request, services.DoneElsewhereError().message)
        return redirect("jobs:work", pk=pk)
    return _noted(
        request, found, lambda base: services.note(found, base, request.user, kind, number)
    )


@require_POST
def trim(request: SignedIn, pk: int) -> HttpResponse:
    """Note that the trim that the page told is done: that one, whatever would be told by now."""
    found = _work(request, pk)
    try:
        trims = signing.loads(request.POST.get("told", ""), salt=TOLD)
    except signing.BadSignature:
        messages.error(request, services.DoneElsewhereError().message)
        return redirect("jobs:work", pk=pk)
    return _noted(
        request, found, lambda base: services.note_trims(found, base, request.user, trims)
    )


def piece(request: SignedIn, pk: int, number: int) -> HttpResponse:
    """A piece that lies: cut otherwise than was told, or taken off."""
    found = _work(request, pk)
    laid = dict(stand_of(found).lies()).get(number)
    if laid is None or found.ended_at is not None:
        raise Http404
    data = request.POST if request.method == "POST" and "off" not in request.POST else None
    form = CutForm(data, piece=laid, units=request.user.units)
    if "off" in request.POST or form.is_valid():
        cut = None if "off" in request.POST else stored_pieces([LaidPiece(number, form.cut)])[0]
        return _noted(
            request,
            found,
            lambda base: services.note_trims(found, base, request.user, [(number, cut)]),
        )
    text = piece_text(laid, found.plan.frame, request.user.units)
    context = {"work": found, "text": text, "form": form, "base": len(found.events.all())}
    return page(request, "jobs/piece.html", context)


@require_POST
def permanent(request: SignedIn, pk: int) -> HttpResponse:
    """Note that what lies is made permanent."""
    found = _work(request, pk)
    return _noted(
        request, found, lambda base: services.note(found, base, request.user, Kind.PERMANENT)
    )


@require_POST
def believe(request: SignedIn, pk: int) -> HttpResponse:
    """Count a reading that was questioned."""
    found = _work(request, pk)
    last = stand_of(found).rounds[-1:]
    data = {"event": last[0].event.number} if last else {}
    return _noted(
        request,
        found,
        lambda base: services.note(found, base, request.user, Kind.BELIEVED, data=data),
    )


@require_POST
def end(request: SignedIn, pk: int) -> HttpResponse:
    """End the work: what is permanent and read counts for the frame; else it is to be read anew."""
    found = _work(request, pk)
    stand = stand_of(found)
    taking, findings = taking_of(stand), list(findings_of(stand))
    to = "frames:detail" if taking else "measuring:measure"
    return _noted(
        request, found, lambda base: services.end(found, base, request.user, taking, findings),
        reverse(to, args=[found.plan.frame_id]),
    )  # fmt: skip


@require_GET
def learnt(request: SignedIn) -> HttpResponse:
    """What the bench has learnt of its rolls, with the evidence and what is proposed."""
    rolls = [roll_shown(each, request.user.units) for each in rolls_of(request.user)]
    return render(request, "jobs/learnt.html", {"rolls": rolls})


@require_POST
def take_over(request: SignedIn, material_pk: int) -> HttpResponse:
    """Take a tape for what was found, as the page told it."""
    roll = roll_of(get_object_or_404(materials_of(request.user), pk=material_pk))
    if roll.evidence.is_off and request.POST.get("jobs") == str(roll.evidence.jobs):
        services.take_over(roll.material, roll.proposed, roll.evidence.jobs, request.user)
    return redirect("jobs:learnt")


@require_POST
def take_back(request: SignedIn, correction_pk: int) -> HttpResponse:
    """Take a tape for what it was taken for before."""
    mine = Correction.objects.filter(material__shop=request.user.shop_id)
    services.take_back(get_object_or_404(mine, pk=correction_pk))
    return redirect("jobs:learnt")


def _noted(
    request: SignedIn, found: BenchWork, write: Callable[[int], object], to: str = ""
) -> HttpResponse:
    """Do a write on top of what the page showed, and go on; say where something was done in between."""
    here = reverse("jobs:work", args=[found.pk])
    try:
        write(read_count(request.POST.get("base", ""), -1))
    except KentrobarError as error:
        messages.error(request, error.message)
        return redirect(here)
    return redirect(to or here)


def _work(request: SignedIn, pk: int) -> BenchWork:
    return get_object_or_404(works_of(request.user), pk=pk)
