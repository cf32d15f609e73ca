"""What a person can do on the board. Each action makes a new board and a line for its history."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from kentrobar.core import placing
from kentrobar.core.errors import PieceError, UnitError
from kentrobar.core.estimates import Estimate
from kentrobar.core.materials import Form
from kentrobar.core.pieces import Piece, RimStrip
from kentrobar.core.sites import FULL_EDGE, SITE_GROUPS
from kentrobar.web.planning.board import Board
from kentrobar.web.planning.completions import complete, round_strips, take_away
from kentrobar.web.planning.edits import edit
from kentrobar.web.planning.laying import (
    Order,
    lay,
    lay_all_round,
    site_at,
    site_on_rim,
    sites_named,
)
from kentrobar.web.planning.parameters import (
    Hand,
    Parameters,
    read_coordinate,
    read_face,
    read_flag,
    read_layers,
    read_length,
    read_mass,
    read_number,
    read_rim_minutes,
    read_tape_length,
    read_toward,
)
from kentrobar.web.planning.refusals import mend, overrule, settled

Action = Callable[[Board, Parameters, Hand], tuple[Board, str]]
LONGEST_NAME = 80


def act(board: Board, name: str, parameters: Parameters, hand: Hand) -> tuple[Board, str]:
    """Carry out the action ``name``; returns the new board and a line for its history.

    Raises:
        KentrobarError: an unknown action, a parameter that cannot be read, an impossible piece.
    """
    action = ACTIONS.get(name)
    if action is None:
        raise PieceError("The page asked for something unknown; reload it.", code="unknown_action")
    changed, summary = action(board, parameters, hand)
    _ = changed.prediction  # raises where a piece cannot lie where it is put
    return changed, summary


def _add(board: Board, parameters: Parameters, hand: Hand) -> tuple[Board, str]:
    material_id = parameters.get("material", "")
    if not material_id.isdecimal():
        raise PieceError("Choose a material first.", code="no_material", field="material")
    material = hand.material(int(material_id))
    amount = parameters.get("amount", "")
    is_tape = material.form is Form.TAPE
    order = Order(
        material,
        read_tape_length(amount, material, hand) if is_tape else read_mass(amount, hand, "amount"),
        read_face(parameters.get("face", ""), board),
        read_flag(parameters, "mirrored"),
        read_flag(parameters, "removed"),
        read_flag(parameters, "both_faces"),
        read_layers(parameters),
    )
    pieces, where = _ordered(order, board, parameters, hand)
    numbers = []
    for piece in pieces:
        board = board.added(piece, material.pk)
        numbers.append(board.pieces[-1].number)
    board = settled(board, numbers, parameters, hand)
    return board, f"laid {material.name} at {where}"


def _ordered(
    order: Order, board: Board, parameters: Parameters, hand: Hand
) -> tuple[list[Piece], str]:
    """The pieces of an order, at a named site, a group of them or where the hand points."""
    outline, key = board.outline, parameters.get("site", "")
    typed = parameters.get("at", "").strip()
    if typed:
        site = site_on_rim(outline, read_rim_minutes(typed, board, hand))
        return [lay(order, site, outline)], typed[:20]
    if not key:
        site = site_at(outline, read_coordinate(parameters, "x"), read_coordinate(parameters, "y"))
        return [lay(order, site, outline)], site.label
    balance = board.measured.balance_cm
    sites = sites_named(outline, key, balance.value if isinstance(balance, Estimate) else None)
    label = SITE_GROUPS[key][0] if key in SITE_GROUPS else sites[0].label
    if key == FULL_EDGE:
        return [lay_all_round(order, outline)], label
    pieces = [
        lay(replace(order, mirrored=order.mirrored and site.mirrored), site, outline)
        for site in sites
    ]
    return pieces, label


def _divide(board: Board, parameters: Parameters, _hand: Hand) -> tuple[Board, str]:
    """Cut a strip into equal parts that can be moved apart."""
    laid = board.find(read_number(parameters))
    if not isinstance(laid.piece, RimStrip):
        raise PieceError("Only a strip is divided.", code="no_strip", field="parts")
    text = parameters.get("parts", "")
    parts = placing.divided(laid.piece, board.outline, int(text) if text.isdecimal() else 0)
    return board.replaced(laid.number, parts), f"divided piece {laid.number} into {len(parts)}"


def _change(
    change: Callable[[Any, Board, Parameters], Any], verb: str
) -> Callable[[Board, Parameters, Hand], tuple[Board, str]]:
    """An action on the one piece that ``parameters`` names."""

    def action(board: Board, parameters: Parameters, _hand: Hand) -> tuple[Board, str]:
        laid = board.find(read_number(parameters))
        piece = change(laid.piece, board, parameters)
        return board.changed(laid.number, piece), f"{verb} piece {laid.number}"

    return action


_drag = _change(
    lambda piece, board, p: placing.dragged(
        piece, board.outline, read_coordinate(p, "x"), read_coordinate(p, "y")
    ),
    "moved",
)
_nudge = _change(
    lambda piece, board, p: placing.nudged(
        piece, board.outline, read_toward(p), abs(read_coordinate(p, "by_cm"))
    ),
    "moved",
)
_grow = _change(
    lambda piece, board, p: placing.grown(piece, board.outline, round(read_coordinate(p, "steps"))),
    "changed the amount of",
)
_mirror = _change(lambda piece, _board, _p: placing.mirror_toggled(piece), "mirrored")


def _delete(board: Board, parameters: Parameters, _hand: Hand) -> tuple[Board, str]:
    number = read_number(parameters)
    return board.without(number), f"removed piece {number}"


def _use_density(board: Board, parameters: Parameters, hand: Hand) -> tuple[Board, str]:
    """Take the shelf's present weight per length for every strip of that material."""
    material = hand.material(read_number(parameters, "material"))
    density = material.density
    for laid in board.pieces:
        if laid.material_id == material.pk and isinstance(laid.piece, RimStrip):
            board = board.changed(laid.number, replace(laid.piece, g_per_cm=density))
    return board, f"took the present weight of {material.name}"


def _set_axis(board: Board, parameters: Parameters, hand: Hand) -> tuple[Board, str]:
    axis_cm = read_length(parameters.get("value", ""), hand, "axis")
    if not -20 <= axis_cm < board.frame.length_cm:
        raise UnitError(
            "The swing axis lies across the handle; type its distance from the butt, such as 10 cm.",
            code="axis_beyond_frame",
            field="axis",
        )
    return replace(board, axis_cm=axis_cm), f"set the axis to {axis_cm:g} cm"


def _rename(board: Board, parameters: Parameters, _hand: Hand) -> tuple[Board, str]:
    name = parameters.get("value", "").strip()
    if not 0 < len(name) <= LONGEST_NAME:
        raise UnitError(
            f"A plan's name has 1 to {LONGEST_NAME} characters, this one {len(name)}.",
            code="bad_name",
            field="name",
        )
    return replace(board, name=name), "renamed the plan"


ACTIONS: dict[str, Action] = {
    "add": _add,
    "drag": _drag,
    "nudge": _nudge,
    "grow": _grow,
    "mirror": _mirror,
    "delete": _delete,
    "complete": complete,
    "divide": _divide,
    "mend": mend,
    "overrule": overrule,
    "round": round_strips,
    "take_away": take_away,
    "edit": edit,
    "use_density": _use_density,
    "axis": _set_axis,
    "rename": _rename,
}
