"""Up to four plans side by side."""

from __future__ import annotations

from dataclasses import dataclass, replace

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET

from kentrobar.core.bench.appraisal import Appraisal, Use, appraise
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.editing.shelf import Shelf
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.reference_strips import among_each, strips_of_plan
from kentrobar.web.kit.numbers import Units, price_text, shown_specs
from kentrobar.web.kit.spec_rows import SpecRow, cell_of, row_of
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.planning.board import view_models
from kentrobar.web.planning.board.view_models import PieceRow
from kentrobar.web.planning.hooks import COMPARISONS
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.queries import MOST_COMPARED, plans_marked
from kentrobar.web.planning.stored import plan_state
from kentrobar.web.shops.requests import SignedIn
from kentrobar.web.showing import drawing


@require_GET
def compare(request: SignedIn) -> HttpResponse:
    """Drawing, specs, change and cost of each chosen plan; the first is what the rest stand beside."""
    plans, marked_count = plans_marked(request.user, request.GET.getlist("plan"))
    if marked_count > MOST_COMPARED:
        messages.error(request, f"Four plans fit side by side; these are the first of {marked_count}.")
    if len(plans) < 2:
        messages.error(request, "Select two to four plans to compare.")
        return redirect("planning:list")
    shelf, units = shelf_of(request.user), request.user.units
    columns = [_column(plan, shelf, units) for plan in plans]
    axis_cm = plans[0].axis_cm
    context = {
        "columns": columns,
        "units": units,
        "rows": _spec_rows(request, columns, axis_cm),
        "axis": units.axis_text(axis_cm),
        "sections": list(COMPARISONS),
    }
    return render(request, "planning/compare.html", context)


@dataclass(frozen=True, slots=True)
class PlanColumn:
    """One plan beside others: its drawing, its pieces, and what it asks of the bench."""

    plan: Plan
    state: PlanState
    frame: Frame
    drawing: drawing.SmallDrawing
    rows: list[PieceRow]
    appraisal: Appraisal
    minutes: str
    money: str
    open: int


def _spec_rows(request: SignedIn, columns: list[PlanColumn], axis_cm: float) -> list[SpecRow]:
    """A row a spec, a cell a plan, all about one axis, with where each brings its frame among others."""
    each_units = [request.user.units.of_sport(column.frame.sport) for column in columns]
    units = each_units[0] if len(set(each_units)) == 1 else request.user.units
    others = among_each(request.user.own_shop, (column.frame for column in columns))
    about = [replace(column.state, axis_cm=axis_cm).prediction for column in columns]
    strips = [
        strips_of_plan(
            column.state, column.frame, column.plan.specs, others[column.frame.sport], units, axis_cm
        )
        for column in columns
    ]
    return [
        row_of(
            spec,
            *(
                cell_of(spec, None, each.after, each.change, own, strip=of.get(spec.key))
                for each, of, own in zip(about, strips, each_units, strict=True)
            ),
            axis=units.axis_text(axis_cm),
        )
        for spec in shown_specs(units)
    ]


def _column(plan: Plan, shelf: Shelf, units: Units) -> PlanColumn:
    state = plan_state(plan)
    found = appraise([Use(piece, shelf.of(piece)) for piece in state.pieces], state.outline)
    title = f"{plan.name} on {plan.frame.label}"
    return PlanColumn(
        plan,
        state,
        plan.frame,
        drawing.small_drawing(state.pieces, state.outline, state.prediction.after.balance_cm, title),
        view_models.rows(state, units, shelf),
        found,
        f"{found.minutes:.0f} min",
        price_text(found.money, plan.shop.currency, "a price is missing"),
        sum(not each.is_overruled for each in state.warnings(shelf)),
    )
