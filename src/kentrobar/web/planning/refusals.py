"""Refused pieces and other objections: mended in one step, set aside, or heeded again."""

from __future__ import annotations

from kentrobar.core.errors import PieceError
from kentrobar.core.objections import Objection
from kentrobar.web.planning.board import Board, Standing
from kentrobar.web.planning.parameters import Hand, Parameters, read_number


class ObjectedError(PieceError):
    """A piece is refused at its place; it can be mended, or the rule set aside."""

    def __init__(self, objection: Objection) -> None:
        super().__init__(objection.message, code=objection.code, field="site")
        self.ways_out = [mend.label for mend in objection.mends]


def settled(board: Board, numbers: list[int], parameters: Parameters, hand: Hand) -> Board:
    """New pieces with what is refused mended or set aside as asked for.

    Raises:
        ObjectedError: a piece is refused and nothing was asked for.
    """
    overruled, mend = parameters.get("overrule", ""), parameters.get("mend", "")
    if overruled:
        for number in numbers:
            board = board.overruling(number, overruled, True)
    for standing in board.objections(hand.shelf()):
        refused = standing.objection.is_refusal and not standing.is_overruled
        if standing.number in numbers and refused:
            if not mend.isdecimal():
                raise ObjectedError(standing.objection)
            board = mended(board, standing, mend)
    return board


def mended(board: Board, standing: Standing, choice: str) -> Board:
    mends = standing.objection.mends
    if not (choice.isdecimal() and int(choice) < len(mends)):
        raise PieceError("This can no longer be mended so; look again.", code="no_mend")
    return board.replaced(standing.number, mends[int(choice)].pieces)


def mend(board: Board, parameters: Parameters, hand: Hand) -> tuple[Board, str]:
    """One of the ways out of an objection to a piece."""
    number, code = read_number(parameters), parameters.get("code", "")
    for standing in board.objections(hand.shelf()):
        if standing.number == number and standing.objection.code == code:
            board = mended(board, standing, parameters.get("mend", ""))
            return board, f"mended piece {number}"
    raise PieceError("Nothing speaks against this piece any more; look again.", code="no_objection")


def overrule(board: Board, parameters: Parameters, _hand: Hand) -> tuple[Board, str]:
    """Set a rule aside for a piece, or heed it again."""
    number, code = read_number(parameters), parameters.get("code", "")[:30]
    is_overruled = parameters.get("value") != "0"
    said = "set a rule aside for" if is_overruled else "heeded a rule again for"
    return board.overruling(number, code, is_overruled), f"{said} piece {number}"
