"""Texts of what is verified and handed over."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from kentrobar.core.bench.cautions import Hazard, hazards_of
from kentrobar.core.bench.handing_over import (
    ask_before,
    how_to_keep,
    note_to_stringer,
    players_cautions,
    undo_steps,
)
from kentrobar.core.bench.rules_of_play import players_reminder
from kentrobar.core.body.ranges import USUAL_AXIS_CM
from kentrobar.core.body.specs import SWING_WEIGHT
from kentrobar.core.body.sport import Sport
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate
from kentrobar.core.weight.builds import Build
from kentrobar.web.bench.view_models import plain_text
from kentrobar.web.frames.baselines import specs_about, strains_of
from kentrobar.web.frames.models import Frame, SpecSheet
from kentrobar.web.frames.reference_strips import among, strips
from kentrobar.web.kit.numbers import ShownSpec, Units, beside_balance, chance_text, read_specs, shown_specs
from kentrobar.web.kit.spec_rows import ReferenceStrip, SpecCell, SpecRow, SpecText, TargetText, row_of
from kentrobar.web.orders.handover.verifying import Outcome
from kentrobar.web.showing.drawing import SmallDrawing, small_drawing
from kentrobar.web.showing.pieces import piece_text
from kentrobar.web.showing.strain import strain_text


@dataclass(frozen=True, slots=True)
class OutcomeView:
    """Spec by spec before, target and after; what lies; how it is undone."""

    frame: Frame
    rows: list[SpecRow]
    axis: str
    chance: str
    is_all_within: bool
    has_target: bool
    before: SpecSheet | None
    sheet: SpecSheet | None
    turned: str
    applied: list[str]
    undo: list[str]


def outcome_view(outcome: Outcome, shelf: Shelf, units: Units) -> OutcomeView:
    """What came of the work on a frame."""
    return OutcomeView(
        outcome.frame,
        list(_rows(outcome, units)),
        units.axis_text(outcome.axis_cm),
        chance_text(outcome.chance),
        outcome.is_all_within,
        bool(outcome.bands),
        outcome.before,
        outcome.sheet,
        _turned_text(outcome),
        applied_texts(outcome, units),
        undo_texts(outcome, shelf, units),
    )


def _turned_text(outcome: Outcome) -> str:
    """What is said where the two readings were taken in different setups."""
    before, after = outcome.before, outcome.sheet
    if not (outcome.is_turned and before and after):
        return ""
    return f"Read in {after.setup_text}, turned into {before.setup_text} as before."


def _rows(outcome: Outcome, units: Units) -> Iterator[SpecRow]:
    """Each spec before and after, beside its target, with where the frame stands among others."""
    before, after = outcome.specs_of(outcome.before), outcome.specs_of(outcome.sheet)
    length_cm = outcome.frame.length_cm
    strips = _strips(outcome, units)
    for spec in read_specs(units):
        key, target = spec.read_key, None
        if key in outcome.bands:
            target = TargetText(
                spec.of_length(outcome.target.centres[key], length_cm),
                spec.width(outcome.target.reach[key]),
                outcome.is_within(key),
            )
        cell = SpecCell(
            _text_of(spec, after, length_cm), _text_of(spec, before, length_cm), strip=strips.get(spec.key)
        )
        yield row_of(spec, cell, target=target, has_sides=True)


def _strips(outcome: Outcome, units: Units) -> dict[str, ReferenceStrip]:
    """Where the frame stands among others, spec by spec, once it was read ready to play."""
    frame, sheet = outcome.frame, outcome.sheet
    if sheet is None or sheet.build != Build.PLAYING:
        return {}
    axis = USUAL_AXIS_CM[Sport(frame.sport)]
    return strips(
        among(frame.shop, frame.sport, but=frame),
        frame.outline,
        specs_about(frame, sheet, axis),
        None,
        units,
        outcome.axis_cm,
    )


def _text_of(spec: ShownSpec, specs: object, length_cm: float) -> SpecText:
    quantity = getattr(specs, spec.read_key, None)
    if not quantity:
        return SpecText("–")
    return plain_text(spec, quantity, length_cm)


def applied_texts(outcome: Outcome, units: Units) -> list[str]:
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
    found = [strain_text(plan, strains, units, to_player=True), *players_cautions(hazards)]
    if Hazard.ADDED_WEIGHT in hazards:
        found.append(players_reminder(frame.shop.rules_seen(sport), sport))
    return [text for text in found if text]


@dataclass(frozen=True, slots=True)
class CardView:
    """What the player's card says beside the outcome."""

    d: SmallDrawing
    keep: list[str]
    restringer: list[str]
    ask_before: list[str]
    cautions: list[str]
    beside_balance: str


def card_view(outcome: Outcome, shelf: Shelf, units: Units) -> CardView:
    """The player's card in plain words, in the player's units."""
    plan, after = outcome.plan, outcome.specs_of(outcome.sheet)
    applied = plan.cut_from(shelf)
    balance = after.balance_cm if after else NOT_MEASURED
    return CardView(
        small_drawing(plan.pieces, plan.outline, balance, "The frame with what is on it"),
        how_to_keep(applied, plan.outline),
        note_to_stringer(applied, plan.outline),
        ask_before(outcome.frame.is_racket),
        _cautions_of(plan, shelf, outcome, units) if plan.pieces else [],
        beside_balance(after, units) if after else "",
    )
