"""A plan told as steps by the school of the bench, with what should be read after each, and the tools.

The schools differ in what is fixed first; within each, what is taken away goes first, since nothing
that is added makes up for it in the swing weight.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from enum import StrEnum
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.circumstances import CAP_DEPTH_CM
from kentrobar.core.materials import Form
from kentrobar.core.objections import Laid
from kentrobar.core.outline import Face, Outline
from kentrobar.core.pieces import Piece, Plug, RimStrip, Sleeve, StringBed, effect_of
from kentrobar.core.plans import predict
from kentrobar.core.specs import MeasuredSpecs, Specs


class OrderOfWork(StrEnum):
    """What a shop fixes first."""

    BALANCE_FIRST = "balance_first"
    SWING_FIRST = "swing_first"
    AT_ONCE = "at_once"
    SWING_ALONE = "swing_alone"


DEFAULT_ORDER: Final = OrderOfWork.SWING_FIRST
NEAR_BALANCE_CM: Final = 4.0  # within it a piece is plain heft: it moves the balance hardly at all


class _Part(StrEnum):
    AWAY = "away"
    HANDLE = "handle"
    HEFT = "heft"
    HEAD = "head"


class _Stage(NamedTuple):
    """One step of a school: the parts of the plan it lays, and the specs that tell whether it is right."""

    parts: frozenset[_Part]
    title: str
    read: tuple[str, ...]


class School(NamedTuple):
    """An order of work: its name, why one would work so, its stages."""

    label: str
    reason: str
    stages: tuple[_Stage, ...]


_ALL = ("mass_g", "balance_cm", "swingweight_kgcm2", "twistweight_kgcm2")
_AWAY = _Stage(frozenset({_Part.AWAY}), "Take away", ("mass_g", "balance_cm"))
_HEAD = _Stage(
    frozenset({_Part.HEAD}), "Lay what goes on the head",
    ("mass_g", "swingweight_kgcm2", "twistweight_kgcm2"),
)  # fmt: skip
_HANDLE = _Stage(frozenset({_Part.HANDLE}), "Lay what goes in the handle", ("balance_cm", "mass_g"))
_HEFT = _Stage(frozenset({_Part.HEFT}), "Lay plain weight near the balance point", ("mass_g",))
_REST = frozenset({_Part.HANDLE, _Part.HEFT, _Part.HEAD})

_BELOW = _Stage(_HANDLE.parts | _HEFT.parts, "Lay handle and throat", ("mass_g", "balance_cm"))
_AT_ONCE = _Stage(_REST, "Lay all of it", _ALL)
_ALONE = _AT_ONCE._replace(read=("swingweight_kgcm2",))

ORDERS: Final = MappingProxyType({
    OrderOfWork.SWING_FIRST: School(
        "Swing weight first",
        "The hoop sets the swing weight; the handle then sets weight and balance and hardly moves it.",
        (_AWAY, _HEAD, _BELOW),
    ),
    OrderOfWork.BALANCE_FIRST: School(
        "Balance first", "Balance in the handle, then static weight, then the hoop.",
        (_AWAY, _HANDLE, _HEFT, _HEAD),
    ),
    OrderOfWork.AT_ONCE: School(
        "All at once",
        "Static weight, balance and recoil weight alike mean alike about every axis: lay it all, read all.",
        (_AWAY, _AT_ONCE),
    ),
    OrderOfWork.SWING_ALONE: School(
        "Swing weight alone", "Only the swing weight is read; weight and balance may drift.",
        (_AWAY, _ALONE),
    ),
})  # fmt: skip


class Step(NamedTuple):
    """One step: what is laid (by position in the plan), what to read, and what should be read then.

    ``change`` is that of all steps so far: known where the spec itself was never read.
    """

    title: str
    pieces: tuple[int, ...]
    read: tuple[str, ...]
    expected: Specs
    change: Specs


def steps_of(
    measured: MeasuredSpecs,
    pieces: Sequence[Piece],
    order: OrderOfWork,
    *,
    outline: Outline,
    axis_cm: float,
) -> list[Step]:
    """The plan as ordered steps with the specs expected after each; empty stages are left out.

    Raises:
        PieceError, OutlineError: a piece that cannot lie where it is put.
    """
    part_of = _sorter(measured, outline)
    parts = [part_of(piece) for piece in pieces]
    laid: list[Piece] = []
    steps = []
    for stage in ORDERS[order].stages:
        chosen = tuple(i for i, part in enumerate(parts) if part in stage.parts)
        if not chosen:
            continue
        laid += [pieces[i] for i in chosen]
        so_far = predict(
            measured, laid, length_cm=outline.length_cm, axis_cm=axis_cm, outline=outline
        )
        steps.append(Step(stage.title, chosen, stage.read, so_far.after, so_far.change))
    return steps


def _sorter(measured: MeasuredSpecs, outline: Outline) -> Callable[[Piece], _Part]:
    """Tells which part of the work a piece is: by where its centre of mass lies."""
    frame = measured.moments()
    balance = frame.balance_cm if measured.knows_balance else 0.46 * outline.length_cm

    def part_of(piece: Piece) -> _Part:
        moments = effect_of(piece, outline).moments
        y = moments.first_y / moments.mass
        if piece.removed:
            return _Part.AWAY
        if y <= outline.handle_length_cm:
            return _Part.HANDLE
        return _Part.HEFT if abs(y - balance) <= NEAR_BALANCE_CM else _Part.HEAD

    return part_of


# -- tools ------------------------------------------------------------------------------

_ALWAYS_NEEDED: Final = ("a cloth with alcohol", "a ruler", "a balance board and a 0.1 g scale")


def tools_of(laid: Sequence[Laid], outline: Outline) -> list[str]:
    """What must lie ready for these pieces, in the order of use."""
    facts = [each.facts for each in laid if each.facts]
    pieces = [each.piece for each in laid]
    asked = {
        "gloves, and a box for offcuts": any(each.is_lead for each in facts),
        "a staple puller": any(isinstance(piece, Plug) for piece in pieces),
        "string cutters, and strings for stringing anew": any(
            isinstance(piece, StringBed)
            or (isinstance(piece, RimStrip) and piece.face is Face.BUMPER)
            for piece in pieces
        ),
        "finishing tape for the grip": any(
            isinstance(piece, Sleeve) and piece.to_cm <= outline.handle_length_cm
            for piece in pieces
        ),
        "a sharp blade, a cutting mat and a metal rule": any(
            each.form is Form.TAPE for each in facts
        ),
        "a hand roller": any(each.form is Form.TAPE for each in facts),
        "cotton to stop the cavity": any(
            isinstance(piece, Plug) and piece.to_cm > CAP_DEPTH_CM for piece in pieces
        ),
    }
    return [*_ALWAYS_NEEDED, *(tool for tool, is_needed in asked.items() if is_needed)]
