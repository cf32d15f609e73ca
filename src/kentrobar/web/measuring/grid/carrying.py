"""What is known of the specs that a new reading leaves out: carried over, not forgotten.

Nothing was laid since: as read, or converted into the build that is read now. Something was laid by a plan:
as the plan predicts, with its ±. Something was laid and nobody noted what: unknown.
"""

from __future__ import annotations

from dataclasses import dataclass

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.weight.builds import Fitting, change_build
from kentrobar.core.weight.prediction import as_measured
from kentrobar.web.frames.builds import fitted_at, require_distinct, same_build
from kentrobar.web.frames.hooks import AppliedSince
from kentrobar.web.frames.models import Frame


@dataclass(frozen=True)
class KnownSpecs:
    """Specs known without reading them anew, and where they come from."""

    measured: MeasuredSpecs
    source: str


@dataclass(frozen=True)
class Since:
    """What happened to a frame since it was read: whether weight was laid, and by which plan if noted."""

    was_changed: bool
    applied: AppliedSince | None


def carried_over(
    frame: Frame, since: Since, build: str, fitted: list[Fitting], axis_cm: float
) -> KnownSpecs | None:
    """What is known of a frame with ``fitted`` on it before it is read so; None where nothing is."""
    sheet = frame.specs
    if sheet is None or (since.was_changed and since.applied is None):
        return None
    start, source = sheet.measured, ""
    if since.was_changed and since.applied:
        start = as_measured(since.applied.state().prediction)
        source = f"as “{since.applied.name}” predicts"
    if same_build(frame, sheet, fitted):
        # Builds of different names with the same things on: nobody noted what tells them apart.
        return KnownSpecs(start, source) if sheet.build == build else None
    try:
        require_distinct(frame, sheet.build, build)
        changed = change_build(start, fitted_at(frame, sheet), fitted, outline=frame.outline, axis_cm=axis_cm)
    except KentrobarError:
        return None
    converted = f"converted from “{sheet.setup_text}”"
    return KnownSpecs(changed.measured, f"{source}, {converted}" if source else converted)
