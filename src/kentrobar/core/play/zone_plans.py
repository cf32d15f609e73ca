"""Plans that move the sweet spot to where a player hits.

The zone's middle follows from the moments of the frame with its pieces, though not as a sum of theirs. Near a
plan it is one to first order, which the solver can be asked for; its answer is the next plan to start from.
A few such steps (successive linear programming) end at a plan whose zone, worked out anew, lies where it is
to lie, or show that none does.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import Final, NamedTuple

import numpy as np

from kentrobar.core.body.target import Target
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.frame.outline import Outline
from kentrobar.core.play.impact import FreeBody, HitFrame, hit_frame
from kentrobar.core.play.strokes import USUAL_TWIST_KGCM2
from kentrobar.core.play.sweet_zone import SweetZone
from kentrobar.core.play.what_if import places_tried
from kentrobar.core.solving.centring import MomentBand
from kentrobar.core.solving.proposals import LEAST, Proposal, propose_by
from kentrobar.core.solving.supply import Workpiece
from kentrobar.core.weight.pieces import Piece, product_of_inertia_gcm2
from kentrobar.core.weight.prediction import Prediction

GIVE_CM: Final = 0.2  # how far from its place the zone's middle may come to lie, unless said otherwise
MOST_STEPS: Final = 6
DRAWN_IN: Final = 0.95  # of what it may miss: the first order is not the whole
HALVINGS: Final = 4  # of the way to a place that is out of reach
_PART: Final = 2e-3  # of each moment, for the first differences: the zone is summed over a fine grid


@dataclass(frozen=True)
class WantedZone:
    """Where the zone's middle is to lie, cm from the butt, and how far off it may; how a zone is found."""

    zone: Callable[[FreeBody], SweetZone | None]
    y_cm: float
    give_cm: float

    def middle_cm(self, body: FreeBody) -> float:
        """Where the zone of a body has its middle; NaN where it has none."""
        zone = self.zone(body)
        return zone.y_cm if zone else math.nan

    def is_met(self, body: FreeBody) -> bool:
        """Whether a body's zone lies where it is to."""
        return abs(self.middle_cm(body) - self.y_cm) <= self.give_cm


class ZonePlan(NamedTuple):
    """A plan, and whether its zone lies where it is to: the nearest that was found where it does not."""

    proposal: Proposal
    is_met: bool


def propose_zone(key: str, work: Workpiece, target: Target, place: WantedZone) -> Proposal | None:
    """The plan of one school that moves the zone, within the bands of a target; None where none was found.

    Raises:
        SpecError: a spec that a hit needs, or that is aimed at, was never read.
    """
    at = hit_with(work.predict([], target.axis_cm), (), work.outline)
    for _ in range(MOST_STEPS):
        band = _linear(at, place)
        if band is None:
            return None
        found, _ = propose_by(key, replace(work, sums=(band,)), target)
        if found is None:
            return None
        at = hit_with(found.prediction, found.pieces, work.outline)
        if place.is_met(at.body):
            return found
    return None


def propose_nearest_zone(work: Workpiece, target: Target, place: WantedZone) -> ZonePlan | None:
    """The least weight that moves the zone there, or else as far on the way as was found to go."""
    found = propose_zone(LEAST, work, target, place)
    if found:
        return ZonePlan(found, True)
    nearest: Proposal | None = None
    now = hit_with(work.predict([], target.axis_cm), (), work.outline)
    reached, beyond = place.middle_cm(now.body), place.y_cm
    for _ in range(HALVINGS):
        middle = (reached + beyond) / 2
        plan = propose_zone(LEAST, work, target, replace(place, y_cm=middle))
        if plan:
            reached, nearest = middle, plan
        else:
            beyond = middle
    return ZonePlan(nearest, False) if nearest else None


def zone_moved_by(
    grams: float, plan: PlanState, zone: Callable[[FreeBody], SweetZone | None]
) -> list[tuple[str, float]]:
    """By how many cm so much weight at each named place would move a frame's zone toward the tip.

    Half of it lies on either side; what a plan lays already counts. Raises as :func:`propose_zone`.
    """
    start = zone(hit_frame_of(plan).body)
    found = []
    for site, placed in places_tried(plan, grams) if start else ():
        after = zone(hit_frame_of(placed).body)
        if start and after:
            found.append((site.label, after.y_cm - start.y_cm))
    return found


class ZoneReach(NamedTuple):
    """How far so much weight moves a frame's zone at the best places: toward the hand and toward the tip, cm."""

    grams: float
    to_hand_cm: float
    to_tip_cm: float

    def toward(self, gap_cm: float) -> float:
        """How far it comes the way of a gap, which is above 0 toward the tip, cm."""
        return max(self.to_tip_cm if gap_cm > 0 else -self.to_hand_cm, 0.0)


def zone_reach(grams: float, plan: PlanState, zone: Callable[[FreeBody], SweetZone | None]) -> ZoneReach:
    """How far so much weight moves a frame's zone. Raises as :func:`propose_zone`."""
    moved = [by_cm for _, by_cm in zone_moved_by(grams, plan, zone)]
    return ZoneReach(grams, min(moved, default=0.0), max(moved, default=0.0))


def hit_frame_of(plan: PlanState) -> HitFrame:
    """A plan's frame under a hit. Raises SpecError for a spec that a hit needs and nobody read."""
    return hit_with(plan.prediction, plan.pieces, plan.outline)


def hit_with(prediction: Prediction, pieces: Iterable[Piece], outline: Outline) -> HitFrame:
    """A frame with pieces on it under a hit; a usual twist weight stands for one that nobody read.

    Raises:
        SpecError: a spec that a hit needs was never read.
    """
    product = product_of_inertia_gcm2(pieces, outline)
    return hit_frame(prediction, USUAL_TWIST_KGCM2[outline.sport], product_gcm2=product)


def _linear(at: HitFrame, place: WantedZone) -> MomentBand | None:
    """The zone's middle near a frame as a sum of moments, between where it is to lie."""
    steps = [_PART * abs(moment) for moment in at.moments[:-1]]  # what lies aside does not move it
    slopes = at.slopes(lambda body: [place.middle_cm(body)], steps)[:, 0]
    if not np.all(np.isfinite(slopes)):
        return None
    band = MomentBand((*slopes.tolist(), 0.0), 0.0, 0.0)
    middle, give = band.of(at.moments) - place.middle_cm(at.body), DRAWN_IN * place.give_cm
    return band._replace(low=middle + place.y_cm - give, high=middle + place.y_cm + give)
