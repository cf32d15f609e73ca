"""Swings timed by hand, gate or sensor: the numbers, the ± that is claimed, and what is refused."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import SWING_WEIGHT, TWIST_WEIGHT
from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.errors import SpecError
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate
from kentrobar.core.reading.air import carried_air_kgcm2
from kentrobar.core.reading.columns import read_recording
from kentrobar.core.reading.pendulum import (
    Holder,
    PendulumReading,
    SidewaysReading,
    TwoCordsReading,
    local_gravity_cms2,
    pendulum,
    small_swing_period_s,
    swing_period_s,
    twistweight,
)
from kentrobar.core.reading.recordings import SwingFit, swing_in
from kentrobar.core.reading.swinging import HangingRig, SwingDirection
from kentrobar.core.reading.timing import NoSwingError, Timing, period_of, swings_worth_it
from tests.core.frames import PADDLE, RACKET
from tests.core.population import paddle, racket

FACE_ON, EDGE_ON = SwingDirection
HUNG = PendulumReading(Estimate(300.0, 0.1), Estimate(32.0, 0.05), Estimate(65.0, 0.1), Estimate(1.37, 0.001))


def test_worked_number():
    """300 g balanced at 32.0 cm, hung at 65.0 cm, swinging in 1.3700 s."""
    answer = pendulum(HUNG, 10.0)
    assert answer.recoil_kgcm2.value == pytest.approx(134.8697, abs=5e-5)
    assert answer.swingweight_kgcm2.value == pytest.approx(280.0697, abs=5e-5)


@given(
    st.floats(150, 400),
    st.floats(25, 38),
    st.floats(100, 180),
    st.floats(0, 80),
    st.floats(0, 6),
    st.floats(0, 2),
    st.floats(0, 25),
    st.floats(0, 3),
)
def test_a_known_frame_is_found_again(mass, balance, recoil, jig_g, jig_cm, jig_inertia, amplitude, beside):
    """Whatever holds it and however wide it swings, the recoil weight comes back."""
    hung = replace(
        HUNG,
        mass_g=Estimate(mass),
        balance_cm=Estimate(balance),
        holder=Holder(jig_g, jig_cm, jig_g * jig_cm**2 / 1000 + jig_inertia, beside),
        amplitude_deg=Estimate(amplitude),
    )
    small = swing_period_s(recoil, hung)
    wide = small / small_swing_period_s(1.0, amplitude)
    found = pendulum(replace(hung, period_s=Estimate(wide)), 10.0)
    assert found.recoil_kgcm2.value == pytest.approx(recoil, rel=1e-9)
    assert found.period_s.value == pytest.approx(small, rel=1e-12)


def test_gravity_by_place():
    assert local_gravity_cms2(0) == pytest.approx(978.0325, abs=1e-3)
    assert local_gravity_cms2(45) == pytest.approx(980.6198, abs=1e-3)
    assert local_gravity_cms2(90) == pytest.approx(983.2185, abs=1e-3)
    assert local_gravity_cms2(45, 1000) == pytest.approx(980.6198 - 0.3086, abs=2e-3)
    assert local_gravity_cms2(60) / local_gravity_cms2(0) == pytest.approx(1.004, abs=5e-4)
    with pytest.raises(SpecError, match="Latitude"):
        local_gravity_cms2(91)


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"period_s": Estimate(1.0)}, "period_s"),
        ({"period_s": Estimate(-1.0)}, "period_s"),
        ({"hang_cm": Estimate(32.2)}, "hang_cm"),
        ({"mass_g": Estimate(0.0)}, "mass_g"),
        ({"amplitude_deg": Estimate(75.0)}, "amplitude_deg"),
        ({"holder": Holder(900, -20)}, "holder"),
    ],
)
def test_what_cannot_swing_is_refused_by_name(change, field):
    with pytest.raises(SpecError) as refused:
        pendulum(replace(HUNG, **change), 10.0)
    assert refused.value.field == field


def coverage(truth, estimates):
    """The share of 95 % intervals that hold the truth."""
    return np.mean([abs(e.value - truth) <= 1.96 * e.u for e in estimates])


def test_stated_spread_of_pendulum_and_twist_holds():
    """5,000 simulated readings: every input off by its own ±, the truth within the 95 % interval."""
    random = np.random.default_rng(5)
    recoil, twist = 160.0, 13.6

    def noisy(reading):
        return replace(
            reading,
            **{
                name: Estimate(random.normal(q.value, q.u), q.u)
                for name, q in vars(reading).items()
                if isinstance(q, Estimate)
            },
        )

    true = replace(HUNG, gravity_cms2=Estimate(980.6, 0.1), amplitude_deg=Estimate(6, 1))
    wide = swing_period_s(recoil, true) / small_swing_period_s(1.0, 6)
    true = replace(true, period_s=Estimate(wide, 0.0015))
    swing = recoil + 300 * 22**2 / 1000
    found = [pendulum(noisy(true), 10.0).swingweight_kgcm2 for _ in range(5000)]
    assert 0.93 <= coverage(swing, found) <= 0.97

    lever = SidewaysReading(Estimate(310, 0.1), Estimate(6, 0.05), Estimate(1.0), Estimate(980.6, 0.1))
    period = 2 * math.pi * math.sqrt((twist * 1000 + 310 * 36) / (310 * 980.6 * 6))
    found = [twistweight(noisy(replace(lever, period_s=Estimate(period, 0.002)))) for _ in range(5000)]
    assert 0.93 <= coverage(twist, found) <= 0.97

    cords = TwoCordsReading(Estimate(310, 0.1), Estimate(80, 0.2), Estimate(10, 0.05), Estimate(1.0))
    period = math.sqrt(16 * math.pi**2 * 80 * twist * 1000 / (310 * 980.665 * 100))
    found = [twistweight(noisy(replace(cords, period_s=Estimate(period, 0.004)))) for _ in range(5000)]
    assert 0.93 <= coverage(twist, found) <= 0.97


# -- taps ---------------------------------------------------------------------------------


def taps(random, period=1.37, count=17, scatter=0.03, per_swing=1):
    return 3.0 + np.arange(count) * period / per_swing + random.normal(0, scatter, count)


def test_taps_of_a_hand_give_the_swing_weight():
    """30 ms scatter over 16 periods: within ±2 units at 95 %, and the ± claimed is true."""
    random = np.random.default_rng(7)
    exact = replace(
        HUNG,
        mass_g=Estimate(300.0),
        balance_cm=Estimate(32.0),
        hang_cm=Estimate(65.0),
        gravity_cms2=Estimate(980.665),
    )
    truth = pendulum(exact, 10.0).swingweight_kgcm2.value
    found = []
    for _ in range(2500):
        period = period_of(sorted(taps(random))).period_s
        found.append(pendulum(replace(exact, period_s=period), 10.0).swingweight_kgcm2)
    errors = np.abs([e.value - truth for e in found])
    assert np.quantile(errors, 0.95) <= 2.0
    assert 0.93 <= coverage(truth, found) <= 0.97


@given(
    st.floats(0.8, 2.5),
    st.integers(12, 40),
    st.sets(st.integers(2, 11), max_size=2),
    st.sampled_from([1, 2]),
    st.floats(-0.1, 0.1),
    st.integers(0, 1_000_000),
)
def test_missed_and_double_taps_do_no_harm(period, count, missed, per_swing, aside, seed):
    """Passes left out, one tapped twice, a mark beside the middle: the period stays."""
    random, step = np.random.default_rng(seed), period / per_swing
    times = [i * step + (aside * step if i % 2 and per_swing == 2 else 0) for i in range(count)]
    times = [t + random.normal(0, 0.005) for i, t in enumerate(times) if i not in missed]
    twice = int(random.integers(1, len(times)))
    times.insert(twice + 1, times[twice] + 0.1 * step)
    timing = period_of(times, per_swing)
    assert timing.period_s.value == pytest.approx(period, abs=6 * timing.period_s.u)
    assert len(timing.left_out) == 1


@pytest.mark.parametrize(
    ("times", "sentence"),
    [
        ([1, 2, 3], "too few"),
        ([1, 2, 3, 2.5, 4, 5], "run forward"),
        ([0, 1, 2, 3, 30, 31, 32], "gap"),
        ([0, 0.01, 0.02, 0.03, 0.04, 0.05], "no swing"),
        ([0, 0.9, 1.5, 3.3, 3.9, 5.6, 6.1, 8.0, 8.9, 10.7, 11.1], "steady beat"),
    ],
)
def test_taps_without_a_beat_are_refused(times, sentence):
    with pytest.raises(NoSwingError, match=sentence):
        period_of(times)


def test_more_swings_are_asked_for_only_while_they_help():
    timing = period_of(sorted(taps(np.random.default_rng(1), count=6)))
    assert swings_worth_it(timing, rest_u=0.5, per_second=670) > 5
    assert swings_worth_it(timing, rest_u=30.0, per_second=670) == 0


# -- recordings -----------------------------------------------------------------------------


def recording(random, period=1.37, seconds=25.0, rate=50, noise=0.05, damping=0.02, unit=1.0):
    t = np.arange(0, seconds, 1 / rate)
    omega = math.sqrt((2 * math.pi / period) ** 2 - damping**2)
    wave = np.exp(-damping * t) * np.cos(omega * t + 0.7)
    still = random.normal(0, 0.3, len(t))
    x = wave + random.normal(0, noise, len(t)) + 0.2 + 0.002 * t
    rows = [f"{a * unit:.9g},{b:.6g},{c:.6g}" for a, b, c in zip(t, still, x, strict=True)]
    return "\n".join(rows)


def test_a_damped_noisy_recording_gives_the_swing_weight():
    """±0.5 units at 95 %, with the noise of a phone; the ± claimed is true."""
    random = np.random.default_rng(11)
    exact = replace(
        HUNG,
        mass_g=Estimate(300.0),
        balance_cm=Estimate(32.0),
        hang_cm=Estimate(65.0),
        gravity_cms2=Estimate(980.665),
    )
    truth = pendulum(exact, 10.0).swingweight_kgcm2.value
    found = []
    for _ in range(80):
        fit = swing_in(read_recording(recording(random).encode()))
        assert isinstance(fit, SwingFit)
        assert fit.signal == "column 3"
        found.append(pendulum(replace(exact, period_s=fit.period_s), 10.0).swingweight_kgcm2)
    assert np.quantile(np.abs([e.value - truth for e in found]), 0.95) <= 0.5
    assert coverage(truth, found) > 0.9


@pytest.mark.parametrize("header", ["time (ms),gyro x,gyro y\n", "t;a;b\n", "# made\nZeit\tx\ty\n", ""])
def test_recordings_of_many_kinds_are_read(header):
    text = recording(np.random.default_rng(2), unit=1000 if "ms" in header else 1)
    for mark, other in ((";", ";"), ("\t", "\t")):
        if mark in header:
            text = text.replace(",", other).replace(".", ",")
    fit = swing_in(read_recording((header + text).encode()))
    assert fit.period_s.value == pytest.approx(1.37, abs=0.002)


def test_passes_of_a_gate_are_read():
    random = np.random.default_rng(3)
    times = taps(random, count=31, scatter=0.001, per_swing=2) * 1000
    timing = swing_in(read_recording("\n".join(map(str, times)).encode()), 2)
    assert isinstance(timing, Timing)
    assert timing.period_s.value == pytest.approx(1.37, abs=0.001)


@pytest.mark.parametrize(
    ("data", "sentence"),
    [
        (b"", "No rows of numbers"),
        (b"\xff\xfe\x00\x01", "No rows of numbers"),
        (bytes(range(256)) * 9, "not a text file"),
        (b"hello,world\nfoo,bar\n" * 40, "No rows of numbers"),
        ("\n".join(f"{100 - i},{i}" for i in range(90)).encode(), "mere count of rows"),
        ("\n".join(f"{i / 50},{1.0}" for i in range(900)).encode(), "No column swings"),
        ("\n".join(f"{i / 50},{(i * 7919) % 101}" for i in range(900)).encode(), "No column swings"),
        ("\n".join(f"{i / 50},{math.cos(i / 12):.4f}" for i in range(150)).encode(), "swings are in"),
        (b"0,1\n" * 30, "No column of times"),
        (b"1" * 4_000_000, "larger than"),
    ],
)
def test_garbage_says_why_no_swing_was_found(data, sentence):
    with pytest.raises(NoSwingError, match=sentence):
        swing_in(read_recording(data))


# -- which way it swings --------------------------------------------------------------------------


def swung(frame, way, hang_cm):
    """The period of a built frame, by the sum over its grains about the axle that it swings on."""
    mass, y, x = frame.grains.T
    square = (y - hang_cm) ** 2 + (x**2 if way is EDGE_ON else 0.0)
    pull = abs(mass @ (y - hang_cm)) * 980.665
    return Estimate(2 * np.pi * np.sqrt(mass @ square / pull), 0.0005)


def rig(read, way, sport=Sport.TENNIS, **options):
    measured = MeasuredSpecs(
        Estimate(read.mass_g, 0.1),
        Estimate(read.balance_cm, 0.1),
        twistweight_kgcm2=Estimate(read.twistweight_kgcm2, 0.2),
    )
    about = {
        "sport": sport,
        "length_cm": 68.58,
        "measured": measured,
        "axis_cm": 10.0,
        "way": way,
        "gravity_cms2": Estimate(980.665, 0.05),
        "hang_cm": Estimate(65.0, 0.1),
    }
    return HangingRig(**about | options)


@pytest.mark.parametrize("way", SwingDirection)
def test_a_frame_swung_either_way_has_one_swing_weight(way):
    frame = racket(np.random.default_rng(3), 68.58)
    read = frame.read(10.0)
    found = rig(read, way).measured_with(swung(frame, way, 65.0))
    assert found.swingweight_kgcm2.value == pytest.approx(read.swingweight_kgcm2, abs=1e-6)
    assert found.correlation(TWIST_WEIGHT, SWING_WEIGHT) == pytest.approx(
        -0.2 / found.swingweight_kgcm2.u if way is EDGE_ON else 0.0
    )


def test_a_swing_told_the_wrong_way_is_too_high_by_the_twist_weight_and_named():
    frame = racket(np.random.default_rng(3), 68.58)
    read = frame.read(10.0)
    known = rig(read, FACE_ON)
    known = replace(
        known,
        measured=known.measured.with_reading(
            SWING_WEIGHT, Estimate(read.swingweight_kgcm2, 1.0), axis_cm=10.0
        ),
    )
    for told, true, sentence in ((FACE_ON, EDGE_ON, "swung edge on"), (EDGE_ON, FACE_ON, "swung face on")):
        wrong = replace(known, way=told)
        period = swung(frame, true, 65.0)
        answer = wrong.answer(period)
        away = read.twistweight_kgcm2 if true is EDGE_ON else -read.twistweight_kgcm2
        assert answer.value - read.swingweight_kgcm2 == pytest.approx(away, abs=1e-6)
        assert sentence in wrong.suspicion(answer, period)
        right = replace(known, way=true)
        assert right.suspicion(right.answer(period), period) == ""
    unread = replace(known.measured, twistweight_kgcm2=NOT_MEASURED)
    with pytest.raises(SpecError, match="includes the twist weight"):
        replace(known, way=EDGE_ON, measured=unread).answer(swung(frame, EDGE_ON, 65.0))
    period = swung(frame, EDGE_ON, 65.0)
    unsaid = replace(known, measured=unread)
    assert "swung edge on" in unsaid.suspicion(unsaid.answer(period), period)


def test_a_paddle_carries_some_air_and_a_racket_none():
    """Six grams or so over the face: some three units about an axis near the butt (strips of a plate)."""
    assert carried_air_kgcm2(RACKET, 10.0) == (0.0, 0.0)
    air = carried_air_kgcm2(PADDLE, 5.0)
    a, b = 19.0, 41.9 - 13.0
    coefficient = 0.69 + (0.76 - 0.69) * (b / a - 1.5) / 0.5
    grams = coefficient * 0.0012 * np.pi / 4 * a * a * b
    assert 6.0 < grams < 7.5
    y = np.linspace(-1, 1, 20001)[1:-1]
    ellipse = np.sqrt(1 - y * y)
    strips = grams * ellipse / ellipse.sum()
    by_strips = strips @ (27.45 + y * b / 2 - 5.0) ** 2 / 1000
    assert air.value == pytest.approx(by_strips, rel=0.01)
    assert 3 < air.value < 4.5
    assert air.u == pytest.approx(0.25 * air.value)


def test_air_that_was_not_carried_is_added_with_its_spread():
    """Edge on a paddle carries none, hung by its tip less than about the axis it is told for."""
    read = paddle(np.random.default_rng(5), 41.9).read(5.0)
    about = {"sport": Sport.PICKLEBALL, "length_cm": 41.9, "axis_cm": 5.0, "hang_cm": Estimate(40.0, 0.1)}
    without, edge, face, at_axis = (
        rig(read, way, outline=outline, **about | more)
        for way, outline, more in (
            (FACE_ON, None, {}),
            (EDGE_ON, PADDLE, {}),
            (FACE_ON, PADDLE, {}),
            (FACE_ON, PADDLE, {"hang_cm": Estimate(5.0, 0.1)}),
        )
    )
    whole = carried_air_kgcm2(PADDLE, 5.0)
    assert edge.air_kgcm2() == pytest.approx(whole)
    assert 0 < face.air_kgcm2().value < whole.value
    assert at_axis.air_kgcm2().value == 0
    period = Estimate(1.0, 0.0005)
    plain, told = without.answer(period), face.answer(period)
    assert told.value - plain.value == pytest.approx(face.air_kgcm2().value)
    assert told.u == pytest.approx(np.hypot(plain.u, face.air_kgcm2().u))


@pytest.mark.parametrize(("hang_cm", "at_cm"), [(65.0, 6.0), (65.0, 67.0), (2.0, 9.0)])
def test_a_phone_tied_on_is_taken_off_again(hang_cm, at_cm):
    """190 g over 15 cm, grain by grain, wherever it is tied."""
    frame = racket(np.random.default_rng(3), 68.58)
    read = frame.read(10.0)
    along = at_cm + np.linspace(-7.5, 7.5, 501)
    with_phone = frame.with_grains(*[(190 / 501, y, 0.0) for y in along])
    hung = rig(read, FACE_ON, hang_cm=Estimate(hang_cm, 0.1)).with_phone(190.0, at_cm)
    found = hung.answer(swung(with_phone, FACE_ON, hang_cm)).value
    assert found == pytest.approx(read.swingweight_kgcm2, abs=0.02)


@pytest.mark.parametrize(
    ("times", "said"), [(2.0, "once a swing"), (0.5, "at every pass"), (0.25, "Both edges")]
)
def test_twice_half_or_a_quarter_of_the_period_is_named(times, said):
    """Whether it comes to an odd spec or to none at all: what was counted is the likely slip."""
    known = MeasuredSpecs(Estimate(308.6, 0.1), Estimate(31.8, 0.1))
    rig = HangingRig(
        sport=Sport.TENNIS,
        length_cm=68.58,
        measured=known,
        gravity_cms2=Estimate(981.0, 0.1),
        axis_cm=10.0,
        hang_cm=Estimate(5.0, 0.1),
    )
    period = Estimate(1.36 * times, 0.002)
    with pytest.raises(SpecError) as refused:
        rig.answer(period)
    assert refused.value.code in ("period_too_short", "period_too_long")
    assert said in rig.miscount(period)


def test_a_frame_on_a_dowel_beside_its_middle_plane_swings_as_its_grains_do():
    """A frame of point masses hung from an axle 2 cm in front of it: its inertia about that axle, summed up."""
    mass, hang_cm, beside_cm = 310.0, 65.0, 2.0
    grams = np.full(200, mass / 200)
    y = 32.0 + np.linspace(-36, 36, 200)
    arm = np.hypot(hang_cm - 32.0, beside_cm)
    about_axle = grams @ ((y - hang_cm) ** 2 + beside_cm**2)
    period = 2 * np.pi * np.sqrt(about_axle / (mass * 980.665 * arm))
    hung = replace(
        HUNG,
        mass_g=Estimate(mass),
        balance_cm=Estimate(32.0),
        hang_cm=Estimate(hang_cm),
        period_s=Estimate(period),
        gravity_cms2=Estimate(980.665),
        holder=Holder(beside_cm=beside_cm),
    )
    recoil = grams @ (y - 32.0) ** 2 / 1000
    assert pendulum(hung, 10.0).recoil_kgcm2.value == pytest.approx(recoil, rel=1e-9)
    flat = pendulum(replace(hung, holder=Holder()), 10.0).recoil_kgcm2.value
    assert abs(flat - recoil) > 0.3  # what it would be taken for without
