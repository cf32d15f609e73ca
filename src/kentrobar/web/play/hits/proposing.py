"""A plan that moves the sweet zone, as its card: what planning tells of it, and where the hits then fall."""

from __future__ import annotations

from typing import Any, Final

from kentrobar.core.frame.outline import Sport
from kentrobar.core.play.hits import part_within
from kentrobar.core.play.impact import hit_frame
from kentrobar.core.play.strokes import USUAL_TWIST_KGCM2
from kentrobar.core.play.zone_plans import zone_moved_by
from kentrobar.core.quantities.units import LENGTH
from kentrobar.core.solving.proposals import Proposal
from kentrobar.web.kit.numbers import Units, written
from kentrobar.web.planning.wish.presenting import card
from kentrobar.web.play.hits.forms import ZoneForm
from kentrobar.web.play.impact.setting import Impact, told
from kentrobar.web.play.models import HitMap

TRIED_G: Final = {Sport.TENNIS: 10.0, Sport.PICKLEBALL: 5.0}


def weight_tried(impact: Impact, units: Units) -> dict[str, Any]:
    """By how much a few grams at each place of the frame move its zone: what weight can do at all."""
    outline, plan = impact.setting.outline, impact.plan
    grams = TRIED_G[outline.sport]
    tried = [
        (label, _signed(moved_cm, units))
        for label, moved_cm in zone_moved_by(grams, plan, impact.setting.zone)
    ]
    return {"grams": f"{units.mass_text(grams)} {units.mass}", "tried": tried}


def _signed(cm: float, units: Units) -> str:
    decimals = 2 if units.ruler == "in" else 0
    return f"{written(LENGTH.from_base(cm, units.ruler), decimals, signed=True)} {units.ruler}"


def zone_card(
    proposal: Proposal, *, form: ZoneForm, hit_map: HitMap, impact: Impact, units: Units, is_met: bool
) -> dict[str, Any]:
    """What the card's template is given; ``is_met``: the zone comes to lie where it was wanted."""
    frame, setting = hit_map.frame, impact.setting
    after = hit_frame(proposal.prediction, USUAL_TWIST_KGCM2[setting.outline.sport])
    was, now = (told(setting, each).zone_y_cm for each in (impact.before, after))
    parts = [part_within(hit_map.marked, setting.zone(each.body)) for each in (impact.before, after)]
    decimals = 2 if units.length == "in" else 1
    shown = card(proposal, form.shelf, frame, units, form.target())
    shown["proven"] = False  # the least was sought near a plan, to first order
    if not form.target().bands:
        shown["chance"] = ""
    return shown | {
        "frame": frame,
        "is_met": is_met,
        "ruler": units.length,
        "was": written(LENGTH.from_base(was.value, units.length), decimals),
        "now": written(LENGTH.from_base(now.value, units.length), decimals),
        "u": written(LENGTH.from_base(now.u, units.length), decimals),
        "part_was": f"{100 * parts[0]:.0f} %",
        "part_now": f"{100 * parts[1]:.0f} %",
        "has_hits": bool(hit_map.marked),
    }
