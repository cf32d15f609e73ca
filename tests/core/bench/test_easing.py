"""Small steps for who told of strain, and when the rules of play were looked at last."""

import itertools
from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.bench.easing import MOST_STEPS, STEP_PART, WEEKS_APART, eased
from kentrobar.core.bench.rules_of_play import RulesSeen, reminder
from kentrobar.core.body.sport import Sport

TODAY = date(2026, 5, 3)


@given(st.floats(80, 360), st.floats(0.9, 1.12))
def test_steps_end_at_the_target_and_none_is_larger_than_it_should_be(now, rise):
    steps = eased(now, now * rise)
    assert steps[-1].swingweight_kgcm2 == pytest.approx(now * rise)
    values = [now, *(step.swingweight_kgcm2 for step in steps)]
    if rise > 1 and len(steps) < MOST_STEPS:
        assert all(b / a <= 1 + STEP_PART + 1e-6 for a, b in itertools.pairwise(values))
    assert [step.weeks for step in steps] == [WEEKS_APART * i for i in range(len(steps))]


def test_what_is_small_or_goes_down_is_one_step():
    assert len(eased(320.0, 323.0)) == 1
    assert len(eased(320.0, 310.0)) == 1
    assert len(eased(320.0, 333.0)) == 5  # 1.01 to the fourth is 1.0406, a little less than 333 / 320


@pytest.mark.parametrize(
    ("seen", "told"),
    [
        (RulesSeen(), "have not been checked here. Check them and"),
        (RulesSeen(date(2026, 5, 1)), "looked at here on 1 May 2026."),
        (RulesSeen(date(2025, 5, 3)), "looked at here on 3 May 2025."),
        (RulesSeen(date(2025, 5, 2), "Tape on the hoop only."), "over a year ago: check again. Tape on"),
    ],
)
def test_the_reminder_tells_when_somebody_looked_last(seen, told):
    sentence = reminder(seen, Sport.PICKLEBALL, TODAY)
    assert told in sentence
    assert "paddles" in sentence
