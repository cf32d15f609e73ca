"""Whatever is made of masses within a frame's length and width is possible; nothing beyond the bounds is."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from kentrobar.core.body.limits import require_body, require_possible
from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.quantities.errors import SpecError
from kentrobar.core.quantities.estimates import Estimate

LENGTH_CM, WIDTH_CM, AXIS_CM = 68.58, 26.0, 10.0

masses = st.lists(
    st.tuples(st.floats(1.0, 120.0), st.floats(0.5, LENGTH_CM - 0.5), st.floats(-WIDTH_CM / 2, WIDTH_CM / 2)),
    min_size=3,
    max_size=8,
)


def specs_of(points):
    """Static weight, balance, swing and twist weight of masses at (y, x), summed up here."""
    m, y, x = np.array(points).T
    values = (
        m.sum(),
        (m * y).sum() / m.sum(),
        (m * (y - AXIS_CM) ** 2).sum() / 1000,
        (m * x**2).sum() / 1000,
    )
    mass, balance, swing, twist = (Estimate(float(value), 0.0) for value in values)
    return MeasuredSpecs(mass, balance, swing, AXIS_CM, twist)


def judge_read(specs):
    require_possible(specs, LENGTH_CM, WIDTH_CM)


def judge_predicted(specs):
    known = {"knows_balance": True, "knows_recoil": True, "knows_twist": True}
    require_body(specs.moments(), length_cm=LENGTH_CM, width_cm=WIDTH_CM, **known)


@pytest.mark.parametrize("judge", [judge_read, judge_predicted])
@given(masses)
def test_what_can_be_built_is_possible(judge, points):
    specs = specs_of(points)
    swing, twist = specs.swingweight_kgcm2.value, specs.twistweight_kgcm2.value
    assume(150 <= specs.mass_g.value <= 420)
    assume(50 <= swing <= 4000)
    assume(1 <= twist <= 200)
    assume(np.ptp([y for _, y, _ in points]) > 1)  # all in one place has no spread at all
    judge(specs)


@pytest.mark.parametrize("judge", [judge_read, judge_predicted])
@given(masses, st.floats(1.001, 1.5), st.sampled_from(["swingweight_kgcm2", "twistweight_kgcm2"]))
def test_what_lies_beyond_the_bounds_is_refused_at_its_spec(judge, points, factor, name):
    """The most there can be: all mass at the two ends, or all of it at the two sides."""
    specs = specs_of(points)
    mass, balance = specs.mass_g.value, specs.balance_cm.value
    at_ends = balance / LENGTH_CM * (LENGTH_CM - AXIS_CM) ** 2 + (1 - balance / LENGTH_CM) * AXIS_CM**2
    most = {
        "swingweight_kgcm2": mass * at_ends / 1000,
        "twistweight_kgcm2": mass * (WIDTH_CM / 2) ** 2 / 1000,
    }
    least = mass * (balance - AXIS_CM) ** 2 / 1000
    sound = {
        "swingweight_kgcm2": (least + most["swingweight_kgcm2"]) / 2,
        "twistweight_kgcm2": most["twistweight_kgcm2"] / 2,
    }
    assume(150 <= mass <= 420)
    assume(sound["swingweight_kgcm2"] >= 40)
    assume(most["swingweight_kgcm2"] * factor < 4000)
    values = sound | {name: most[name] * factor}
    specs = replace(specs, **{key: Estimate(value, 0.0) for key, value in values.items()})
    with pytest.raises(SpecError) as refused:
        judge(specs)
    assert refused.value.field == name
