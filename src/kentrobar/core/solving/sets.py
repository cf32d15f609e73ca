"""A set of frames made alike with the least weight, where what they are to be alike to is free.

For a fixed balance b* all else is linear: the target's weight M*, swing weight SW* and twist weight TW*
are columns of the programme like the pieces of all frames, and "within tolerance of the target" is one
row for each spec of each frame. So the balances are parted into cells. The linear relaxation of a cell,
its band widened by half the cell, bounds every b* in it; the cell of the least bound is parted until it is
a tenth of the tolerance wide, then the mixed-integer programme is solved in it. The least of the bounds
that are left is a proven bound of the whole.

*Within t of each other* is the same with t/2 to either side: there is an L with L ≤ spec ≤ L + t for all.
"""

from __future__ import annotations

import heapq
import math
import time
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import count
from types import MappingProxyType
from typing import TYPE_CHECKING, Final, NamedTuple

import numpy as np

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.moments import Moments
from kentrobar.core.body.specs import (
    BALANCE,
    STATIC_WEIGHT,
    SWING_WEIGHT,
    TWIST_WEIGHT,
)
from kentrobar.core.frame.outline import Outline
from kentrobar.core.quantities.units import GCM2_PER_KGCM2
from kentrobar.core.solving.candidates import Candidates, Slot, candidates
from kentrobar.core.solving.matching import require_known
from kentrobar.core.solving.programme import (
    GAP,
    PER_PIECE_G,
    Block,
    Row,
    UndecidedError,
    Vector,
    block_of,
    solve,
)
from kentrobar.core.weight.pieces import Piece

if TYPE_CHECKING:
    from scipy.optimize import OptimizeResult

CELL_PARTS: Final = 10  # of the balance's tolerance, one of which a cell is wide
NARROWEST_CM: Final = 1e-6  # a cell narrower than that is one balance
NEAR_ENOUGH: Final = 0.1  # of a cutting step a frame: so near to its bound a plan is the least
POLISH_S: Final = 3.0  # after which a plan proven within a cutting step a frame is polished no more
LARGEST_GAP: Final = 0.02
_ROUNDING: Final = 1e-9  # relative; an edge belongs to its band
_REACH_STEPS: Final = 60  # of the search for how far all weight moves a balance
_FREE: Final = {
    STATIC_WEIGHT.key: 1e4,
    SWING_WEIGHT.key: 1e4,
    TWIST_WEIGHT.key: 1e3,
}  # beyond any frame


class Alike(StrEnum):
    """What alike means: each within the tolerance of the target, or all within it of each other."""

    TO_TARGET = "target"
    TO_EACH_OTHER = "each_other"


class Member(NamedTuple):
    """One frame of a set: what was read of it, and where weight may lie on it."""

    measured: MeasuredSpecs
    slots: Sequence[Slot]
    outline: Outline | None


class SetMatch(NamedTuple):
    """What was found for a set: the target by spec, and the pieces of each frame in their order.

    ``is_proven``: no plan is lighter by a cutting step a frame. Where there is no plan ``pieces`` is empty,
    and ``is_proven`` says that there is none.
    """

    target: Mapping[str, float]
    pieces: tuple[tuple[Piece, ...], ...]
    added_g: tuple[float, ...]
    lower_bound_g: float
    is_feasible: bool
    is_proven: bool


def match_set(
    members: Sequence[Member], tolerances: Mapping[str, float], axis_cm: float, alike: Alike, *,
    about: Mapping[str, float] = MappingProxyType({}),
    seconds: float = 60.0,
) -> SetMatch:  # fmt: skip
    """The least weight, laid and taken away, that makes a set alike; the target is chosen too.

    ``tolerances`` are by spec; a spec without is left free. ``about`` are values by spec that the band which
    all are brought within has to hold.

    Raises:
        SpecError: a spec with a tolerance that was not read of a frame.
        PieceError, OutlineError: a site that cannot be on its frame.
    """
    for member in members:
        require_known(member.measured, tolerances, axis_cm)
    half = {name: t / 2 if alike is Alike.TO_EACH_OTHER else t for name, t in tolerances.items()}
    return _Set(members, half, axis_cm, time.monotonic() + seconds, about).best()


