"""A plan's row as the rules know it."""

from __future__ import annotations

from collections.abc import Sequence

from kentrobar.core.body.target import Target
from kentrobar.core.editing.plan import Baseline, PlanState
from kentrobar.core.editing.stored import read_pieces
from kentrobar.core.weight.prediction import predict
from kentrobar.web.frames.baselines import baseline_of
from kentrobar.web.kit.records import Json
from kentrobar.web.planning.models import Plan


def plan_state(plan: Plan) -> PlanState:
    """The plan as the rules know it, on the readings that it starts from."""
    return state_on(baseline_of(plan.frame, plan.specs), plan.name, plan.axis_cm, plan.pieces, plan.target)


def state_on(
    baseline: Baseline, name: str, axis_cm: float, pieces: Sequence[Json], target: Target
) -> PlanState:
    """What is kept of a plan, on its baseline; a wanted change counts from what is known by now."""
    if target.changes:
        length_cm, about_cm = baseline.outline.length_cm, target.axis_cm
        now = predict(baseline.measured, [], length_cm=length_cm, axis_cm=about_cm).before
        target = target.counted_from(now)
    return PlanState(baseline, name, axis_cm, read_pieces(pieces), target)
