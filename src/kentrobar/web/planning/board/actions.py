"""The table of what a person can do on the board: an action of the rules, and how its values are read.

One more action is one function in ``core.editing.actions`` and one row here; a ``Tool`` puts it into the
bar of the selected piece, with its key.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import partial
from typing import NamedTuple

from kentrobar.core.editing import actions
from kentrobar.core.editing.actions import Done
from kentrobar.core.editing.goal_seek import OutOfReachError, Want
from kentrobar.core.quantities.errors import KentrobarError, PieceError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.web.kit.numbers import Units, shown_specs
from kentrobar.web.planning.board import parameters as read
from kentrobar.web.planning.board.parameters import ActionRequest, Reader


class Tool(NamedTuple):
    """A button for the selected piece; ``asks`` is what its field is called, where it has one."""

    label: str
    title: str
    icon: str
    key: str = ""
    asks: str = ""
    start: str = ""


class ActionRow(NamedTuple):
    """One action: what carries it out, how each of its values is read, the field an error is told at."""

    do: Callable[..., Done]
    values: Mapping[str, Reader]
    field: str = ""
    tool: Tool | None = None


def row(do: Callable[..., Done], at: str = "", tool: Tool | None = None, /, **values: Reader) -> ActionRow:
    """A row of the table, its readers by the names of the action's values."""
    return ActionRow(do, values, at, tool)


_piece = read.number("piece")
_settled: dict[str, Reader] = {"shelf": read.shelf, "override": read.override}
_completed: dict[str, Reader] = _settled | {"material": read.number("material")}


def _typed(do: Callable[..., Done], at: str, /, **values: Reader) -> ActionRow:
    """An action of one field of the table of pieces."""
    return row(do, at, number=_piece, **values)


def _flag(column: str) -> ActionRow:
    values: dict[str, Reader] = {"field": read.constant(column), "value": read.flag("value")}
    return _typed(actions.set_field, column, **values)


ACTIONS: dict[str, ActionRow] = {
    "add": row(actions.add, order=read.order, spot=read.spot, **_settled),
    "drag": row(actions.drag, number=_piece, x_cm=read.coordinate("x"), y_cm=read.coordinate("y")),
    "nudge": row(actions.nudge, number=_piece, toward=read.toward, by_cm=read.coordinate("by_cm")),
    "grow": row(actions.grow, number=_piece, steps=read.steps),
    "meet": row(actions.meet_aim, "aim", number=_piece, want=read.want, by=read.by),
    "divide": row(
        actions.divide,
        "parts",
        Tool("Divide into", "Cut the strip into equal parts", "scissors", asks="Number of parts", start="2"),
        number=_piece,
        parts=read.number("amount"),
    ),
    "apart": row(
        actions.move_apart,
        "gap",
        Tool("Gap to", "Move both strips apart", "arrows-expand", asks="Gap from the middle", start="1 cm"),
        number=_piece,
        gap_cm=read.length("amount", "gap"),
    ),
    "other_face": row(
        actions.lay_on_other_face, "face", Tool("Other face", "Next face (F)", "layers", "f"), number=_piece
    ),
    "mirror": row(
        actions.mirror, "", Tool("Mirror", "Both sides (M)", "symmetry-horizontal", "m"), number=_piece
    ),
    "delete": row(actions.delete, "", Tool("Remove", "Remove (Delete)", "trash", "delete"), number=_piece),
    "complete_hold": row(actions.hold_balance, **_completed),
    "complete_shift": row(actions.shift_balance, by_cm=read.length("amount"), **_completed),
    "complete_heft": row(actions.add_heft, mass_g=read.mass("amount"), **_completed),
    "take_away_whole": row(actions.take_off, fitting=read.number("fitting")),
    "take_away_trim": row(actions.trim, fitting=read.number("fitting"), each_end_cm=read.length("amount")),
    "take_away_cut": row(
        actions.cut_out,
        fitting=read.number("fitting"),
        at=read.cut_place,
        amount=read.cut_amount,
        mirrored=read.flag("mirrored"),
    ),
    "take_away_exchange": row(actions.exchange, fitting=read.number("fitting"), new=read.other_fitting),
    "fix": row(actions.take_fix, shelf=read.shelf, number=_piece, code=read.code, fix=read.choice("fix")),
    "overrule": row(actions.overrule, number=_piece, code=read.code, is_overruled=read.flag("value")),
    "round": row(actions.round_strips, step_cm=read.length("amount")),
    "use_density": row(actions.use_density, shelf=read.shelf, material=read.number("material")),
    "axis": row(actions.set_axis, axis_cm=read.length("value", "axis")),
    "rename": row(actions.rename, name=read.text("value")),
    "edit_place": _typed(actions.set_place, "place", place=read.place),
    "edit_length": _typed(actions.set_length, "length", length_cm=read.length("value")),
    "edit_mass": _typed(actions.set_mass, "mass", mass_g=read.one_mass("value")),
    "edit_density": _typed(actions.set_density, "density", g_per_cm=read.density("value")),
    "edit_face": _typed(actions.set_face, "face", face=read.face("value")),
    "edit_gap": _typed(actions.set_field, "gap", field=read.constant("gap_cm"), value=read.length("value")),
    "edit_layers": _typed(
        actions.set_field, "layers", field=read.constant("layers"), value=read.layers("value")
    ),
    "edit_mirrored": _flag("mirrored"),
    "edit_both_faces": _flag("both_faces"),
    "edit_on_corners": _flag("on_corners"),
    "edit_removed": _flag("removed"),
}

# Some actions come with what they do it to, in a parameter of its own.
_IN_PARTS = {"edit": "field", "complete": "kind", "take_away": "how"}

TOOLS = {name: each.tool for name, each in ACTIONS.items() if each.tool}


def _as_shown(want: Want, units: Units, value: float) -> str:
    """A value or a change of the spec that is aimed at, as the person reads it."""
    spec = next(s for s in shown_specs(units) if s.key == want.spec)
    shown = spec.change(Estimate(value)) if want.is_change else spec.value(Estimate(value))
    return f"{shown} {spec.unit}"


def act(name: str, request: ActionRequest) -> Done:
    """Carry out the action ``name``.

    Raises:
        KentrobarError: an unknown action, a parameter that cannot be read, an impossible piece.
    """
    if name in _IN_PARTS:
        name = f"{name}_{request.text(_IN_PARTS[name])}"
    chosen = ACTIONS.get(name)
    if chosen is None:
        raise PieceError("This page is out of date. Reload it.", code="unknown_action")
    try:
        values = {each: reader(request) for each, reader in chosen.values.items()}
        done = chosen.do(request.plan, **values)
        _ = done.plan.prediction  # raises where a piece cannot lie where it is put
    except OutOfReachError as error:
        error.message = error.sentence(partial(_as_shown, error.want, request.units))
        raise
    except KentrobarError as error:
        error.field = chosen.field or error.field
        raise
    return done
