"""What a player is told when a frame goes home: how to keep it, whom to tell what, how to undo it.

Plain words for somebody who owns no machine; each sentence stands only where what lies on the frame calls
for it.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import Final, NamedTuple

from kentrobar.core.bench.cautions import Hazard
from kentrobar.core.frame.outline import Outline
from kentrobar.core.weight.materials import Form, Undo
from kentrobar.core.weight.piece_of_material import PieceOfMaterial
from kentrobar.core.weight.pieces import Piece
from kentrobar.core.weight.pieces.piece import Cover, effect_of

PLAYERS_CAUTIONS: Final = {
    Hazard.LEAD: (
        "There is lead on this frame: keep it out of children's hands and mouths, wash your hands after "
        "touching the tape, and bring the frame back if the tape comes loose. Lead is hazardous waste."
    ),
    Hazard.SHARP_METAL: "Edges of metal tape cut: do not pull at a strip with bare fingers.",
    Hazard.HEAVIER_HEAD: (
        "It swings heavier than before: begin with short sessions. If arm, elbow or shoulder hurts, stop; "
        "pain is for a clinician."
    ),
    Hazard.UNDER_BUMPER: "The bumper guard was lifted or trimmed; the maker's warranty may have ended.",
    Hazard.ADDED_WEIGHT: (
        "Before an event, ask whether added weight is allowed, and where: its current rules say so."
    ),
}


def players_cautions(hazards: Collection[Hazard]) -> list[str]:
    """The sentences that concern who plays with it, gravest first."""
    return [text for hazard, text in PLAYERS_CAUTIONS.items() if hazard in hazards]


def how_to_keep(placed: Sequence[PieceOfMaterial], outline: Outline) -> list[str]:
    """How to keep it as it is."""
    facts = [each.facts for each in placed if each.facts and not each.piece.removed]
    found = ["Do not leave it in a hot car: heat softens tape, putty and glue."]
    if any(each.form is Form.TAPE for each in facts):
        found.append(
            "Wipe it dry after play. If the end of a strip lifts, press it down or have it replaced."
        )
    if _under(Cover.CAP, placed, outline) or any(each.form is Form.PUTTY for each in facts):
        found.append("If something rattles in the handle, do not play on: bring it.")
    return found


def note_to_stringer(placed: Sequence[PieceOfMaterial], outline: Outline) -> list[str]:
    """What whoever restrings it must know; nothing where nothing is in the way."""
    found = []
    if _under(Cover.BUMPER, placed, outline):
        found.append(
            "There is weight under the bumper guard: if it comes off, put everything back in its place."
        )
    strips = [e for e in placed if e.piece.is_strip and not e.piece.removed]
    if strips and not _under(Cover.BUMPER, placed, outline):
        found.append("There are strips along the rim: no clamp on them, no new tape over them.")
    if placed:
        found.append("String it as it is now: another gauge or material changes weight and balance.")
    return found


def ask_before(is_racket: bool) -> list[str]:
    """What changes the specs, so that a player asks before doing it."""
    common = ["a thicker or a second overgrip", "another grip or butt cap", "tape or weight of your own"]
    own = "other strings, or a dampener on or off" if is_racket else "other edge tape"
    return [*common, own]


class UndoStep(NamedTuple):
    """One piece that comes off again: what to do, and by how much weight and swing weight then change."""

    piece: Piece
    how: str
    mass_g: float
    swingweight_kgcm2: float


_HOW: Final = {Undo.CLEAN: "comes off clean", Undo.LASTING: "stays for good", Undo.TRIAL: "clips off"}
_REACH: Final = {
    Cover.BUMPER: "lift the bumper guard first",
    Cover.GRIP: "take the grip off first",
    Cover.CAP: "open the butt cap first",
    Cover.STRINGS: "cut the strings out first",
}


def undo_steps(placed: Sequence[PieceOfMaterial], outline: Outline, axis_cm: float) -> list[UndoStep]:
    """How to undo it piece by piece, the last one laid first; what was taken away goes back on."""
    return [_undo(each, outline, axis_cm) for each in reversed(placed)]


def _undo(placed: PieceOfMaterial, outline: Outline, axis_cm: float) -> UndoStep:
    piece, moments = placed.piece, effect_of(placed.piece, outline).moments
    if piece.removed:
        how = "put it back"
    else:
        kept = _HOW[placed.facts.undo] if placed.facts else "comes off"
        reach = _REACH.get(piece.cover(outline))
        how = f"{reach}; it {kept}" if reach else kept
    return UndoStep(piece, how, -moments.mass, -moments.swingweight_kgcm2(axis_cm))


def _under(cover: Cover, placed: Sequence[PieceOfMaterial], outline: Outline) -> bool:
    return any(each.piece.cover(outline) is cover and not each.piece.removed for each in placed)
