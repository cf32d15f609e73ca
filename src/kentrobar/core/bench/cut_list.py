"""What is cut for a plan from each tape of the shelf, and what it takes from every material."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from typing import Final, NamedTuple

from kentrobar.core.bench.cutting import ROLL, SoldStrip, StripToCut, cuts
from kentrobar.core.bench.joining import Joined, joined
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.editing.shelf import Shelf, Stock
from kentrobar.core.quantities.estimates import NOT_MEASURED, Amount, NotMeasured
from kentrobar.core.weight.materials import Form

SHORT_ROLL_CM: Final = 60.0  # what is sold shorter than this is strips, not a roll


class CutGroup(NamedTuple):
    """All that is cut from one tape: the strips as sold with their cuts, and what is used and left, cm."""

    stock: Stock
    strips: list[SoldStrip]
    used_cm: float
    strokes: int
    left_cm: Amount

    @property
    def is_counted(self) -> bool:
        """Whether what is left of the tape is known."""
        return not isinstance(self.left_cm, NotMeasured)


class Strips(NamedTuple):
    """The strips that one thing is cut as, cm, from a tape of the shelf where it is of one."""

    of: Joined
    tape: Stock | None
    lengths_cm: list[float]


def as_cut(plan: PlanState, shelf: Shelf) -> list[Joined]:
    """The pieces of a plan as they are cut: strips that meet are one, unless tape is not sold so long."""
    by_number = {each.number: each for each in plan.placed}
    found: list[Joined] = []
    for each in joined(plan.placed, plan.outline):
        tape = shelf.of(each.piece)
        if tape and tape.is_tape and each.piece.extent_cm > sold_strip_cm(tape) + 1e-6:
            found += [Joined((n,), by_number[n].piece) for n in each.numbers]
        else:
            found.append(each)
    return found


def strips_of(plan: PlanState, shelf: Shelf) -> Iterator[Strips]:
    """Everything that is cut from tape, in the order of the plan; strips that meet are one."""
    for each in as_cut(plan, shelf):
        stock = shelf.of(each.piece)
        tape = stock if stock and stock.form is Form.TAPE else None
        if each.piece.removed or not (tape or each.piece.is_strip):
            continue
        density = tape.density.value if tape else 0.0
        yield Strips(each, tape, each.piece.tape_lengths(density))


def cut_groups(plan: PlanState, shelf: Shelf) -> list[CutGroup]:
    """The cut list of a plan, a group a tape, in the order of the shelf."""
    return _cut_groups([(each.of.name, each) for each in strips_of(plan, shelf)], shelf)


def cut_groups_of_set(plans: Sequence[tuple[str, PlanState]], shelf: Shelf) -> list[CutGroup]:
    """The cut list of several plans together; a piece is told by its plan's number and its own: 2.1."""
    strips = [(f"{name}.{each.of.name}", each) for name, plan in plans for each in strips_of(plan, shelf)]
    return _cut_groups(strips, shelf)


def _cut_groups(strips: Iterable[tuple[str, Strips]], shelf: Shelf) -> list[CutGroup]:
    wanted: dict[int, list[StripToCut]] = {}
    for piece, (_, tape, lengths) in strips:
        if tape:
            wanted.setdefault(tape.key, []).extend(StripToCut(piece, each) for each in lengths)
    return [_cut_group(stock, wanted[stock.key]) for stock in shelf if stock.key in wanted]


def sold_strip_cm(tape: Stock) -> float:
    """How long a strip of it is as sold, cm; ``ROLL`` for a roll."""
    sold = tape.sold
    return ROLL if isinstance(sold, NotMeasured) or sold > SHORT_ROLL_CM else sold


def _cut_group(stock: Stock, wanted: list[StripToCut]) -> CutGroup:
    sold = sold_strip_cm(stock)
    used = sum(each.length_cm for each in wanted)
    strips = cuts(wanted, sold)
    strokes = sum(strip.strokes for strip in strips)
    left: Amount = NOT_MEASURED
    if not isinstance(stock.left, NotMeasured):
        left = stock.left - (used if sold == ROLL else sold * len(strips))
    return CutGroup(stock, strips, used, strokes, left)


def used_amounts(plan: PlanState, shelf: Shelf) -> list[tuple[Stock, float]]:
    """How much a plan takes from each material: whole strips where it is sold in strips."""
    groups = {group.stock.key: group for group in cut_groups(plan, shelf)}
    found = [(stock, _used(plan, stock, groups.get(stock.key))) for stock in shelf]
    return [(stock, amount) for stock, amount in found if amount]


def _used(plan: PlanState, stock: Stock, group: CutGroup | None) -> float:
    if group and not isinstance(group.left_cm, NotMeasured) and not isinstance(stock.left, NotMeasured):
        return stock.left - group.left_cm
    return sum(
        stock.amount_of(placed.piece)
        for placed in plan.placed
        if placed.piece.source.stock == stock.key and not placed.piece.removed
    )
