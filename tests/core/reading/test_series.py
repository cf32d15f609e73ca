"""Several readings and known bodies: the ± that is claimed, what stands out, what helps."""

import math
import statistics

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from kentrobar.core.quantities.errors import SpecError
from kentrobar.core.reading.calibration import (
    Finds,
    KnownBody,
    calibrate,
    mass_inertia_kgcm2,
    rod_inertia_kgcm2,
)
from kentrobar.core.reading.series import Precision, disagree, summarize
from tests.samples import margin, sample

SCALE = Precision(0.1, 0.1)


FINE = Precision(0.01, 0.1)
# how many readings · scatter in parts of what the instrument is known for · least and most coverage of 95 %
COVERAGE = [
    (1, 1.0, 0.93, 0.97),
    *[(2, 1.0, 0.93, 0.97), (2, 2.0, 0.88, 0.97), (2, 5.0, 0.85, 0.97)],  # two cannot tell their scatter
    *[(n, scatter, 0.93, 0.975) for n in (3, 4, 6, 10) for scatter in (1.0, 1.5, 3.0, 5.0)],
]


def held(truth, precision, count, scatter, tries=4000):
    """The part of simulated sets of readings whose 95 % interval holds the truth."""
    random = np.random.default_rng(3)
    found = 0
    for _ in range(tries):
        shown = truth + random.uniform(-0.5, 0.5) * precision.resolution
        raw = random.normal(shown, precision.repeatability * scatter, count)
        series = summarize(np.round(raw / precision.resolution) * precision.resolution, precision)
        low, high = series.interval_95()
        found += low <= shown <= high
    return found / tries


@pytest.mark.parametrize(("count", "scatter", "least", "most"), COVERAGE)
def test_stated_spread_holds(count, scatter, least, most):
    """Also where the readings scatter up to five times as much as the instrument is known for."""
    assert least <= held(308.63, FINE, count, scatter) <= most


@pytest.mark.parametrize("precision", [SCALE, Precision(0.05, 0.05), Precision(1.0, 0.8)])
@pytest.mark.parametrize("count", [1, 3, 5])
def test_coarse_steps_claim_no_more_than_they_can(precision, count):
    """Where the step is as large as the scatter, its r/√12 makes the ± wider than need be, never narrower."""
    assert held(308.63, precision, count, 1.0, sample(2000)) >= 0.95 - margin(0.02)
    assert count == 1 or held(308.63, precision, count, 5.0, sample(2000)) >= 0.95 - margin(0.02)


def test_whole_grams_are_never_claimed_too_finely():
    """Where the step outweighs the scatter, more readings change nothing, and it says so."""
    coarse = Precision(1.0, 0.1)
    series = summarize([309, 309, 309], coarse)
    assert series.u > 0.28
    assert not series.more_help
    assert summarize([309], coarse).more_help, "a second reading catches a slip"
    assert summarize([305, 306.4], Precision(0.1, 1.0)).more_help


@given(st.lists(st.floats(300, 301), min_size=3, max_size=8), st.integers(0, 7), st.floats(5, 300))
def test_a_slip_stands_out_and_may_be_left_out(values, where, far):
    precision = Precision(0.1, 0.3)
    values.insert(where % len(values), 300.5 + far)
    series = summarize(values, precision)
    slipped = where % (len(values) - 1)
    far_enough = statistics.median(values) + 4 * 1.4826 * 1.0
    assume(values[slipped] > far_enough)
    assert slipped in series.outliers
    without = summarize(values, precision, frozenset(series.outliers))
    assert 300 <= without.mean <= 301
    assert without.outliers == ()


def test_two_readings_cannot_tell_which_slipped():
    series = summarize([308.6, 380.6], SCALE)
    assert series.outliers == ()
    assert disagree(series, SCALE)
    assert not disagree(summarize([308.6, 308.7], SCALE), SCALE)


@given(st.floats(0.8, 1.25), st.floats(-10, 10), st.floats(150, 350))
def test_calibration_finds_scale_and_zero(scale, zero, truth):
    bodies = [rod_inertia_kgcm2(400, 80), rod_inertia_kgcm2(250, 100), mass_inertia_kgcm2(200, 35)]
    found = calibrate([KnownBody(t, (t - zero) / scale) for t in bodies], 0.5, Finds.SCALE)
    assert found.truth((truth - zero) / scale) == pytest.approx(truth, rel=1e-9)


def test_one_known_body_gives_scale_or_zero():
    truth = rod_inertia_kgcm2(400, 80)
    assert truth == pytest.approx(400 * 6400 / 12 / 1000)
    assert calibrate([KnownBody(truth, truth / 1.02)], 0.5, Finds.SCALE).scale == pytest.approx(1.02)
    assert calibrate([KnownBody(34.3, 29.3)], 0.05, Finds.ZERO).zero == pytest.approx(5.0)


@pytest.mark.parametrize(
    ("known", "sentence"),
    [
        ([], "at least one"),
        ([KnownBody(200, 20)], "another unit"),
        ([KnownBody(200, 200), KnownBody(300, 200)], "different inertia"),
        ([KnownBody(200, -3)], "above 0"),
    ],
)
def test_a_wrong_calibration_is_refused(known, sentence):
    with pytest.raises(SpecError, match=sentence):
        calibrate(known, 0.5, Finds.SCALE)


def test_calibrated_spread_holds():
    """A machine with a scale and a zero of its own, calibrated on three bodies, then read."""
    random = np.random.default_rng(9)
    bodies = [150.0, 250.0, 350.0]
    held = 0
    for _ in range(sample(5000)):
        known = [KnownBody(t, (t - 4) / 1.03 + random.normal(0, 0.5)) for t in bodies]
        found = calibrate(known, 0.5, Finds.SCALE)
        reading = (305.0 - 4) / 1.03 + random.normal(0, 0.5)
        u = math.hypot(found.scale * 0.5, found.u_at(reading))
        held += abs(found.truth(reading) - 305.0) <= 1.96 * u
    assert abs(held / sample(5000) - 0.95) <= margin(0.02)
