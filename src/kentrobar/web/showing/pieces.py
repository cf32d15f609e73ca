"""A piece in a person's words and units: where it lies, and what the hand at the bench needs."""

from __future__ import annotations

from dataclasses import dataclass

from kentrobar.core.frame.outline import FACE_NAMES, Outline
from kentrobar.core.weight.pieces import Piece
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.numbers import Units


@dataclass(frozen=True, slots=True)
class CutWords:
    """What the hand at the bench needs: where in words, how far from the butt, length, how many."""

    where: str
    from_butt: str
    cut_length: str
    count: int


def cut_words(piece: Piece, outline: Outline, units: Units) -> CutWords:
    """A piece as it is cut and laid."""
    ruler = units.bench_lengths
    start, end = piece.ends(outline)
    reach = ruler.number(start)
    if end != start:
        reach += f" to {ruler.number(end)}"
    return CutWords(
        piece.where(outline, ruler),
        reach if piece.has_place else "",
        ruler.text(piece.extent_cm) if piece.extent_cm else "–",
        piece.count,
    )


def face_choices(outline: Outline) -> list[tuple[str, str]]:
    """The faces of a frame with their names, the usual one first."""
    return [(face.value, words) for face, words in FACE_NAMES[outline.sport].items()]


def piece_text(piece: Piece, frame: Frame, units: Units) -> str:
    """A piece as it is cut and where it goes."""
    weight = f"{units.piece_mass_text(piece.total_mass_g)} {units.mass}"
    if piece.removed:
        return f"{piece.label} off: {weight} less"
    where = piece.where(frame.outline, units.bench_lengths)
    if piece.is_strip:
        return f"{piece.count} × {units.lengths.text(piece.extent_cm)}, {where}: {weight}"
    sides = ", half on either side" if piece.sides > 1 else ""
    return f"{piece.material}, {where}: {weight}{sides}"
