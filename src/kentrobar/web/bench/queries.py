"""The reads of the bench, each through the shop."""

from __future__ import annotations

from django.db.models import Prefetch, QuerySet

from kentrobar.web.bench.models import BenchEvent, BenchWork
from kentrobar.web.frames.models import FrameFitting
from kentrobar.web.measuring.models import Reading
from kentrobar.web.shops.models import User


def works_of(user: User) -> QuerySet[BenchWork]:
    """All work at the bench of the person's shop, with all that a page of it tells."""
    return works().filter(plan__shop=user.shop_id)


def works() -> QuerySet[BenchWork]:
    """All work at the bench, with its events in order, its frame, readings and fittings."""
    fittings = Prefetch("plan__frame__fittings", FrameFitting.objects.order_by("pk"))
    events = Prefetch("events", BenchEvent.objects.select_related("made_by"))
    readings = Prefetch("specs__readings", Reading.objects.select_related("instrument"))
    calibrations = "specs__readings__instrument__calibrations"
    together = ("specs", "plan__frame__specs", "plan__frame__client", "plan__specs")
    return BenchWork.objects.select_related(*together).prefetch_related(
        fittings, events, readings, calibrations
    )
