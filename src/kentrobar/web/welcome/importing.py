"""A kentrobar/1 file brought in: a frame of the shop with a plan on it, or a set of frames."""

from __future__ import annotations

import json
from dataclasses import replace
from typing import Any

from django.db import transaction

from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.editing.stored import numbered
from kentrobar.core.quantities.errors import OutlineError
from kentrobar.core.weight.pieces import Piece
from kentrobar.exchange import convert, models
from kentrobar.exchange.documents import answer_predict
from kentrobar.exchange.frames import read_frame
from kentrobar.exchange.reading import read_document
from kentrobar.exchange.targets import target_of
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.services import create_frame
from kentrobar.web.matching.models import FrameSet
from kentrobar.web.matching.services import ask, create_set
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.measuring.services import Taking, as_readings, record
from kentrobar.web.planning.models import Plan
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
    frame = _taken_in(by, request.frame)
    shelf = shelf_of(by)
    pieces = [_from_shelf(convert.piece(each), shelf) for each in request.pieces]
    name = f"Plan for {frame.label}"[:80]
    return create_plan(frame, by, name=name, axis_cm=request.axis_cm, pieces=numbered(pieces))


@transaction.atomic
def import_set(by: User, data: bytes) -> FrameSet:
    """Read a kentrobar/1 document of several frames into a set of the person's shop.

    Raises:
        DocumentError, OutlineError, KentrobarError: the document cannot be read, or is no set.
    """
    request = read_document(data, models.MatchRequest)
    read = [read_frame(document, f"frames.{i}") for i, document in enumerate(request.frames)]
    target = target_of(request, read)  # refuses what cannot be, with its path in the document
    frames = [_taken_in(by, document) for document in request.frames]
    made = create_set(frames, by)
    target = replace(target, setup=made.target.setup, chance=request.chance)
    chosen: dict[str, Any] = {"target": target.freed}
    if isinstance(request.target, models.TargetFrame):
        label = request.target.label
        index = next(i for i, each in enumerate(request.frames) if each.label == label)
        chosen |= {"kind": FrameSet.TargetKind.FRAME, "favourite_id": frames[index].pk}
    elif not target.is_free:
        chosen |= {"kind": FrameSet.TargetKind.WRITTEN, "target": target}
    ask(made, made.version, **chosen)
    return made


def is_of_a_set(data: bytes) -> bool:
    """Whether a document holds several frames rather than one; what cannot be read does not."""
    try:
        found = json.loads(data)
    except (ValueError, RecursionError):
        return False
    return isinstance(found, dict) and "frames" in found


def _taken_in(by: User, document: models.FrameDocument) -> Frame:
    dimensions = convert.dimensions(document)
    if dimensions is None:
        raise OutlineError(
            "frame.outline: it is missing; the board draws the frame from it. Add head_length_cm "
            "and head_width_cm for a racket, or width_cm for a paddle.",
            code="no_outline",
        )
    about = {"label": document.label[:80] or "Imported frame", "player": "", "mark": "", "notes": ""}
    frame = create_frame(by.own_shop, about=about, dimensions=dimensions, typed={})
    measured = convert.measured_specs(document.measured)
    record(frame, Taking(measured, document.measured.build, as_readings(measured)), by)
    return frame


def _from_shelf(piece: Piece, shelf: Shelf) -> Piece:
    """The piece as one of the shop's own material where the file's name is that of one."""
    found = next((stock for stock in shelf if stock.name == piece.material), None)
    return replace(piece, source=found.source) if found else piece
