"""A plan as a kentrobar/1 file."""

from __future__ import annotations

from kentrobar.core.editing.plan import PlanState
from kentrobar.exchange import convert, models
from kentrobar.web.frames.models import Frame, SpecSheet
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.stored import plan_state


def export_plan(plan: Plan) -> models.PredictRequest:
    """The document that the command line predicts to the same numbers as the page."""
    return exported(plan_state(plan), plan.frame, plan.specs)


def exported(state: PlanState, frame: Frame, sheet: SpecSheet | None) -> models.PredictRequest:
    """A frame on the readings ``sheet`` with what is laid on it, as a document."""
    return models.PredictRequest(
        format="kentrobar/1",
        frame=models.FrameDocument(
            label=frame.label,
            sport=frame.sport,
            length_cm=frame.length_cm,
            outline=convert.outline_document(frame.dimensions),
            measured=convert.measured_block(state.measured, sheet.build if sheet else "playing"),
        ),
        pieces=[convert.piece_document(piece) for piece in state.pieces],
        axis_cm=state.axis_cm,
    )
