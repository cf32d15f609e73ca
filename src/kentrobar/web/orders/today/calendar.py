"""The calendar that a telephone or a mail program subscribes to, as iCalendar (RFC 5545)."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import date, datetime, timedelta

from django.utils import timezone
from icalendar import Calendar, Event

from kentrobar.core.bench.week import laid_out
from kentrobar.core.editing.shelf import Shelf
from kentrobar.web.orders.job_state import JobState
from kentrobar.web.orders.jobs.view_models import in_fives, next_text
from kentrobar.web.orders.models import Job
from kentrobar.web.shops.models import Shop


def calendar_of(shop: Shop, states: Sequence[JobState], to_ask: Sequence[Job], shelf: Shelf) -> bytes:
    """Hours at the bench, days promised, and players to ask."""
    calendar = Calendar()
    calendar.add("prodid", "-//Kentrobar//bench//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", shop.name)
    for event in (*_at_bench(shop, states, shelf), *_promised(states), *_to_ask(to_ask)):
        event.add("dtstamp", timezone.now())
        calendar.add_component(event)
    ical: bytes = calendar.to_ical()
    return ical


def _at_bench(shop: Shop, states: Sequence[JobState], shelf: Shelf) -> Iterator[Event]:
    by_key = {each.job.pk: each for each in states}
    for day in sorted({each.job.bench_on for each in states if each.job.bench_on}):
        there = [e for e in states if e.job.bench_on == day and e.stage.is_at_bench]
        there.sort(key=lambda each: (each.job.bench_order, each.job.number))
        work = [(each.job.pk, in_fives(each.minutes(shelf))) for each in there]
        for slot in laid_out(day, shop.hours, work).slots:
            state = by_key[slot.key]
            yield _event(
                state.job,
                "bench",
                f"{_name(state.job)}: {next_text(state)}",
                _aware(slot.begins),
                _aware(slot.ends),
            )


def _promised(states: Sequence[JobState]) -> Iterator[Event]:
    for state in states:
        day = state.job.promised_on
        if day is not None:
            text = f"{_name(state.job)}: promised"
            yield _event(state.job, "promised", text, day, day + timedelta(days=1))


def _to_ask(jobs: Sequence[Job]) -> Iterator[Event]:
    for job in jobs:
        day = job.follow_up_on
        if day is not None:
            text = f"{_name(job)}: ask how it plays"
            yield _event(job, "ask", text, day, day + timedelta(days=1))


def _event(job: Job, kind: str, text: str, begins: date | datetime, ends: date | datetime) -> Event:
    event = Event()
    event.add("uid", f"job-{job.pk}-{kind}@kentrobar")
    event.add("summary", text)
    event.add("dtstart", begins)
    event.add("dtend", ends)
    return event


def _name(job: Job) -> str:
    return f"{job}, {job.client}" if job.client else str(job)


def _aware(moment: datetime) -> datetime:
    return timezone.make_aware(moment)
