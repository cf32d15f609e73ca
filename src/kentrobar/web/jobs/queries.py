"""The reads of the bench, each through the shop."""

from __future__ import annotations

from django.db.models import Prefetch, QuerySet

from kentrobar.web.frames.models import FrameFitting
from kentrobar.web.jobs.models import BenchEvent, BenchWork
from kentrobar.web.shops.models import User


def works_of(user: User) -> QuerySet[BenchWork]:
    """All work at the bench of the person's shop, with all that a page of it tells."""
    fittings = Prefetch("plan__frame__fittings", FrameFitting.objects.order_by("pk"))
    events = Prefetch("events", BenchEvent.objects.select_related("made_by"))
    together = ("specs", "plan__frame__specs", "plan__frame__client", "plan__specs")
    works = BenchWork.objects.filter(plan__shop=user.shop_id).select_related(*together)
    return works.prefetch_related(fittings, events)
