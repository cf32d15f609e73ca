"""The reads of materials, each through the shop."""

from __future__ import annotations

from collections.abc import Iterable

from django.db.models import QuerySet

from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.weight.builds import Fitting
from kentrobar.web.kit.archive import IN_USE
from kentrobar.web.materials.models import Accessory, Material
from kentrobar.web.shops.models import Shop, User


def materials_of(user: User) -> QuerySet[Material]:
    """The shop's materials, in the order of its shelf."""
    return Material.objects.filter(shop=user.shop_id)


def accessories_of(user: User) -> QuerySet[Accessory]:
    """Strings, grips, caps and tapes as the shop knows them, archived ones too."""
    return Accessory.objects.filter(shop=user.shop_id)


def fittings_by_key(accessories: Iterable[Accessory]) -> dict[int, Fitting]:
    """The same as the rules know them, by key."""
    return {accessory.pk: accessory.fitting for accessory in accessories}


def shelf_of(user: User) -> Shelf:
    """The shop's shelf as the rules know it."""
    return _shelf(materials_of(user), accessories_of(user))


def shelf_of_shop(shop: Shop) -> Shelf:
    """The same by shop, where nobody is signed in."""
    return _shelf(Material.objects.filter(shop=shop), Accessory.objects.filter(shop=shop))


def _shelf(materials: QuerySet[Material], accessories: QuerySet[Accessory]) -> Shelf:
    in_use = accessories.filter(IN_USE)
    return Shelf((each.stock for each in materials), lambda: (each.fitting for each in in_use))
