"""What the bench shows of jobs."""

from __future__ import annotations

from django.urls import reverse

from kentrobar.web.bench.hooks import JobOfWork
from kentrobar.web.bench.models import BenchWork
from kentrobar.web.orders.queries import open_member_of
from kentrobar.web.shops.models import User


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
