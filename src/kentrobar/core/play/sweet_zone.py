"""Where a hit goes well: the part of the face where rebound or ball speed is near its best.

Both fall to either side of one place at any height, since the frame twists. So at each height the zone is what
lies between two edges, which follow from the wanted rebound in closed form, cut off at the rim: where the
restitution falls with the square of the distance, they are the roots of a quadratic. Its area, centroid and size
are sums over heights a fifth of a millimetre apart.
"""

from __future__ import annotations

from functools import lru_cache
from typing import Final, NamedTuple

import numpy as np

from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.rim import Face
from kentrobar.core.play.impact import Array, Ball, FreeBody, StrokeSwing

PART_OF_BEST: Final = 0.9  # from here on a hit counts as a good one
_ASIDE_CM: Final = 2.0  # so far beside the long axis the best is looked for, with weight on one side alone
_TRIED: Final = 41  # places across
_COARSE: Final = 10  # every tenth height is enough to find the best
STEP_CM: Final = 0.02  # of the heights that a zone is summed over


class HittingFace(NamedTuple):
    """The face that meets the ball: heights from its bottom to its top, and half its width there, cm."""

    y_cm: Array
    half_width_cm: Array


class ZoneEdge(NamedTuple):
    """The two edges of a zone by heights, cm: where it begins on the left and ends on the right."""

    y_cm: Array
    left_cm: Array
    right_cm: Array


class SweetZone(NamedTuple):
    """The zone's centroid, its extent, and its edges."""

    y_cm: float
    height_cm: float
    width_cm: float
    area_cm2: float
    edge: ZoneEdge
    x_cm: float = 0.0


@lru_cache(maxsize=256)
def hitting_face(outline: Outline) -> HittingFace:
    """The string bed of a racket, the whole face of a paddle above its handle."""
    rim = outline.rim(Face.INNER if outline.sport is Sport.TENNIS else Face.OUTER)
    side = np.array(rim.polyline(0.0, rim.half_length, spacing=0.05))[::-1]  # from the bottom up
    bottom, top = side[0, 1], side[-1, 1]
    count = round((top - bottom) / STEP_CM)
    heights = bottom + (np.arange(count) + 0.5) * (top - bottom) / count
    return HittingFace(heights, np.interp(heights, side[:, 1], side[:, 0]))


def zone_of_rebound(
    body: FreeBody, ball: Ball, face: HittingFace, part: float = PART_OF_BEST
) -> SweetZone | None:
    """Where the rebound is at least a ``part`` of the best there is; None where no ball comes back."""
    best = float(np.max(body.apparent_restitution(ball, _tried_cm(body), _heights(body, face))))
    if best <= 0:
        return None
    return _zone(body, ball, face, np.full_like(face.y_cm, part * best))


def zone_of_speed(
    body: FreeBody, ball: Ball, swing: StrokeSwing, face: HittingFace, part: float = PART_OF_BEST
) -> SweetZone | None:
    """Where a ball leaves with at least a ``part`` of the greatest speed; None where none does."""
    best = float(np.max(body.ball_speed_ms(ball, swing, _tried_cm(body), _heights(body, face))))
    coming = body.face_speed_ms(swing, face.y_cm)
    meeting = coming + ball.speed_ms
    if best <= 0 or np.any(meeting <= 0):
        return None
    return _zone(body, ball, face, (part * best - coming) / meeting)


def _tried_cm(body: FreeBody) -> Array:
    """Where across the face its best may lie, cm: on the long axis, or near it with weight on one side alone."""
    return np.zeros(1) if body.is_even else np.linspace(-_ASIDE_CM, _ASIDE_CM, _TRIED)[:, None]


def _heights(body: FreeBody, face: HittingFace) -> Array:
    return face.y_cm if body.is_even else face.y_cm[::_COARSE]


def _zone(body: FreeBody, ball: Ball, face: HittingFace, wanted_rebound: Array) -> SweetZone:
    """Where a rebound is reached, which may be another at each height.

    (e - m/Me)/(1 + m/Me) reaches w where m·(1 + w)/Me - e + w is 0 or less: a quadratic in x at each height.
    """
    per_gram, per_gram_slope, per_gram_square = body.per_gram_terms(face.y_cm)
    left_over, falling = ball.fall.terms(face.y_cm)
    weight = ball.mass_g * (1 + wanted_rebound)
    constant = weight * per_gram - ball.restitution * left_over + wanted_rebound
    slope, square = weight * per_gram_slope, weight * per_gram_square - ball.restitution * falling
    under_root = slope**2 - 4 * square * constant
    root = np.sqrt(np.where(under_root > 0, under_root, 0.0))
    left = np.maximum((-slope - root) / (2 * square), -face.half_width_cm)
    right = np.minimum((-slope + root) / (2 * square), face.half_width_cm)
    inside = (under_root > 0) & (right > left)
    width = np.where(inside, right - left, 0.0)
    step = float(face.y_cm[1] - face.y_cm[0])
    return SweetZone(
        y_cm=float(width @ face.y_cm / width.sum()),
        height_cm=step * int(inside.sum()),
        width_cm=float(width.max()),
        area_cm2=step * float(width.sum()),
        edge=ZoneEdge(face.y_cm[inside], left[inside], right[inside]),
        x_cm=float(width @ np.where(inside, left + right, 0.0) / (2 * width.sum())),
    )
