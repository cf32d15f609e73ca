"""Every write of frames and their readings."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import asdict
from typing import Any

from django.db import transaction
from django.utils import timezone

from kentrobar.core.builds import FittingKind
from kentrobar.core.estimates import Estimate
from kentrobar.core.outline import Dimensions, RacketDimensions
from kentrobar.core.specs import MeasuredSpecs
from kentrobar.web.frames.models import Frame, FrameFitting, FrameModel, SpecSheet
from kentrobar.web.materials.models import Accessory
from kentrobar.web.shops.models import Shop, User
from kentrobar.web.shops.services import client_named


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
    """Correct what is known of a frame; its history keeps how it was."""
    said = _with_client(frame.shop, about)
    for name, value in {**said, **asdict(dimensions), "typed": typed}.items():
        setattr(frame, name, value)
    frame.save()


@transaction.atomic
def record_specs(
    frame: Frame,
    measured: MeasuredSpecs,
    build: str,
    typed: dict[str, Any],
    by: User | None,
    fitting_ids: Sequence[int] | None = None,
) -> SpecSheet:
    """Record readings that count from now on; what was measured before stays as it was."""
    sheet = SpecSheet.objects.create(
        frame=frame,
        build=build,
        axis_cm=measured.axis_cm,
        typed=typed,
        fitting_ids=fitting_ids if fitting_ids is None else list(fitting_ids),
        replaces=frame.specs,
        taken_by=by,
        **_columns("mass", "g", measured.mass_g),
        **_columns("balance", "cm", measured.balance_cm),
        **_columns("swingweight", "kgcm2", measured.swingweight_kgcm2),
        **_columns("twistweight", "kgcm2", measured.twistweight_kgcm2),
    )
    frame.specs = sheet
    frame.save(update_fields=["specs"])
    return sheet


def _columns(name: str, unit: str, quantity: Any) -> dict[str, float | None]:
    value, u = quantity if isinstance(quantity, Estimate) else (None, None)
    return {f"{name}_{unit}": value, f"{name}_u_{unit}": u}


def plain_typing(measured: MeasuredSpecs) -> dict[str, Any]:
    """Readings that came from a file, written as if typed in base units."""
    fields = {
        "mass": ("g", measured.mass_g),
        "balance": ("cm", measured.balance_cm),
        "swingweight": ("kg·cm²", measured.swingweight_kgcm2),
        "axis": ("cm", Estimate(measured.axis_cm)),
        "twistweight": ("kg·cm²", measured.twistweight_kgcm2),
    }
    return {
        field: {"text": f"{quantity.value:.10g}", "unit": unit, "spread": f"{quantity.u:.10g}"}
        for field, (unit, quantity) in fields.items()
        if isinstance(quantity, Estimate)
    }


# -- models and fittings ------------------------------------------------------------------


def model_named(shop: Shop, sport: str, name: str) -> FrameModel | None:
    """The shop's model of this name, a new one where there is none; None for no name."""
    plain = " ".join(name.split())
    if not plain:
        return None
    known = FrameModel.objects.filter(shop=shop, sport=sport, name__iexact=plain).first()
    return known or FrameModel.objects.create(
        shop=shop, sport=sport, name=plain, stated_axis_cm=10.0 if sport == "tennis" else 5.0
    )


def state_figures(model: FrameModel, stated: MeasuredSpecs, build: str, typed: dict) -> None:
    """Note what the maker states of a model."""
    model.stated_mass_g = _columns("mass", "g", stated.mass_g)["mass_g"]
    model.stated_balance_cm = _columns("balance", "cm", stated.balance_cm)["balance_cm"]
    swing = _columns("swingweight", "kgcm2", stated.swingweight_kgcm2)
    model.stated_swingweight_kgcm2 = swing["swingweight_kgcm2"]
    model.stated_axis_cm, model.stated_build, model.typed = stated.axis_cm, build, typed
    model.save()


def fit_accessories(frame: Frame, accessories: Iterable[Accessory]) -> list[FrameFitting]:
    """Put things of the shop's shelf on a frame, each at what the shop knows it to weigh."""
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
    return FrameFitting.objects.create(frame=frame, **values)


def take_off(fitting: FrameFitting) -> None:
    """Take a fitting off; readings taken with it still know it."""
    fitting.is_on, fitting.taken_off_at = False, timezone.now()
    fitting.save(update_fields=["is_on", "taken_off_at"])


@transaction.atomic
def reweigh(fitting: FrameFitting, **values: Any) -> FrameFitting:
    """Correct weight or place of a fitting that stays on: older readings turn with it."""
    for name, value in values.items():
        setattr(fitting, name, value)
    fitting.save()
    return fitting


@transaction.atomic
def restring(frame: Frame, **values: Any) -> FrameFitting:
    """New strings: the old ones come off and stay known to the readings taken with them."""
    for old in frame.fittings.filter(kind=FittingKind.STRINGS, is_on=True):
        take_off(old)
    return fit(frame, kind=FittingKind.STRINGS, **values)
