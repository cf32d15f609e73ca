"""A proposal's pieces as its card carries them: signed, so that what is laid is what was shown."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

from django.core import signing

from kentrobar.core.body.target import Target
from kentrobar.core.editing.plan import PlanPiece
from kentrobar.core.editing.stored import numbered, read_pieces, stored_pieces
from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.weight.pieces import Piece
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.records import Json

_SALT = "kentrobar.proposal.3"
LONGEST_S = 7 * 24 * 3600  # a page may lie open for a week


class SignedProposal(NamedTuple):
    """What a card carries: its title, its pieces, and what they were to bring about."""

    title: str
    pieces: tuple[PlanPiece, ...]
    target: Target


def carry(frame: Frame, title: str, pieces: Sequence[Piece], target: Target) -> str:
    """A card as its page carries it: for which frame it was worked out, in which state, and what it lays."""
    value = {
        "frame": frame.pk,
        "state": _state(frame),
        "title": title,
        "pieces": stored_pieces(numbered(pieces)),
        "target": target.encoded(),
    }
    return signing.dumps(value, salt=_SALT, compress=True)


def unpack(frame: Frame, signed: str) -> SignedProposal:
    """The inverse of :func:`carry`.

    Raises:
        PieceError: it was not made here for this frame as it is now.
    """
    try:
        value: Json = signing.loads(signed, salt=_SALT, max_age=LONGEST_S)
    except signing.BadSignature:
        raise PieceError("This proposal has expired. Search again.", code="card_unknown") from None
    if (value["frame"], value["state"]) != (frame.pk, _state(frame)):
        raise PieceError(
            f"{frame.label} was changed or measured since this search. Search again.", code="card_outdated"
        )
    return SignedProposal(value["title"], read_pieces(value["pieces"]), Target.decoded(value["target"]))


def _state(frame: Frame) -> list[Any]:
    """What a prediction rests on: the readings that count, and the frame with what is fitted."""
    return [frame.specs_id, frame.changed_at.isoformat()]
