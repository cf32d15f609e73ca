"""A set made alike: the optimum is that of all plans tried one by one, and its bound is true."""

from dataclasses import replace
from itertools import product

import numpy as np
import pytest

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.solving.candidates import PointSlot
from kentrobar.core.solving.sets import Alike, Member, match_set

AXIS = 10.0
STEP = 0.5
SITES = [
    PointSlot(label="tip", y_cm=67.0, step_g=STEP, max_g=3.0),
    PointSlot(label="sides", y_cm=52.0, x_cm=12.0, mirrored=True, step_g=STEP, max_g=2.0),
    PointSlot(label="cap", y_cm=1.5, step_g=STEP, max_g=4.0),
]


def specs_of(m, s, a, t):
    return np.array([m, s / m, (a - 2 * AXIS * s + AXIS**2 * m) / 1000, t / 1000])


def frame(random):
    """Weight, balance, swing weight and twist weight of one of a model: some grams and millimetres apart."""
    return random.normal([305, 32.3, 312, 13.5], [1.5, 0.15, 2.5, 0.15])


def every_plan(read):
    """Weight and specs of all that can be laid on a frame, by sums over point masses."""
    mass, balance, swing, twist = read
    first = mass * balance
    start = np.array([mass, first, 1000 * swing + 2 * AXIS * first - AXIS**2 * mass, 1000 * twist])
    plans = []
    for tip, side, cap in product(*(range(round(s.max_g / STEP) + 1) for s in SITES)):
        total = start.copy()
        for grams, x, y in (
            (tip * STEP, 0, 67.0),
            (2 * side * STEP, 12.0, 52.0),
            (cap * STEP, 0, 1.5),
        ):
            total += grams * np.array([1, y, y * y, x * x])
        plans.append((STEP * (tip + 2 * side + cap), specs_of(*total)))
    return plans


def lightest(reads, widths):
    """The least weight of all sets of plans in which every spec differs by no more than its width."""
    first, second = (sorted(every_plan(read), key=lambda plan: plan[0]) for read in reads)
    best = np.inf
    specs = np.array([each for _, each in second])
    weights = np.array([w for w, _ in second])
    for weight, one in first:
        if weight >= best:
            break
        fits = np.all(np.abs(specs - one) <= widths + 1e-9, axis=1)
        if fits.any():
            best = min(best, weight + weights[fits].min())
    return best


def member(read, slots=SITES):
    mass, balance, swing, twist = read
    known = MeasuredSpecs(Estimate(mass), Estimate(balance), Estimate(swing), AXIS, Estimate(twist))
    return Member(known, slots, None)


TOLERANCES = {"mass_g": 1.0, "balance_cm": 0.1, "swingweight_kgcm2": 1.0, "twistweight_kgcm2": 0.2}


@pytest.mark.parametrize("alike", Alike)
def test_nothing_lighter_makes_two_frames_alike(alike):
    """Each within t of a target that is free: 2 t from each other at most; or within t of each other."""
    random = np.random.default_rng(71)
    factor = 2 if alike is Alike.TO_TARGET else 1
    widths = factor * np.array(list(TOLERANCES.values()))
    laid = 0
    for _ in range(7):
        reads = [frame(random), frame(random)]
        least = lightest(reads, widths)
        found = match_set([member(each) for each in reads], TOLERANCES, AXIS, alike)
        assert found.is_feasible == np.isfinite(least)
        if not found.is_feasible:
            assert found.is_proven
            continue
        assert found.is_proven
        assert sum(found.added_g) == pytest.approx(least, abs=1e-6)
        assert found.lower_bound_g <= least + 1e-9
        assert sum(p.total_mass_g for each in found.pieces for p in each) == pytest.approx(least)
        laid += least > 0
    assert laid > 3


def test_a_free_spec_is_left_free_and_a_lone_frame_alone():
    random = np.random.default_rng(5)
    fine = [replace(site, step_g=0.1) for site in SITES]
    set_of = [member(frame(random), fine) for _ in range(3)]
    three = {name: t for name, t in TOLERANCES.items() if name != "twistweight_kgcm2"}
    whole = match_set(set_of, three, AXIS, Alike.TO_TARGET)
    assert whole.is_proven
    alone = match_set(set_of, {"swingweight_kgcm2": 1.0}, AXIS, Alike.TO_TARGET)
    assert set(alone.target) == {"swingweight_kgcm2"}
    assert whole.is_feasible
    assert sum(alone.added_g) <= sum(whole.added_g)
    (lone,) = match_set(set_of[:1], TOLERANCES, AXIS, Alike.TO_EACH_OTHER).added_g
    assert lone == 0


def test_twins_need_nothing_and_what_is_too_far_apart_is_said_to_be():
    read = np.array([305, 32.3, 312, 13.5])
    twins = match_set([member(read), member(read)], TOLERANCES, AXIS, Alike.TO_EACH_OTHER)
    assert sum(twins.added_g) == 0
    far = match_set(
        [member(read), member(read + np.array([30, 0, 0, 0]))], TOLERANCES, AXIS, Alike.TO_TARGET
    )
    assert (far.is_feasible, far.is_proven) == (False, True)


def test_without_time_nothing_is_claimed():
    random = np.random.default_rng(6)
    set_of = [member(frame(random)) for _ in range(3)]
    found = match_set(set_of, TOLERANCES, AXIS, Alike.TO_TARGET, seconds=1e-6)
    assert (found.is_feasible, found.is_proven) == (False, False)


def test_a_band_is_laid_about_what_is_given():
    """All within 1 g of each other, and the favourite's 308 g among them."""
    random = np.random.default_rng(9)
    fine = [replace(site, step_g=0.1) for site in SITES]
    set_of = [member(frame(random), fine) for _ in range(3)]
    found = match_set(set_of, {"mass_g": 1.0}, AXIS, Alike.TO_EACH_OTHER, about={"mass_g": 308.0})
    masses = [
        each.measured.mass_g.value + sum(p.total_mass_g for p in pieces)
        for each, pieces in zip(set_of, found.pieces, strict=True)
    ]
    assert max(masses) - min(masses) <= 1.0 + 1e-6
    assert min(masses) <= 308.0 + 1.0 + 1e-6
    assert max(masses) >= 308.0 - 1.0 - 1e-6
