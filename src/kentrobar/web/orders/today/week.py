"""The week at the bench: what is put on which day, how much it takes, what lies on no day yet."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from typing import Any

from kentrobar.core.bench.week import Hours, laid_out, week_of
from kentrobar.core.editing.shelf import Shelf
from kentrobar.web.orders.jobs.presenting import in_fives, minutes_text, next_text
from kentrobar.web.orders.standing import JobState


def week_context(
    standings: Sequence[JobState], shelf: Shelf, hours: Hours, day: date, today: date
) -> dict[str, Any]:
    """The week of a day, for its template."""
    days = week_of(day)
    minutes: dict[int, float] = {
        each.job.pk: in_fives(each.minutes(shelf)) for each in standings if each.stage.is_at_bench
    }
    of_bench = [each for each in standings if each.job.pk in minutes]
    return {
        "days": [_day(of_bench, minutes, hours, each, today) for each in days],
        "aside": [_card(each, minutes) for each in of_bench if _is_aside(each, days[0], today)],
        "before": days[0] - timedelta(days=7),
        "after": days[0] + timedelta(days=7),
        "monday": days[0],
        "sunday": days[-1],
        "is_now": days[0] <= today <= days[-1],
    }


def _is_aside(standing: JobState, monday: date, today: date) -> bool:
    """On no day, or on one that went by without it."""
    on = standing.job.bench_on
    return on is None or on < min(monday, today)


def _day(
    standings: Sequence[JobState], minutes: dict[int, float], hours: Hours, day: date, today: date
) -> dict[str, Any]:
    there = [each for each in standings if each.job.bench_on == day]
    there.sort(key=lambda each: (each.job.bench_order, each.job.number))
    found = laid_out(day, hours, [(each.job.pk, minutes[each.job.pk]) for each in there])
    cards = [
        _card(each, minutes) | {"from": slot.begins, "is_late": slot.is_late}
        for each, slot in zip(there, found.slots, strict=True)
    ]
    return {
        "day": day,
        "cards": cards,
        "is_today": day == today,
        "is_open": found.open > 0,
        "needed": minutes_text(found.needed),
        "open": minutes_text(found.open),
        "over": minutes_text(found.minutes_over) if found.minutes_over else "",
        "fill": min(round(100 * found.needed / found.open), 100) if found.open else 0,
    }


def _card(standing: JobState, minutes: dict[int, float]) -> dict[str, Any]:
    job = standing.job
    return {
        "job": job,
        "next": next_text(standing),
        "minutes": minutes_text(minutes[job.pk]),
        "frames": ", ".join(member.frame.label for member in standing.members),
    }
