"""Every write of materials."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.db import transaction

from kentrobar.core.builds import USUAL_FITTINGS, FittingKind, weighed
from kentrobar.core.pieces import DENSITY_U_RELATIVE
from kentrobar.web.materials.models import Accessory, Material

# Starting values of the project's own; a shop types its own grams per length.
_TAPE, _PUTTY, _SLEEVE = Material.Form
STARTING_MATERIALS: list[dict[str, Any]] = [
    {"name": "Lead tape, quarter inch", "form": _TAPE, "g_per_cm": 0.10, "width_mm": 6.35,
     "is_lead": True, "is_metal": True},
    {"name": "Lead tape, half inch", "form": _TAPE, "g_per_cm": 0.20, "width_mm": 12.7,
     "is_lead": True, "is_metal": True},
    {"name": "Tungsten tape", "form": _TAPE, "g_per_cm": 0.26, "width_mm": 7.0, "is_metal": True},
    {"name": "Tungsten putty", "form": _PUTTY, "density_g_cm3": 8.0},
    {"name": "Removable putty", "form": _PUTTY, "density_g_cm3": 1.9},
    {"name": "Grip sleeve", "form": _SLEEVE, "sleeve_mass_g": 16.0},
]  # fmt: skip


@transaction.atomic
def stock_starting_materials(shop: Any) -> None:
    """Put the starting materials on a new shop's shelf."""
    for order, values in enumerate(STARTING_MATERIALS):
        density = values.get("g_per_cm")
        Material.objects.create(
            shop=shop,
            order=order,
            g_per_cm_u=density and density * DENSITY_U_RELATIVE,
            **values,
        )
    stock_starting_accessories(shop)


def stock_starting_accessories(shop: Any) -> None:
    """Put strings, grips, caps and tapes at their usual weights on a shop's shelf."""
    Accessory.objects.bulk_create(
        Accessory(
            shop=shop,
            kind=kind.value,
            name=usual.label.capitalize(),
            mass_g=usual.mass_g,
            mass_u_g=usual.u_g,
        )
        for kind, usual in USUAL_FITTINGS.items()
        if kind is not FittingKind.EARLIER
    )


def weigh_accessory(accessory: Accessory, texts: Sequence[str], weighings_g: list[float]) -> None:
    """Take the shop's own weighings of one kind of fitting; they replace the usual weight."""
    found = weighed(weighings_g)
    accessory.mass_g, accessory.mass_u_g = found
    accessory.weighings_g, accessory.typed = weighings_g, {"texts": list(texts)}
    accessory.save()


def add_accessory(shop: Any, kind: str, name: str) -> Accessory:
    """Another sort of a kind of fitting, at the kind's usual weight until it is weighed."""
    usual = USUAL_FITTINGS[FittingKind(kind)]
    return Accessory.objects.create(
        shop=shop, kind=kind, name=name, mass_g=usual.mass_g, mass_u_g=usual.u_g
    )


def change_weight(material: Material, typed: Any) -> None:
    """Set what a material weighs: per length of a tape, per volume of a putty, each sleeve."""
    fields = {"tape": "g_per_cm", "putty": "density_g_cm3", "sleeve": "sleeve_mass_g"}
    setattr(material, fields[material.form], typed.base)
    if material.form == Material.Form.TAPE:
        spread = typed.u_base
        material.g_per_cm_u = DENSITY_U_RELATIVE * typed.base if spread is None else spread
    material.typed_density = typed.record()
    material.save()
