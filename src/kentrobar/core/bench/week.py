"""A bench's days: what was put on each, when it begins and ends, and what no longer fits its hours."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, datetime, time, timedelta
from typing import Final, NamedTuple

DAYS: Final = 7


class Hours(NamedTuple):
    """When the bench is worked at: from, to, on which days of the week (0: Monday)."""

    opens: time = time(9)
    closes: time = time(17)
    days: frozenset[int] = frozenset(range(5))

    def minutes_on(self, day: date) -> float:
        """How long it is open on a day, minutes."""
        if day.weekday() not in self.days:
            return 0.0
        return (_at(day, self.closes) - _at(day, self.opens)) / timedelta(minutes=1)


class Slot(NamedTuple):
    """When something is worked on; ``is_late``: it ends after the bench closes."""

    key: int
    begins: datetime
    ends: datetime
    is_late: bool


class Day(NamedTuple):
    """One day at the bench: what is worked on one after the other, minutes needed and open."""

    day: date
    slots: tuple[Slot, ...]
    needed: float
    open: float

    @property
    def minutes_over(self) -> float:
        """How much more is on it than fits, minutes."""
        return max(self.needed - self.open, 0.0)


def week_of(day: date) -> list[date]:
    """The seven days of a day's week, Monday first. Raises OverflowError at the ends of the calendar."""
    monday = day - timedelta(days=day.weekday())
    return [monday + timedelta(days=i) for i in range(DAYS)]


def laid_out(day: date, hours: Hours, work: Iterable[tuple[int, float]]) -> Day:
    """A day's work one after the other from when the bench opens; ``work`` is key and minutes."""
    slots = []
    at, closes = _at(day, hours.opens), _at(day, hours.closes)
    is_closed = day.weekday() not in hours.days
    total = 0.0
    for key, minutes in work:
        ends = at + timedelta(minutes=minutes)
        slots.append(Slot(key, at, ends, is_closed or ends > closes))
        at, total = ends, total + minutes
    return Day(day, tuple(slots), total, hours.minutes_on(day))


def _at(day: date, clock: time) -> datetime:
    return datetime.combine(day, clock)
