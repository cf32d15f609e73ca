"""A plan as a kentrobar/1 file."""

from __future__ import annotations

from kentrobar.exchange import convert, models
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.stored import laid_plan


def export_plan(plan: Plan) -> models.PredictRequest:
    """The document that the command line predicts to the same numbers as the page."""
    laid = laid_plan(plan)
    return models.PredictRequest(
        format="kentrobar/1",
        frame=models.Frame(
            label=plan.frame.label,
            sport=plan.frame.sport,
            length_cm=plan.frame.length_cm,
            outline=convert.outline_document(plan.frame.dimensions),
            measured=convert.measured_block(
                laid.measured, plan.specs.build if plan.specs else "playing"
            ),
        ),
        pieces=[convert.piece_document(piece) for piece in laid.pieces],
        axis_cm=plan.axis_cm,
    )
