"""How readings err together: through a timed swing, builds, plans and other axes."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import BALANCE, STATIC_WEIGHT, SWING_WEIGHT, TWIST_WEIGHT
from kentrobar.core.body.sport import Sport
from kentrobar.core.editing.removal import trim_bumper
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.reading.pendulum import Holder, PendulumReading, swing_period_s
from kentrobar.core.reading.swinging import CordsRig, HangingRig
from kentrobar.core.weight.builds import Fitting, FittingKind, change_build
from kentrobar.core.weight.prediction import as_measured, predict
from tests.core.frames import PADDLE, RACKET, REED, point, strip
from tests.samples import margin, sample

HOLDER = Holder(40.0, 1.5, 0.6)
ADDED = [point(1.5, 52.0, 12.2, mirrored=True), point(4.0, 1.8)]


def off(random, value, u):
    """A reading of a true value, off by its ±."""
    return Estimate(random.normal(value, u), u)


def timed(random, mass, balance, recoil, gravity_u):
    """What is known of a frame whose swing was timed with the weight and balance that were read of it."""
    true = PendulumReading(
        Estimate(mass),
        Estimate(balance),
        Estimate(65.0),
        Estimate(1.0),
        Estimate(random.normal(980.665, gravity_u)),
        holder=HOLDER,
    )
    rig = HangingRig(
        sport=Sport.TENNIS,
        length_cm=68.58,
        axis_cm=10.0,
        holder=HOLDER,
        measured=MeasuredSpecs(off(random, mass, 0.2), off(random, balance, 0.1)),
        gravity_cms2=Estimate(980.665, gravity_u),
        hang_cm=off(random, 65.0, 0.1),
    )
    return rig.measured_with(off(random, swing_period_s(recoil, true), 0.0005))


@pytest.mark.parametrize("gravity_u", [0.05, 2.5])
def test_what_was_timed_holds_its_spread_wherever_it_goes(gravity_u):
    """2,000 frames: recoil weight, other axes, after pieces; 93–97 % of the 95 % intervals hold the truth."""
    random = np.random.default_rng(11)
    held = {}
    for _ in range(sample(2000)):
        mass, balance, recoil = random.uniform([280, 31, 140], [330, 34, 175])
        found = timed(random, mass, balance, recoil, gravity_u)
        true = MeasuredSpecs(
            Estimate(mass), Estimate(balance), Estimate(recoil + mass * (balance - 10) ** 2 / 1000)
        )
        for axis_cm in (4.0, 10.0):
            told, right = (predict(each, ADDED, length_cm=68.58, axis_cm=axis_cm) for each in (found, true))
            for place in ("before", "after"):
                for key in ("swingweight_kgcm2", "recoil_kgcm2", "balance_cm", "gyration_cm"):
                    spec = getattr(getattr(told, place), key)
                    truth = getattr(getattr(right, place), key).value
                    # The pieces themselves are taken as certain here, so only the frame's part is off.
                    own = getattr(getattr(right, place), key).u
                    u = np.sqrt(max(spec.u**2 - own**2, 0.0))
                    held.setdefault((axis_cm, place, key), []).append(abs(spec.value - truth) <= 1.96 * u)
    shares = {key: np.mean(each) for key, each in held.items()}
    assert all(abs(share - 0.95) <= margin(0.02) for share in shares.values()), shares


def test_a_timed_recoil_weight_is_as_sure_as_the_swing_that_told_it():
    """Counted as independent of weight and balance, its ± would come out three times as wide."""
    random = np.random.default_rng(4)
    found = timed(random, 310.0, 32.4, 160.0, 0.05)
    alone = replace(found, correlations=MeasuredSpecs().correlations)
    told, naive = (
        predict(each, [], length_cm=68.58, axis_cm=10.0).before.recoil_kgcm2.u for each in (found, alone)
    )
    assert naive > 2.5 * told


def test_a_new_reading_is_independent_of_what_was_known():
    found = timed(np.random.default_rng(1), 310.0, 32.4, 160.0, 0.05)
    assert found.correlation(BALANCE, SWING_WEIGHT) != 0
    anew = found.with_reading(SWING_WEIGHT, Estimate(318.0, 1.0), axis_cm=10.16)
    assert anew.axis_cm == 10.16
    assert anew.correlations == MeasuredSpecs().correlations
    reweighed = found.with_reading(STATIC_WEIGHT, Estimate(311.0, 0.1))
    assert reweighed.correlation(STATIC_WEIGHT, SWING_WEIGHT) == 0
    assert reweighed.correlation(BALANCE, SWING_WEIGHT) == found.correlation(BALANCE, SWING_WEIGHT)


def test_two_cords_share_the_weight_of_the_frame():
    rig = CordsRig(
        sport=Sport.TENNIS,
        length_cm=68.58,
        axis_cm=10.0,
        measured=REED,
        gravity_cms2=Estimate(980.665, 0.05),
        cord_cm=Estimate(80.0, 0.05),
        apart_cm=Estimate(20.0, 0.05),
    )
    found = rig.measured_with(Estimate(1.2, 0.001))
    twist = found.twistweight_kgcm2
    shared = twist.value / 310.0 * 0.1 / twist.u
    assert found.correlation(STATIC_WEIGHT, TWIST_WEIGHT) == pytest.approx(shared)
    assert found.correlation(BALANCE, TWIST_WEIGHT) == 0


pairs = st.builds(point, st.floats(0.5, 20), st.floats(0, 68), st.floats(0.1, 13), mirrored=st.just(True))


@given(st.lists(pairs, max_size=3), st.lists(pairs, max_size=3), st.floats(2, 14), st.floats(2, 14))
def test_two_plans_one_after_the_other_are_as_sure_as_both_at_once(first, second, between, axis_cm):
    """Whatever axis the specs between them are told about."""
    known = as_measured(predict(REED, first, length_cm=68.58, axis_cm=between))
    apart = predict(known, second, length_cm=68.58, axis_cm=axis_cm).after
    at_once = predict(REED, [*first, *second], length_cm=68.58, axis_cm=axis_cm).after
    for one, other in zip(apart[:7], at_once[:7], strict=True):
        assert one == pytest.approx(other, rel=1e-6, abs=1e-9)


def test_what_is_converted_for_nothing_is_as_sure_as_before():
    same = change_build(REED, (), (), outline=RACKET, axis_cm=5.0).measured
    again = predict(same, [], length_cm=68.58, axis_cm=10.0).before
    start = predict(REED, [], length_cm=68.58, axis_cm=10.0).before
    for one, other in zip(again[:7], start[:7], strict=True):
        assert one == pytest.approx(other, rel=1e-9)


@pytest.mark.parametrize("material", ["", "tape"])
def test_the_strips_of_one_piece_err_together(material):
    """With or without a named material: one density tells both sides, both faces and every layer."""
    laid = strip(15, 10.0, material=material, mirrored=True, both_faces=True, layers=2)
    laid = replace(laid, length_cm=Estimate(10.0, 0.0))
    change = predict(REED, [laid], length_cm=68.58, axis_cm=10.0, outline=RACKET).change
    assert change.mass_g == pytest.approx((8.0, 8 * 10 * 0.002))
    two = [replace(laid, label=name, material="") for name in "ab"]
    apart = predict(REED, two, length_cm=68.58, axis_cm=10.0, outline=RACKET).change.mass_g.u
    assert apart == pytest.approx(np.sqrt(2) * change.mass_g.u)


def test_what_is_trimmed_is_as_sure_as_its_part_of_the_bumper():
    """A bumper of 14 ± 3 g, two ends of 2 cm: some 0.2 g unsure, not 4."""
    bumper = Fitting(key=7, kind=FittingKind.BUMPER, label="bumper", mass_g=Estimate(14.0, 3.0))
    taken = trim_bumper(bumper, RACKET, 2.0)
    change = predict(REED, [taken], length_cm=68.58, axis_cm=10.0, outline=RACKET).change
    assert change.mass_g.value < 0
    per_cm = 14 / bumper.body(RACKET).extent_cm
    cut = 0.1 * np.sqrt(2) * per_cm
    assert change.mass_g.u == pytest.approx(np.hypot(-change.mass_g.value * 3 / 14, cut), rel=0.01)
    both = [taken, trim_bumper(bumper, RACKET, 1.0)]
    whole = predict(REED, both, length_cm=68.58, axis_cm=10.0, outline=RACKET).change.mass_g
    assert whole.u > 1.4 * change.mass_g.u, "parts of one bumper err together"


def test_a_fitting_in_two_halves_is_as_sure_as_the_whole():
    tape = Fitting(
        key=3,
        kind=FittingKind.EARLIER,
        label="tape",
        mass_g=Estimate(4.0, 0.6),
        y_cm=25.0,
        x_cm=9.0,
        mirrored=True,
    )
    change = predict(MeasuredSpecs(), [tape.body(PADDLE)], length_cm=41.9, axis_cm=5.0).change
    assert change.mass_g == pytest.approx((4.0, 0.6))
