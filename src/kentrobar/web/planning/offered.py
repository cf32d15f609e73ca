"""What plans have to do with a frame's page: a section of it, and a say before the frame changes."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from django.db.models import QuerySet

from kentrobar.core.editing.plan import Baseline
from kentrobar.web.frames.hooks import AppliedSince
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.archive import IN_USE
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.stored import plan_state
from kentrobar.web.shops.models import User


def plans_panel(frame: Frame, _user: User) -> QuerySet[Plan]:
    """The frame's plans, the one changed last first."""
    return frame.plans.only("name", "pieces", "changed_at")


def applied_on(frame: Frame) -> list[AppliedSince]:
    """The frame's plans that start from its present readings and lay something, the latest first."""
    if not frame.specs_id:
        return []
    plans = frame.plans.filter(IN_USE, specs=frame.specs_id).exclude(pieces=[])
    for plan in plans:
        plan.frame, plan.specs = frame, frame.specs  # known already
    return [AppliedSince(plan.pk, plan.name, partial(plan_state, plan)) for plan in plans]


def require_plans_fit(frame: Frame, changed: Baseline) -> None:
    """Refuse a change of a frame that would leave a piece without its place.

    Raises:
        PieceError: it names the plan, and what would no longer fit.
    """
    for plan in frame.plans.select_related("frame", "specs").prefetch_related("frame__fittings"):
        state = plan_state(plan)
        state.on(replace(state.baseline, outline=changed.outline))
