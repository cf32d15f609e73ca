"""Recordings of every usual shape are read right, or refused with the true reason.

One swing of known period, amplitude and damping, told by a gyroscope, an accelerometer, an angle, a camera's
brightness or a light gate, and written down as phones, sensors and spreadsheets write.
"""

from datetime import datetime, timedelta

import numpy as np
import pytest

from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.reading.columns import read_recording
from kentrobar.core.reading.recordings import SwingFit, swing_in
from kentrobar.core.reading.timing import NoSwingError, Timing

PERIOD, DAMPING, AMPLITUDE = 1.4021, 0.015, np.radians(8.0)
RATE = 2 * np.pi / PERIOD
RANDOM = np.random.default_rng(12)
T = np.arange(0, 24, 0.02)
ANGLE = AMPLITUDE * np.exp(-DAMPING * T) * np.cos(RATE * T)
GYRO = np.gradient(ANGLE, T) + RANDOM.normal(0, 0.004, len(T))
ALONG = 9.81 * np.cos(ANGLE) + 0.6 * np.gradient(ANGLE, T) ** 2 + RANDOM.normal(0, 0.004, len(T))
ACROSS = 9.81 * np.sin(ANGLE) * 0.3 + RANDOM.normal(0, 0.02, len(T))
LIGHT = 200 - 120 * np.exp(-((ANGLE / 0.012) ** 2)) + RANDOM.normal(0, 2, len(T))
PASSES = [(i + 0.5) * PERIOD / 2 + (0.02 if i % 2 else 0.0) for i in range(30)]
START = datetime.fromisoformat("2026-03-14T10:59:48.250")


def rows(*columns, delimiter=",", form="%.5f"):
    forms = form if isinstance(form, list) else [form] * len(columns)
    return [
        "".join(delimiter.join(f % v if "%" in f else v for f, v in zip(forms, row, strict=True)))
        for row in zip(*columns, strict=True)
    ]


def file(header, lines, encoding="utf-8", end="\n"):
    return end.join([*([header] if header else []), *lines]).encode(encoding)


def comma(lines):
    return [line.replace(".", ",") for line in lines]


MOMENTS = [START + timedelta(seconds=float(t)) for t in T]
ISO = [m.isoformat(timespec="milliseconds") for m in MOMENTS]
CLOCK = [m.strftime("%H:%M:%S.%f")[:-3] for m in MOMENTS]
LATE = [(m + timedelta(hours=13)).strftime("%H:%M:%S.%f") for m in MOMENTS]
COMMAS = [f"{g:.5f}".replace(".", ",") for g in GYRO]
NOISE = RANDOM.normal(0, 1, len(T))
SHUFFLED = RANDOM.permutation(len(T))
N = np.arange(len(T))
TWO, MIXED = rows(T, GYRO), rows(T, ACROSS, GYRO)
BLANKS = [line if i % 97 else line.split(",")[0] + "," for i, line in enumerate(TWO)]

READ = {
    "comma": file("time,gyro", TWO),
    "semicolon": file("time;gyro", rows(T, GYRO, delimiter=";")),
    "tab": file("time\tgyro", rows(T, GYRO, delimiter="\t")),
    "bar": file("time|gyro", rows(T, GYRO, delimiter="|")),
    "spaces": file("time gyro", rows(T, GYRO, delimiter="   ")),
    "no header": file("", TWO),
    "windows line ends": file("time,gyro", TWO, end="\r\n"),
    "byte order mark": b"\xef\xbb\xbf" + file("time,gyro", TWO),
    "utf-16": file("time,gyro (°/s)", TWO, "utf-16"),
    "utf-16 without mark": file("time,gyro", TWO, "utf-16-le"),
    "latin-1": file("Zeit,Drehrate (°/s)", TWO, "latin-1"),
    "decimal commas": file("time;gyro", comma(rows(T, GYRO, delimiter=";"))),
    "decimal commas in quotes": file("time,gyro", rows(T, COMMAS, form=["%.3f", '"%s"'])),
    "decimal commas of one column": file("time;gyro", rows(T, COMMAS, form=["%.3f", "%s"], delimiter=";")),
    "two columns of time": file(
        "time,seconds_elapsed,x", rows(T * 1e9 + 1.7e18, T, GYRO, form=["%.0f", "%.4f", "%.5f"])
    ),
    "epoch in milliseconds": file("timestamp,x", rows(T * 1e3 + 1.7e12, GYRO, form=["%.0f", "%.5f"])),
    "epoch in microseconds": file("timestamp,x", rows(T * 1e6 + 1.7e15, GYRO, form=["%.0f", "%.5f"])),
    "milliseconds by name": file("t (ms),x", rows(T * 1e3, GYRO)),
    "milliseconds by size": file("t,x", rows(T * 1e3, GYRO)),
    "no column named time": file("a,b", TWO),
    "time in the last column": file("gyro,time", rows(GYRO, T)),
    "count, then milliseconds": file("", rows(N, T * 1e3, GYRO, form=["%d", "%.1f", "%.5f"])),
    "a named count": file("index,time_ms,x", rows(N, T * 1e3, GYRO, form=["%d", "%.1f", "%.5f"])),
    "names that repeat": file("time,x,x,x", rows(T, NOISE, GYRO, NOISE[::-1])),
    "a row of units": file("time,gyro x\ns,rad/s", TWO),
    "remarks before": b"# made at the bench\nDevice: phone\nRate: 50\n" + file("time,gyro", TWO),
    "a text column": file("time,sensor,x", rows(T, GYRO, form=["%.3f", "%.5f"], delimiter=",gyro,")),
    "dates with times": file("when,x", rows(ISO, GYRO, form=["%s", "%.5f"])),
    "dates in a zone": file("when,x", rows([i + "+01:00" for i in ISO], GYRO, form=["%s", "%.5f"])),
    "times of day": file("clock,x", rows(CLOCK, GYRO, form=["%s", "%.5f"])),
    "times of day past midnight": file("clock,x", rows(LATE, GYRO, form=["%s", "%.5f"])),
    "out of order": file("time,x", [TWO[i] for i in SHUFFLED]),
    "newest first": file("time,x", TWO[::-1]),
    "empty cells": file("time,gyro", BLANKS),
    "a delimiter at the end of rows": file("time,gyro", [f"{line}," for line in TWO]),
    "a broken last line": file("time,gyro", [*TWO, "24.0"]),
    "several signals": file("time,ax,gz", MIXED),
    "an angle": file("time,roll (deg)", rows(T, np.degrees(ANGLE))),
    "a gyroscope beside what beats twice": file("time,acc_y,gyro_z (rad/s)", rows(T, ALONG, GYRO)),
    "a camera's brightness": file("t,brightness", rows(T, LIGHT)),
    "passes of a light gate": file("", [f"{p:.4f}" for p in PASSES]),
    "passes with their count": file("no,time", rows(range(30), PASSES, form=["%d", "%.4f"])),
}

