"""The reads of jobs and of the bench, each through the shop."""

from __future__ import annotations

from datetime import date

from django.db.models import Exists, OuterRef, Prefetch, Q, QuerySet

from kentrobar.web.bench.models import BenchWork
from kentrobar.web.matching.models import SetLaying
from kentrobar.web.orders.models import Job, JobFrame, PlayTest
from kentrobar.web.planning.models import Plan
from kentrobar.web.shops.models import Shop, User

OPEN = Q(called_off_at=None, handed_over_at=None)
TO_FOLLOW_UP = Q(called_off_at=None, followed_up_at=None, follow_up_on__isnull=False) & ~Q(
    handed_over_at=None
)


def jobs_of(user: User) -> QuerySet[Job]:
    """All jobs of the person's shop."""
    return _in(user.own_shop)


def _in(shop: Shop) -> QuerySet[Job]:
    return Job.objects.filter(shop=shop).select_related("client", "set", "shop")


def _in_full(shop: Shop) -> QuerySet[Job]:
    of_a_set = Exists(SetLaying.objects.filter(plans=OuterRef("pk")))  # such a plan may need nothing
    with_pieces = Plan.objects.filter(~Q(pieces=[]) | of_a_set).prefetch_related("works", "set_layings")
    members = JobFrame.objects.select_related("frame__specs", "frame__client").prefetch_related(
        Prefetch("frame__plans", with_pieces), "sign_offs"
    )
    return _in(shop).prefetch_related(Prefetch("members", members))


def jobs_in_full(user: User) -> QuerySet[Job]:
    """All jobs of the person's shop, each with its frames and all that tells where they stand."""
    return _in_full(user.own_shop)


def open_jobs(user: User) -> QuerySet[Job]:
    """The same of jobs that are not handed over yet."""
    return open_jobs_in(user.own_shop)


def open_jobs_in(shop: Shop) -> QuerySet[Job]:
    """The same by shop, where nobody is signed in."""
    return _in_full(shop).filter(OPEN)


def open_member_of(user: User, work: BenchWork) -> JobFrame | None:
    """The frame of a work in the open job that it is done for; None without a job."""
    open_ones = Job.objects.filter(OPEN, shop=user.shop_id)
    rows = JobFrame.objects.filter(job__in=open_ones, frame=work.plan.frame_id)
    return rows.select_related("job").order_by("-pk").first()


def follow_ups(user: User, until: date) -> QuerySet[Job]:
    """Jobs handed over whose player is to be asked until that day."""
    return to_follow_up_in(user.own_shop).filter(follow_up_on__lte=until)


def to_follow_up_in(shop: Shop) -> QuerySet[Job]:
    """Jobs handed over whose player is to be asked, the one due first before the others."""
    return _in(shop).filter(TO_FOLLOW_UP).order_by("follow_up_on")


def works_without_job(user: User) -> QuerySet[BenchWork]:
    """Work on the bench that is of no open job."""
    of_jobs = Job.objects.filter(OPEN, shop=user.shop_id).values("members__frame")
    works = BenchWork.objects.filter(plan__shop=user.shop_id, ended_at=None)
    return works.exclude(plan__frame__in=of_jobs).select_related("plan__frame__client")


def play_tests_of(user: User) -> QuerySet[PlayTest]:
    """What players said in the person's shop, the latest first."""
    together = ("frame__specs", "other", "other_sheet", "sheet", "before", "job__client")
    return PlayTest.objects.filter(job__shop=user.shop_id).select_related(*together)
