"""What many jobs together say of a roll: whether its density is what it is taken for.

Each job ends with what it knows of the roll, its own beginning included. What the job alone told is what is
left of its precision without that beginning; these add up over jobs (inverse variances, C. F. Gauss, 1809),
and what the roll is taken for comes in once.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final, NamedTuple

from kentrobar.core.quantities.estimates import Estimate

SIGMAS_OF_95: Final = 1.96
FEWEST_JOBS: Final = 2  # one job alone may have a reading off that nobody noticed
_TELLS_NOTHING: Final = 1e-9


class Finding(NamedTuple):
    """What one job knew of a roll's factor in the end, and how unsure the factor 1 was when it began."""

    factor: Estimate
    u_before: float

    @property
    def alone(self) -> Estimate | None:
        """What the job alone told; None where it told nothing."""
        before, after = self.u_before**-2, self.factor.u**-2
        precision = after - before
        if precision < _TELLS_NOTHING * before:
            return None
        return Estimate((self.factor.value * after - before) / precision, precision**-0.5)


class Evidence(NamedTuple):
    """What all jobs together say of a roll's factor, and from how many."""

    factor: Estimate
    jobs: int

    @property
    def is_off(self) -> bool:
        """Whether the 95 % interval excludes that the roll is as it is taken for."""
        off = abs(self.factor.value - 1.0)
        return self.jobs >= FEWEST_JOBS and off > SIGMAS_OF_95 * self.factor.u


def together(findings: Sequence[Finding], u_taken_for: float) -> Evidence:
    """All findings of one roll, with the relative ± of what it is taken for."""
    told = [each for finding in findings if (each := finding.alone) is not None]
    if u_taken_for <= 0:
        return Evidence(Estimate(1.0, 0.0), len(told))
    precisions = [u_taken_for**-2, *(each.u**-2 for each in told)]
    values = [1.0, *(each.value for each in told)]
    whole = math.fsum(precisions)
    mean = math.fsum(p * v for p, v in zip(precisions, values, strict=True)) / whole
    return Evidence(Estimate(mean, whole**-0.5), len(told))
