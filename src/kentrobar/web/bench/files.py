"""A work at the bench as a kentrobar/1 document: ``script/kentrobar rounds`` comes to the same numbers."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from kentrobar.core.body.specs import SWING_WEIGHT
from kentrobar.core.editing.stored import read_pieces
from kentrobar.exchange import convert, models
from kentrobar.web.bench.biases import biases_at_first, biases_of
from kentrobar.web.bench.models import BenchEvent
from kentrobar.web.bench.rounds import WorkState, reading_of
from kentrobar.web.planning.paper.files import exported

Kind = BenchEvent.EventKind


def export_work(state: WorkState) -> models.RoundsRequest:
    """The frame as it came, its target, and what was done and read in order.

    A piece that was moved is told as taken off and laid anew. That it was made permanent, how a swing was
    timed and what was learnt of a place have no word in the format: readings stand as they were read.
    """
    work = state.work
    frame = exported(state.plan, work.plan.frame, work.specs).frame
    build = frame.measured.build
    first = convert.measured_block(state.plan.measured, build, biases_at_first(work.specs))
    wanted = state.target
    target: dict[str, Any] = wanted.centres
    if SWING_WEIGHT.key in target:
        target[SWING_WEIGHT.key] = {"value": target[SWING_WEIGHT.key], "axis_cm": wanted.axis_cm}
    tolerances = {key: wanted.reach.get(key) for key in models.Tolerance.model_fields}
    return models.RoundsRequest.model_validate(
        {
            "format": "kentrobar/1",
            "frame": frame.model_copy(update={"measured": first}),
            "target": target,
            "tolerance": tolerances,
            "axis_cm": wanted.axis_cm,
            "chance": wanted.chance,
            "events": [entry for event in work.events.all() for entry in _events(state, event)],
        }
    )


def _events(state: WorkState, event: BenchEvent) -> Iterator[dict[str, object]]:
    key = str(event.piece)
    match Kind(event.kind):
        case Kind.LAID:
            piece = state.planned(event.piece or 0).piece
            yield {"laid": [{"id": key, "piece": convert.piece_document(piece)}]}
        case Kind.ADDED:
            piece = read_pieces([event.data])[0].piece
            yield {"laid": [{"id": key, "piece": convert.piece_document(piece)}]}
        case Kind.MOVED:
            piece = read_pieces([event.data])[0].piece
            yield {"taken_off": key}
            yield {"laid": [{"id": key, "piece": convert.piece_document(piece)}]}
        case Kind.TRIMMED:
            piece = read_pieces([event.data])[0].piece
            cut = {"length_cm": piece.extent_cm} if piece.is_strip else {"mass_g": piece.one_mass_g}
            yield {"trimmed": {"id": key} | cut}
        case Kind.TAKEN_OFF:
            yield {"taken_off": key}
        case Kind.READ:
            read = reading_of(event, state.work.target.axis_cm)
            yield {"read": convert.measured_block(read, "playing", biases_of(event))}
