"""The set sheet: an overview of the set, what is cut for all of it, then each frame's bench sheet."""

from __future__ import annotations

from typing import Any

from django.template.loader import render_to_string
from django.utils.safestring import mark_safe

from kentrobar.core.bench.cut_list import cut_groups_of_set
from kentrobar.core.solving.set_ways import WAYS, SetWay
from kentrobar.web.matching import presenting, services
from kentrobar.web.matching.showing import Shown
from kentrobar.web.planning.paper.sheet import group_shown, paper_palette, printed, sheet_parts
from kentrobar.web.planning.showing.context import board_context
from kentrobar.web.planning.stored import laid_plan


def set_sheet(shown: Shown, paper: str) -> bytes:
    """The PDF of the plans that were laid for a set last."""
    return printed("matching/sheet.html", sheet_context(shown, paper))


def sheet_context(shown: Shown, paper: str) -> dict[str, Any]:
    """What the set sheet is given."""
    of, user = shown.of, shown.user
    plans = services.plans_laid(of)
    laying = next(iter(of.layings.all()))
    sheets = []
    for plan in plans:
        context = board_context(plan, user) | {"paper": paper, "made_by": user}
        told = context | sheet_parts(context) | {"palette": paper_palette()}
        sheets.append(mark_safe(render_to_string("planning/_sheet.html", told)))  # noqa: S308 - our own page
    laid = [(str(i), laid_plan(plan)) for i, plan in enumerate(plans, 1)]
    frames = {each.frame.pk: each for each in shown.frames}
    return {
        "set": of,
        "laying": laying,
        "way": WAYS[SetWay(laying.way)].title,
        "paper": paper,
        "made_by": user,
        "units": user.units,
        "specs": presenting.set_specs(of, user.units),
        "target": presenting.target_shown(
            laying.target.centres, plans[0].frame, user.units, laying.target.tolerances
        ),
        "rows": [
            presenting.before_and_after(of, frames[plan.frame_id], each.pieces, user.units)
            | {"number": number}
            for (number, each), plan in zip(laid, plans, strict=True)
            if plan.frame_id in frames
        ],
        "cut_groups": [group_shown(group) for group in cut_groups_of_set(laid, shown.shelf)],
        "sheets": sheets,
    }
