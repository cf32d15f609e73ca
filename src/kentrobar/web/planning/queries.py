"""The reads of plans, each through the shop."""

from __future__ import annotations

from django.db.models import QuerySet

from kentrobar.core.errors import PieceError
from kentrobar.web.materials.models import Material
from kentrobar.web.planning.models import Plan
from kentrobar.web.shops.models import User


def plans_of(user: User) -> QuerySet[Plan]:
    """All plans of the person's shop, each with its frame and the readings that count."""
    return Plan.objects.filter(shop=user.shop_id).select_related("frame__specs")


def shelf_of(user: User) -> QuerySet[Material]:
    return Material.objects.filter(shop=user.shop_id)


def material_of(user: User, pk: int) -> Material:
    """One material of the shop; raises PieceError where it is not on its shelf."""
    material = shelf_of(user).filter(pk=pk).first()
    if material is None:
        raise PieceError("This material is not on your shelf; choose another.", code="no_material")
    return material
