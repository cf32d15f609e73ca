"""Refused pieces and other objections: a way out taken, a rule set aside, or heeded again."""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

from kentrobar.core.editing.plan import LaidPlan, Standing
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.editing.warnings import Objection
from kentrobar.core.quantities.errors import PieceError


class Settling(NamedTuple):
    """What a person says beforehand of pieces that will be refused.

    ``overrule`` is the code of a rule to set aside, ``way_out`` the place of the way out to take among
    those an objection offers; empty and -1 where nothing was said.
    """

    overrule: str = ""
    way_out: int = -1


NOTHING_SAID = Settling()


class ObjectedError(PieceError):
    """A piece is refused at its place; there are ways out, or the rule is set aside."""

    def __init__(self, objection: Objection) -> None:
        super().__init__(objection.message, code=objection.code, field="site")
        self.ways_out = [way.label for way in objection.ways_out]


def settled(plan: LaidPlan, numbers: Iterable[int], shelf: Shelf, settling: Settling) -> LaidPlan:
    """New pieces with what is refused mended or set aside as asked for.

    Raises:
        ObjectedError: a piece is refused and nothing was asked for.
    """
    new = set(numbers)
    if settling.overrule:
        for number in new:
            plan = plan.overruling(number, settling.overrule, True)
    for standing in plan.objections(shelf):
        is_refused = standing.objection.is_refusal and not standing.is_overruled
        if standing.number in new and is_refused:
            if settling.way_out < 0:
                raise ObjectedError(standing.objection)
            plan = _taken(plan, standing, settling.way_out)
    return plan


def take_way_out(plan: LaidPlan, shelf: Shelf, number: int, code: str, way_out: int) -> LaidPlan:
    """One of the ways out of an objection to a piece. Raises PieceError where nothing objects any more."""
    for standing in plan.objections(shelf):
        if standing.number == number and standing.objection.code == code:
            return _taken(plan, standing, way_out)
    raise PieceError("Nothing speaks against this piece any more; look again.", code="no_objection")


def _taken(plan: LaidPlan, standing: Standing, choice: int) -> LaidPlan:
    ways = standing.objection.ways_out
    if not 0 <= choice < len(ways):
        raise PieceError("This can no longer be mended so; look again.", code="no_mend")
    return plan.replaced(standing.number, ways[choice].pieces)
