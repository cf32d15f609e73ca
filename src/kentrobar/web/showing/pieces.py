"""A piece in a person's words and units: where it lies, and what the hand at the bench needs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from django.utils.text import capfirst

from kentrobar.core.frame.outline import FACE_NAMES, Outline
from kentrobar.core.weight.pieces import Piece
from kentrobar.core.weight.pieces.piece import RemovalKind
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.numbers import Units


@dataclass(frozen=True, slots=True)
class CutWords:
    """What the hand at the bench needs: where in words, how far from the butt, length, how many."""

    where: str
    from_butt: str
    along_rim: str
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
        piece.along_rim(outline, ruler),
        ruler.text(piece.extent_cm) if piece.extent_cm else "–",
        piece.count,
    )


def positions(piece: Piece, outline: Outline, units: Units) -> list[tuple[str, str]]:
    """Where a piece goes, each way that a hand can find it: in words, along the rim, along the frame."""
    words = cut_words(piece, outline, units)
    found = [("", words.where), ("along rim", words.along_rim)]
    if words.from_butt:
        found.append(("from butt", f"{words.from_butt} {units.ruler}"))
    return [(label, text) for label, text in found if text]


def face_choices(outline: Outline) -> list[tuple[str, str]]:
    """The faces of a frame with their names, the usual one first."""
    return [(face.value, words) for face, words in FACE_NAMES[outline.sport].items()]


def is_of_fitting(piece: Piece) -> bool:
    """Whether a piece is what becomes of something fitted, which is not placed but cut or replaced."""
    return piece.removed or piece.source.deed is RemovalKind.EXCHANGE


def piece_text(piece: Piece, frame: Frame, units: Units) -> str:
    """A piece as it is cut and where it goes."""
    weight = f"{units.piece_mass_text(piece.total_mass_g)} {units.mass}"
    if is_of_fitting(piece):
        return _fitted_text(piece, weight, units)
    where = piece.where(frame.outline, units.bench_lengths)
    if piece.is_strip:
        return f"{piece.count} × {units.lengths.text(piece.extent_cm)}, {where}: {weight}"
    sides = ", half on either side" if piece.sides > 1 else ""
    return f"{piece.material}, {where}: {weight}{sides}"


def _fitted_text(piece: Piece, weight: str, units: Units) -> str:
    """What becomes of something that is fitted."""
    name, by = capfirst(piece.label), f"{weight} {'less' if piece.removed else 'more'}"
    match piece.source.deed:
        case RemovalKind.TRIM:
            return f"{name}: {units.bench_lengths.text(piece.extent_cm)} at each end, {by}"
        case RemovalKind.CUT:
            return f"{name}: {units.bench_lengths.text(piece.extent_cm)}, {by}"
        case RemovalKind.EXCHANGE:
            return f"{name}: {by}"
        case _:
            return f"{name} off: {by}"


def moved_text(pieces: Sequence[Piece], units: Units) -> tuple[str, str]:
    """How much a plan adds and removes: the number, and the words after it."""
    grams = {
        is_removed: sum(each.total_mass_g for each in pieces if each.removed is is_removed)
        for is_removed in (False, True)
    }
    added, removed = (units.piece_mass_text(grams[key]) for key in (False, True))
    if not grams[True]:
        return added, f"{units.mass} added"
    if not grams[False]:
        return removed, f"{units.mass} removed"
    return added, f"{units.mass} added, {removed} {units.mass} removed"
