"""A plan that moves the sweet spot, as its card: what planning tells of it, and where the hits then fall."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace
from typing import Final

from kentrobar.core.body.sport import Sport
from kentrobar.core.body.target import NOTHING_WANTED
from kentrobar.core.play.hits import part_within
from kentrobar.core.play.zone_plans import hit_with, zone_moved_by
from kentrobar.core.quantities.units import LENGTH
from kentrobar.core.solving.proposals import Proposal
from kentrobar.web.kit.numbers import Units, written
from kentrobar.web.planning.targets.view_models import ProposalView, proposal_view
from kentrobar.web.play.hits.forms import ZoneForm
from kentrobar.web.play.impact.setting import Impact, figures_of
from kentrobar.web.play.models import HitMap

TRIED_G: Final = {Sport.TENNIS: 10.0, Sport.PICKLEBALL: 5.0}


@dataclass(frozen=True, slots=True)
class WeightTried:
    """By how much so much weight at each place of the frame moves its zone: what weight can do at all."""

    grams: str
    tried: list[tuple[str, str]]


def weight_tried(impact: Impact, units: Units) -> WeightTried:
    """A few grams at each place in turn."""
    outline, plan = impact.setting.outline, impact.plan
    grams = TRIED_G[outline.sport]
    moved = zone_moved_by(grams, plan, impact.setting.zone)
    return WeightTried(
        f"{units.mass_text(grams)} {units.mass}", [(label, _signed(by_cm, units)) for label, by_cm in moved]
    )


def _signed(cm: float, units: Units) -> str:
    decimals = 2 if units.ruler == "in" else 0
    return f"{written(LENGTH.from_base(cm, units.ruler), decimals, signed=True)} {units.ruler}"


@dataclass(frozen=True, slots=True)
class ZonePlanView(ProposalView):
    """A proposal, with the zone and the hits within it before and after; ``is_met``: it lies as wanted."""

    is_met: bool
    ruler: str
    was: str
    now: str
    u: str
    part_was: str
    part_now: str
    has_hits: bool


def zone_plan_view(
    proposal: Proposal, *, form: ZoneForm, hit_map: HitMap, impact: Impact, units: Units, is_met: bool
) -> ZonePlanView:
    """A plan that moves the zone as its card shows it."""
    frame, setting = hit_map.frame, impact.setting
    after = hit_with(proposal.prediction, proposal.pieces, setting.outline)
    was, now = (figures_of(setting, each).zone_y_cm for each in (impact.before, after))
    parts = [part_within(hit_map.marked, setting.zone(each.body)) for each in (impact.before, after)]
    # Bands of the frame ready to play are none of the frame as it was read, on which the plan is placed.
    aim = form.target() if form.baseline.measured == frame.measured else NOTHING_WANTED
    shown = proposal_view(proposal, form.shelf, frame, units, aim)
    shown = replace(
        shown,
        proven=False,  # the least was sought near a plan, to first order
        chance=shown.chance if form.target().bands else "",
    )

    def length(cm: float) -> str:
        return written(LENGTH.from_base(cm, units.length), 2 if units.length == "in" else 1)

    return ZonePlanView(
        **{each.name: getattr(shown, each.name) for each in fields(shown)},
        is_met=is_met,
        ruler=units.length,
        was=length(was.value),
        now=length(now.value),
        u=length(now.u),
        part_was=f"{100 * parts[0]:.0f} %",
        part_now=f"{100 * parts[1]:.0f} %",
        has_hits=bool(hit_map.marked),
    )
