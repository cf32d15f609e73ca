"""Where a frame stands among others."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.body.ranges import TYPICAL, typical_ranges
from kentrobar.core.body.sport import Sport
from kentrobar.core.reading.reference_ranges import Among, RangePosition

SWING = "swingweight_kgcm2"


@given(st.floats(50, 400), st.lists(st.floats(80, 380), max_size=20))
def test_everything_shown_lies_on_its_strip_in_order(value, others):
    strip = Among(typical_ranges(Sport.TENNIS, {}), {SWING: others}).strip(SWING, [value])
    places = [strip.part(each) for each in sorted([value, *others, *strip.usual])]
    assert places == sorted(places)
    assert 0 <= places[0] <= places[-1] <= 1
    low, high = strip.usual
    expected = (
        RangePosition.LOW if value < low else RangePosition.HIGH if value > high else RangePosition.USUAL
    )
    assert strip.standing(value) is expected


def test_a_shops_own_range_comes_before_the_rule_of_thumb():
    own = typical_ranges(Sport.PICKLEBALL, {SWING: [95, 115]})
    assert own[SWING] == (95, 115)
    assert own["mass_g"] == TYPICAL[Sport.PICKLEBALL]["mass_g"]
    strip = Among(own, {}).strip(SWING, [118.0])
    assert strip.standing(118.0) is RangePosition.HIGH
    assert Among({}, {}).strip(SWING, [118.0]) is None


@pytest.mark.parametrize("sport", Sport)
def test_the_usual_ranges_agree_with_each_other(sport):
    """Swing weight about the sport's axis from the middle of the others is within its own range."""
    ranges = TYPICAL[sport]
    mass, balance, recoil = (sum(ranges[k]) / 2 for k in ("mass_g", "balance_cm", "recoil_kgcm2"))
    axis = 10.0 if sport is Sport.TENNIS else 5.0
    swing = recoil + mass * (balance - axis) ** 2 / 1000
    low, high = ranges[SWING]
    assert low <= swing <= high