class _Cell(NamedTuple):
    """Balances that are looked at together: their middle and half their width, cm; and their bound, g."""

    middle: float
    half: float
    bound_g: float = 0.0

    def parted(self, bound_g: float) -> list[_Cell]:
        """Its two halves; what bounds the whole bounds both."""
        half = self.half / 2
        return [_Cell(self.middle + sign * half, half, bound_g) for sign in (-1, 1)]


@dataclass(frozen=True)
class _Plan:
    """One solution over all frames, with its weight and what the target came to."""

    x: Vector
    added_g: tuple[float, ...]
    target: Mapping[str, float]

    @property
    def weight_g(self) -> float:
        return sum(self.added_g)


class _Set:
    """The programme of a whole set, asked cell by cell of its balance."""

    def __init__(
        self,
        members: Sequence[Member],
        tolerances: Mapping[str, float],
        axis_cm: float,
        until: float,
        about: Mapping[str, float],
    ) -> None:
        self.tolerances, self.axis_cm, self.until = dict(tolerances), axis_cm, until
        self.enough = time.monotonic() + POLISH_S
        self.frames = [member.measured.moments() for member in members]
        self.candidates: list[Candidates] = [candidates(m.slots, m.outline) for m in members]
        self.blocks: list[Block] = [block_of(each) for each in self.candidates]
        self.columns = [[c.moments for c in each.columns] for each in self.candidates]
        counts = [len(each) for each in self.columns]
        self.starts = np.concatenate([[0], np.cumsum(counts)]).astype(int)
        self.weights = np.array([abs(m.mass) for each in self.columns for m in each])
        self.free = [name for name in _FREE if name in tolerances]
        self.about = about
        self.order = count()  # of cells with one bound
        self.lost = [0.0] * len(members)  # of twist weight, by what lies aside
        self.most_lost = [
            _most_lost(f, c) for f, c in zip(self.frames, self.candidates, strict=True)
        ]

    # -- the search ---------------------------------------------------------------------

    def best(self) -> SetMatch:
        """The lightest plan over all cells, with its proven bound."""
        best: _Plan | None = None
        left: list[tuple[float, int, _Cell]] = []
        bound_g = 0.0
        try:
            self._keep(left, self._all_balances())
            while left and left[0][0] < self._to_beat_g(best):
                bound_g, _, cell = heapq.heappop(left)
                if best is not None and best.weight_g - bound_g <= self._step_g():
                    self.until = min(self.until, self.enough)  # proven already; the rest is polish
                found, parts = self._look_into(cell, bound_g, self._to_beat_g(best))
                best = found or best
                self._keep(left, parts)
        except UndecidedError:
            return self._answer(best, bound_g, True)
        # Cells that were looked into hold nothing that beats the best by more than what is near enough.
        return self._answer(best, min([self._to_beat_g(best), *(each[0] for each in left)]), False)

    def _to_beat_g(self, best: _Plan | None) -> float:
        """Below which weight a further plan is worth looking for, g."""
        return math.inf if best is None else best.weight_g - NEAR_ENOUGH * self._step_g()

    def _keep(self, left: list[tuple[float, int, _Cell]], cells: Sequence[_Cell]) -> None:
        """Put cells that some plan may lie in where they are looked at next, the least bound first."""
        for cell in cells:
            relaxed = self._solve(cell, is_relaxed=True)
            if relaxed.x is not None:
                bound_g = max(float(relaxed.fun), cell.bound_g)
                heapq.heappush(left, (bound_g, next(self.order), cell))

    def _look_into(
        self, cell: _Cell, bound_g: float, to_beat_g: float
    ) -> tuple[_Plan | None, list[_Cell]]:
        """A plan of a cell that beats the best one, or the parts that it is to be looked at in."""
        tolerance = self.tolerances.get(BALANCE.key, math.inf)
        if cell.half > tolerance / CELL_PARTS / 2:
            return None, cell.parted(bound_g)
        wide = self._solve(cell, to_beat_g=to_beat_g)
        if wide.x is None:
            return None, []
        plan = self._plan(wide.x)
        if plan is not None:
            return plan, cell.parted(bound_g) if wide.status else []
        dual = wide.mip_dual_bound
        least_g = float(wide.fun if dual is None else dual) - PER_PIECE_G * self._pieces_most()
        # What the widened band let in is either out of balance, which parting mends, or out of twist weight.
        parts = cell.parted(max(least_g, bound_g)) if cell.half > NARROWEST_CM else []
        return self._exactly(cell, to_beat_g), parts

    def _step_g(self) -> float:
        """A cutting step a frame, g."""
        return max((float(w) for w in self.weights), default=0.0) * len(self.frames)

    def _answer(self, best: _Plan | None, bound_g: float, is_cut_short: bool) -> SetMatch:
        if best is None:
            return SetMatch({}, (), (), 0.0, False, not is_cut_short)
        bound_g = max(min(bound_g, best.weight_g), 0.0)
        pieces = tuple(
            tuple(each.pieces(self._of_frame(best.x, i))) for i, each in enumerate(self.candidates)
        )
        is_proven = best.weight_g - bound_g <= max(self._step_g(), PER_PIECE_G)
        return SetMatch(best.target, pieces, best.added_g, bound_g, True, is_proven)

    def _all_balances(self) -> list[_Cell]:
        """One cell of all balances that every frame can be brought near to."""
        if BALANCE.key not in self.tolerances:
            return [_Cell(0.0, 0.0)]
        tolerance = self.tolerances[BALANCE.key]
        spans = [_reach(f, c) for f, c in zip(self.frames, self.candidates, strict=True)]
        low = max(low for low, _ in spans) - tolerance
        high = min(high for _, high in spans) + tolerance
        low, high = self._within(BALANCE.key, low, high)
        return [_Cell((low + high) / 2, (high - low) / 2)] if low <= high else []

    def _within(self, name: str, low: float, high: float) -> tuple[float, float]:
        """Where the middle of a spec's band may lie, so that the band holds what it is to hold."""
        if name not in self.about:
            return low, high
        reach = self.tolerances[name]
        return max(low, self.about[name] - reach), min(high, self.about[name] + reach)

    def _exactly(self, cell: _Cell, to_beat_g: float) -> _Plan | None:
        """A plan about the middle of a cell, twist weight lost by what lies aside asked for on top."""
        self.lost = [0.0] * len(self.frames)
        for _ in range(6):
            found = self._solve(cell._replace(half=0.0), to_beat_g=to_beat_g)
            if found.x is None:
                return None
            plan = self._plan(found.x)
            if plan is not None:
                self.lost = [0.0] * len(self.frames)
                return plan
            self.lost = [
                lost + 1.02 * more
                for lost, more in zip(self.lost, self._lost_twist(found.x), strict=True)
            ]
        self.lost = [0.0] * len(self.frames)
        return None

    def _pieces_most(self) -> int:
        return sum(len(each.spans) for each in self.candidates)

    # -- a solution -----------------------------------------------------------------------

    def _of_frame(self, x: Vector, i: int) -> Vector:
        return x[self.starts[i] : self.starts[i + 1]]

    def _whole(self, x: Vector, i: int) -> Moments:
        """Frame and what is laid on it."""
        whole = self.frames[i]
        for moments, column, laid in zip(
            self.columns[i], self.candidates[i].columns, self._of_frame(x, i), strict=True
        ):
            if laid > 1e-9:
                whole = whole.plus(moments.times(round(laid) if column.whole else float(laid)))
        return whole

    def _lost_twist(self, x: Vector) -> list[float]:
        wholes = (self._whole(x, i) for i in range(len(self.frames)))
        return [w.first_x**2 / w.mass / GCM2_PER_KGCM2 for w in wholes]

    def _plan(self, x: Vector) -> _Plan | None:
        """A solution as a plan, if some target holds all of its frames within tolerance."""
        wholes = [self._whole(x, i) for i in range(len(self.frames))]
        target = {}
        for name, tolerance in self.tolerances.items():
            values = [_spec(name, whole, self.axis_cm) for whole in wholes]
            low, high = max(values) - tolerance, min(values) + tolerance
            low, high = self._within(name, low, high)
            if low > high + _ROUNDING * max(abs(high), 1.0):
                return None
            target[name] = (low + high) / 2
        added = []
        for i, each in enumerate(self.candidates):
            whole = [column.whole for column in each.columns]
            own = self._of_frame(x, i)
            weights = self.weights[self.starts[i] : self.starts[i + 1]]
            added.append(float(weights @ np.where(whole, np.round(own), own)))
        return _Plan(x, tuple(added), target)

    # -- rows -----------------------------------------------------------------------------

    def _solve(
        self, cell: _Cell, *, is_relaxed: bool = False, to_beat_g: float = math.inf
    ) -> OptimizeResult:
        cost = np.concatenate([self.weights, np.zeros(len(self.free))])
        bounds = [self._within(name, 0.0, _FREE[name]) for name in self.free]
        seconds = self.until - time.monotonic()
        if seconds <= 0:
            raise UndecidedError
        rows = self._rows(cell)
        if to_beat_g < math.inf:
            rows.append(Row(cost, -np.inf, to_beat_g))
        near = NEAR_ENOUGH * self._step_g() / max(cell.bound_g, 1.0)
        return solve(
            self.blocks, cost, rows, seconds=seconds, free=bounds, is_relaxed=is_relaxed,
            gap=max(min(near, LARGEST_GAP), GAP),
        )  # fmt: skip

    def _rows(self, cell: _Cell) -> list[Row]:
        rows = []
        for i in range(len(self.frames)):
            rows += [self._alike(i, name) for name in self.free]
            if BALANCE.key in self.tolerances:
                rows += self._balanced(i, cell)
        return rows

    def _alike(self, i: int, name: str) -> Row:
        """Spec of frame i less that of the target, within the tolerance."""
        row = np.zeros(len(self.weights) + len(self.free))
        row[self.starts[i] : self.starts[i + 1]] = [
            _linear(name, m, self.axis_cm) for m in self.columns[i]
        ]
        row[len(self.weights) + self.free.index(name)] = -1.0
        now = _linear(name, self.frames[i], self.axis_cm)
        give = self.tolerances[name] + _ROUNDING * max(abs(now), 1.0)
        if name == TWIST_WEIGHT.key:
            # What lies aside may lose so much of it, which a bound must not forbid.
            return Row(row, -give - now + self.lost[i], give - now + self.most_lost[i])
        return Row(row, -give - now, give - now)

    def _balanced(self, i: int, cell: _Cell) -> list[Row]:
        """(b* - t)·M ≤ S ≤ (b* + t)·M for all b* of the cell."""
        frame, rows = self.frames[i], []
        reach = self.tolerances[BALANCE.key] + cell.half + _ROUNDING * cell.middle
        for edge, sign in ((cell.middle - reach, 1.0), (cell.middle + reach, -1.0)):
            row = np.zeros(len(self.weights) + len(self.free))
            row[self.starts[i] : self.starts[i + 1]] = [
                sign * (m.first_y - edge * m.mass) for m in self.columns[i]
            ]
            rows.append(Row(row, -sign * (frame.first_y - edge * frame.mass), np.inf))
        return rows


