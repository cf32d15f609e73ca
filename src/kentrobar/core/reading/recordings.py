"""A recording of a swing: its text as columns of numbers, and the damped sine that fits it.

A phone tied to the frame, or a sensor, gives a signal over time; a light gate or a video gives the
times of passes alone. A signal is fitted with ``a·exp(-γt)·cos(ωt + φ) + drift``; the swing without
damping has ``ω0² = ω² + γ²``.
"""

from __future__ import annotations

import csv
import io
import math
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.reading.timing import (
    LONGEST_PERIOD_S,
    SHORTEST_PERIOD_S,
    NoSwingError,
    Timing,
    period_of,
)

LARGEST_RECORDING_BYTES: Final = 3_000_000
MOST_ROWS: Final = 60_000
LEAST_SWINGS: Final = 5
GATE_SCATTER_S: Final = 0.002
DRAWN_POINTS: Final = 400
_LEAST_SHARE: Final = 0.5  # of the signal's energy that the damped sine must explain
_TIME_FACTORS: Final = (1.0, 1e-3, 1e-6, 1e-9)

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Recording:
    """Columns of equal length: ``times_s`` and, unless only passes were noted, named signals."""

    times_s: Array
    signals: dict[str, Array]


@dataclass(frozen=True)
class SwingFit:
    """The swing found in one signal. ``drawn`` holds (t, signal, fit) for a picture."""

    period_s: Estimate
    signal: str
    swings: float
    damping_per_s: float
    explained: float
    drawn: tuple[tuple[float, float, float], ...]


def read_recording(data: bytes) -> Recording:
    """The columns of a CSV file: comma, semicolon or tab; decimal comma; with or without a header.

    Raises:
        NoSwingError: too large, no numbers, rows of different length, times that do not run forward.
    """
    if len(data) > LARGEST_RECORDING_BYTES:
        raise _no_swing(
            "recording_too_large",
            f"The file is larger than {LARGEST_RECORDING_BYTES / 1e6:.0f} MB; cut it to the swing.",
        )
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise _no_swing("not_text", "This is not a text file; save the recording as CSV.") from None
    header, rows = _rows(text)
    if len(rows) < 4:
        raise _no_swing(
            "no_numbers",
            "No rows of numbers were found; the file needs a column of times, with a column of "
            "what was recorded beside it unless the times are passes.",
        )
    table = np.array(rows)
    times = table[:, 0]
    if np.any(np.diff(times) < 0) or times[-1] <= times[0]:
        raise _no_swing(
            "times_run_back", "The first column does not run forward; put the times there."
        )
    names = [
        header[i].strip() if i < len(header) and header[i].strip() else f"column {i + 1}"
        for i in range(table.shape[1])
    ]
    times = (times - times[0]) * _time_factor(names[0], times)
    return Recording(times, {names[i]: table[:, i] for i in range(1, table.shape[1])})


def _rows(text: str) -> tuple[list[str], list[list[float]]]:
    lines = [line for line in text.splitlines() if line.strip() and not line.startswith("#")]
    sample = "\n".join(lines[:20])
    delimiter = next((d for d in (";", "\t") if d in sample), ",")
    header: list[str] = []
    rows: list[list[float]] = []
    for cells in csv.reader(io.StringIO("\n".join(lines[: MOST_ROWS + 5])), delimiter=delimiter):
        numbers = _numbers(cells, comma=delimiter != ",")
        if numbers and (not rows or len(numbers) == len(rows[0])):
            rows.append(numbers)
        elif not rows:
            header = cells
    return header, rows


def _numbers(cells: list[str], comma: bool) -> list[float]:
    """The cells as finite numbers, or nothing where one is not."""
    filled = [cell.strip() for cell in cells]
    while filled and not filled[-1]:
        filled.pop()
    try:
        numbers = [float(cell.replace(",", ".") if comma else cell) for cell in filled]
    except ValueError:
        return []
    return numbers if all(map(math.isfinite, numbers)) else []


def _time_factor(name: str, times: Array) -> float:
    """Seconds, unless the header or the size of the steps says milli-, micro- or nanoseconds."""
    lowered = name.lower()
    for mark, factor in (("ns", 1e-9), ("nano", 1e-9), ("µs", 1e-6), ("us)", 1e-6), ("ms", 1e-3),
                         ("milli", 1e-3)):  # fmt: skip
        if mark in lowered:
            return factor
    if "(s)" in lowered or "second" in lowered:
        return 1.0
    span = float(times[-1] - times[0])
    # A swing is timed over seconds to a few minutes.
    return next((factor for factor in _TIME_FACTORS if span * factor <= 900), 1e-9)


def swing_in(recording: Recording, passes_per_swing: int = 2) -> SwingFit | Timing:
    """The swing in a recording: a fit of its clearest signal, or of its passes where it has none.

    Raises:
        NoSwingError: says why no swing was found.
    """
    if not recording.signals:
        return period_of(recording.times_s.tolist(), passes_per_swing, GATE_SCATTER_S)
    t = recording.times_s
    _require_samples(t)
    fits = []
    for name, signal in recording.signals.items():
        fit = _fit(t, signal, name)
        if fit is not None:
            fits.append(fit)
    if not fits:
        raise _no_swing(
            "no_swing",
            "No column swings steadily: there is no wave that keeps its beat. Tie the phone or "
            "sensor fast, let the frame swing freely, and record at least "
            f"{LEAST_SWINGS} swings.",
        )
    best = max(fits, key=lambda fit: fit.explained)
    if best.swings < LEAST_SWINGS:
        raise _no_swing(
            "too_few_swings",
            f"Only {best.swings:.1f} swings are in the recording; {LEAST_SWINGS} are needed.",
        )
    return best


