"""Where a hit goes well: the part of the face where rebound or ball speed is near its best.

Both fall to either side of the long axis at any height, since the frame twists. So at each height the zone is
what lies within a half width, which follows from the wanted rebound in closed form, cut off at the rim; its
area, centroid and size are sums over heights a fifth of a millimetre apart.
"""

from __future__ import annotations

from functools import lru_cache
from typing import Final, NamedTuple

import numpy as np

from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.rim import Face
from kentrobar.core.play.impact import Array, Ball, FreeBody, StrokeSwing
from kentrobar.core.quantities.units import GCM2_PER_KGCM2

PART_OF_BEST: Final = 0.9  # from here on a hit counts as a good one
STEP_CM: Final = 0.02  # of the heights that a zone is summed over


class HittingFace(NamedTuple):
    """The face that meets the ball: heights from its bottom to its top, and half its width there, cm."""

    y_cm: Array
    half_width_cm: Array


class SweetZone(NamedTuple):
    """The zone's centroid, its extent, and its right edge by heights: it is alike on both sides."""

    y_cm: float
    height_cm: float
    width_cm: float
    area_cm2: float
    edge: HittingFace


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
    best = float(np.max(body.apparent_restitution(ball, 0.0, face.y_cm)))
    if best <= 0:
        return None
    return _zone(body, ball, face, np.full_like(face.y_cm, part * best))


def zone_of_speed(
    body: FreeBody, ball: Ball, swing: StrokeSwing, face: HittingFace, part: float = PART_OF_BEST
) -> SweetZone | None:
    """Where a ball leaves with at least a ``part`` of the greatest speed; None where none does."""
    best = float(np.max(body.ball_speed_ms(ball, swing, 0.0, face.y_cm)))
    coming = body.face_speed_ms(swing, face.y_cm)
    meeting = coming + ball.speed_ms
    if best <= 0 or np.any(meeting <= 0):
        return None
    return _zone(body, ball, face, (part * best - coming) / meeting)


def _zone(body: FreeBody, ball: Ball, face: HittingFace, wanted_rebound: Array) -> SweetZone:
    """Where a rebound is reached, which may be another at each height."""
    per_gram = (ball.restitution - wanted_rebound) / (1 + wanted_rebound) / ball.mass_g
    on_axis = 1 / body.effective_mass_g(0.0, face.y_cm)
    square = GCM2_PER_KGCM2 * body.twistweight_kgcm2 * (per_gram - on_axis)
    inside = square > 0
    half = np.minimum(np.sqrt(np.where(inside, square, 0.0)), face.half_width_cm)
    step = float(face.y_cm[1] - face.y_cm[0])
    return SweetZone(
        y_cm=float(half @ face.y_cm / half.sum()),
        height_cm=step * int(inside.sum()),
        width_cm=2 * float(half.max()),
        area_cm2=2 * step * float(half.sum()),
        edge=HittingFace(face.y_cm[inside], half[inside]),
    )
