"""A balance board to build: a level beam of point masses worked out apart."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.quantities.errors import SpecError
from kentrobar.core.reading.jig import board_plan, check_board


@given(st.floats(0, 20), st.floats(40, 84), st.floats(-1.0, 1.0))
def test_a_rod_tells_the_offset_even_where_it_is_uneven(offset_cm, rod_cm, off_middle_cm):
    """The rod lies level where its own balance point is over the pivot; the ruler shows its end less the offset."""
    ends = [(rod_cm / 2 + sign * off_middle_cm) - offset_cm for sign in (1, -1)]
    found = check_board(rod_cm, *ends)
    assert found.offset_cm == pytest.approx(offset_cm, abs=1e-9)
    assert found.rod_is_even == (abs(2 * off_middle_cm) <= 0.1)


@given(st.floats(0, 20))
def test_the_ruler_reaches_all_balance_points_and_an_empty_board_is_level(offset_cm):
    plan = board_plan(offset_cm)
    assert plan.offset_cm <= 20 < 42 <= plan.ruler_end_cm <= plan.half_length_cm
    assert plan.length_cm == 2 * plan.half_length_cm
    assert plan.rod_reading_cm(60.0) + offset_cm == pytest.approx(30.0)


@pytest.mark.parametrize("offset_cm", [-1, 21])
def test_a_ruler_that_misses_balance_points_is_refused(offset_cm):
    with pytest.raises(SpecError, match="nearer than any balance point"):
        board_plan(offset_cm)


def test_a_rod_that_does_not_reach_the_ruler_is_refused():
    with pytest.raises(SpecError, match="40 to 84 cm"):
        check_board(30.0, 0.0, 0.0)
