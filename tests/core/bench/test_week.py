"""A day at the bench: one thing after the other, nothing lost, what does not fit is said."""

from datetime import date, time, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.bench.week import Hours, laid_out, week_of

WEDNESDAY = date(2026, 11, 25)
SHORT = Hours(time(10), time(12), frozenset({2}))
works = st.lists(st.tuples(st.integers(), st.floats(0, 240)), max_size=8)


@given(works)
def test_work_follows_work_from_when_the_bench_opens(work):
    day = laid_out(WEDNESDAY, SHORT, work)
    assert [slot.key for slot in day.slots] == [key for key, _ in work]
    at = None
    for slot, (_, minutes) in zip(day.slots, work, strict=True):
        assert slot.begins.time() == time(10) if at is None else slot.begins == at
        assert slot.ends - slot.begins == timedelta(minutes=minutes)
        at = slot.ends


@given(works)
def test_what_ends_after_closing_is_late_and_counted_as_over(work):
    day = laid_out(WEDNESDAY, SHORT, work)
    total = sum(minutes for _, minutes in work)
    assert day.minutes_over == pytest.approx(max(total - 120, 0))
    assert any(slot.is_late for slot in day.slots) == (day.minutes_over > 1e-6)


def test_a_closed_day_has_no_time_and_all_on_it_is_late():
    day = laid_out(WEDNESDAY + timedelta(days=1), SHORT, [(1, 10)])
    assert (day.open, day.minutes_over) == (0, 10)
    assert day.slots[0].is_late


@given(st.dates(date(1, 1, 8), date(9999, 12, 20)))
def test_a_week_has_its_day_and_begins_on_monday(day):
    found = week_of(day)
    assert day in found
    assert [each.weekday() for each in found] == list(range(7))
