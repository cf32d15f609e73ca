"""Several readings of one quantity: mean, spread, standard error, what to make of one that stands out.

The mean of N readings has the variance s²/N + r²/12: the scatter s falls with N, the instrument's
step r (its resolution) does not. A few readings tell s badly, so what the instrument is known to
repeat to counts as if it had been seen in ``PRIOR_READINGS`` readings before.
"""

from __future__ import annotations

import math
import statistics
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from kentrobar.core.body.specs import ReadSpec
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.reading.calibration import Correction

PRIOR_READINGS: Final = 8
OUTLIER_SIGMAS: Final = 4.0
WORTH_A_READING: Final = 0.9  # one more reading helps where it brings ± below this part of it
_MAD_TO_SIGMA: Final = 1.4826  # of a normal distribution


@dataclass(frozen=True)
class Precision:
    """How finely and how surely an instrument reads, in the unit of what it reads.

    ``resolution`` is its smallest step, ``repeatability`` the standard deviation of one reading,
    ``systematic`` a standard uncertainty that all its readings share (calibration).
    """

    resolution: float
    repeatability: float
    systematic: float = 0.0

    @property
    def step_u(self) -> float:
        """Standard uncertainty from the step: a uniform error over one step."""
        return self.resolution / math.sqrt(12)

    def after(self, correction: Correction, reading: float) -> Precision:
        """The same in terms of what a calibrated instrument measures, near one of its readings."""
        scale, u = correction.scale, correction.u_at(reading)
        return Precision(self.resolution * scale, self.repeatability * scale, u)

    @property
    def one_reading_u(self) -> float:
        """± of one reading, in its unit."""
        return math.hypot(self.repeatability, self.step_u, self.systematic)


def usual_precision(spec: ReadSpec) -> Precision:
    """That of an instrument nobody has described, in the spec's base unit: one reading has the usual ±."""
    step_u = Precision(spec.step, 0.0).step_u
    return Precision(spec.step, math.sqrt(spec.usual_u**2 - step_u**2))


@dataclass(frozen=True)
class Series:
    """Readings of one quantity, summed up over those that stand; ``outliers`` are by index."""

    values: tuple[float, ...]
    left_out: frozenset[int]
    mean: float
    deviation: float  # standard deviation of those that stand; 0 for one reading
    standard_error: float  # the mean's part from scatter
    u: float  # standard uncertainty of the mean with step and calibration
    outliers: tuple[int, ...]
    next_u: float  # what one more reading would bring u to

    @property
    def count(self) -> int:
        """How many readings count."""
        return len(self.values) - len(self.left_out)

    @property
    def estimate(self) -> Estimate:
        """The mean with its ±, in the readings' unit."""
        return Estimate(self.mean, self.u)

    @property
    def one_more_helps(self) -> bool:
        """Whether one more reading would narrow the ± worth the while."""
        return bool(self.outliers) or self.count < 2 or self.next_u < WORTH_A_READING * self.u

    def interval_95(self) -> tuple[float, float]:
        """Where the truth lies with 95 % confidence."""
        return self.mean - 1.96 * self.u, self.mean + 1.96 * self.u


def summarize(
    values: Sequence[float], precision: Precision, left_out: frozenset[int] = frozenset()
) -> Series:
    """Sum up at least one reading. ``left_out`` are indices that the person does not count.

    Raises:
        ValueError: no reading that stands.
    """
    standing = [value for i, value in enumerate(values) if i not in left_out]
    if not standing:
        raise ValueError("no reading stands")
    n, mean = len(standing), statistics.fmean(standing)
    deviation = statistics.stdev(standing) if n > 1 else 0.0
    scatter = _scatter(deviation, n, precision)
    fixed = math.hypot(precision.step_u, precision.systematic)
    return Series(
        tuple(values),
        left_out,
        mean,
        deviation,
        scatter / math.sqrt(n),
        math.hypot(scatter / math.sqrt(n), fixed),
        _outliers(values, left_out, precision),
        math.hypot(scatter / math.sqrt(n + 1), fixed),
    )


def _scatter(deviation: float, n: int, precision: Precision) -> float:
    """Standard deviation of one reading, from those seen and what the instrument is known for."""
    seen, known = n - 1, PRIOR_READINGS
    pooled = seen * deviation**2 + known * precision.repeatability**2
    return math.sqrt(pooled / (seen + known))


def _outliers(
    values: Sequence[float], left_out: frozenset[int], precision: Precision
) -> tuple[int, ...]:
    """Those too far from the middle of the others to be scatter; two readings cannot tell which."""
    standing = [i for i in range(len(values)) if i not in left_out]
    if len(standing) < 3:
        return ()
    middle = statistics.median(values[i] for i in standing)
    mad = statistics.median(abs(values[i] - middle) for i in standing)
    usual = math.hypot(precision.repeatability, precision.step_u)
    reach = OUTLIER_SIGMAS * max(usual, _MAD_TO_SIGMA * mad)
    return tuple(i for i in standing if abs(values[i] - middle) > reach)


def disagree(series: Series, precision: Precision) -> bool:
    """Whether two readings differ by more than the instrument does from one to the next."""
    if series.count != 2:
        return False
    usual = math.hypot(precision.repeatability, precision.step_u) * math.sqrt(2)
    return series.deviation * math.sqrt(2) > OUTLIER_SIGMAS * usual