def _require_samples(t: Array) -> None:
    if len(t) < 40:
        raise _no_swing(
            "too_few_samples", f"{len(t)} samples are too few to find a swing; record longer."
        )
    if np.median(np.diff(t)) > LONGEST_PERIOD_S / 4:
        raise _no_swing("too_slow", "The samples lie too far apart to show a swing.")


def _fit(t: Array, signal: Array, name: str) -> SwingFit | None:
    """The damped sine of one signal, or None where it has none."""
    # scipy takes half a second to load, which every start of the application would pay.
    from scipy.optimize import curve_fit

    span = float(t[-1] - t[0])
    size = float(np.std(signal))
    if size <= 1e-12 or not math.isfinite(size):
        return None
    rate = _strongest_rate(t, signal)
    if rate is None:
        return None
    scaled = (signal - np.mean(signal)) / size
    parts, *_ = np.linalg.lstsq(
        np.column_stack([np.cos(rate * t), -np.sin(rate * t)]), scaled, rcond=None
    )
    middle, slope = float(np.mean(scaled)), 0.0
    start = (float(parts[0]) or 0.1, float(parts[1]) or 0.1, 0.2 / span, rate, middle, slope)
    try:
        found, covariance = curve_fit(_damped, t, scaled, p0=start, jac=_damped_slopes, maxfev=400)
    except RuntimeError:
        return None
    fitted = _damped(t, *found)
    residuals = scaled - fitted
    total = scaled - np.polyval(np.polyfit(t, scaled, 1), t)
    explained = 1 - float(residuals @ residuals) / float(total @ total)
    damping, omega = float(found[2]), abs(float(found[3]))
    if explained < _LEAST_SHARE or omega <= 0:
        return None
    whole = math.hypot(omega, damping)
    period = 2 * math.pi / whole
    if not SHORTEST_PERIOD_S <= period <= LONGEST_PERIOD_S:
        return None
    u = period * math.sqrt(max(float(covariance[3, 3]), 0.0)) / whole
    every = max(1, len(t) // DRAWN_POINTS)
    drawn = tuple(
        zip(t[::every].tolist(), signal[::every].tolist(),
            (fitted[::every] * size + float(np.mean(signal))).tolist(), strict=True)
    )  # fmt: skip
    kept_beat = _correlation_factor(residuals)
    return SwingFit(Estimate(period, u * kept_beat), name, span / period, damping, explained, drawn)


def _damped(
    t: Array, cosine: float, sine: float, damping: float, omega: float, middle: float, slope: float
) -> Array:
    wave = cosine * np.cos(omega * t) - sine * np.sin(omega * t)
    return np.asarray(np.exp(np.clip(-damping * t, -50, 50)) * wave + middle + slope * t)


def _damped_slopes(
    t: Array, cosine: float, sine: float, damping: float, omega: float, middle: float, slope: float
) -> Array:
    """The derivatives of :func:`_damped` by its parameters, one a column."""
    fading = np.exp(np.clip(-damping * t, -50, 50))
    in_phase, across = fading * np.cos(omega * t), fading * np.sin(omega * t)
    wave = cosine * in_phase - sine * across
    of_rate = -t * (cosine * across + sine * in_phase)
    return np.column_stack([in_phase, -across, -t * wave, of_rate, np.ones_like(t), t])


def _strongest_rate(t: Array, signal: Array) -> float | None:
    """Angular rate of the strongest wave within what a frame may swing at, rad/s."""
    n = len(t)
    even = np.linspace(t[0], t[-1], n)
    level = np.interp(even, t, signal)
    level = (level - np.polyval(np.polyfit(even, level, 1), even)) * np.hanning(n)
    padded = 8 * n
    power = np.abs(np.fft.rfft(level, padded)) ** 2
    rates = np.fft.rfftfreq(padded, (even[-1] - even[0]) / (n - 1))
    swinging = (rates >= 1 / LONGEST_PERIOD_S) & (rates <= 1 / SHORTEST_PERIOD_S)
    if not swinging.any() or power[swinging].max() <= 0:
        return None
    return float(2 * math.pi * rates[swinging][np.argmax(power[swinging])])


def _correlation_factor(residuals: Array) -> float:
    """What neighbouring residuals that go together widen the ± by (first-order autoregression)."""
    rest = residuals - residuals.mean()
    square = float(rest @ rest)
    if square <= 0:
        return 1.0
    together = min(max(float(rest[1:] @ rest[:-1]) / square, 0.0), 0.99)
    return math.sqrt((1 + together) / (1 - together))


def _no_swing(code: str, message: str) -> NoSwingError:
    return NoSwingError(message, code=code, field="recording")
