"""The passes of a frame before a camera: how bright a small square of the picture is, over time.

Set over the path of the handle's end, the square leaps in brightness whenever that passes, both ways. What
drifts slowly, a cloud or a camera that adapts, is taken off as a running median; what is left are pulses out
of noise. A pulse counts from half its usual height, and its moment is its centre of gravity, which tells it
to a small part of a picture's time.
"""

from __future__ import annotations

import math
from typing import Final

import numpy as np
from numpy.typing import NDArray

from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.reading.columns import Recording, no_swing
from kentrobar.core.reading.timing import Timing, period_of

SIGNAL: Final = "brightness"  # what the page calls the column, 0 to 255
DRIFT_S: Final = 0.9  # of the running median: longer than a pass, shorter than a cloud
DARK: Final = 8.0  # of 255: below it a picture shows nothing
LEAST_LEAP: Final = 3.0  # of 255
LEAST_OVER_NOISE: Final = 5.0
LEAST_RATE_HZ: Final = 10.0  # a pass lasts a tenth of a second
CLOCK_U_RELATIVE: Final = 1e-4
_LEAST_PASSES: Final = 8

Array = NDArray[np.float64]


def is_brightness(recording: Recording) -> bool:
    """Whether a recording is what a camera's square told."""
    return list(recording.signals) == [SIGNAL]


def swing_before_camera(recording: Recording, passes_per_swing: int = 2) -> Timing:
    """The beat of a camera's square, with ±.

    Raises:
        NoSwingError: a dark or empty picture, too few frames a second, no beat; it says which.
    """
    t, level = recording.times_s, recording.signals[SIGNAL]
    _require_picture(t, level)
    pulses = _pulses(t, level)
    moments = _moments(t, pulses)
    if len(moments) < _LEAST_PASSES:
        raise no_swing(
            "too_few_passes",
            f"The square saw {len(moments)} passes; let the frame swing on until there are sixteen at least.",
        )
    found = period_of(moments, passes_per_swing, float(np.median(np.diff(t))) / 4)
    period = found.period_s
    u = math.hypot(period.u, CLOCK_U_RELATIVE * period.value)
    return Timing(
        Estimate(period.value, u),
        found.swings,
        found.used,
        found.left_out,
        found.scatter_s,
        found.passes_per_swing,
    )


def _require_picture(t: Array, level: Array) -> None:
    if len(t) < 40:
        raise no_swing("too_few_samples", f"{len(t)} pictures are too few; film sixteen swings.")
    rate = 1 / float(np.median(np.diff(t)))
    if rate < LEAST_RATE_HZ:
        raise no_swing(
            "too_slow",
            f"The camera gives {rate:.0f} pictures a second; {LEAST_RATE_HZ:.0f} are needed. More light, or "
            "a smaller picture, makes it faster.",
        )
    if float(np.quantile(level, 0.98)) < DARK:
        raise no_swing("dark", "The picture is dark where the square is; give it light, or check the lens.")


def _pulses(t: Array, level: Array) -> Array:
    """What leaps, upward: without what drifts, turned over where the handle is darker than what is behind it.

    Raises:
        NoSwingError: nothing leaps out of the noise.
    """
    from scipy.ndimage import median_filter  # loaded late: no start of the application needs it

    step = float(np.median(np.diff(t)))
    width = max(int(DRIFT_S / step) | 1, 3)
    rest = level - median_filter(level, size=width, mode="nearest")
    up, down = float(np.quantile(rest, 0.97)), -float(np.quantile(rest, 0.03))
    rest = rest if up >= down else -rest
    noise = 1.4826 * float(np.median(np.abs(rest - np.median(rest))))
    height = float(np.quantile(rest, 0.97))
    if height < max(LEAST_LEAP, LEAST_OVER_NOISE * noise):
        raise no_swing(
            "nothing_passes",
            "Nothing passes the square: its brightness hardly changes. Draw it over the path of the handle’s "
            "end; on a dark grip a strip of white tape is seen well.",
        )
    return np.asarray(rest)


def _moments(t: Array, pulses: Array) -> list[float]:
    """When each pulse was at its middle: the centre of gravity of what is above a quarter of its height."""
    usual = float(np.median([pulses[run].max() for run in _runs(pulses > 0.5 * pulses.max())]))
    moments = []
    for run in _runs(pulses > 0.25 * usual):
        if pulses[run].max() > 0.5 * usual:
            around = np.arange(max(run[0] - 1, 0), min(run[-1] + 2, len(t)))
            weights = np.clip(pulses[around], 0.0, None)
            moments.append(float(np.average(t[around], weights=weights)))
    return moments


def _runs(above: NDArray[np.bool_]) -> list[NDArray[np.intp]]:
    """The stretches over which something is true."""
    edges = np.flatnonzero(np.diff(above.astype(int)))
    return [run for run in np.split(np.arange(len(above)), edges + 1) if above[run[0]]]