def _linear(name: str, m: Moments, axis_cm: float) -> float:
    """A spec that is linear in the moments; of twist weight all but what is lost by what lies aside."""
    match name:
        case STATIC_WEIGHT.key:
            return m.mass
        case SWING_WEIGHT.key:
            return m.swingweight_kgcm2(axis_cm)
        case _:
            return m.second_xz / GCM2_PER_KGCM2


def _spec(name: str, m: Moments, axis_cm: float) -> float:
    match name:
        case BALANCE.key:
            return m.balance_cm
        case TWIST_WEIGHT.key:
            return m.twistweight_kgcm2
        case _:
            return _linear(name, m, axis_cm)


def _most_lost(frame: Moments, laid: Candidates) -> float:
    """The most twist weight that pieces on one side alone could lose of it, kg·cm²."""
    aside = sum(abs(c.moments.first_x) * c.most for c in laid.columns)
    return aside**2 / frame.mass / GCM2_PER_KGCM2 if frame.mass > 0 else 0.0


def _reach(frame: Moments, laid: Candidates) -> tuple[float, float]:
    """The least and the greatest balance that the sites of a frame can bring it to, cm."""
    ends = []
    for sign in (-1.0, 1.0):
        b = frame.balance_cm
        for _ in range(_REACH_STEPS):
            whole = frame
            for column in laid.columns:
                # What pulls the balance that way, given where it is, is laid wholly (Dinkelbach's step).
                if sign * (column.moments.first_y - b * column.moments.mass) > 0:
                    whole = whole.plus(column.moments.times(column.most))
            if whole.mass <= 0 or abs(whole.balance_cm - b) < 1e-9:
                break
            b = whole.balance_cm
        ends.append(b)
    return ends[0], ends[1]
