"""From which gap on players feel a difference, learnt from what they said of frames that were read.

An answer is a gap of one spec between two frames, or between a frame before and after, and whether it was
felt. The chance to feel a gap g is taken as a cumulative normal in log(g / t) (Weber's law: what counts is
the ratio), with threshold t, where half is felt, and a part who would say either way whatever the gap. The
posterior of t is worked out on a grid; before any answer it is wide about the usual rule.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final, NamedTuple

import numpy as np
from scipy.special import ndtr

from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate, Quantity

PRIOR_SPREAD: Final = 1.0  # of log t about the usual rule: a factor of 2.7 either way is nothing unusual
WIDTHS: Final = (0.25, 0.4, 0.65, 1.0)  # of the cumulative normal in log(g / t)
CARELESS: Final = (0.02, 0.1, 0.2)  # the part of answers that say nothing
LEAST_ANSWERS: Final = 5  # fewer tell nothing that is worth a number
_STEPS: Final = 161
_REACH: Final = 3.0  # of the prior's spread


class FeltGap(NamedTuple):
    """A gap, in the spec's base unit, and whether the player felt it."""

    gap: float
    is_felt: bool


def felt_threshold(answers: Sequence[FeltGap], usual: float) -> Quantity:
    """The gap that half of the players feel, with its ±; not known from few answers.

    ``usual`` is the usual rule for the spec, in the same unit.
    """
    apart = [answer for answer in answers if answer.gap > 0]
    if len(apart) < LEAST_ANSWERS:
        return NOT_MEASURED
    steps = np.linspace(-_REACH, _REACH, _STEPS)
    weights = np.zeros(_STEPS)
    logs = np.log([answer.gap for answer in apart])
    felt = np.array([answer.is_felt for answer in apart])
    at = np.log(usual) + PRIOR_SPREAD * steps
    for width in WIDTHS:
        clear = ndtr((logs[None, :] - at[:, None]) / width)
        for careless in CARELESS:
            chance = careless / 2 + (1 - careless) * clear
            likelihood = np.where(felt[None, :], chance, 1 - chance).prod(axis=1)
            weights += likelihood * np.exp(-(steps**2) / 2)
    thresholds = np.exp(at)
    weights /= weights.sum()
    mean = float(weights @ thresholds)
    spread = float(np.sqrt(weights @ (thresholds - mean) ** 2))
    return Estimate(mean, spread)
