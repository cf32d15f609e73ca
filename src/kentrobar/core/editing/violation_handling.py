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
        self.fixes = [fix.label for fix in warning.fixes]


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
    for of_piece in plan.warnings(shelf):
        is_refused = of_piece.warning.is_refusal and not of_piece.is_overruled
        if of_piece.number in new and is_refused:
            if override.fix < 0:
                raise ViolationError(of_piece.warning)
            plan = _taken(plan, of_piece, override.fix)
    return plan


def apply_fix(plan: PlanState, shelf: Shelf, number: int, code: str, fix: int) -> PlanState:
    """One of the ways out of an objection to a piece. Raises PieceError where nothing objects any more."""
    for of_piece in plan.warnings(shelf):
        if of_piece.number == number and of_piece.warning.code == code:
            return _taken(plan, of_piece, fix)
    raise PieceError("This warning is gone. Look again.", code="no_warning")


def _taken(plan: PlanState, of_piece: PlanWarning, choice: int) -> PlanState:
    fixes = of_piece.warning.fixes
    if not 0 <= choice < len(fixes):
        raise PieceError("This fix no longer works. Look again.", code="no_fix")
    return plan.replaced(of_piece.number, fixes[choice].pieces)
