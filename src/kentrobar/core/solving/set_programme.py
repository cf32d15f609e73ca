"""The programme of a whole set: the columns of all frames side by side, asked by stretches of its balance.

The target's weight M*, swing weight SW*, twist weight TW* and recoil weight are columns like the pieces; b*·M
of each frame lies between four planes over a stretch of balances and weights (G. P. McCormick, 1976). Recoil
weight is the inertia about the middle of a stretch but for M·(b - middle)², which a bound leaves open.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import TYPE_CHECKING, Final, NamedTuple

import numpy as np

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.moments import Moments
from kentrobar.core.body.specs import BALANCE, RECOIL_WEIGHT, STATIC_WEIGHT, SWING_WEIGHT, TWIST_WEIGHT
from kentrobar.core.body.target import Bands, Target
from kentrobar.core.frame.outline import Outline
from kentrobar.core.quantities.units import GCM2_PER_KGCM2
from kentrobar.core.solving.candidates import Candidates, Slot, candidates
from kentrobar.core.solving.matching import linear, off_line, off_middle, spec_of
from kentrobar.core.solving.programme import (
    GAP,
    Block,
    ConstraintRow,
    Vector,
    block_of,
    loose_block_of,
    solve,
)

if TYPE_CHECKING:
    from scipy.optimize import OptimizeResult

_ROUNDING: Final = 1e-9  # relative; an edge belongs to its band
_REACH_STEPS: Final = 60  # of the search for how far all weight moves a balance
_CONTINUOUS_G: Final = 0.01  # where nothing comes in steps
_FREE: Final = {
    STATIC_WEIGHT.key: 1e4,
    SWING_WEIGHT.key: 1e4,
    TWIST_WEIGHT.key: 1e3,
    RECOIL_WEIGHT.key: 1e4,
}  # beyond any frame


class FrameProblem(NamedTuple):
    """One frame of a set: what was read of it, where weight may lie on it, which specs it need not meet."""

    measured: MeasuredSpecs
    slots: Sequence[Slot]
    outline: Outline | None
    left_out: frozenset[str] = frozenset()


@dataclass(frozen=True)
class Solution:
    """One solution over all frames, frame by frame, with its weights and what the target came to."""

    xs: tuple[Vector, ...]
    added_g: tuple[float, ...]
    target: Mapping[str, float]

    @property
    def weight_g(self) -> float:
        return sum(self.added_g)


@dataclass(frozen=True, order=True)
class BalanceStretch:
    """Balances of the target that are looked at together, the least bound first.

    ``tries`` counts how often whole steps were asked for in it.
    """

    bound_g: float
    order: int
    low: float = field(compare=False)
    high: float = field(compare=False)
    is_bounded: bool = field(compare=False, default=False)
    tries: int = field(compare=False, default=0)

    @property
    def width(self) -> float:
        """How far it reaches, cm of balance."""
        return self.high - self.low


class FrameColumns:
    """One frame of a set: its columns, and what each of them does to each spec."""

    def __init__(self, member: FrameProblem, found: Candidates, axis_cm: float) -> None:
        self.measured, self.frame = member.measured, member.measured.moments()
        self.left_out, self.candidates = member.left_out, found
        self.columns = [column.moments for column in found.columns]
        self.whole = np.array([column.whole for column in found.columns], dtype=bool)
        self.mass = np.array([m.mass for m in self.columns])
        self.first = np.array([m.first_y for m in self.columns])
        self.second = np.array([m.second_yz for m in self.columns])
        self.weights = np.abs(self.mass)
        self.linear = {
            name: np.array([linear(name, m, axis_cm) for m in self.columns])
            for name in _FREE
            if name != RECOIL_WEIGHT.key
        }
        most = np.array([column.most for column in found.columns])
        self.lightest = self.frame.mass + float(np.minimum(self.mass, 0.0) @ most)
        self.heaviest = self.frame.mass + float(np.maximum(self.mass, 0.0) @ most)
        self.twist_lost = off_line(found.columns, self.frame)

    def sums(self, name: str, axis_cm: float, middle_cm: float) -> tuple[Vector, float]:
        """What a unit of each column adds to a spec as a sum, and what it is without."""
        if name != RECOIL_WEIGHT.key:
            return self.linear[name], linear(name, self.frame, axis_cm)
        about = self.second - 2 * middle_cm * self.first + middle_cm**2 * self.mass
        return about / GCM2_PER_KGCM2, linear(name, self.frame, middle_cm)

    def weight_g(self, x: Vector) -> float:
        """What a solution lays and takes away, g."""
        return float(self.weights @ np.where(self.whole, np.round(x), x))

    def with_applied(self, x: Vector) -> Moments:
        """The frame with what a solution lays on it."""
        whole = self.frame
        for moments, is_whole, amount in zip(self.columns, self.whole, x, strict=True):
            if amount > 1e-9:
                whole = whole.plus(moments.times(round(amount) if is_whole else float(amount)))
        return whole


class SetProgramme:
    """The programme of a whole set, asked stretch by stretch of its balance."""

    def __init__(self, members: Sequence[FrameProblem], target: Target) -> None:
        # Within t of each other is half of it to either side of a free target.
        self.tolerances, self.axis_cm, self.about = target.reach, target.axis_cm, target.centres
        found: list[Candidates] = []
        for member in members:
            known = next(
                (
                    c
                    for c, m in zip(found, members, strict=False)
                    if m.slots == member.slots and m.outline == member.outline
                ),
                None,
            )
            found.append(known or candidates(member.slots, member.outline))
        self.ones = [FrameColumns(m, c, self.axis_cm) for m, c in zip(members, found, strict=True)]
        self.starts = np.concatenate([[0], np.cumsum([len(o.columns) for o in self.ones])])
        self.starts = self.starts.astype(np.intp)
        self.weights = np.concatenate([np.zeros(0), *(one.weights for one in self.ones)])
        self.free = [name for name in _FREE if name in self.tolerances]
        self.ceiling_g = target.ceiling_g
        self.has_balance = BALANCE.key in self.tolerances

    @property
    def step_g(self) -> float:
        """A cutting step a frame, g: the finest there is."""
        steps = [w for one in self.ones for w, c in zip(one.weights, one.whole, strict=True) if c]
        return min(steps, default=_CONTINUOUS_G) * len(self.ones)

    # -- blocks --------------------------------------------------------------------------

    @cached_property
    def real(self) -> list[Block]:
        """With pieces as they are cut."""
        return self._blocks(block_of)

    @cached_property
    def loose(self) -> list[Block]:
        """With strips in parts, for a bound."""
        return self._blocks(lambda each: loose_block_of(each, False))

    @cached_property
    def counted(self) -> list[Block]:
        """With strips in parts but whole steps of them."""
        return self._blocks(lambda each: loose_block_of(each, True))

    def _blocks(self, made: Callable[[Candidates], Block]) -> list[Block]:
        known: dict[int, Block] = {}
        for one in self.ones:
            if id(one.candidates) not in known:
                known[id(one.candidates)] = made(one.candidates)
        return [known[id(one.candidates)] for one in self.ones]

    # -- what there can be -----------------------------------------------------------------

    def all_balances(self) -> tuple[float, float] | None:
        """The balances that every frame can be brought near to, cm."""
        if not self.has_balance:
            return 0.0, 0.0
        tolerance = self.tolerances[BALANCE.key]
        spans = [_reach(one) for one in self.ones if BALANCE.key not in one.left_out]
        if not spans:
            return 0.0, 0.0
        low = max(low for low, _ in spans) - tolerance
        high = min(high for _, high in spans) + tolerance
        low, high = self.within(BALANCE.key, low, high)
        return (low, high) if low <= high else None

    def within(self, name: str, low: float, high: float) -> tuple[float, float]:
        """Where the middle of a spec's band may lie, so that the band holds what it is to hold."""
        if name not in self.about:
            return low, high
        reach = self.tolerances[name]
        return max(low, self.about[name] - reach), min(high, self.about[name] + reach)

    def masses(self, to_beat_g: float) -> list[tuple[float, float]]:
        """Between which weights each frame can come to lie in a plan that beats so many grams."""
        low, high = 0.0, self.ceiling_g
        if STATIC_WEIGHT.key in self.tolerances:
            apart = 2 * self.tolerances[STATIC_WEIGHT.key]
            low = max(one.lightest for one in self.ones) - apart
            high = min(high, min(one.heaviest for one in self.ones) + apart)
            high = min(high, min(one.frame.mass for one in self.ones) + to_beat_g + apart)
        return [
            (max(one.lightest, low), min(one.heaviest, high, one.frame.mass + to_beat_g)) for one in self.ones
        ]

    def planes_apart_cm(self, width: float, to_beat_g: float) -> float:
        """By how much the planes may err over so wide a stretch, as a balance, cm."""
        return max(
            width * max(high - low, 0.0) / 4 / one.frame.mass
            for one, (low, high) in zip(self.ones, self.masses(to_beat_g), strict=True)
        )

    # -- solutions ---------------------------------------------------------------------------

    def parted(self, x: Vector) -> tuple[Vector, ...]:
        """A solution frame by frame."""
        return tuple(x[a:b] for a, b in zip(self.starts, self.starts[1:], strict=False))

    def target_of(self, x: Vector) -> dict[str, float]:
        """What the target came to in a solution."""
        own = len(self.weights)
        found = {name: float(x[own + i]) for i, name in enumerate(self.free)}
        if self.has_balance:
            found[BALANCE.key] = float(x[own + len(self.free)])
        return found

    def plan(self, xs: Sequence[Vector]) -> Solution | None:
        """A solution as a plan, if some target holds all of its frames within tolerance."""
        wholes = [one.with_applied(x) for one, x in zip(self.ones, xs, strict=True)]
        if any(w.mass > self.ceiling_g + _ROUNDING * w.mass for w in wholes):
            return None
        target = {}
        for name in self.tolerances:
            low, high = self._middles(name, zip(self.ones, wholes, strict=True))
            if low > high + _ROUNDING * max(abs(high), 1.0):
                return None
            target[name] = (low + high) / 2
        added = tuple(one.weight_g(x) for one, x in zip(self.ones, xs, strict=True))
        return Solution(tuple(xs), added, target)

    def left_to(self, i: int, xs: Sequence[Vector | None]) -> Target:
        """What the other frames that are laid leave to one of them: within twice the tolerance of each."""
        others = [
            (one, one.with_applied(x))
            for j, (one, x) in enumerate(zip(self.ones, xs, strict=True))
            if j != i and x is not None
        ]
        bounds = {}
        for name, tolerance in self.tolerances.items():
            if name not in self.ones[i].left_out:
                low, high = self._middles(name, others)
                bounds[name] = (low - tolerance, high + tolerance)
        return self._under_ceiling(bounds)

    def _middles(self, name: str, wholes: Iterable[tuple[FrameColumns, Moments]]) -> tuple[float, float]:
        """Where the middle of a spec's band may lie for these frames to be within it."""
        values = [spec_of(name, w, self.axis_cm) for one, w in wholes if name not in one.left_out]
        tolerance = self.tolerances[name]
        low, high = max(values, default=0.0) - tolerance, min(values, default=1e4) + tolerance
        return self.within(name, low, high)

    def near(self, target: Mapping[str, float], one: FrameColumns) -> Target:
        """Within the tolerance of a target, for one frame."""
        reach = self.tolerances
        return self._under_ceiling(
            {n: (v - reach[n], v + reach[n]) for n, v in target.items() if n not in one.left_out}
        )

    def _under_ceiling(self, bands: Bands) -> Target:
        return Target(bands, self.axis_cm, ceiling_g=self.ceiling_g).under_ceiling

    # -- the programme ------------------------------------------------------------------------

    def solve(
        self,
        blocks: Sequence[Block],
        stretch: BalanceStretch,
        *,
        seconds: float,
        gap: float = GAP,
        drawn_in: float = 0.0,
        to_beat_g: float = math.inf,
        is_relaxed: bool = False,
    ) -> OptimizeResult:
        """HiGHS's answer for a stretch, with every band drawn in by a part of its tolerance."""
        masses = self.masses(to_beat_g)
        free = [self.within(name, 0.0, _FREE[name]) for name in self.free]
        if self.has_balance:
            free += [(stretch.low, stretch.high)]
            free += [(stretch.low * low, stretch.high * max(high, low)) for low, high in masses]
        cost = np.concatenate([self.weights, np.zeros(len(free))])
        rows = list(self._rows(stretch, masses, 1.0 - drawn_in))
        if to_beat_g < math.inf:
            rows.append(ConstraintRow.over_all(self.weights, -np.inf, to_beat_g))
        return solve(blocks, cost, rows, seconds=seconds, free=free, is_relaxed=is_relaxed, gap=gap)

    def _rows(
        self, stretch: BalanceStretch, masses: Sequence[tuple[float, float]], part: float
    ) -> Iterable[ConstraintRow]:
        for i, one in enumerate(self.ones):
            own = np.arange(self.starts[i], self.starts[i + 1])
            for name in self.free:
                if name not in one.left_out:
                    yield self._alike(i, name, stretch, masses[i], part)
            low, high = masses[i]
            if math.isfinite(self.ceiling_g) or self.has_balance:
                yield ConstraintRow(
                    own,
                    one.mass,
                    low - one.frame.mass - _ROUNDING * one.frame.mass,
                    high - one.frame.mass + _ROUNDING * one.frame.mass,
                )
            if self.has_balance and BALANCE.key not in one.left_out:
                yield from self._balanced(i, stretch, masses[i], part)

    def _alike(
        self, i: int, name: str, stretch: BalanceStretch, mass: tuple[float, float], part: float
    ) -> ConstraintRow:
        """Spec of a frame less that of the target, within the tolerance."""
        one, own = self.ones[i], np.arange(self.starts[i], self.starts[i + 1])
        at = len(self.weights) + self.free.index(name)
        values, now = one.sums(name, self.axis_cm, (stretch.low + stretch.high) / 2)
        give = part * self.tolerances[name] + _ROUNDING * max(abs(now), 1.0)
        # So much less than a sum the spec may be, which a bound must not forbid.
        lost = 0.0
        if name == TWIST_WEIGHT.key:
            lost = one.twist_lost
        if name == RECOIL_WEIGHT.key:
            lost = off_middle(mass[1], stretch.width / 2 + self.tolerances[BALANCE.key])
        return ConstraintRow(np.append(own, at), np.append(values, -1.0), -give - now, give - now + lost)

    def _balanced(
        self, i: int, stretch: BalanceStretch, mass: tuple[float, float], part: float
    ) -> Iterable[ConstraintRow]:
        """(b* - t)·M ≤ S ≤ (b* + t)·M, with b*·M between its four planes."""
        one, own = self.ones[i], np.arange(self.starts[i], self.starts[i + 1])
        b = len(self.weights) + len(self.free)
        product = b + 1 + i
        t = part * self.tolerances[BALANCE.key] + _ROUNDING * stretch.high
        frame = one.frame
        for sign in (1.0, -1.0):
            values = sign * one.first + t * one.mass
            now = sign * frame.first_y + t * frame.mass
            yield ConstraintRow(np.append(own, product), np.append(values, -sign), -now, np.inf)
        low, high = mass
        for at_b, at_mass, sign in (
            (stretch.low, low, 1.0),
            (stretch.high, high, 1.0),
            (stretch.high, low, -1.0),
            (stretch.low, high, -1.0),
        ):
            columns = np.concatenate([own, [b, product]])
            values = np.concatenate([-at_b * one.mass, [-at_mass, 1.0]])
            edge = at_b * frame.mass - at_b * at_mass
            give = _ROUNDING * abs(at_b * frame.mass)
            yield (
                ConstraintRow(columns, values, edge - give, np.inf)
                if sign > 0
                else ConstraintRow(columns, values, -np.inf, edge + give)
            )


def _reach(one: FrameColumns) -> tuple[float, float]:
    """The least and the greatest balance that the sites of a frame can bring it to, cm."""
    ends = []
    for sign in (-1.0, 1.0):
        b = one.frame.balance_cm
        for _ in range(_REACH_STEPS):
            whole = one.frame
            for column in one.candidates.columns:
                # What pulls the balance that way, given where it is, is laid wholly (Dinkelbach's step).
                if sign * (column.moments.first_y - b * column.moments.mass) > 0:
                    whole = whole.plus(column.moments.times(column.most))
            if whole.mass <= 0 or abs(whole.balance_cm - b) < 1e-9:
                break
            b = whole.balance_cm
        ends.append(b)
    return ends[0], ends[1]
