"""The pieces of a plan as databases keep them: one codec, with its own version, apart from the public format.

Every piece says its version under ``v``. Version 1 is without: a document of the public format of its time,
whose clock was rounded.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import fields, replace
from types import MappingProxyType
from typing import Any, Final

from kentrobar.core.editing.plan import PlanPiece
from kentrobar.core.frame.clock import parse_clock
from kentrobar.core.frame.places import ClockPlace, HeightPlace, RimPlace
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate
from kentrobar.core.weight.pieces import Piece, Plug, PointPiece, RimStrip, Sleeve, Source, StringBed
from kentrobar.core.weight.pieces.piece import RemovalKind

VERSION: Final = 2
_KINDS: Final[Mapping[str, type[Piece]]] = MappingProxyType(
    {"rim": RimStrip, "point": PointPiece, "sleeve": Sleeve, "plug": Plug, "strings": StringBed}
)
_NAMES: Final = MappingProxyType({kind: name for name, kind in _KINDS.items()})


def numbered(pieces: Iterable[Piece]) -> tuple[PlanPiece, ...]:
    """Pieces that are new on a plan, numbered from 1."""
    return tuple(PlanPiece(number, piece) for number, piece in enumerate(pieces, 1))


def stored_pieces(placed: Iterable[PlanPiece]) -> list[dict[str, Any]]:
    """What is kept of a plan's pieces; :func:`read_pieces` reads it."""
    return [_stored(each) for each in placed]


def read_pieces(stored: Iterable[Mapping[str, Any]]) -> tuple[PlanPiece, ...]:
    """The pieces that were stored. Raises PieceError for those of a version that is not known here."""
    return tuple(_read(each) for each in stored)


def _stored(placed: PlanPiece) -> dict[str, Any]:
    source = placed.piece.source
    kept: dict[str, Any] = {
        "v": VERSION,
        "id": placed.number,
        "material": source.stock or None,
        "piece": _stored_piece(placed.piece),
    }
    if source.fitting:
        kept["fitting"] = source.fitting
        kept["accessory"] = source.accessory or None
        kept["deed"] = source.deed.value
    if placed.overruled:
        kept["overruled"] = sorted(placed.overruled)
    return kept


def _read(stored: Mapping[str, Any]) -> PlanPiece:
    if stored.get("v", 1) > VERSION:
        raise PieceError("This plan was stored by a newer version of the application.", code="newer_version")
    source = Source(
        stored.get("material") or 0,
        stored.get("fitting") or 0,
        stored.get("accessory") or 0,
        RemovalKind(stored.get("deed", "")),
    )
    piece = replace(_read_piece(stored["piece"]), source=source)
    return PlanPiece(stored["id"], piece, frozenset(stored.get("overruled", ())))


def _stored_piece(piece: Piece) -> dict[str, Any]:
    values = ((each.name, getattr(piece, each.name)) for each in fields(piece) if each.name != "source")
    kept = {name: _stored_value(value) for name, value in values if value is not NOT_MEASURED}
    return {"kind": _NAMES[type(piece)], **kept}


def _read_piece(stored: Mapping[str, Any]) -> Piece:
    values: dict[str, Any] = {
        name: _read_value(name, value) for name, value in stored.items() if name != "kind"
    }
    return _KINDS[stored["kind"]](**values)


def _stored_value(value: object) -> object:
    match value:
        case Estimate():
            return value._asdict()
        case ClockPlace():
            return {"minutes": value.minutes}
        case HeightPlace():
            return {"y_cm": value.y_cm}
        case Face():
            return value.value
    return value


def _read_value(name: str, stored: Any) -> object:
    if name == "at":
        return _read_place(stored)
    if name == "face":
        return Face(stored)
    return Estimate(stored["value"], stored["u"]) if isinstance(stored, dict) else stored


def _read_place(stored: Mapping[str, Any]) -> RimPlace:
    if "clock" in stored:  # version 1
        return ClockPlace(parse_clock(stored["clock"]))
    return ClockPlace(stored["minutes"]) if "minutes" in stored else HeightPlace(stored["y_cm"])
