"""Every write of plans."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.db.models import F
from django.utils import timezone

from kentrobar.core.errors import KentrobarError
from kentrobar.web.frames.models import Frame
from kentrobar.web.planning.board import Board, LaidPiece, read_pieces, stored_pieces
from kentrobar.web.planning.models import Plan, PlanRevision
from kentrobar.web.shops.models import User


class ConflictError(KentrobarError):
    """The plan was changed elsewhere since the page was made; ``latest`` is that change."""

    def __init__(self, plan: Plan) -> None:
        self.latest = (
            PlanRevision.objects.filter(plan=plan).select_related("made_by").latest("number")
        )
        super().__init__(
            "This plan was changed in another tab or by another person in the meantime.",
            code="conflict",
        )


@transaction.atomic
def create_plan(
    frame: Frame,
    by: User | None,
    *,
    name: str,
    axis_cm: float | None = None,
    pieces: tuple[LaidPiece, ...] = (),
) -> Plan:
    """Start a plan on a frame, at the axis of its readings unless another is named."""
    axis = frame.measured.axis_cm if axis_cm is None else axis_cm
    plan = Plan.objects.create(
        shop_id=frame.shop_id, frame=frame, name=name, axis_cm=axis, pieces=stored_pieces(pieces)
    )
    _keep_revision(plan, by, "started the plan", parent=None)
    return plan


@transaction.atomic
def save_board(plan: Plan, board: Board, base: int, summary: str, by: User, mark: str = "") -> None:
    """Save a changed board on top of version ``base``; ``plan`` is brought up to date.

    ``mark`` is what the page calls this change.

    Raises:
        ConflictError: the plan is no longer at ``base``.
    """
    parent = plan.at
    _write(
        plan,
        base,
        name=board.name,
        axis_cm=board.axis_cm,
        pieces=stored_pieces(board.pieces),
        at=base + 1,
        undo_to=parent,
        redo=[],
        last_change=mark,
    )
    _keep_revision(plan, by, summary, parent)


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


def copy_plan(plan: Plan, revision: int, by: User) -> Plan:
    """A new plan on the same frame, from this plan's state ``revision``."""
    state = PlanRevision.objects.filter(plan=plan, number__lte=revision).latest("number")
    return create_plan(
        plan.frame,
        by,
        name=f"{state.name[:70]} (copy)",
        axis_cm=state.axis_cm,
        pieces=read_pieces(state.pieces),
    )


def _show(plan: Plan, base: int, state: PlanRevision, **values: Any) -> None:
    _write(
        plan,
        base,
        name=state.name,
        axis_cm=state.axis_cm,
        pieces=state.pieces,
        at=state.number,
        undo_to=state.parent,
        **values,
    )


def _write(plan: Plan, base: int, **values: Any) -> None:
    """Write the plan if it is still at version ``base``, in one statement."""
    values["changed_at"] = timezone.now()
    written = Plan.objects.filter(pk=plan.pk, version=base).update(
        version=F("version") + 1, **values
    )
    if not written:
        raise ConflictError(plan)
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
        summary=summary[:200],
        made_by=by,
    )
