"""A frame read again: what is said of it holds for simulated frames."""

from dataclasses import replace

import numpy as np
import pytest

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.rounds.rereading import RereadVerdict, reread
from kentrobar.core.weight.prediction import predict
from tests.core.frames import RACKET, REED, point, strip

PIECES = [strip(0, 6), point(5, 1.8)]
BAR = [point(0.02, 30.0)]
SETTING = {"length_cm": 68.58, "axis_cm": 10.0, "outline": RACKET}
FIELDS = ("mass_g", "balance_cm", "swingweight_kgcm2", "twistweight_kgcm2")


def as_read(random, truth):
    """Readings of the true specs, as far off as the instruments are known for."""
    us = {name: getattr(REED, name).u for name in FIELDS}
    read = {name: Estimate(random.normal(getattr(truth, name).value, u), u) for name, u in us.items()}
    return replace(REED, **read)


@pytest.mark.parametrize(
    ("pieces", "fitted", "found"),
    [
        (PIECES, PIECES, RereadVerdict.AS_PREDICTED),
        (PIECES, [], RereadVerdict.AS_BEFORE),
        (BAR, BAR, RereadVerdict.EITHER),
    ],
)
def test_what_is_found_is_so_for_98_frames_in_100(pieces, fitted, found):
    """Both readings, before and again, are off by chance; the pieces weigh just what is stated."""
    random, count, right = np.random.default_rng(3), 600, 0
    truth = predict(REED, fitted, **SETTING).after
    start = predict(REED, [], **SETTING).before
    for _ in range(count):
        again = predict(as_read(random, truth), [], **SETTING).before
        right += reread(predict(as_read(random, start), pieces, **SETTING), again).found is found
    assert right / count > 0.975


def test_a_frame_that_is_neither_is_told():
    again = predict(REED, [point(12, 40)], **SETTING).after
    result = reread(predict(REED, PIECES, **SETTING), again)
    assert result.found is RereadVerdict.NEITHER
    assert {each.key for each in result.specs} == set(FIELDS)


def test_only_what_was_read_counts():
    only_mass = predict(MeasuredSpecs(mass_g=REED.mass_g, axis_cm=10.0), PIECES, **SETTING)
    assert reread(only_mass, only_mass.after).found is RereadVerdict.AS_PREDICTED
    nothing = predict(MeasuredSpecs(axis_cm=10.0), [], **SETTING).before
    assert reread(only_mass, nothing).found is RereadVerdict.UNKNOWN
