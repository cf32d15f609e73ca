"""What a person can do on the board. Each action makes a new board and a line for its history.

An action takes the board and the parameters as they came from the page; what cannot be read
raises an error of the core with the field's name and a sentence for the person.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from kentrobar.core import placing
from kentrobar.core.errors import KentrobarError, PieceError, UnitError
from kentrobar.core.estimates import Estimate
from kentrobar.core.outline import Face, parse_clock
from kentrobar.core.pieces import ClockPlace, PointPiece, RimStrip
from kentrobar.core.units import LENGTH, LINE_DENSITY, MASS, Dimension, parse_quantity
from kentrobar.web.kit.numbers import Units
from kentrobar.web.materials.models import Material
from kentrobar.web.planning.board import Board
from kentrobar.web.planning.laying import Order, default_face, density_of, lay, site_at, site_named

Parameters = Mapping[str, str]


@dataclass(frozen=True)
class Hand:
    """Who acts: the units they type in and the shelf they take from (asked only when needed)."""

    units: Units
    material: Callable[[int], Material]


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


# -- reading parameters -----------------------------------------------------------------


def _coordinate(parameters: Parameters, name: str) -> float:
    try:
        value = float(parameters.get(name, ""))
    except ValueError:
        value = float("nan")
    if not abs(value) <= 200:
        raise PieceError("The page sent a place that is not one; reload it.", code="bad_place")
    return value


def _number_of(parameters: Parameters) -> int:
    text = parameters.get("piece", "")
    return int(text) if text.isdecimal() and len(text) < 9 else 0


def _typed(text: str, dimension: Dimension, unit: str, field: str) -> float:
    """A typed quantity in the base unit; errors name ``field``."""
    try:
        value, unit = parse_quantity(text, dimension, unit)
    except UnitError as error:
        raise UnitError(error.message, code=error.code, field=field) from None
    return dimension.to_base(value, unit)


def _length(text: str, hand: Hand, field: str) -> float:
    return _typed(text, LENGTH, hand.units.length, field)


def _mass(text: str, hand: Hand, field: str) -> float:
    return _typed(text, MASS, hand.units.mass, field)


def _toward(parameters: Parameters) -> placing.Toward:
    try:
        return placing.Toward(parameters.get("toward", ""))
    except ValueError:
        raise PieceError(
            "The page sent a direction that is not one; reload it.", code="bad_direction"
        ) from None


def _yes(parameters: Parameters, name: str) -> bool:
    return parameters.get(name) in ("1", "true", "on")


def _face(text: str, board: Board) -> Face:
    try:
        face = Face(text) if text else default_face(board.outline)
    except ValueError:
        raise PieceError("Choose a face of the list.", code="no_such_face", field="face") from None
    board.outline.rim(face)
    return face


# -- the actions --------------------------------------------------------------------------


def _add(board: Board, parameters: Parameters, hand: Hand) -> tuple[Board, str]:
    material_id = parameters.get("material", "")
    if not material_id.isdecimal():
        raise PieceError("Choose a material first.", code="no_material", field="material")
    material = hand.material(int(material_id))
    read = _length if material.form == Material.Form.TAPE else _mass
    order = Order(
        material,
        read(parameters.get("amount", ""), hand, "amount"),
        _face(parameters.get("face", ""), board),
        _yes(parameters, "mirrored"),
        _yes(parameters, "removed"),
    )
    if parameters.get("site"):
        site = site_named(board.outline, parameters["site"])
        order = replace(order, mirrored=order.mirrored and site.mirrored)
    else:
        site = site_at(board.outline, _coordinate(parameters, "x"), _coordinate(parameters, "y"))
    piece = lay(order, site, board.outline)
    return board.added(piece, material.pk), f"laid {material.name} at {site.label}"


def _change(
    change: Callable[[Any, Board, Parameters], Any], verb: str
) -> Callable[[Board, Parameters, Hand], tuple[Board, str]]:
    """An action on the one piece that ``parameters`` names."""

    def action(board: Board, parameters: Parameters, _hand: Hand) -> tuple[Board, str]:
        laid = board.find(_number_of(parameters))
        piece = change(laid.piece, board, parameters)
        return board.changed(laid.number, piece), f"{verb} piece {laid.number}"

    return action


_drag = _change(
    lambda piece, board, p: placing.dragged(
        piece, board.outline, _coordinate(p, "x"), _coordinate(p, "y")
    ),
    "moved",
)
_nudge = _change(
    lambda piece, board, p: placing.nudged(
        piece, board.outline, _toward(p), abs(_coordinate(p, "by_cm"))
    ),
    "moved",
)
_grow = _change(
    lambda piece, board, p: placing.grown(piece, board.outline, round(_coordinate(p, "steps"))),
    "changed the amount of",
)
_mirror = _change(lambda piece, _board, _p: placing.mirror_toggled(piece), "mirrored")


def _delete(board: Board, parameters: Parameters, _hand: Hand) -> tuple[Board, str]:
    number = _number_of(parameters)
    return board.without(number), f"removed piece {number}"


def _edit(board: Board, parameters: Parameters, hand: Hand) -> tuple[Board, str]:
    """One field of the table of pieces."""
    laid = board.find(_number_of(parameters))
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
    if not isinstance(piece, RimStrip):
        if not isinstance(piece, PointPiece):
            half = (piece.to_cm - piece.from_cm) / 2
            start = _length(text, hand, "place") - half
            return replace(piece, from_cm=round(start, 3), to_cm=round(start + 2 * half, 3))
        return replace(piece, y_cm=_length(text, hand, "place"))
    if ":" in text:
        return replace(piece, at=ClockPlace(parse_clock(text)))
    line = board.outline.rim(piece.face)
    s = line.at_y(_length(text, hand, "place"))
    on_left = line.wrap(piece.at.arc_length(line)) < 0
    return replace(piece, at=placing.clock_place(line, -s if on_left else s))


def _edit_length(piece: Any, text: str, _board: Board, hand: Hand) -> Any:
    length = _length(text, hand, "length")
    if isinstance(piece, RimStrip):
        return replace(piece, length_cm=piece.length_cm._replace(value=length))
    if isinstance(piece, PointPiece):
        raise PieceError("A compact piece has no length; change its weight.", code="no_length")
    middle = (piece.from_cm + piece.to_cm) / 2
    return replace(piece, from_cm=middle - length / 2, to_cm=middle + length / 2)


def _edit_mass(piece: Any, text: str, _board: Board, hand: Hand) -> Any:
    mass = _mass(text, hand, "mass")
    if isinstance(piece, RimStrip) and isinstance(piece.g_per_cm, Estimate):
        if not mass > 0:
            raise PieceError(
                "A piece weighs more than 0; to take weight away, tick “taken away”.",
                code="impossible_mass",
            )
        return replace(piece, length_cm=piece.length_cm._replace(value=mass / piece.g_per_cm.value))
    return replace(piece, mass_g=piece.mass_g._replace(value=mass))


def _edit_density(piece: Any, text: str, _board: Board, _hand: Hand) -> Any:
    density = _typed(text, LINE_DENSITY, "g/cm", "density")
    old = piece.g_per_cm
    relative = old.u / old.value
    return replace(piece, g_per_cm=Estimate(density, density * relative))


def _edit_face(piece: Any, text: str, board: Board, _hand: Hand) -> Any:
    return replace(piece, face=_face(text, board))


def _edit_gap(piece: Any, text: str, _board: Board, hand: Hand) -> Any:
    return replace(piece, gap_cm=_length(text, hand, "gap"))


def _flag(name: str) -> Callable[[Any, str, Board, Hand], Any]:
    return lambda piece, text, _board, _hand: replace(piece, **{name: text == "1"})


EDITS: dict[str, Callable[[Any, str, Board, Hand], Any]] = {
    "place": _edit_place,
    "length": _edit_length,
    "mass": _edit_mass,
    "density": _edit_density,
    "face": _edit_face,
    "gap": _edit_gap,
    "mirrored": _flag("mirrored"),
    "both_faces": _flag("both_faces"),
    "removed": _flag("removed"),
}


def _use_density(board: Board, parameters: Parameters, hand: Hand) -> tuple[Board, str]:
    """Take the shelf's present weight per length for every strip of that material."""
    material = hand.material(_number_of({"piece": parameters.get("material", "")}))
    density = density_of(material)
    for laid in board.pieces:
        if laid.material_id == material.pk and isinstance(laid.piece, RimStrip):
            board = board.changed(laid.number, replace(laid.piece, g_per_cm=density))
    return board, f"took the present weight of {material.name}"


def _set_axis(board: Board, parameters: Parameters, hand: Hand) -> tuple[Board, str]:
    axis_cm = _length(parameters.get("value", ""), hand, "axis")
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
    "edit": _edit,
    "use_density": _use_density,
    "axis": _set_axis,
    "rename": _rename,
}
