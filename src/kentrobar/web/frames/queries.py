"""The reads of frames, each through the shop."""

from __future__ import annotations

import django_filters
from django.db.models import Count, Q, QuerySet

from kentrobar.web.frames.models import Frame
from kentrobar.web.shops.models import User


def frames_of(user: User) -> QuerySet[Frame]:
    """All frames of the person's shop with the readings that count."""
    return Frame.objects.filter(shop=user.shop_id).select_related("specs")


class FrameFilter(django_filters.FilterSet):
    """Search over what tells a frame, word by word."""

    q = django_filters.CharFilter(method="search", max_length=100)
    sport = django_filters.ChoiceFilter(choices=Frame.SportChoice)

    class Meta:
        model = Frame
        fields = ["q", "sport"]

    def search(self, frames: QuerySet[Frame], _name: str, words: str) -> QuerySet[Frame]:
        for word in words.split()[:8]:
            frames = frames.filter(
                Q(label__icontains=word)
                | Q(player__icontains=word)
                | Q(mark__icontains=word)
                | Q(notes__icontains=word)
            )
        return frames


def listed(user: User) -> QuerySet[Frame]:
    return frames_of(user).annotate(plan_count=Count("plans"))
