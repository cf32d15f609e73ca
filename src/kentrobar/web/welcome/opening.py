"""Opening a shop."""

from __future__ import annotations

from django.db import transaction

from kentrobar.web.materials.services import stock_starting_materials
from kentrobar.web.measuring.instruments.starting import stock_starting_instruments
from kentrobar.web.shops.models import Shop, User


@transaction.atomic
def open_shop(name: str, owner: User) -> Shop:
    """Open a shop for ``owner``, with the starting materials on its shelf."""
    shop = Shop.objects.create(name=name)
    owner.shop = shop
    owner.save(update_fields=["shop"])
    stock_starting_materials(shop)
    stock_starting_instruments(shop)
    return shop
