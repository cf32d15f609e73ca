"""Where a frame stands among others: the usual range of its sport, and the frames that a shop has seen.

A number alone says little to who does not measure frames every day. The ranges are a rule of thumb for adult
frames in playing form, of the project's own; a shop sets its own.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.body.specs import AIMED, BALANCE, RECOIL_WEIGHT, STATIC_WEIGHT, SWING_WEIGHT, TWIST_WEIGHT
from kentrobar.core.frame.outline import Sport

USUAL_AXIS_CM: Final = MappingProxyType({Sport.TENNIS: 10.0, Sport.PICKLEBALL: 5.0})
Range = tuple[float, float]
USUAL_RANGES: Final[Mapping[Sport, Mapping[str, Range]]] = MappingProxyType(
    {
        Sport.TENNIS: MappingProxyType(
            {
                STATIC_WEIGHT.key: (295.0, 340.0),
                BALANCE.key: (31.0, 34.0),
                SWING_WEIGHT.key: (300.0, 340.0),
                TWIST_WEIGHT.key: (12.0, 15.5),
                RECOIL_WEIGHT.key: (145.0, 178.0),
            }
        ),
        Sport.PICKLEBALL: MappingProxyType(
            {
                STATIC_WEIGHT.key: (210.0, 245.0),
                BALANCE.key: (22.5, 25.0),
                SWING_WEIGHT.key: (103.0, 125.0),
                TWIST_WEIGHT.key: (5.3, 7.3),
                RECOIL_WEIGHT.key: (28.0, 38.0),
            }
        ),
    }
)
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
    ends: Range

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


def ranges_of(sport: Sport, own: Mapping[str, Sequence[float]]) -> dict[str, Range]:
    """The usual ranges of a sport by spec, the shop's ``own`` before the rule of thumb."""
    found = dict(USUAL_RANGES[sport])
    for spec in AIMED:
        if spec.key in own:
            low, high = own[spec.key]
            found[spec.key] = (low, high)
    return found
