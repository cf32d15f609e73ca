"""Read a hidden frame: as often as it takes for the ± that is asked for, and no oftener; one reading slips.

The optimum is the number of readings after which the mean of each spec is as sure as asked, (s / u)², and one
more for the reading that slipped.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from kentrobar.core.bench.practice.hidden import SPECS, Exercise, noise_of, reading_of, rng_of
from kentrobar.core.bench.practice.scores import Score, ScorePart, within

REQUIRED_PART: Final = (0.75, 0.6, 0.5)  # of one reading's scatter, by level: what the mean is to be sure to
SLIPS_FROM_LEVEL: Final = 2
SLIP_TIMES: Final = 12.0  # of the scatter: so far off is a reading that slipped
MOST_READINGS: Final = 12  # of one spec
FOR_VALUES: Final = 70.0
FOR_ECONOMY: Final = 30.0


@dataclass(frozen=True)
class ReadWell(Exercise):
    """The exercise: so many readings of each spec, one of which may slip."""

    def required_u(self, key: str) -> float:
        """To what ± a spec is to be known, in its base unit."""
        return REQUIRED_PART[self.level - 1] * noise_of(key, self.level)

    @property
    def slip(self) -> tuple[str, int] | None:
        """Which reading slips: a spec and the number of its reading, from 0; None where none does."""
        if self.level < SLIPS_FROM_LEVEL:
            return None
        rng = rng_of(self.seed, "slip")
        return SPECS[int(rng.integers(len(SPECS)))].key, int(rng.integers(2))

    def reading(self, key: str, number: int) -> float:
        """What the instrument shows the ``number``-th time, from 0."""
        spec = next(spec for spec in SPECS if spec.key == key)
        rng = rng_of(self.seed, key, number)
        value = self.frame.true(spec)
        if self.slip == (key, number):
            value += SLIP_TIMES * noise_of(key, self.level) * float(rng.choice([-1, 1]))
        return reading_of(value, key, self.level, rng)

    def enough(self, key: str) -> int:
        """How many readings of a spec it takes."""
        count = math.ceil((noise_of(key, self.level) / self.required_u(key)) ** 2 - 1e-9)
        return count + (self.slip is not None and self.slip[0] == key)

    def score(self, taken: Sequence[str], stated: Mapping[str, float]) -> Score:
        """Of what was read, by spec in order, and what was stated in the end."""
        each = FOR_VALUES / len(SPECS)
        parts = [
            ScorePart(
                spec.noun,
                each
                * within(
                    stated[spec.key] - self.frame.true(spec),
                    2 * self.required_u(spec.key),
                    5 * self.required_u(spec.key),
                ),
                each,
            )
            for spec in SPECS
        ]
        best = sum(self.enough(spec.key) for spec in SPECS)
        economy = FOR_ECONOMY * min(best / max(len(taken), 1), 1.0)
        return Score((*parts, ScorePart("no more readings than it takes", economy, FOR_ECONOMY)))
