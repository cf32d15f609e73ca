"""The mixed-integer programme behind every plan: one block of columns a frame, and HiGHS.

A column is one unit of something that can be laid. A site takes one piece or none, and none that is too small
to lay; helper columns beside a site's own say where its piece starts. Blocks of several frames stand side by
side, so that a whole set is one programme.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from kentrobar.core.solving.candidates import Candidates, Span

if TYPE_CHECKING:
    from scipy.optimize import OptimizeResult

GAP: Final = 2e-5  # of the weight: far less than any cutting step
PER_PIECE_G: Final = 1e-5  # where asked for, the plan with fewer pieces of two that weigh alike
_TIME_RAN_OUT: Final = 1  # scipy.optimize.milp's status

Vector = NDArray[np.float64]


class Row(NamedTuple):
    """One demand: low ≤ vector·x ≤ high."""

    vector: Vector
    low: float
    high: float


class UndecidedError(Exception):
    """Time ran out before a plan was found or ruled out."""


@dataclass(frozen=True)
class Block:
    """The columns of one frame with their helpers: bounds, which are whole, what each costs besides."""

    count: int  # of the columns themselves; helpers follow them
    upper: Vector
    whole: Vector
    prices: Vector
    rows: tuple[Row, ...]

    @property
    def width(self) -> int:
        """Columns and helpers together."""
        return len(self.upper)


def block_of(candidates: Candidates, per_piece_g: float = PER_PIECE_G) -> Block:
    """The block of a frame; ``per_piece_g`` is what a piece costs beside its weight.

    Telling plans of one weight apart takes several times as long, so usually only sites where small pieces
    count as none are charged for it.
    """
    n = len(candidates.columns)
    is_charged = per_piece_g > PER_PIECE_G
    helped = [s for s in candidates.spans if is_charged or s.last - s.first > 1 or s.least > 0]
    sizes = [s.last - s.first for s in helped]
    width = n + sum(sizes)
    rows: list[Row] = []
    offset = n
    for span, size in zip(helped, sizes, strict=True):
        rows += _in_use(span, candidates.columns[span.first].most, offset, width)
        offset += size
    counts = [is_charged or s.least > 0 for s in helped]
    return Block(
        n,
        np.concatenate([[c.most for c in candidates.columns], np.ones(width - n)]),
        np.concatenate([[c.whole for c in candidates.columns], np.repeat(counts, sizes)]),
        np.concatenate([np.zeros(n), np.repeat([per_piece_g if c else 0.0 for c in counts], sizes)]),
        tuple(rows),
    )  # fmt: skip


def _in_use(span: Span, most: float, offset: int, width: int) -> list[Row]:
    """A site takes one piece or none, and none that is too small to lay.

    The helper beside each column, from ``offset`` on, says that the piece starts there; the cells
    of a strip lie side by side, so it starts at most once.
    """
    first, last, least = span
    size, rows = last - first, []
    for i in range(size):
        row = np.zeros(width)
        row[first + i] = 1.0
        if i:
            row[first + i - 1] = -1.0
        row[offset + i] = -most
        rows.append(Row(row, -np.inf, 0.0))
    enough, once = np.zeros(width), np.zeros(width)
    once[offset : offset + size] = 1.0
    enough[first:last], enough[offset : offset + size] = 1.0, -least
    return [*rows, Row(once, -np.inf, 1.0), Row(enough, 0.0, np.inf)]


def solve(
    blocks: Sequence[Block], cost: Vector, rows: Sequence[Row], *, seconds: float,
    free: Sequence[tuple[float, float]] = (), is_relaxed: bool = False, gap: float = GAP,
) -> OptimizeResult:  # fmt: skip
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
        matrix = csr_array(np.array([row.vector for row in demands]))
        constraints = LinearConstraint(
            matrix, np.array([row.low for row in demands]), np.array([row.high for row in demands])
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

    def placed(self, row: Row) -> Row:
        return row._replace(vector=self.spread(row.vector))

    def inner_rows(self) -> list[Row]:
        """The blocks' rows about their own helpers."""
        found: list[Row] = []
        for start, block in zip(self.starts, self.blocks, strict=False):
            for row in () if self.is_relaxed else block.rows:
                vector = np.zeros(self.width)
                vector[start : start + block.width] = row.vector
                found.append(row._replace(vector=vector))
        return found

    def per_block(self, name: str) -> list[Any]:
        """One vector of every block, as long as the block is here."""
        return [getattr(b, name)[:w] for b, w in zip(self.blocks, self.widths, strict=True)]
