"""What a target would cost each frame of a set, quickly: the hand drags it, and the grams move along.

The linear relaxation, where strips and putty may be of any size: never more than what whole steps come to,
and usually less by half a step. Asked many times a second, so what each piece does is worked out once.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Final, NamedTuple

import numpy as np

from kentrobar.core.body.moments import Moments
from kentrobar.core.body.specs import BALANCE, RECOIL_WEIGHT, TWIST_WEIGHT
from kentrobar.core.body.target import Target
from kentrobar.core.solving.candidates import candidates
from kentrobar.core.solving.matching import linear, off_line, off_middle
from kentrobar.core.solving.programme import Block, ConstraintRow, Vector, block_of, solve
from kentrobar.core.solving.set_plans import SetFrame

_ROUNDING: Final = 1e-9  # relative; an edge belongs to its band
_ENDLESS_S: Final = 5.0  # no linear programme of one frame takes a hundredth of it


class Prospect(NamedTuple):
    """One frame of a set, ready to be asked again and again."""

    frame: SetFrame
    block: Block
    columns: Vector  # the moments of a unit of each column: five rows
    now: Moments
    heaviest_g: float
    twist_lost: float

    def sums(self, name: str, axis_cm: float) -> tuple[Vector, float]:
        """What a unit of each column adds to a spec as a sum, and what it is without."""
        # The moments add up, so what is linear in them is asked of all columns at once.
        of_all = linear(name, Moments(*self.columns), axis_cm)
        return np.asarray(of_all), linear(name, self.now, axis_cm)


def prospect(frame: SetFrame) -> Prospect:
    """A frame made ready. Raises PieceError, OutlineError for a site that cannot be on it."""
    found = candidates(frame.slots, frame.outline)
    now = frame.measured.moments()
    heaviest_g = now.mass + sum(max(c.moments.mass, 0.0) * c.most for c in found.columns)
    moments = np.array([c.moments for c in found.columns]).reshape(-1, len(now)).T
    return Prospect(frame, block_of(found), moments, now, heaviest_g, off_line(found.columns, now))


def least_weights(
    prospects: Sequence[Prospect], target: Target, centres: Mapping[str, float]
) -> list[float | None]:
    """Below which weight no plan brings each frame to these centres, g; None where none does at all."""
    bands = target.bands_about(centres)
    return [_least(each, bands, target.axis_cm) for each in prospects]


def _least(one: Prospect, bands: Mapping[str, tuple[float, float]], axis_cm: float) -> float | None:
    rows = list(_rows(one, bands, axis_cm))
    mass = one.columns[0]
    if not len(mass) or one.frame.is_kept:
        return 0.0 if all(row.low <= 1e-9 and row.high >= -1e-9 for row in rows) else None
    found = solve([one.block], np.abs(mass), rows, seconds=_ENDLESS_S, is_relaxed=True)
    return None if found.x is None else max(float(found.fun), 0.0)


def _rows(one: Prospect, bands: Mapping[str, tuple[float, float]], axis_cm: float) -> Iterator[ConstraintRow]:
    """What a frame is asked; what twist and recoil weight are less than sums is left open."""
    for name, (low, high) in bands.items():
        if name in one.frame.left_out:
            continue
        give = _ROUNDING * max(abs(low), abs(high))
        low, high = low - give, high + give
        if name == BALANCE.key:
            sums, now = one.sums(name, axis_cm)
            for edge, sign in ((low, 1.0), (high, -1.0)):
                row = sign * (sums - edge * one.columns[0])
                yield ConstraintRow.over_all(row, -sign * (now - edge * one.now.mass), np.inf)
            continue
        at_cm, lost = axis_cm, one.twist_lost if name == TWIST_WEIGHT.key else 0.0
        if name == RECOIL_WEIGHT.key:
            least, most = bands[BALANCE.key]
            at_cm, lost = (least + most) / 2, off_middle(one.heaviest_g, (most - least) / 2)
        sums, now = one.sums(name, at_cm)
        yield ConstraintRow.over_all(sums, low - now, high + lost - now)
