"""Every write of materials."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.db import transaction
from simple_history.utils import bulk_create_with_history

from kentrobar.core.editing.shelf import Stock
from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.weight.builds import USUAL_FITTINGS, FittingKind, weighed
from kentrobar.core.weight.materials import KINDS, STARTING_SHELF, Cut, Form, MaterialKind, density_of_cuts
from kentrobar.core.weight.pieces import DENSITY_U_RELATIVE, WEIGHED_U_G
from kentrobar.web.kit.quantities import Typed
from kentrobar.web.kit.records import locked, write
from kentrobar.web.materials.models import Accessory, Material, StockChange, kinds_of
from kentrobar.web.shops.models import Shop, User


@transaction.atomic
def stock_starting_materials(shop: Shop) -> None:
    """Put the starting materials on a new shop's shelf."""
    bulk_create_with_history(_starting_materials(shop), Material)
    stock_starting_accessories(shop)


def starting_stock() -> list[Stock]:
    """The starting materials as the rules know them, of no shop; each key is its place in the list."""
    materials = _starting_materials(None)
    for key, material in enumerate(materials, 1):
        material.pk = key
    return [material.stock for material in materials]


def _starting_materials(shop: Shop | None) -> list[Material]:
    return [
        _material(
            shop,
            starting.kind,
            starting.name,
            starting.weight,
            order=order,
            width_mm=starting.width_mm,
            sold_amount=starting.sold,
        )
        for order, starting in enumerate(STARTING_SHELF)
    ]


def add_material(shop: Shop, kind: MaterialKind, name: str, weight: float, **about: Any) -> Material:
    """Another material; ``weight`` is per length, per volume or of one, by the kind's form."""
    material = _material(shop, kind, name, weight, **about)
    material.save()
    return material


def _material(shop: Shop | None, kind: MaterialKind, name: str, weight: float, **about: Any) -> Material:
    facts = KINDS[kind]
    values = {"hardness": facts.hardness.value, "undo": facts.undo.value} | about
    return Material(shop=shop, kind=kind.value, name=name, **_weight_columns(facts.form, weight), **values)


def _weight_columns(form: Form, weight: float, u: float | None = None) -> dict[str, float]:
    match form:
        case Form.TAPE:
            return {"g_per_cm": weight, "g_per_cm_u": DENSITY_U_RELATIVE * weight if u is None else u}
        case Form.PUTTY:
            return {"density_g_cm3": weight}
        case _:
            return {"each_g": weight, "each_u_g": WEIGHED_U_G if u is None else u}


def stock_starting_accessories(shop: Shop) -> None:
    """Put strings, grips, caps and tapes at their usual weights on a shop's shelf."""
    Accessory.objects.bulk_create(
        Accessory(
            shop=shop, kind=kind.value, name=usual.label.capitalize(), mass_g=usual.mass_g, mass_u_g=usual.u_g
        )
        for kind, usual in USUAL_FITTINGS.items()
        if kind is not FittingKind.EARLIER
    )


def set_thickness(accessory: Accessory, thickness_mm: float | None) -> None:
    """How thick one layer of it is round the handle, mm; None where nobody measured it."""
    write(accessory, thickness_mm=thickness_mm)


def set_note(accessory: Accessory, note: str) -> None:
    """Differences from others of its kind: gauge, coating, width."""
    write(accessory, note=note)


@transaction.atomic
def weigh_accessory(accessory: Accessory, texts: Sequence[str], weighings_g: list[float]) -> Accessory:
    """Take the shop's own weighings of one kind of fitting; they replace the usual weight."""
    mass = weighed(weighings_g)
    write(
        accessory, mass_g=mass.value, mass_u_g=mass.u, weighings_g=weighings_g, typed={"texts": list(texts)}
    )
    _weigh_its_material(accessory)
    return accessory


def _weigh_its_material(accessory: Accessory) -> None:
    """A grip or dampener stands on both shelves: one that was never weighed there follows."""
    kinds = [kind for kind, facts in KINDS.items() if facts.fitting == accessory.kind]
    single = Material.objects.filter(shop=accessory.shop_id, kind__in=kinds, typed_density={}).exclude(
        kind__in=kinds_of(Form.TAPE)
    )
    single.update(each_g=accessory.mass_g, each_u_g=accessory.mass_u_g)


def add_accessory(shop: Shop, kind: str, name: str) -> Accessory:
    """Another fitting of a kind of fitting, at the kind's usual weight until it is weighed."""
    usual = USUAL_FITTINGS[FittingKind(kind)]
    return Accessory.objects.create(shop=shop, kind=kind, name=name, mass_g=usual.mass_g, mass_u_g=usual.u_g)


def change_about(material: Material, about: dict[str, Any]) -> None:
    """Correct what is said of a material, other than its weight."""
    write(material, **about)


def change_weight(material: Material, typed: Typed) -> None:
    """Set what a material weighs: per length of a tape, per volume of a putty, each of the rest."""
    columns = _weight_columns(material.form, typed.base, typed.u_base)
    write(material, **columns, typed_density=typed.record(), cuts=[])


def weigh_cuts(material: Material, cuts: Sequence[Cut]) -> None:
    """Take the shop's own weighings of cuts of a tape: its density with ± from then on.

    Raises:
        PieceError: no cut, or one without length or weight.
    """
    density = density_of_cuts(cuts)
    kept = [list(cut) for cut in cuts]
    write(material, g_per_cm=density.value, g_per_cm_u=density.u, cuts=kept, typed_density={})


@transaction.atomic
def change_stock(material: Material, why: str, amount: float, by: User | None, note: str = "") -> StockChange:
    """Count, buy or use some of a material; ``amount`` is what is left, came or was cut.

    Raises:
        PieceError: more would be used than is left.
    """
    kept = locked(material)
    left = kept.left_amount or 0.0
    after = {
        StockChange.Why.COUNTED: amount,
        StockChange.Why.BOUGHT: left + amount,
        StockChange.Why.CUT: left - amount,
    }[StockChange.Why(why)]
    if after < -1e-6:
        raise PieceError(
            f"Only {left:.1f} {kept.unit} of {kept.name} are left, {amount:.1f} are asked for. Count "
            "your stock, or add what you bought.",
            code="not_enough",
            field="amount",
        )
    kept.left_amount = material.left_amount = max(round(after, 3), 0.0)
    kept.save(update_fields=["left_amount"])
    return StockChange.objects.create(
        material=kept,
        amount=round(after - left, 3),
        left_after=kept.left_amount,
        why=why,
        note=note[:120],
        made_by=by,
    )
