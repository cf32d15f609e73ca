"""Up to four plans side by side."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET

from kentrobar.core.appraisal import Use, appraise
from kentrobar.core.specs import Specs
from kentrobar.web.kit.numbers import Units, shown_specs
from kentrobar.web.materials.models import Material
from kentrobar.web.planning import drawing, presenting
from kentrobar.web.planning.board import Board
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.queries import materials_by_id, plans_in_full

MOST_COMPARED = 4


@require_GET
def compare(request: HttpRequest) -> HttpResponse:
    """Drawing, specs, change and cost of each chosen plan; the first is what the rest stand beside."""
    asked = [int(pk) for pk in request.GET.getlist("plan") if pk.isdecimal() and len(pk) < 19]
    asked = list(dict.fromkeys(asked))
    if len(asked) > MOST_COMPARED:
        messages.error(
            request, f"Four plans fit side by side; these are the first of {len(asked)}."
        )
    by_pk = {plan.pk: plan for plan in plans_in_full(request.user).filter(pk__in=asked)}
    plans = [by_pk[pk] for pk in asked if pk in by_pk][:MOST_COMPARED]
    if len(plans) < 2:
        messages.error(request, "Mark two to four plans to see them side by side.")
        return redirect("planning:list")
    shelf, units = materials_by_id(request.user), request.user.units
    columns = [_column(plan, shelf, units) for plan in plans]
    axis_cm = plans[0].axis_cm
    context = {
        "columns": columns, "units": units,
        "rows": _spec_rows([_about(column["board"], axis_cm) for column in columns], units),
        "axis": units.axis_text(axis_cm),
    }  # fmt: skip
    return render(request, "planning/compare.html", context)


def _about(board: Board, axis_cm: float) -> tuple[Specs, Specs]:
    """Specs after and their change, all plans about one axis."""
    prediction = Board(board.frame, board.name, axis_cm, board.pieces).prediction
    return prediction.after, prediction.change


def _spec_rows(plans: list[tuple[Specs, Specs]], units: Units) -> list[dict[str, Any]]:
    return [
        {"spec": spec, "cells": [spec.told(after, change) for after, change in plans]}
        for spec in shown_specs(units)
    ]


def _column(plan: Plan, shelf: dict[int, Material], units: Units) -> dict[str, Any]:
    board = Board.of(plan)
    texts = presenting.numbers(board, units)
    uses = [
        Use(laid, material and material.unit_price, (material and material.g_per_cm) or 0.0)
        for laid, each in zip(board.laid(shelf), board.pieces, strict=True)
        for material in [shelf.get(each.material_id or 0)]
    ]
    found = appraise(uses, board.outline)
    return {
        "plan": plan, "board": board, "frame": plan.frame,
        "drawing": drawing.small_drawing(
            [laid.piece for laid in board.pieces], board.outline,
            board.prediction.after.balance_cm, f"{plan.name} on {plan.frame.label}",
        ),
        "rows": presenting.rows(board, units, texts, shelf.values()),
        "appraisal": found,
        "minutes": f"{found.minutes:.0f} min",
        "money": "a price is missing" if found.money is None else f"{found.money:.2f}",
        "open": sum(not each.is_overruled for each in board.objections(shelf)),
    }  # fmt: skip
