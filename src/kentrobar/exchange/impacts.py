"""Answering ``impact``: what hits at points of the face do, before and after pieces are laid."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from kentrobar.core.play.impact import Array, Ball, FreeBody, StrokeSwing, hit_frame, require_swing
from kentrobar.core.play.sweet_zone import hitting_face, zone_of_rebound
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.weight.prediction import Prediction
from kentrobar.exchange import models
from kentrobar.exchange.frames import ReadFrame, read_frame, read_pieces, require_axis
from kentrobar.exchange.reading import DocumentError, at_path

OFF_FACE_CM = 1.0  # a hit so far beyond an edge is none on this frame


def answer_impact(request: models.ImpactRequest) -> models.ImpactAnswer:
    """What ``impact`` prints for this request.

    Raises:
        DocumentError: a frame, a piece, a swing or a point that cannot be; the path says which.
    """
    frame = read_frame(request.frame, "frame")
    require_axis(request.swing.axis_cm, frame, "swing")
    pieces = read_pieces(request.pieces, frame, request.swing.axis_cm, "pieces")
    try:
        prediction = frame.predict(pieces, request.swing.axis_cm)
    except KentrobarError as error:
        raise DocumentError("pieces", error.message) from None
    points = _points(request.points, frame)
    bare = frame.predict([], request.swing.axis_cm)
    before, after = (_impact(each, request, frame, points) for each in (bare, prediction))
    warnings = [*frame.warnings(), *prediction.warnings]
    return models.ImpactAnswer(before=before, after=after, warnings=warnings)


def _points(points: Sequence[Sequence[float]], frame: ReadFrame) -> Array:
    """The points as rows of x and y, all of them on the frame."""
    room = frame.room
    for i, (x, y) in enumerate(points):
        if abs(x) > room.width_cm / 2 + OFF_FACE_CM:
            raise DocumentError(f"points.{i}", f"x = {x:g} cm lies beside a frame {room.width_cm:g} cm wide.")
        if not -OFF_FACE_CM <= y <= frame.length_cm + OFF_FACE_CM:
            raise DocumentError(f"points.{i}", f"y = {y:g} cm lies off a frame {frame.length_cm:g} cm long.")
    return np.array(points, dtype=float).reshape(-1, 2)


def _impact(
    prediction: Prediction, request: models.ImpactRequest, frame: ReadFrame, points: Array
) -> models.ImpactOfFrame:
    ball = Ball(request.ball.mass_g, request.ball.restitution, request.ball.speed_ms)
    swing = StrokeSwing(request.swing.speed_ms, request.swing.axis_cm)
    with at_path("frame.measured"):
        body = hit_frame(prediction).body
    with at_path("swing"):
        require_swing(body, swing)
    return models.ImpactOfFrame(
        points=_answers(body, ball, swing, points),
        percussion_cm=body.percussion_cm(swing.axis_cm),
        sweet_zone=_zone(body, ball, frame),
    )


def _answers(body: FreeBody, ball: Ball, swing: StrokeSwing, points: Array) -> list[models.PointAnswer]:
    x, y = points.T
    columns = (
        body.effective_mass_g(x, y),
        body.apparent_restitution(ball, x, y),
        body.ball_speed_ms(ball, swing, x, y),
        body.twist_rad_s(ball, swing, x, y),
    )
    return [
        models.PointAnswer(
            effective_mass_g=mass, apparent_restitution=rebound, ball_speed_ms=speed, twist_rad_s=twist
        )
        for mass, rebound, speed, twist in zip(*(column.tolist() for column in columns), strict=True)
    ]


def _zone(body: FreeBody, ball: Ball, frame: ReadFrame) -> models.ZoneAnswer | None:
    if frame.outline is None:
        return None
    zone = zone_of_rebound(body, ball, hitting_face(frame.outline))
    if zone is None:
        return None
    return models.ZoneAnswer(y_cm=zone.y_cm, height_cm=zone.height_cm, width_cm=zone.width_cm)
