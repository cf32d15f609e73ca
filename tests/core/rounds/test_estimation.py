"""The belief about a frame on the bench is the best estimate there is, and its ± and chances hold."""

from dataclasses import replace
from itertools import chain, combinations
from types import MappingProxyType

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.moments import Moments, moments_from_specs
from kentrobar.core.body.specs import READ
from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.estimates import PAIRS, Estimate
from kentrobar.core.reading.swinging import HangingRig
from kentrobar.core.rounds.estimation import IMPOSSIBLE, Bias, estimate_state
from kentrobar.core.solving.chance import chance_within
from kentrobar.core.weight.pieces import effect_of
from kentrobar.core.weight.prediction import predict
from tests.core.frames import RACKET, REED, point, strip
from tests.core.jobs import AXIS, ROLL, new_job, one_round, started
from tests.samples import margin, sample

SETTING = {"length_cm": 68.58, "outline": RACKET}
A = strip(15.0, 8.0, mirrored=True, material="roll one")
B = strip(0.0, 6.0, mirrored=True, material="roll one")
C = point(4.0, 1.8)


def read_of(moments: Moments, u=(0.1, 0.05, 0.7, 0.2), axis_cm=AXIS):
    values = (moments.mass, moments.balance_cm, moments.swingweight_kgcm2(axis_cm), moments.twistweight_kgcm2)
    return MeasuredSpecs.read_apart(
        {spec.key: Estimate(v, s) for spec, v, s in zip(READ, values, u, strict=True)}, axis_cm
    )


def test_what_is_laid_and_not_read_is_as_predicted():
    """Values and ± of all specs are those of a plan with the same pieces."""
    belief = estimate_state(REED, **SETTING)
    for key, piece in (("a", A), ("b", B), ("c", C)):
        belief = belief.with_applied(key, piece)
    found, wanted = belief.now(AXIS).after, predict(REED, [A, B, C], axis_cm=AXIS, **SETTING).after
    for one, other in zip(found[:-1], wanted[:-1], strict=True):
        assert one.value == pytest.approx(other.value, rel=1e-9)
        assert one.u == pytest.approx(other.u, rel=1e-6)


def test_all_readings_together_are_the_weighted_mean_of_everything_known():
    """One system of equations over all unknowns, each by its ±, solved at once."""
    belief = estimate_state(REED, **SETTING).with_applied("a", A).with_applied("c", C)
    laid = [effect_of(A, RACKET), effect_of(C, RACKET)]
    first = REED.moments()
    whole = first.plus(laid[0].moments).plus(laid[1].moments)
    read = read_of(Moments(*(np.array(whole) * (1.0005, 1.0006, 1.0007, 1.01, 1.0))))
    belief = belief.with_read(read)
    # Unknown: the frame's moments but X, the moments of all that is off with the pieces, one roll.
    prior = np.zeros((5, 5))
    for (i, j), c in zip(PAIRS, REED.covariance(), strict=True):
        prior[i, j] = prior[j, i] = c
    for (i, j), c in zip(PAIRS, (np.array(laid[0].covariance) + laid[1].covariance), strict=True):
        prior[i, j] += c
        prior[j, i] = prior[i, j]
    (roll,) = laid[0].shared.values()
    prior += np.outer(roll, roll)
    kept = slice(0, 4)
    p, b, m = read.axis_cm, read.balance_cm.value, whole.mass
    rows = np.array(
        [[1.0, 0, 0, 0], [-b, 1.0, 0, 0], [p * p / 1000, -2 * p / 1000, 1 / 1000, 0], [0, 0, 0, 1 / 1000]]
    )
    us = [0.1, 0.05 * m, 0.7, 0.2]
    told = np.array([read.mass_g.value, 0.0, read.swingweight_kgcm2.value, read.twistweight_kgcm2.value])
    weights = np.linalg.inv(prior[kept, kept])
    information = weights + rows.T @ np.diag(1 / np.square(us)) @ rows
    right = weights @ np.array(whole[:4]) + rows.T @ (told / np.square(us))
    best = np.linalg.solve(information, right)
    assert np.array(belief.moments()[:4]) == pytest.approx(best, rel=1e-9)
    spread = np.linalg.inv(information)
    assert belief.measured(AXIS).mass_g.u == pytest.approx(np.sqrt(spread[0, 0]), rel=1e-6)
    assert belief.density_factor("roll one").u < 0.02


