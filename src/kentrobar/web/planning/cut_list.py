"""What is cut for a plan from each tape of the shelf, and what it takes from every material."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import NamedTuple

from kentrobar.core.appraisal import amount_of
from kentrobar.core.cutting import SoldStrip, Wanted, cut_list, tape_lengths
from kentrobar.core.materials import Form
from kentrobar.core.pieces import RimStrip
from kentrobar.web.materials.models import Material
from kentrobar.web.planning.board import Board, LaidPiece

SHORT_ROLL_CM = 60.0  # what is sold shorter than this is strips, not a roll


class CutGroup(NamedTuple):
    """All that is cut from one tape: the strips as sold with their cuts, and what is used and left."""

    material: Material
    strips: list[SoldStrip]
    used_cm: float
    strokes: int
    left_cm: float | None


class Strips(NamedTuple):
    """The strips that one piece is cut as, cm, from a tape of the shelf where it is of one."""

    laid: LaidPiece
    tape: Material | None
    lengths_cm: list[float]


def strips_of(board: Board, shelf: Iterable[Material]) -> Iterator[Strips]:
    """Every piece of tape, in the order of the plan."""
    tapes = {material.pk: material for material in shelf if material.form is Form.TAPE}
    for laid in board.pieces:
        tape = tapes.get(laid.material_id or 0)
        if laid.piece.removed or not (tape or isinstance(laid.piece, RimStrip)):
            continue
        yield Strips(laid, tape, tape_lengths(laid.piece, tape.density.value if tape else 0.0))


def cut_groups(board: Board, shelf: Iterable[Material]) -> list[CutGroup]:
    """The cut list of a plan, a group a tape, in the order of the shelf."""
    shelf = list(shelf)
    wanted: dict[int, list[Wanted]] = {}
    for laid, tape, lengths in strips_of(board, shelf):
        if tape:
            wanted.setdefault(tape.pk, []).extend(Wanted(laid.number, each) for each in lengths)
    return [
        _cut_group(material, wanted[material.pk]) for material in shelf if material.pk in wanted
    ]


def sold_strip_cm(tape: Material) -> float | None:
    """How long a strip of it is as sold; None for a roll."""
    sold = tape.sold_amount
    return None if sold is None or sold > SHORT_ROLL_CM else sold


def _cut_group(material: Material, wanted: list[Wanted]) -> CutGroup:
    sold = sold_strip_cm(material)
    used = sum(each.length_cm for each in wanted)
    left = None if material.left_amount is None else material.left_amount - used
    strips = cut_list(wanted, sold)
    if sold is not None and material.left_amount is not None:
        left = material.left_amount - sold * len(strips)
    strokes = sum(strip.strokes for strip in strips)
    return CutGroup(material, strips, used, strokes, left)


def used_amounts(board: Board, shelf: Iterable[Material]) -> list[tuple[Material, float]]:
    """How much a plan takes from each material: whole strips where it is sold in strips."""
    shelf = list(shelf)
    found = []
    groups = {group.material.pk: group for group in cut_groups(board, shelf)}
    for material in shelf:
        group = groups.get(material.pk)
        if group and group.left_cm is not None and material.left_amount is not None:
            found.append((material, material.left_amount - group.left_cm))
            continue
        amount = sum(
            amount_of(laid.piece, material.form, material.g_per_cm or 0.0)
            for laid in board.pieces
            if laid.material_id == material.pk and not laid.piece.removed
        )
        if amount:
            found.append((material, amount))
    return found
