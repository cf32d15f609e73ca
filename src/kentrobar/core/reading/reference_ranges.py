"""Where a frame stands among others: the usual range of its sport, and the frames that a shop has seen.

A number alone says little to who does not measure frames every day.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final, NamedTuple

from kentrobar.core.body.ranges import Range

_BESIDE: Final = 0.6  # of a range's width, that a strip shows to either side at least


class RangePosition(StrEnum):
    """How a value stands to the usual range."""

    LOW = "low"
    USUAL = "usual"
    HIGH = "high"


class Strip(NamedTuple):
    """One spec of a frame among others: the range, the others' values, and the strip's two ends."""

    usual: Range
    others: tuple[float, ...]
    ends: tuple[float, float]

    def part(self, value: float) -> float:
        """Where a value lies along the strip, 0 to 1."""
        low, high = self.ends
        return min(max((value - low) / (high - low), 0.0), 1.0)

    def standing(self, value: float) -> RangePosition:
        """Low, usual or high; an end of the range belongs to it."""
        low, high = self.usual
        return (
            RangePosition.LOW if value < low else RangePosition.HIGH if value > high else RangePosition.USUAL
        )


@dataclass(frozen=True)
class Among:
    """The frames that others are told beside, all of one sport: usual ranges and values by spec."""

    ranges: Mapping[str, Range]
    values: Mapping[str, Sequence[float]]

    def strip(self, spec: str, shown: Iterable[float]) -> Strip | None:
        """The strip of a spec, wide enough for what is shown on it; None where no range is known."""
        usual = self.ranges.get(spec)
        if usual is None:
            return None
        low, high = usual
        beside, others = _BESIDE * (high - low), tuple(self.values.get(spec, ()))
        seen = [*shown, *others]
        return Strip(usual, others, (min([low - beside, *seen]), max([high + beside, *seen])))
