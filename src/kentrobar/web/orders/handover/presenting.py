"""Texts of what is verified and handed over."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from django.utils import timezone

from kentrobar.core.bench.cautions import Hazard, hazards_of
from kentrobar.core.bench.handing_over import (
    ask_before,
    how_to_keep,
    players_cautions,
    told_restringer,
    undo_steps,
)
from kentrobar.core.bench.rules_of_play import reminder
from kentrobar.core.body.specs import SWING_WEIGHT
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.frame.outline import Sport
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.reading.reference_ranges import USUAL_AXIS_CM
from kentrobar.core.weight.builds import Build
from kentrobar.web.bench.view_models import plain_text
from kentrobar.web.frames.baselines import specs_about, strains_of
from kentrobar.web.frames.standing import among, strips
from kentrobar.web.kit.numbers import ShownSpec, Units, beside_balance, chance_text, read_specs, shown_specs
from kentrobar.web.kit.spec_rows import SpecCell, SpecRow, SpecText, StandingStrip, TargetText, row_of
from kentrobar.web.orders.handover.verifying import Outcome
from kentrobar.web.planning.showing.strain import strain_told
from kentrobar.web.planning.wish.presenting import piece_text


def outcome_context(outcome: Outcome, shelf: Shelf, units: Units) -> dict[str, Any]:
    """Spec by spec before, target and after; what lies; how it is undone."""
    return {
        "rows": list(_rows(outcome, units)),
        "axis": units.axis_text(outcome.axis_cm),
        "chance": chance_text(outcome.chance),
        "is_all_within": outcome.is_all_within,
        "has_target": bool(outcome.bands),
        "before": outcome.before,
        "sheet": outcome.sheet,
        "laid": laid_texts(outcome, units),
        "undo": undo_texts(outcome, shelf, units),
    }


def _rows(outcome: Outcome, units: Units) -> Iterator[SpecRow]:
    """Each spec before and after, beside its target, with where the frame stands among others."""
    before, after = outcome.specs_of(outcome.before), outcome.specs_of(outcome.sheet)
    length_cm = outcome.frame.length_cm
    stands = _stands(outcome, units)
    for spec in read_specs(units):
        key, target = spec.read_key, None
        if key in outcome.bands:
            target = TargetText(
                spec.of_length(outcome.target.centres[key], length_cm),
                spec.width(outcome.target.reach[key]),
                outcome.is_within(key),
            )
        cell = SpecCell(
            _told(spec, after, length_cm), _told(spec, before, length_cm), strip=stands.get(spec.key)
        )
        yield row_of(spec, cell, target=target, has_sides=True)


def _stands(outcome: Outcome, units: Units) -> dict[str, StandingStrip]:
    """Where the frame stands among others, spec by spec, once it was read in playing form."""
    frame, sheet = outcome.frame, outcome.sheet
    if sheet is None or sheet.build != Build.PLAYING:
        return {}
    axis = USUAL_AXIS_CM[Sport(frame.sport)]
    return strips(
        among(frame.shop, frame.sport, but=frame),
        specs_about(frame, sheet, axis),
        None,
        units,
        outcome.axis_cm,
    )


def _told(spec: ShownSpec, specs: object, length_cm: float) -> SpecText:
    quantity = getattr(specs, spec.read_key, None)
    if not quantity:
        return SpecText("–")
    return plain_text(spec, quantity, length_cm)


def laid_texts(outcome: Outcome, units: Units) -> list[str]:
    """What lies on the frame, piece by piece."""
    return [_named(piece_text(p, outcome.frame, units), p.material) for p in outcome.plan.pieces]


def _named(text: str, material: str) -> str:
    return text if not material or material in text else f"{material}: {text}"


def undo_texts(outcome: Outcome, shelf: Shelf, units: Units) -> list[str]:
    """How to undo it piece by piece."""
    plan = outcome.plan
    try:
        steps = undo_steps(plan.cut_from(shelf), plan.outline, outcome.axis_cm)
    except KentrobarError:
        return []
    return [
        f"{step.piece.material or step.piece.name}, {step.piece.where(plan.outline, units.bench_lengths)}: "
        f"{step.how} ({_signed_mass(step.mass_g, units)}, swing weight "
        f"{_signed_swing(step.swingweight_kgcm2, units)})"
        for step in steps
    ]


def _signed_swing(kgcm2: float, units: Units) -> str:
    spec = next(s for s in shown_specs(units) if s.key == SWING_WEIGHT.key)
    return f"{spec.change(Estimate(kgcm2))} {spec.unit}"


def _signed_mass(grams: float, units: Units) -> str:
    text = units.piece_mass_text(abs(grams))
    return f"{'+' if grams > 0 else '−'}{text} {units.mass}"


def _cautions_of(plan: PlanState, shelf: Shelf, outcome: Outcome, units: Units) -> list[str]:
    """What the player is to mind; what they told of strain stands first."""
    frame, sport = outcome.frame, plan.outline.sport
    strains = strains_of(frame)
    hazards = hazards_of(plan, shelf, strains)
    found = [strain_told(plan, strains, units, to_player=True), *players_cautions(hazards)]
    if Hazard.ADDED_WEIGHT in hazards:
        found.append(reminder(frame.shop.rules_seen(sport), sport, timezone.localdate()))
    return [text for text in found if text]


def card_context(outcome: Outcome, shelf: Shelf, units: Units) -> dict[str, Any]:
    """What the player's card is given beside the job: in plain words, in the player's units."""
    plan, after = outcome.plan, outcome.specs_of(outcome.sheet)
    laid = plan.cut_from(shelf)
    return outcome_context(outcome, shelf, units) | {
        "keep": how_to_keep(laid, plan.outline),
        "restringer": told_restringer(laid, plan.outline),
        "ask_before": ask_before(outcome.frame.is_racket),
        "cautions": _cautions_of(plan, shelf, outcome, units) if plan.pieces else [],
        "beside_balance": beside_balance(after, units) if after else "",
    }
