"""Up to four plans side by side."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET

from kentrobar.core.bench.appraisal import Use, appraise
from kentrobar.core.body.specs import Specs
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.quantities.estimates import NotMeasured
from kentrobar.web.frames.standing import among_each, with_strips
from kentrobar.web.kit.numbers import Units, price_text, shown_specs
from kentrobar.web.kit.requests import read_count
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.planning.hooks import COMPARISONS
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.queries import plans_in_full
from kentrobar.web.planning.showing import drawing, presenting
from kentrobar.web.planning.stored import laid_plan
from kentrobar.web.shops.requests import SignedIn

MOST_COMPARED = 4


@require_GET
def compare(request: SignedIn) -> HttpResponse:
    """Drawing, specs, change and cost of each chosen plan; the first is what the rest stand beside."""
    plans, asked = chosen(request)
    if asked > MOST_COMPARED:
        messages.error(request, f"Four plans fit side by side; these are the first of {asked}.")
    if len(plans) < 2:
        messages.error(request, "Mark two to four plans to see them side by side.")
        return redirect("planning:list")
    shelf, units = shelf_of(request.user), request.user.units
    columns = [_column(plan, shelf, units) for plan in plans]
    axis_cm = plans[0].axis_cm
    context = {
        "columns": columns,
        "units": units,
        "rows": with_strips(
            _spec_rows([_about(column["laid"], axis_cm) for column in columns], plans, units),
            _strips(request, columns, axis_cm),
        ),
        "axis": units.axis_text(axis_cm),
        "sections": list(COMPARISONS),
    }
    return render(request, "planning/compare.html", context)


def chosen(request: SignedIn) -> tuple[list[Plan], int]:
    """The first plans of those marked, in their order, and how many were marked."""
    asked = list(dict.fromkeys(map(read_count, request.GET.getlist("plan"))))
    by_pk = {plan.pk: plan for plan in plans_in_full(request.user).filter(pk__in=asked[:50])}
    return [by_pk[pk] for pk in asked if pk in by_pk][:MOST_COMPARED], len(asked)


def _about(plan: PlanState, axis_cm: float) -> tuple[Specs, Specs]:
    """Specs after and their change, all plans about one axis."""
    prediction = replace(plan, axis_cm=axis_cm).prediction
    return prediction.after, prediction.change


def _spec_rows(about: list[tuple[Specs, Specs]], plans: list[Plan], units: Units) -> list[dict[str, Any]]:
    in_percent = [units.tells_percent(plan.frame.is_racket) for plan in plans]
    return [
        {
            "key": spec.key,
            "spec": spec,
            "cells": [
                spec.told(after, change, told)
                for (after, change), told in zip(about, in_percent, strict=True)
            ],
        }
        for spec in shown_specs(units)
    ]


def _strips(request: SignedIn, columns: list[dict[str, Any]], axis_cm: float) -> list[dict[str, Any]]:
    """Where each plan brings its frame among those of its sport."""
    others = among_each(request.user.own_shop, (column["frame"] for column in columns))
    return [
        presenting.standing_strips(column["laid"], others[column["frame"].sport], request.user.units, axis_cm)
        for column in columns
    ]


def _column(plan: Plan, shelf: Shelf, units: Units) -> dict[str, Any]:
    laid = laid_plan(plan)
    texts = presenting.numbers(laid, units)
    found = appraise([Use(piece, shelf.of(piece)) for piece in laid.pieces], laid.outline)
    money = "a price is missing"
    if not isinstance(found.money, NotMeasured):
        money = price_text(found.money, plan.shop.currency)
    return {
        "plan": plan,
        "laid": laid,
        "frame": plan.frame,
        "drawing": drawing.small_drawing(
            laid.pieces, laid.outline, laid.prediction.after.balance_cm, f"{plan.name} on {plan.frame.label}"
        ),
        "rows": presenting.rows(laid, units, texts, shelf),
        "appraisal": found,
        "minutes": f"{found.minutes:.0f} min",
        "money": money,
        "open": sum(not each.is_overruled for each in laid.warnings(shelf)),
    }
