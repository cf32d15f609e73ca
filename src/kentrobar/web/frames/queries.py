"""The reads of frames, each through the shop."""

from __future__ import annotations

from django.db.models import Count, OuterRef, Prefetch, Q, QuerySet, Subquery

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import READ
from kentrobar.core.weight.builds import Build
from kentrobar.web.frames.models import Frame, FrameFitting, FrameModel, spread_columns
from kentrobar.web.kit.archive import IN_USE, in_use_or_archived
from kentrobar.web.materials.models import Accessory
from kentrobar.web.materials.queries import accessories_of
from kentrobar.web.shops.models import Client, User

MOST_SIBLINGS = 20
MOST_WORDS = 8  # of a search
LONGEST_SEARCH = 100  # characters


def frames_of(user: User) -> QuerySet[Frame]:
    """All frames of the person's shop with the readings that count."""
    return Frame.objects.filter(shop=user.shop_id).select_related("specs", "client", "model")


def frames_in_use(user: User) -> QuerySet[Frame]:
    """Those that are offered to be planned for, compared, put into sets and jobs: not the archived ones."""
    return frames_of(user).filter(IN_USE)


def frames_with_fittings(user: User) -> QuerySet[Frame]:
    """The shop's frames with their readings and all that is or was fitted on them."""
    return frames_of(user).prefetch_related(Prefetch("fittings", FrameFitting.objects.order_by("pk")))


def clients_of(user: User) -> QuerySet[Client]:
    """The shop's clients by name, each with their frames in use."""
    return Client.objects.filter(shop=user.shop_id).prefetch_related(
        Prefetch("frames", Frame.objects.filter(IN_USE).only("label", "client").order_by("label"))
    )


def client_names(user: User) -> list[str]:
    return list(Client.objects.filter(shop=user.shop_id).values_list("name", flat=True)[:1000])


def model_names(user: User, sport: str) -> list[str]:
    models = FrameModel.objects.filter(shop=user.shop_id, sport=sport)
    return list(models.values_list("name", flat=True)[:1000])


def last_of_model(user: User, sport: str, name: str) -> Frame | None:
    """The frame of a model that was taken in last, which others are likely to be like."""
    of_model = Frame.objects.filter(shop=user.shop_id, sport=sport, model__name__iexact=name)
    return of_model.select_related("specs", "model").order_by("-pk").first()


def build_read_last(user: User, sport: str) -> str:
    """The build that the shop's last new frame of a sport was read in; ready to play before there is one."""
    builds = Frame.objects.filter(shop=user.shop_id, sport=sport, specs__isnull=False).order_by("-pk")
    last = builds.exclude(specs__build=Build.MIX).values_list("specs__build", flat=True).first()
    return last or Build.PLAYING.value


def specs_of_model(user: User, sport: str, name: str, build: str) -> list[MeasuredSpecs]:
    """Specs of frames of a model, read in one build."""
    of_model = Frame.objects.filter(
        shop=user.shop_id, sport=sport, model__name__iexact=name, specs__build=build
    ).select_related("specs")
    return [frame.measured for frame in of_model.order_by("-pk")[:MOST_SIBLINGS]]


def shelf_of_accessories(user: User) -> QuerySet[Accessory]:
    """What is fitted now: what is archived stays on the frames that have it."""
    return accessories_of(user).filter(IN_USE)


def with_words(frames: QuerySet[Frame], words: str) -> QuerySet[Frame]:
    """Those that hold every word: in their name, mark, notes, their player's or their model's name."""
    for word in words[:LONGEST_SEARCH].lower().split()[:MOST_WORDS]:
        clients = Client.objects.filter(name__icontains=word).values("pk")
        models = FrameModel.objects.filter(name__icontains=word).values("pk")
        frames = frames.filter(Q(search_text__contains=word) | Q(client__in=clients) | Q(model__in=models))
    return frames


def listed(user: User, *, is_archive: bool = False) -> QuerySet[Frame]:
    """What a list tells of frames, with the number of their plans, counted for the rows shown only."""
    # A join would group all frames of the shop before it cuts the page.
    plans = Frame.objects.filter(pk=OuterRef("pk")).values(count=Count("plans"))
    columns = ("label", "sport", "length_cm", "client__name")
    specs = (f"specs__{column}" for spec in READ for column in spread_columns(spec)[:1])
    frames = frames_of(user).select_related(None).select_related("specs", "client")
    frames = in_use_or_archived(frames, is_archive=is_archive)
    return frames.annotate(plan_count=Subquery(plans)).only(
        *columns, "specs__build", "specs__axis_cm", *specs
    )
