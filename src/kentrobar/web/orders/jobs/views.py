"""The jobs: the list, a new one, one job's page and what is done there."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta

from django.contrib import messages
from django.core.paginator import Paginator
from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.utils.http import urlencode
from django.views.decorators.http import require_GET, require_POST

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.frames.queries import client_names, frames_in_use, frames_of, with_words
from kentrobar.web.kit.merging import row_to_edit
from kentrobar.web.kit.requests import page, read_count, read_day
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.orders.handover.matched import match_view
from kentrobar.web.orders.job_state import job_state, job_states
from kentrobar.web.orders.jobs import services
from kentrobar.web.orders.jobs.forms import JobForm, NewJobForm, PhotoForm
from kentrobar.web.orders.jobs.photos import encoded, keep_photo
from kentrobar.web.orders.jobs.view_models import job_view, line
from kentrobar.web.orders.models import Job, JobFrame
from kentrobar.web.orders.queries import jobs_in_full, jobs_of
from kentrobar.web.planning.queries import plans_of
from kentrobar.web.shops.requests import SignedIn

PER_PAGE, MOST_FOUND = 50, 8


@require_GET
def job_list(request: SignedIn) -> HttpResponse:
    """All jobs, the newest first."""
    found = Paginator(jobs_in_full(request.user), PER_PAGE).get_page(request.GET.get("page", ""))
    lines = [line(each, timezone.localdate()) for each in job_states(found.object_list)]
    return render(request, "orders/jobs/list.html", {"lines": lines, "page": found})


def new(request: SignedIn) -> HttpResponse:
    """Take a job on; the client's frames are offered as soon as the client is named."""
    if request.method == "POST" and "brief" not in request.POST:  # from the list of frames
        query = urlencode({"frame": request.POST.getlist("frame")}, doseq=True)
        return redirect(f"{reverse('orders:new')}?{query}")
    sent = request.POST if request.method == "POST" else None
    named = request.POST.get("client") or request.GET.get("client", "")
    ticked = request.GET if sent is None else sent  # what is ticked stays while the client is typed
    marked = [*request.GET.getlist("frame"), *ticked.getlist("frames")]
    if not named and marked:
        named = _player_of(request, marked)
    form = NewJobForm(sent, user=request.user, client=named.strip(), marked=marked)
    if request.method == "POST" and form.is_valid():
        about = form.about()
        try:
            job = services.take_job(
                request.user, frames=form.cleaned_data["frames"], of=form.cleaned_data["of"], **about
            )
        except KentrobarError as error:
            form.refuse(error)
        else:
            return redirect("orders:job", pk=job.pk)
    context = {"form": form, "clients": client_names(request.user)}
    if request.htmx and request.method == "GET":
        return render(request, "orders/jobs/_frames.html", context)
    return page(request, "orders/jobs/new.html", context)


def _player_of(request: SignedIn, marked: list[str]) -> str:
    keys = [key for key in map(read_count, marked) if key]
    first = frames_of(request.user).filter(pk__in=keys).exclude(client=None).first()
    return first.player if first else ""


@require_GET
def job(request: SignedIn, pk: int) -> HttpResponse:
    """One job: what comes next, its frames, what was agreed."""
    found = _job(request, pk)
    state = job_state(found)
    view = job_view(state, shelf_of(request.user), timezone.localdate())
    words = request.GET.get("find", "").strip()
    context: dict[str, object] = {"job": found, "view": view, "find": words}
    context["match"] = match_view(state, request.user.units)
    if words:
        of_shop = with_words(frames_in_use(request.user), words)
        there = [row.frame_id for row in found.members.all()]
        context["found"] = of_shop.exclude(pk__in=there)[:MOST_FOUND]
    shop = request.user.own_shop
    asks_on = timezone.localdate() + timedelta(days=shop.follow_up_after_days)
    photos = found.photos.defer("image")
    more = {"photo_form": PhotoForm(), "photos": photos, "asks_on": asks_on.isoformat()}
    return render(request, "orders/jobs/job.html", context | more)


