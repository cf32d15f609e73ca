"""Every action of the board: a plan and what a hand wants, to a new plan and a line for its history.

An action is a function of a plan and of values that were read already; it saves nothing. All raise errors
of the rules, whose ``field`` names the value at fault.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import NamedTuple

from kentrobar.core.editing import balancing, goal_seek, removal
from kentrobar.core.editing.balancing import Completion
from kentrobar.core.editing.goal_seek import By, Want
from kentrobar.core.editing.placing import Order, Spot, ordered
from kentrobar.core.editing.plan import LONGEST_NAME, PlanState
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.editing.violation_handling import (
    NOTHING_SAID,
    Override,
    apply_fix,
    with_violations_handled,
)
from kentrobar.core.frame.places import ClockPlace, RimPlace, Toward
from kentrobar.core.frame.rim import Face
from kentrobar.core.frame.sites import Site
from kentrobar.core.quantities.errors import PieceError, UnitError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.weight.builds import Fitting
from kentrobar.core.weight.pieces import Piece, RimStrip

LEAST_STEP_CM, LARGEST_STEP_CM = 0.05, 10.0


class Done(NamedTuple):
    """What an action made of a plan, and how its history tells it."""

    plan: PlanState
    summary: str


# -- laying -------------------------------------------------------------------------------


def add(plan: PlanState, shelf: Shelf, order: Order, spot: Spot, override: Override = NOTHING_SAID) -> Done:
    """Lay an order at a spot."""
    pieces, where = ordered(order, spot, plan.outline, plan.measured.balance_cm)
    placed = _with_placed(plan, pieces, shelf, override)
    once = order.mirrored and not any(piece.sides > 1 for piece in pieces)
    return Done(placed, f"placed {order.stock.name} at {where}{' (one place)' if once else ''}")


def _with_placed(plan: PlanState, pieces: list[Piece], shelf: Shelf, override: Override) -> PlanState:
    numbers = []
    for piece in pieces:
        plan = plan.added(piece)
        numbers.append(plan.placed[-1].number)
    return with_violations_handled(plan, numbers, shelf, override)


def hold_balance(plan: PlanState, shelf: Shelf, material: int = 0, override: Override = NOTHING_SAID) -> Done:
    """Lay the counterweight that brings the balance back to where the baseline has it.

    One that was laid for it before is laid anew in its place.
    """
    rest = balancing.without_counterweight(plan)
    if rest.placed == plan.placed:
        return _complete(plan, balancing.hold_balance(plan), shelf, material, override)
    held = [each for each in plan.placed if each.piece.label == balancing.COUNTERWEIGHT]
    kept = material or held[0].piece.source.stock
    if balancing.is_held(rest):
        return Done(rest, "removed the counterweight: the balance holds without it")
    return _complete(rest, balancing.hold_balance(rest), shelf, kept, override)


def shift_balance(
    plan: PlanState, shelf: Shelf, by_cm: float, material: int = 0, override: Override = NOTHING_SAID
) -> Done:
    """Lay what shifts the balance on the swing axis, where it adds no swing weight."""
    return _complete(plan, balancing.shift_balance(plan, by_cm), shelf, material, override)


def add_heft(
    plan: PlanState, shelf: Shelf, mass_g: float, material: int = 0, override: Override = NOTHING_SAID
) -> Done:
    """Lay plain weight where it moves the rest least."""
    return _complete(plan, balancing.plain_heft(plan, mass_g), shelf, material, override)


def _complete(plan: PlanState, found: Completion, shelf: Shelf, material: int, override: Override) -> Done:
    outline = plan.outline
    stock = shelf.find(material) if material else balancing.usual_stock(found, shelf, outline)
    pieces = balancing.counterbalanced(found, stock, outline)
    if found.is_counterweight:
        pieces = [each.with_field("label", balancing.COUNTERWEIGHT) for each in pieces]
    placed = _with_placed(plan, pieces, shelf, override)
    return Done(placed, f"placed {found.mass_g:g} g of {stock.name} {found.where}")


# -- one piece ----------------------------------------------------------------------------


def _changed(plan: PlanState, number: int, change: Callable[[Piece], Piece], verb: str) -> Done:
    piece = change(plan.find(number).piece)
    return Done(plan.changed(number, piece), f"{verb} piece {number}")


def drag(plan: PlanState, number: int, x_cm: float, y_cm: float) -> Done:
    """Put a piece where the hand is, or as near as it can lie."""
    return _changed(plan, number, lambda p: p.dragged(plan.outline, x_cm, y_cm), "moved")


def nudge(plan: PlanState, number: int, toward: Toward, by_cm: float) -> Done:
    """Move a piece a little along its line."""
    return _changed(plan, number, lambda p: p.nudged(plan.outline, toward, abs(by_cm)), "moved")


def grow(plan: PlanState, number: int, steps: int) -> Done:
    """Make a piece longer or heavier by so many of its steps."""
    return _changed(plan, number, lambda p: p.grown(plan.outline, steps), "changed the amount of")


def mirror(plan: PlanState, number: int) -> Done:
    """Lay a piece on both sides instead of one, or the other way round."""
    return _changed(plan, number, lambda p: p.mirror_toggled(), "mirrored")


def move_apart(plan: PlanState, number: int, gap_cm: float) -> Done:
    """Move the strips of a pair so far from the centre line."""
    strip = _strip(plan, number, "Only a pair of strips can be moved apart.", "gap")
    parted = strip.parted(plan.outline, gap_cm)
    return Done(plan.changed(number, parted), f"moved piece {number} apart")


def lay_on_other_face(plan: PlanState, number: int) -> Done:
    """Lay a strip on the next of the frame's faces."""
    strip = _strip(plan, number, "Only a strip goes on a face.", "face")
    faces = plan.outline.faces
    face = faces[(faces.index(strip.face) + 1) % len(faces)]
    name = plan.outline.face_name(face)
    return Done(plan.changed(number, replace(strip, face=face)), f"placed piece {number} on the {name}")


