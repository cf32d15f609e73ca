"""The reads of plans, each through the shop."""

from __future__ import annotations

from datetime import datetime
from functools import lru_cache

from django.db.models import QuerySet

from kentrobar.core.errors import PieceError
from kentrobar.web.frames.models import Frame
from kentrobar.web.materials.models import Material
from kentrobar.web.planning.board import Board, read_pieces
from kentrobar.web.planning.models import Plan
from kentrobar.web.shops.models import User


def plans_of(user: User) -> QuerySet[Plan]:
    """All plans of the person's shop, each with its frame and the readings that count."""
    return Plan.objects.filter(shop=user.shop_id).select_related("frame__specs", "frame__client")


def board_in_hand(user: User, pk: int) -> Board | None:
    """A plan for the hand that drags: one light query, asked many times a second.

    Its frame is kept in memory for as long as neither its dimensions nor its readings change.
    """
    found = Plan.objects.filter(shop=user.shop_id, pk=pk).values_list(
        "name", "axis_cm", "pieces", "frame", "frame__specs", "frame__changed_at"
    )
    for name, axis_cm, pieces, *frame in found:
        return Board(_frame_as_of(*frame), name, axis_cm, read_pieces(pieces))
    return None


@lru_cache(maxsize=512)
def _frame_as_of(pk: int, _specs: int | None, _changed: datetime) -> Frame:
    return Frame.objects.select_related("specs", "client").get(pk=pk)


def shelf_of(user: User) -> QuerySet[Material]:
    return Material.objects.filter(shop=user.shop_id)


def material_of(user: User, pk: int) -> Material:
    """One material of the shop; raises PieceError where it is not on its shelf."""
    material = shelf_of(user).filter(pk=pk).first()
    if material is None:
        raise PieceError("This material is not on your shelf; choose another.", code="no_material")
    return material
