"""The set sheet: an overview of the set, what is cut for all of it, then each frame's bench sheet."""

from __future__ import annotations

from dataclasses import dataclass

from django.template.loader import render_to_string
from django.utils.safestring import mark_safe

from kentrobar.core.bench.cut_list import CutGroup, cut_groups_of_set
from kentrobar.core.solving.set_ways import WAYS, SetWay
from kentrobar.web.kit.numbers import ShownSpec, Units
from kentrobar.web.kit.requests import context_of
from kentrobar.web.matching import services, view_models
from kentrobar.web.matching.models import FrameSet, SetLaying
from kentrobar.web.matching.prepared import as_planned
from kentrobar.web.matching.set_view import Shown
from kentrobar.web.planning.board.context import board_view
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.paper.sheet import paper_palette, printed, sheet_view
from kentrobar.web.planning.stored import plan_state
from kentrobar.web.shops.models import User


@dataclass(frozen=True, slots=True)
class SetSheet:
    """The overview of a set on paper, and the sheets of its frames behind it."""

    set: FrameSet
    laying: SetLaying
    way: str
    made_by: User
    units: Units
    specs: list[ShownSpec]
    target: list[tuple[str, str]]
    rows: list[view_models.SheetRow]
    cut_groups: list[CutGroup]
    sheets: list[str]


def set_sheet(shown: Shown, paper: str) -> bytes:
    """The PDF of the plans that were laid for a set last."""
    return printed("matching/sheet.html", paper, context_of(sheet_of_set(shown, paper)))


def sheet_of_set(shown: Shown, paper: str) -> SetSheet:
    """What the set sheet shows."""
    of, user, units = shown.of, shown.user, shown.units
    plans = services.plans_applied(of)
    laying = next(iter(of.layings.all()))
    states = [(str(i), plan_state(plan)) for i, plan in enumerate(plans, 1)]
    frames = {each.frame.pk: each for each in shown.frames}
    return SetSheet(
        set=of,
        laying=laying,
        way=WAYS[SetWay(laying.way)].title,
        made_by=user,
        units=units,
        specs=view_models.set_specs(of, units),
        target=view_models.target_shown(
            laying.target.centres, plans[0].frame, units, laying.target.tolerances
        ),
        rows=[
            view_models.before_and_after(
                of, number, as_planned(of, frames[plan.frame_id], plan), each.pieces, units
            )
            for (number, each), plan in zip(states, plans, strict=True)
            if plan.frame_id in frames
        ],
        cut_groups=cut_groups_of_set(states, shown.shelf),
        sheets=[_sheet_of(plan, paper, user) for plan in plans],
    )


def _sheet_of(plan: Plan, paper: str, by: User) -> str:
    board = board_view(plan, by)
    context = context_of(board, sheet_view(board, paper, by), palette=paper_palette())
    return mark_safe(render_to_string("planning/_sheet.html", context))  # noqa: S308 - our own page
