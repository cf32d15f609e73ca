"""The bench: what lies on it, and the work of one plan step by step."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from django.contrib import messages
from django.core import signing
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils.text import slugify
from django.views.decorators.http import require_GET, require_POST

from kentrobar.core.editing.plan import PlanPiece
from kentrobar.core.editing.stored import stored_pieces
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.weight.pieces import Piece
from kentrobar.web.bench import services
from kentrobar.web.bench.evidence import all_findings_of, expected_offset, expected_shifts
from kentrobar.web.bench.files import export_work
from kentrobar.web.bench.forms import CutForm, MoveForm, ReadingAtBench, SplitForm
from kentrobar.web.bench.hooks import job_of
from kentrobar.web.bench.models import BenchEvent, BenchWork
from kentrobar.web.bench.queries import works_of
from kentrobar.web.bench.rounds import taking_of, work_state
from kentrobar.web.bench.swinging import frame_as_now, swing_record
from kentrobar.web.bench.view_models import TRIMS, bench_view
from kentrobar.web.frames.queries import frames_of
from kentrobar.web.kit.archive import IN_USE
from kentrobar.web.kit.numbers import Units
from kentrobar.web.kit.records import ChangedError
from kentrobar.web.kit.requests import handed_out, page, read_count
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.measuring.timing.timer import Timer, TimerLinks
from kentrobar.web.planning.queries import plans_of
from kentrobar.web.shops.requests import SignedIn
from kentrobar.web.showing.pieces import piece_text

Kind = BenchEvent.EventKind


def plan(request: SignedIn, plan_pk: int) -> HttpResponse:
    """Take a plan to the bench, or go on where it lies there."""
    found = get_object_or_404(plans_of(request.user), pk=plan_pk)
    begun = found.works.filter(ended_at=None).first()
    if begun is not None:
        return redirect("bench:work", pk=begun.pk)
    if request.method != "POST":
        return render(request, "bench/plan.html", {"plan": found, "frame": found.frame})
    try:
        return redirect("bench:work", pk=services.start(found, request.user).pk)
    except KentrobarError as error:
        messages.error(request, error.message)
        return redirect("planning:board", pk=plan_pk)


@require_GET
def of_frame(request: SignedIn, frame_pk: int) -> HttpResponse:
    """The bench of one frame: the work under way, else the plans that could be applied."""
    frame = get_object_or_404(frames_of(request.user), pk=frame_pk)
    works = BenchWork.objects.filter(plan__frame=frame).select_related("plan")
    under_way = [each for each in works if each.ended_at is None]
    if len(under_way) == 1:
        return redirect("bench:work", pk=under_way[0].pk)
    plans = frame.plans.filter(IN_USE).exclude(pieces=[]).exclude(works__in=works)
    return render(request, "bench/frame.html", {"frame": frame, "works": works, "plans": plans})


def work(request: SignedIn, pk: int) -> HttpResponse:
    """One work: what to do now; a reading is taken here too."""
    found = _work(request, pk)
    state = work_state(found)
    outline = state.plan.outline
    form = ReadingAtBench(
        request.POST if request.method == "POST" else None,
        request.user,
        sport=outline.sport,
        length_cm=outline.length_cm,
        axis_cm=found.target.axis_cm,
    )
    status, problem = 200, ""
    if request.method == "POST" and form.is_valid():
        base = read_count(request.POST.get("base", ""), -1)
        try:
            services.note(found, base, request.user, Kind.READ, data=form.record())
        except KentrobarError as error:  # what was read is not lost: it stands in its fields
            status, problem = 409, f"{error.message} Your reading does not count yet."
        else:
            return redirect("bench:work", pk=pk)
    elif request.method == "POST":
        status = 422
    offset = None
    if state.to_apply:
        first = state.planned(state.to_apply[0]).piece
        offset = expected_offset(request.user, first, outline)
    context = {
        "work": found,
        "frame": found.plan.frame,
        "boxes": form.boxes,
        "problem": problem,
        "bench": bench_view(state, shelf_of(request.user), _units(request, found), offset),
        "job": job_of(request.user, found),
    }
    return render(request, "bench/work.html", context, status=status)


def swing(request: SignedIn, pk: int, method: str) -> HttpResponse:
    """Time a swing of the frame as it lies; what it comes to is a reading at the bench."""
    found = _work(request, pk)
    timer = Timer(request, frame_as_now(work_state(found)), method)
    if timer.settled:
        data = swing_record(timer.settled)
        return _noted(
            request, found, lambda base: services.note(found, base, request.user, Kind.READ, data=data)
        )
    back, seen = reverse("bench:work", args=[pk]), len(found.events.all())
    return timer.page(request, TimerLinks("bench", pk, back, " on the bench", seen))


@require_POST
def swing_summary(request: SignedIn, pk: int, method: str) -> HttpResponse:
    """What the taps or the recording come to so far; saves nothing."""
    return Timer(request, frame_as_now(work_state(_work(request, pk))), method).summary(request)


@require_GET
def file(request: SignedIn, pk: int) -> HttpResponse:
    """The work as a kentrobar/1 file."""
    found = _work(request, pk)
    document = export_work(work_state(found)).model_dump_json(indent=2, exclude_none=True)
    name = slugify(f"{found.plan.frame.label} rounds")
    return handed_out(document, "application/json", f"{name}.json")


@require_GET
def since(request: SignedIn, pk: int) -> HttpResponse:
    """What somebody else did here since a page was made; nothing where nothing was done."""
    mine = BenchEvent.objects.filter(work=pk, work__plan__shop=request.user.shop_id)
    done = mine.filter(number__gt=read_count(request.GET.get("base", ""))).select_related("made_by")
    last = done.last()
    if last is None:
        return HttpResponse(status=204)
    return render(request, "bench/_since.html", {"event": last, "work_pk": pk})


@require_POST
def lay(request: SignedIn, pk: int) -> HttpResponse:
    """Note that the piece whose turn it is lies, or is left out."""
    found = _work(request, pk)
    kind = Kind.LEFT_OUT if "out" in request.POST else Kind.LAID
    number, state = read_count(request.POST.get("piece", "")), work_state(found)
    if number not in state.to_apply:
        messages.error(request, ChangedError(found).message)
        return redirect("bench:work", pk=pk)
    offset = expected_offset(request.user, state.planned(number).piece, state.plan.outline)
    data = {"place": list(offset)} if offset and kind == Kind.LAID else {}
    return _noted(request, found, lambda base: services.note(found, base, request.user, kind, number, data))


@require_POST
def trim(request: SignedIn, pk: int) -> HttpResponse:
    """Note that the trim that the page told is done: that one, whatever would be told by now."""
    found = _work(request, pk)
    try:
        trims = signing.loads(request.POST.get("trims", ""), salt=TRIMS)
    except signing.BadSignature:
        messages.error(request, ChangedError(found).message)
        return redirect("bench:work", pk=pk)
    return _noted(request, found, lambda base: services.note_trims(found, base, request.user, trims))


def _units(request: SignedIn, of: BenchWork) -> Units:
    """How the person reads frames of the sport of what is worked on."""
    return request.user.units.of_sport(of.plan.frame.sport)


def piece(request: SignedIn, pk: int, number: int) -> HttpResponse:
    """A piece that lies: cut otherwise than was told, moved, or taken off."""
    found = _work(request, pk)
    units = _units(request, found)
    state = work_state(found)
    applied = dict(state.applied_pieces()).get(number)
    if applied is None or found.ended_at is not None:
        raise Http404
    sent = request.POST if request.method == "POST" else {}
    alone = replace(state.plan, placed=(PlanPiece(number, applied),))
    cut = CutForm(sent if "cut" in sent else None, piece=applied, units=units)
    move = MoveForm(sent if "move" in sent else None, alone=alone, number=number, units=units)
    strip, split = applied.as_strip, None
    if strip is not None:
        outline = found.plan.frame.outline
        split = SplitForm(sent if "split" in sent else None, strip=strip, outline=outline, units=units)
    if split is not None and split.is_bound and split.is_valid():
        parts = [PlanPiece(n, part) for n, part in zip((number, state.next_number), split.parts, strict=True)]
        return _noted(request, found, lambda base: services.note_split(found, base, request.user, parts))
    if "off" in sent:
        return _piece_noted(request, found, number, Kind.TAKEN_OFF, None)
    if cut.is_bound and cut.is_valid():
        return _piece_noted(request, found, number, Kind.TRIMMED, cut.cut)
    if move.is_bound and move.is_valid():
        return _piece_noted(request, found, number, Kind.MOVED, move.moved)
    text = piece_text(applied, found.plan.frame, units)
    context = {
        "work": found,
        "frame": found.plan.frame,
        "text": text,
        "cut": cut,
        "move": move,
        "split": split,
    }
    return page(request, "bench/piece.html", context | {"base": len(found.events.all())})


def _piece_noted(
    request: SignedIn, found: BenchWork, number: int, kind: Kind, then: Piece | None
) -> HttpResponse:
    """Note what was done to a piece, and how it lies then."""
    data = stored_pieces([PlanPiece(number, then)])[0] if then else {}
    return _noted(request, found, lambda base: services.note(found, base, request.user, kind, number, data))


@require_POST
def permanent(request: SignedIn, pk: int) -> HttpResponse:
    """Note that what lies is made permanent, with what it is expected to shift by as learnt so far."""
    found = _work(request, pk)
    data = {"shifts": expected_shifts(request.user)}
    return _noted(
        request, found, lambda base: services.note(found, base, request.user, Kind.PERMANENT, data=data)
    )


@require_POST
def believe(request: SignedIn, pk: int) -> HttpResponse:
    """Count a reading that was questioned."""
    found = _work(request, pk)
    last = work_state(found).rounds[-1:]
    data = {"event": last[0].event.number} if last else {}
    return _noted(
        request, found, lambda base: services.note(found, base, request.user, Kind.BELIEVED, data=data)
    )


@require_POST
def end(request: SignedIn, pk: int) -> HttpResponse:
    """End the work: what is permanent and read counts for the frame; else it is to be read anew."""
    found = _work(request, pk)
    state = work_state(found)
    taking, job = taking_of(state), job_of(request.user, found)
    findings = all_findings_of(state)
    to = reverse("measuring:measure", args=[found.plan.frame_id])
    if taking and job:
        to = job.verify_address
    elif taking:
        to = reverse("frames:detail", args=[found.plan.frame_id])
    return _noted(request, found, lambda base: services.end(found, base, request.user, taking, findings), to)


def _noted(request: SignedIn, found: BenchWork, write: Callable[[int], object], to: str = "") -> HttpResponse:
    """Do a write on top of what the page showed, and go on; say where something was done in between."""
    here = reverse("bench:work", args=[found.pk])
    try:
        write(read_count(request.POST.get("base", ""), -1))
    except KentrobarError as error:
        messages.error(request, error.message)
        return redirect(here)
    return redirect(to or here)


def _work(request: SignedIn, pk: int) -> BenchWork:
    return get_object_or_404(works_of(request.user), pk=pk)
