"""The reads of materials, each through the shop."""

from __future__ import annotations

from django.db.models import QuerySet

from kentrobar.core.laying.shelf import Shelf
from kentrobar.web.materials.models import Material
from kentrobar.web.shops.models import Shop, User


def materials_of(user: User) -> QuerySet[Material]:
    """The shop's materials, in the order of its shelf."""
    return Material.objects.filter(shop=user.shop_id)


def shelf_of(user: User) -> Shelf:
    """The shop's shelf as the rules know it."""
    return Shelf(material.stock for material in materials_of(user))


def shelf_of_shop(shop: Shop) -> Shelf:
    """The same by shop, where nobody is signed in."""
    return Shelf(material.stock for material in Material.objects.filter(shop=shop))
