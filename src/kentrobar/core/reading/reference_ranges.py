"""Where a frame stands among others: the usual range of its sport, and the frames that a shop has seen.

A number alone says little to who does not measure frames every day.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.body.ranges import Range
from kentrobar.core.body.specs import BALANCE, STATIC_WEIGHT, SWING_WEIGHT, TWIST_WEIGHT

_BESIDE: Final = 0.6  # of a range's width, that a strip shows to either side at least


class RangePosition(StrEnum):
    """How a value stands to the usual range."""

    LOW = "low"
    USUAL = "usual"
    HIGH = "high"


# What lies in the lower and in the upper third of the usual range is called, by the key of a spec.
TIER_WORDS: Final[Mapping[str, tuple[str, str]]] = MappingProxyType(
    {
        STATIC_WEIGHT.key: ("light", "heavy"),
        BALANCE.key: ("weight toward the hand", "weight toward the tip"),
        SWING_WEIGHT.key: ("quick to swing", "slow to swing"),
        TWIST_WEIGHT.key: ("quick to turn over", "steady off centre"),
    }
)


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

    def tier_words(self, spec: str, value: float) -> str:
        """What a value is called outside of the middle third of the usual range; empty within it."""
        in_lower, in_upper = TIER_WORDS.get(spec, ("", ""))
        low, high = self.usual
        part = (value - low) / (high - low)
        return in_lower if part < 1 / 3 else in_upper if part >= 2 / 3 else ""


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
