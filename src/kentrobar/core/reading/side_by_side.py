"""Two instruments beside each other on frames that both read: by how much one reads more than the other.

Each frame gives one difference, as unsure as both readings; what instruments have in common (the frame
itself) falls out. The mean difference is that of inverse variances, widened where the frames disagree about
it by more than their ± allows (Birge ratio). How far they disagree is then known from these frames alone, so
the interval is Student's.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final, NamedTuple

from scipy.special import stdtrit

from kentrobar.core.quantities.estimates import Estimate, weighted_mean

SIGMAS_OF_95: Final = 1.96
FEWEST_FRAMES: Final = 3  # fewer tell of a frame, not of an instrument


class ReadingPair(NamedTuple):
    """What two instruments read of one frame, as it was."""

    one: Estimate
    other: Estimate


class SideBySide(NamedTuple):
    """By how much the other reads more than the one, and how that grows with what is read.

    ``scale`` is the relative growth, known where frames differ enough; from ``frames`` frames. The 95 %
    interval reaches ``sigmas`` times the ± to either side.
    """

    difference: Estimate
    scale: Estimate | None
    frames: int
    sigmas: float = SIGMAS_OF_95

    @property
    def is_real(self) -> bool:
        """Whether the 95 % interval of the difference leaves 0 out."""
        enough = self.frames >= FEWEST_FRAMES
        return enough and abs(self.difference.value) > self.sigmas * self.difference.u


def side_by_side(pairs: Sequence[ReadingPair]) -> SideBySide | None:
    """What so many frames tell; None of none."""
    if not pairs:
        return None
    differences = [pair.other.value - pair.one.value for pair in pairs]
    us = [math.hypot(pair.one.u, pair.other.u) for pair in pairs]
    weights = [u**-2 for u in us]
    mean = weighted_mean([Estimate(d, u) for d, u in zip(differences, us, strict=True)])
    misfit = math.fsum(w * (d - mean.value) ** 2 for w, d in zip(weights, differences, strict=True))
    widened = math.sqrt(max(misfit / (len(pairs) - 1), 1.0)) if len(pairs) > 1 else 1.0
    difference = Estimate(mean.value, widened * mean.u)
    sigmas = float(stdtrit(len(pairs) - 1, 0.975)) if widened > 1 else SIGMAS_OF_95
    return SideBySide(difference, _scale(pairs, differences, weights, widened), len(pairs), sigmas)


def _scale(
    pairs: Sequence[ReadingPair], differences: Sequence[float], weights: Sequence[float], widened: float
) -> Estimate | None:
    """The slope of the difference over what is read; None where frames hardly differ."""
    if len(pairs) < FEWEST_FRAMES:
        return None
    reads = [(pair.one.value + pair.other.value) / 2 for pair in pairs]
    whole = math.fsum(weights)
    middle = math.fsum(w * x for w, x in zip(weights, reads, strict=True)) / whole
    spread = math.fsum(w * (x - middle) ** 2 for w, x in zip(weights, reads, strict=True))
    if spread <= 0:
        return None
    terms = zip(weights, reads, differences, strict=True)
    slope = math.fsum(w * (x - middle) * d for w, x, d in terms) / spread
    return Estimate(slope, widened * spread**-0.5)
