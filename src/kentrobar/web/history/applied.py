"""What lies on a frame now, since when: all that was laid at the bench and not taken off again."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime
from typing import NamedTuple

from kentrobar.core.editing.stored import read_pieces
from kentrobar.core.weight.pieces import Piece
from kentrobar.web.bench.models import BenchEvent
from kentrobar.web.kit.records import Json

Kind = BenchEvent.EventKind


class PieceOnFrame(NamedTuple):
    """A piece on the frame: of which work, its number there, since when, whether for good."""

    work: int
    number: int
    piece: Piece
    since: datetime
    is_permanent: bool


def applied_pieces(steps: Iterable[BenchEvent]) -> list[PieceOnFrame]:
    """What lies now; ``steps`` are in order, work by work."""
    stored: dict[tuple[int, int], tuple[Json, datetime]] = {}
    permanent: set[tuple[int, int]] = set()
    for step in steps:
        key = (step.work_id, step.piece or 0)
        match Kind(step.kind):
            case Kind.LAID:
                item = next(i for i in step.work.pieces if i["id"] == step.piece)
                stored[key] = (item, step.made_at)
            case Kind.TRIMMED | Kind.MOVED | Kind.ADDED:
                stored[key] = (step.data, step.made_at)
                permanent.discard(key)
            case Kind.TAKEN_OFF:
                stored.pop(key, None)
            case Kind.PERMANENT:
                permanent |= {each for each in stored if each[0] == step.work_id}
    return [
        PieceOnFrame(work, number, read_pieces([item])[0].piece, since, (work, number) in permanent)
        for (work, number), (item, since) in stored.items()
    ]
