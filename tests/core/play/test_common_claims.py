"""What people say of weight, tried: against sums written out here."""

import pytest

from kentrobar.core.play.common_claims import SAYINGS, level_torque_gcm, tried
from tests.core.frames import plan, point


def test_five_grams_in_the_cap_raise_the_swing_weight_and_draw_the_balance_in():
    """Of 310 g at 32.4 cm and 318.0 at 10 cm, 5 g laid 1.2 cm from the butt."""
    of = plan()
    before, after = of.prediction.after, tried("handle", of).after
    assert after.swingweight_kgcm2.value - before.swingweight_kgcm2.value == pytest.approx(5 * 8.8**2 / 1000)
    assert after.balance_cm.value == pytest.approx((310 * 32.4 + 5 * 1.2) / 315)
    torques = [level_torque_gcm(specs, 10.0) for specs in (before, after)]
    assert torques[0] == pytest.approx(310 * 22.4)
    assert torques[1] == pytest.approx(310 * 22.4 - 5 * 8.8)


def test_the_same_weight_is_another_frame():
    of = plan()
    before, after = of.prediction.after, tried("same", of).after
    assert after.mass_g.value == pytest.approx(before.mass_g.value)
    moved = 5 * ((68.58 - 1 - 10) ** 2 - 8.8**2) / 1000
    assert after.swingweight_kgcm2.value - before.swingweight_kgcm2.value == pytest.approx(moved)


@pytest.mark.parametrize("key", SAYINGS)
def test_each_is_tried_on_top_of_what_lies(key):
    bare, laden = plan(), plan([point(6.0, 60.0)])
    changes = [
        tried(key, of).after.swingweight_kgcm2.value - of.prediction.after.swingweight_kgcm2.value
        for of in (bare, laden)
    ]
    assert changes[0] == pytest.approx(changes[1])
    assert changes[0] > 0  # nothing of all this lowers it
