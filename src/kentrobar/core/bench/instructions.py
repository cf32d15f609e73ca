"""How the hard parts are done: what lies under bumper and grommets, what is cut out of them, small weights.

Each is a procedure in the order of the hand. Cautions stand where they belong, and the maker's own
instructions and licensed practice come first.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from kentrobar.core.bench.handle_work import opening, under_grip
from kentrobar.core.bench.procedures import NumberWriter, WorkInstructions
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.editing.warnings import is_too_wide
from kentrobar.core.frame.anatomy import MAINS_REACH, USUAL_MAINS
from kentrobar.core.frame.clock import clock_text
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.rim import Face
from kentrobar.core.weight.builds import FittingKind
from kentrobar.core.weight.materials import Form, Hardness
from kentrobar.core.weight.pieces import Piece, strips_among
from kentrobar.core.weight.pieces.piece import Cover

TEN_TIMES: Final = 10
ROLLED_CM: Final = 20.0  # how long ten times a small weight is rolled out
SMALL_G: Final = 10.0  # below it a scale of whole grams tells little
SPARE_CM: Final = 2.0  # beyond the last strip the grommets are lifted too


def procedures_of(plan: PlanState, shelf: Shelf, written: NumberWriter) -> list[WorkInstructions]:
    """What a plan asks for that takes more than laying a strip."""
    hidden = [p for p in plan.pieces if not p.removed and p.cover(plan.outline) is Cover.BUMPER]
    cut = [p for p in plan.pieces if p.source.deed.is_cut]
    asked = (
        _slitting(plan, shelf),
        opening(plan, shelf, written),
        _hidden(hidden, plan, shelf, written) if hidden else None,
        _cutting(cut, plan, written) if cut else None,
        under_grip(plan, shelf, written),
    )
    return [work for work in asked if work]


def _slitting(plan: PlanState, shelf: Shelf) -> WorkInstructions | None:
    """How tape that is wider than its place is slit; None where all of it fits."""
    wide = dict.fromkeys(
        stock.name
        for piece in plan.pieces
        if not piece.removed and (stock := shelf.of(piece)) and is_too_wide(stock.placed(piece), plan.outline)
    )
    if not wide:
        return None
    return WorkInstructions(
        "Slitting tape",
        (
            f"Cut {' and '.join(wide)} to length first, then weigh it.",
            "Tape it down on the mat, set a metal rule on its middle line, and slit it in several shallow passes, "
            "away from your body.",
            "Place the two halves on each other: weight and place stay as planned.",
        ),
    )


# -- under bumper and grommets ------------------------------------------------------------------


def _hidden(
    hidden: Sequence[Piece], plan: PlanState, shelf: Shelf, written: NumberWriter
) -> WorkInstructions:
    strung = any(each.kind is FittingKind.STRINGS for each in plan.baseline.fitted)
    stiff = any(
        placed.facts and placed.facts.hardness is not Hardness.SOFT for placed in map(shelf.placed, hidden)
    )
    steps = [
        "Cut the strings out, mains and crosses in turn from the middle, so that the hoop is pulled evenly."
        if strung
        else "Have the frame unstrung.",
        f"Lift bumper and grommets barrel by barrel from the tip down to {_down_to(hidden, plan, written)}; "
        "warm them a little where they hold.",
        "Clean the channel with alcohol and let it dry.",
        "Bend each strip to the channel before the backing comes off: stiff ones over a round edge, until they lie "
        "in it by themselves."
        if stiff
        else "Press each strip into the channel as the list says, from its middle to its ends.",
        "Where the channel is deep, bend the strip along its length too, or slit it: it must reach the floor, or the "
        "grommets will not close.",
        "Press it down along its whole length, then over the edges with a rounded stick.",
        "Cut a small cross over every string hole that is covered, with a sharp blade, away from your hand, "
        "and fold the corners in.",
        "Put grommets and bumper back; every barrel sits in its hole, none is pinched.",
        "String the frame as it was, and measure it again.",
    ]
    return WorkInstructions("Under bumper and grommets", tuple(steps))


def _down_to(hidden: Sequence[Piece], plan: PlanState, written: NumberWriter) -> str:
    """The first hole below the lowest strip: a main's number at the head, else a clock position."""
    outline = plan.outline
    line = outline.rim(Face.BUMPER)
    lowest = max((max(abs(s) for s in strip.stretch(line)) for strip in strips_among(hidden)), default=0.0)
    mains = next((f.mains for f in plan.baseline.fitted if f.mains), 0) or USUAL_MAINS
    for number in range(1, mains // 2 + 1):
        at = head_hole_cm(outline, number, mains)
        if at >= lowest + SPARE_CM / 2:
            return f"main hole {number}H, {written.length(at)} from the middle of the tip"
    at = min(lowest + SPARE_CM, line.half_length)
    return f"about {clock_text(line.clock_at(at))}, {written.length(at)} from the middle of the tip"


def head_hole_cm(outline: Outline, number: int, mains: int) -> float:
    """How far along the rim from the middle of the tip the hole of a main lies at the head, cm."""
    line = outline.rim(Face.BUMPER)
    widest_s = line.at_clock(180.0)
    x = (number - 0.5) * 2 * MAINS_REACH * line.point(widest_s).x / (mains - 1)
    low, high = 0.0, widest_s
    for _ in range(40):
        middle = (low + high) / 2
        low, high = (middle, high) if line.point(middle).x < x else (low, middle)
    return low


# -- cutting a bumper -----------------------------------------------------------------------------


def _cutting(cut: Sequence[Piece], plan: PlanState, written: NumberWriter) -> WorkInstructions:
    line = plan.outline.rim(Face.BUMPER)
    where = []
    for strip in strips_among(cut):
        start, end = strip.stretch(line)
        ends = f"{clock_text(line.clock_at(start))} and {clock_text(line.clock_at(end))}"
        sides = ", and the same on the other side" if strip.mirrored else ""
        where.append(f"{ends} ({written.length(strip.extent_cm)}{sides})")
    expected = " and ".join(written.mass(piece.one_mass_g) for piece in cut)
    return WorkInstructions(
        "Cutting the bumper",
        (
            f"Mark both ends with masking tape: {'; '.join(where)}.",
            "Cut along the tape in several shallow passes with a sharp blade, away from your body and your other "
            "hand. Stop before the paint: the blade must not reach the frame.",
            "Lift the piece off and bevel the two new ends, so that they do not catch on the court.",
            f"Weigh what came off: {expected} is expected. Enter what it weighed, and the plan follows.",
            "Touch up paint that was nicked.",
            "Measure the frame again.",
            "The head is exposed there from now on, it wears, and the maker’s warranty may end.",
        ),
    )


# -- small weights ------------------------------------------------------------------------------------


def dosing(piece: Piece, shelf: Shelf, written: NumberWriter) -> str:
    """How a small weight is dosed with a scale of whole grams; empty where nothing is dosed by weight."""
    stock = shelf.of(piece)
    one = piece.one_mass_g
    if piece.removed or stock is None or stock.form is not Form.PUTTY or one >= SMALL_G:
        return ""
    part = ROLLED_CM / TEN_TIMES
    return (
        f"With a scale of whole grams: weigh ten times as much, {written.mass(TEN_TIMES * one)}, roll it "
        f"evenly to {written.length(ROLLED_CM)}, and cut off {written.length(part)}."
    )
