"""Where jobs stand: told by what was read, planned, done at the bench and signed off."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property

from kentrobar.core.bench.appraisal import Use, appraise
from kentrobar.core.bench.stages import (
    FrameFacts,
    JobFacts,
    Stage,
    WorkFacts,
    bench_stage,
    counts_as_signed_off,
    minutes_left,
    plan_meant,
    stage_of_frame,
    stage_of_job,
)
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.editing.stored import read_pieces
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.estimates import NOT_MEASURED, Amount, NotMeasured
from kentrobar.web.bench.models import BenchWork
from kentrobar.web.frames.models import Frame
from kentrobar.web.matching.models import SetLaying
from kentrobar.web.orders.models import Job, JobFrame, SignOff
from kentrobar.web.planning.models import Plan


@dataclass(frozen=True)
class JobMember:
    """One frame of a job: the plan that is meant for it, the last work on that plan, its sign-off."""

    row: JobFrame
    plan: Plan | None
    work: BenchWork | None
    sign_off: SignOff | None

    @property
    def frame(self) -> Frame:
        return self.row.frame

    @cached_property
    def stage(self) -> Stage:
        """What it needs next."""
        facts = FrameFacts(
            is_read=self.frame.specs is not None,
            has_plan=self.plan is not None,
            bench=self._bench,
            is_signed_off=self.sign_off is not None,
        )
        return stage_of_frame(facts)

    @property
    def _bench(self) -> Stage | None:
        sheet = self.frame.specs
        read_at = sheet.taken_at if sheet else None
        return bench_stage(_facts_of(self.work), read_at, needs_nothing=self.needs_nothing)

    @property
    def laying(self) -> SetLaying | None:
        """What its plan was laid for in one go with others, where it was."""
        return next(iter(self.plan.set_layings.all()), None) if self.plan else None

    @property
    def needs_nothing(self) -> bool:
        """Whether its set needs nothing of it: it is as the others are to become."""
        return self.plan is not None and not self.plan.pieces and self.laying is not None

    def use(self, shelf: Shelf) -> tuple[float, Amount]:
        """Minutes to lay its plan, and what that takes of material; none known where there is no plan."""
        if self.plan is None:
            return 0.0, NOT_MEASURED
        try:
            uses = [Use(p.piece, shelf.of(p.piece)) for p in read_pieces(self.plan.pieces)]
            found = appraise(uses, self.frame.outline)
        except KentrobarError:  # its outline was changed since: the pieces have no place any more
            return 0.0, NOT_MEASURED
        return found.minutes, found.money

    def minutes(self, shelf: Shelf) -> float:
        """What it still takes at the bench."""
        if not self.stage.is_at_bench:
            return 0.0
        return minutes_left(self.stage, self.use(shelf)[0] if self.plan else None)


@dataclass(frozen=True)
class JobState:
    """A job, where its frames stand, and so where it stands."""

    job: Job
    members: Sequence[JobMember]

    @cached_property
    def stage(self) -> Stage:
        """What the job needs next."""
        job = self.job
        facts = JobFacts(
            is_notified=job.notified_at is not None,
            is_handed_over=job.handed_over_at is not None,
            is_follow_up_wanted=job.follow_up_on is not None,
            is_followed_up=job.followed_up_at is not None,
        )
        return stage_of_job(facts, [member.stage for member in self.members])

    @property
    def next_ones(self) -> list[JobMember]:
        """The frames that need what the job needs next."""
        return [member for member in self.members if member.stage is self.stage]

    def minutes(self, shelf: Shelf) -> float:
        """What it still takes at the bench: as a person said, else as its frames and plans tell."""
        if self.job.minutes is not None:
            return float(self.job.minutes)
        return sum(member.minutes(shelf) for member in self.members)

    def whole_minutes(self, shelf: Shelf) -> float:
        """What it takes at the bench from the first reading to the last, whatever of it is done."""
        if self.job.minutes is not None:
            return float(self.job.minutes)
        return sum(
            minutes_left(Stage.MEASURE, each.use(shelf)[0] if each.plan else None) for each in self.members
        )

    def material(self, shelf: Shelf) -> Amount:
        """What its plans take of material, in the shop's currency; not known where a price is missing."""
        costs = [member.use(shelf)[1] for member in self.members]
        known = [cost for cost in costs if not isinstance(cost, NotMeasured)]
        return sum(known) if costs and len(known) == len(costs) else NOT_MEASURED


def job_state(job: Job) -> JobState:
    """Where a job stands; its frames are fetched with all that tells it."""
    return JobState(job, [_member(job, row) for row in job.members.all()])


def job_states(jobs: Iterable[Job]) -> list[JobState]:
    """The same of many."""
    return [job_state(job) for job in jobs]


def _member(job: Job, row: JobFrame) -> JobMember:
    plan = plan_meant(row.frame.plans.all(), row.plan_id, job.created_at)
    works = list(plan.works.all()) if plan else []
    work = works[0] if works else None
    return JobMember(row, plan, work, _sign_off(row, work))


def _facts_of(work: BenchWork | None) -> WorkFacts | None:
    return WorkFacts.of(work.stage, work.started_at, work.ended_at) if work else None


def _sign_off(row: JobFrame, work: BenchWork | None) -> SignOff | None:
    """The last sign-off, unless it was worked on since."""
    last = next(iter(row.sign_offs.all()), None)
    return last if last and counts_as_signed_off(last.made_at, _facts_of(work)) else None
