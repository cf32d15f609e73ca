"""Every write of jobs."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date
from typing import Any

from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.records import locked, write
from kentrobar.web.matching.models import FrameSet
from kentrobar.web.matching.services import add_frames, create_set, plans_applied
from kentrobar.web.orders.handover.services import page_of
from kentrobar.web.orders.models import Job, JobFrame
from kentrobar.web.orders.queries import OPEN
from kentrobar.web.planning.models import Plan
from kentrobar.web.shops.models import User
from kentrobar.web.shops.services import client_named


@transaction.atomic
def take_job(
    by: User, *, client: str = "", frames: Iterable[Frame] = (), of: FrameSet | None = None, **about: Any
) -> Job:
    """Take a job on; ``client`` is a name, known or new, ``about`` the rest by field.

    Of a set, its frames are the job's, each with the plan that was laid for it last.

    Raises:
        AmbiguousNameError: several clients are called so but for capitals.
    """
    shop = locked(by.own_shop)
    last = Job.objects.filter(shop=shop).aggregate(last=Max("number"))["last"]
    job = Job.objects.create(
        shop=shop, number=(last or 0) + 1, client=client_named(shop, client), set=of, created_by=by, **about
    )
    plans = {plan.frame_id: plan for plan in plans_applied(of)} if of else {}
    of_set = [member.frame for member in of.members.filter(is_out=False)] if of else []
    for frame in {each.pk: each for each in [*frames, *of_set]}.values():
        _join(job, frame, plans.get(frame.pk) or _plan_at_bench(frame))
    return job


def _join(job: Job, frame: Frame, plan: Plan | None) -> None:
    JobFrame.objects.get_or_create(job=job, frame=frame, defaults={"plan": plan})
    page_of(frame)  # that its label leads to


def _plan_at_bench(frame: Frame) -> Plan | None:
    return frame.plans.filter(works__isnull=False, works__ended_at=None).first()


@transaction.atomic
def change_job(job: Job, *, client: str, **about: Any) -> None:
    """Change what was agreed. Raises as :func:`take_job`."""
    write(job, client=client_named(job.shop, client), **about)


@transaction.atomic
def add_frame(job: Job, frame: Frame) -> None:
    """Have one more frame done; nothing where it is done already."""
    _join(_open(job), frame, _plan_at_bench(frame))


@transaction.atomic
def match_frames(job: Job, by: User) -> FrameSet:
    """The set of a job's frames: a new one, or that of the job with the frames it lacked.

    Raises:
        KentrobarError: the job is closed, has one frame, too many, or frames of both sports.
    """
    kept = _open(job)
    frames = [
        row.frame for row in kept.members.select_related("frame__specs", "frame__client", "frame__model")
    ]
    if kept.set is not None:
        add_frames(kept.set, frames)
        return kept.set
    of = create_set(frames, by)
    write(kept, set=of)
    return of


@transaction.atomic
def drop_frame(job: Job, row: JobFrame) -> None:
    """Leave a frame out of a job.

    Raises:
        KentrobarError: it was signed off, so it belongs to what is handed over.
    """
    _open(job)
    if row.sign_offs.exists():
        raise KentrobarError("It was signed off in this job, so it stays.", code="signed_off")
    row.delete()


@transaction.atomic
def mean_plan(row: JobFrame, plan: Plan | None) -> None:
    """Say which plan is meant for a frame; none: the latest laid for it."""
    _open(row.job)
    write(row, plan=plan)


@transaction.atomic
def put_on(job: Job, day: date | None, place: int) -> None:
    """Put a job on a day at the bench, at this place among those of the day; None: on no day."""
    locked(job.shop)  # two hands at one week
    others = Job.objects.select_for_update().filter(OPEN, shop=job.shop_id, bench_on=day)
    order = list(others.exclude(pk=job.pk).order_by("bench_order", "number"))
    order.insert(max(0, min(place, len(order))), job)
    write(job, bench_on=day)
    for i, each in enumerate(order):
        if each.bench_order != i:
            Job.objects.filter(pk=each.pk).update(bench_order=i)
    job.bench_order = order.index(job)


@transaction.atomic
def tell_client(job: Job) -> None:
    """Note that the client knows that it is ready."""
    write(_open(job), notified_at=timezone.now())


@transaction.atomic
def hand_over(job: Job, by: User, follow_up_on: date | None) -> None:
    """Note that the client has it back; ``follow_up_on``: when to ask how it plays."""
    write(_open(job), handed_over_at=timezone.now(), handed_over_by=by, follow_up_on=follow_up_on)


@transaction.atomic
def call_off(job: Job) -> None:
    """Note that it is not done any more; what was done stays known."""
    write(_open(job), called_off_at=timezone.now(), bench_on=None)


@transaction.atomic
def go_on(job: Job) -> None:
    """Take up again a job that was called off or handed over too early."""
    write(job, called_off_at=None, handed_over_at=None, handed_over_by=None)


def _open(job: Job) -> Job:
    """The job, locked, while it is neither handed over nor called off."""
    kept = locked(job)
    if kept.handed_over_at or kept.called_off_at:
        raise KentrobarError("This job is closed. Reopen it to change it.", code="job_is_closed")
    return kept
