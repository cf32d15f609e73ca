"""A plan told as steps by the bench's order of work, with what should be read after each, and the tools.

The orders differ in what is fixed first; within each, what is taken away goes first, since nothing
that is added makes up for it in the swing weight.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from enum import StrEnum
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.bench.handle_work import is_loose_inside
from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import Specs
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.frame.circumstances import HandleBuild
from kentrobar.core.frame.outline import Outline
from kentrobar.core.weight.materials import Form
from kentrobar.core.weight.piece_of_material import PieceOfMaterial
from kentrobar.core.weight.pieces.piece import Cover, Piece, RemovalKind, effect_of


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
    """One step of a procedure: the parts of the plan it lays, and the specs that tell whether it is right."""

    parts: frozenset[_Part]
    title: str
    read: tuple[str, ...]


class OrderDescription(NamedTuple):
    """An order of work: its name, why one would work so, its stages."""

    label: str
    reason: str
    stages: tuple[_Stage, ...]


_ALL = ("mass_g", "balance_cm", "swingweight_kgcm2", "twistweight_kgcm2")
_AWAY = _Stage(frozenset({_Part.AWAY}), "Remove or replace", ("mass_g", "balance_cm"))
_HEAD = _Stage(
    frozenset({_Part.HEAD}), "Apply the head weight", ("mass_g", "swingweight_kgcm2", "twistweight_kgcm2")
)
_HANDLE = _Stage(frozenset({_Part.HANDLE}), "Apply the handle weight", ("balance_cm", "mass_g"))
_HEFT = _Stage(frozenset({_Part.HEFT}), "Apply weight near the balance point", ("mass_g",))
_REST = frozenset({_Part.HANDLE, _Part.HEFT, _Part.HEAD})

_BELOW = _Stage(_HANDLE.parts | _HEFT.parts, "Apply handle and throat", ("mass_g", "balance_cm"))
_AT_ONCE = _Stage(_REST, "Apply everything", _ALL)
_ALONE = _AT_ONCE._replace(read=("swingweight_kgcm2",))

ORDERS: Final = MappingProxyType(
    {
        OrderOfWork.SWING_FIRST: OrderDescription(
            "Swing weight first",
            "The hoop sets the swing weight; the handle then sets weight and balance and hardly moves it.",
            (_AWAY, _HEAD, _BELOW),
        ),
        OrderOfWork.BALANCE_FIRST: OrderDescription(
            "Balance first",
            "Balance in the handle, then static weight, then the hoop.",
            (_AWAY, _HANDLE, _HEFT, _HEAD),
        ),
        OrderOfWork.AT_ONCE: OrderDescription(
            "All at once",
            "Static weight, balance and recoil weight set the swing weight about any axis: apply it all, then measure.",
            (_AWAY, _AT_ONCE),
        ),
        OrderOfWork.SWING_ALONE: OrderDescription(
            "Swing weight alone",
            "Only the swing weight is read; weight and balance may drift.",
            (_AWAY, _ALONE),
        ),
    }
)


class Step(NamedTuple):
    """One step: what is laid (by position in the plan), what to read, and what should be read then.

    ``change`` is that of all steps so far: known where the spec itself was never read.
    """

    title: str
    pieces: tuple[int, ...]
    read: tuple[str, ...]
    expected: Specs
    change: Specs


def steps_of(plan: PlanState, order: OrderOfWork) -> list[Step]:
    """The plan as ordered steps with the specs expected after each; empty stages are left out.

    Raises:
        PieceError, OutlineError: a piece that cannot lie where it is put.
    """
    part_of = _sorter(plan.measured, plan.outline)
    parts = [part_of(piece) for piece in plan.pieces]
    done: list[int] = []
    steps = []
    for stage in ORDERS[order].stages:
        chosen = tuple(i for i, part in enumerate(parts) if part in stage.parts)
        if not chosen:
            continue
        done += chosen
        so_far = plan.only(plan.placed[i].number for i in done).prediction
        steps.append(Step(stage.title, chosen, stage.read, so_far.after, so_far.change))
    return steps


def _sorter(measured: MeasuredSpecs, outline: Outline) -> Callable[[Piece], _Part]:
    """Tells which part of the work a piece is: by where its centre of mass lies."""
    frame = measured.moments()
    balance = frame.balance_cm if measured.knows_balance else 0.46 * outline.length_cm

    def part_of(piece: Piece) -> _Part:
        y = effect_of(piece, outline).centre_cm
        if piece.removed or piece.source.deed is RemovalKind.EXCHANGE:
            return _Part.AWAY
        if y <= outline.handle_length_cm:
            return _Part.HANDLE
        return _Part.HEFT if abs(y - balance) <= NEAR_BALANCE_CM else _Part.HEAD

    return part_of


# -- tools ------------------------------------------------------------------------------

_ALWAYS_NEEDED: Final = ("a cloth with alcohol", "a ruler", "a balance board and a 0.1 g scale")


def tools_of(placed: Sequence[PieceOfMaterial], outline: Outline, handle: HandleBuild) -> list[str]:
    """What must lie ready for these pieces, in the order of use; a handle is opened as it is built."""
    facts = [each.facts for each in placed if each.facts]
    pieces = [each.piece for each in placed]
    covers = {piece.cover(outline) for piece in pieces}
    has_tape = any(each.form is Form.TAPE for each in facts)
    needed = {
        "gloves, and a box for offcuts": any(each.is_lead for each in facts),
        "a small flat screwdriver for the trap door": Cover.CAP in covers and handle.has_trap_door,
        "a staple remover, a stapler and a small screwdriver for the cap": Cover.CAP in covers
        and not handle.has_trap_door,
        "string cutters, and strings for restringing": bool(covers & {Cover.STRINGS, Cover.BUMPER}),
        "a pencil and finishing tape for the grip": any(piece.goes_round_handle for piece in pieces),
        "a sharp blade, a cutting mat and a metal rule": has_tape,
        "a hand roller": has_tape,
        "cotton against rattle": any(
            each.piece.cover(outline) is Cover.CAP and is_loose_inside(each) for each in placed
        ),
    }
    return [*_ALWAYS_NEEDED, *(tool for tool, is_needed in needed.items() if is_needed)]
