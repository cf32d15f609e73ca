"""Every write of frames and their readings."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import asdict
from typing import Any

from django.db import transaction
from django.utils import timezone

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import BALANCE, STATIC_WEIGHT, SWING_WEIGHT
from kentrobar.core.frame.outline import Dimensions, RacketDimensions
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import MM_PER_CM
from kentrobar.core.solving.allowed import Allowed
from kentrobar.core.weight.builds import FittingKind
from kentrobar.core.weight.strings import strings_weight
from kentrobar.web.frames.models import Frame, FrameFitting, FrameModel
from kentrobar.web.kit.quantities import Typed
from kentrobar.web.kit.records import Json, locked, write
from kentrobar.web.materials.models import Accessory
from kentrobar.web.shops.models import Shop
from kentrobar.web.shops.services import client_named, the_one_named


@transaction.atomic
def create_frame(shop: Shop, *, about: dict[str, Any], dimensions: Dimensions, typed: Json) -> Frame:
    """Take a frame into the shop.

    ``about`` holds what is said of it by field name; ``player`` is the name of a client, known or
    new.
    """
    racket = isinstance(dimensions, RacketDimensions)
    sport = Frame.SportChoice.TENNIS if racket else Frame.SportChoice.PICKLEBALL
    return Frame.objects.create(
        shop=shop, sport=sport, **_with_client(shop, about), **asdict(dimensions), typed=typed
    )


def _with_client(shop: Shop, about: dict[str, Any]) -> dict[str, Any]:
    """What is said of a frame, with the player's name turned into a client, who keeps the strain told of."""
    if "player" not in about:
        return about
    rest = {name: value for name, value in about.items() if name not in ("player", "strain")}
    client = client_named(shop, about["player"])
    if client is not None and "strain" in about and client.strain != about["strain"]:
        write(client, strain=about["strain"])
    return rest | {"client": client}


@transaction.atomic
def change_frame(frame: Frame, *, about: dict[str, Any], dimensions: Dimensions, typed: Json) -> None:
    """Correct what is known of a frame; its readings stay, and its history keeps how it was."""
    write(frame, **_with_client(frame.shop, about), **asdict(dimensions), typed=typed)


def remember_allowed(frame: Frame, allowed: Allowed) -> None:
    """Where plans may lay weight on a frame; a choice, hence no change of what is known of it."""
    Frame.objects.filter(pk=frame.pk).update(allowed=allowed)


# -- models and fittings ------------------------------------------------------------------


def model_named(shop: Shop, sport: str, name: str) -> FrameModel | None:
    """The shop's model of this name, a new one where there is none; None for no name."""
    plain = " ".join(name.split())
    if not plain:
        return None
    alike = list(FrameModel.objects.filter(shop=shop, sport=sport, name__iexact=plain))
    meant = the_one_named([model.name for model in alike], plain)
    known = next((model for model in alike if model.name == meant), None)
    return known or FrameModel.objects.create(
        shop=shop, sport=sport, name=plain, stated_axis_cm=10.0 if sport == "tennis" else 5.0
    )


@transaction.atomic
def state_figures(model: FrameModel, stated: MeasuredSpecs, build: str, typed: Json) -> None:
    """Note what the maker states of a model; what was stated before and is not named stays."""
    figures: dict[str, Any] = {}
    for spec in (STATIC_WEIGHT, BALANCE, SWING_WEIGHT):
        if quantity := stated.of(spec):
            figures[f"stated_{spec.key}"] = quantity.value
    if stated.swingweight_kgcm2:
        figures["stated_axis_cm"] = stated.axis_cm
    write(model, stated_build=build, typed=locked(model).typed | typed, **figures)


def _touch(frame: Frame) -> None:
    """What is fitted is part of what a frame is known as; takes the frame's row until the change is whole."""
    Frame.objects.filter(pk=frame.pk).update(changed_at=timezone.now())


@transaction.atomic
def fit_accessories(frame: Frame, accessories: Iterable[Accessory]) -> list[FrameFitting]:
    """Put things of the shop's shelf on a frame, each at what the shop knows it to weigh."""
    _touch(frame)
    return FrameFitting.objects.bulk_create(
        FrameFitting(
            frame=frame,
            kind=accessory.kind,
            label=accessory.name,
            mass_g=accessory.mass_g,
            mass_u_g=accessory.mass_u_g,
            source="shop" if accessory.weighings_g else "usual",
            thickness_mm=accessory.thickness_mm,
        )
        for accessory in accessories
    )


@transaction.atomic
def fit(frame: Frame, **values: Any) -> FrameFitting:
    """Put one thing on a frame."""
    _touch(frame)
    return FrameFitting.objects.create(frame=frame, **values)


@transaction.atomic
def take_off(fitting: FrameFitting) -> None:
    """Take a fitting off; readings taken with it still know it."""
    _touch(fitting.frame)
    write(fitting, is_on=False, taken_off_at=timezone.now())


@transaction.atomic
def reweigh(fitting: FrameFitting, **values: Any) -> FrameFitting:
    """Correct weight or place of a fitting that stays on: older readings turn with it."""
    _touch(fitting.frame)
    write(fitting, **values)
    return fitting


def string_with(frame: Frame, material: str, gauge: Typed) -> FrameFitting:
    """New strings, their weight from gauge, material and the frame's pattern."""
    gauge_mm = gauge.base * MM_PER_CM
    found = strings_in(frame, gauge_mm, material)
    return restring(
        frame,
        label=f"Strings, {material} {gauge_mm:.2f} mm",
        mass_g=found.value,
        mass_u_g=found.u,
        source=FrameFitting.WeightSource.COMPUTED,
        typed={"material": material, "gauge": gauge.record()},
    )


def strings_in(frame: Frame, gauge_mm: float, material: str) -> Estimate:
    """What such strings weigh in a frame, g; of the usual pattern where nobody counted."""
    return strings_weight(frame.outline, frame.mains or 0, frame.crosses or 0, gauge_mm, material)


@transaction.atomic
def restring(frame: Frame, **values: Any) -> FrameFitting:
    """New strings: the old ones come off and stay known to the readings taken with them."""
    _touch(frame)
    for old in frame.fittings.filter(kind=FittingKind.STRINGS, is_on=True):
        take_off(old)
    return fit(frame, kind=FittingKind.STRINGS, **values)
