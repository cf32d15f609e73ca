"""The stated chance is the part of simulated frames that truly lie within."""

import numpy as np
import pytest
from scipy.stats import norm

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import BALANCE, STATIC_WEIGHT, SWING_WEIGHT
from kentrobar.core.frame.places import ClockPlace
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.solving.chance import chance_alike, chance_all_within, chance_within
from kentrobar.core.solving.most_reliable import coarsest, drawn_in, most_reliable
from kentrobar.core.weight.pieces import RimStrip
from kentrobar.core.weight.prediction import predict
from tests.core.frames import RACKET, REED, point

PIECES = [point(4.0, 1.8), point(1.5, 52.0, 12.2, mirrored=True)]


def bands_about(after, shifts, widths):
    return {
        key: (getattr(after, key).value + shift - width, getattr(after, key).value + shift + width)
        for (key, shift), width in zip(shifts.items(), widths, strict=True)
    }


@pytest.mark.parametrize("timed", [False, True])
def test_the_chance_is_the_part_that_lies_within(timed):
    """Also where swing weight and balance err together, as they do when the one was timed with the other."""
    read = REED
    if timed:
        about = {STATIC_WEIGHT.key: 0.4, BALANCE.key: 8.0}
        read = REED.with_reading(SWING_WEIGHT, Estimate(318.0, 1.0), slopes=about)
    prediction = predict(read, PIECES, length_cm=68.58, axis_cm=10.0)
    keys = ("mass_g", "balance_cm", "swingweight_kgcm2", "twistweight_kgcm2")
    shifts = dict.fromkeys(keys, 0.0) | {"balance_cm": 0.05}
    bands = bands_about(prediction.after, shifts, (0.2, 0.1, 1.0, 0.3))
    random = np.random.default_rng(2)
    mean, full = prediction.moments, np.zeros((5, 5))
    upper = iter(prediction.covariance)
    for i in range(5):
        for j in range(i, 5):
            full[i, j] = full[j, i] = next(upper)
    m, s, a, t, x = random.multivariate_normal(mean, full, 200_000, method="eigh").T
    specs = (m, s / m, (a - 20 * s + 100 * m) / 1000, (t - x * x / m) / 1000)
    held = np.ones(len(m), dtype=bool)
    for key, values in zip(keys, specs, strict=True):
        low, high = bands[key]
        held &= (values >= low) & (values <= high)
    assert chance_within(prediction, bands) == pytest.approx(held.mean(), abs=0.006)


@pytest.mark.parametrize("material", ["one roll", ""])
def test_frames_laid_from_one_roll_err_together(material):
    """Two frames, each half likely to be too heavy: together they are so more often than apart."""
    exact = MeasuredSpecs(Estimate(300.0), Estimate(32.0), Estimate(310.0), 10.0, Estimate(13.0))
    laid = [
        RimStrip(
            at=ClockPlace(minutes),
            length_cm=Estimate(20.0, 0.4),
            material=material,
            g_per_cm=Estimate(0.25, 0.02),
            mirrored=True,
        )
        for minutes in (15.0, 10.0)
    ]
    after = [predict(exact, [p], length_cm=68.58, axis_cm=10.0, outline=RACKET) for p in laid]
    bands = [{"mass_g": (0.0, each.after.mass_g.value)} for each in after]
    together = 20.0 * 2 * 0.02 if material else 0.0
    u = after[0].after.mass_g.u
    r = together**2 / u**2
    assert chance_all_within(after, bands) == pytest.approx(0.25 + np.arcsin(r) / 2 / np.pi, abs=0.01)
    width = 0.5
    alike = norm.cdf(width, 0, u * np.sqrt(2 - 2 * r)) * 2 - 1
    found = chance_alike(after, [{"mass_g": width}] * 2)
    assert found == pytest.approx(alike, abs=0.01)


def test_on_the_edge_of_a_band_half_fall_outside():
    after = predict(REED, PIECES, length_cm=68.58, axis_cm=10.0)
    at = after.after.swingweight_kgcm2.value
    edge = {"swingweight_kgcm2": (at - 20.0, at)}
    assert chance_within(after, edge) == pytest.approx(0.5, abs=1e-3)
    assert chance_within(after, {}) == 1.0
    unread = predict(MeasuredSpecs(Estimate(310.0, 0.1)), [], length_cm=68.58, axis_cm=10.0)
    assert chance_within(unread, edge) == 0.0


@pytest.mark.parametrize("wanted_chance", [0.6, 0.8, 0.95, 0.99])
def test_the_surest_plan_draws_its_bands_in_no_more_than_it_has_to(wanted_chance):
    """A plan on the edge of a band that is drawn in by g times its ± lies within with the chance of g."""
    found = most_reliable(lambda guard: guard, norm.cdf, wanted_chance)
    assert norm.cdf(found) >= wanted_chance
    assert found <= norm.ppf(wanted_chance) + 3.0 / 2**7
    assert most_reliable(lambda guard: guard if guard < 1.0 else None, norm.cdf, 0.95) == pytest.approx(
        1.0, abs=0.03
    )
    assert most_reliable(lambda _: None, norm.cdf, wanted_chance) is None


def test_bands_close_where_readings_are_too_coarse():
    bands, us = ({"mass_g": (310.0, 312.0), "balance_cm": (31.9, 32.1)}, {"mass_g": 0.1, "balance_cm": 0.08})
    assert drawn_in(bands, us, 1.0) == {"mass_g": (310.1, 311.9), "balance_cm": pytest.approx((31.98, 32.02))}
    assert drawn_in(bands, us, 2.0) is None
    assert coarsest({"mass_g": 1.0, "balance_cm": 0.1}, us) == ("balance_cm", 4)
