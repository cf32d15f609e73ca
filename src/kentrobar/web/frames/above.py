"""What apps above hand in to a frame's page, and what they must be asked before a frame changes.

Frames know nothing of readings' rows, instruments or plans. An app that has something to show beside a
frame offers it here when the application starts.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, NamedTuple

from kentrobar.core.laying.plan import Baseline, LaidPlan
from kentrobar.web.frames.models import Frame
from kentrobar.web.shops.models import User

Context = Callable[[Frame, User], dict[str, Any]]


class Panel(NamedTuple):
    """A section of a frame's page: its template, what that is given, its place among the others."""

    template: str
    context: Context
    order: int


class LaidSince(NamedTuple):
    """Weight that may have been laid since the readings that count now: a plan that starts from them.

    ``laid`` reads its pieces, which most pages that name it never need.
    """

    key: int
    name: str
    laid: Callable[[], LaidPlan]


_panels: list[Panel] = []
_laid: list[Callable[[Frame], list[LaidSince]]] = []
_actions: list[tuple[int, str]] = []
_checks: list[Callable[[Frame, Baseline], None]] = []


def offer_panel(template: str, context: Context, order: int) -> None:
    """Add a section to every frame's page."""
    _panels.append(Panel(template, context, order))


def offer_actions(template: str, order: int) -> None:
    """Add buttons to the head of every frame's page."""
    _actions.append((order, template))


def tell_what_is_laid(plans: Callable[[Frame], list[LaidSince]]) -> None:
    """Have the plans that start from a frame's present readings told, the likeliest first."""
    _laid.append(plans)


def laid_since(frame: Frame) -> list[LaidSince]:
    """What may have been laid on the frame since it was read."""
    return [each for plans in _laid for each in plans(frame)]


def ask_before_change(check: Callable[[Frame, Baseline], None]) -> None:
    """Have a check asked before a frame changes; it raises KentrobarError to refuse."""
    _checks.append(check)


def page_of(frame: Frame, user: User) -> dict[str, Any]:
    """What was handed in, for the template of a frame's page."""
    panels = sorted(_panels, key=lambda panel: panel.order)
    return {
        "panels": [(panel.template, panel.context(frame, user)) for panel in panels],
        "actions": [template for _, template in sorted(_actions)],
    }


def require_unopposed(frame: Frame, changed: Baseline) -> None:
    """Raise what any app above has against this change of a frame."""
    for check in _checks:
        check(frame, changed)
