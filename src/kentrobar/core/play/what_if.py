"""A frame with so much weight at a named place, to see what it does there."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from kentrobar.core.editing.plan import PlanPiece, PlanState
from kentrobar.core.frame.sites import Site, sites_of
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.weight.pieces import PointPiece


def with_weight_at(plan: PlanState, grams: float, site: Site) -> PlanState:
    """A plan with a compact weight more at a site, half of it on either side."""
    pair = PointPiece(
        label=site.label, mass_g=Estimate(grams / 2), y_cm=site.y_cm, x_cm=site.x_cm, mirrored=True
    )
    number = 1 + max((each.number for each in plan.placed), default=0)
    return replace(plan, placed=(*plan.placed, PlanPiece(number, pair)))


def places_tried(plan: PlanState, grams: float) -> Iterator[tuple[Site, PlanState]]:
    """Each named site of a plan's frame, with the plan that has so much more there."""
    for site in sites_of(plan.outline, plan.measured.balance_cm):
        yield site, with_weight_at(plan, grams, site)
