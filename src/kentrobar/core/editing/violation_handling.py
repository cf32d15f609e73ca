"""Pieces that break a rule: a fix applied, the rule overruled, or heeded again."""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

from kentrobar.core.editing.plan import PlanState, PlanWarning
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.editing.warnings import PieceWarning
from kentrobar.core.quantities.errors import PieceError


class Override(NamedTuple):
    """What a person says beforehand of pieces that will be refused.

    ``overrule`` is the code of a rule to set aside, ``fix`` the place of the way out to take among
    those an objection offers; empty and -1 where nothing was said.
    """

    overrule: str = ""
    fix: int = -1


NOTHING_SAID = Override()


class ViolationError(PieceError):
    """A piece is refused at its place; there are ways out, or the rule is set aside."""

    def __init__(self, warning: PieceWarning) -> None:
        super().__init__(warning.message, code=warning.code, field="site")
        self.fixes = [way.label for way in warning.fixes]


def with_violations_handled(
    plan: PlanState, numbers: Iterable[int], shelf: Shelf, override: Override
) -> PlanState:
    """New pieces with what is refused fixed or set aside as asked for.

    Raises:
        ViolationError: a piece is refused and nothing was asked for.
    """
    new = set(numbers)
    if override.overrule:
        for number in new:
            plan = plan.overruling(number, override.overrule, True)
    for standing in plan.warnings(shelf):
        is_refused = standing.warning.is_refusal and not standing.is_overruled
        if standing.number in new and is_refused:
            if override.fix < 0:
                raise ViolationError(standing.warning)
            plan = _taken(plan, standing, override.fix)
    return plan


def apply_fix(plan: PlanState, shelf: Shelf, number: int, code: str, fix: int) -> PlanState:
    """One of the ways out of an objection to a piece. Raises PieceError where nothing objects any more."""
    for standing in plan.warnings(shelf):
        if standing.number == number and standing.warning.code == code:
            return _taken(plan, standing, fix)
    raise PieceError("Nothing speaks against this piece any more; look again.", code="no_warning")


def _taken(plan: PlanState, standing: PlanWarning, choice: int) -> PlanState:
    ways = standing.warning.fixes
    if not 0 <= choice < len(ways):
        raise PieceError("This can no longer be fixed so; look again.", code="no_fix")
    return plan.replaced(standing.number, ways[choice].pieces)
