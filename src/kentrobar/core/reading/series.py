"""Several readings of one quantity: mean, spread, standard error, what to make of one that stands out.

The mean of N readings has the variance s²/N + r²/12: the scatter s falls with N, the instrument's step r
(its resolution) does not. What the readings themselves scatter by is widened by Student's t, since a few
tell it badly, and what the instrument is known for is added in squares, since a few that happen to agree
tell too little: so 95 of 100 intervals hold the truth for instruments as good as they are known for and for
those that scatter five times as much. Two readings cannot tell their own scatter; there t stops at that of
three, and instruments worse than known are caught in 86 to 92 of 100 cases only (docs/physics.md).
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

KNOWN_PART: Final = 0.8  # of what the instrument is known for, that counts beside the readings' own scatter
KNOWN_PART_OF_TWO: Final = 1.2
LEAST_FREEDOM: Final = 2  # Student's t of one degree of freedom would call two good readings worse than one
NORMAL_95: Final = 1.959964  # standard deviations to either side that hold 95 %
OUTLIER_SIGMAS: Final = 4.0
FEW: Final = 3  # readings; so few tell their scatter badly
WORTH_A_READING: Final = 0.9  # more readings help where it brings ± below this part of it
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
    def shared_u(self) -> float:
        """What all its readings of one thing are off by together: by its step and its calibration."""
        return math.hypot(self.step_u, self.systematic)

    @property
    def one_reading_u(self) -> float:
        """± of one reading, in its unit."""
        return math.hypot(self.repeatability, self.shared_u)


def usual_precision(spec: ReadSpec, step: float = 0.0) -> Precision:
    """That of an instrument nobody has described, in the spec's base unit: one reading has the usual ±.

    ``step`` is what its digits show; where that is coarser than usual the ± is wider by it.
    """
    step_u = Precision(spec.step, 0.0).step_u
    return Precision(max(spec.step, step), math.sqrt(spec.usual_u**2 - step_u**2))


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
    next_u: float  # what ``more`` readings would bring u to
    more: int

    @property
    def count(self) -> int:
        """How many readings count."""
        return len(self.values) - len(self.left_out)

    @property
    def estimate(self) -> Estimate:
        """The mean with its ±, in the readings' unit."""
        return Estimate(self.mean, self.u)

    @property
    def more_help(self) -> bool:
        """Whether so many more readings would narrow the ± worth the while."""
        return bool(self.outliers) or self.count < 2 or self.next_u < WORTH_A_READING * self.u

    def interval_95(self) -> tuple[float, float]:
        """Where the truth lies with 95 % confidence, in the unit of the readings."""
        return self.mean - NORMAL_95 * self.u, self.mean + NORMAL_95 * self.u


def summarize(
    values: Sequence[float], precision: Precision, left_out: frozenset[int] = frozenset()
) -> Series:
    """Sum up at least one reading. ``left_out`` are indices that the person does not count.

    Raises:
        ValueError: no reading that stands.
    """
    counted = [value for i, value in enumerate(values) if i not in left_out]
    if not counted:
        raise ValueError("no reading counts")
    n, mean = len(counted), statistics.fmean(counted)
    deviation = statistics.stdev(counted) if n > 1 else 0.0
    more = 1 if n >= FEW else FEW + 1 - n
    scatter, later = (_scatter(deviation, count, precision) for count in (n, n + more))
    fixed = precision.shared_u
    return Series(
        tuple(values),
        left_out,
        mean,
        deviation,
        scatter / math.sqrt(n),
        math.hypot(scatter / math.sqrt(n), fixed),
        _outliers(values, left_out, precision),
        math.hypot(later / math.sqrt(n + more), fixed),
        more,
    )


def _scatter(deviation: float, n: int, precision: Precision) -> float:
    """Standard deviation of one of ``n`` readings, from those seen and what the instrument is known for.

    What rounding to the step adds to it is counted with the step.
    """
    own = max(deviation**2 - precision.step_u**2, 0.0)
    return scatter_of((n - 1) * own, n - 1, precision.repeatability)


def scatter_of(squares: float, freedom: int, known: float) -> float:
    """Standard deviation of one reading, widened so that ±1.96 of it (over √N) holds 95 %.

    Args:
        squares: sum of the squared residuals, in the readings' unit squared.
        freedom: their degrees of freedom; without any, what is known stands.
        known: standard deviation that the instrument is known for.
    """
    from scipy.special import stdtrit  # loaded late: no start of the application needs it

    if freedom == 0:
        return known
    t = float(stdtrit(max(freedom, LEAST_FREEDOM), 0.975))
    part = KNOWN_PART_OF_TWO if freedom == 1 else KNOWN_PART
    return math.hypot(part * known, t * math.sqrt(squares / freedom)) / NORMAL_95


def scatters_more_than_known(series: Series, precision: Precision) -> bool:
    """Whether readings scatter far more than their instrument is known for (Birge ratio, χ² at 1 %)."""
    from scipy.special import chdtri

    freedom = series.count - 1
    usual = math.hypot(precision.repeatability, precision.step_u)
    return freedom > 1 and freedom * series.deviation**2 > float(chdtri(freedom, 0.01)) * usual**2


def _outliers(values: Sequence[float], left_out: frozenset[int], precision: Precision) -> tuple[int, ...]:
    """Those too far from the middle of the others to be scatter; two readings cannot tell which."""
    counted = [i for i in range(len(values)) if i not in left_out]
    if len(counted) < 3:
        return ()
    middle = statistics.median(values[i] for i in counted)
    mad = statistics.median(abs(values[i] - middle) for i in counted)
    usual = math.hypot(precision.repeatability, precision.step_u)
    reach = OUTLIER_SIGMAS * max(usual, _MAD_TO_SIGMA * mad)
    return tuple(i for i in counted if abs(values[i] - middle) > reach)


def disagree(series: Series, precision: Precision) -> bool:
    """Whether two readings differ by more than the instrument does from one to the next."""
    if series.count != 2:
        return False
    usual = math.hypot(precision.repeatability, precision.step_u) * math.sqrt(2)
    return series.deviation * math.sqrt(2) > OUTLIER_SIGMAS * usual
