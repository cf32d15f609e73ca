"""What every page, fragment and print of one plan is given."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from urllib.parse import urlencode

from django.db.models import QuerySet
from django.utils import timezone

from kentrobar.core.bench.cautions import Hazard, cautions_for, hazards_of
from kentrobar.core.bench.rules_of_play import reminder
from kentrobar.core.bench.steps import ORDERS, OrderDescription
from kentrobar.core.body.sport import Sport
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.frame.sites import SiteChoice, site_choices
from kentrobar.core.weight.strings import STRING_DENSITIES
from kentrobar.web.frames.baselines import strains_of
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.queries import frames_in_use
from kentrobar.web.frames.reference_strips import among, strips_of_plan
from kentrobar.web.kit.archive import IN_USE
from kentrobar.web.kit.numbers import Units
from kentrobar.web.materials.models import Accessory, Material
from kentrobar.web.materials.queries import accessories_of, fittings_by_key, materials_of
from kentrobar.web.planning.board import view_models
from kentrobar.web.planning.board.actions import TOOLS, Tool
from kentrobar.web.planning.board.rereading import Rereading, read_again
from kentrobar.web.planning.board.steps import StepView, order_shown, steps_shown
from kentrobar.web.planning.board.view_models import (
    PieceRow,
    ShownFitting,
    ShownWarning,
    SpecCard,
    TrayMaterial,
)
from kentrobar.web.planning.hooks import PANELS, PlanNote, notes_beside
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.queries import MOST_COMPARED, plans_of
from kentrobar.web.planning.stored import plan_state
from kentrobar.web.shops.models import User
from kentrobar.web.showing import drawing
from kentrobar.web.showing.pieces import face_choices
from kentrobar.web.showing.strain import strain_text

MOST_FRAMES_OFFERED = 200  # to move a plan to; more are found by searching the list of frames


@dataclass(frozen=True, slots=True)
class SwingAxis:
    """The swing axis across the drawing: where, how far it reaches, and its figure."""

    x: float
    top: float
    above: float
    below: float
    text: str


@dataclass(frozen=True, slots=True)
class BoardView:
    """A plan with its drawing, specs, pieces, warnings, steps and cautions."""

    plan: Plan
    frame: Frame
    state: PlanState
    units: Units
    materials: list[Material]
    shelf: Shelf
    accessories: list[Accessory]
    backdrop: drawing.Backdrop
    keep_outs: list[drawing.KeepOutShown]
    height: float
    axis: SwingAxis
    fulcrum_before: str
    fulcrum_after: str
    cards: list[SpecCard]
    rows: list[PieceRow]
    plan_warnings: list[ShownWarning]
    again: Rereading | None
    beside: list[PlanNote]
    steps: list[StepView]
    order: OrderDescription
    hold: str
    grip: str
    ceiling: str
    chance: str
    warnings: set[str]
    warned: int
    strain: str
    cautions: list[str]
    rules: str


def board_view(plan: Plan, user: User) -> BoardView:
    """What every page, fragment and print of one plan is given."""
    shown, units = plan_state(plan), user.units.of_sport(plan.frame.sport)
    materials = list(materials_of(user))
    shelf = Shelf(material.stock for material in materials)
    others = among(user.own_shop, plan.frame.sport, but=plan.frame)
    accessories = list(accessories_of(user))
    rows = view_models.rows(shown, units, shelf)
    plan_warnings = view_models.warnings_shown(shown.warnings(shelf))
    strips = strips_of_plan(shown, plan.frame, plan.specs, others, units)
    hazards = hazards_of(shown, shelf, strains_of(plan.frame))
    other_warnings = set(shown.prediction.warnings) - {each.message for each in plan_warnings}
    backdrop = drawing.backdrop_of(shown.outline)
    return BoardView(
        plan=plan,
        frame=plan.frame,
        state=shown,
        units=units,
        materials=materials,
        shelf=shelf,
        accessories=accessories,
        backdrop=backdrop,
        keep_outs=drawing.keep_outs_shown(shown.outline, shown.baseline.circumstances),
        height=backdrop.height(len(shown.placed)),
        axis=_axis(shown, backdrop, units),
        fulcrum_before=view_models.fulcrum(shown, shown.prediction.before),
        fulcrum_after=view_models.fulcrum(shown, shown.prediction.after),
        cards=view_models.cards_of(view_models.spec_rows(shown, units, strips)),
        rows=rows,
        plan_warnings=plan_warnings,
        again=read_again(plan, shown, units),
        beside=notes_beside(plan),
        steps=steps_shown(shown, plan.order_of_work, units, rows, shelf),
        order=order_shown(plan.order_of_work),
        hold=view_models.hold_text(shown, units),
        grip=view_models.grip_text(shown, shelf, fittings_by_key(accessories), units),
        ceiling=view_models.ceiling_text(shown, units),
        chance=view_models.chance_of(shown),
        warnings=other_warnings,
        warned=len(other_warnings) + sum(not each.is_overruled for each in plan_warnings),
        strain=strain_text(shown, strains_of(plan.frame), units),
        cautions=cautions_for(hazards),
        rules=_rules(user, shown.outline.sport) if Hazard.ADDED_WEIGHT in hazards else "",
    )


def _axis(plan: PlanState, backdrop: drawing.Backdrop, units: Units) -> SwingAxis:
    return SwingAxis(
        x=drawing.x_mm(plan.axis_cm),
        top=backdrop.middle - drawing.AXIS_HALF_MM,
        above=backdrop.rule_y - drawing.CLEAR_OF_RULE_MM,  # the rule's figures stand clear of it
        below=backdrop.fulcrum_y,
        text=units.axis_text(plan.axis_cm),
    )


def _rules(user: User, sport: Sport) -> str:
    """When the shop looked at the rules of play last."""
    return reminder(user.own_shop.rules_seen(sport), sport, timezone.localdate())


@dataclass(frozen=True, slots=True)
class TrayView:
    """What only the board's page has: tray, panels, other frames, other plans."""

    sites: list[SiteChoice]
    offered: list[TrayMaterial]
    orders: list[tuple[str, str]]
    frames: QuerySet[Frame]
    siblings: str
    removals: list[ShownFitting]
    string_materials: list[str]
    starts: dict[str, str]
    faces: list[tuple[str, str]]
    amount_examples: str
    tools: Mapping[str, Tool]
    panels: list[str]


