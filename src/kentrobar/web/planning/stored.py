"""Plans between the database and the rules."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from typing import Any

from pydantic import ConfigDict, TypeAdapter

from kentrobar.core.editing.plan import PlanPiece, PlanState
from kentrobar.core.weight.pieces import Piece, Source
from kentrobar.core.weight.pieces.piece import RemovalKind
from kentrobar.exchange import convert, models
from kentrobar.web.frames.baselines import baseline_of
from kentrobar.web.planning.models import Plan

_DOCUMENT: TypeAdapter[models.AnyPiece] = TypeAdapter(models.AnyPiece, config=ConfigDict(defer_build=True))


def laid_plan(plan: Plan) -> PlanState:
    """The plan as the rules know it, on the readings that it starts from."""
    baseline = baseline_of(plan.frame, plan.specs)
    return PlanState(baseline, plan.name, plan.axis_cm, read_pieces(plan.pieces), plan.target)


def read_pieces(stored: Iterable[dict[str, Any]]) -> tuple[PlanPiece, ...]:
    """The pieces of a plan from the database."""
    return tuple(
        PlanPiece(item["id"], _read_piece(item), frozenset(item.get("overruled", ()))) for item in stored
    )


def _read_piece(item: dict[str, Any]) -> Piece:
    piece = convert.piece(_DOCUMENT.validate_python(item["piece"]))
    source = Source(
        item.get("material") or 0,
        item.get("fitting") or 0,
        item.get("accessory") or 0,
        RemovalKind(item.get("deed", "")),
    )
    return replace(piece, source=source)


def stored_pieces(laid: Iterable[PlanPiece]) -> list[dict[str, Any]]:
    """What is kept in the database; the inverse of :func:`read_pieces`."""
    return [_stored(each) for each in laid]


def _stored(laid: PlanPiece) -> dict[str, Any]:
    piece = laid.piece
    kept: dict[str, Any] = {
        "id": laid.number,
        "material": piece.source.stock or None,
        "piece": convert.piece_document(piece).model_dump(exclude_none=True),
    }
    if piece.source.fitting:
        kept["fitting"] = piece.source.fitting
        kept["accessory"] = piece.source.accessory or None
        kept["deed"] = piece.source.deed.value
    if laid.overruled:
        kept["overruled"] = sorted(laid.overruled)
    return kept


def numbered(pieces: Iterable[Piece]) -> tuple[PlanPiece, ...]:
    """Pieces that are new on a plan, numbered from 1."""
    return tuple(PlanPiece(number, piece) for number, piece in enumerate(pieces, 1))
