"""A proposal's pieces as its card carries them: signed, so that what is laid is what was shown."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.core import signing

from kentrobar.core.laying.plan import LaidPiece
from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.weight.pieces import Piece
from kentrobar.web.frames.models import Frame
from kentrobar.web.planning.stored import numbered, read_pieces, stored_pieces

_SALT = "kentrobar.proposal"
LONGEST_S = 7 * 24 * 3600  # a page may lie open for a week


def carry(frame: Frame, title: str, pieces: Sequence[Piece]) -> str:
    """What a card carries: the frame it was worked out for, in which state, and the pieces."""
    value = {
        "frame": frame.pk,
        "state": _state(frame),
        "title": title,
        "pieces": stored_pieces(numbered(pieces)),
    }
    return signing.dumps(value, salt=_SALT, compress=True)


def unpack(frame: Frame, carried: str) -> tuple[str, tuple[LaidPiece, ...]]:
    """Title and pieces of a card.

    Raises:
        PieceError: it was not made here for this frame as it is now.
    """
    try:
        value: dict[str, Any] = signing.loads(carried, salt=_SALT, max_age=LONGEST_S)
    except signing.BadSignature:
        raise PieceError(
            "This card can no longer be laid; search again.", code="card_unknown"
        ) from None
    if (value["frame"], value["state"]) != (frame.pk, _state(frame)):
        raise PieceError(
            f"{frame.label} was changed or read again since this was worked out; search again.",
            code="card_outdated",
        )
    return value["title"], read_pieces(value["pieces"])


def _state(frame: Frame) -> list[Any]:
    """What a prediction rests on: the readings that count, and the frame with what is fitted."""
    return [frame.specs_id, frame.changed_at.isoformat()]
