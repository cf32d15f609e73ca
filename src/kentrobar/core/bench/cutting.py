"""What is cut for a plan: lengths from strips or rolls as they are sold.

Cutting lengths from equal strips is the bin-packing problem; best fit in falling length fills strips to
their end where it can, which saves strips and cuts alike (D. S. Johnson, 1974: at most 11/9 of the
fewest strips and one more).
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Final, NamedTuple

_EXACT_CM: Final = 1e-6
LEAST_PART_CM: Final = 2.0  # shorter parts hardly stick
ROLL: Final = math.inf  # what a tape without strips is sold as


def in_parts(length_cm: float, sold_cm: float) -> list[float]:
    """A length as parts laid end to end, none longer than a strip as sold: whole strips and the rest.

    A rest too short to hold shares the last strip with it.
    """
    if sold_cm == ROLL:
        return [length_cm]
    whole = int((length_cm + _EXACT_CM) // sold_cm)
    rest = length_cm - whole * sold_cm
    parts = [sold_cm] * whole
    if rest > _EXACT_CM:
        parts.append(rest)
        if whole and rest < LEAST_PART_CM:
            parts[-2:] = [(sold_cm + rest) / 2] * 2
    return parts


class StripToCut(NamedTuple):
    """One strip to cut: the number of its piece, with that of its plan in a set, and its length."""

    piece: int | str
    length_cm: float


class SoldStrip(NamedTuple):
    """One strip as sold with what is cut from it in turn, and what is left; infinite from a roll."""

    cuts: tuple[StripToCut, ...]
    offcut_cm: float

    @property
    def is_roll(self) -> bool:
        """Whether it is a roll of any length rather than strips."""
        return self.offcut_cm == ROLL

    @property
    def strokes(self) -> int:
        """Cuts of the blade: none at the end of a strip that is used up."""
        return len(self.cuts) - (self.offcut_cm < _EXACT_CM)


def cuts(wanted: Iterable[StripToCut], sold_cm: float) -> list[SoldStrip]:
    """How to cut all that is wanted from strips of one length, or from a ``ROLL``.

    What is longer than a strip is cut in parts.
    """
    parts = [each._replace(length_cm=part) for each in wanted for part in in_parts(each.length_cm, sold_cm)]
    longest_first = sorted(parts, key=lambda part: (-part.length_cm, str(part.piece)))
    if sold_cm == ROLL:
        return [SoldStrip(tuple(longest_first), ROLL)] if longest_first else []
    strips: list[SoldStrip] = []
    for each in longest_first:
        fitting = [s for s in strips if s.offcut_cm + _EXACT_CM >= each.length_cm]
        tightest = min(fitting, key=lambda strip: strip.offcut_cm, default=SoldStrip((), sold_cm))
        if fitting:
            strips.remove(tightest)
        left = max(tightest.offcut_cm - each.length_cm, 0.0)
        strips.append(SoldStrip((*tightest.cuts, each), left))
    return sorted(strips, key=lambda strip: strip.offcut_cm)
