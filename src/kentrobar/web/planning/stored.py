"""A plan's row as the rules know it."""

from __future__ import annotations

from kentrobar.core.editing.plan import PlanState
from kentrobar.core.editing.stored import read_pieces
from kentrobar.core.weight.prediction import predict
from kentrobar.web.frames.baselines import baseline_of
from kentrobar.web.planning.models import Plan


def plan_state(plan: Plan) -> PlanState:
    """The plan as the rules know it, on the readings that it starts from."""
    baseline, target = baseline_of(plan.frame, plan.specs), plan.target
    if target.changes:
        length_cm, axis_cm = baseline.outline.length_cm, target.axis_cm
        target = target.counted_from(
            predict(baseline.measured, [], length_cm=length_cm, axis_cm=axis_cm).before
        )
    return PlanState(baseline, plan.name, plan.axis_cm, read_pieces(plan.pieces), target)
