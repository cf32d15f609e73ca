"""Frames at large: what rackets and paddles weigh, where they balance, how their mass is spread.

Most are of one kind, whose weight follows from their length. A few kinds are unlike it and right all the
same: old rackets of wood, light ones with a large head, frames with much weight laid in the handle. An
entry is judged by the kind that it fits best; a rare kind must fit a little better.
"""

from __future__ import annotations

from collections.abc import Mapping
from itertools import pairwise
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.estimates import Amount, NotMeasured

RARE: Final = 3.0  # what a rare kind adds to the sum of squared deviations
LEAST_ADULT_CM: Final = 66.0  # shorter rackets are of the usual kind, scaled down

# Weight by length, as (cm, g, ± g), from juniors to long bodies; straight lines between.
_WEIGHT_BY_LENGTH: Final[Mapping[Sport, tuple[tuple[float, float, float], ...]]] = MappingProxyType(
    {
        Sport.TENNIS: (
            (43, 168, 25),
            (53, 208, 25),
            (58.5, 225, 23),
            (63.5, 243, 21),
            (66, 257, 22),
            (67.5, 300, 24),
            (68.6, 307, 22),
            (71, 305, 22),
            (74, 305, 24),
        ),
        Sport.PICKLEBALL: ((33, 200, 25), (39, 222, 16), (43.2, 226, 14), (46, 228, 20)),
    }
)


class _Kind(NamedTuple):
    """Balance and spread as parts of the length, how balance falls with weight, twist weight by weight.

    ``weight`` and its ± are in g; None where the length tells them.
    """

    balance: float
    balance_u: float
    balance_per_g: float
    gyration: float
    gyration_u: float
    twist_per_g: float
    twist_u: float
    weight: tuple[float, float] | None = None


_USUAL: Final = MappingProxyType(
    {
        Sport.TENNIS: _Kind(0.474, 0.0155, -0.00050, 0.331, 0.0105, 0.0440, 1.9),
        Sport.PICKLEBALL: _Kind(0.568, 0.0165, 0.0, 0.287, 0.0125, 0.0270, 1.1),
    }
)
_OF_WOOD: Final = _Kind(0.478, 0.016, 0.0, 0.303, 0.0125, 0.0240, 1.5, (385, 20))
_LARGE_AND_LIGHT: Final = _Kind(0.522, 0.019, 0.0, 0.328, 0.0120, 0.0530, 1.8, (248, 15))
_TAIL_WEIGHTED: Final = _Kind(0.430, 0.018, 0.0, 0.338, 0.0120, 0.0350, 1.5, (355, 20))
_RARE_RACKETS: Final = (_OF_WOOD, _LARGE_AND_LIGHT, _TAIL_WEIGHTED)


def nearest_kind(
    sport: Sport,
    length_cm: Amount,
    mass_g: Amount,
    balance_cm: Amount,
    gyration_cm: Amount,
    twistweight_kgcm2: Amount,
) -> tuple[float, dict[str, float]]:
    """How rare the kind is that fits best, and how far each spec is from it, in standard deviations.

    Specs are by their field, the spread of the mass under the swing weight's; nothing without a length.
    """
    if not length_cm or length_cm <= 0:
        return 0.0, {}
    about = (length_cm, mass_g, balance_cm, gyration_cm, twistweight_kgcm2)
    usual = _USUAL[sport]
    weight = usual.weight or _weight_for(length_cm, sport)
    found = [(0.0, _deviations(usual, weight, *about))]
    if sport is Sport.TENNIS and length_cm >= LEAST_ADULT_CM:
        found += [(RARE, _deviations(k, k.weight, *about)) for k in _RARE_RACKETS if k.weight]
    return min(found, key=lambda each: each[0] + sum(d * d for d in each[1].values()))


def _deviations(
    kind: _Kind,
    weight: tuple[float, float],
    length_cm: float,
    mass_g: Amount,
    balance_cm: Amount,
    gyration_cm: Amount,
    twistweight_kgcm2: Amount,
) -> dict[str, float]:
    usual_g, u_g = weight
    found: dict[str, float] = {}
    heavier = 0.0
    if not isinstance(mass_g, NotMeasured):
        heavier = mass_g - usual_g
        found["mass"] = heavier / u_g
    if not isinstance(balance_cm, NotMeasured):
        tied = kind.balance_per_g * max(-60.0, min(heavier, 60.0))
        found["balance"] = (balance_cm / length_cm - kind.balance - tied) / kind.balance_u
    if not isinstance(gyration_cm, NotMeasured):
        found["swingweight"] = (gyration_cm / length_cm - kind.gyration) / kind.gyration_u
    if not isinstance(twistweight_kgcm2, NotMeasured):
        of = usual_g if isinstance(mass_g, NotMeasured) else mass_g
        found["twistweight"] = (twistweight_kgcm2 - kind.twist_per_g * of) / kind.twist_u
    return found


def _weight_for(length_cm: float, sport: Sport) -> tuple[float, float]:
    table = _WEIGHT_BY_LENGTH[sport]
    if length_cm <= table[0][0]:
        return table[0][1:]
    for (l0, m0, u0), (l1, m1, u1) in pairwise(table):
        if length_cm <= l1:
            part = (length_cm - l0) / (l1 - l0)
            return m0 + part * (m1 - m0), u0 + part * (u1 - u0)
    return table[-1][1:]
