"""What every page, fragment and print of one plan is given."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any
from urllib.parse import urlencode

from django.utils import timezone

from kentrobar.core.bench.cautions import Hazard, cautions_for, hazards_of
from kentrobar.core.bench.rules_of_play import reminder
from kentrobar.core.bench.steps import ORDERS
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.frame.sites import site_choices
from kentrobar.core.weight.strings import STRING_DENSITIES
from kentrobar.web.frames.baselines import strains_of
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.queries import frames_in_use
from kentrobar.web.frames.standing import among
from kentrobar.web.kit.archive import IN_USE
from kentrobar.web.kit.numbers import Units
from kentrobar.web.materials.queries import accessories_of, fittings_by_key, materials_of
from kentrobar.web.planning.hand.actions import TOOLS
from kentrobar.web.planning.hooks import PANELS, notes_beside
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.queries import plans_of
from kentrobar.web.planning.showing import drawing, presenting
from kentrobar.web.planning.showing.again import read_again
from kentrobar.web.planning.showing.compare import MOST_COMPARED
from kentrobar.web.planning.showing.steps import order_shown, steps_shown
from kentrobar.web.planning.showing.strain import strain_told
from kentrobar.web.planning.showing.wording import face_choices
from kentrobar.web.planning.stored import laid_plan
from kentrobar.web.shops.models import User

MOST_FRAMES_OFFERED = 200  # to move a plan to; more are found by searching the list of frames


def board_context(plan: Plan, user: User) -> dict[str, Any]:
    """The plan as it lies, with its drawing, numbers, rows, objections, steps and cautions."""
    shown, units = laid_plan(plan), user.units
    materials = list(materials_of(user))
    shelf = Shelf(material.stock for material in materials)
    others = among(user.own_shop, plan.frame.sport, but=plan.frame)
    accessories = list(accessories_of(user))
    rows = presenting.rows(shown, units, shelf)
    plan_warnings = presenting.warnings_shown(shown.warnings(shelf))
    return {
        "plan": plan,
        "frame": plan.frame,
        "laid": shown,
        "units": units,
        "materials": materials,
        "shelf": shelf,
        "accessories": accessories,
        **_drawn(shown, units),
        "cards": presenting.cards_of(
            presenting.spec_rows(
                shown, units, presenting.standing_strips(shown, others, units, shown.axis_cm)
            )
        ),
        "rows": rows,
        "plan_warnings": plan_warnings,
        "again": read_again(plan, shown, units),
        "beside": notes_beside(plan),
        "steps": steps_shown(shown, plan.order_of_work, units, rows, shelf),
        "order": order_shown(plan.order_of_work),
        "hold": presenting.hold_text(shown, units),
        "grip": presenting.grip_text(shown, shelf, fittings_by_key(accessories), units),
        "chance": presenting.chance_of(shown),
        "warnings": set(shown.prediction.warnings) - {each.message for each in plan_warnings},
        "strain": strain_told(shown, strains_of(plan.frame), units),
        **_cautions(shown, shelf, plan.frame, user),
    }


def _cautions(plan: PlanState, shelf: Shelf, frame: Frame, user: User) -> dict[str, Any]:
    """What to mind, and when the shop looked at the rules of play last, where they bear on it."""
    hazards = hazards_of(plan, shelf, strains_of(frame))
    sport = plan.outline.sport
    rules = reminder(user.own_shop.rules_seen(sport), sport, timezone.localdate())
    return {"cautions": cautions_for(hazards), "rules": rules if Hazard.ADDED_WEIGHT in hazards else ""}


def _drawn(plan: PlanState, units: Units) -> dict[str, Any]:
    """The drawing behind the pieces: frame, swing axis, fulcrum before and after."""
    backdrop = drawing.backdrop_of(plan.outline)
    before_x = drawing.fulcrum_x(plan.prediction.before.balance_cm)
    return {
        "backdrop": backdrop,
        "keep_outs": drawing.keep_outs_shown(plan.outline, plan.baseline.circumstances),
        "height": backdrop.height(len(plan.laid)),
        "axis": {
            "x": drawing.x_mm(plan.axis_cm),
            "top": backdrop.middle - drawing.AXIS_HALF_MM,
            "above": backdrop.rule_y - drawing.CLEAR_OF_RULE_MM,  # the rule's figures stand clear of it
            "below": backdrop.fulcrum_y,
            "text": units.axis_text(plan.axis_cm),
        },
        "fulcrum_before": before_x and drawing.fulcrum_points(before_x, backdrop.fulcrum_y),
        "fulcrum_after": presenting.fulcrum(plan),
    }


def board_page_context(plan: Plan, user: User) -> dict[str, Any]:
    """The same with what only the board's page has: tray, panels, other frames, other plans."""
    context, units = board_context(plan, user), user.units
    laid: PlanState = context["laid"]
    others = plans_of(user).filter(IN_USE, frame=plan.frame_id).exclude(pk=plan.pk)
    alike = frames_in_use(user).filter(sport=plan.frame.sport).exclude(pk=plan.frame_id)
    return context | {
        "sites": site_choices(laid.outline, laid.measured.balance_cm),
        "offered": presenting.offered((m for m in context["materials"] if not m.is_archived), units),
        "orders": [(order.value, procedure.label) for order, procedure in ORDERS.items()],
        "frames": alike[:MOST_FRAMES_OFFERED],
        "siblings": _compared(plan, others.values_list("pk", flat=True)[: MOST_COMPARED - 1]),
        "removals": presenting.removals(
            laid, fittings_by_key(a for a in context["accessories"] if not a.is_archived), units
        ),
        "string_materials": list(STRING_DENSITIES),
        "starts": presenting.completion_starts(units),
        "faces": face_choices(laid.outline),
        "tools": TOOLS,
        "panels": list(PANELS),
    }


def _compared(plan: Plan, others: Iterable[int]) -> str:
    """The query that compares a plan with the frame's other plans; empty where it has none."""
    keys = [plan.pk, *others]
    return urlencode([("plan", key) for key in keys]) if len(keys) > 1 else ""
