"""What can hurt someone, shown where the hand is. Local rules and licensed practice come first."""

from __future__ import annotations

from collections.abc import Iterable
from enum import StrEnum
from typing import Final

from kentrobar.core.laying.plan import LaidPlan
from kentrobar.core.laying.shelf import Shelf
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.weight.pieces.piece import Cover


class Strain(StrEnum):
    """Where a player told of pain or of an old injury."""

    ARM = "arm"
    ELBOW = "elbow"
    SHOULDER = "shoulder"
    WRIST = "wrist"


class Hazard(StrEnum):
    """What a material can do, or what a plan asks of a person."""

    LEAD = "lead"
    SHARP_METAL = "sharp_metal"
    HEAVIER_HEAD = "heavier_head"
    UNDER_BUMPER = "under_bumper"
    REMOVED_WEIGHT = "removed_weight"
    ADDED_WEIGHT = "added_weight"


CAUTIONS: Final[dict[Hazard, str]] = {
    Hazard.LEAD: (
        "Lead: wear gloves or use a roller, wash your hands after, keep it away from food and "
        "children, and never lay it under a grip where sweat comes through. Offcuts are hazardous "
        "waste: follow your local rules."
    ),
    Hazard.SHARP_METAL: (
        "Metal edges and blades cut: use a sharp blade, several shallow passes, away from your body."
    ),
    Hazard.HEAVIER_HEAD: (
        "A heavier head strains arm, elbow and shoulder more: go in small steps. Pain is for a "
        "clinician, not for tape."
    ),
    Hazard.UNDER_BUMPER: (
        "Lifting or trimming a bumper guard wears the frame and may void its warranty."
    ),
    Hazard.REMOVED_WEIGHT: (
        "Taking away weight the factory put there changes what the maker intended."
    ),
    Hazard.ADDED_WEIGHT: (
        "Whether weight is allowed, and where: check the current rules of the governing body and "
        "of the event."
    ),
}

HEAVIER_HEAD_KGCM2: Final = 3.0  # added swing weight from which the strain is worth a word


def hazards_of(plan: LaidPlan, shelf: Shelf) -> set[Hazard]:
    """What a plan asks care for."""
    used = [laid.facts for laid in plan.cut_from(shelf) if laid.facts]
    pieces = plan.pieces
    swing = plan.prediction.change.swingweight_kgcm2
    found = {
        Hazard.LEAD: any(facts.is_lead for facts in used),
        Hazard.SHARP_METAL: any(facts.is_metal for facts in used),
        Hazard.HEAVIER_HEAD: isinstance(swing, Estimate) and swing.value >= HEAVIER_HEAD_KGCM2,
        Hazard.UNDER_BUMPER: any(p.cover(plan.outline) is Cover.BUMPER for p in pieces),
        Hazard.REMOVED_WEIGHT: any(piece.removed for piece in pieces),
        Hazard.ADDED_WEIGHT: any(not piece.removed for piece in pieces),
    }
    return {hazard for hazard, is_present in found.items() if is_present}


def cautions_for(hazards: Iterable[Hazard]) -> list[str]:
    """The sentences for these hazards, each once, gravest first."""
    present = set(hazards)
    return [sentence for hazard, sentence in CAUTIONS.items() if hazard in present]
