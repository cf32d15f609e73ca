"""Of simulated frames, readings and cuts, 93 to 97 % of the 95 % intervals hold, for every number shown."""

from dataclasses import replace

import numpy as np
import pytest

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.moments import STANDARD_GRAVITY_CMS2
from kentrobar.core.frame.places import ClockPlace
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.weight.further import further
from kentrobar.core.weight.pieces import PLACE_U_CM, RimStrip, Sleeve
from kentrobar.core.weight.prediction import predict
from tests.core.frames import RACKET, point
from tests.samples import margin, sample

LENGTH, AXIS, ROLL = 68.58, 10.16, Estimate(0.2, 0.002)
PLANNED = [
    RimStrip(
        at=ClockPlace(150), length_cm=Estimate(12.0, 0.1), g_per_cm=ROLL, material="tape", mirrored=True
    ),
    RimStrip(at=ClockPlace(20), length_cm=Estimate(6.0, 0.1), g_per_cm=ROLL, material="tape"),
    point(4.0, 1.8),
    Sleeve(mass_g=Estimate(9.0, 0.3), from_cm=4, to_cm=16),
    replace(point(3.0, 40.0, 5.0, mirrored=True), removed=True),
]


def sums(bodies):
    """(M, S, A, T, X) of point masses (m, x, y, z²), by the definition."""
    m, x, y, zz = np.array(bodies).T
    return np.array([m.sum(), m @ y, m @ (y * y + zz), m @ (x * x + zz), m @ x])


def laid_for_real(random):
    """The planned pieces as a hand lays them: each cut, weight and place off by its own, the roll once."""
    line, height = RACKET.rim(Face.INNER), RACKET.face_heights_cm[Face.INNER]
    off, per_cm = random.normal, random.normal(*ROLL)
    bodies = []
    for strip in PLANNED[:2]:
        for side in (1, -1)[: strip.sides]:
            length, centre = (off(strip.length_cm.value, 0.1), strip.at.arc_length(line) + off(0, PLACE_U_CM))
            at = [line.point(s) for s in centre + length * ((np.arange(60) + 0.5) / 60 - 0.5)]
            bodies += [(per_cm * length / 60, side * x, y, height**2) for x, y in at]
    bodies.append((off(4.0, 0.05), 0.0, 1.8 + off(0, PLACE_U_CM), 0.0))
    mass, centre, radius = off(9.0, 0.3), 10 + off(0, PLACE_U_CM), PLANNED[3].radius_cm
    along = centre + 12 * ((np.arange(60) + 0.5) / 60 - 0.5)
    bodies += [(mass / 120, sign * radius / 2**0.5, y, radius**2 / 2) for y in along for sign in (1, -1)]
    for side in (1, -1):
        there = (side * (5.0 + off(0, PLACE_U_CM)), 40.0 + off(0, PLACE_U_CM), 0.0)
        bodies.append((-off(3.0, 0.05), *there))
    return sums(bodies)


def specs_of(moments):
    """Every spec that is shown, from the five sums."""
    mass, first, second, across, aside = moments
    balance = first / mass
    recoil = (second - first**2 / mass) / 1000
    swing = (second - 2 * AXIS * first + AXIS**2 * mass) / 1000
    twist = (across - aside**2 / mass) / 1000
    return {
        "mass_g": mass,
        "balance_cm": balance,
        "points_headlight": (LENGTH / 2 - balance) / 0.3175,
        "swingweight_kgcm2": swing,
        "twistweight_kgcm2": twist,
        "recoil_kgcm2": recoil,
        "gyration_cm": (1000 * recoil / mass) ** 0.5,
        "spinweight_kgcm2": swing + twist,
        "mgr_per_i": STANDARD_GRAVITY_CMS2 * mass * (balance - AXIS) / (1000 * swing),
    }


@pytest.fixture(scope="module")
def held():
    """By place and spec: the part of 2,500 simulated jobs whose interval holds the truth."""
    random, found = np.random.default_rng(31), {}
    for _ in range(sample(2500)):
        mass, balance, swing, twist = random.uniform([285, 31, 300, 12.5], [330, 34, 335, 14.5])
        first = mass * balance
        frame = np.array([mass, first, 1000 * swing + 20 * first - 100 * mass, 1000 * twist, 0.0])
        read = MeasuredSpecs(
            Estimate(random.normal(mass, 0.1), 0.1),
            Estimate(random.normal(balance, 0.1), 0.1),
            Estimate(random.normal(swing, 1.0), 1.0),
            10.0,
            Estimate(random.normal(twist, 0.2), 0.2),
        )
        before, after = specs_of(frame), specs_of(frame + laid_for_real(random))
        told = predict(read, PLANNED, length_cm=LENGTH, axis_cm=AXIS, outline=RACKET)
        more = further(read, PLANNED, axis_cm=AXIS, outline=RACKET)
        for key, was in before.items():
            one = told if hasattr(told.after, key) else more
            truths = {"before": was, "after": after[key], "change": after[key] - was}
            for place, truth in truths.items():
                spec = getattr(getattr(one, place), key)
                found.setdefault((place, key), []).append(abs(spec.value - truth) <= 1.96 * spec.u)
    return {each: float(np.mean(hits)) for each, hits in found.items()}


@pytest.mark.parametrize("place", ["before", "after", "change"])
def test_every_number_holds_its_spread(held, place):
    shares = {key: share for (where, key), share in held.items() if where == place}
    assert len(shares) == 9
    assert all(abs(share - 0.95) <= margin(0.02) for share in shares.values()), shares
