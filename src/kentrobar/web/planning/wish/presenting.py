"""A proposal as its card shows it, and why there is none, in a person's units."""

from __future__ import annotations

from typing import Any

from kentrobar.core.bench.appraisal import Use, appraise
from kentrobar.core.body.specs import AIMED_BY_KEY, SWING_WEIGHT
from kentrobar.core.body.target import Target
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.quantities.estimates import Estimate, NotMeasured
from kentrobar.core.quantities.units import points_headlight
from kentrobar.core.solving.goals import GENTLER, GOALS
from kentrobar.core.solving.matching import Match
from kentrobar.core.solving.most_reliable import coarsest
from kentrobar.core.solving.proposals import LEAST, Proposal, too_coarse, unsure_of
from kentrobar.core.weight.pieces import Piece
from kentrobar.core.weight.prediction import Prediction, predict
from kentrobar.web.frames.baselines import strains_of
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.numbers import Units, chance_text, points_text, price_text, shown_specs
from kentrobar.web.kit.spec_rows import SpecRow, cell_of, row_of
from kentrobar.web.planning.showing.drawing import small_drawing
from kentrobar.web.planning.showing.strain import steps_told
from kentrobar.web.planning.wish.forms import TargetForm
from kentrobar.web.planning.wish.signed_proposal import carry


def card(proposal: Proposal, shelf: Shelf, frame: Frame, units: Units, aim: Target) -> dict[str, Any]:
    """What a plan lays, what it comes to and how surely, what it costs, and the plan itself to be laid."""
    found = appraise([Use(piece, shelf.of(piece)) for piece in proposal.pieces], frame.outline)
    title = proposal.title
    return {
        "key": proposal.key,
        "title": title,
        "reason": proposal.reason,
        "chance": chance_text(proposal.chance),
        "added": units.piece_mass_text(proposal.found.added_g),
        "unit": units.mass,
        "order": _order(proposal, frame),
        "places": repr(proposal.places),
        "proven": proposal.found.is_proven and proposal.key == LEAST,
        "appraisal": found,
        "minutes": f"{found.minutes:.0f}",
        "money": "" if isinstance(found.money, NotMeasured) else price_text(found.money, frame.shop.currency),
        "drawing": small_drawing(
            proposal.pieces, frame.outline, proposal.prediction.after.balance_cm, f"{title} on {frame.label}"
        ),
        "pieces": [piece_text(piece, frame, units) for piece in proposal.pieces],
        "specs": specs(proposal.prediction, frame, units),
        "carried": carry(frame, title, proposal.pieces, aim),
    }


def _order(proposal: Proposal, frame: Frame) -> float:
    """What cards are put in order by: their weight; for who told of strain the rise of swing weight first."""
    rise = proposal.prediction.change.swingweight_kgcm2
    if not strains_of(frame) or not rise:
        return proposal.found.added_g
    return 100 * max(round(rise.value, 1), 0.0) + proposal.found.added_g / 10


def wish_strain(frame: Frame, form: TargetForm, units: Units) -> str:
    """What stands above the targets of a player who told of strain: what comes first, and in which steps."""
    if not (frame.client and frame.client.strain):
        return ""
    told = (
        f"{frame.player} told of strain ({frame.client.strain_text}). “{GOALS[GENTLER].label}” is a place to "
        "begin, and among plans the one that raises the swing weight least stands first. Pain is for a "
        "clinician, not for tape."
    )
    now, aimed = (form.now.swingweight_kgcm2, form.is_bound and form.is_valid() and form.target().bands)
    if not (now and aimed and SWING_WEIGHT.key in aimed):
        return told
    low, high = aimed[SWING_WEIGHT.key]
    steps = steps_told(now.value, (low + high) / 2, units)
    return f"{told} What you typed is more than one step. {steps}" if steps else told


def no_plan(found: Match, frame: Frame, units: Units, aim: Target) -> dict[str, Any]:
    """Why there is none, and the nearest that was found, to be laid."""
    context: dict[str, Any] = {"reasons": reasons(found, frame, units), "found": found}
    if not found.nearest:
        return context
    prediction = predict(
        frame.measured,
        found.nearest,
        length_cm=frame.length_cm,
        axis_cm=frame.measured.axis_cm,
        outline=frame.outline,
    )
    return context | {
        "nearest": [piece_text(piece, frame, units) for piece in found.nearest],
        "nearest_specs": specs(prediction, frame, units),
        "carried": carry(frame, "The nearest", found.nearest, aim),
    }


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


def specs(prediction: Prediction, frame: Frame, units: Units) -> list[SpecRow]:
    """Each spec with its ± and its change."""
    in_percent = units.tells_percent(frame.is_racket)
    return [
        row_of(spec, cell_of(spec, None, prediction.after, prediction.change, units, in_percent=in_percent))
        for spec in shown_specs(units)
    ]


def piece_text(piece: Piece, frame: Frame, units: Units) -> str:
    """A piece as it is cut and where it goes."""
    weight = f"{units.piece_mass_text(piece.total_mass_g)} {units.mass}"
    if piece.removed:
        return f"{piece.label} off: {weight} less"
    where = piece.where(frame.outline, units.bench_lengths)
    if piece.is_strip:
        return f"{piece.count} × {units.lengths.told(piece.extent_cm)}, {where}: {weight}"
    sides = ", half on either side" if piece.sides > 1 else ""
    return f"{piece.material}, {where}: {weight}{sides}"
