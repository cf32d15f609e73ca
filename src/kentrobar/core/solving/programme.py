"""The mixed-integer programme behind every plan: one block of columns a frame, and HiGHS.

A column is one unit of something that can be laid. A site takes one piece or none, and none that is too small
to lay; helper columns beside a site's own say where its piece starts. Blocks of several frames stand side by
side, so that a whole set is one programme.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from kentrobar.core.solving.candidates import Candidates, Column, Span

if TYPE_CHECKING:
    from scipy.optimize import OptimizeResult

GAP: Final = 2e-5  # of the weight: far less than any cutting step
PER_PIECE_G: Final = 1e-5  # where asked for, the plan with fewer pieces of two that weigh alike
LEAST_UNIT_G: Final = 0.02  # a finer common unit of all that is laid tells nothing
_FINEST_G: Final = 1e-4
_NEARLY: Final = 1e-3  # of the finest weight: what rounding leaves of a whole number
_TIME_RAN_OUT: Final = 1  # scipy.optimize.milp's status

Vector = NDArray[np.float64]
Columns = NDArray[np.intp]


class ConstraintRow(NamedTuple):
    """One demand: low ≤ Σ values·x[columns] ≤ high."""

    columns: Columns
    values: Vector
    low: float
    high: float

    @classmethod
    def over_all(cls, vector: Vector, low: float, high: float) -> ConstraintRow:
        """One that tells a value for every column there is."""
        return cls(np.arange(len(vector)), vector, low, high)


class UndecidedError(Exception):
    """Time ran out before a plan was found or ruled out."""


@dataclass(frozen=True)
class Block:
    """The columns of one frame with their helpers: bounds, which are whole, what each costs besides."""

    count: int  # of the columns themselves; helpers follow them
    upper: Vector
    whole: Vector
    prices: Vector
    rows: tuple[ConstraintRow, ...]

    @property
    def width(self) -> int:
        """Columns and helpers together."""
        return len(self.upper)


def block_of(candidates: Candidates, most_pieces: int | None = None) -> Block:
    """The block of a frame; of so many pieces at most, where that is said.

    Telling plans of one weight apart takes several times as long, so usually only sites where small pieces
    count as none are charged for a piece.
    """
    is_counted = most_pieces is not None
    helped = [s for s in candidates.spans if is_counted or s.last - s.first > 1 or s.least > 0]
    columns, helpers = candidates.columns, _Helpers(len(candidates.columns))
    starts: list[int] = []
    for span in helped:
        if span.grows:
            starts += _grow(span, helpers)
        else:
            starts += _in_use(span, columns[span.first].most, helpers, is_counted or span.least > 0)
    if most_pieces is not None:
        helpers.require(starts, [1.0] * len(starts), -np.inf, float(most_pieces))
    _exclude(candidates, helpers)
    _count_units(columns, helpers)
    return helpers.block(columns, [c.whole for c in columns])


def loose_block_of(candidates: Candidates, is_counted: bool) -> Block:
    """The block of a frame where a strip may lie in pieces of cells: far fewer ways to try, and a bound.

    A site takes nothing or enough to lay; with ``is_counted`` whole steps of it.
    """
    columns, helpers = candidates.columns, _Helpers(len(candidates.columns))
    whole = [is_counted and c.whole for c in columns]
    for span in candidates.spans:
        first, last, least, grows = span
        if grows:  # nothing to be loose about
            _grow(span, helpers)
            continue
        own, ones = np.arange(first, last), np.ones(last - first)
        most = sum(columns[i].most for i in own) if last - first > 1 else columns[first].most
        if last - first > 1:
            whole[first:last] = [False] * (last - first)
            if is_counted:
                steps = helpers.add(most, True)
                helpers.require([*own, steps], [*ones, -1.0], 0.0, 0.0)
        if least > 1:
            use = helpers.add(1.0, True, PER_PIECE_G)
            helpers.require([*own, use], [*ones, -most], -np.inf, 0.0)
            helpers.require([*own, use], [*ones, -least], 0.0, np.inf)
    _exclude(candidates, helpers)
    _count_units(columns, helpers)
    return helpers.block(columns, whole)


def _exclude(candidates: Candidates, helpers: _Helpers) -> None:
    for columns in candidates.rivals():
        helpers.require(columns, [1.0] * len(columns), -np.inf, 1.0)


def _count_units(columns: Sequence[Column], helpers: _Helpers) -> None:
    """All that is laid comes in whole units together, whatever site it lies at; so do bounds then."""
    unit_g = _common_unit_g(columns)
    if unit_g:
        units = [abs(c.moments.mass) / unit_g for c in columns]
        total = helpers.add(sum(u * c.most for u, c in zip(units, columns, strict=True)), True)
        helpers.require([*range(len(columns)), total], [*units, -1.0], 0.0, 0.0)


def _common_unit_g(columns: Sequence[Column]) -> float:
    """The weight that all columns are whole numbers of, g; 0 where there is none worth the name."""
    if not columns or not all(c.whole for c in columns):
        return 0.0
    weights = [abs(c.moments.mass) / _FINEST_G for c in columns]
    if any(abs(weight - round(weight)) > _NEARLY for weight in weights):
        return 0.0
    unit_g = math.gcd(*map(round, weights)) * _FINEST_G
    return unit_g if unit_g >= LEAST_UNIT_G else 0.0


class _Helpers:
    """Helper columns beside the ``count`` columns of a frame, and the rows between them."""

    def __init__(self, count: int) -> None:
        self.count = count
        self.upper: list[float] = []
        self.whole: list[bool] = []
        self.prices: list[float] = []
        self.rows: list[ConstraintRow] = []

    def add(self, upper: float, whole: bool, price: float = 0.0) -> int:
        """One more helper from 0 to ``upper``; its column."""
        self.upper.append(upper)
        self.whole.append(whole)
        self.prices.append(price)
        return self.count + len(self.upper) - 1

    def require(self, columns: Sequence[int], values: Sequence[float], low: float, high: float) -> None:
        """One more row."""
        self.rows.append(ConstraintRow(np.array(columns, dtype=np.intp), np.array(values), low, high))

    def block(self, columns: Sequence[Column], whole: Sequence[bool]) -> Block:
        """The block of these columns with the helpers, ``whole`` telling which columns are."""
        return Block(
            self.count,
            np.array([*(c.most for c in columns), *self.upper], dtype=float),
            np.array([*whole, *self.whole], dtype=float),
            np.array([*np.zeros(self.count), *self.prices]),
            tuple(self.rows),
        )


def _grow(span: Span, helpers: _Helpers) -> list[int]:
    """Each step of a strip needs the one before it, and the first of them the least there may be.

    The column that says that the piece is there.
    """
    first, last, least, _ = span
    for i in range(first + 1, last):
        helpers.require([i, i - 1], [1.0, -1.0], -np.inf, 0.0)
    if least > 1:
        helpers.require([first, first + int(least) - 1], [1.0, -1.0], -np.inf, 0.0)
    return [first]


def _in_use(span: Span, most: float, helpers: _Helpers, counts: bool) -> list[int]:
    """A site takes one piece or none, and none that is too small to lay.

    The helper beside each column says that the piece starts there; the cells of a strip lie side by side, so
    it starts at most once. These helpers, whole and charged for where each piece ``counts``.
    """
    first, last, least, _ = span
    own = list(range(first, last))
    starts = [helpers.add(1.0, counts, PER_PIECE_G if counts else 0.0) for _ in own]
    for i, start in zip(own, starts, strict=True):
        before = [i - 1] if i > first else []
        helpers.require([i, *before, start], [1.0, *[-1.0] * len(before), -most], -np.inf, 0.0)
    helpers.require(starts, [1.0] * len(starts), -np.inf, 1.0)
    helpers.require([*own, *starts], [1.0] * len(own) + [-float(least)] * len(own), 0.0, np.inf)
    return starts


def solve(
    blocks: Sequence[Block],
    cost: Vector,
    rows: Sequence[ConstraintRow],
    *,
    seconds: float,
    free: Sequence[tuple[float, float]] = (),
    is_relaxed: bool = False,
    gap: float = GAP,
) -> OptimizeResult:
    """HiGHS's answer over the blocks side by side, then ``free`` continuous columns between their bounds.

    ``cost`` and the ``rows`` are over the blocks' own columns, without their helpers, and the free ones.
    ``gap`` is how near to its bound an answer has to be, as part of its cost. ``is_relaxed`` asks for the
    linear relaxation alone, without helpers: its value is a bound of the whole.

    Raises:
        UndecidedError: time ran out before anything was found or ruled out.
    """
    # scipy takes half a second to load, which every start of the application would pay.
    from scipy.optimize import Bounds, LinearConstraint, milp
    from scipy.sparse import csr_array

    layout = _Layout(blocks, len(free), is_relaxed)
    demands = [layout.placed(row) for row in rows] + layout.inner_rows()
    constraints = None
    if demands:
        constraints = LinearConstraint(
            csr_array(_entries(demands), shape=(len(demands), layout.width)),
            np.array([row.low for row in demands]),
            np.array([row.high for row in demands]),
        )
    lower = np.zeros(layout.width)
    upper = np.concatenate([*layout.per_block("upper"), [high for _, high in free]])
    lower[layout.width - len(free) :] = [low for low, _ in free]
    whole = np.concatenate([*layout.per_block("whole"), np.zeros(len(free))]).astype(int)
    found = milp(
        layout.spread(cost) + np.concatenate([*layout.per_block("prices"), np.zeros(len(free))]),
        integrality=np.zeros_like(whole) if is_relaxed else whole,
        bounds=Bounds(lower, upper),
        constraints=constraints,
        options={"time_limit": max(seconds, 1e-3), "mip_rel_gap": gap},
    )
    if found.x is None and found.status == _TIME_RAN_OUT:
        raise UndecidedError
    if found.x is not None:
        found.x = layout.gathered(found.x)
    return found


def _entries(rows: Sequence[ConstraintRow]) -> tuple[Vector, tuple[Columns, Columns]]:
    """Values, and the row and column of each."""
    sizes = [len(row.columns) for row in rows]
    return (
        np.concatenate([row.values for row in rows]),
        (np.repeat(np.arange(len(rows)), sizes), np.concatenate([row.columns for row in rows])),
    )


class _Layout:
    """Where the columns of each block stand in the whole programme."""

    def __init__(self, blocks: Sequence[Block], free: int, is_relaxed: bool) -> None:
        self.blocks, self.is_relaxed = blocks, is_relaxed
        self.widths = [b.count if is_relaxed else b.width for b in blocks]
        self.width = sum(self.widths) + free
        starts = np.concatenate([[0], np.cumsum(self.widths)]).astype(int)
        own = [start + np.arange(b.count) for start, b in zip(starts, blocks, strict=False)]
        self.starts = starts
        self.own = np.concatenate([*own, np.arange(starts[-1], self.width)]).astype(int)

    def spread(self, vector: Vector) -> Vector:
        """A vector over the blocks' own columns and the free ones, as one over all columns."""
        found = np.zeros(self.width)
        found[self.own[: len(vector)]] = vector
        return found

    def gathered(self, x: Vector) -> Vector:
        """The inverse of :meth:`spread`."""
        return np.asarray(x[self.own])

    def placed(self, row: ConstraintRow) -> ConstraintRow:
        return row._replace(columns=self.own[row.columns])

    def inner_rows(self) -> list[ConstraintRow]:
        """The blocks' rows about their own helpers."""
        if self.is_relaxed:
            return []
        return [
            row._replace(columns=start + row.columns)
            for start, block in zip(self.starts, self.blocks, strict=False)
            for row in block.rows
        ]

    def per_block(self, name: str) -> list[Any]:
        """One vector of every block, as long as the block is here."""
        return [getattr(b, name)[:w] for b, w in zip(self.blocks, self.widths, strict=True)]
