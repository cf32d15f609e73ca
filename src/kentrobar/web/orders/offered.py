"""What the bench shows of jobs, and how a check-in for a job goes on."""

from __future__ import annotations

from collections.abc import Sequence

from django.contrib import messages
from django.urls import reverse

from kentrobar.web.bench.hooks import JobOfWork
from kentrobar.web.bench.models import BenchWork
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.requests import read_count
from kentrobar.web.orders.jobs import services
from kentrobar.web.orders.queries import OPEN, jobs_of, open_member_of
from kentrobar.web.shops.models import User
from kentrobar.web.shops.requests import SignedIn


def job_of_work(user: User, work: BenchWork) -> JobOfWork | None:
    """The open job that a work is done for."""
    member = open_member_of(user, work)
    if member is None:
        return None
    return JobOfWork(
        str(member.job),
        reverse("orders:job", args=[member.job_id]),
        reverse("orders:verify", args=[member.job_id, member.pk]),
    )


def to_job(request: SignedIn, frames: Sequence[Frame]) -> str | None:
    """Frames checked in for a job are added to it, and its page comes next."""
    key = read_count(request.POST.get("job", ""))
    job = jobs_of(request.user).filter(OPEN, pk=key).first() if key else None
    if job is None:
        return None
    for frame in frames:
        services.add_frame(job, frame)
    messages.success(request, f"{', '.join(frame.label for frame in frames)} checked in for {job}.")
    return reverse("orders:job", args=[job.pk])
