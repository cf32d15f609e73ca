"""Every write of people and shops."""

from __future__ import annotations

from django.db import transaction

from kentrobar.web.materials.services import stock_starting_materials
from kentrobar.web.measuring.starting import stock_starting_instruments
from kentrobar.web.shops.models import Client, Shop, User


@transaction.atomic
def open_shop(name: str, owner: User) -> Shop:
    """Open a shop for ``owner``, with the starting materials on its shelf."""
    shop = Shop.objects.create(name=name)
    owner.shop = shop
    owner.save(update_fields=["shop"])
    stock_starting_materials(shop)
    stock_starting_instruments(shop)
    return shop


def client_named(shop: Shop, name: str) -> Client | None:
    """The shop's client of this name, a new one where there is none; None for no name."""
    plain = " ".join(name.split())
    if not plain:
        return None
    known = Client.objects.filter(shop=shop, name__iexact=plain).first()
    return known or Client.objects.create(shop=shop, name=plain)
