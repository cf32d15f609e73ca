"""Reading what the page sends with an action: places, amounts, flags, in the person's units.

What cannot be read raises an error of the core with the field's name and a sentence for the person.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from kentrobar.core import placing
from kentrobar.core.errors import PieceError, UnitError
from kentrobar.core.outline import Face, parse_clock
from kentrobar.core.units import LENGTH, MASS, Dimension, parse_quantity
from kentrobar.web.kit.numbers import Units
from kentrobar.web.materials.models import Material
from kentrobar.web.planning.board import Board, Shelf

Parameters = Mapping[str, str]


@dataclass(frozen=True)
class Hand:
    """Who acts: the units they type in and the shelf they take from (asked only when needed)."""

    units: Units
    shelf: Callable[[], Shelf]

    def material(self, pk: int) -> Material:
        """One material of the shelf; raises PieceError where it is not there."""
        found = self.shelf().get(pk)
        if found is None:
            raise PieceError(
                "This material is not on your shelf; choose another.", code="no_material"
            )
        return found


def read_coordinate(parameters: Parameters, name: str) -> float:
    """A place on the frame that the page worked out itself, cm."""
    try:
        value = float(parameters.get(name, ""))
    except ValueError:
        value = float("nan")
    if not abs(value) <= 200:
        raise PieceError("The page sent a place that is not one; reload it.", code="bad_place")
    return value


def read_number(parameters: Parameters, name: str = "piece") -> int:
    """The number of a piece, or of what ``name`` says; 0, which nothing has, where there is none."""
    text = parameters.get(name, "")
    return int(text) if text.isdecimal() and len(text) < 9 else 0


def read_quantity(text: str, dimension: Dimension, unit: str, field: str) -> float:
    """A typed quantity in the base unit; errors name ``field``."""
    try:
        value, unit = parse_quantity(text, dimension, unit)
    except UnitError as error:
        raise UnitError(error.message, code=error.code, field=field) from None
    return dimension.to_base(value, unit)


def read_length(text: str, hand: Hand, field: str) -> float:
    """A typed length in cm."""
    return read_quantity(text, LENGTH, hand.units.length, field)


def read_mass(text: str, hand: Hand, field: str) -> float:
    """A typed weight in g."""
    return read_quantity(text, MASS, hand.units.mass, field)


def read_toward(parameters: Parameters) -> placing.Toward:
    """The direction of an arrow key."""
    try:
        return placing.Toward(parameters.get("toward", ""))
    except ValueError:
        raise PieceError(
            "The page sent a direction that is not one; reload it.", code="bad_direction"
        ) from None


def read_flag(parameters: Parameters, name: str) -> bool:
    """Whether a box was ticked."""
    return parameters.get(name) in ("1", "true", "on")


def read_face(text: str, board: Board) -> Face:
    """A face that this frame has; the usual one where none is named."""
    try:
        face = Face(text) if text else board.outline.usual_face
    except ValueError:
        raise PieceError("Choose a face of the list.", code="no_such_face", field="face") from None
    board.outline.rim(face)
    return face


_PARTS = re.compile(r"^(?P<whole>.*[a-z\"])\s*/\s*(?P<parts>\d{1,2})$", re.IGNORECASE)


def read_tape_length(text: str, material: Material, hand: Hand) -> float:
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
    return read_length(whole, hand, "amount") / parts


def read_layers(parameters: Parameters) -> int:
    """How many layers; 0, which no strip has, where it is no number."""
    text = parameters.get("layers", "") or "1"
    return int(text) if text.isdecimal() and len(text) < 3 else 0


def read_rim_minutes(text: str, board: Board, hand: Hand) -> float:
    """A typed place on the rim as clock minutes: "2:30", or a height on the right side."""
    if ":" in text:
        return parse_clock(text)
    line = board.outline.rim(Face.OUTER)
    return line.clock_at(line.at_y(read_length(text, hand, "at")))