def divide(plan: PlanState, number: int, parts: int) -> Done:
    """Cut a strip into equal parts that can be moved apart."""
    strip = _strip(plan, number, "Only a strip can be divided.", "parts")
    cut = strip.divided(plan.outline, parts)
    return Done(plan.replaced(number, cut), f"divided piece {number} into {len(cut)}")


def _strip(plan: PlanState, number: int, refusal: str, field: str) -> RimStrip:
    strip = plan.find(number).piece.as_strip
    if strip is None:
        raise PieceError(refusal, code="no_strip", field=field)
    return strip


def delete(plan: PlanState, number: int) -> Done:
    """Take a piece off the plan."""
    return Done(plan.without(number), f"removed piece {number}")


def meet_aim(plan: PlanState, number: int, want: Want, by: By) -> Done:
    """Have a piece grow or move until a spec comes to what is wanted. Raises as :func:`goal_seek.meet`."""
    piece = goal_seek.meet(plan, number, want, by)
    verb = "grew" if by is By.AMOUNT else "moved"
    return Done(plan.changed(number, piece), f"{verb} piece {number} to meet a target")


# -- typed in the table of pieces -----------------------------------------------------------


def set_place(plan: PlanState, number: int, place: ClockPlace | Site | float) -> Done:
    """Put the middle of a piece at a clock position, a named place, or a distance from the butt in cm."""
    is_strip = plan.find(number).piece.is_strip
    if isinstance(place, Site):
        place = place.clock if place.clock and is_strip else place.y_cm
    if isinstance(place, ClockPlace):
        if is_strip:
            return set_field(plan, number, "at", place)
        raise PieceError("Enter its distance from the butt.", code="no_clock", field="place")
    height = place
    return _changed(plan, number, lambda p: p.at_height(plan.outline, height), "moved")


def set_length(plan: PlanState, number: int, length_cm: float) -> Done:
    """Make a piece so long."""
    return _changed(plan, number, lambda p: p.with_length(length_cm), "changed the length of")


def set_mass(plan: PlanState, number: int, mass_g: float) -> Done:
    """Make one strip or body of a piece so heavy."""
    return _changed(plan, number, lambda p: p.with_mass(mass_g), "changed the weight of")


def set_density(plan: PlanState, number: int, g_per_cm: float) -> Done:
    """Take another weight per length for a strip; its relative ± stays."""
    old = plan.find(number).piece.density
    if not old:
        raise PieceError("This piece has no weight per length.", code="no_density")
    density = Estimate(g_per_cm, g_per_cm * old.u / old.value)
    return _changed(plan, number, lambda p: p.with_density(density), "changed the density of")


def set_field(plan: PlanState, number: int, field: str, value: object) -> Done:
    """Change one more field of a piece: its face, layers, gap, whether it is a pair or taken away."""
    return _changed(plan, number, lambda p: p.with_field(field, value), f"changed {_SPOKEN[field]} of")


_SPOKEN = {
    "at": "the place",
    "face": "the face",
    "gap_cm": "the gap",
    "layers": "the layers",
    "mirrored": "the sides",
    "both_faces": "the faces",
    "on_corners": "the bevels",
    "removed": "the sign",
}


