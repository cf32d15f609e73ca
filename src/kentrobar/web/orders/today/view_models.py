"""What the home page is given."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Final

from kentrobar.core.bench.stages import Stage
from kentrobar.web.bench.models import BenchWork
from kentrobar.web.orders.job_state import JobState
from kentrobar.web.orders.jobs.view_models import NEXT, JobLine, day_text, line
from kentrobar.web.orders.models import Job

SOON_DAYS: Final = 7


@dataclass(frozen=True, slots=True)
class FollowUpLine:
    """A player to ask how it plays, and when."""

    job: Job
    when: str
    is_due: bool


@dataclass(frozen=True, slots=True)
class TodayView:
    """Brief next, what waits, whom to ask, what lies on the bench without a job."""

    today: date
    lines: list[JobLine]
    overdue: int
    due: int
    waiting: list[JobLine]
    to_ask: list[FollowUpLine]
    loose: list[tuple[BenchWork, str]]

    @property
    def is_empty(self) -> bool:
        """Whether there is nothing to do at all."""
        return not (self.lines or self.waiting or self.to_ask or self.loose)


def today_view(
    states: Sequence[JobState], to_ask: Sequence[Job], loose: Sequence[BenchWork], today: date
) -> TodayView:
    """The home page."""
    in_order = sorted(states, key=lambda each: _urgency(each.job))
    waiting = [each for each in in_order if each.job.waiting_for]
    going = [each for each in in_order if not each.job.waiting_for]
    return TodayView(
        today=today,
        lines=[line(each, today) for each in going],
        overdue=sum(each.job.is_overdue(today) for each in states),
        due=sum(each.job.promised_on == today for each in states),
        waiting=[line(each, today) for each in waiting],
        to_ask=[FollowUpLine(job, day_text(job.follow_up_on, today), is_due(job, today)) for job in to_ask],
        loose=[(work, NEXT[Stage(work.stage or Stage.FIT)]) for work in loose],
    )


def is_due(job: Job, today: date) -> bool:
    """Whether its player is to be asked by now."""
    return job.follow_up_on is not None and job.follow_up_on <= today


def until(today: date) -> date:
    """How far ahead the home page looks for players to ask."""
    return today + timedelta(days=SOON_DAYS)


def _urgency(job: Job) -> tuple[date, date, int]:
    return (job.promised_on or date.max, job.bench_on or date.max, job.number)
