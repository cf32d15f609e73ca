"""The reads of sets, each through the shop."""

from __future__ import annotations

from django.db.models import Count, Prefetch, QuerySet

from kentrobar.web.frames.models import FrameFitting
from kentrobar.web.matching.models import FrameSet, SetLaying, SetMember
from kentrobar.web.planning.models import Plan
from kentrobar.web.shops.models import User


def sets_of(user: User) -> QuerySet[FrameSet]:
    """All sets of the person's shop."""
    return FrameSet.objects.filter(shop=user.shop_id)


def sets_listed(user: User) -> QuerySet[FrameSet]:
    """The same with the number of their frames, and what was laid for them last."""
    return sets_of(user).annotate(frame_count=Count("members")).prefetch_related("layings")


def sets_in_full(user: User) -> QuerySet[FrameSet]:
    """The same with their frames, readings and fittings, those of the set they are made like, and plans."""
    members = SetMember.objects.select_related(
        "frame__specs", "frame__client", "frame__model"
    ).prefetch_related(Prefetch("frame__fittings", FrameFitting.objects.order_by("pk")))
    plans = Plan.objects.select_related("frame")
    layings = SetLaying.objects.prefetch_related(Prefetch("plans", plans))
    return (
        sets_of(user)
        .select_related("favourite", "other", "tape", "putty")
        .prefetch_related(
            Prefetch("members", members), Prefetch("other__members", members), Prefetch("layings", layings)
        )
    )
