"""A proposal as its card shows it, and why there is none, in a person's units."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from django.utils.text import get_text_list

from kentrobar.core.bench.appraisal import Appraisal, Use, appraise
from kentrobar.core.body.specs import AIMED_BY_KEY, BALANCE, READ, SWING_WEIGHT
from kentrobar.core.body.target import Target
from kentrobar.core.editing.removal import COSTS
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import points_headlight
from kentrobar.core.solving.goals import GENTLER, GOALS, Goal
from kentrobar.core.solving.matching import Match
from kentrobar.core.solving.most_reliable import coarsest
from kentrobar.core.solving.proposals import LEAST, Proposal, too_coarse, unsure_of
from kentrobar.core.weight.pieces import Piece
from kentrobar.core.weight.prediction import predict
from kentrobar.web.frames.baselines import baseline_of, strains_of
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.numbers import Units, chance_text, points_text, price_text, shown_specs
from kentrobar.web.kit.spec_rows import SpecRow
from kentrobar.web.planning.targets.forms import TargetForm
from kentrobar.web.planning.targets.signed_proposal import carry
from kentrobar.web.showing.drawing import SmallDrawing, small_drawing
from kentrobar.web.showing.pieces import moved_text, piece_text
from kentrobar.web.showing.specs import prediction_rows
from kentrobar.web.showing.strain import steps_text


@dataclass(frozen=True, slots=True)
class ProposalView:
    """What a plan lays, what it comes to and how surely, what it costs, and the plan itself to be laid."""

    frame: Frame
    chance: str
    middle: str
    added: str
    moved: str
    order: float
    places: str
    proven: bool
    appraisal: Appraisal
    minutes: str
    money: str
    drawing: SmallDrawing
    pieces: list[str]
    costs: list[str]
    specs: list[SpecRow]
    signed: str


def proposal_view(proposal: Proposal, shelf: Shelf, frame: Frame, units: Units, aim: Target) -> ProposalView:
    """A proposal as its card shows it."""
    found = appraise([Use(piece, shelf.of(piece)) for piece in proposal.pieces], frame.outline)
    title, after = proposal.title, proposal.prediction.after
    added, moved = moved_text(proposal.pieces, units)
    return ProposalView(
        frame=frame,
        chance=chance_text(proposal.chance),
        middle=_middle(proposal, aim),
        added=added,
        moved=moved,
        order=_order(proposal, frame),
        places=repr(proposal.places),
        proven=proposal.found.is_proven and proposal.key == LEAST,
        appraisal=found,
        minutes=f"{found.minutes:.0f}",
        money=price_text(found.money, frame.shop.currency),
        drawing=small_drawing(proposal.pieces, frame.outline, after.balance_cm, f"{title} on {frame.label}"),
        pieces=[piece_text(piece, frame, units) for piece in proposal.pieces],
        costs=_costs(proposal.pieces, frame),
        specs=prediction_rows(proposal.prediction, frame, units),
        signed=carry(frame, title, proposal.pieces, aim),
    )


def _costs(pieces: Sequence[Piece], frame: Frame) -> list[str]:
    """What it costs, beside weight and work, to change what is fitted."""
    kinds = {fitting.key: fitting.kind for fitting in baseline_of(frame, frame.specs).fitted}
    changed = [kinds[piece.source.fitting] for piece in pieces if piece.source.fitting in kinds]
    return list(dict.fromkeys(COSTS[kind] for kind in changed))


def _middle(proposal: Proposal, aim: Target) -> str:
    """Where in its tolerances a plan comes to; empty without any that has a middle."""
    if not (aim.two_sided.bands or aim.changes):
        return ""
    after, change = proposal.prediction.after, proposal.prediction.change
    if aim.in_the_middle.contains(after, change):
        return "to the middle third of each tolerance"
    return "within the tolerance, off its middle"


def _order(proposal: Proposal, frame: Frame) -> float:
    """What cards are put in order by: their weight; for who told of strain the rise of swing weight first."""
    rise = proposal.prediction.change.swingweight_kgcm2
    if not strains_of(frame) or not rise:
        return proposal.found.added_g
    return 100 * max(round(rise.value, 1), 0.0) + proposal.found.added_g / 10


def strain_first(frame: Frame, form: TargetForm, units: Units) -> str:
    """What stands above the targets of a player who told of strain: what comes first, and in which steps."""
    if not (frame.client and frame.client.strain):
        return ""
    sentence = (
        f"{frame.player} reported pain ({frame.client.strain_text}). “{GOALS[GENTLER].label}” is a place to "
        "begin, and among plans the one that raises the swing weight least stands first. Pain is for a "
        "clinician, not for tape."
    )
    now, aimed = (form.now.swingweight_kgcm2, form.is_bound and form.is_valid() and form.target().bands)
    if not (now and aimed and SWING_WEIGHT.key in aimed):
        return sentence
    low, high = aimed[SWING_WEIGHT.key]
    steps = steps_text(now.value, (low + high) / 2, units)
    return f"{sentence} Your target is more than one step. {steps}" if steps else sentence


def unread(form: TargetForm, goal: Goal | None) -> str:
    """What was not measured, and what plans do without it; empty where all was."""
    missing = [spec for spec in READ if not form.now.of(spec)]
    if not missing:
        return ""
    counted = [spec.noun for spec in missing if spec is not BALANCE]
    found = f"Not measured: {get_text_list([spec.noun for spec in missing], 'and')}."
    if counted:
        found += (
            f" Type how far the {get_text_list(counted, 'or')} is to move, such as +5: that needs no reading."
        )
    if goal and BALANCE in missing and BALANCE.key in goal.shifts(form.frame.is_racket):
        found += f" “{goal.label}” includes the balance too. Measure it first, or plan without it."
    return found


@dataclass(frozen=True, slots=True)
class NoPlanView:
    """Why there is no plan, whether that is proven, and the nearest that was found, to be laid."""

    frame: Frame
    reasons: list[str]
    is_proven: bool
    nearest: list[str] = field(default_factory=list)
    nearest_specs: list[SpecRow] = field(default_factory=list)
    signed: str = ""


def no_plan_view(found: Match, frame: Frame, units: Units, aim: Target) -> NoPlanView:
    """A search that came to no plan as its card shows it."""
    why = NoPlanView(frame, reasons(found, frame, units), found.is_proven)
    if not found.nearest:
        return why
    prediction = predict(
        frame.measured,
        found.nearest,
        length_cm=frame.length_cm,
        axis_cm=frame.measured.axis_cm,
        outline=frame.outline,
    )
    return replace(
        why,
        nearest=[piece_text(piece, frame, units) for piece in found.nearest],
        nearest_specs=prediction_rows(prediction, frame, units),
        signed=carry(frame, "The nearest", found.nearest, aim),
    )


def reasons(found: Match, frame: Frame, units: Units) -> list[str]:
    """Why no plan reaches the target, in the person's units."""
    shown = {spec.key: spec for spec in shown_specs(units)}

    def written(name: str, value: float) -> str:
        spec = shown.get(name)
        if spec is None:  # the balance is told in points
            return points_text(points_headlight(value, frame.length_cm))
        return f"{spec.value(Estimate(value))} {spec.unit}"

    return [found.reason.sentence(written)] if found.reason else []


def coarse_readings(frame: Frame, aim: Target, units: Units) -> list[str]:
    """What to read again first: a reading that is less sure than its band is wide, a sentence each."""
    now = predict(frame.measured, [], length_cm=frame.length_cm, axis_cm=aim.axis_cm)
    shown = {spec.read_key: spec for spec in shown_specs(units)}
    found = []
    for name in too_coarse(now, aim.bands):
        spec, half = shown[name], (aim.bands[name][1] - aim.bands[name][0]) / 2
        us, halves = unsure_of(now, [name]), {name: half}
        _, times = coarsest(halves, us)
        found.append(
            f"The {AIMED_BY_KEY[name].noun} is read to {spec.spread(getattr(now.before, name))} {spec.unit}, "
            f"the band is ±{spec.width(half)}: no plan is surer than the reading. About {times} such "
            "readings would be fine enough."
        )
    return found