def set_face(plan: PlanState, number: int, face: Face) -> Done:
    """Lay a strip on one of the frame's faces. Raises OutlineError for a face the frame has not."""
    plan.outline.rim(face)
    return set_field(plan, number, "face", face)


# -- the whole plan -----------------------------------------------------------------------


def round_strips(plan: PlanState, step_cm: float) -> Done:
    """Every strip on the cutting step; pairs stay equal to the left and right."""
    if not LEAST_STEP_CM <= step_cm <= LARGEST_STEP_CM:
        raise PieceError("A cutting step is 0.5 mm to 10 cm.", code="bad_step", field="amount")
    placed = tuple(each._replace(piece=each.piece.rounded(step_cm)) for each in plan.placed)
    return Done(replace(plan, placed=placed), f"rounded all strips to {step_cm:g} cm")


def use_density(plan: PlanState, shelf: Shelf, material: int) -> Done:
    """Take the shelf's present weight per length for every strip of that material."""
    stock = shelf.find(material)
    placed = tuple(
        each._replace(piece=each.piece.with_density(stock.density))
        if each.piece.source.stock == material
        else each
        for each in plan.placed
    )
    return Done(replace(plan, placed=placed), f"used the present weight of {stock.name}")


def set_axis(plan: PlanState, axis_cm: float) -> Done:
    """Tell swing weights about another axis."""
    if not -20 <= axis_cm < plan.outline.length_cm:
        raise UnitError(
            "The swing axis crosses the handle. Enter its distance from the butt, such as 10 cm.",
            code="axis_beyond_frame",
            field="axis",
        )
    return Done(replace(plan, axis_cm=axis_cm), f"set the axis to {axis_cm:g} cm")


def rename(plan: PlanState, name: str) -> Done:
    """Give the plan another name."""
    if not 0 < len(name) <= LONGEST_NAME:
        raise UnitError(
            f"A plan’s name has 1 to {LONGEST_NAME} characters, this one {len(name)}.",
            code="bad_name",
            field="name",
        )
    return Done(replace(plan, name=name), "renamed the plan")


# -- what is fitted -----------------------------------------------------------------------


def take_off(plan: PlanState, fitting: int) -> Done:
    """Take a whole fitting off; what was to be cut off it goes with it."""
    found = plan.baseline.find_fitting(fitting)
    cut = [p.number for p in plan.placed if p.piece.source.fitting == fitting and p.piece.source.deed.is_cut]
    for number in cut:
        plan = plan.without(number)
    return _taken(plan, fitting, removal.take_off(found, plan.outline))


def trim(plan: PlanState, fitting: int, each_end_cm: float) -> Done:
    """Cut so much off both lower ends of a bumper and grommet strip."""
    found = plan.baseline.find_fitting(fitting)
    return _taken(plan, fitting, removal.trim_bumper(found, plan.outline, each_end_cm))


def cut_out(plan: PlanState, fitting: int, at: RimPlace, amount: removal.CutAmount, mirrored: bool) -> Done:
    """Cut a length out of a bumper or grommet strip, anywhere along it."""
    found = plan.baseline.find_fitting(fitting)
    piece = removal.cut_out(found, plan.outline, at, amount, mirrored=mirrored)
    return _taken(plan, fitting, piece)


def exchange(plan: PlanState, fitting: int, new: Fitting) -> Done:
    """Put something else in a fitting's place, lighter or heavier."""
    old = plan.baseline.find_fitting(fitting)
    pieces = removal.exchange(old, new, plan.outline)
    removal.require_left(plan, old, pieces[0])
    for piece in pieces:
        plan = plan.added(piece)
    return Done(plan, f"replaced {old.label} with {new.label}")


def _taken(plan: PlanState, key: int, piece: Piece) -> Done:
    fitting = plan.baseline.find_fitting(key)
    removal.require_left(plan, fitting, piece)
    return Done(plan.added(piece), f"removed {fitting.label}")


# -- what speaks against a piece ------------------------------------------------------------


def take_fix(plan: PlanState, shelf: Shelf, number: int, code: str, fix: int) -> Done:
    """Take one of the ways out of an objection to a piece."""
    return Done(apply_fix(plan, shelf, number, code, fix), f"fixed piece {number}")


def overrule(plan: PlanState, number: int, code: str, is_overruled: bool) -> Done:
    """Set a rule aside for a piece, or heed it again."""
    verb = "kept a warning for" if is_overruled else "restored a warning for"
    return Done(plan.overruling(number, code, is_overruled), f"{verb} piece {number}")
