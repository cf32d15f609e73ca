"""The practice bench: the same for the same seed, its optimum the true one, perfect play worth all points."""

from itertools import product

import numpy as np
import pytest

from kentrobar.core.bench.practice.finding_slips import FindSlip, SheetCell, Slip
from kentrobar.core.bench.practice.hidden import AXIS_CM, LEVELS, SPECS, noise_of
from kentrobar.core.bench.practice.predicting import RIGHT, Predict
from kentrobar.core.bench.practice.reading_well import ReadWell
from kentrobar.core.bench.practice.scores import within
from kentrobar.core.bench.practice.weighing import BANDS, STEP_G, MatchTwo
from kentrobar.core.body.sport import Sport

every_sport = pytest.mark.parametrize("sport", list(Sport))
every_level = pytest.mark.parametrize("level", LEVELS)
KEYS = [spec.key for spec in SPECS]


def readings(exercise, counts):
    """So many readings of each spec, the one that slipped left out."""
    return {
        key: [exercise.reading(key, i) for i in range(counts[key]) if exercise.slip != (key, i)]
        for key in KEYS
    }


# -- reading well -------------------------------------------------------------------------------


@every_sport
@every_level
def test_reading_as_often_as_it_takes_is_worth_nearly_all_points(sport, level):
    points = []
    for seed in range(60):
        exercise = ReadWell(seed, level, sport)
        counts = {key: exercise.enough(key) for key in KEYS}
        stated = {key: float(np.mean(read)) for key, read in readings(exercise, counts).items()}
        taken = [key for key in KEYS for _ in range(counts[key])]
        points.append(exercise.score(taken, stated).points)
    assert np.mean(points) > 93
    assert np.mean(np.array(points) > 90) > 0.8


def test_reading_less_or_without_looking_for_the_slip_is_worth_less():
    better, once, blind = [], [], []
    for seed in range(120):
        exercise = ReadWell(seed, 3, Sport.TENNIS)
        counts = {key: exercise.enough(key) for key in KEYS}
        clean = {key: float(np.mean(read)) for key, read in readings(exercise, counts).items()}
        with_slip = {
            key: float(np.mean([exercise.reading(key, i) for i in range(counts[key])])) for key in KEYS
        }
        first = {key: exercise.reading(key, 0) for key in KEYS}
        taken = [key for key in KEYS for _ in range(counts[key])]
        better.append(exercise.score(taken, clean).points)
        blind.append(exercise.score(taken, with_slip).points)
        once.append(exercise.score(KEYS, first).points)
    assert np.mean(better) > np.mean(blind) + 5
    assert np.mean(better) > np.mean(once) + 5


def test_reading_for_ever_costs_points():
    exercise = ReadWell(3, 1, Sport.TENNIS)
    truth = {spec.key: exercise.frame.true(spec) for spec in SPECS}
    assert exercise.score(KEYS * 2, truth).points == 100
    assert exercise.score(KEYS * 12, truth).points < 80


def test_an_exercise_is_the_same_for_the_same_seed_and_another_for_another():
    first, again, other = (ReadWell(seed, 2, Sport.TENNIS) for seed in (7, 7, 8))
    assert first.frame == again.frame
    assert first.reading("mass_g", 3) == again.reading("mass_g", 3)
    assert first.frame != other.frame


# -- finding slips ------------------------------------------------------------------------------


@every_sport
@every_level
def test_one_entry_at_most_is_far_from_the_others_of_its_kind(sport, level):
    for seed in range(150):
        exercise = FindSlip(seed, level, sport)
        entry, slip = exercise.truth
        sheet = exercise.sheet()
        for key in KEYS:
            column = [row[key] for row in sheet]
            middle = float(np.median(column))
            off = [abs(value - middle) for value in column]
            if slip is not Slip.NONE and entry.key == key:
                assert int(np.argmax(off)) == entry.row
                assert max(off) > 5 * noise_of(key, level)
            else:
                assert max(off) < 7 * noise_of(key, level)


def test_every_kind_of_slip_comes_up_and_is_what_it_says():
    seen = set()
    for seed in range(300):
        exercise = FindSlip(seed, 1, Sport.TENNIS)
        entry, slip = exercise.truth
        seen.add(slip)
        value = exercise.sheet()[entry.row][entry.key]
        true = exercise.frame.true(next(spec for spec in SPECS if spec.key == entry.key))
        if slip is Slip.DIGITS:
            assert abs(value - true) > 0.3
        elif slip is Slip.TIP:
            assert value == pytest.approx(68.58 - true, abs=0.3)
        elif slip is Slip.AXIS:
            assert value > true + 20  # nearer the butt a racket is harder to swing
    assert seen == set(Slip)


