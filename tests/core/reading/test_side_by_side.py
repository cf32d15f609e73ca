"""Two instruments on frames that both read: the stated ± of their difference holds, and of its growth."""

import numpy as np
import pytest

from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.reading.side_by_side import ReadingPair, side_by_side


def pairs(random, count, offset=1.5, scale=0.0, u=(0.5, 0.8), more=1.0):
    """Frames read by both, with ``more`` times the scatter that is stated."""
    found = []
    for truth in random.uniform(280, 340, count):
        one = truth + random.normal(0, more * u[0])
        other = truth * (1 + scale) + offset + random.normal(0, more * u[1])
        found.append(ReadingPair(Estimate(one, u[0]), Estimate(other, u[1])))
    return found


@pytest.mark.parametrize("count", [3, 4, 12])
@pytest.mark.parametrize("more", [1.0, 3.0])
def test_the_interval_of_the_difference_holds(count, more):
    """Also where few frames tell, and where the instruments scatter three times what is said of them."""
    random = np.random.default_rng(8)
    inside = 0
    for _ in range(600):
        found = side_by_side(pairs(random, count, more=more))
        inside += abs(found.difference.value - 1.5) < found.sigmas * found.difference.u
    assert 0.92 <= inside / 600 <= 0.985


def test_the_growth_is_found_where_frames_differ():
    random = np.random.default_rng(9)
    inside = 0
    for _ in range(300):
        found = side_by_side(pairs(random, 15, offset=0.0, scale=0.01)).scale
        inside += abs(found.value - 0.01) < 1.96 * found.u
    assert 0.9 <= inside / 300 <= 0.99


def test_like_instruments_are_seldom_called_different():
    random = np.random.default_rng(10)
    called = sum(side_by_side(pairs(random, 10, offset=0.0)).is_real for _ in range(400))
    assert called / 400 <= 0.09


def test_few_frames_tell_little():
    assert side_by_side([]) is None
    one = side_by_side([ReadingPair(Estimate(300, 0.1), Estimate(310, 0.1))])
    assert not one.is_real
    assert one.scale is None
    assert one.difference == Estimate(10, pytest.approx(0.1414, abs=1e-4))
