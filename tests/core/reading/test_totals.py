"""The period from totals of a stopwatch, and from the brightness of a camera's square."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.reading.columns import Recording, read_recording
from kentrobar.core.reading.recordings import swing_in
from kentrobar.core.reading.timing import NoSwingError
from kentrobar.core.reading.totals import Total, period_of_totals, read_totals


@pytest.mark.parametrize(
    ("text", "totals"),
    [
        ("16 in 22.4 s", [Total(16, 22.4, 0.1)]),
        ("16 swings in 22,38", [Total(16, 22.38, 0.01)]),
        ("16 in 22.4; 20 in 27.9\n10:14", [Total(16, 22.4, 0.1), Total(20, 27.9, 0.1), Total(10, 14.0, 1.0)]),
        ("50 in 1:08.5 s", [Total(50, 68.5, 0.1)]),
        ("", []),
    ],
)
def test_totals_are_read_as_people_say_them(text, totals):
    found = read_totals(text)
    assert [t[:1] + t[2:] for t in found] == [t[:1] + t[2:] for t in totals]
    assert [t.seconds for t in found] == pytest.approx([t.seconds for t in totals])


@pytest.mark.parametrize("text", ["22.4", "in 22 s", "sixteen in 22", "0 in 22 s", "16 in fast"])
def test_what_is_no_total_is_quoted(text):
    with pytest.raises(NoSwingError, match="is no total"):
        read_totals(text)


@given(st.integers(2, 40), st.floats(0.9, 2.0))
def test_exact_totals_give_the_period_itself(count, period):
    found = period_of_totals([Total(count, count * period, 0.01), Total(2 * count, 2 * count * period, 0.01)])
    assert found.period_s.value == pytest.approx(period)
    assert found.u_after(20) < found.period_s.u


@pytest.mark.parametrize("number", [1, 2, 3, 6])
@pytest.mark.parametrize("scatter", [0.03, 0.08])
def test_its_interval_holds(number, scatter):
    """19 in 20 of simulated stopwatches read to a tenth, also of a hand that is worse than is known of it."""
    random, inside, tries = np.random.default_rng(4), 0, 1500
    known = scatter if number < 3 else 0.03
    for _ in range(tries):
        period = random.uniform(1.1, 1.6)
        counts = random.integers(10, 20, number)
        seconds = [
            round(float(n * period + random.normal(0, scatter) - random.normal(0, scatter)), 1)
            for n in counts
        ]
        totals = [Total(int(n), s, 0.1) for n, s in zip(counts, seconds, strict=True)]
        found = period_of_totals(totals, known).period_s
        inside += abs(found.value - period) <= 1.96 * found.u
    assert 0.925 <= inside / tries <= 0.985


def test_a_total_that_was_miscounted_is_named():
    with pytest.raises(NoSwingError, match=r"15 swings in 22\.4 s does not fit the others"):
        period_of_totals(read_totals("16 in 22.4; 15 in 22.4; 16 in 22.5"))
    with pytest.raises(NoSwingError, match="Check the count"):
        period_of_totals(read_totals("16 in 2.4"))


# -- a camera's square -------------------------------------------------------------------------


def filmed(random, period, *, swings=16, rate=30.0, noise=2.0, drift=25.0, leap=60.0, dark=False, off=0.0):
    """Brightness of a square over the path: a pulse at each pass, noise, drifting light, jitter."""
    t = np.arange(0, swings * period, 1 / rate) + random.normal(
        0, 0.001, int(np.ceil(swings * period * rate))
    )
    centre = off * period / 8  # the square beside the lowest point: passes come unevenly
    level = 120 + drift * np.sin(2 * np.pi * t / 17 + random.uniform(0, 6)) + drift * t / t[-1]
    for i in range(2 * swings + 1):
        at = 0.2 + i * period / 2 + (centre if i % 2 else -centre)
        level += (-1 if dark else 1) * leap * np.exp(-0.5 * ((t - at) / 0.035) ** 2)
    return np.sort(t), np.clip(level + random.normal(0, noise, len(t)), 0, 255)


def as_recording(t, level):
    lines = "\n".join(f"{a:.4f},{b:.2f}" for a, b in zip(t, level, strict=True))
    return read_recording(f"time (s),brightness\n{lines}\n".encode())


@pytest.mark.parametrize(
    "how", [{}, {"dark": True}, {"off": 0.8}, {"noise": 5.0}, {"leap": 25.0, "noise": 1.0}]
)
def test_a_camera_tells_the_period_within_a_millisecond(how):
    """Sixteen swings at thirty pictures a second; and its ± holds."""
    random, inside, worst, tries = np.random.default_rng(6), 0, 0.0, 60
    for _ in range(tries):
        period = random.uniform(1.15, 1.55)
        found = swing_in(as_recording(*filmed(random, period, **how))).period_s
        worst = max(worst, abs(found.value - period))
        inside += abs(found.value - period) <= 1.96 * found.u
    assert worst < 0.001
    assert inside >= 0.9 * tries


@pytest.mark.parametrize(
    ("made", "why"),
    [
        ({"leap": 0.0}, "Nothing passes the square"),
        ({"rate": 6.0}, "pictures a second"),
        ({"swings": 3}, "passes; let the frame swing on"),
    ],
)
def test_a_picture_without_a_swing_is_refused_with_its_reason(made, why):
    with pytest.raises(NoSwingError, match=why):
        swing_in(as_recording(*filmed(np.random.default_rng(1), 1.3, **{"swings": 16} | made)))


def test_a_dark_picture_is_refused():
    t = np.arange(0, 20, 1 / 30)
    dark = Recording(t, {"brightness": np.random.default_rng(2).uniform(0, 4, len(t))})
    with pytest.raises(NoSwingError, match="dark"):
        swing_in(dark)
