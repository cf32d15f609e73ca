"""kentrobar/1 files in and out."""

from __future__ import annotations

from django.db import transaction

from kentrobar.core.errors import OutlineError
from kentrobar.exchange import convert, models
from kentrobar.exchange.documents import answer_predict, read_document
from kentrobar.web.frames.services import create_frame, plain_typing, record_specs
from kentrobar.web.planning.board import Board, LaidPiece
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.queries import shelf_of
from kentrobar.web.planning.services import create_plan
from kentrobar.web.shops.models import User


@transaction.atomic
def import_plan(by: User, data: bytes) -> Plan:
    """Read a kentrobar/1 document into a frame of the person's shop, with a plan on it.

    Raises:
        DocumentError, OutlineError: the document cannot be read or laid on a board.
    """
    request = read_document(data, models.PredictRequest)
    answer_predict(request)  # refuses what cannot be, with its path in the document
    dimensions = convert.dimensions(request.frame)
    if dimensions is None:
        raise OutlineError(
            "frame.outline: it is missing; the board draws the frame from it. Add head_length_cm "
            "and head_width_cm for a racket, or width_cm for a paddle.",
            code="no_outline",
        )
    label = request.frame.label[:80] or "Imported frame"
    about = {"label": label, "player": "", "mark": "", "notes": ""}
    frame = create_frame(by.shop, about=about, dimensions=dimensions, typed={})
    measured = convert.measured_specs(request.frame.measured)
    record_specs(frame, measured, request.frame.measured.build, plain_typing(measured), by)
    shelf = {material.name: material.pk for material in shelf_of(by)}
    pieces = tuple(
        LaidPiece(number, shelf.get(piece.material), piece)
        for number, piece in enumerate(map(convert.piece, request.pieces), start=1)
    )
    return create_plan(
        frame, by, name=f"Plan for {label}"[:80], axis_cm=request.axis_cm, pieces=pieces
    )


def export_plan(plan: Plan) -> models.PredictRequest:
    """The document that the command line predicts to the same numbers as the page."""
    board = Board.of(plan)
    return models.PredictRequest(
        format="kentrobar/1",
        frame=models.Frame(
            label=plan.frame.label,
            sport=plan.frame.sport,
            length_cm=plan.frame.length_cm,
            outline=convert.outline_document(plan.frame.dimensions),
            measured=convert.measured_block(
                board.measured, plan.frame.specs.build if plan.frame.specs else "playing"
            ),
        ),
        pieces=[convert.piece_document(laid.piece) for laid in board.pieces],
        axis_cm=plan.axis_cm,
    )
