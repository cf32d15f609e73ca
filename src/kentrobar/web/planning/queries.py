"""The reads of plans, each through the shop."""

from __future__ import annotations

from django.db.models import QuerySet

from kentrobar.web.materials.models import Material
from kentrobar.web.planning.models import Plan
from kentrobar.web.shops.models import User


def plans_of(user: User) -> QuerySet[Plan]:
    """All plans of the person's shop, each with its frame and the readings that count."""
    return Plan.objects.filter(shop=user.shop_id).select_related("frame__specs")


def shelf_of(user: User) -> QuerySet[Material]:
    return Material.objects.filter(shop=user.shop_id)
