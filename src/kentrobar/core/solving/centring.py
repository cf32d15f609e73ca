"""Toward the middle of the bands where it costs nothing: the same weight, laid a little otherwise.

The lightest plan ends somewhere within its bands, often on an edge. Strips may slide along their stretch, and
weight may pass from one piece to another in steps that weigh alike, without a gram more. The move that brings
the specs nearest to the middle of their bands is taken as long as one does: a descent over whole steps, which
never leaves the bands and never adds a piece.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from kentrobar.core.body.moments import Moments
from kentrobar.core.body.specs import BALANCE, RECOIL_WEIGHT, STATIC_WEIGHT, TWIST_WEIGHT
from kentrobar.core.quantities.units import GCM2_PER_KGCM2
from kentrobar.core.solving.candidates import Candidates, Span
from kentrobar.core.solving.programme import Vector

MOST_MOVES: Final = 60
MOST_STEPS: Final = 8  # that pass from one piece to another in one move
_GAIN: Final = 1e-6  # of the score: less is no gain
_ROUNDING: Final = 1e-7
_ALIKE_G: Final = 1e-6  # steps that differ by less weigh alike

Rows = NDArray[np.float64]


class MomentBand(NamedTuple):
    """A weighted sum of the moments (M, S, A, T, X) of the frame with its pieces, and its bounds."""

    weights: tuple[float, float, float, float, float]
    low: float
    high: float

    def of(self, moments: Moments) -> float:
        """The sum for a body, in g·cm² or its moments' own units."""
        return sum(w * m for w, m in zip(self.weights, moments, strict=True))


class Pull(NamedTuple):
    """What is wanted: bounds of the specs by key, about an axis, of a frame with these moments."""

    frame: Moments
    bounds: Mapping[str, tuple[float, float]]
    axis_cm: float
    sums: tuple[MomentBand, ...] = ()


def centred(x: Vector, candidates: Candidates, pull: Pull) -> Vector:
    """A solution of the same weight whose specs lie nearer to the middle of their bands.

    ``x`` is units of each column; it is what comes back where no other is nearer.
    """
    units = np.array([list(column.moments) for column in candidates.columns]).reshape(-1, 5)
    ends = {name: band for name, band in pull.bounds.items() if name != STATIC_WEIGHT.key}
    x = np.where([column.whole for column in candidates.columns], np.round(x), x)
    if not (ends or pull.sums) or not len(units) or pull.frame.mass <= 0:
        return x
    frame = np.array(list(pull.frame))
    wanted = pull._replace(bounds=ends)
    best = _score((frame + x @ units)[None, :], wanted)[0]
    for _ in range(MOST_MOVES):
        moves = list(_moves(x, candidates, units[:, 0]))
        if not moves:
            break
        changes = np.array(moves)
        scores = _score(frame + (x + changes) @ units, wanted)
        at = int(np.argmin(scores))
        if not scores[at] < best - _GAIN:
            break
        x, best = x + changes[at], scores[at]
    return x


def _score(moments: Rows, wanted: Pull) -> Vector:
    """How far the specs of each row lie from the middle of their bands, squared; infinite outside of one."""
    terms = [(_specs(name, moments, wanted.axis_cm), *band) for name, band in wanted.bounds.items()]
    terms += [(moments @ np.array(band.weights), band.low, band.high) for band in wanted.sums]
    total = np.zeros(len(moments))
    for values, low, high in terms:
        half, away = (high - low) / 2, np.abs(values - (low + high) / 2)
        give = _ROUNDING * max(abs(low), abs(high))
        total += np.where(away <= half + give, (away / max(half, give)) ** 2, np.inf)
    return total


def _specs(name: str, moments: Rows, axis_cm: float) -> Vector:
    """A spec of each row of moments (M, S, A, T, X), in its base unit."""
    mass, first, along, across, aside = moments.T
    match name:
        case BALANCE.key:
            return np.asarray(first / mass)
        case TWIST_WEIGHT.key:
            return np.asarray((across - aside**2 / mass) / GCM2_PER_KGCM2)
        case RECOIL_WEIGHT.key:
            return np.asarray((along - first**2 / mass) / GCM2_PER_KGCM2)
        case _:
            return np.asarray((along - 2 * axis_cm * first + axis_cm**2 * mass) / GCM2_PER_KGCM2)


class _Step(NamedTuple):
    """One way to make a piece lighter or heavier by some steps: its change of columns, and weight, g."""

    change: Vector
    mass_g: float


def _moves(x: Vector, candidates: Candidates, masses: Vector) -> Iterator[Vector]:
    """Changes of columns that keep the weight: strips slid, weight passed between two pieces in use."""
    lighter: list[list[_Step]] = []
    heavier: list[list[_Step]] = []
    for span in candidates.spans:
        own = slice(span.first, span.last)
        if not candidates.columns[span.first].whole or not x[own].any() or masses[span.first] <= 0:
            continue
        yield from _slides(x, span)
        most = candidates.columns[span.first].most
        lighter.append(list(_resized(x, span, masses, most, -1)))
        heavier.append(list(_resized(x, span, masses, most, 1)))
    for i, less in enumerate(lighter):
        for j, more in enumerate(heavier):
            if i != j:
                yield from _passed(less, more)


def _passed(less: Sequence[_Step], more: Sequence[_Step]) -> Iterator[Vector]:
    for a in less:
        for b in more:
            if abs(a.mass_g + b.mass_g) < _ALIKE_G:
                yield a.change + b.change


def _run(x: Vector, span: Span) -> tuple[int, int]:
    """First and past the last cell of a strip."""
    filled = np.flatnonzero(x[span.first : span.last] > 0.5) + span.first
    return int(filled[0]), int(filled[-1]) + 1


def _slides(x: Vector, span: Span) -> Iterator[Vector]:
    """A strip at every other place of its stretch."""
    if span.last - span.first == 1 or span.grows:
        return
    start, end = _run(x, span)
    for first in range(span.first, span.last - (end - start) + 1):
        if first != start:
            change = np.zeros(len(x))
            change[start:end] -= 1.0
            change[first : first + end - start] += 1.0
            yield change


def _resized(x: Vector, span: Span, masses: Vector, most: float, sign: int) -> Iterator[_Step]:
    """A piece lighter (sign -1) or heavier (1) by one step and more, a strip at either of its ends."""
    if span.last - span.first == 1:
        at, now = span.first, x[span.first]
        for count in range(1, MOST_STEPS + 1):
            then = now + sign * count
            if 0 < then <= most and then >= span.least:
                change = np.zeros(len(x))
                change[at] = sign * count
                yield _Step(change, sign * count * masses[at])
        return
    start, end = _run(x, span)
    for count in range(1, MOST_STEPS + 1):
        if end - start + sign * count < max(span.least, 1):
            break
        for low, high in ((start - sign * count, end), (start, end + sign * count)):
            if (span.grows and low != span.first) or low < span.first or high > span.last:
                continue
            change = np.zeros(len(x))
            change[start:end] -= 1.0
            change[low:high] += 1.0
            yield _Step(change, float(change @ masses))
