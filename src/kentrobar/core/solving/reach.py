"""What is possible: the balance and the swing or twist weight that a frame can come to.

With mass x_i ≥ 0 at each site, within what the site holds and N grams in all, the balance is a ratio of two
linear forms; its extremes are found by Dinkelbach's method, each step a fill of the sites in falling order
of gain (W. Dinkelbach, 1967). At a fixed balance b the condition S = b·M is linear, so that the least and
the greatest swing or twist weight there are linear programmes; HiGHS solves them.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import SWING_WEIGHT, TWIST_WEIGHT
from kentrobar.core.frame.outline import Outline
from kentrobar.core.quantities.errors import SpecError
from kentrobar.core.solving.candidates import Slot, candidates
from kentrobar.core.solving.matching import linear

Array = NDArray[np.float64]
STEPS: Final = 25
_MARGIN: Final = 1e-4  # of the range: at its very ends the solver's tolerance would find nothing
SECOND_SPECS: Final = (SWING_WEIGHT.key, TWIST_WEIGHT.key)


class Reach(NamedTuple):
    """The region by balance: for each, the least and the greatest value of the second spec."""

    balance_cm: tuple[float, ...]
    least: tuple[float, ...]
    most: tuple[float, ...]

    def holds(self, balance_cm: float, value: float) -> bool:
        """Whether a pair lies within the region, its edges taken as straight between the steps."""
        if not self.balance_cm[0] <= balance_cm <= self.balance_cm[-1]:
            return False
        low = float(np.interp(balance_cm, self.balance_cm, self.least))
        high = float(np.interp(balance_cm, self.balance_cm, self.most))
        return low <= value <= high


class _Supply(NamedTuple):
    """Mass, first moment and second spec of a whole site's unit, and how many of it there are at most."""

    mass: Array
    first: Array
    second: Array
    most: Array


def reach(
    measured: MeasuredSpecs,
    slots: Sequence[Slot],
    outline: Outline,
    *,
    most_g: float,
    axis_cm: float,
    second: str = "swingweight_kgcm2",
) -> Reach:
    """The region that up to ``most_g`` of added weight can reach.

    Raises:
        SpecError: balance or the second spec were never read.
    """
    knows = measured.knows_swingweight(axis_cm) if second == SECOND_SPECS[0] else measured.knows_twistweight
    if not (measured.knows_balance and knows):
        raise SpecError(
            "What is possible needs static weight, balance and the other spec; read them first.",
            code="not_measured",
        )
    frame = measured.moments()
    columns = candidates(slots, outline).columns
    supply = _Supply(
        np.array([c.moments.mass for c in columns]),
        np.array([c.moments.first_y for c in columns]),
        np.array([linear(second, c.moments, axis_cm) for c in columns]),
        np.array([c.most for c in columns]),
    )
    base = linear(second, frame, axis_cm)
    low, high = (_farthest(frame.mass, frame.first_y, supply, most_g, sign) for sign in (-1.0, 1.0))
    margin = _MARGIN * (high - low)
    # Where the frame is now the region has a corner: with no weight at all.
    steps = np.linspace(low + margin, high - margin, STEPS)
    balances = np.sort(np.append(steps, frame.balance_cm))
    least: list[float] = []
    most: list[float] = []
    for balance in balances:
        need = float(frame.first_y - balance * frame.mass)
        for sign, found in ((1.0, least), (-1.0, most)):
            found.append(base + _extreme(supply, balance, need, most_g, sign))
    return Reach(tuple(map(float, balances)), tuple(least), tuple(most))


def _farthest(mass: float, first: float, supply: _Supply, most_g: float, sign: float) -> float:
    """The balance nearest to the tip (sign 1) or to the butt (-1)."""
    balance = first / mass
    while True:
        gain = sign * (supply.first - balance * supply.mass)
        filled = _filled(gain / supply.mass, supply, most_g)
        better = (first + float(filled @ supply.first)) / (mass + float(filled @ supply.mass))
        if abs(better - balance) < 1e-9:
            return balance
        balance = better


def _filled(worth: Array, supply: _Supply, most_g: float) -> Array:
    """Units of each site, the worthiest first, until nothing is worth it or no weight is left."""
    filled, left = np.zeros(len(worth)), most_g
    for i in np.argsort(-worth):
        if worth[i] <= 0 or left <= 0:
            break
        filled[i] = min(supply.most[i], left / supply.mass[i])
        left -= filled[i] * supply.mass[i]
    return filled


def _extreme(supply: _Supply, balance: float, need: float, most_g: float, sign: float) -> float:
    """The least (sign 1) or greatest (-1) gain of the second spec at a balance."""
    # Loaded late: it takes half a second that every start of the application would pay.
    from scipy.optimize import linprog

    rows: Any = {
        "A_eq": (supply.first - balance * supply.mass).reshape(1, -1),
        "b_eq": [-need],
        "A_ub": supply.mass.reshape(1, -1),
        "b_ub": [most_g],
        "bounds": np.column_stack([np.zeros(len(supply.most)), supply.most]),
    }
    answer: Any = linprog(sign * supply.second, method="highs", **rows)
    return sign * float(answer.fun)
