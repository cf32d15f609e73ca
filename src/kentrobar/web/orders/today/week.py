"""Week: what is put on which day, how much it takes, what lies on no day yet."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta

from kentrobar.core.bench.week import Hours, laid_out, week_of
from kentrobar.core.editing.shelf import Shelf
from kentrobar.web.orders.job_state import JobState
from kentrobar.web.orders.jobs.view_models import frames_text, in_fives, minutes_text, next_text
from kentrobar.web.orders.models import Job


@dataclass(frozen=True, slots=True)
class WeekCard:
    """A job as a card of the week; ``begins`` is when its work is reached on that day."""

    job: Job
    next: str
    minutes: str
    frames: str
    begins: datetime | None = None
    is_late: bool = False


@dataclass(frozen=True, slots=True)
class WeekDay:
    """A day with its cards, and how full it is, in percent of its hours."""

    day: date
    cards: list[WeekCard]
    is_today: bool
    is_open: bool
    needed: str
    open: str
    over: str
    fill: int


@dataclass(frozen=True, slots=True)
class WeekView:
    """A week at the bench, and the jobs that lie on no day of it."""

    days: list[WeekDay]
    aside: list[WeekCard]
    is_now: bool

    @property
    def monday(self) -> date:
        """Its first day."""
        return self.days[0].day

    @property
    def sunday(self) -> date:
        """Its last day."""
        return self.days[-1].day

    @property
    def before(self) -> date:
        """The Monday before."""
        return self.monday - timedelta(days=7)

    @property
    def after(self) -> date:
        """The Monday after."""
        return self.monday + timedelta(days=7)


def week_view(states: Sequence[JobState], shelf: Shelf, hours: Hours, day: date, today: date) -> WeekView:
    """The week of a day."""
    days = week_of(day)
    minutes: dict[int, float] = {
        each.job.pk: in_fives(each.minutes(shelf)) for each in states if each.stage.is_at_bench
    }
    of_bench = [each for each in states if each.job.pk in minutes]
    return WeekView(
        [_day(of_bench, minutes, hours, each, today) for each in days],
        [_card(each, minutes) for each in of_bench if _is_aside(each, days[0], today)],
        days[0] <= today <= days[-1],
    )


def _is_aside(state: JobState, monday: date, today: date) -> bool:
    """On no day, or on one that went by without it."""
    on = state.job.bench_on
    return on is None or on < min(monday, today)


def _day(
    states: Sequence[JobState], minutes: dict[int, float], hours: Hours, day: date, today: date
) -> WeekDay:
    there = [each for each in states if each.job.bench_on == day]
    there.sort(key=lambda each: (each.job.bench_order, each.job.number))
    found = laid_out(day, hours, [(each.job.pk, minutes[each.job.pk]) for each in there])
    return WeekDay(
        day=day,
        cards=[
            replace(_card(each, minutes), begins=slot.begins, is_late=slot.is_late)
            for each, slot in zip(there, found.slots, strict=True)
        ],
        is_today=day == today,
        is_open=found.open > 0,
        needed=minutes_text(found.needed),
        open=minutes_text(found.open),
        over=minutes_text(found.minutes_over) if found.minutes_over else "",
        fill=min(round(100 * found.needed / found.open), 100) if found.open else 0,
    )


def _card(state: JobState, minutes: dict[int, float]) -> WeekCard:
    job = state.job
    return WeekCard(job, next_text(state), minutes_text(minutes[job.pk]), frames_text(state))
