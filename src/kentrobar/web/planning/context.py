"""What every page, fragment and print of one plan is given."""

from __future__ import annotations

from typing import Any

from kentrobar.web.planning import drawing, presenting, sheet
from kentrobar.web.planning.board import Board
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.queries import shelf_of
from kentrobar.web.shops.models import User


def board_context(plan: Plan, user: User) -> dict[str, Any]:
    """The plan as it lies, with its drawing, numbers, rows, objections, steps and cautions."""
    shown = Board.of(plan)
    units, shelf = user.units, list(shelf_of(user))
    texts = presenting.numbers(shown, units)
    outline = shown.outline
    backdrop = drawing.backdrop_of(outline)
    before = shown.prediction.before.balance_cm
    before_x = drawing.fulcrum_x(before)
    rows = presenting.rows(shown, units, texts, shelf)
    by_id = {material.pk: material for material in shelf}
    objections = presenting.objections_shown(shown.objections(by_id))
    return {
        "plan": plan,
        "frame": plan.frame,
        "units": units,
        "shelf": shelf,
        "backdrop": backdrop,
        "keep_outs": drawing.keep_outs_shown(outline, plan.frame.circumstances),
        "height": backdrop.height(len(shown.pieces)),
        "axis": {
            "x": drawing.x_mm(plan.axis_cm),
            "top": backdrop.middle - drawing.AXIS_HALF_MM,
            "text": units.axis_text(plan.axis_cm),
        },
        "fulcrum_before": before_x and drawing.fulcrum_points(before_x, backdrop.fulcrum_y),
        "fulcrum_after": presenting.shapes(shown, only=0)["fulcrum"],
        "cards": presenting.specs_shown(shown, units, texts),
        "rows": rows,
        "objections": objections,
        "steps": sheet.steps_shown(shown, plan.order_of_work, units, rows, shelf),
        "order": sheet.order_shown(plan.order_of_work),
        "hold": presenting.hold_text(shown, units),
        "warnings": set(shown.prediction.warnings) - {each["message"] for each in objections},
        "cautions": shown.cautions(shelf),
    }
