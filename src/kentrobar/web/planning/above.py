"""What apps above say beside a plan: planning knows nothing of sets or jobs."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from kentrobar.web.planning.models import Plan


class Beside(NamedTuple):
    """One line beside a plan: what it says, and where that leads; an action is not told on paper."""

    text: str
    address: str
    is_action: bool = False


_told: list[Callable[[Plan], list[Beside]]] = []


def tell_beside_plan(tell: Callable[[Plan], list[Beside]]) -> None:
    """Have these lines told on the board and on the sheet of every plan."""
    _told.append(tell)


def beside(plan: Plan) -> list[Beside]:
    """What is to be told beside a plan."""
    return [line for tell in _told for line in tell(plan)]
