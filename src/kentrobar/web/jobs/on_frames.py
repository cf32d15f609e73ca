"""What a frame's page says of the bench: what lies on it by the last work, and the works before."""

from __future__ import annotations

from typing import Any

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.frames.models import Frame
from kentrobar.web.jobs.queries import works_of
from kentrobar.web.jobs.rounds import stand_of
from kentrobar.web.planning.wish.presenting import piece_text
from kentrobar.web.shops.models import User

MOST_WORKS = 5


def bench_panel(frame: Frame, user: User) -> dict[str, Any]:
    """The works of a frame, the last one with what it left."""
    works = list(works_of(user).filter(plan__frame=frame)[:MOST_WORKS])
    if not works:
        return {}
    try:
        stand = stand_of(works[0])
    except (
        KentrobarError
    ):  # the frame's outline was changed since: its pieces have no place any more
        return {"works": works}
    lies = [piece_text(piece, frame, user.units) for _, piece in stand.lies()]
    return {"works": works, "lies": lies, "is_permanent": stand.is_permanent, "last": works[0]}
