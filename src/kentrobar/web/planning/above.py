"""What apps above say and show beside a plan: planning knows nothing of sets, jobs or the court."""

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
_panels: list[str] = []
_comparisons: list[str] = []


def tell_beside_plan(tell: Callable[[Plan], list[Beside]]) -> None:
    """Have these lines told on the board and on the sheet of every plan."""
    _told.append(tell)


def offer_panel(template: str) -> None:
    """Add a section to the board of every plan; the template is given what the board is."""
    _panels.append(template)


def offer_comparison(template: str) -> None:
    """Add a section under plans side by side; the template is given their ``columns``."""
    _comparisons.append(template)


def panels() -> list[str]:
    """The sections that apps above add to a board."""
    return list(_panels)


def comparisons() -> list[str]:
    """The sections that apps above add under plans side by side."""
    return list(_comparisons)


def beside(plan: Plan) -> list[Beside]:
    """What is to be told beside a plan."""
    return [line for tell in _told for line in tell(plan)]
