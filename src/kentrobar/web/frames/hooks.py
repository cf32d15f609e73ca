"""What apps above show on a frame's page, and what they are asked before a frame changes."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final, NamedTuple

from kentrobar.core.editing.plan import Baseline, PlanState
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.hooks import Hook
from kentrobar.web.shops.models import User


class Panel(NamedTuple):
    """A section of a frame's overview: its template, and the function that makes what it reads as ``panel``."""

    template: str
    view: Callable[[Frame, User], object]


class NextStep(NamedTuple):
    """What a frame needs next, as a button: what it says, where it leads, in which of the frame's tabs."""

    text: str
    address: str
    tab: str = ""


class FrameHead(NamedTuple):
    """What apps above know for the head of a frame's pages: its drawing with what is on it, its next step."""

    drawing: object | None = None
    step: NextStep | None = None


class AppliedSince(NamedTuple):
    """Weight that may have been applied since the readings that count now: a plan that starts from them.

    ``state`` reads its pieces, which most pages that name it never need.
    """

    key: int
    name: str
    state: Callable[[], PlanState]


PANELS: Final[Hook[Panel]] = Hook()
HEADS: Final[Hook[Callable[[Frame, User], FrameHead]]] = Hook()
APPLIED_SINCE: Final[Hook[Callable[[Frame], list[AppliedSince]]]] = Hook()  # the likeliest first
BEFORE_CHANGE: Final[Hook[Callable[[Frame, Baseline], None]]] = Hook()  # refuses by a KentrobarError


def head_of(frame: Frame, user: User) -> FrameHead:
    """What is drawn and said at the head of a frame's pages."""
    return next((head(frame, user) for head in HEADS), FrameHead())


def panels_of(frame: Frame, user: User) -> list[tuple[str, object]]:
    """The sections of the overview, each a template with what it reads."""
    return [(panel.template, panel.view(frame, user)) for panel in PANELS]


def applied_since(frame: Frame) -> list[AppliedSince]:
    """What may have been applied to the frame since it was measured."""
    return [each for plans in APPLIED_SINCE for each in plans(frame)]


def require_unopposed(frame: Frame, changed: Baseline) -> None:
    """Raise what any app above has against this change of a frame."""
    for check in BEFORE_CHANGE:
        check(frame, changed)
