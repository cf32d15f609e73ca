"""What a plan means for a player who told of strain: a sentence, and smaller steps with their weeks."""

from __future__ import annotations

from collections.abc import Collection

from kentrobar.core.bench.cautions import Strain, strain_sentence
from kentrobar.core.bench.easing import eased
from kentrobar.core.editing.plan import PlanState
from kentrobar.web.kit.numbers import Units


def strain_text(
    plan: PlanState, strains: Collection[Strain], units: Units, *, to_player: bool = False
) -> str:
    """What stands on board, sheet and card; empty where nothing is laid, or nothing that strains."""
    if not plan.placed:
        return ""
    sentence = strain_sentence(plan, strains, to_player=to_player)
    before, after = plan.prediction.before, plan.prediction.after
    was, now = before.swingweight_kgcm2, after.swingweight_kgcm2
    if not (sentence and was and now):
        return sentence
    return " ".join(filter(None, [sentence, steps_text(was.value, now.value, units)]))


def steps_text(now_kgcm2: float, target_kgcm2: float, units: Units) -> str:
    """The steps up to a swing weight in words; empty where it is one."""
    steps = eased(now_kgcm2, target_kgcm2)
    if len(steps) < 2:
        return ""
    first, *later = [units.inertia_text(step.swingweight_kgcm2) for step in steps]
    weeks = [step.weeks for step in steps[1:]]
    later_texts = [f"{value} after {count} weeks" for value, count in zip(later, weeks, strict=True)]
    return f"Swing weight in steps: {first} first, {', '.join(later_texts)}."
