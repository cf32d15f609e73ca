"""Where a player hits: centre and spread of the hits on a face, how dense they lie, how many fall in a zone.

Hits scatter about a centre. Few of them tell their own scatter badly, so that it is pooled with a usual one;
the centre's ± is that scatter over the root of their number. The density is a sum of bells about the hits
(kernel density, Scott's rule for their width, with which a normal scatter is told best).

Positions in cm: x across the face, positive to the right seen from the front, y from the butt.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final, NamedTuple

import numpy as np

from kentrobar.core.play.impact import Array
from kentrobar.core.play.maps import FaceMap, face_grid
from kentrobar.core.play.sweet_zone import HittingFace, SweetZone
from kentrobar.core.quantities.estimates import Estimate

LEAST_HITS: Final = 5  # fewer tell no centre worth a number
USUAL_SPREAD_CM: Final = 4.0  # a rule of thumb of this project: how widely a club player's hits scatter
USUAL_WORTH: Final = 3  # hits that the usual scatter counts as
WELL_KNOWN_CM: Final = 0.5  # the ± of a centre from which on more hits hardly matter
MOST_HITS: Final = 1000
PARTS: Final = (0.5, 0.9)  # of further hits, by the density; of those marked more lie within


class Hit(NamedTuple):
    """One hit on the face."""

    x_cm: float
    y_cm: float


class HitCentre(NamedTuple):
    """The middle of the hits with its ±, and how widely single hits scatter about it."""

    x_cm: Estimate
    y_cm: Estimate
    across_cm: float
    along_cm: float


class Density(NamedTuple):
    """Hits per cm² over the face, for one hit, and the levels within which a part of all hits lies."""

    map: FaceMap
    levels: tuple[float, ...]


def hit_centre(hits: Sequence[Hit]) -> HitCentre | None:
    """The middle of the hits; None from fewer than :data:`LEAST_HITS`."""
    if len(hits) < LEAST_HITS:
        return None
    points = np.array(hits)
    middle, spread = points.mean(axis=0), _scatter(points)
    u = spread / math.sqrt(len(points))
    x, y = (Estimate(float(m), float(s)) for m, s in zip(middle, u, strict=True))
    return HitCentre(x, y, float(spread[0]), float(spread[1]))


def _scatter(points: Array) -> Array:
    """Standard deviation across and along, cm, pooled with the usual one."""
    squares = ((points - points.mean(axis=0)) ** 2).sum(axis=0)
    pooled = squares + USUAL_WORTH * USUAL_SPREAD_CM**2
    return np.asarray(np.sqrt(pooled / (len(points) - 1 + USUAL_WORTH)))


def hits_still_needed(centre: HitCentre, count: int) -> int:
    """How many more hits make the centre well known, if they scatter as the ``count`` so far do."""
    wide = max(centre.across_cm, centre.along_cm)
    return max(0, math.ceil((wide / WELL_KNOWN_CM) ** 2) - count)


def density(hits: Sequence[Hit], face: HittingFace) -> Density:
    """How dense the hits lie over the face; there must be one at least."""
    points = np.array(hits)
    width = _scatter(points) * len(points) ** (-1 / 6)
    grid = face_grid(face)
    across, along = (
        np.exp(-0.5 * ((axis[:, None] - points[:, i]) / width[i]) ** 2)
        for i, axis in enumerate((grid.x_cm, grid.y_cm))
    )
    values = along @ across.T / (2 * math.pi * width.prod() * len(points))
    return Density(grid._replace(values=values), _levels(values[grid.on_face]))


def _levels(values: Array) -> tuple[float, ...]:
    """The densities above which the wanted parts of all hits lie, the lowest first."""
    falling = np.sort(values)[::-1]
    reached = np.cumsum(falling) / falling.sum()
    return tuple(float(falling[np.searchsorted(reached, part)]) for part in sorted(PARTS, reverse=True))


def part_within(hits: Sequence[Hit], zone: SweetZone | None) -> float:
    """Which part of the hits, 0 to 1, falls within a zone; 0 where there is none."""
    if zone is None or not hits:
        return 0.0
    points = np.array(hits)
    x, y = points[:, 0], points[:, 1]
    left = np.interp(y, zone.edge.y_cm, zone.edge.left_cm, left=np.inf, right=np.inf)
    right = np.interp(y, zone.edge.y_cm, zone.edge.right_cm, left=-np.inf, right=-np.inf)
    return float(((left <= x) & (x <= right)).mean())


def is_on_face(hit: Hit, face: HittingFace) -> bool:
    """Whether a hit lies on the face."""
    if not face.y_cm[0] <= hit.y_cm <= face.y_cm[-1]:
        return False
    return abs(hit.x_cm) <= float(np.interp(hit.y_cm, face.y_cm, face.half_width_cm))
