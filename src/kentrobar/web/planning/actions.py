"""What a person can do on the board. Each action makes a new board and a line for its history.

An action takes the board and the parameters as they came from the page; what cannot be read
raises an error of the core with the field's name and a sentence for the person.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from kentrobar.core import completing, placing, taking_away
from kentrobar.core.errors import KentrobarError, PieceError, UnitError
from kentrobar.core.estimates import Estimate
from kentrobar.core.materials import Form, MaterialKind
from kentrobar.core.objections import Objection
from kentrobar.core.outline import Face, Outline, parse_clock
from kentrobar.core.pieces import WEIGHED_U_G, ClockPlace, Piece, PointPiece, RimStrip, StringBed
from kentrobar.core.sites import FULL_EDGE, SITE_GROUPS, Site, shaft_at
from kentrobar.core.units import LENGTH, LINE_DENSITY, MASS, Dimension, parse_quantity
from kentrobar.web.frames.builds import worn_now
from kentrobar.web.kit.numbers import Units
from kentrobar.web.materials.models import Material
from kentrobar.web.planning.board import Board, Standing
from kentrobar.web.planning.laying import (
    ON_AXIS_CM,
    Order,
    default_face,
    lay,
    lay_all_round,
    site_at,
    sites_named,
)

Parameters = Mapping[str, str]


@dataclass(frozen=True)
class Hand:
    """Who acts: the units they type in and the shelf they take from (asked only when needed)."""

    units: Units
    shelf: Callable[[], Mapping[int, Material]]

    def material(self, pk: int) -> Material:
        """One material of the shelf; raises PieceError where it is not there."""
        found = self.shelf().get(pk)
        if found is None:
            raise PieceError(
                "This material is not on your shelf; choose another.", code="no_material"
            )
        return found

    def kinds(self) -> dict[int, MaterialKind]:
        return {pk: MaterialKind(material.kind) for pk, material in self.shelf().items()}


Action = Callable[[Board, Parameters, Hand], tuple[Board, str]]
LONGEST_NAME = 80
HANDLE_STRIP_CM = 8.0


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


class ObjectedError(PieceError):
    """A piece is refused at its place; it can be mended, or the rule set aside."""

    def __init__(self, objection: Objection) -> None:
        super().__init__(objection.message, code=objection.code, field="site")
        self.ways_out = [mend.label for mend in objection.mends]


_PARTS = re.compile(r"^(?P<whole>.*[a-z\"])\s*/\s*(?P<parts>\d{1,2})$", re.IGNORECASE)


def _tape_length(text: str, material: Material, hand: Hand) -> float:
    """A typed length of tape; "8 in / 4" and "strip / 4" are parts of it."""
    divided = _PARTS.match(text.strip())
    whole, parts = (divided["whole"], int(divided["parts"]) or 1) if divided else (text, 1)
    if whole.strip().lower() == "strip":
        if not material.sold_amount:
            raise PieceError(
                f"Nobody has said how long {material.name} is sold; type the length in cm or in.",
                code="no_strip_length",
                field="amount",
            )
        return material.sold_amount / parts
    return _length(whole, hand, "amount") / parts


def _layers(parameters: Parameters) -> int:
    text = parameters.get("layers", "") or "1"
    return int(text) if text.isdecimal() and len(text) < 3 else 0


def _add(board: Board, parameters: Parameters, hand: Hand) -> tuple[Board, str]:
    material_id = parameters.get("material", "")
    if not material_id.isdecimal():
        raise PieceError("Choose a material first.", code="no_material", field="material")
    material = hand.material(int(material_id))
    amount = parameters.get("amount", "")
    is_tape = material.form is Form.TAPE
    order = Order(
        material,
        _tape_length(amount, material, hand) if is_tape else _mass(amount, hand, "amount"),
        _face(parameters.get("face", ""), board),
        _yes(parameters, "mirrored"),
        _yes(parameters, "removed"),
        _yes(parameters, "both_faces"),
        _layers(parameters),
    )
    pieces, where = _ordered(order, board, parameters)
    numbers = []
    for piece in pieces:
        board = board.added(piece, material.pk)
        numbers.append(board.pieces[-1].number)
    board = _settled(board, numbers, parameters, hand)
    return board, f"laid {material.name} at {where}"


def _ordered(order: Order, board: Board, parameters: Parameters) -> tuple[list[Piece], str]:
    """The pieces of an order, at a named site, a group of them or where the hand points."""
    outline, key = board.outline, parameters.get("site", "")
    if not key:
        site = site_at(outline, _coordinate(parameters, "x"), _coordinate(parameters, "y"))
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


def _settled(board: Board, numbers: list[int], parameters: Parameters, hand: Hand) -> Board:
    """New pieces with what is refused mended or set aside as asked for.

    Raises:
        ObjectedError: a piece is refused and nothing was asked for.
    """
    overruled, mend = parameters.get("overrule", ""), parameters.get("mend", "")
    if overruled:
        for number in numbers:
            board = board.overruling(number, overruled, True)
    for standing in board.objections(hand.kinds()):
        refused = standing.objection.is_refusal and not standing.is_overruled
        if standing.number in numbers and refused:
            if not mend.isdecimal():
                raise ObjectedError(standing.objection)
            board = _mended(board, standing, mend)
    return board


def _mended(board: Board, standing: Standing, choice: str) -> Board:
    mends = standing.objection.mends
    if not (choice.isdecimal() and int(choice) < len(mends)):
        raise PieceError("This can no longer be mended so; look again.", code="no_mend")
    return board.replaced(standing.number, mends[int(choice)].pieces)


def _mend(board: Board, parameters: Parameters, hand: Hand) -> tuple[Board, str]:
    """One of the ways out of an objection to a piece."""
    number, code = _number_of(parameters), parameters.get("code", "")
    for standing in board.objections(hand.kinds()):
        if standing.number == number and standing.objection.code == code:
            board = _mended(board, standing, parameters.get("mend", ""))
            return board, f"mended piece {number}"
    raise PieceError("Nothing speaks against this piece any more; look again.", code="no_objection")


def _overrule(board: Board, parameters: Parameters, _hand: Hand) -> tuple[Board, str]:
    """Set a rule aside for a piece, or heed it again."""
    number, code = _number_of(parameters), parameters.get("code", "")[:30]
    is_overruled = parameters.get("value") != "0"
    said = "set a rule aside for" if is_overruled else "heeded a rule again for"
    return board.overruling(number, code, is_overruled), f"{said} piece {number}"


def _divide(board: Board, parameters: Parameters, _hand: Hand) -> tuple[Board, str]:
    """Cut a strip into equal parts that can be moved apart."""
    laid = board.find(_number_of(parameters))
    if not isinstance(laid.piece, RimStrip):
        raise PieceError("Only a strip is divided.", code="no_strip", field="parts")
    text = parameters.get("parts", "")
    parts = placing.divided(laid.piece, board.outline, int(text) if text.isdecimal() else 0)
    return board.replaced(laid.number, parts), f"divided piece {laid.number} into {len(parts)}"


# -- completing and taking away ---------------------------------------------------------


def completion_of(board: Board, kind: str, text: str, hand: Hand) -> completing.Completion:
    """What completes the plan. Raises KentrobarError where nothing can."""
    pieces = [laid.piece for laid in board.pieces]
    about: Any = (board.measured, pieces, board.outline)
    match kind:
        case "hold":
            return completing.hold_balance(*about)
        case "shift":
            by_cm = _length(text, hand, "amount")
            return completing.shift_balance(*about, by_cm=by_cm, axis_cm=board.axis_cm)
        case "heft":
            mass_g = _mass(text, hand, "amount")
            if not mass_g > 0:
                raise PieceError("Type a weight above 0.", code="no_mass", field="amount")
            return completing.plain_heft(*about, mass_g=mass_g, axis_cm=board.axis_cm)
    raise PieceError("The page asked for something unknown; reload it.", code="unknown_completion")


def _complete(board: Board, parameters: Parameters, hand: Hand) -> tuple[Board, str]:
    """Lay the one piece that holds the balance, shifts it on the axis, or adds heft."""
    found = completion_of(board, parameters.get("kind", ""), parameters.get("amount", ""), hand)
    material = hand.material(_number_of({"piece": parameters.get("material", "")}))
    site = _site_at_height(board.outline, found.y_cm)
    mirrored = abs(site.x_cm) > ON_AXIS_CM
    amount = found.mass_g / (1 + mirrored)
    if material.form is Form.TAPE:
        amount /= material.density.value
    # Tape along the handle is cut in strips that lie about the place, side by side.
    count = math.ceil(amount / HANDLE_STRIP_CM) if material.form is Form.TAPE else 1
    order = Order(material, amount / count, default_face(board.outline), mirrored)
    numbers = []
    for _ in range(count):
        board = board.added(lay(order, site, board.outline), material.pk)
        numbers.append(board.pieces[-1].number)
    board = _settled(board, numbers, parameters, hand)
    return board, f"laid {found.mass_g:g} g of {material.name} {found.where}"


def _site_at_height(outline: Outline, y_cm: float) -> Site:
    """The place at a distance from the butt: handle, shafts or rim."""
    shaft = shaft_at(outline, y_cm)
    if shaft is None and y_cm > outline.handle_length_cm:
        line = outline.rim(Face.OUTER)
        return site_at(outline, *line.point(line.at_y(y_cm)))
    return site_at(outline, shaft or 0.0, y_cm)


def _round(board: Board, parameters: Parameters, hand: Hand) -> tuple[Board, str]:
    """Every strip on the cutting step."""
    step_cm = _length(parameters.get("amount", ""), hand, "amount")
    pieces = completing.rounded([laid.piece for laid in board.pieces], step_cm)
    for laid, piece in zip(board.pieces, pieces, strict=True):
        board = board.changed(laid.number, piece)
    return board, f"rounded all strips to {step_cm:g} cm"


def _take_away(board: Board, parameters: Parameters, hand: Hand) -> tuple[Board, str]:
    """Take a fitting off, trim it, or put a lighter one in its place."""
    wanted = _number_of({"piece": parameters.get("fitting", "")})
    fitting = next((each for each in worn_now(board.frame) if each.key == wanted), None)
    if fitting is None:
        raise PieceError("This is not on the frame; look at its fittings.", code="no_such_fitting")
    amount = parameters.get("amount", "")
    match parameters.get("how", ""):
        case "trim":
            piece: Piece = taking_away.trim_bumper(
                fitting, board.outline, _length(amount, hand, "amount")
            )
        case "lighter":
            mass = Estimate(_mass(amount, hand, "amount"), WEIGHED_U_G)
            piece = taking_away.make_lighter(fitting, board.outline, mass)
        case _:
            piece = taking_away.take_off(fitting, board.outline)
    taking_away.require_there(fitting, piece, [laid.piece for laid in board.pieces])
    return board.added(piece, None), f"took away {fitting.label}"


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
    if isinstance(piece, StringBed):
        raise PieceError("Strings lie where they are strung; change their weight.", code="no_place")
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
    if isinstance(piece, PointPiece | StringBed):
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


def _edit_layers(piece: Any, text: str, _board: Board, _hand: Hand) -> Any:
    return replace(piece, layers=_layers({"layers": text}))


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
    "layers": _edit_layers,
    "mirrored": _flag("mirrored"),
    "both_faces": _flag("both_faces"),
    "removed": _flag("removed"),
}


def _use_density(board: Board, parameters: Parameters, hand: Hand) -> tuple[Board, str]:
    """Take the shelf's present weight per length for every strip of that material."""
    material = hand.material(_number_of({"piece": parameters.get("material", "")}))
    density = material.density
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
    "complete": _complete,
    "divide": _divide,
    "mend": _mend,
    "overrule": _overrule,
    "round": _round,
    "take_away": _take_away,
    "edit": _edit,
    "use_density": _use_density,
    "axis": _set_axis,
    "rename": _rename,
}
