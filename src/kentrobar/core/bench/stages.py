"""Next up in a job: told by what was done, never ticked.

A job's frames go through the same stages, each at its own pace; the job stands where its last frame stands.
Minutes are the project's own estimates of careful work by one practised hand, as in ``appraisal``.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import datetime
from enum import StrEnum
from types import MappingProxyType
from typing import Final, NamedTuple, Protocol, Self, TypeVar


class Stage(StrEnum):
    """Brief next, in the order of the work."""

    TAKE_IN = "take_in"  # no frame is named yet
    MEASURE = "measure"
    PLAN = "plan"
    FIT = "fit"
    READ = "read"
    TRIM = "trim"
    PERMANENT = "permanent"
    VERIFY = "verify"
    CALL = "call"
    HAND_OVER = "hand_over"
    FOLLOW_UP = "follow_up"
    DONE = "done"

    @property
    def is_at_bench(self) -> bool:
        """Whether a hand has to do something to a frame."""
        return _AT[self] < _AT[Stage.CALL]

    def is_before(self, other: Stage) -> bool:
        """Whether it comes before another in the order of the work."""
        return _AT[self] < _AT[other]


_AT: Final[Mapping[Stage, int]] = MappingProxyType({stage: i for i, stage in enumerate(Stage)})


class Step(StrEnum):
    """The steps of a job as a client knows them; a stage is where within one of them it stands."""

    CHECK_IN = "check_in"
    MEASURE = "measure"
    PLAN = "plan"
    APPLY = "apply"
    SIGN_OFF = "sign_off"
    COLLECT = "collect"

    def is_before(self, other: Step) -> bool:
        """Whether it comes before another."""
        return list(Step).index(self) < list(Step).index(other)


STEP_OF: Final[Mapping[Stage, Step]] = MappingProxyType(
    {
        Stage.TAKE_IN: Step.CHECK_IN,
        Stage.MEASURE: Step.MEASURE,
        Stage.PLAN: Step.PLAN,
        Stage.FIT: Step.APPLY,
        Stage.READ: Step.APPLY,
        Stage.TRIM: Step.APPLY,
        Stage.PERMANENT: Step.APPLY,
        Stage.VERIFY: Step.SIGN_OFF,
        Stage.CALL: Step.COLLECT,
        Stage.HAND_OVER: Step.COLLECT,
    }
)  # a job that was collected has no step left

# What a stage takes, beside what the pieces of its plan take to lay; minutes.
MINUTES: Final[Mapping[Stage, float]] = MappingProxyType(
    {
        Stage.TAKE_IN: 5.0,
        Stage.MEASURE: 8.0,
        Stage.PLAN: 10.0,
        Stage.READ: 5.0,
        Stage.TRIM: 5.0,
        Stage.PERMANENT: 6.0,
        Stage.VERIFY: 5.0,
    }
)
MINUTES_TO_APPLY: Final = 15.0  # where there is no plan yet


class FrameFacts(NamedTuple):
    """What is known of one frame of a job.

    ``bench`` is what its work at the bench asks for next; None where its plan was not taken there.
    """

    is_read: bool
    has_plan: bool
    bench: Stage | None = None
    is_signed_off: bool = False


class JobFacts(NamedTuple):
    """What was done about a whole job."""

    is_notified: bool = False  # the client knows that it is ready
    is_handed_over: bool = False
    is_follow_up_wanted: bool = False
    is_followed_up: bool = False


class WorkFacts(NamedTuple):
    """The last work on a frame's plan at the bench, and the stage it left off at."""

    stage: Stage
    started_at: datetime
    ended_at: datetime | None = None

    @classmethod
    def of(cls, stage: str | None, started_at: datetime, ended_at: datetime | None) -> Self:
        """From what is stored; a work without a stage has just begun."""
        return cls(Stage(stage or Stage.FIT), started_at, ended_at)


def bench_stage(work: WorkFacts | None, read_at: datetime | None, *, needs_nothing: bool) -> Stage | None:
    """What the bench asks for next of a frame that was read at ``read_at``; None where nothing was begun.

    ``needs_nothing``: its set needs no weight on it.
    """
    if work is None:
        return Stage.VERIFY if needs_nothing else None
    if work.ended_at and read_at and read_at > work.ended_at:
        return Stage.VERIFY  # it was read since
    return work.stage


def counts_as_signed_off(signed_off_at: datetime | None, work: WorkFacts | None) -> bool:
    """Whether the last sign-off still counts: not once a work was begun after it."""
    return signed_off_at is not None and not (work and work.started_at > signed_off_at)


class Planned(Protocol):
    """What is known of a plan where one is chosen among several."""

    @property
    def pk(self) -> int: ...
    @property
    def is_archived(self) -> bool: ...
    @property
    def changed_at(self) -> datetime: ...


AnyPlan = TypeVar("AnyPlan", bound=Planned)


def plan_meant(plans: Iterable[AnyPlan], chosen: int | None, since: datetime) -> AnyPlan | None:
    """The plan chosen for a frame of a job, else the first in use that was changed since the job was taken.

    ``plans`` come latest first.
    """
    if chosen:
        return next((plan for plan in plans if plan.pk == chosen), None)
    return next((plan for plan in plans if not plan.is_archived and plan.changed_at >= since), None)


def stage_of_frame(facts: FrameFacts) -> Stage:
    """What one frame needs next; signed off, it needs nothing more at the bench."""
    if facts.is_signed_off:
        return Stage.CALL
    if not facts.is_read:
        return Stage.MEASURE
    if not facts.has_plan:
        return Stage.PLAN
    return facts.bench or Stage.FIT


def stage_of_job(facts: JobFacts, frames: Iterable[Stage]) -> Stage:
    """What a job needs next: what its last frame needs, then what its client needs."""
    if facts.is_handed_over:
        is_waiting = facts.is_follow_up_wanted and not facts.is_followed_up
        return Stage.FOLLOW_UP if is_waiting else Stage.DONE
    last = min(frames, key=_AT.__getitem__, default=Stage.TAKE_IN)
    if last.is_at_bench:
        return last
    return Stage.HAND_OVER if facts.is_notified else Stage.CALL


def minutes_left(stage: Stage, to_apply: float | None = None) -> float:
    """What a frame still takes at the bench from this stage on, minutes.

    ``to_apply`` is what its plan's pieces take; None where it has no plan yet.
    """
    rest = sum(MINUTES.get(each, 0.0) for each in Stage if not each.is_before(stage))
    if Stage.FIT.is_before(stage):
        return rest
    return rest + (MINUTES_TO_APPLY if to_apply is None else to_apply)
