"""Reads of what was found out on court, each through the shop."""

from __future__ import annotations

from django.db.models import Prefetch, QuerySet

from kentrobar.core.play.hits import Hit
from kentrobar.web.frames.models import Frame, FrameFitting
from kentrobar.web.play.models import HitMap, Trial
from kentrobar.web.shops.models import User


def hit_maps_of(user: User) -> QuerySet[HitMap]:
    """All hit maps of the person's shop with their frames."""
    return HitMap.objects.filter(shop=user.shop_id).select_related(
        "frame__specs", "frame__client", "frame__shop"
    )


def hit_maps_in_full(user: User) -> QuerySet[HitMap]:
    """The same with all that is or was fitted on the frames."""
    fittings = Prefetch("frame__fittings", FrameFitting.objects.order_by("pk"))
    return hit_maps_of(user).prefetch_related(fittings)


def latest_hits(frame: Frame, stroke: str) -> list[Hit]:
    """The hits of the map of a frame and a stroke that was made last; none where there is no map."""
    found = HitMap.objects.filter(frame=frame, stroke=stroke).exclude(hits=[]).first()
    return found.marked if found else []


def trials_of(user: User) -> QuerySet[Trial]:
    """All trials of the person's shop with their frames."""
    return Trial.objects.filter(shop=user.shop_id).select_related(
        "frame__specs", "frame__client", "frame__shop", "twin", "specs"
    )
