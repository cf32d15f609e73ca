"""A frame of a document with what it claims, checked: nothing that no frame can be gets past here."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from kentrobar.core.body.limits import require_body, require_possible
from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.outline import Outline, outline_of
from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.reading.checks import band_questions
from kentrobar.core.weight.pieces import Piece, Room
from kentrobar.core.weight.prediction import Prediction, predict
from kentrobar.exchange import convert, models
from kentrobar.exchange.reading import DocumentError, at_path


class ReadFrame(NamedTuple):
    """One frame of a document: its label, readings, length and outline."""

    label: str
    sport: Sport
    length_cm: float
    measured: MeasuredSpecs
    outline: Outline | None

    @property
    def room(self) -> Room:
        """How far a piece can reach on it."""
        return Room.of(self.length_cm, self.outline)

    def warnings(self) -> Iterator[str]:
        """What is merely unusual about it, one sentence each."""
        for question in band_questions(self.measured, self.sport, self.length_cm):
            yield f"{self.label}: {question.message}" if self.label else question.message

    def predict(self, pieces: Sequence[Piece], axis_cm: float) -> Prediction:
        """What pieces make of it. Raises KentrobarError for what cannot be laid, or leaves no frame."""
        found = predict(
            self.measured, pieces, length_cm=self.length_cm, axis_cm=axis_cm, outline=self.outline
        )
        moments = found.moments
        if not self.measured.knows_mass and moments.second_yz < 0:
            raise PieceError("More is removed than the frame can lose.", code="nothing_left")
        require_body(
            moments,
            length_cm=self.length_cm,
            width_cm=self.room.width_cm,
            knows_balance=self.measured.knows_balance,
            knows_recoil=self.measured.knows_recoil,
            knows_twist=self.measured.knows_twistweight,
        )
        return found


def read_frame(document: models.FrameDocument, path: str) -> ReadFrame:
    """A frame of a document.

    Raises:
        DocumentError: dimensions or readings that no frame has.
    """
    try:
        dimensions = convert.dimensions(document)
        outline = outline_of(dimensions) if dimensions is not None else None
    except ValueError as error:
        field = getattr(error, "field", "")
        place = path if field == "length_cm" else f"{path}.outline"
        raise DocumentError(f"{place}.{field}", str(error)) from None
    measured = convert.measured_specs(document.measured)
    with at_path(f"{path}.measured"):
        room = Room.of(document.length_cm, outline)
        require_possible(measured, room.length_cm, room.width_cm)
    sport = Sport(document.sport)
    return ReadFrame(document.label, sport, document.length_cm, measured, outline)


def read_pieces(
    documents: Sequence[models.AnyPiece], frame: ReadFrame, axis_cm: float, path: str
) -> list[Piece]:
    """Pieces of a document, each of which can lie on the frame by itself.

    Raises:
        DocumentError: a piece that cannot be, or lies off the frame; the path says which.
    """
    pieces = []
    for index, document in enumerate(documents):
        with at_path(f"{path}.{index}"):
            piece = convert.piece(document)
            piece.require_within(frame.room)
            predict(
                frame.measured, [piece], length_cm=frame.length_cm, axis_cm=axis_cm, outline=frame.outline
            )
        pieces.append(piece)
    return pieces


def require_axis(axis_cm: float, frame: ReadFrame, path: str = "") -> None:
    """Refuse an axis of the answer that lies off the frame. Raises DocumentError."""
    with at_path(path):
        require_possible(MeasuredSpecs(axis_cm=axis_cm), frame.length_cm)