def test_points_are_for_the_entry_and_for_what_went_wrong():
    exercise = next(e for seed in range(50) if (e := FindSlip(seed, 1, Sport.TENNIS)).truth[1] is Slip.DIGITS)
    entry, slip = exercise.truth
    wrong = SheetCell((entry.row + 1) % 4, entry.key)
    assert exercise.score(entry, slip).points == 100
    assert exercise.score(entry, Slip.AXIS).points == 60
    assert exercise.score(wrong, slip).points == exercise.score(None, Slip.NONE).points == 0
    in_order = next(e for seed in range(50) if (e := FindSlip(seed, 1, Sport.TENNIS)).truth[1] is Slip.NONE)
    assert in_order.score(None, Slip.NONE).points == 100
    assert in_order.score(entry, Slip.DIGITS).points == 0


# -- predicting ---------------------------------------------------------------------------------


@every_sport
def test_what_is_to_be_predicted_is_what_points_of_mass_do(sport):
    for seed in range(40):
        exercise = Predict(seed, 3, sport)
        truth, frame = exercise.truth(), exercise.frame
        mass, balance = frame.true(SPECS[0]), frame.true(SPECS[1])
        axis = AXIS_CM[sport]
        added = sum(grams for _, grams in exercise.doses)
        first = sum(grams * site.y_cm for site, grams in exercise.doses)
        assert truth["mass_g"] == pytest.approx(added)
        assert truth["balance_cm"] == pytest.approx((mass * balance + first) / (mass + added) - balance)
        swing = sum(grams * (site.y_cm - axis) ** 2 for site, grams in exercise.doses) / 1000
        twist = sum(grams * site.x_cm**2 for site, grams in exercise.doses) / 1000
        assert truth["swingweight_kgcm2"] == pytest.approx(swing)
        assert truth["twistweight_kgcm2"] == pytest.approx(twist)


def test_a_guess_is_worth_what_it_is_near():
    exercise = Predict(5, 1, Sport.TENNIS)
    truth = exercise.truth()
    assert exercise.score(truth).points == 100
    near = {key: value + 0.9 * RIGHT[key] for key, value in truth.items()}
    far = {key: value + 6 * RIGHT[key] for key, value in truth.items()}
    assert exercise.score(near).points == 100
    assert exercise.score(far).points == 0
    assert 0 < exercise.score(truth | {"mass_g": far["mass_g"]}).points == 75


@pytest.mark.parametrize(("missed", "part"), [(0, 1), (-1, 1), (2, 0.75), (-5, 0), (9, 0)])
def test_points_fall_along_a_straight_line(missed, part):
    assert within(missed, 1, 5) == pytest.approx(part)


# -- weighing -----------------------------------------------------------------------------------


def specs_by_hand(exercise, doses):
    """Sums over points of mass."""
    frame, axis = exercise.frame, AXIS_CM[exercise.sport]
    mass, balance, swing = (frame.true(spec) for spec in SPECS)
    places = [(site.y_cm, doses.get(site.key, 0.0)) for site in exercise.sites]
    whole = mass + sum(grams for _, grams in places)
    return {
        "mass_g": whole,
        "balance_cm": (mass * balance + sum(y * grams for y, grams in places)) / whole,
        "swingweight_kgcm2": swing + sum(grams * (y - axis) ** 2 for y, grams in places) / 1000,
    }


@every_sport
@every_level
def test_the_optimum_does_it_and_is_worth_all_points(sport, level):
    for seed in range(12):
        exercise = MatchTwo(seed, level, sport)
        by_hand = specs_by_hand(exercise, exercise.best)
        assert exercise.specs(exercise.best) == pytest.approx(by_hand)
        assert all(abs(by_hand[key] - exercise.target[key]) <= band + 1e-6 for key, band in BANDS.items())
        assert exercise.score([exercise.best]).points == 100
        assert exercise.score([exercise.best, exercise.best]).points < 100


def test_nothing_lighter_does_it():
    for seed in range(4):
        exercise = MatchTwo(seed, 1, Sport.TENNIS)
        least = sum(exercise.best.values())
        steps = np.arange(0, 15 + STEP_G, STEP_G)
        keys = [site.key for site in exercise.sites]
        found = [
            sum(grams)
            for grams in product(steps, repeat=len(keys))
            if sum(grams) < least - 1e-9
            and exercise.is_within(specs_by_hand(exercise, dict(zip(keys, grams, strict=True))))
        ]
        assert found == []


def test_what_misses_its_bands_earns_nothing_however_light_and_quick():
    exercise = MatchTwo(1, 2, Sport.TENNIS)
    assert exercise.score([{}]).points == 0
    assert exercise.score([]).points == 0


def test_in_rounds_doses_err_by_place_and_the_second_round_is_free():
    exercise = MatchTwo(2, 2, Sport.TENNIS, errs=True)
    meant, true = exercise.specs(exercise.best), exercise.true(exercise.best)
    assert meant != pytest.approx(true, abs=1e-3)
    assert exercise.read(exercise.best, 0) != exercise.read(exercise.best, 1)
    exact = {key: grams / exercise._factor(key) for key, grams in exercise.best.items()}
    assert exercise.is_within(exercise.true(exact))
    two = exercise.score([exercise.best, exact])
    three = exercise.score([exercise.best, exercise.best, exact])
    assert two.points > three.points > 60
