"""Strokes to look at a frame with: how fast the face and the ball come. Starting points, to be changed.

All are rules of thumb of this project: what a practised player of a club does, not what anybody measured of
the person at hand. The speed of a face is that at its middle.
"""

from __future__ import annotations

from collections.abc import Mapping
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.outline import Outline
from kentrobar.core.play.impact import Ball, Fall, FreeBody, StrokeSwing
from kentrobar.core.play.sweet_zone import HittingFace
from kentrobar.core.quantities.estimates import Estimate


class Stroke(NamedTuple):
    """How a stroke is named, how fast the middle of the face and the ball come toward each other, m/s.

    ``axis_cm`` is where the swing turns as it meets the ball, from the butt, behind it below 0: near the wrist
    where that snaps, far behind where the whole arm comes. Nothing of it is the axis that swing weights are about.
    """

    title: str
    sport: Sport
    face_ms: float
    ball_ms: float
    axis_cm: Estimate


STROKES: Final[Mapping[str, Stroke]] = MappingProxyType(
    {
        "ground": Stroke("Ground stroke", Sport.TENNIS, 25.0, 15.0, Estimate(-5.0, 8.0)),
        "serve": Stroke("Serve", Sport.TENNIS, 35.0, 0.0, Estimate(3.0, 5.0)),
        "volley": Stroke("Volley", Sport.TENNIS, 8.0, 20.0, Estimate(-30.0, 15.0)),
        "drive": Stroke("Drive", Sport.PICKLEBALL, 16.0, 10.0, Estimate(-5.0, 8.0)),
        "punch": Stroke("Punch at the net", Sport.PICKLEBALL, 6.0, 14.0, Estimate(-20.0, 12.0)),
        "dink": Stroke("Dink", Sport.PICKLEBALL, 3.0, 4.0, Estimate(-40.0, 20.0)),
    }
)

# Mass and restitution against a face that is held still, by sport: a tennis ball on a string bed, a plastic
# ball with holes on a paddle. The latter falls with speed; this is that of a drive.
BALLS: Final[Mapping[Sport, tuple[float, float]]] = MappingProxyType(
    {Sport.TENNIS: (57.7, 0.85), Sport.PICKLEBALL: (25.0, 0.55)}
)

# Where nobody read it: the middle of what is usual, a rule of thumb, and said so wherever it is used.
USUAL_TWIST_KGCM2: Final[Mapping[Sport, Estimate]] = MappingProxyType(
    {Sport.TENNIS: Estimate(13.5, 1.2), Sport.PICKLEBALL: Estimate(6.3, 0.6)}
)


# Where the middle of the hand holds it, from the butt, by sport: for what a hit does to the hand.
HOLD_CM: Final[Mapping[Sport, float]] = MappingProxyType({Sport.TENNIS: 7.0, Sport.PICKLEBALL: 6.0})


def strokes_of(sport: Sport) -> dict[str, Stroke]:
    """The strokes of a sport by key, the usual one first."""
    return {key: stroke for key, stroke in STROKES.items() if stroke.sport is sport}


# By which part restitution is less at the frame than at the middle: the bed is stiffer there, and an edge gives
# hardly at all. Rules of thumb of this project, measured of no frame, and said so beside the map.
FALLS: Final[Mapping[Sport, float]] = MappingProxyType({Sport.TENNIS: 0.08, Sport.PICKLEBALL: 0.12})


def ball_of(sport: Sport, speed_ms: float) -> Ball:
    """A usual ball of the sport, coming so fast; off an even face."""
    mass_g, restitution = BALLS[sport]
    return Ball(mass_g, restitution, speed_ms)


def falling_off(ball: Ball, sport: Sport, face: HittingFace) -> Ball:
    """The same ball off a face that gives less toward the frame."""
    low, high = float(face.y_cm[0]), float(face.y_cm[-1])
    fall = Fall(FALLS[sport], (low + high) / 2, float(face.half_width_cm.max()), (high - low) / 2)
    return ball._replace(fall=fall)


def swing_of(face_ms: float, body: FreeBody, outline: Outline, axis_cm: float) -> StrokeSwing:
    """The swing about an axis that brings the middle of the face along so fast."""
    arm = (body.balance_cm - axis_cm) / (outline.centre_y_cm - axis_cm)
    return StrokeSwing(face_ms * arm, axis_cm)
