"""The swing in a recording: a damped sine that fits a signal, or the beat of its passes.

A phone tied to the frame, or a sensor, gives a signal over time; a camera gives a brightness that leaps at
each pass, a light gate the times of passes alone. A signal is fitted with ``a·exp(-γt)·cos(ωt + φ) + drift``;
the swing without damping has ``ω0² = ω² + γ²``. Some signals beat twice a swing: what pulls along the frame
is as strong on either side.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterator, Sequence
from contextlib import suppress
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate, Quantity
from kentrobar.core.reading.brightness import is_brightness, swing_before_camera
from kentrobar.core.reading.columns import Recording, no_swing
from kentrobar.core.reading.timing import LONGEST_PERIOD_S, SHORTEST_PERIOD_S, NoSwingError, Timing, period_of

LEAST_SWINGS: Final = 5
GATE_SCATTER_S: Final = 0.002
DRAWN_POINTS: Final = 400
CLOCK_U_RELATIVE: Final = 1e-4  # of a phone's or sensor's own clock: no recording is surer than that
AMPLITUDE_U_RELATIVE: Final = 0.05  # of a sensor's scale, and of how straight it is tied on
TWICE: Final = 0.06  # how near to two the ratio of two periods of one swing is
CLEAR_ENOUGH: Final = 0.6  # what a slower signal explains of itself, to be taken for the swing
_BEATS_TWICE: Final = re.compile(r"acc|abs|magnitude|norm|total|\bg\b|force")
# Units of an angle and of its rate as headers write them, and what one is in degrees.
_ANGLE_UNITS: Final = (
    (r"rad/s|rad\s?s|rad·s", math.degrees(1.0)),
    (r"(°|deg|dps)\w*/s|dps", 1.0),
    (r"\brad\b|\(rad", math.degrees(1.0)),
    (r"°|\bdeg", 1.0),
)
_LEAST_SHARE: Final = 0.5  # of the signal's energy that the damped sine must explain

Array = NDArray[np.float64]


@dataclass(frozen=True)
class SwingFit:
    """The swing found in one signal. ``drawn`` holds (t, signal, fit) for a picture.

    ``amplitude_deg`` is how far it swung to either side, as the root of the mean square over the recording;
    not measured where the signal's unit does not tell. ``notes`` say how it was read.
    """

    period_s: Estimate
    signal: str
    swings: float
    damping_per_s: float
    explained: float
    drawn: tuple[tuple[float, float, float], ...]
    amplitude_deg: Quantity = NOT_MEASURED
    notes: tuple[str, ...] = ()

    def doubled(self) -> SwingFit:
        """The same of a signal that beats twice a swing."""
        period = Estimate(2 * self.period_s.value, 2 * self.period_s.u)
        return replace(self, period_s=period, swings=self.swings / 2, amplitude_deg=NOT_MEASURED)


def swing_in(recording: Recording, passes_per_swing: int | None = None) -> SwingFit | Timing:
    """The swing in a recording: a fit of its clearest signal, or of its passes where it has none.

    ``passes_per_swing`` of 2 takes a signal that beats twice a swing, and passes both ways; where nobody
    says, a wave is taken as it is and passes as both ways.

    Raises:
        NoSwingError: says why no swing was found.
    """
    if is_brightness(recording):
        return swing_before_camera(recording, passes_per_swing or 2)
    if not recording.signals:
        return _passes(recording.times_s.tolist(), passes_per_swing, GATE_SCATTER_S)
    t = recording.times_s
    _require_samples(t)
    fits = [fit for name, each in recording.signals.items() if (fit := _fit(t, each, name))]
    if not fits:
        for leaps in _leaps(recording):
            with suppress(NoSwingError):
                return _passes(leaps, passes_per_swing, float(np.median(np.diff(t))) / 2)
        raise no_swing(
            "no_swing",
            "No column swings steadily: there is no wave that keeps its beat. Tie the phone or "
            "sensor fast, let the frame swing freely, and record at least "
            f"{LEAST_SWINGS} swings.",
        )
    best = _slowest_of_one_swing(fits)
    if passes_per_swing == 2:
        best = best.doubled()
    if best.swings < LEAST_SWINGS:
        raise no_swing(
            "too_few_swings",
            f"Only {best.swings:.1f} swings are in the recording; {LEAST_SWINGS} are needed.",
        )
    return replace(best, notes=(*recording.notes, *best.notes))


def _slowest_of_one_swing(fits: Sequence[SwingFit]) -> SwingFit:
    """The clearest signal; where another beats half as fast, that one, which tells the swing itself."""
    best = max(fits, key=lambda fit: fit.explained)
    slower = [
        fit
        for fit in fits
        if abs(fit.period_s.value / best.period_s.value - 2) < TWICE and fit.explained > CLEAR_ENOUGH
    ]
    if slower:
        swing = max(slower, key=lambda fit: fit.explained)
        note = f"“{best.signal}” beats twice a swing, “{swing.signal}” once: that one was taken."
        return replace(swing, notes=(note,))
    if _BEATS_TWICE.search(best.signal.lower()):
        note = (
            f"“{best.signal}” may beat twice a swing, since what pulls along the frame is as strong on "
            "either side; then the period is twice as long: choose “at every pass”."
        )
        return replace(best, notes=(note,))
    return best


def _passes(times_s: list[float], passes_per_swing: int | None, scatter_s: float) -> Timing:
    """The beat of recorded passes, no surer than the recorder's clock."""
    found = period_of(times_s, passes_per_swing or 2, scatter_s)
    period = found.period_s
    u = math.hypot(period.u, CLOCK_U_RELATIVE * period.value)
    return replace(found, period_s=Estimate(period.value, u))


