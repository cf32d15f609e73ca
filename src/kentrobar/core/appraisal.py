"""What a plan costs beside its weight: how much of it shows, what stays for good, time and money.

Times are the project's own estimates of careful work by one practised hand; a shop's own will differ.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final, NamedTuple

from kentrobar.core.materials import Form, MaterialKind, Undo
from kentrobar.core.objections import Laid, is_covered
from kentrobar.core.outline import Face, Outline
from kentrobar.core.pieces import (
    Piece,
    Plug,
    PointPiece,
    RimStrip,
    StringBed,
    count_of,
    total_mass_g,
)

MINUTES_A_STRIP: Final = 2.5  # clean, cut, lay, roll
MINUTES_A_PIECE: Final = 1.5  # weigh and press on
MINUTES_CAP: Final = 6.0  # cap off and on again
MINUTES_GRIP: Final = 8.0  # grip off and on again
MINUTES_BUMPER: Final = 25.0  # strings out, bumper off and on; stringing anew comes on top
MINUTES_TAKE_OFF: Final = 3.0


class Use(NamedTuple):
    """A piece with what one cm, g or piece of its material costs, and a tape's grams per cm."""

    laid: Laid
    unit_price: float | None = None
    g_per_cm: float = 0.0


class Appraisal(NamedTuple):
    """``visible`` counts strips and pieces in sight; ``money`` is None where a price is missing."""

    visible: int
    lasting: int
    trial: int
    minutes: float
    money: float | None
    undo: str


def appraise(uses: Sequence[Use], outline: Outline) -> Appraisal:
    """What a plan of these pieces asks for."""
    laid = [use.laid for use in uses]
    undo = [each.facts.undo for each in laid if each.facts and not each.piece.removed]
    lasting = undo.count(Undo.LASTING)
    away = sum(each.piece.removed for each in laid)
    return Appraisal(
        visible=sum(count_of(each.piece) for each in laid if is_seen(each, laid, outline)),
        lasting=lasting,
        trial=undo.count(Undo.TRIAL),
        minutes=_minutes(laid, outline),
        money=_money(uses),
        undo=_undo_sentence(lasting, away),
    )


def is_seen(laid: Laid, all_laid: Sequence[Laid], outline: Outline) -> bool:
    """Whether a piece shows on the finished frame."""
    piece = laid.piece
    if piece.removed or isinstance(piece, StringBed):
        return False
    if isinstance(piece, RimStrip):
        if laid.kind is MaterialKind.EDGE_TAPE:
            return True
        return piece.face is not Face.BUMPER and not is_covered(piece, all_laid, outline)
    if isinstance(piece, PointPiece):
        return piece.y_cm > outline.handle_length_cm
    return bool(laid.facts and laid.facts.at_skin)


def _minutes(laid: Sequence[Laid], outline: Outline) -> float:
    added = [each for each in laid if not each.piece.removed]
    tapes = [each for each in added if each.facts and each.facts.form is Form.TAPE]
    strips = sum(count_of(each.piece) for each in tapes)
    minutes = MINUTES_A_STRIP * strips + MINUTES_A_PIECE * (len(added) - len(tapes))
    minutes += MINUTES_TAKE_OFF * (len(laid) - len(added))
    places = {_opened(each.piece, outline) for each in laid}
    return minutes + sum(_OPENING.get(place, 0.0) for place in places)


_OPENING: Final = {"bumper": MINUTES_BUMPER, "grip": MINUTES_GRIP, "cap": MINUTES_CAP}


def _opened(piece: Piece, outline: Outline) -> str:
    """What must come off to reach a piece's place."""
    if isinstance(piece, RimStrip):
        return "bumper" if piece.face is Face.BUMPER else ""
    if isinstance(piece, StringBed):
        return ""
    if isinstance(piece, PointPiece):
        return "grip" if piece.y_cm <= outline.handle_length_cm else ""
    return "cap" if isinstance(piece, Plug) else "grip"


def _money(uses: Sequence[Use]) -> float | None:
    total = 0.0
    for use in uses:
        piece = use.laid.piece
        if piece.removed:
            continue
        if use.unit_price is None or use.laid.facts is None:
            return None
        total += amount_of(piece, use.laid.facts.form, use.g_per_cm) * use.unit_price
    return total


def amount_of(piece: Piece, form: Form, g_per_cm: float) -> float:
    """How much of its material a piece uses: cm of tape, g of putty, pieces of the rest."""
    if isinstance(piece, RimStrip):
        return piece.length_cm.value * count_of(piece)
    if form is Form.TAPE:
        return total_mass_g(piece) / g_per_cm if g_per_cm else 0.0
    return total_mass_g(piece) if form is Form.PUTTY else float(count_of(piece))


def _undo_sentence(lasting: int, away: int) -> str:
    if lasting and away:
        return "Not wholly: something stays for good, something was taken away."
    if lasting:
        return "Not wholly: something stays for good."
    if away:
        return "Only with what was taken away put back: keep it."
    return "Wholly: all of it comes off again."