REFUSED = {
    "no numbers": (b"hello\nworld\n", "No rows of numbers"),
    "a picture": (b"\x89PNG\r\n\x1a\n" + bytes(range(256)) * 8, "not a text file"),
    "counts but no times": (file("frame,x", rows(N, LIGHT, form=["%d", "%.1f"])), "No column of times"),
    "a signal alone": (file("gyro", [f"{g:.5f}" for g in GYRO]), "No column of times"),
    "noise": (file("time,x", rows(T, NOISE)), "No column swings"),
    "at rest": (file("time,x", rows(T, np.ones(len(T)))), "No column swings"),
    "a short cut": (file("time,x", TWO[:200]), "swings are in"),
    "too few rows": (file("time,x", TWO[:20]), "too few"),
    "samples too far apart": (file("time,x", rows(T[::20] * 20, GYRO[::20])), "samples|No column swings"),
    "one pass a day": (file("", [f"{p * 6e4:.1f}" for p in PASSES]), "no swing of a frame|gap"),
}


@pytest.mark.parametrize("shape", READ)
def test_a_recording_is_read_right_whatever_its_shape(shape):
    found = swing_in(read_recording(READ[shape]))
    assert found.period_s.value == pytest.approx(PERIOD, abs=max(4 * found.period_s.u, 0.0004))
    assert 0.0001 < found.period_s.u < 0.01
    assert isinstance(found, Timing) == (shape.startswith(("passes", "a camera")))


@pytest.mark.parametrize("shape", REFUSED)
def test_what_holds_no_swing_is_refused_with_the_reason(shape):
    data, reason = REFUSED[shape]
    with pytest.raises(NoSwingError, match=reason):
        swing_in(read_recording(data))


@pytest.mark.parametrize(
    ("header", "signal"),
    [
        ("time,gyro (rad/s)", GYRO),
        ("time,gyro (deg/s)", np.degrees(GYRO)),
        ("time,w (°/s)", np.degrees(GYRO)),
        ("time,roll (deg)", np.degrees(ANGLE)),
        ("time,angle (rad)", ANGLE),
    ],
)
def test_amplitude_and_damping_are_told_by_the_signal(header, signal):
    """As the root of the mean square of the swing's width over the recording."""
    found = swing_in(read_recording(file(header, rows(T, signal))))
    true = np.degrees(np.sqrt(np.mean((AMPLITUDE * np.exp(-DAMPING * T)) ** 2)))
    assert found.amplitude_deg.value == pytest.approx(true, rel=0.02)
    assert found.damping_per_s == pytest.approx(DAMPING, rel=0.1)
    bare = swing_in(read_recording(file("time,x", rows(T, signal))))
    assert not isinstance(bare.amplitude_deg, Estimate)


def test_what_pulls_along_the_frame_beats_twice_and_says_so():
    found = swing_in(read_recording(file("time,acc_abs", rows(T, ALONG))))
    assert isinstance(found, SwingFit)
    assert found.period_s.value == pytest.approx(PERIOD / 2, abs=0.001)
    assert "may beat twice a swing" in found.notes[-1]
    twice = swing_in(read_recording(file("time,acc_abs", rows(T, ALONG))), 2)
    assert twice.period_s.value == pytest.approx(PERIOD, abs=0.002)
    both = swing_in(read_recording(READ["a gyroscope beside what beats twice"]))
    assert both.signal == "gyro_z (rad/s)"


def test_a_clean_signal_is_no_surer_than_its_clock():
    found = swing_in(read_recording(file("time,roll (deg)", rows(T, np.degrees(ANGLE), form="%.9f"))))
    assert found.period_s.u >= 0.99e-4 * PERIOD


def test_how_a_file_was_read_is_said():
    assert "put in order" in read_recording(READ["out of order"]).notes[0]
    assert "“time” was taken" in read_recording(READ["two columns of time"]).notes[0]
    assert "empty cell" in read_recording(READ["empty cells"]).notes[0]
    assert "another length left out" in read_recording(READ["a broken last line"]).notes[0]
    assert list(read_recording(READ["names that repeat"]).signals) == ["x", "x #2", "x #3"]