def _leaps(recording: Recording) -> Iterator[list[float]]:
    """The moments at which a signal leaps and falls back, as a camera's brightness does at each pass."""
    for signal in recording.signals.values():
        away = np.abs(signal - np.median(signal))
        above = away > 0.5 * np.quantile(away, 0.995)
        if not 0.005 < above.mean() < 0.4:
            continue
        edges = np.flatnonzero(np.diff(above.astype(int)))
        runs = np.split(np.arange(len(above)), edges + 1)
        leaps = [run for run in runs if above[run[0]]]
        if len(leaps) >= 2 * LEAST_SWINGS:
            yield [float(np.average(recording.times_s[run], weights=away[run])) for run in leaps]


def _require_samples(t: Array) -> None:
    if len(t) < 40:
        raise no_swing("too_few_samples", f"{len(t)} samples are too few to find a swing; record longer.")
    if np.median(np.diff(t)) > LONGEST_PERIOD_S / 4:
        raise no_swing("too_slow", "The samples lie too far apart to show a swing.")


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
    parts, *_ = np.linalg.lstsq(np.column_stack([np.cos(rate * t), -np.sin(rate * t)]), scaled, rcond=None)
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
        zip(
            t[::every].tolist(),
            signal[::every].tolist(),
            (fitted[::every] * size + float(np.mean(signal))).tolist(),
            strict=True,
        )
    )
    u = math.hypot(u * _correlation_factor(residuals), CLOCK_U_RELATIVE * period)
    size *= math.hypot(float(found[0]), float(found[1]))
    amplitude = _amplitude(name, size, damping, span, whole)
    return SwingFit(Estimate(period, u), name, span / period, damping, explained, drawn, amplitude)


def _amplitude(name: str, size: float, damping: float, span: float, rate: float) -> Quantity:
    """How far it swung to either side, degrees, where the signal is an angle or its rate in a known unit.

    ``size`` is that of the wave at the start; over the recording it fades.
    """
    faded = math.sqrt((1 - math.exp(-2 * damping * span)) / (2 * damping * span)) if damping > 0 else 1.0
    lowered = name.lower()
    for pattern, degrees in _ANGLE_UNITS:
        if re.search(pattern, lowered):
            is_rate = "/s" in pattern
            found = size * faded * degrees / (rate if is_rate else 1.0)
            return Estimate(found, AMPLITUDE_U_RELATIVE * found) if found < 90 else NOT_MEASURED
    return NOT_MEASURED


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