@transaction.atomic
def edit(request: SignedIn, pk: int) -> HttpResponse:
    """Change what was agreed."""
    found = row_to_edit(request, jobs_of(request.user), pk)
    form = JobForm(request.POST or None, user=request.user, instance=found)
    if request.method == "POST" and form.is_valid():
        try:
            services.change_job(found, **form.about())
        except KentrobarError as error:
            form.refuse(error)
        else:
            return redirect("orders:job", pk=pk)
    context = {"form": form, "job": found, "clients": client_names(request.user)}
    return page(request, "orders/jobs/edit.html", context)


@require_POST
def add_frame(request: SignedIn, pk: int) -> HttpResponse:
    """Have one more frame done."""
    frame = get_object_or_404(frames_of(request.user), pk=read_count(request.POST.get("frame", "")))
    return _done(request, pk, lambda found: services.add_frame(found, frame))


@require_POST
def drop_frame(request: SignedIn, pk: int, row_pk: int) -> HttpResponse:
    """Leave a frame out."""
    return _done(request, pk, lambda found: services.drop_frame(found, _row(found, row_pk)))


@require_POST
def mean_plan(request: SignedIn, pk: int, row_pk: int) -> HttpResponse:
    """Say which plan is meant for a frame."""
    row = _row(get_object_or_404(jobs_of(request.user), pk=pk), row_pk)
    key = read_count(request.POST.get("plan", ""))
    of_frame = plans_of(request.user).filter(frame=row.frame_id)
    plan = get_object_or_404(of_frame, pk=key) if key else None
    return _done(request, pk, lambda _found: services.mean_plan(row, plan))


@require_POST
def match(request: SignedIn, pk: int) -> HttpResponse:
    """Make the frames of a job a set, or add what is missing to the set it is of, and go there."""
    found = get_object_or_404(jobs_of(request.user), pk=pk)
    try:
        of = services.match_frames(found, request.user)
    except KentrobarError as error:
        messages.error(request, error.message)
        return redirect("orders:job", pk=pk)
    return redirect("matching:set", pk=of.pk)


@require_POST
def notified(request: SignedIn, pk: int) -> HttpResponse:
    """Note that the client knows that it is ready."""
    return _done(request, pk, services.tell_client)


@require_POST
def hand_over(request: SignedIn, pk: int) -> HttpResponse:
    """Note that the client has it back."""
    day = None
    if "asks" in request.POST:
        day = read_day(request.POST.get("follow_up_on", ""))
    return _done(request, pk, lambda found: services.hand_over(found, request.user, day))


@require_POST
def call_off(request: SignedIn, pk: int) -> HttpResponse:
    """Note that it is not done any more."""
    return _done(request, pk, services.call_off)


@require_POST
def go_on(request: SignedIn, pk: int) -> HttpResponse:
    """Take it up again."""
    return _done(request, pk, services.go_on)


@require_POST
def add_photo(request: SignedIn, pk: int) -> HttpResponse:
    """Keep a photo, encoded anew."""
    form = PhotoForm(request.POST, request.FILES)
    if not form.is_valid():
        messages.error(request, "Choose a photo first.")
        return redirect("orders:job", pk=pk)
    caption = form.cleaned_data["caption"]
    return _done(
        request,
        pk,
        lambda found: keep_photo(found, encoded(form.cleaned_data["photo"]), caption, request.user),
    )


@require_GET
def photo(request: SignedIn, pk: int, photo_pk: int) -> HttpResponse:
    """A photo of a job."""
    found = get_object_or_404(get_object_or_404(jobs_of(request.user), pk=pk).photos, pk=photo_pk)
    answer = HttpResponse(bytes(found.image), content_type="image/jpeg")
    answer["Cache-Control"] = "private, max-age=86400"
    return answer


def _job(request: SignedIn, pk: int) -> Job:
    return get_object_or_404(jobs_in_full(request.user), pk=pk)


def _row(found: Job, row_pk: int) -> JobFrame:
    return get_object_or_404(found.members, pk=row_pk)


def _done(request: SignedIn, pk: int, write: Callable[[Job], object]) -> HttpResponse:
    """Do a write to a job and show it, with the reason where it was refused."""
    found = get_object_or_404(jobs_of(request.user), pk=pk)
    try:
        write(found)
    except KentrobarError as error:
        messages.error(request, error.message)
    return redirect("orders:job", pk=pk)
