"""Up to a swing weight in small steps, weeks apart, for a player who told of strain. Rules of thumb."""

from __future__ import annotations

import math
from typing import Final, NamedTuple

STEP_PART: Final = 0.01  # of the swing weight: so much more at once, half of what is worth a word to others
WEEKS_APART: Final = 2
MOST_STEPS: Final = 12  # beyond them it is another frame that is wanted


class EasedStep(NamedTuple):
    """One step: after so many weeks, up to which swing weight, kg·cm²."""

    weeks: int
    swingweight_kgcm2: float


def eased(now_kgcm2: float, target_kgcm2: float) -> list[EasedStep]:
    """Even steps from a swing weight to a higher one; a single one, at once, where that is small enough."""
    rise = target_kgcm2 / now_kgcm2
    if rise <= 1:
        return [EasedStep(0, target_kgcm2)]
    count = min(max(math.ceil(math.log(rise) / math.log1p(STEP_PART) - 1e-9), 1), MOST_STEPS)
    return [EasedStep(WEEKS_APART * i, now_kgcm2 * rise ** ((i + 1) / count)) for i in range(count)]