def test_a_piece_that_is_taken_off_leaves_what_was_learnt():
    """Read with it and without it: its weight is known from the difference, and the frame no worse."""
    bare = estimate_state(REED, **SETTING)
    thick = A.with_density(Estimate(0.6, 0.03))
    laid = bare.with_applied("a", thick)
    heavier = REED.moments().plus(effect_of(thick, RACKET).moments.times(1.05))
    read = laid.with_read(read_of(heavier, (0.01, 0.005, 0.1, 0.05)))
    assert read.density_factor("roll one").value == pytest.approx(1.05, abs=0.02)
    off = read.with_taken_off("a")
    assert off.now(AXIS).after.mass_g.value == pytest.approx(310.0, abs=0.15)
    assert off.now(AXIS).after.mass_g.u <= bare.now(AXIS).after.mass_g.u + 1e-9
    again = off.with_applied("b", B)
    grams = effect_of(B, RACKET).moments.mass
    added = again.now(AXIS).after.mass_g.value - off.now(AXIS).after.mass_g.value
    assert added == pytest.approx(grams * read.density_factor("roll one").value, abs=1e-6)


def test_a_strip_that_is_trimmed_is_lighter_by_what_its_roll_weighs():
    belief = estimate_state(REED, **SETTING).with_applied("a", A).with_roll("roll one", 0.001, 1.1)
    before = belief.moments().mass
    cut = belief.with_trimmed("a", A.with_length(5.0))
    assert before - cut.moments().mass == pytest.approx(2 * 3.0 * 0.1 * 1.1, abs=1e-9)


def test_what_is_made_permanent_is_known_a_little_less_until_it_is_read():
    """By one part in a hundred of each piece, each by itself."""
    belief = estimate_state(REED, **SETTING).with_applied("a", A).with_applied("c", C)
    before, after = (b.now(AXIS).after.mass_g for b in (belief, belief.with_made_permanent()))
    grams = [effect_of(piece, RACKET).moments.mass for piece in (A, C)]
    assert after.value == pytest.approx(before.value)
    assert after.u**2 - before.u**2 == pytest.approx(sum((0.01 * g) ** 2 for g in grams))


def test_what_was_never_read_is_not_known_until_it_is():
    weighed = MeasuredSpecs(Estimate(310.0, 0.1), Estimate(32.4, 0.05))
    belief = estimate_state(weighed, **SETTING).with_applied("c", C)
    now = belief.now(AXIS).after
    assert not isinstance(now.swingweight_kgcm2, Estimate)
    swing = MeasuredSpecs.read_apart({"swingweight_kgcm2": Estimate(320.0, 0.7)}, AXIS)
    assert belief.surprise(swing) == 1.0
    known = belief.with_read(swing).now(AXIS).after
    assert known.swingweight_kgcm2.value == pytest.approx(320.0, abs=1e-3)
    assert known.swingweight_kgcm2.u == pytest.approx(0.7, abs=1e-3)
    assert known.mass_g.u == pytest.approx(now.mass_g.u, rel=1e-6)
    assert not isinstance(known.twistweight_kgcm2, Estimate)


def test_what_one_instrument_is_off_by_stays_in_all_its_readings():
    """However often it is read, the ± of a swing weight does not fall below that of its machine."""
    bias = {"swingweight_kgcm2": Bias("machine", 0.8)}
    unread = MeasuredSpecs(Estimate(310.0, 0.1), Estimate(32.4, 0.05))
    belief = estimate_state(unread, **SETTING)
    swing = MeasuredSpecs.read_apart({"swingweight_kgcm2": Estimate(320.0, np.hypot(0.8, 0.5))}, AXIS)
    for _ in range(50):
        belief = belief.with_read(swing, bias)
    u = belief.now(AXIS).after.swingweight_kgcm2.u
    assert u == pytest.approx(np.hypot(0.8, 0.5 / np.sqrt(50)), abs=1e-3)


# -- simulated jobs ------------------------------------------------------------------------


@pytest.fixture(scope="module")
def jobs():
    """Jobs with a belief after one laying and one reading each."""
    random, found = np.random.default_rng(20), []
    while len(found) < sample(100):
        job = new_job(random, 1)
        belief = started(job)
        if belief is not None:
            found.append((job, belief))
    return found


