"""What specs usually are, by sport: where a reading is asked about, and where most adult frames lie."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.body.specs import AIMED, BALANCE, RECOIL_WEIGHT, STATIC_WEIGHT, SWING_WEIGHT, TWIST_WEIGHT
from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.estimates import Amount

USUAL_AXIS_CM: Final = MappingProxyType({Sport.TENNIS: 10.0, Sport.PICKLEBALL: 5.0})  # of the swing weight


class Range(NamedTuple):
    """From low to high in a spec's base unit, both ends included."""

    low: float
    high: float

    def holds(self, value: float) -> bool:
        """Whether a value lies within."""
        return self.low <= value <= self.high


Ranges = Mapping[str, Range]  # by the key of a spec
LENGTH_KEY: Final = "length_cm"

# What is outside is asked about, never refused: wide enough for juniors and long bodies.
PLAUSIBLE: Final[Mapping[Sport, Ranges]] = MappingProxyType(
    {
        Sport.TENNIS: MappingProxyType(
            {
                LENGTH_KEY: Range(43, 74),
                STATIC_WEIGHT.key: Range(150, 420),
                BALANCE.key: Range(24, 42),
                SWING_WEIGHT.key: Range(100, 420),
                TWIST_WEIGHT.key: Range(6, 22),
            }
        ),
        Sport.PICKLEBALL: MappingProxyType(
            {
                LENGTH_KEY: Range(33, 46),
                STATIC_WEIGHT.key: Range(150, 320),
                BALANCE.key: Range(18, 30),
                SWING_WEIGHT.key: Range(40, 180),
                TWIST_WEIGHT.key: Range(3, 12),
            }
        ),
    }
)
# Where the length is known, balance and the rest go with it: a junior's balance is no adult's.
BALANCE_BY_LENGTH: Final[Mapping[Sport, Range]] = MappingProxyType(
    {Sport.TENNIS: Range(0.39, 0.58), Sport.PICKLEBALL: Range(0.46, 0.68)}
)
SHORT_CM: Final = 66.0  # a racket shorter than that is a junior's
_JUNIOR: Final[Ranges] = MappingProxyType(
    {STATIC_WEIGHT.key: Range(120, 330), SWING_WEIGHT.key: Range(30, 300), TWIST_WEIGHT.key: Range(2.5, 16)}
)
# Where most adult frames lie, ready to play: a rule of thumb of the project's own; a shop sets its own.
TYPICAL: Final[Mapping[Sport, Ranges]] = MappingProxyType(
    {
        Sport.TENNIS: MappingProxyType(
            {
                STATIC_WEIGHT.key: Range(295.0, 340.0),
                BALANCE.key: Range(31.0, 34.0),
                SWING_WEIGHT.key: Range(300.0, 340.0),
                TWIST_WEIGHT.key: Range(12.0, 15.5),
                RECOIL_WEIGHT.key: Range(145.0, 178.0),
            }
        ),
        Sport.PICKLEBALL: MappingProxyType(
            {
                STATIC_WEIGHT.key: Range(210.0, 245.0),
                BALANCE.key: Range(22.5, 25.0),
                SWING_WEIGHT.key: Range(103.0, 125.0),
                TWIST_WEIGHT.key: Range(5.3, 7.3),
                RECOIL_WEIGHT.key: Range(28.0, 38.0),
            }
        ),
    }
)


def plausible_ranges(sport: Sport, length_cm: Amount) -> Ranges:
    """Where each spec is not asked about; by the frame's length where that is known."""
    if not length_cm:
        return PLAUSIBLE[sport]
    part = BALANCE_BY_LENGTH[sport]
    by_length = {BALANCE.key: Range(part.low * length_cm, part.high * length_cm)}
    return {**PLAUSIBLE[sport], **(_JUNIOR if is_junior(sport, length_cm) else {}), **by_length}


def is_junior(sport: Sport, length_cm: float) -> bool:
    """Whether a frame so long is a child's, which no range for adults holds for."""
    return sport is Sport.TENNIS and length_cm < SHORT_CM


def typical_ranges(sport: Sport, own: Mapping[str, Sequence[float]]) -> dict[str, Range]:
    """Where most frames of a sport lie, the shop's ``own`` ranges before the rule of thumb."""
    shops = {spec.key: Range(*own[spec.key]) for spec in AIMED if spec.key in own}
    return {**TYPICAL[sport], **shops}
