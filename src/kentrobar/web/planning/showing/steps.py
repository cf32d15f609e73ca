"""A plan as steps of work: what is laid in which order, and what should be read after each."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from typing import Any

from kentrobar.core.bench.cautions import cautions_for, hazards_of
from kentrobar.core.bench.steps import ORDERS, OrderOfWork, Step, steps_of
from kentrobar.core.laying.plan import LaidPlan
from kentrobar.core.laying.shelf import Shelf
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.web.kit.numbers import Units, shown_specs


def steps_shown(
    plan: LaidPlan, order: str, units: Units, rows: Iterable[Mapping[str, Any]], shelf: Shelf
) -> list[dict[str, Any]]:
    """The plan as steps: pieces, cautions that were not told before, and what should be read then."""
    by_number = {row["number"]: row for row in rows}
    told: set[str] = set()
    shown = []
    for step in steps_of(plan, OrderOfWork(order)):
        numbers = [plan.laid[i].number for i in step.pieces]
        cautions = cautions_for(hazards_of(plan.only(numbers), shelf))
        shown.append({
            "title": step.title,
            "rows": [by_number[number] for number in numbers],
            "cautions": [caution for caution in cautions if caution not in told],
            "expected": list(_expected(step, units)),
        })  # fmt: skip
        told.update(cautions)
    return shown


def _expected(step: Step, units: Units) -> Iterator[dict[str, str]]:
    """What to read after a step: the spec, or by how much it changed where it was never read."""
    for spec in shown_specs(units):
        if spec.read_key not in step.read:
            continue
        name, quantity = spec.name.lower(), getattr(step.expected, spec.key)
        text = spec.value(quantity)
        if not isinstance(quantity, Estimate):
            name, quantity = f"change of {name}", getattr(step.change, spec.key)
            text = spec.change(quantity)
        if isinstance(quantity, Estimate):
            yield {"name": name, "unit": spec.unit, "value": text, "u": spec.spread(quantity)}


def order_shown(order: str) -> dict[str, str]:
    """The order of work of a plan in words."""
    procedure = ORDERS[OrderOfWork(order)]
    return {"label": procedure.label, "reason": procedure.reason}
