"""Every write of plans."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.utils import timezone

from kentrobar.core.bench.cut_list import used_amounts
from kentrobar.core.bench.steps import OrderOfWork
from kentrobar.core.body.target import NOTHING_WANTED, Target
from kentrobar.core.editing.actions import Done
from kentrobar.core.editing.plan import PlanPiece, PlanState
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.editing.stored import read_pieces, stored_pieces
from kentrobar.core.quantities.errors import PieceError
from kentrobar.web.frames.baselines import baseline_of
from kentrobar.web.frames.models import Frame, SpecSheet
from kentrobar.web.kit.records import locked, locked_as_seen, write
from kentrobar.web.materials.models import Material, StockChange
from kentrobar.web.materials.services import change_stock
from kentrobar.web.planning.models import Plan, PlanRevision
from kentrobar.web.planning.stored import plan_state
from kentrobar.web.shops.models import User


@transaction.atomic
def create_plan(
    frame: Frame,
    by: User | None,
    *,
    name: str,
    axis_cm: float | None = None,
    pieces: tuple[PlanPiece, ...] = (),
    start: SpecSheet | None = None,
    target: Target = NOTHING_WANTED,
) -> Plan:
    """Start a plan on a frame, at the axis of its readings unless another is named.

    It starts from the readings ``start``, or from those that count now.
    """
    sheet = start or frame.specs
    axis = frame.measured.axis_cm if axis_cm is None else axis_cm
    plan = Plan.objects.create(
        shop_id=frame.shop_id,
        frame=frame,
        specs=sheet,
        name=name,
        axis_cm=axis,
        pieces=stored_pieces(pieces),
        target=target,
    )
    _keep_revision(plan, by, "started the plan", parent=None)
    return plan


@transaction.atomic
def save_plan(plan: Plan, done: Done, base: int, by: User | None, mark: str = "") -> None:
    """Save what an action made of a plan on top of version ``base``; ``plan`` is brought up to date.

    ``mark`` is what the page calls this change.

    Raises:
        ChangedError: the plan is no longer at ``base``.
    """
    state = done.plan
    _change(
        plan,
        base,
        by,
        done.summary,
        name=state.name,
        axis_cm=state.axis_cm,
        pieces=stored_pieces(state.placed),
        last_change=mark,
    )


@transaction.atomic
def take_new_start(plan: Plan, base: int, by: User | None) -> None:
    """Lay the plan on the readings that count now; its pieces stay, and undo brings the old start back.

    Raises:
        ChangedError: the plan is no longer at ``base``.
        PieceError: the pieces cannot be laid on that reading.
    """
    sheet = plan.frame.specs
    if sheet is None or sheet.pk == plan.specs_id:
        return
    plan_state(plan).on(baseline_of(plan.frame, sheet))
    summary = f"took the reading of {sheet.taken_at:%-d %B %Y} as its start"
    _change(plan, base, by, summary, specs_id=sheet.pk)


@transaction.atomic
def undo(plan: Plan, base: int, mark: str = "") -> None:
    """Show the state before; nothing where there is none."""
    if plan.undo_to is None:
        return
    before = PlanRevision.objects.get(plan=plan, number=plan.undo_to)
    _show(plan, base, before, redo=[*plan.redo, plan.at], last_change=mark)


@transaction.atomic
def redo(plan: Plan, base: int, mark: str = "") -> None:
    """Show the state that was undone last; nothing where there is none."""
    if not plan.redo:
        return
    after = PlanRevision.objects.get(plan=plan, number=plan.redo[-1])
    _show(plan, base, after, redo=plan.redo[:-1], last_change=mark)


@transaction.atomic
def copy_plan(plan: Plan, revision: int, by: User, frame: Frame | None = None) -> Plan:
    """A new plan from this plan's state ``revision``, on the same frame or on another.

    Raises:
        PieceError, OutlineError: a piece has no place on the other frame.
    """
    state = PlanRevision.objects.filter(plan=plan, number__lte=max(revision, 1)).latest("number")
    onto = frame or plan.frame
    if onto.sport != plan.frame.sport:
        raise PieceError(
            f"{onto.label} is for another sport. Plans copy from racket to racket, or paddle to paddle.",
            code="other_sport",
        )
    pieces = read_pieces(state.pieces)
    start = state.specs if frame is None else onto.specs
    here = PlanState(baseline_of(plan.frame, state.specs), state.name, state.axis_cm, pieces)
    moved = here.on(baseline_of(onto, start))
    name = f"{state.name[:70]} ({'copy' if frame is None else 'moved'})"
    made = create_plan(
        onto, by, name=name, axis_cm=state.axis_cm, pieces=moved.placed, start=start, target=plan.target
    )
    set_order_of_work(made, OrderOfWork(plan.order_of_work))
    return made


def set_order_of_work(plan: Plan, order: OrderOfWork) -> None:
    """Choose the order in which the plan's steps are told."""
    write(plan, order_of_work=order.value)


@transaction.atomic
def take_from_stock(plan: Plan, by: User) -> int:
    """Take what this state of the plan uses off the shelf; how many materials that changed.

    What was never counted is left alone.

    Raises:
        PieceError: it was taken already, or there is not enough of something.
    """
    kept = locked(plan)
    if kept.cut_revision == kept.at:
        raise PieceError("This plan's material was already deducted.", code="cut_already")
    counted = Material.objects.filter(shop=plan.shop_id, left_amount__isnull=False)
    by_key = {material.pk: material for material in counted.select_for_update()}
    used = used_amounts(plan_state(kept), Shelf(each.stock for each in by_key.values()))
    for stock, amount in used:
        change_stock(by_key[stock.key], StockChange.Why.CUT, amount, by, note=plan.name)
    write(plan, cut_revision=kept.at)
    return len(used)


def _change(plan: Plan, base: int, by: User | None, summary: str, **values: Any) -> None:
    """Make a new state on top of version ``base``, which undo leaves again."""
    parent = plan.at
    _write(plan, base, at=base + 1, undo_to=parent, redo=[], **values)
    _keep_revision(plan, by, summary, parent)


def _show(plan: Plan, base: int, state: PlanRevision, **values: Any) -> None:
    _write(
        plan,
        base,
        name=state.name,
        axis_cm=state.axis_cm,
        pieces=state.pieces,
        specs_id=state.specs_id,
        at=state.number,
        undo_to=state.parent,
        **values,
    )


def _write(plan: Plan, base: int, **values: Any) -> None:
    """Write the plan if it is still at version ``base``."""
    locked_as_seen(plan, base)
    values["changed_at"] = timezone.now()
    Plan.objects.filter(pk=plan.pk).update(version=base + 1, **values)
    plan.version = base + 1
    for name, value in values.items():
        setattr(plan, name, value)


def _keep_revision(plan: Plan, by: User | None, summary: str, parent: int | None) -> None:
    PlanRevision.objects.create(
        plan=plan,
        number=plan.at,
        parent=parent,
        name=plan.name,
        axis_cm=plan.axis_cm,
        pieces=plan.pieces,
        specs_id=plan.specs_id,
        summary=summary[:200],
        made_by=by,
    )
