"""Strips that meet are one strip: cut and laid in one length, however many pieces of the plan it is.

A pair that starts at the middle of the tip is one strip over it; strips of one tape that follow each other
along a face are one. A plan keeps its pieces; this is how they are cut.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from itertools import groupby
from typing import Final, NamedTuple

from kentrobar.core.editing.plan import PlanPiece
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.rim import RimLine
from kentrobar.core.weight.pieces import Piece, RimStrip

TOUCHING_CM: Final = 0.06  # less of a gap nobody cuts


class Joined(NamedTuple):
    """One thing to cut or lay, and the numbers of the pieces that it is."""

    numbers: tuple[int, ...]
    piece: Piece

    @property
    def name(self) -> str:
        """Its number on paper: 3, or 1+2."""
        return "+".join(map(str, self.numbers))


class _Run(NamedTuple):
    """A stretch of one face that is covered without a gap, and by which pieces."""

    start: float
    end: float
    numbers: tuple[int, ...]


def joined(placed: Sequence[PlanPiece], outline: Outline) -> list[Joined]:
    """The pieces as they are cut, in the order of the first of each."""
    strips = [each for each in placed if each.piece.is_strip and not each.piece.removed]
    found = [Joined((e.number,), e.piece) for e in placed if e not in strips]
    for _, alike in groupby(sorted(strips, key=_sort), key=_sort):
        found += _joined_alike(list(alike), outline)
    return sorted(found, key=lambda each: each.numbers)


def _sort(placed: PlanPiece) -> str:
    """What strips have to share to be cut as one."""
    strip = _strip(placed)
    return repr((strip.source, strip.material, strip.face, strip.layers, strip.both_faces, strip.g_per_cm))


def _strip(placed: PlanPiece) -> RimStrip:
    strip = placed.piece.as_strip
    assert strip is not None  # noqa: S101 - only strips are asked
    return strip


def _joined_alike(alike: list[PlanPiece], outline: Outline) -> Iterator[Joined]:
    line = outline.rim(_strip(alike[0]).face)
    by_number = {each.number: _strip(each) for each in alike}
    runs = _runs(alike, line)
    for run in runs:
        image = _Run(-run.end, -run.start, run.numbers)
        is_own_image = abs(run.start + run.end) < TOUCHING_CM
        pair = next((r for r in runs if r is not run and _is_near(r, image)), None)
        if pair is not None and run.start < pair.start and not is_own_image:
            continue  # told with its image, once
        numbers = tuple(sorted(set(run.numbers) | set(pair.numbers if pair else ())))
        if len(numbers) == 1 and (pair is not None) == (by_number[numbers[0]].sides > 1):
            yield Joined(numbers, by_number[numbers[0]])
            continue
        like = by_number[numbers[0]]
        yield Joined(numbers, _of_run(like, run, outline, is_pair=pair is not None))


def _of_run(like: RimStrip, run: _Run, outline: Outline, *, is_pair: bool) -> RimStrip:
    return replace(like, mirrored=is_pair).part(outline, run.start, run.end)


def _is_near(one: _Run, other: _Run) -> bool:
    return abs(one.start - other.start) < TOUCHING_CM and abs(one.end - other.end) < TOUCHING_CM


def _runs(alike: Sequence[PlanPiece], line: RimLine) -> list[_Run]:
    """What is covered of a face, from left to right of the tip, joined where strips meet."""
    stretches = sorted(
        (stretch.start, stretch.end, each.number)
        for each in alike
        for stretch in (_from_tip(s, line) for s in _strip(each).stretches(line))
    )
    runs: list[_Run] = []
    for start, end, number in stretches:
        if runs and abs(start - runs[-1].end) < TOUCHING_CM:
            last = runs.pop()
            runs.append(_Run(last.start, end, (*last.numbers, number)))
        else:
            runs.append(_Run(start, end, (number,)))
    return runs


def _from_tip(stretch: tuple[float, float], line: RimLine) -> _Run:
    """A stretch with its middle between the two ends of the line, counted from the tip."""
    start, end = stretch
    shift = line.wrap((start + end) / 2) - (start + end) / 2
    return _Run(start + shift, end + shift, ())