def test_the_intervals_hold_the_truth(jobs):
    """95 % of them do, of every spec, laid and read."""
    held = []
    for job, belief in jobs:
        now = belief.with_read(job.read()).now(AXIS).after
        truth = job.whole()
        for value, quantity in (
            (truth.mass, now.mass_g),
            (truth.balance_cm, now.balance_cm),
            (truth.swingweight_kgcm2(AXIS), now.swingweight_kgcm2),
            (truth.recoil_kgcm2, now.recoil_kgcm2),
        ):
            held.append(abs(value - quantity.value) <= 1.96 * quantity.u)
    assert np.mean(held) == pytest.approx(0.95, abs=margin(0.025))


def test_the_stated_chance_is_the_part_that_truly_lies_within(jobs):
    """Laid, read once and trimmed as told."""
    stated, within = [], []
    for job, belief in jobs:
        job = replace(job, lies=dict(job.lies), places=dict(job.places))
        stated.append(chance_within(belief.now(AXIS), job.bands))
        within.append(job.is_within)
        trimmed, _ = one_round(job, belief)
        stated.append(chance_within(trimmed.now(AXIS), job.bands))
        within.append(job.is_within)
    assert np.mean(within) == pytest.approx(np.mean(stated), abs=margin(0.05))
    assert np.mean(within[1::2]) > 0.95 - margin(0.08)


def test_a_slip_is_questioned_and_a_right_reading_is_not(jobs):
    """3 % off in one spec."""
    questioned, doubted = [], []
    for n, (job, belief) in enumerate(jobs):
        right = job.read()
        doubted.append(belief.surprise(right) < IMPOSSIBLE)
        spec = READ[n % 3]
        value = right.of(spec)
        slip = right.with_reading(spec, value._replace(value=value.value * (1.03 if n % 2 else 0.97)))
        questioned.append(belief.surprise(slip) < IMPOSSIBLE)
    assert np.mean(questioned) >= 1 - margin(0.05)
    assert np.mean(doubted) <= margin(0.01)


def test_a_roll_that_runs_heavy_is_learnt_over_jobs():
    random, factor = np.random.default_rng(4), None
    for _ in range(sample(20)):
        job = new_job(random, 3, roll=1.06)
        belief = started(job, factor)
        if belief is not None:
            factor = one_round(job, belief)[0].density_factor(ROLL)
    assert factor.value == pytest.approx(1.06, abs=3 * factor.u)
    assert factor.u < margin(0.008)
    errors = {None: [], factor: []}
    for _ in range(sample(25)):
        seed = int(random.integers(1 << 30))
        for known, found in errors.items():
            job = new_job(np.random.default_rng(seed), 3, roll=1.06)
            belief = started(job, known)
            if belief is not None:
                found.append(job.error_of(belief))
    assert np.mean(errors[factor]) < 0.5 * np.mean(errors[None])


class TestATimedSwing:
    """A swing weight worked out from the weight and balance that are known counts neither of them twice."""

    HANG, G = 65.0, 980.665

    def timed(self, truth, belief, random, period_u):
        """Period of the true frame, read with its scatter; what it comes to with what is believed."""
        inertia = truth.second_yz - 2 * self.HANG * truth.first_y + self.HANG**2 * truth.mass
        pull = self.G * abs(truth.first_y - self.HANG * truth.mass)
        period = 2 * np.pi * np.sqrt(inertia / pull) + random.normal(0, period_u)
        now = belief.now(10.0).after
        rig = HangingRig(
            sport=Sport.TENNIS,
            length_cm=68.58,
            gravity_cms2=Estimate(self.G, 0.0),
            axis_cm=10.0,
            hang_cm=Estimate(self.HANG, 0.0),
            measured=MeasuredSpecs.read_apart(
                {"mass_g": Estimate(now.mass_g.value), "balance_cm": Estimate(now.balance_cm.value)}, 10.0
            ),
        )
        found = Estimate(float(period), period_u)
        return rig.answer(found), {"swingweight_kgcm2": rig.slopes(found)}

    def test_the_interval_of_the_swing_weight_holds(self):
        """Over 400 frames whose weight and balance are poorly known; told without slopes it would not."""
        random = np.random.default_rng(5)
        inside = {True: 0, False: 0}
        for _ in range(400):
            specs = (random.normal(305, 3), random.normal(32.2, 0.5), random.normal(315, 6))
            truth = moments_from_specs(*specs, 10.0, 13.5)
            read = MeasuredSpecs.read_apart(
                {
                    "mass_g": Estimate(truth.mass + random.normal(0, 1.0), 1.0),
                    "balance_cm": Estimate(truth.balance_cm + random.normal(0, 0.3), 0.3),
                },
                10.0,
            )
            belief = estimate_state(read, length_cm=68.58)
            answer, slopes = self.timed(truth, belief, random, 0.0005)
            swung = MeasuredSpecs.read_apart({"swingweight_kgcm2": answer}, 10.0)
            for with_slopes in inside:
                after = belief.with_read(swung, slopes=slopes if with_slopes else {})
                now = after.now(10.0).after.swingweight_kgcm2
                off = abs(now.value - truth.swingweight_kgcm2(10.0))
                inside[with_slopes] += off < 1.96 * now.u
        assert 0.925 <= inside[True] / 400 <= 0.975
        assert inside[False] / 400 < 0.5


