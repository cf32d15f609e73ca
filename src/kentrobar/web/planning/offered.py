"""What plans have to do with a frame's page: what it may have applied, and a say before the frame changes."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from kentrobar.core.editing.plan import Baseline
from kentrobar.web.frames.hooks import AppliedSince
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.archive import IN_USE
from kentrobar.web.planning.stored import plan_state


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
