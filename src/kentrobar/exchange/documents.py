"""Answering ``predict``, ``pendulum`` and ``recording``."""

from __future__ import annotations

from typing import Any

from kentrobar.core.body.limits import require_conceivable
from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import BALANCE, STATIC_WEIGHT
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.reading.checks import unusual_anywhere
from kentrobar.core.reading.columns import read_recording
from kentrobar.core.reading.pendulum import pendulum, require_one_swing
from kentrobar.core.reading.recordings import swing_in
from kentrobar.core.reading.timing import Timing
from kentrobar.core.weight.prediction import piece_changes
from kentrobar.exchange import convert, models
from kentrobar.exchange.frames import read_frame, read_pieces, require_axis
from kentrobar.exchange.reading import DocumentError


def answer_predict(request: models.PredictRequest) -> models.PredictAnswer:
    """What ``predict`` prints for this request.

    Raises:
        DocumentError: dimensions, readings or pieces that cannot be; the path says which.
    """
    frame = read_frame(request.frame, "frame")
    require_axis(request.axis_cm, frame)
    pieces = read_pieces(request.pieces, frame, request.axis_cm, "pieces")
    try:
        prediction = frame.predict(pieces, request.axis_cm)
    except KentrobarError as error:
        raise DocumentError("pieces", error.message) from None
    setting: Any = {"length_cm": frame.length_cm, "axis_cm": request.axis_cm, "outline": frame.outline}
    changes = piece_changes(frame.measured, pieces, **setting)
    return models.PredictAnswer(
        before=convert.specs_document(prediction.before),
        after=convert.specs_document(prediction.after),
        change=convert.specs_document(prediction.change),
        pieces=[
            models.PieceChange(label=piece.label, change=convert.specs_document(change))
            for piece, change in zip(pieces, changes, strict=True)
        ],
        warnings=[*frame.warnings(), *prediction.warnings],
    )


def answer_recording(data: bytes) -> models.RecordingAnswer:
    """What ``recording`` prints of a file of a sensor, a camera or a light gate.

    Raises:
        NoSwingError: the file holds no swing; says why.
    """
    recording = read_recording(data)
    found = swing_in(recording)
    if isinstance(found, Timing):
        both_ways = "Two passes are taken as one swing, there and back."
        return models.RecordingAnswer(
            period_s=convert.value(found.period_s),
            amplitude_deg=None,
            damping_per_s=None,
            swings=found.swings,
            signal="passes",
            notes=[*recording.notes, both_ways],
        )
    amplitude = found.amplitude_deg
    return models.RecordingAnswer(
        period_s=convert.value(found.period_s),
        amplitude_deg=convert.value(amplitude) if amplitude else None,
        damping_per_s=found.damping_per_s,
        swings=found.swings,
        signal=found.signal,
        notes=list(found.notes),
    )


def answer_pendulum(request: models.PendulumRequest) -> models.PendulumAnswer:
    """What ``pendulum`` prints for this request.

    Raises:
        DocumentError: quantities that no swinging frame can have; the path says which.
    """
    several = request.periods_s is not None
    try:
        if request.periods_s is not None:
            require_one_swing(request.periods_s)
        reading = convert.pendulum_reading(request)
        for spec, quantity in ((STATIC_WEIGHT, reading.mass_g), (BALANCE, reading.balance_cm)):
            require_conceivable(spec, quantity)
        answer = pendulum(reading, request.axis_cm)
    except KentrobarError as error:
        field = "periods_s" if several and error.field == "period_s" else error.field
        raise DocumentError(field, error.message) from None
    found = MeasuredSpecs(reading.mass_g, reading.balance_cm, answer.swingweight_kgcm2, answer.axis_cm)
    return convert.pendulum_document(answer, [q.message for q in unusual_anywhere(found)])
