"""A plan's row as the rules know it."""

from __future__ import annotations

from kentrobar.core.editing.plan import PlanState
from kentrobar.core.editing.stored import read_pieces
from kentrobar.web.frames.baselines import baseline_of
from kentrobar.web.planning.models import Plan


def plan_state(plan: Plan) -> PlanState:
    """The plan as the rules know it, on the readings that it starts from."""
    baseline = baseline_of(plan.frame, plan.specs)
    return PlanState(baseline, plan.name, plan.axis_cm, read_pieces(plan.pieces), plan.target)
