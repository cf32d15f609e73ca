"""A frame of a job as it is now beside what it was to be: what is verified, signed off and told of it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from kentrobar.core.body.specs import READ_BY_KEY, Specs
from kentrobar.core.body.target import NOTHING_WANTED, Bands, Target
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.editing.stored import numbered, read_pieces, stored_pieces
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.solving.chance import chance_within
from kentrobar.core.weight.builds import Build, BuildChange
from kentrobar.core.weight.prediction import predict
from kentrobar.web.bench.queries import works
from kentrobar.web.bench.rounds import work_state
from kentrobar.web.frames.baselines import baseline_of, specs_about
from kentrobar.web.frames.builds import fittings_in, in_build
from kentrobar.web.frames.models import Frame, SpecSheet
from kentrobar.web.matching.targets import target_as_read
from kentrobar.web.orders.job_state import JobMember
from kentrobar.web.orders.models import SignOff


@dataclass(frozen=True)
class Outcome:
    """What became of a frame: the readings before and after, what was aimed at, what lies on it."""

    frame: Frame
    axis_cm: float
    before: SpecSheet | None
    sheet: SpecSheet | None
    target: Target
    applied: list[dict[str, object]]

    def specs_of(self, sheet: SpecSheet | None) -> Specs | None:
        """The specs of a sheet of readings in the setup of those before, about the axis that was worked to."""
        if sheet is None:
            return None
        if sheet == self.sheet and self._turned is not None:
            return self._turned.prediction.after
        return specs_about(self.frame, sheet, self.axis_cm)

    @property
    def is_turned(self) -> bool:
        """Whether it was read in another setup than before, and is turned into that."""
        return self._turned is not None

    @cached_property
    def _turned(self) -> BuildChange | None:
        before, sheet = self.before, self.sheet
        if before is None or sheet is None or Build.MIX in (before.build, sheet.build):
            return None
        if before.build == sheet.build:
            return None
        try:
            return in_build(
                self.frame, before.build, fittings_in(self.frame, before.build), self.axis_cm, sheet
            )
        except KentrobarError:  # nobody noted what is between the two
            return None

    @property
    def bands(self) -> Bands:
        """What each spec that is read was to lie within."""
        return {key: band for key, band in self.target.bands.items() if key in READ_BY_KEY}

    @cached_property
    def chance(self) -> float | None:
        """That all specs lie within; None where nothing was aimed at or nothing was read."""
        if not self.bands or self.sheet is None:
            return None
        if self._turned is not None:
            return chance_within(self._turned.prediction, self.bands)
        now = predict(self.sheet.measured, [], length_cm=self.frame.length_cm, axis_cm=self.axis_cm)
        return chance_within(now, self.bands)

    def is_within(self, key: str) -> bool | None:
        """Whether a spec reads within its tolerance; None where it has none or was not read."""
        return self._within.get(key)

    @cached_property
    def _within(self) -> dict[str, bool]:
        """Whether each spec that has a band and was read lies within it."""
        specs = self.specs_of(self.sheet)
        missed = self.target.miss(specs) if specs else {}
        return {key: not miss for key, miss in missed.items() if key in self.bands}

    @property
    def is_all_within(self) -> bool:
        """Whether no spec reads outside its tolerance."""
        return all(self.is_within(key) is not False for key in self.bands)

    @cached_property
    def plan(self) -> PlanState:
        """What lies on the frame, on the readings before."""
        pieces = read_pieces(self.applied)
        return PlanState(baseline_of(self.frame, self.before or self.sheet), "", self.axis_cm, pieces)


def outcome_of(member: JobMember) -> Outcome:
    """What became of a frame of a job by its last work at the bench; without one, as it is."""
    frame, sheet = member.frame, member.frame.specs
    axis_cm = frame.measured.axis_cm
    if member.work is None:
        laying, plan = member.laying, member.plan
        if not (laying and plan and member.needs_nothing):
            return Outcome(frame, axis_cm, None, sheet, NOTHING_WANTED, [])
        target = target_as_read(laying, plan)
        return Outcome(frame, target.axis_cm, plan.specs, sheet, target, [])
    work = works().get(pk=member.work.pk)
    try:
        applied = stored_pieces(numbered([piece for _, piece in work_state(work).done_pieces()]))
    except KentrobarError:  # its outline was changed since: the pieces have no place any more
        applied = []
    return Outcome(frame, work.target.axis_cm, work.specs, sheet, work.target, applied)


def signed_outcome(sign_off: SignOff, frame: Frame) -> Outcome:
    """What was signed off."""
    target = sign_off.target
    axis_cm = target.axis_cm if target else frame.measured.axis_cm
    return Outcome(frame, axis_cm, sign_off.before, sign_off.sheet, target, sign_off.applied)
