"""Plain words for a change of specs, held against parts worked out here."""

import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.body.specs import Specs
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate
from kentrobar.core.weight.verdict import verdict


def specs(swing, twist):
    swing, twist = (Estimate(value, 0.1) if value else NOT_MEASURED for value in (swing, twist))
    nothing = Specs(**dict.fromkeys(Specs._fields, NOT_MEASURED))
    return nothing._replace(swingweight_kgcm2=swing, twistweight_kgcm2=twist)


@pytest.mark.parametrize(
    ("before", "after", "said"),
    [
        ((310, 13), (312, 14.56), "12 % steadier off centre, swings the same"),
        ((310, 13), (326, 13), "5 % heavier to swing"),
        ((310, 13), (290, 12), "8 % less steady off centre, 6 % lighter to swing"),
        ((310, None), (326, None), "5 % heavier to swing"),
        ((None, 13), (None, 14.3), "10 % steadier off centre"),
        ((None, None), (None, None), ""),
    ],
)
def test_it_says_what_players_notice(before, after, said):
    assert verdict(specs(*before), specs(*after)) == said


@given(st.floats(100, 400), st.floats(-0.3, 0.3), st.floats(5, 20), st.floats(-0.3, 0.3))
def test_its_numbers_are_the_changes(swing, by_swing, twist, by_twist):
    said = verdict(specs(swing, twist), specs(swing * (1 + by_swing), twist * (1 + by_twist)))
    steadier = re.search(r"(\d+) % (steadier|less steady)", said)
    if steadier:
        assert int(steadier[1]) == pytest.approx(100 * abs(by_twist), abs=0.51)
        assert (steadier[2] == "steadier") is (by_twist > 0)
    else:
        assert abs(by_twist) < 0.0051
    if "swings the same" in said:
        assert abs(by_swing) * swing < 0.0161 * swing
