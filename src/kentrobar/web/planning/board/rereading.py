"""A frame that was read again since a plan was laid on it, beside what the plan predicted."""

from __future__ import annotations

from dataclasses import dataclass

from kentrobar.core.editing.plan import PlanState
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.rounds.rereading import RereadVerdict, reread
from kentrobar.web.frames.builds import in_build, same_build
from kentrobar.web.frames.models import SpecSheet
from kentrobar.web.kit.numbers import Units, shown_specs
from kentrobar.web.kit.spec_rows import SpecCell, SpecRow, gap_text, row_of, text_of
from kentrobar.web.planning.models import Plan

SENTENCES = {
    RereadVerdict.AS_PREDICTED: "It matches this plan's prediction within the ± of both: the pieces are on.",
    RereadVerdict.AS_BEFORE: "It is unchanged within the ± of both: the pieces are not on it yet.",
    RereadVerdict.EITHER: "The pieces change less than these readings can show.",
    RereadVerdict.NEITHER: "It matches neither the old reading nor the prediction. Look at the specs that differ.",
    RereadVerdict.UNKNOWN: "The new reading has no spec that this plan predicts.",
}


@dataclass(frozen=True, slots=True)
class Rereading:
    """What was read of a frame since its plan was laid, spec by spec, and what that says."""

    sheet: SpecSheet
    sentence: str
    rows: list[SpecRow]
    is_older: bool
    is_converted: bool = False
    is_odd: bool = False


def read_again(plan: Plan, state: PlanState, units: Units) -> Rereading | None:
    """What was read since, spec by spec; None where nothing was."""
    sheet = plan.frame.specs
    if sheet is None or sheet.pk == plan.specs_id:
        return None
    is_older = plan.specs is not None and sheet.taken_at < plan.specs.taken_at
    build = plan.specs.build if plan.specs else sheet.build
    try:
        read = in_build(plan.frame, build, state.baseline.fitted, plan.axis_cm, sheet).prediction.after
    except KentrobarError as error:
        return Rereading(sheet, error.message, [], is_older)
    found = reread(state.prediction, read)
    after, gaps = state.prediction.after, {each.key: each.from_predicted for each in found.specs}
    rows = [
        row_of(
            spec,
            SpecCell(
                text_of(spec, getattr(read, spec.key)),
                text_of(spec, getattr(after, spec.key)),
                gap=gap_text(spec, gaps[spec.key]),
            ),
        )
        for spec in shown_specs(units)
        if spec.key in gaps
    ]
    return Rereading(
        sheet,
        SENTENCES[found.found],
        rows,
        is_older,
        is_converted=not same_build(plan.frame, sheet, state.baseline.fitted),
        is_odd=found.found is RereadVerdict.NEITHER,
    )
