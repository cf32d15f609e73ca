"""What apps above say and show beside a plan: planning knows nothing of sets, jobs or play."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final, NamedTuple

from kentrobar.web.kit.hooks import Hook
from kentrobar.web.planning.models import Plan


class PlanNote(NamedTuple):
    """One line beside a plan: what it says, and where that leads; an action does not go on paper."""

    text: str
    address: str
    is_action: bool = False


NOTES: Final[Hook[Callable[[Plan], list[PlanNote]]]] = Hook()
PANELS: Final[Hook[str]] = Hook()  # templates under the board, given what the board is given
COMPARISONS: Final[Hook[str]] = Hook()  # templates under plans side by side, given their columns


def notes_beside(plan: Plan) -> list[PlanNote]:
    """What the board and the sheet say beside a plan."""
    return [note for notes in NOTES for note in notes(plan)]
