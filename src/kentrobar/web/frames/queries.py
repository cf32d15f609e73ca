"""The reads of frames, each through the shop."""

from __future__ import annotations

import django_filters
from django.db.models import Count, OuterRef, Prefetch, Q, QuerySet, Subquery

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.web.frames.models import Frame, FrameFitting, FrameModel
from kentrobar.web.materials.models import Accessory
from kentrobar.web.shops.models import Client, User

MOST_SIBLINGS = 20


def frames_of(user: User) -> QuerySet[Frame]:
    """All frames of the person's shop with the readings that count."""
    return Frame.objects.filter(shop=user.shop_id).select_related("specs", "client", "model")


def frames_with_fittings(user: User) -> QuerySet[Frame]:
    """The shop's frames with their readings and all that is or was fitted on them."""
    return frames_of(user).prefetch_related(
        Prefetch("fittings", FrameFitting.objects.order_by("pk"))
    )


def client_names(user: User) -> list[str]:
    return list(Client.objects.filter(shop=user.shop_id).values_list("name", flat=True)[:1000])


def model_names(user: User, sport: str) -> list[str]:
    models = FrameModel.objects.filter(shop=user.shop_id, sport=sport)
    return list(models.values_list("name", flat=True)[:1000])


def last_of_model(user: User, sport: str, name: str) -> Frame | None:
    """The frame of a model that was taken in last, which others are likely to be like."""
    of_model = Frame.objects.filter(shop=user.shop_id, sport=sport, model__name__iexact=name)
    return of_model.order_by("-pk").first()


def specs_of_model(user: User, sport: str, name: str, build: str) -> list[MeasuredSpecs]:
    """Specs of frames of a model, read in one build."""
    of_model = Frame.objects.filter(
        shop=user.shop_id, sport=sport, model__name__iexact=name, specs__build=build
    ).select_related("specs")
    return [frame.measured for frame in of_model.order_by("-pk")[:MOST_SIBLINGS]]


def shelf_of_accessories(user: User) -> QuerySet[Accessory]:
    return Accessory.objects.filter(shop=user.shop_id)


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
                | Q(client__name__icontains=word)
                | Q(model__name__icontains=word)
                | Q(mark__icontains=word)
                | Q(notes__icontains=word)
            )
        return frames


def listed(user: User) -> QuerySet[Frame]:
    """Frames with the number of their plans, counted for the rows that are shown only."""
    # A join would group all frames of the shop before it cuts the page.
    plans = Frame.objects.filter(pk=OuterRef("pk")).values(count=Count("plans"))
    return frames_of(user).annotate(plan_count=Subquery(plans))
