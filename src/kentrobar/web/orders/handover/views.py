"""Verify a frame, sign it off, print its card and its label; the page that the label leads to."""

from __future__ import annotations

from django.contrib import messages
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.views import redirect_to_login
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils.text import slugify
from django.views.decorators.http import require_GET, require_POST

from kentrobar.core.body.target import NOTHING_WANTED
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.frames.queries import frames_of
from kentrobar.web.kit.numbers import Units
from kentrobar.web.kit.qr import qr
from kentrobar.web.kit.requests import context_of, handed_out, page, read_count
from kentrobar.web.materials.queries import shelf_of, shelf_of_shop
from kentrobar.web.orders.handover import paper, services
from kentrobar.web.orders.handover.forms import SignOffForm
from kentrobar.web.orders.handover.matched import match_view
from kentrobar.web.orders.handover.verifying import Outcome, outcome_of, signed_outcome
from kentrobar.web.orders.handover.view_models import card_view, outcome_view
from kentrobar.web.orders.job_state import JobMember, JobState, job_state
from kentrobar.web.orders.models import FramePage, SignOff
from kentrobar.web.orders.queries import jobs_in_full, jobs_of
from kentrobar.web.planning.paper.files import exported
from kentrobar.web.planning.paper.sheet import paper_of, printed
from kentrobar.web.shops.models import User
from kentrobar.web.shops.requests import SignedIn


def verify(request: SignedIn, pk: int, row_pk: int) -> HttpResponse:
    """Spec by spec within or not; signed off by name."""
    state, member = _member(request.user, pk, row_pk)
    outcome = outcome_of(member)
    form = SignOffForm(request.POST or None, initial={"signed_as": _name(request.user)})
    if request.method == "POST" and form.is_valid():
        try:
            services.sign_off(member.row, member.work, outcome, request.user, **form.cleaned_data)
        except KentrobarError as error:
            form.add_error("remark" if error.code == "no_remark" else None, error.message)
        else:
            return redirect("orders:job", pk=pk)
    shelf, units = shelf_of(request.user), request.user.units.of_sport(outcome.frame.sport)
    view = outcome_view(outcome, shelf, units)
    more = {"job": state.job, "member": member, "form": form, "sign_off": member.sign_off}
    context = context_of(view, match=match_view(state, units), **more)
    return page(request, "orders/handover/verify.html", context)


@require_GET
def card(request: SignedIn, pk: int, row_pk: int) -> HttpResponse:
    """The player's card as a PDF."""
    state, member = _member(request.user, pk, row_pk)
    outcome, shelf = _outcome(member), shelf_of(request.user)
    units = units_of_player(state, request).of_sport(outcome.frame.sport)
    context = context_of(
        outcome_view(outcome, shelf, units),
        card_view(outcome, shelf, units),
        job=state.job,
        sign_off=member.sign_off,
        shop=request.user.own_shop,
    )
    made = printed("orders/handover/card.html", paper_of(request.GET), context)
    return _pdf_of(made, f"card {member.frame.label}")


@require_GET
def file(request: SignedIn, pk: int, row_pk: int) -> HttpResponse:
    """The frame as it was and what lies on it now, as a kentrobar/1 file."""
    _, member = _member(request.user, pk, row_pk)
    outcome = _outcome(member)
    document = exported(outcome.plan, member.frame, outcome.before).model_dump_json(
        indent=2, exclude_none=True
    )
    name = slugify(member.frame.label) or "frame"
    return handed_out(document, "application/json", f"{name}.json")


@require_GET
def labels(request: SignedIn, pk: int) -> HttpResponse:
    """Labels for the frames of a job, on a sheet of the size asked for."""
    job = get_object_or_404(jobs_of(request.user), pk=pk)
    sheet = paper.SHEETS.get(request.GET.get("size", ""), paper.SHEETS[paper.USUAL_SHEET])
    skip = read_count(request.GET.get("skip", ""))
    labels = [
        paper.FrameLabel(each.frame, qr(_address(request, each)))
        for each in FramePage.objects.filter(frame__job_members__job=job).select_related("frame__specs")
    ]
    return _pdf_of(paper.labels_pdf(labels, job, sheet, skip), f"labels {job}")


@login_not_required
@require_GET
def label_page(request: HttpRequest, token: str) -> HttpResponse:
    """Where a label leads: to the frame for who works there, to its page where the shop shares it."""
    found = get_object_or_404(FramePage.objects.select_related("frame__shop", "frame__specs"), token=token)
    frame, user = found.frame, request.user
    if isinstance(user, User) and user.shop_id == frame.shop_id:
        return redirect("frames:detail", pk=frame.pk)
    if not frame.shop.shares_frame_pages:
        if user.is_authenticated:
            raise Http404
        return redirect_to_login(request.get_full_path())
    last = SignOff.objects.filter(member__frame=frame).select_related("work", "before", "sheet").first()
    outcome = (
        signed_outcome(last, frame)
        if last
        else Outcome(frame, frame.measured.axis_cm, None, frame.specs, NOTHING_WANTED, [])
    )
    shelf, units = shelf_of_shop(frame.shop), Units()
    views = outcome_view(outcome, shelf, units), card_view(outcome, shelf, units)
    answer = render(request, "orders/handover/label_page.html", context_of(*views, sign_off=last))
    answer["X-Robots-Tag"] = "noindex"
    return answer


@require_POST
def renew_label(request: SignedIn, frame_pk: int) -> HttpResponse:
    """Let the labels of a frame printed so far lead nowhere."""
    services.renew_page(get_object_or_404(frames_of(request.user), pk=frame_pk))
    messages.success(request, "Old labels no longer work. Print new ones.")
    return redirect("frames:detail", pk=frame_pk)


def units_of_player(state: JobState, request: SignedIn) -> Units:
    """The units that the player reads in; those of who asks where nobody said."""
    client = state.job.client
    return (client.units if client else None) or request.user.units


def _address(request: SignedIn, of: FramePage) -> str:
    return request.build_absolute_uri(reverse("orders:label_page", args=[of.token]))


def _outcome(member: JobMember) -> Outcome:
    return signed_outcome(member.sign_off, member.frame) if member.sign_off else outcome_of(member)


def _member(user: User, pk: int, row_pk: int) -> tuple[JobState, JobMember]:
    state = job_state(get_object_or_404(jobs_in_full(user), pk=pk))
    for member in state.members:
        if member.row.pk == row_pk:
            return state, member
    raise Http404


def _name(user: User) -> str:
    return user.get_full_name() or user.username


def _pdf_of(made: bytes, name: str) -> HttpResponse:
    return handed_out(made, "application/pdf", f"{slugify(name)}.pdf", inline=True)