def tray_view(board: BoardView, user: User) -> TrayView:
    """The tray and the panels beside a board."""
    plan, state, units = board.plan, board.state, board.units
    others = plans_of(user).filter(IN_USE, frame=plan.frame_id).exclude(pk=plan.pk)
    alike = frames_in_use(user).filter(sport=plan.frame.sport).exclude(pk=plan.frame_id)
    fittings = fittings_by_key(each for each in board.accessories if not each.is_archived)
    return TrayView(
        sites=site_choices(state.outline, state.measured.balance_cm),
        offered=view_models.offered((m for m in board.materials if not m.is_archived), units),
        orders=[(order.value, procedure.label) for order, procedure in ORDERS.items()],
        frames=alike[:MOST_FRAMES_OFFERED],
        siblings=_compared(plan, others.values_list("pk", flat=True)[: MOST_COMPARED - 1]),
        removals=view_models.removals(state, fittings, units),
        string_materials=list(STRING_DENSITIES),
        starts=view_models.completion_starts(units),
        faces=face_choices(state.outline),
        amount_examples=view_models.amount_examples(units),
        tools=TOOLS,
        panels=list(PANELS),
    )


def _compared(plan: Plan, others: Iterable[int]) -> str:
    """The query that compares a plan with the frame's other plans; empty where it has none."""
    keys = [plan.pk, *others]
    return urlencode([("plan", key) for key in keys]) if len(keys) > 1 else ""
