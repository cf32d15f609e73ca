"""The reads of plans, each through the shop."""

from __future__ import annotations

from dataclasses import replace

from django.db.models import Prefetch, QuerySet

from kentrobar.core.editing.plan import PlanState
from kentrobar.web.frames.baselines import baseline_as_of, ready_as_of
from kentrobar.web.frames.models import FrameFitting
from kentrobar.web.kit.requests import read_count
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.stored import state_on
from kentrobar.web.shops.models import User

MOST_COMPARED = 4  # plans that stand side by side


def plans_of(user: User) -> QuerySet[Plan]:
    """All plans of the person's shop, each with its frame, its start and the readings that count now."""
    together = ("specs", "frame__specs", "frame__client")
    return Plan.objects.filter(shop=user.shop_id).select_related(*together)


def plans_in_full(user: User) -> QuerySet[Plan]:
    """The same, each with what is fitted on its frame."""
    fittings = Prefetch("frame__fittings", FrameFitting.objects.order_by("pk"))
    return plans_of(user).prefetch_related(fittings)


def plans_marked(user: User, marked: list[str]) -> tuple[list[Plan], int]:
    """The first plans of those marked, in their order, and how many were marked."""
    keys = list(dict.fromkeys(map(read_count, marked)))
    by_pk = {plan.pk: plan for plan in plans_in_full(user).filter(pk__in=keys[:50])}
    return [by_pk[pk] for pk in keys if pk in by_pk][:MOST_COMPARED], len(keys)


def plan_in_hand(user: User, pk: int) -> PlanState | None:
    """A plan for the hand that drags: one light query, asked many times a second."""
    found = Plan.objects.filter(shop=user.shop_id, pk=pk).values_list(
        "name", "axis_cm", "pieces", "target", "frame", "specs", "frame__changed_at"
    )
    for name, axis_cm, pieces, target, *start in found:
        return state_on(baseline_as_of(*start), name, axis_cm, pieces, target)
    return None


def ready_in_hand(user: User, pk: int, state: PlanState) -> PlanState:
    """What the hand makes of a plan, on its frame ready to play. Raises PieceError where that is not known."""
    start = Plan.objects.filter(shop=user.shop_id, pk=pk).values_list("frame", "specs", "frame__changed_at")
    return replace(state, baseline=ready_as_of(*start.get()))
