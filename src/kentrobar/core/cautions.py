"""What can hurt someone, shown where the hand is. Local rules and licensed practice come first."""

from __future__ import annotations

from collections.abc import Iterable
from enum import StrEnum
from typing import Final


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


def cautions_for(hazards: Iterable[Hazard]) -> list[str]:
    """The sentences for these hazards, each once, gravest first."""
    present = set(hazards)
    return [sentence for hazard, sentence in CAUTIONS.items() if hazard in present]
