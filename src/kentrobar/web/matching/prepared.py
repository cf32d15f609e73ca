"""The frames of a set in one build, as the rules plan them, and what is to be said of each."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import Any, NamedTuple

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import AIMED, BALANCE, STATIC_WEIGHT, Specs
from kentrobar.core.body.target import Alike, Target
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.reading.likeness import Candidate
from kentrobar.core.solving.set_targets import Values, values_of
from kentrobar.core.solving.set_ways import SetWork
from kentrobar.core.solving.supply import Workpiece, supply_for
from kentrobar.core.weight.builds import Build, FittingKind
from kentrobar.core.weight.pieces import Piece
from kentrobar.core.weight.prediction import Prediction, as_measured, predict
from kentrobar.web.frames.baselines import baseline_of
from kentrobar.web.frames.builds import fittings_in, in_build, same_build
from kentrobar.web.frames.models import Frame, SpecSheet
from kentrobar.web.matching.models import FrameSet, SetMember
from kentrobar.web.measuring.comparing.table import FrameInSetup, compared
from kentrobar.web.planning.models import Plan


class PreparedFrame(NamedTuple):
    """One frame of a set in the set's build.

    ``measured`` is what is known of it there, ``note`` what is to be said of the turning; ``missing`` are the
    specs that the set asks for and nobody read of it.
    """

    member: SetMember
    turned: FrameInSetup
    measured: MeasuredSpecs
    values: Values
    missing: tuple[str, ...]

    @property
    def frame(self) -> Frame:
        return self.member.frame

    @property
    def specs(self) -> Specs:
        """Its specs in the set's build, about the set's axis."""
        return self.turned.specs

    @property
    def is_ready(self) -> bool:
        """Whether it is planned: not left out, and enough is known of it."""
        return not self.member.is_out and not self.is_unread

    @property
    def is_unread(self) -> bool:
        """Whether weight or a balance that is asked for is missing: nothing can be planned then."""
        return not {STATIC_WEIGHT.key, BALANCE.key}.isdisjoint(self.missing)

    def predict(self, pieces: Sequence[Piece]) -> Prediction:
        """What pieces make of it in the set's build, about the set's axis."""
        outline = self.frame.outline
        return predict(
            self.measured, pieces, length_cm=outline.length_cm, axis_cm=self.specs.axis_cm, outline=outline
        )


def prepared_frames(of: FrameSet) -> list[PreparedFrame]:
    """The frames of a set with their readings turned into its build, in the order they were taken in."""
    return prepare(of.members.all(), of.target)


def ready_frames(of: FrameSet) -> list[PreparedFrame]:
    """The frames of a set that are planned, as :func:`prepared_frames`."""
    return [each for each in prepared_frames(of) if each.is_ready]


def prepare(members: Iterable[SetMember], target: Target) -> list[PreparedFrame]:
    """Frames with their readings turned into the setup of a target, about its axis."""
    return [_prepared(member, target) for member in members]


def as_planned(of: FrameSet, each: PreparedFrame, plan: Plan) -> PreparedFrame:
    """A frame as it was when a plan was laid on it: the plan's weight is not yet in those readings."""
    if plan.specs is None or plan.specs == each.frame.specs:
        return each
    return _prepared(each.member, of.target, plan.specs)


def _prepared(member: SetMember, target: Target, sheet: SpecSheet | None = None) -> PreparedFrame:
    turned = _as_fitted_now(
        compared(member.frame, target.setup, target.axis_cm, sheet), target.axis_cm, sheet
    )
    measured = sheet.measured if sheet else member.frame.measured
    if turned.converted:
        measured = as_measured(turned.change.prediction)
    values = values_of(measured, target.axis_cm)
    targeted = [spec.key for spec in AIMED if spec.key in target.bands]
    needed = dict.fromkeys(["mass_g", *targeted])
    missing = tuple(name for name in needed if name not in values)
    return PreparedFrame(member, turned, measured, values, missing)


def _as_fitted_now(turned: FrameInSetup, axis_cm: float, sheet: SpecSheet | None) -> FrameInSetup:
    """The same with what is on the frame today, where its fittings changed since it was read."""
    frame = turned.frame
    sheet = sheet or frame.specs
    if sheet is None or turned.converted or turned.build == Build.MIX:
        return turned
    now = fittings_in(frame, turned.build)
    if sheet.fitting_ids is None or same_build(frame, sheet, now):
        return turned
    try:
        change = in_build(frame, turned.build, now, axis_cm, sheet)
    except KentrobarError as error:
        return turned._replace(note=error.message)
    note = "measured before its fittings changed; converted to what is on it now"
    return turned._replace(fitted=now, change=change, converted=True, note=note)


def works(of: FrameSet, frames: Sequence[PreparedFrame], shelf: Shelf) -> list[SetWork]:
    """Frames as workpieces with what there is to lay; a spec that was not read of one is left out for it."""
    options: dict[str, Any] = {"step_cm": of.step_cm, "layers": of.layers}
    for name, key in (("tape", of.tape_id), ("putty", of.putty_id)):
        if key is not None:
            options[name] = shelf.find(key)
    return [_work(of, each, shelf, options) for each in frames]


def _work(of: FrameSet, each: PreparedFrame, shelf: Shelf, options: dict[str, Any]) -> SetWork:
    baseline = replace(baseline_of(each.frame, each.frame.specs), measured=each.measured)
    supply = supply_for(shelf, baseline, **options)
    work = Workpiece(baseline, supply, allowed=each.member.allowed_in(of))
    is_kept = of.kind == FrameSet.TargetKind.FRAME and of.favourite_id == each.frame.pk
    is_kept = is_kept and of.target.alike is Alike.TO_TARGET
    return SetWork(work, is_kept, frozenset(each.missing))


def candidate(each: PreparedFrame) -> Candidate:
    """A frame as far as weight does not change it."""
    frame = each.frame
    strings = next((f.label for f in frame.fittings.all() if f.kind == FittingKind.STRINGS and f.is_on), "")
    handle = frame.get_handle_build_display()
    return Candidate(
        label=frame.label,
        dimensions=frame.dimensions,
        model=frame.model.name if frame.model else "",
        pattern=f"{frame.mains} × {frame.crosses}" if frame.mains and frame.crosses else "",
        strings=strings,
        stiffness=frame.stiffness,
        handle="" if frame.handle_build == Frame.HandleChoice.UNKNOWN else handle,
    )


def require_plannable(frames: Sequence[PreparedFrame]) -> list[PreparedFrame]:
    """The frames that can be planned together. Raises KentrobarError where they are not two at least."""
    ready = [each for each in frames if each.is_ready]
    if len(ready) < 2:
        raise KentrobarError(
            "A set needs at least two frames with weight and balance measured.", code="too_few"
        )
    return ready