class TestAPieceThatIsMoved:
    def test_it_is_expected_as_if_it_had_been_laid_there(self):
        belief = estimate_state(REED, **SETTING).with_applied("a", A)
        there = replace(A, at=strip(60.0, 8.0).at)
        moved, laid = (
            belief.with_moved("a", there),
            estimate_state(REED, **SETTING).with_applied("a", there),
        )
        for one, other in zip(moved.now(AXIS).after[:-1], laid.now(AXIS).after[:-1], strict=True):
            assert one == pytest.approx(other)

    def test_where_it_truly_lies_is_found_and_the_interval_holds(self):
        """A heavy piece laid up to some millimetres off, read well: 300 times."""
        random = np.random.default_rng(17)
        inside = 0
        piece = point(12.0, 55.0)
        for _ in range(300):
            off = random.normal(0, 0.2)
            belief = estimate_state(read_of(REED.moments(), u=(0.01, 0.005, 0.05, 0.02)), **SETTING)
            belief = belief.with_applied("a", piece)
            truth = REED.moments().plus(effect_of(replace(piece, y_cm=55.0 + off), RACKET).moments)
            us = (0.02, 0.01, 0.1, 0.05)
            read = {
                spec.key: Estimate(quantity.value + random.normal(0, u), u)
                for spec, u in zip(READ, us, strict=True)
                if isinstance(quantity := read_of(truth).of(spec), Estimate)
            }
            found = belief.with_read(MeasuredSpecs.read_apart(read, AXIS)).place_offset("a")
            inside += abs(found.value - off) < 1.96 * found.u
            assert found.u < 0.2
        assert 0.9 <= inside / 300 <= 0.99


class TestAPlaceThatIsKnownToBeOff:
    @pytest.mark.parametrize("piece", [point(12.0, 55.0), strip(90.0, 10.0, mirrored=True)])
    def test_what_is_expected_is_that_of_the_piece_laid_there(self, piece):
        """By a quarter of a centimetre: the same as the piece moved up by it, to what is of second order."""
        off = Estimate(0.25, 0.1)
        found = estimate_state(REED, **SETTING).with_applied("a", piece, off).moments()
        there = piece.at_height(RACKET, piece.anchor(RACKET).y + off.value)
        wanted = REED.moments().plus(effect_of(there, RACKET).moments)
        was = REED.moments().plus(effect_of(piece, RACKET).moments)
        moved = wanted.swingweight_kgcm2(AXIS) - was.swingweight_kgcm2(AXIS)
        assert found.mass == pytest.approx(wanted.mass, abs=1e-3)
        assert found.balance_cm == pytest.approx(wanted.balance_cm, abs=2e-4)
        assert found.swingweight_kgcm2(AXIS) - was.swingweight_kgcm2(AXIS) == pytest.approx(moved, rel=0.06)

    def test_it_is_as_unsure_as_was_learnt(self):
        belief = estimate_state(REED, **SETTING).with_applied("a", point(12.0, 55.0), Estimate(0.25, 0.1))
        assert belief.place_offset("a") == pytest.approx(Estimate(0.25, 0.1))


