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
from kentrobar.core.weight.builds import FittingKind
from kentrobar.core.weight.strings import strings_weight
from kentrobar.web.frames.models import Frame, FrameFitting, FrameModel
from kentrobar.web.kit.quantities import Typed
from kentrobar.web.materials.models import Accessory
from kentrobar.web.shops.models import Shop
from kentrobar.web.shops.services import client_named, the_one_named


@transaction.atomic
def create_frame(
    shop: Shop, *, about: dict[str, Any], dimensions: Dimensions, typed: dict[str, Any]
) -> Frame:
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
    """What is said of a frame, with the player's name turned into a client."""
    if "player" not in about:
        return about
    rest = {name: value for name, value in about.items() if name != "player"}
    return rest | {"client": client_named(shop, about["player"])}


@transaction.atomic
def change_frame(
    frame: Frame, *, about: dict[str, Any], dimensions: Dimensions, typed: dict[str, Any]
) -> None:
    """Correct what is known of a frame; its readings stay, and its history keeps how it was."""
    values = {**_with_client(frame.shop, about), **asdict(dimensions), "typed": typed}
    kept = Frame.objects.select_for_update().get(pk=frame.pk)
    for name, value in values.items():
        setattr(kept, name, value)
        setattr(frame, name, value)
    kept.save(update_fields=[*values, "changed_at"])


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


def state_figures(
    model: FrameModel, stated: MeasuredSpecs, build: str, typed: dict[str, Any]
) -> None:
    """Note what the maker states of a model."""
    for spec in (STATIC_WEIGHT, BALANCE, SWING_WEIGHT):
        quantity = stated.of(spec)
        value = quantity.value if isinstance(quantity, Estimate) else None
        setattr(model, f"stated_{spec.key}", value)
    model.stated_axis_cm, model.stated_build, model.typed = stated.axis_cm, build, typed
    model.save()


def _touch(frame: Frame) -> None:
    """What is fitted is part of what a frame is known as."""
    Frame.objects.filter(pk=frame.pk).update(changed_at=timezone.now())


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
        )
        for accessory in accessories
    )


def fit(frame: Frame, **values: Any) -> FrameFitting:
    """Put one thing on a frame."""
    _touch(frame)
    return FrameFitting.objects.create(frame=frame, **values)


def take_off(fitting: FrameFitting) -> None:
    """Take a fitting off; readings taken with it still know it."""
    fitting.is_on, fitting.taken_off_at = False, timezone.now()
    fitting.save(update_fields=["is_on", "taken_off_at"])
    _touch(fitting.frame)


@transaction.atomic
def reweigh(fitting: FrameFitting, **values: Any) -> FrameFitting:
    """Correct weight or place of a fitting that stays on: older readings turn with it."""
    for name, value in values.items():
        setattr(fitting, name, value)
    fitting.save(update_fields=list(values))
    _touch(fitting.frame)
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
        source=FrameFitting.Source.COMPUTED,
        typed={"material": material, "gauge": gauge.record()},
    )


def strings_in(frame: Frame, gauge_mm: float, material: str) -> Estimate:
    """What such strings weigh in a frame, g; of the usual pattern where nobody counted."""
    return strings_weight(frame.outline, frame.mains or 0, frame.crosses or 0, gauge_mm, material)


@transaction.atomic
def restring(frame: Frame, **values: Any) -> FrameFitting:
    """New strings: the old ones come off and stay known to the readings taken with them."""
    for old in frame.fittings.filter(kind=FittingKind.STRINGS, is_on=True):
        take_off(old)
    return fit(frame, kind=FittingKind.STRINGS, **values)
