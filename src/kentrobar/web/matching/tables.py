"""A set as a table for a spreadsheet: a row a frame, units in the header."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from kentrobar.core.body.specs import AIMED, READ, RECOIL_WEIGHT, AimedSpec
from kentrobar.core.editing.stored import read_pieces
from kentrobar.exchange.tables import Cell, write_table
from kentrobar.web.matching import services
from kentrobar.web.matching.prepared import PreparedFrame, as_planned
from kentrobar.web.matching.set_view import Shown
from kentrobar.web.planning.models import Plan

_DIGITS = 4


def set_table(shown: Shown) -> str:
    """The set in base units: what was read, in its build and about its axis, and what is laid comes to."""
    of, plans = shown.of, {plan.frame_id: plan for plan in services.plans_applied(shown.of)}
    specs = AIMED if RECOIL_WEIGHT.key in of.target.bands else READ
    heads = [_head(spec, of.target.axis_cm) for spec in specs]
    after = [f"{head}, after" for head in heads] if plans else []
    rows = []
    for each in shown.frames:
        frame = each.frame
        cells = [frame.label, frame.player, frame.mark, of.setup_text]
        row: list[Cell] = [*cells, *_values(each, specs)]
        if plans:
            plan = plans.get(frame.pk)
            row += _after(as_planned(of, each, plan) if plan else each, plan, specs)
        rows.append(row)
    columns = ["frame", "player", "mark", "build", *heads, *after]
    return write_table([*columns, *(["added, g"] if plans else [])], rows)


def _head(spec: AimedSpec, axis_cm: float) -> str:
    about = f" at {axis_cm:g} cm" if spec.field == "swingweight" else ""
    return f"{spec.noun}{about}, {spec.unit}"


def _values(each: PreparedFrame, specs: Sequence[AimedSpec]) -> Iterator[Cell]:
    for spec in specs:
        yield round(each.values[spec.key], _DIGITS) if spec.key in each.values else None


def _after(each: PreparedFrame, plan: Plan | None, specs: Sequence[AimedSpec]) -> Iterator[Cell]:
    pieces = [placed.piece for placed in read_pieces(plan.pieces)] if plan else []
    found = each.predict(pieces).after
    for spec in specs:
        quantity = found.of(spec)
        yield round(quantity.value, _DIGITS) if quantity else None
    yield round(sum(abs(piece.total_mass_g) for piece in pieces), _DIGITS)
