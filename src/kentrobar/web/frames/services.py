"""Every write of frames and their readings."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from django.db import transaction

from kentrobar.core.estimates import Estimate
from kentrobar.core.outline import Dimensions, RacketDimensions
from kentrobar.core.specs import MeasuredSpecs
from kentrobar.web.frames.models import Frame, SpecSheet
from kentrobar.web.shops.models import Shop, User


@transaction.atomic
def create_frame(
    shop: Shop, *, about: dict[str, Any], dimensions: Dimensions, typed: dict[str, Any]
) -> Frame:
    """Take a frame into the shop. ``about`` holds label, player, mark and notes."""
    racket = isinstance(dimensions, RacketDimensions)
    sport = Frame.SportChoice.TENNIS if racket else Frame.SportChoice.PICKLEBALL
    return Frame.objects.create(shop=shop, sport=sport, **about, **asdict(dimensions), typed=typed)


@transaction.atomic
def change_frame(
    frame: Frame, *, about: dict[str, Any], dimensions: Dimensions, typed: dict[str, Any]
) -> None:
    """Correct what is known of a frame; its history keeps how it was."""
    for name, value in {**about, **asdict(dimensions), "typed": typed}.items():
        setattr(frame, name, value)
    frame.save()


@transaction.atomic
def record_specs(
    frame: Frame, measured: MeasuredSpecs, build: str, typed: dict[str, Any], by: User | None
) -> SpecSheet:
    """Record readings that count from now on; what was measured before stays as it was."""
    sheet = SpecSheet.objects.create(
        frame=frame,
        build=build,
        axis_cm=measured.axis_cm,
        typed=typed,
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
