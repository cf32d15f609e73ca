"""Rules of thumb in a person's units, and what their doses do to the frame at hand."""

from __future__ import annotations

import re
from dataclasses import dataclass, field, replace
from typing import Final

from kentrobar.core.editing.plan import PlanState
from kentrobar.core.play.advice import RuleOfThumb, tried_on
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import INERTIA, MASS
from kentrobar.web.kit.numbers import Units, beside_balance, read_specs, shown_specs, written
from kentrobar.web.play.advice.queries import HeldRule
from kentrobar.web.play.impact.asking import HitChoice
from kentrobar.web.play.impact.setting import Impact, impact_of
from kentrobar.web.play.impact.view_models import sentences
from kentrobar.web.play.models import ShopRule

LOW_PART: Final = 0.2  # of the face's height: what a ball low on it meets

_QUANTITY: Final = re.compile(r"\[([\d.]+)(?: to ([\d.]+))? (g|kg·cm²)\]")


def in_units(text: str, units: Units) -> str:
    """A rule's text with its quantities, which stand in square brackets, in a person's units."""

    def in_own_units(match: re.Match[str]) -> str:
        dimension, unit = (MASS, units.mass) if match[3] == "g" else (INERTIA, units.inertia)
        ends = [dimension.from_base(float(end), unit) for end in match.groups()[:2] if end]
        decimals = 0 if unit in ("g", "kg·cm²", "oz·in²") else 1 if ends[-1] > 2 else 2
        return f"{' to '.join(written(end, decimals) for end in ends)} {unit}"

    return _QUANTITY.sub(in_own_units, text)


@dataclass(frozen=True, slots=True)
class RuleView:
    """A rule as a page shows it; beside a frame with the frame's own specs and what the doses do to it."""

    key: str
    title: str
    topic: str
    own: ShopRule | None
    says: list[str]
    reason: str
    not_where: str
    specs: list[str] = field(default_factory=list)
    dose: str = ""
    effects: list[str] = field(default_factory=list)


def rule_view(held: HeldRule, units: Units) -> RuleView:
    """A rule by itself."""
    return RuleView(
        held.key,
        held.title,
        held.topic,
        held.own,
        [in_units(text, units) for text in held.says],
        in_units(held.reason, units),
        in_units(held.not_where, units),
    )


def rule_on_frame(held: HeldRule, plan: PlanState, choice: HitChoice, units: Units) -> RuleView:
    """A rule with what the frame at hand has to say to it."""
    view = rule_view(held, units)
    if held.rule is None:
        return view
    return replace(
        view,
        specs=_specs(held.rule, plan, units),
        dose=_dose(held.rule, units, plan),
        effects=_effects(held.rule, plan, choice, units),
    )


def _specs(rule: RuleOfThumb, plan: PlanState, units: Units) -> list[str]:
    specs = plan.prediction.after
    found = []
    for shown in read_specs(units):
        value = getattr(specs, shown.key)
        if shown.read_key in rule.shows and value:
            found.append(f"{shown.name.lower()} {shown.value(value)} {shown.unit}")
            if shown.is_balance:
                found.append(beside_balance(specs, units))
    return [text for text in found if text]


def _dose(rule: RuleOfThumb, units: Units, plan: PlanState) -> str:
    """What is tried, in words; the pieces of the trial carry the names of their places."""
    tried = tried_on(rule, plan)
    if tried is None:
        return ""
    added = tried.pieces[len(plan.pieces) :]
    return " and ".join(
        f"{units.mass_text(piece.total_mass_g)} {units.mass} more ({piece.label})" for piece in added
    )


def _effects(rule: RuleOfThumb, plan: PlanState, choice: HitChoice, units: Units) -> list[str]:
    tried = tried_on(rule, plan)
    if tried is None:
        return []
    change, was = tried.prediction.after, plan.prediction.after
    specs = []
    for spec in shown_specs(units):
        before, after = getattr(was, spec.key), getattr(change, spec.key)
        if before and after:
            by = spec.finer().change(Estimate(after.value - before.value))
            specs.append(f"{spec.name.lower()} {by} {spec.unit}")
    texts = [f"{', '.join(specs)}."] if specs else []
    try:
        impact = impact_of(tried, choice)
    except KentrobarError:
        return texts  # what a hit does needs more readings; the page says which
    low = _low(impact, units) if rule.looks_low else []
    return [*texts, *sentences(impact, units), *low]


def _low(impact: Impact, units: Units) -> list[str]:
    """How heavy the frame is to a ball low on the face, before and after."""
    face = impact.setting.face
    y = float(face.y_cm[0] + LOW_PART * (face.y_cm[-1] - face.y_cm[0]))
    was, now = (
        f"{units.mass_text(float(frame.body.effective_mass_g(0.0, y)))} {units.mass}"
        for frame in (impact.before, impact.after)
    )
    return [f"To a ball low on the face it is as heavy as {now}, before {was}."]
