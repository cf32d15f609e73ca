"""What a target would cost each frame of a set, quickly: the hand drags it, and the grams move along.

The linear relaxation, where strips and putty may be of any size: never more than what whole steps come to,
and usually less by half a step. Asked many times a second, so what each piece does is worked out once.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from functools import partial
from typing import Final, NamedTuple

import numpy as np

from kentrobar.core.body.moments import Moments
from kentrobar.core.body.specs import BALANCE, STATIC_WEIGHT, SWING_WEIGHT, TWIST_WEIGHT
from kentrobar.core.solving.candidates import candidates
from kentrobar.core.solving.programme import Block, Row, Vector, block_of, solve
from kentrobar.core.solving.set_plans import SetAim, SetFrame
from kentrobar.core.solving.set_programme import linear

_ROUNDING: Final = 1e-9  # relative; an edge belongs to its band
_ENDLESS_S: Final = 5.0  # no linear programme of one frame takes a hundredth of it


class Prospect(NamedTuple):
    """One frame of a set, ready to be asked again and again."""

    frame: SetFrame
    block: Block
    columns: Mapping[str, Vector]  # what a unit of each column adds to each sum
    now: Mapping[str, float]


def prospect(frame: SetFrame, axis_cm: float) -> Prospect:
    """A frame made ready. Raises PieceError, OutlineError for a site that cannot be on it."""
    found = candidates(frame.slots, frame.outline)
    moments = [c.moments for c in found.columns]
    whole = frame.measured.moments()
    sums: dict[str, Callable[[Moments], float]] = {
        name: partial(linear, name, axis_cm=axis_cm)
        for name in (STATIC_WEIGHT.key, SWING_WEIGHT.key, TWIST_WEIGHT.key)
    }
    sums[BALANCE.key] = lambda m: m.first_y
    return Prospect(
        frame,
        block_of(found),
        {name: np.array([of(m) for m in moments]) for name, of in sums.items()},
        {name: of(whole) for name, of in sums.items()},
    )


def least_weights(
    prospects: Sequence[Prospect], aim: SetAim, target: Mapping[str, float]
) -> list[float | None]:
    """Below which weight no plan brings each frame to a target, g; None where none does at all."""
    bands = aim.bands(target)
    return [_least(each, bands) for each in prospects]


def _least(one: Prospect, bands: Mapping[str, tuple[float, float]]) -> float | None:
    rows = []
    for name, (low, high) in bands.items():
        if name in one.frame.left_out:
            continue
        give = _ROUNDING * max(abs(low), abs(high))
        low, high = low - give, high + give
        if name == BALANCE.key:
            for edge, sign in ((low, 1.0), (high, -1.0)):
                row = sign * (one.columns[name] - edge * one.columns[STATIC_WEIGHT.key])
                short = -sign * (one.now[name] - edge * one.now[STATIC_WEIGHT.key])
                rows.append(Row.over_all(row, short, np.inf))
            continue
        rows.append(Row.over_all(one.columns[name], low - one.now[name], high - one.now[name]))
    if not len(one.columns[STATIC_WEIGHT.key]) or one.frame.is_kept:
        return 0.0 if all(row.low <= 1e-9 and row.high >= -1e-9 for row in rows) else None
    cost = np.abs(one.columns[STATIC_WEIGHT.key])
    found = solve([one.block], cost, rows, seconds=_ENDLESS_S, is_relaxed=True)
    return None if found.x is None else max(float(found.fun), 0.0)
