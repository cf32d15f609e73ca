"""What is cut for a plan: lengths from strips or rolls as they are sold, and marks along the rim.

Cutting lengths from equal strips is the bin-packing problem; best fit in falling length fills strips to
their end where it can, which saves strips and cuts alike (D. S. Johnson, 1974: at most 11/9 of the
fewest strips and one more).
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from typing import Final, NamedTuple

from kentrobar.core.outline import Face, Outline
from kentrobar.core.pieces import Piece, RimStrip, Sleeve, count_of, total_mass_g

_EXACT_CM: Final = 1e-6
LEAST_PART_CM: Final = 2.0  # shorter parts hardly stick


def tape_lengths(piece: Piece, g_per_cm: float) -> list[float]:
    """The strips of tape that a piece is cut as, each length in cm.

    Along the handle so many lie side by side as it takes; beside a shaft one lies on each side.
    """
    if isinstance(piece, RimStrip):
        return [piece.length_cm.value] * count_of(piece)
    total = total_mass_g(piece) / g_per_cm
    count = count_of(piece)
    if isinstance(piece, Sleeve):
        count = max(math.ceil(total / (piece.to_cm - piece.from_cm) - _EXACT_CM), 1)
    return [round(total / count, 3)] * count


def in_parts(length_cm: float, sold_cm: float) -> list[float]:
    """A length as parts laid end to end, none longer than a strip as sold: whole strips and the rest.

    A rest too short to hold shares the last strip with it.
    """
    whole = int((length_cm + _EXACT_CM) // sold_cm)
    rest = length_cm - whole * sold_cm
    parts = [sold_cm] * whole
    if rest > _EXACT_CM:
        parts.append(rest)
        if whole and rest < LEAST_PART_CM:
            parts[-2:] = [(sold_cm + rest) / 2] * 2
    return parts


class Wanted(NamedTuple):
    """One strip to cut: the number of its piece, and its length."""

    piece: int
    length_cm: float


class SoldStrip(NamedTuple):
    """One strip as sold with what is cut from it in turn, and what is left; infinite from a roll."""

    cuts: tuple[Wanted, ...]
    offcut_cm: float

    @property
    def is_roll(self) -> bool:
        return math.isinf(self.offcut_cm)

    @property
    def strokes(self) -> int:
        """Cuts of the blade: none at the end of a strip that is used up."""
        return len(self.cuts) - (self.offcut_cm < _EXACT_CM)


def cut_list(wanted: Iterable[Wanted], sold_cm: float | None) -> list[SoldStrip]:
    """How to cut all that is wanted from strips of one length; from a roll where none is given.

    What is longer than a strip is cut in parts.
    """
    parts = [
        each._replace(length_cm=part)
        for each in wanted
        for part in ([each.length_cm] if sold_cm is None else in_parts(each.length_cm, sold_cm))
    ]
    longest_first = sorted(parts, key=lambda part: (-part.length_cm, part.piece))
    if sold_cm is None:
        return [SoldStrip(tuple(longest_first), math.inf)] if longest_first else []
    strips: list[SoldStrip] = []
    for each in longest_first:
        fitting = [s for s in strips if s.offcut_cm + _EXACT_CM >= each.length_cm]
        tightest = min(fitting, key=lambda strip: strip.offcut_cm, default=SoldStrip((), sold_cm))
        if fitting:
            strips.remove(tightest)
        left = max(tightest.offcut_cm - each.length_cm, 0.0)
        strips.append(SoldStrip((*tightest.cuts, each), left))
    return sorted(strips, key=lambda strip: strip.offcut_cm)


class Mark(NamedTuple):
    """Where a strip starts or ends along the rim, from the middle of the tip.

    ``side`` is "R" or "L" for a strip on one side alone, empty for a pair.
    """

    piece: int
    at_cm: float
    is_start: bool
    side: str


def rim_marks(strips: Sequence[tuple[int, RimStrip]], outline: Outline, face: Face) -> list[Mark]:
    """The ends of all strips on one face as distances along it from the middle of the tip.

    A paper strip of that length, laid along the face from the tip down one side, shows each place.
    """
    line, marks = outline.rim(face), []
    for number, strip in strips:
        if strip.face is not face:
            continue
        first, last = sorted(map(line.wrap, strip.stretch(line)), key=abs)
        if strip.mirrored:
            sides = ("", "")
        elif first == 0:
            sides = ("L", "L") if last < 0 else ("R", "R")
        else:
            sides = ("L" if first < 0 else "R", "L" if last < 0 else "R")
        marks += [
            Mark(number, abs(first), True, sides[0]),
            Mark(number, abs(last), False, sides[1]),
        ]
    return sorted(marks, key=lambda mark: (mark.at_cm, mark.piece, mark.side))
