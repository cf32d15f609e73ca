"""What many jobs together say of a roll: whether its density is what it is taken for, and what is usual.

Each job ends with what it knows of the roll, its own beginning included. What the job alone told is what is
left of its precision without that beginning; these add up over jobs (inverse variances, C. F. Gauss, 1809),
and what the roll is taken for comes in once.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final, NamedTuple

from kentrobar.core.quantities.estimates import Estimate, weighted_mean

SIGMAS_OF_95: Final = 1.96
SIGMAS_OF_LOOKS: Final = 2.4  # beyond which a roll is off at its first looks
SIGMAS_A_FOLD: Final = 0.1  # more for every e-fold of jobs
SCATTER_COUNTS: Final = 20  # jobs: a few tell badly by how much they differ
FEWEST_JOBS: Final = 2  # one job alone may have a reading off that nobody noticed
_TELLS_NOTHING: Final = 1e-9


class Finding(NamedTuple):
    """What one job knew of a roll's factor in the end, and how unsure the factor 1 was when it began."""

    factor: Estimate
    u_before: float
    value_before: float = 1.0

    @property
    def alone(self) -> Estimate | None:
        """The factor that the job alone told; None where it told nothing."""
        before, after = self.u_before**-2, self.factor.u**-2
        precision = after - before
        if precision < _TELLS_NOTHING * before:
            return None
        alone = self.factor.value * after - self.value_before * before
        return Estimate(alone / precision, precision**-0.5)


class Evidence(NamedTuple):
    """What all jobs together say of a roll's factor, and from how many."""

    factor: Estimate
    jobs: int

    @property
    def is_off(self) -> bool:
        """Whether the roll is surely not what it is taken for, although it is looked at after every job.

        A look at 95 % after each of thirty jobs would call one sound roll in five off. The bound that grows
        with the jobs calls at most one in twenty, over a hundred jobs too (simulated).
        """
        bound = SIGMAS_OF_LOOKS + SIGMAS_A_FOLD * math.log(max(self.jobs, 1))
        return self.jobs >= FEWEST_JOBS and abs(self.factor.value - 1.0) > bound * self.factor.u


def together(findings: Sequence[Finding], u_taken_for: float) -> Evidence:
    """All findings of one roll, with the relative ± of what it is taken for."""
    alone = [each for finding in findings if (each := finding.alone) is not None]
    if u_taken_for <= 0:
        return Evidence(Estimate(1.0, 0.0), len(alone))
    return Evidence(weighted_mean([Estimate(1.0, u_taken_for), *alone]), len(alone))


class Usual(NamedTuple):
    """What jobs usually told of something that differs from job to job: its mean, and from how many.

    ``next_one`` is what to expect of the next job, whose own scatter comes on top.
    """

    mean: Estimate
    next_one: Estimate
    jobs: int


def usually(findings: Sequence[Finding], rule: Estimate, scatter: float) -> Usual:
    """What is usual of many findings, with the ``rule`` of thumb coming in once.

    ``scatter`` is by how much jobs are taken to differ where they are too few to tell (a random-effects mean,
    after R. DerSimonian and N. Laird, 1986).
    """
    alone = [each for finding in findings if (each := finding.alone) is not None]
    between = _between(alone, scatter)
    mean = weighted_mean([rule, *(Estimate(each.value, math.hypot(each.u, between)) for each in alone)])
    return Usual(mean, Estimate(mean.value, math.hypot(mean.u, between)), len(alone))


def _between(alone: Sequence[Estimate], scatter: float) -> float:
    """By how much jobs truly differ, one standard deviation; what is taken for it counts as some jobs do."""
    if len(alone) < 2:
        return scatter
    weights = [each.u**-2 for each in alone]
    whole, mean = math.fsum(weights), weighted_mean(alone).value
    misfit = math.fsum(w * (each.value - mean) ** 2 for w, each in zip(weights, alone, strict=True))
    room = whole - math.fsum(w * w for w in weights) / whole
    seen = max((misfit - len(alone) + 1) / room, 0.0)
    return math.sqrt((SCATTER_COUNTS * scatter**2 + len(alone) * seen) / (SCATTER_COUNTS + len(alone)))
