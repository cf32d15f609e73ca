"""What a gram does, place by place."""

import pytest

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.weight.sensitivity_map import gram_change, sensitivity_map, site_sensitivities
from tests.core.frames import PADDLE, RACKET, REED


@pytest.mark.parametrize(("x", "y"), [(0, 1.2), (0, 10), (12.2, 52), (0, 68.5)])
def test_a_gram_does_what_its_lever_says(x, y):
    change = gram_change(REED, x, y, length_cm=68.58, axis_cm=10)
    assert change.mass_g.value == pytest.approx(1.0)
    assert change.swingweight_kgcm2.value == pytest.approx((y - 10) ** 2 / 1000)
    assert change.twistweight_kgcm2.value == pytest.approx(x**2 / 1000)
    assert change.balance_cm.value == pytest.approx((y - 32.4) / 311)


@pytest.mark.parametrize("outline", [RACKET, PADDLE])
def test_the_map_covers_the_frame_and_nothing_lowers_the_swing_weight(outline):
    places = sensitivity_map(REED, outline, 10.0)
    heights = [point.y for place in places for point in place.shape]
    assert min(heights) == pytest.approx(0, abs=0.01)
    assert max(heights) == pytest.approx(outline.length_cm, abs=0.05)
    assert all(place.change.swingweight_kgcm2.value >= 0 for place in places)
    most = max(places, key=lambda place: place.change.swingweight_kgcm2.value)
    assert max(point.y for point in most.shape) == pytest.approx(outline.length_cm, abs=0.05)


def test_an_ounce_does_what_its_grams_do():
    for place, tenth in zip(
        sensitivity_map(REED, RACKET, 10.0), sensitivity_map(REED, RACKET, 10.0, 2.835), strict=True
    ):
        grams = 2.835 * place.change.swingweight_kgcm2.value
        assert tenth.change.swingweight_kgcm2.value == pytest.approx(grams)


def test_without_readings_swing_and_twist_are_exact_and_balance_unknown():
    site, y_cm, change = site_sensitivities(MeasuredSpecs(), RACKET, 10.0)[0]
    inside = RACKET.rim(RACKET.usual_face).point(0.0).y
    assert site.y_cm - 1.2 < inside == y_cm
    assert change.swingweight_kgcm2.value == pytest.approx((inside - 10) ** 2 / 1000)
    assert not isinstance(change.balance_cm, Estimate)