READINGS = MappingProxyType(
    {
        "mass_g": Estimate(310.0, 0.5),
        "balance_cm": Estimate(29.7, 0.1),
        "swingweight_kgcm2": Estimate(306.0, 1.0),
        "twistweight_kgcm2": Estimate(14.0, 0.3),
    }
)
SUBSETS = tuple(chain.from_iterable(combinations(READINGS, n) for n in range(5)))


class TestWhatIsNotRead:
    """Whatever was read is shown as it was read; what no reading tells is not measured."""

    @pytest.mark.parametrize("keys", SUBSETS)
    @pytest.mark.parametrize("first", [True, False])
    def test_any_of_them_are_shown_as_read(self, keys, first):
        """As the frame's first reading, or as the first one at the bench."""
        read = MeasuredSpecs.read_apart({key: READINGS[key] for key in keys}, AXIS)
        blank = estimate_state(MeasuredSpecs(), **SETTING)
        state = estimate_state(read, **SETTING) if first else blank.with_read(read)
        assert blank.surprise(read) == 1.0
        now, measured = state.now(AXIS).after, state.measured(AXIS)
        for key, quantity in READINGS.items():
            for found in (getattr(now, key), getattr(measured, key)):
                assert bool(found) is (key in keys)
                if found:
                    assert (found.value, found.u) == pytest.approx((quantity.value, quantity.u), rel=1e-6)

    @given(order=st.permutations(tuple(READINGS)))
    def test_one_by_one_in_any_order_comes_to_the_same(self, order):
        state = estimate_state(MeasuredSpecs(), **SETTING)
        for key in order:
            state = state.with_read(MeasuredSpecs.read_apart({key: READINGS[key]}, AXIS))
        together = estimate_state(MeasuredSpecs.read_apart(READINGS, AXIS), **SETTING).now(AXIS).after
        for found, wanted in zip(state.now(AXIS).after[:-1], together[:-1], strict=True):
            assert found.value == pytest.approx(wanted.value, rel=1e-9)
            assert found.u == pytest.approx(wanted.u, rel=0.04)  # a balance read before its weight

    def test_a_piece_moves_what_needs_no_more_than_was_read(self):
        read = MeasuredSpecs.read_apart({k: READINGS[k] for k in ("balance_cm", "swingweight_kgcm2")}, AXIS)
        state = estimate_state(read, **SETTING).with_applied("c", C)
        added = effect_of(C, RACKET).moments.swingweight_kgcm2(AXIS)
        assert state.now(AXIS).after.swingweight_kgcm2.value == pytest.approx(306.0 + added)
        assert state.now(AXIS).after.swingweight_kgcm2.u < 1.1
        assert not state.now(AXIS).after.balance_cm  # by how much depends on the frame's weight
        assert not state.now(20.0).after.swingweight_kgcm2

    def test_balances_without_and_with_a_known_piece_weigh_the_frame(self):
        """M·b + m·y = (M + m)·b' has one unknown: M = m·(y - b') / (b' - b)."""
        piece = effect_of(C, RACKET).moments
        state = estimate_state(
            MeasuredSpecs.read_apart({"balance_cm": Estimate(29.7, 0.001)}, AXIS), **SETTING
        )
        balance = (310.0 * 29.7 + piece.first_y) / (310.0 + piece.mass)
        read = MeasuredSpecs.read_apart({"balance_cm": Estimate(balance, 0.001)}, AXIS)
        found = state.with_applied("c", C).with_read(read).now(AXIS).after
        assert found.mass_g.value == pytest.approx(310.0 + piece.mass, abs=0.5)
        assert found.balance_cm.value == pytest.approx(balance, abs=1e-3)


