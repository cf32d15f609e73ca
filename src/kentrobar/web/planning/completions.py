"""Completing a plan in one click, and taking away what is fitted."""

from __future__ import annotations

import math
from typing import Any

from kentrobar.core import completing, taking_away
from kentrobar.core.errors import PieceError
from kentrobar.core.estimates import Estimate
from kentrobar.core.materials import Form
from kentrobar.core.outline import Face, Outline
from kentrobar.core.pieces import WEIGHED_U_G, Piece
from kentrobar.core.sites import Site, Zone, shaft_at
from kentrobar.web.frames.builds import worn_now
from kentrobar.web.materials.models import Material
from kentrobar.web.planning.board import Board
from kentrobar.web.planning.laying import ON_AXIS_CM, Order, lay, site_at
from kentrobar.web.planning.means import usual_of
from kentrobar.web.planning.parameters import Hand, Parameters, read_length, read_mass, read_number
from kentrobar.web.planning.refusals import settled

HANDLE_STRIP_CM = 8.0


def completion_of(board: Board, kind: str, text: str, hand: Hand) -> completing.Completion:
    """What completes the plan. Raises KentrobarError where nothing can."""
    pieces = [laid.piece for laid in board.pieces]
    about: Any = (board.measured, pieces, board.outline)
    match kind:
        case "hold":
            return completing.hold_balance(*about)
        case "shift":
            by_cm = read_length(text, hand, "amount")
            return completing.shift_balance(*about, by_cm=by_cm, axis_cm=board.axis_cm)
        case "heft":
            mass_g = read_mass(text, hand, "amount")
            if not mass_g > 0:
                raise PieceError("Type a weight above 0.", code="no_mass", field="amount")
            return completing.plain_heft(*about, mass_g=mass_g, axis_cm=board.axis_cm)
    raise PieceError("The page asked for something unknown; reload it.", code="unknown_completion")


def complete(board: Board, parameters: Parameters, hand: Hand) -> tuple[Board, str]:
    """Lay the one piece that holds the balance, shifts it on the axis, or adds heft."""
    found = completion_of(board, parameters.get("kind", ""), parameters.get("amount", ""), hand)
    site = _site_at_height(board.outline, found.y_cm)
    chosen = read_number(parameters, "material")
    material = hand.material(chosen) if chosen else _usual_material(site, hand)
    mirrored = abs(site.x_cm) > ON_AXIS_CM
    amount = found.mass_g / (1 + mirrored)
    if material.form is Form.TAPE:
        amount /= material.density.value
    # Tape along the handle is cut in strips that lie about the place, side by side.
    count = math.ceil(amount / HANDLE_STRIP_CM) if material.form is Form.TAPE else 1
    order = Order(material, amount / count, board.outline.usual_face, mirrored)
    numbers = []
    for _ in range(count):
        board = board.added(lay(order, site, board.outline), material.pk)
        numbers.append(board.pieces[-1].number)
    board = settled(board, numbers, parameters, hand)
    return board, f"laid {found.mass_g:g} g of {material.name} {found.where}"


def _usual_material(site: Site, hand: Hand) -> Material:
    """A putty that comes off clean for the handle, a tape for the rest of the frame."""
    form = Form.PUTTY if site.zone in (Zone.HANDLE, Zone.CAVITY) else Form.TAPE
    material = usual_of(hand.shelf().values(), form, is_clean=True)
    if material:
        return material
    raise PieceError(
        "Your shelf has nothing for it: put a tape and a putty on it first.", code="no_material"
    )


def _site_at_height(outline: Outline, y_cm: float) -> Site:
    """The place at a distance from the butt: handle, shafts or rim."""
    shaft = shaft_at(outline, y_cm)
    if shaft is None and y_cm > outline.handle_length_cm:
        line = outline.rim(Face.OUTER)
        return site_at(outline, *line.point(line.at_y(y_cm)))
    return site_at(outline, shaft or 0.0, y_cm)


def round_strips(board: Board, parameters: Parameters, hand: Hand) -> tuple[Board, str]:
    """Every strip on the cutting step."""
    step_cm = read_length(parameters.get("amount", ""), hand, "amount")
    pieces = completing.rounded([laid.piece for laid in board.pieces], step_cm)
    for laid, piece in zip(board.pieces, pieces, strict=True):
        board = board.changed(laid.number, piece)
    return board, f"rounded all strips to {step_cm:g} cm"


def take_away(board: Board, parameters: Parameters, hand: Hand) -> tuple[Board, str]:
    """Take a fitting off, trim it, or put a lighter one in its place."""
    wanted = read_number(parameters, "fitting")
    fitting = next((each for each in worn_now(board.frame) if each.key == wanted), None)
    if fitting is None:
        raise PieceError("This is not on the frame; look at its fittings.", code="no_such_fitting")
    amount = parameters.get("amount", "")
    match parameters.get("how", ""):
        case "trim":
            piece: Piece = taking_away.trim_bumper(
                fitting, board.outline, read_length(amount, hand, "amount")
            )
        case "lighter":
            mass = Estimate(read_mass(amount, hand, "amount"), WEIGHED_U_G)
            piece = taking_away.make_lighter(fitting, board.outline, mass)
        case _:
            piece = taking_away.take_off(fitting, board.outline)
    taking_away.require_there(fitting, piece, [laid.piece for laid in board.pieces])
    return board.added(piece, None), f"took away {fitting.label}"
