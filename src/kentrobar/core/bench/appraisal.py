"""What a plan costs beside its weight: how much of it shows, what stays for good, time and money.

Times are the project's own estimates of careful work by one practised hand; a shop's own will differ.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final, NamedTuple

from kentrobar.core.editing.shelf import Stock
from kentrobar.core.editing.warnings import is_covered
from kentrobar.core.frame.outline import Outline
from kentrobar.core.quantities.estimates import NOT_MEASURED, Amount, NotMeasured
from kentrobar.core.weight.materials import Form, MaterialKind, Undo
from kentrobar.core.weight.piece_of_material import PieceOfMaterial
from kentrobar.core.weight.pieces.piece import Cover, Piece

MINUTES_A_STRIP: Final = 2.5  # clean, cut, lay, roll
MINUTES_A_PIECE: Final = 1.5  # weigh and press on
MINUTES_CAP: Final = 6.0  # cap off and on again
MINUTES_GRIP: Final = 8.0  # grip off and on again
MINUTES_BUMPER: Final = 25.0  # strings out, bumper off and on; stringing anew comes on top
MINUTES_TAKE_OFF: Final = 3.0


class Use(NamedTuple):
    """A piece with the material it is cut from, where it is of one."""

    piece: Piece
    stock: Stock | None = None

    @property
    def placed(self) -> PieceOfMaterial:
        """The piece as it lies, with the kind of its material."""
        return self.stock.placed(self.piece) if self.stock else PieceOfMaterial(self.piece)


class Appraisal(NamedTuple):
    """``visible`` counts strips and pieces in sight, ``looks`` says what these look like, where anybody noted it;
    ``money`` is not known where a price is missing."""

    visible: int
    looks: tuple[str, ...]
    lasting: int
    trial: int
    minutes: float
    money: Amount
    undo: str


def appraise(uses: Sequence[Use], outline: Outline) -> Appraisal:
    """What a plan of these pieces asks for."""
    placed = [use.placed for use in uses]
    undo = [each.facts.undo for each in placed if each.facts and not each.piece.removed]
    lasting = undo.count(Undo.LASTING)
    away = sum(each.piece.removed for each in placed)
    in_sight = [use for use in uses if is_seen(use.placed, placed, outline)]
    looks = dict.fromkeys(use.stock.look for use in in_sight if use.stock and use.stock.look)
    return Appraisal(
        visible=sum(use.piece.count for use in in_sight),
        looks=tuple(looks),
        lasting=lasting,
        trial=undo.count(Undo.TRIAL),
        minutes=_minutes(placed, outline),
        money=_money(uses),
        undo=_undo_sentence(lasting, away, is_cut=any(each.piece.source.deed.is_cut for each in placed)),
    )


def is_seen(placed: PieceOfMaterial, all_placed: Sequence[PieceOfMaterial], outline: Outline) -> bool:
    """Whether a piece shows on the finished frame."""
    if placed.piece.removed:
        return False
    if placed.kind is MaterialKind.EDGE_TAPE:
        return True
    if is_covered(placed.piece, all_placed, outline):
        return False
    return placed.piece.shows(outline, at_skin=bool(placed.facts and placed.facts.at_skin))


def _minutes(placed: Sequence[PieceOfMaterial], outline: Outline) -> float:
    added = [each for each in placed if not each.piece.removed]
    tapes = [each for each in added if each.facts and each.facts.form is Form.TAPE]
    strips = sum(each.piece.count for each in tapes)
    minutes = MINUTES_A_STRIP * strips + MINUTES_A_PIECE * (len(added) - len(tapes))
    minutes += MINUTES_TAKE_OFF * (len(placed) - len(added))
    covers = {each.piece.cover(outline) for each in placed}
    return minutes + sum(_OPENING.get(cover, 0.0) for cover in covers)


_OPENING: Final = {Cover.BUMPER: MINUTES_BUMPER, Cover.GRIP: MINUTES_GRIP, Cover.CAP: MINUTES_CAP}


def _money(uses: Sequence[Use]) -> Amount:
    total = 0.0
    for piece, stock in uses:
        if piece.removed:
            continue
        if stock is None or isinstance(stock.unit_price, NotMeasured):
            return NOT_MEASURED
        total += stock.amount_of(piece) * stock.unit_price
    return total


def _undo_sentence(lasting: int, away: int, *, is_cut: bool) -> str:
    if is_cut:
        return "Partly: what is cut stays short."
    if lasting and away:
        return "Partly: something stays for good, something was removed."
    if lasting:
        return "Partly: something stays for good."
    if away:
        return "Only by refitting what was removed: keep it."
    return "Completely: all of it comes off."