class TestWhatReadingsShare:
    """A machine calibrated to ±0.7, a scale that shows whole grams: what all their readings are off by."""

    @pytest.mark.parametrize(("scatter", "shared"), [(0.3, 0.7), (0.7, 0.3), (0.05, 0.7)])
    def test_intervals_of_many_readings_hold_as_often_as_they_say(self, scatter, shared):
        random, held, count = np.random.default_rng(23), 0, sample(1500)
        bias, u = {"swingweight_kgcm2": Bias("machine", shared)}, float(np.hypot(scatter, shared))
        for _ in range(count):
            off, state = random.normal(0.0, shared), estimate_state(MeasuredSpecs(), **SETTING)
            for value in 306.0 + off + random.normal(0.0, scatter, 4):
                state = state.with_read(
                    MeasuredSpecs.read_apart({"swingweight_kgcm2": Estimate(value, u)}, AXIS), bias
                )
            found = state.now(AXIS).after.swingweight_kgcm2
            held += abs(found.value - 306.0) < 1.959964 * found.u
        assert held / count == pytest.approx(0.95, abs=margin(0.017))

    def test_it_stays_in_what_is_read_and_goes_out_of_a_difference(self):
        """Read before and after by one scale, what a roll adds is known as surely as the two readings scatter."""
        shared, scatter = 0.7, 0.02
        bias, u = {"mass_g": Bias("scale", shared)}, float(np.hypot(scatter, shared))
        thick = A.with_density(Estimate(0.6, 0.06))
        heavier = 310.0 + effect_of(thick, RACKET).moments.mass
        read = [MeasuredSpecs.read_apart({"mass_g": Estimate(m, u)}, AXIS) for m in (310.0, heavier)]
        state = (
            estimate_state(read[0], biases=bias, **SETTING).with_applied("a", thick).with_read(read[1], bias)
        )
        apart = estimate_state(read[0], **SETTING).with_applied("a", thick).with_read(read[1])
        assert state.now(AXIS).after.mass_g.u == pytest.approx(u, rel=0.01)
        assert apart.now(AXIS).after.mass_g.u < 0.9 * u
        assert state.density_factor("roll one").u < 0.2 * apart.density_factor("roll one").u


class TestAFirstReadingThatSlipped:
    """310 g typed for 313: what is read again and again counts, and the rest of the frame stays as it is."""

    AGAIN = MeasuredSpecs.read_apart({"mass_g": Estimate(313.0, 0.1)}, AXIS)

    def test_the_reading_that_is_believed_stands_alone(self):
        slipped = replace(REED, mass_g=Estimate(310.0, 0.1))
        state = estimate_state(slipped, **SETTING)
        assert state.surprise(self.AGAIN) < IMPOSSIBLE
        now = state.with_read_instead(self.AGAIN).now(AXIS).after
        assert (now.mass_g.value, now.mass_g.u) == pytest.approx((313.0, 0.1))
        for key in ("balance_cm", "swingweight_kgcm2", "twistweight_kgcm2"):
            found, wanted = getattr(now, key), getattr(slipped, key)
            assert found.value == pytest.approx(wanted.value)
            assert found.u == pytest.approx(wanted.u, rel=0.02)  # they were read beside another weight

    def test_the_readings_after_it_count_as_usual(self):
        state = estimate_state(REED, **SETTING).with_read_instead(self.AGAIN)
        for _ in range(3):
            assert state.surprise(self.AGAIN) > 0.9
            state = state.with_read(self.AGAIN)
        assert state.now(AXIS).after.mass_g.u == pytest.approx(0.05)

    def test_what_it_does_not_contradict_is_kept(self):
        """A reading of two specs, one of which is as it was known: its weighted mean stands."""
        both = MeasuredSpecs.read_apart(
            {"mass_g": Estimate(313.0, 0.1), "balance_cm": REED.balance_cm._replace(u=0.1)}, AXIS
        )
        now = estimate_state(REED, **SETTING).with_read_instead(both).now(AXIS).after
        assert now.mass_g.value == pytest.approx(313.0)
        assert now.balance_cm.u == pytest.approx(0.1 / np.sqrt(2), rel=0.02)


def test_one_slip_drops_no_other_spec_of_its_reading():
    """312 for 321: what was read beside it counts, and the slip changes nothing."""
    state = estimate_state(REED, **SETTING)
    right = {"mass_g": Estimate(310.05, 0.1), "balance_cm": Estimate(32.45, 0.1)}
    slip = MeasuredSpecs.read_apart(right | {"swingweight_kgcm2": Estimate(330.0, 1.0)}, AXIS)
    found, doubted = state.with_what_fits(slip)
    assert [spec.key for spec in doubted] == ["swingweight_kgcm2"]
    wanted = state.with_read(MeasuredSpecs.read_apart(right, AXIS))
    assert found.now(AXIS).after == wanted.now(AXIS).after
    assert state.with_what_fits(MeasuredSpecs.read_apart(right, AXIS))[1] == ()
