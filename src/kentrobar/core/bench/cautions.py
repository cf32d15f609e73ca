"""What can hurt someone, shown where the hand is. Local rules and licensed practice come first."""

from __future__ import annotations

import math
from collections.abc import Collection, Iterable
from enum import StrEnum
from types import MappingProxyType
from typing import Final

from kentrobar.core.body.specs import SWING_WEIGHT, TWIST_WEIGHT
from kentrobar.core.body.sport import Sport
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.editing.shelf import Shelf
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
    Hazard.UNDER_BUMPER: ("Lifting or trimming a bumper guard wears the frame and may void its warranty."),
    Hazard.REMOVED_WEIGHT: ("Removing factory weight changes what the maker intended."),
    Hazard.ADDED_WEIGHT: (
        "Whether weight is allowed, and where: check the current rules of the governing body and "
        "of the event."
    ),
}

# The same for the card at the bench, where they stand above what is to be done and open at a tap.
SHORT: Final[dict[Hazard, str]] = {
    Hazard.LEAD: "Lead: gloves on, wash hands after.",
    Hazard.SHARP_METAL: "Blades cut: shallow passes, away from you.",
    Hazard.HEAVIER_HEAD: "Heavier head: go in small steps.",
    Hazard.UNDER_BUMPER: "Lifting the bumper wears the frame.",
    Hazard.REMOVED_WEIGHT: "Factory weight comes off here.",
    Hazard.ADDED_WEIGHT: "Check the rules of the event.",
}

# From which rise of swing or twist weight, as part of the frame's own, strain is worth a word: about twice
# what players feel at all; a quarter of it where they told of strain.
HEAVIER_PART: Final = 0.02
HEAVIER_TWIST_PART: Final = 0.06
WITH_STRAIN: Final = 0.25
USUAL_SWING_KGCM2: Final = MappingProxyType({Sport.TENNIS: 310.0, Sport.PICKLEBALL: 112.0})
WORTH_ASKING_G: Final = 2.0  # of added weight, from which the rules of play are worth a look


def heavier_parts(plan: PlanState) -> tuple[float, float]:
    """By which part swing weight and twist weight rise; what was never read counts as usual of the sport."""
    change, before = plan.prediction.change, plan.prediction.before
    parts = []
    for name, usual in (
        (SWING_WEIGHT.key, USUAL_SWING_KGCM2[plan.outline.sport]),
        (TWIST_WEIGHT.key, math.inf),
    ):
        by, was = getattr(change, name), getattr(before, name)
        known = was.or_else(usual)
        parts.append(by.value / known if by else 0.0)
    return parts[0], parts[1]


def is_heavier(plan: PlanState, strains: Collection[Strain] = ()) -> bool:
    """Whether a plan raises swing or twist weight by so much that arm and shoulder are worth a word."""
    swing, twist = heavier_parts(plan)
    factor = WITH_STRAIN if strains else 1.0
    return swing >= factor * HEAVIER_PART or twist >= factor * HEAVIER_TWIST_PART


def strain_sentence(plan: PlanState, strains: Collection[Strain], *, to_player: bool = False) -> str:
    """What stands on board and card of a player who told of strain; empty where the plan adds none."""
    if not strains or not is_heavier(plan, strains):
        return ""
    swing, twist = heavier_parts(plan)
    where = ", ".join(each.value for each in Strain if each in strains)
    rises = [f"the swing weight by {100 * swing:.1f} %"] if swing > 0 else []
    rises += [f"the twist weight by {100 * twist:.1f} %"] if twist > 0 else []
    who = "You" if to_player else "The player"
    return (
        f"{who} reported pain ({where}), and this raises {' and '.join(rises)}: go in smaller steps, "
        "weeks apart, and stop where it hurts. Pain is for a clinician, not for tape."
    )


def hazards_of(plan: PlanState, shelf: Shelf, strains: Collection[Strain] = ()) -> set[Hazard]:
    """What a plan asks care for, by what it does; ``strains`` are what the player told of."""
    used = [placed.facts for placed in plan.cut_from(shelf) if placed.facts]
    pieces = plan.pieces
    added_g = sum(piece.total_mass_g for piece in pieces if not piece.removed)
    found = {
        Hazard.LEAD: any(facts.is_lead for facts in used),
        Hazard.SHARP_METAL: any(facts.is_metal for facts in used),
        Hazard.HEAVIER_HEAD: is_heavier(plan, strains),
        Hazard.UNDER_BUMPER: any(p.cover(plan.outline) is Cover.BUMPER for p in pieces),
        Hazard.REMOVED_WEIGHT: any(piece.removed for piece in pieces),
        Hazard.ADDED_WEIGHT: added_g >= WORTH_ASKING_G,
    }
    return {hazard for hazard, is_present in found.items() if is_present}


def cautions_for(hazards: Iterable[Hazard]) -> list[str]:
    """The sentences for these hazards, each once, gravest first."""
    present = set(hazards)
    return [sentence for hazard, sentence in CAUTIONS.items() if hazard in present]


def short_cautions(hazards: Iterable[Hazard]) -> list[tuple[str, str]]:
    """The same, each in a few words and in full."""
    found = set(hazards)
    return [(SHORT[hazard], text) for hazard, text in CAUTIONS.items() if hazard in found]
