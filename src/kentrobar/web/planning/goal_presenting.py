"""A proposal as its card shows it, and why there is none, in a person's units."""

from __future__ import annotations

from typing import Any

from kentrobar.core.appraisal import Use, appraise
from kentrobar.core.estimates import Estimate
from kentrobar.core.matching import Match
from kentrobar.core.pieces import Piece, RimStrip, count_of, total_mass_g
from kentrobar.core.plans import Prediction
from kentrobar.core.proposals import LEAST, Proposal
from kentrobar.core.units import points_headlight
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.numbers import Units, points_text, shown_specs
from kentrobar.web.planning.board import laid_of
from kentrobar.web.planning.drawing import small_drawing
from kentrobar.web.planning.goal_forms import AimForm
from kentrobar.web.planning.wording import where_text


def card(proposal: Proposal, form: AimForm, frame: Frame, units: Units) -> dict[str, Any]:
    """What a plan lays, what it comes to, and what it costs."""
    uses = []
    for piece in proposal.pieces:
        material = form.material_of(piece)
        use = Use(laid_of(piece, material))
        if material:
            use = use._replace(unit_price=material.unit_price, g_per_cm=material.g_per_cm or 0.0)
        uses.append(use)
    found = appraise(uses, frame.outline)
    return {
        "key": proposal.key, "title": proposal.school.title, "reason": proposal.school.reason,
        "added": units.piece_mass_text(proposal.found.added_g), "unit": units.mass,
        "order": proposal.found.added_g, "places": repr(proposal.places),
        "proven": proposal.found.is_proven and proposal.key == LEAST, "appraisal": found,
        "minutes": f"{found.minutes:.0f}",
        "money": "" if found.money is None else f"{found.money:.2f}",
        "drawing": small_drawing(
            proposal.pieces, frame.outline, proposal.prediction.after.balance_cm,
            f"{proposal.school.title} on {frame.label}",
        ),
        "pieces": [piece_text(piece, frame, units) for piece in proposal.pieces],
        "specs": specs(proposal.prediction, units),
    }  # fmt: skip


def reasons(found: Match, frame: Frame, units: Units) -> list[str]:
    """Why no plan reaches the target, in the person's units."""
    shown = {spec.key: spec for spec in shown_specs(units)}

    def written(name: str, value: float) -> str:
        spec = shown.get(name)
        if spec is None:  # the balance is told in points
            return points_text(points_headlight(value, frame.length_cm))
        return f"{spec.value(Estimate(value))} {spec.unit}"

    return [found.reason.sentence(written)] if found.reason else []


def specs(prediction: Prediction, units: Units) -> list[dict[str, str]]:
    """Each spec with its ± and its change."""
    return [spec.told(prediction.after, prediction.change) for spec in shown_specs(units)]


def piece_text(piece: Piece, frame: Frame, units: Units) -> str:
    """A piece as it is cut and where it goes."""
    weight = f"{units.piece_mass_text(total_mass_g(piece))} {units.mass}"
    if piece.removed:
        return f"{piece.label} off: {weight} less"
    if isinstance(piece, RimStrip):
        length = f"{units.length_text(piece.length_cm.value)} {units.length}"
        where = where_text(piece, frame.outline, units)
        return f"{count_of(piece)} × {length}, {where}: {weight}"
    sides = ", half on either side" if getattr(piece, "mirrored", False) else ""
    return f"{piece.material}, {where_text(piece, frame.outline, units)}: {weight}{sides}"
