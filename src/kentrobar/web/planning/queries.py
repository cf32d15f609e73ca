"""The reads of plans, each through the shop."""

from __future__ import annotations

from datetime import datetime
from functools import lru_cache

from django.db.models import QuerySet

from kentrobar.web.frames.models import Frame
from kentrobar.web.materials.models import Material
from kentrobar.web.planning.board import Board, read_pieces
from kentrobar.web.planning.models import Plan
from kentrobar.web.shops.models import User


def plans_of(user: User) -> QuerySet[Plan]:
    """All plans of the person's shop, each with its frame and the readings that count."""
    return Plan.objects.filter(shop=user.shop_id).select_related("frame__specs", "frame__client")


def plans_in_full(user: User) -> QuerySet[Plan]:
    """The same, each with what is fitted on its frame."""
    return plans_of(user).prefetch_related("frame__fittings")


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


def materials_by_id(user: User) -> dict[int, Material]:
    """The shop's shelf by id."""
    return {material.pk: material for material in shelf_of(user)}


def shelf_of(user: User) -> QuerySet[Material]:
    return Material.objects.filter(shop=user.shop_id)
