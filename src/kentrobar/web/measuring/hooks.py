"""Where those who checked frames in go on: apps above may have asked for it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Final

from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.hooks import Hook
from kentrobar.web.shops.requests import SignedIn

CHECKED_IN: Final[Hook[Callable[[SignedIn, Sequence[Frame]], str | None]]] = Hook()


def next_after_check_in(request: SignedIn, frames: Sequence[Frame]) -> str | None:
    """The address that an app above leads to after a check-in; None where none asked for it."""
    return next((to for lead in CHECKED_IN if (to := lead(request, frames))), None)
