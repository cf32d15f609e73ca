"""What a shop has seen of each model: mean and spread over its frames, in one build."""

from __future__ import annotations

from typing import Any, NamedTuple

from django.db.models import Avg, Count, F, StdDev

from kentrobar.core.body.specs import READ
from kentrobar.web.frames.models import Frame, SpecSheet, spread_columns
from kentrobar.web.shops.models import User

FEWEST_FRAMES = 2


class Seen(NamedTuple):
    """Mean and standard deviation of a spec over so many frames."""

    mean: float
    spread: float
    frames: int


class ModelSeen(NamedTuple):
    """A model in one build: what was seen of each spec, by its key."""

    model: str
    build: str
    frames: int
    specs: dict[str, Seen]


def models_seen(user: User) -> list[ModelSeen]:
    """Every model of which several frames were read in one build, about one axis."""
    figures: dict[str, Any] = {}
    for spec in READ:
        column = f"specs__{spread_columns(spec)[0]}"
        figures |= {
            f"{spec.field}_mean": Avg(column),
            f"{spec.field}_spread": StdDev(column, sample=True),
            f"{spec.field}_count": Count(column),
        }
    rows = (
        Frame.objects.filter(shop=user.shop_id, model__isnull=False, specs__isnull=False)
        .order_by("model__name", "specs__build")
        .values("model__name", "specs__build", axis=F("specs__axis_cm"))
        .annotate(frames=Count("pk"), **figures)
        .filter(frames__gte=FEWEST_FRAMES)
    )
    return [_seen(dict(row)) for row in rows]


def _seen(row: dict[str, Any]) -> ModelSeen:
    build = SpecSheet.SheetBuild(row["specs__build"]).label
    specs = {
        spec.key: Seen(
            row[f"{spec.field}_mean"], row[f"{spec.field}_spread"] or 0.0, row[f"{spec.field}_count"]
        )
        for spec in READ
        if row[f"{spec.field}_count"]
    }
    return ModelSeen(row["model__name"], str(build), row["frames"], specs)
