"""The fields of the table of pieces: each makes a changed piece of what is typed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from kentrobar.core import placing
from kentrobar.core.errors import KentrobarError, PieceError
from kentrobar.core.estimates import Estimate
from kentrobar.core.outline import parse_clock
from kentrobar.core.pieces import ClockPlace, PointPiece, RimStrip, StringBed
from kentrobar.core.units import LINE_DENSITY
from kentrobar.web.planning.board import Board
from kentrobar.web.planning.parameters import (
    Hand,
    Parameters,
    read_face,
    read_layers,
    read_length,
    read_mass,
    read_number,
    read_quantity,
)


def edit(board: Board, parameters: Parameters, hand: Hand) -> tuple[Board, str]:
    """One field of the table of pieces."""
    laid = board.find(read_number(parameters))
    field, text = parameters.get("field", ""), parameters.get("value", "").strip()
    edit = EDITS.get(field)
    if edit is None:
        raise PieceError("The page asked for something unknown; reload it.", code="unknown_field")
    try:
        piece = edit(laid.piece, text, board, hand)
        changed = board.changed(laid.number, piece)
        _ = changed.prediction
    except KentrobarError as error:
        raise PieceError(error.message, code=error.code, field=field) from None
    return changed, f"changed {field} of piece {laid.number}"


def _edit_place(piece: Any, text: str, board: Board, hand: Hand) -> Any:
    if isinstance(piece, StringBed):
        raise PieceError("Strings lie where they are strung; change their weight.", code="no_place")
    if not isinstance(piece, RimStrip):
        if not isinstance(piece, PointPiece):
            half = (piece.to_cm - piece.from_cm) / 2
            start = read_length(text, hand, "place") - half
            return replace(piece, from_cm=round(start, 3), to_cm=round(start + 2 * half, 3))
        return replace(piece, y_cm=read_length(text, hand, "place"))
    if ":" in text:
        return replace(piece, at=ClockPlace(parse_clock(text)))
    line = board.outline.rim(piece.face)
    s = line.at_y(read_length(text, hand, "place"))
    on_left = line.wrap(piece.at.arc_length(line)) < 0
    return replace(piece, at=placing.clock_place(line, -s if on_left else s))


def _edit_length(piece: Any, text: str, _board: Board, hand: Hand) -> Any:
    length = read_length(text, hand, "length")
    if isinstance(piece, RimStrip):
        return replace(piece, length_cm=piece.length_cm._replace(value=length))
    if isinstance(piece, PointPiece | StringBed):
        raise PieceError("A compact piece has no length; change its weight.", code="no_length")
    middle = (piece.from_cm + piece.to_cm) / 2
    return replace(piece, from_cm=middle - length / 2, to_cm=middle + length / 2)


def _edit_mass(piece: Any, text: str, _board: Board, hand: Hand) -> Any:
    mass = read_mass(text, hand, "mass")
    if isinstance(piece, RimStrip) and isinstance(piece.g_per_cm, Estimate):
        if not mass > 0:
            raise PieceError(
                "A piece weighs more than 0; to take weight away, tick “taken away”.",
                code="impossible_mass",
            )
        return replace(piece, length_cm=piece.length_cm._replace(value=mass / piece.g_per_cm.value))
    return replace(piece, mass_g=piece.mass_g._replace(value=mass))


def _edit_density(piece: Any, text: str, _board: Board, hand: Hand) -> Any:
    density = read_quantity(text, LINE_DENSITY, hand.units.line_density, "density")
    old = piece.g_per_cm
    relative = old.u / old.value
    return replace(piece, g_per_cm=Estimate(density, density * relative))


def _edit_face(piece: Any, text: str, board: Board, _hand: Hand) -> Any:
    return replace(piece, face=read_face(text, board))


def _edit_layers(piece: Any, text: str, _board: Board, _hand: Hand) -> Any:
    return replace(piece, layers=read_layers({"layers": text}))


def _edit_gap(piece: Any, text: str, _board: Board, hand: Hand) -> Any:
    return replace(piece, gap_cm=read_length(text, hand, "gap"))


def _flag(name: str) -> Callable[[Any, str, Board, Hand], Any]:
    return lambda piece, text, _board, _hand: replace(piece, **{name: text == "1"})


EDITS: dict[str, Callable[[Any, str, Board, Hand], Any]] = {
    "place": _edit_place,
    "length": _edit_length,
    "mass": _edit_mass,
    "density": _edit_density,
    "face": _edit_face,
    "gap": _edit_gap,
    "layers": _edit_layers,
    "mirrored": _flag("mirrored"),
    "both_faces": _flag("both_faces"),
    "removed": _flag("removed"),
}
