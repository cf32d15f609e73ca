"""A set of frames made alike with the least weight, where what they are to be alike to is free.

The target's weight M*, balance b*, swing weight SW* and twist weight TW* are columns of one programme over
the pieces of all frames; "within tolerance of the target" is a row for each spec of each frame. Only b*·M of
each frame is no sum. Between the ends of a stretch of balances and of weights it lies within four planes
(McCormick, 1976), and the shorter the stretch the nearer they are: stretches are parted, the least bound
first.

A frame's strips make most of the work, and what they do hardly depends on where a cut falls. So a stretch is
first asked with strips that may lie in parts (``programme.loose_block_of``): its answer is a true bound, and
its target a good one. With a target known the frames part: each is solved by itself with real pieces, and
each may then be laid anew within what the others leave. Where no target of that kind serves, the whole
programme with real pieces decides. The least of the bounds left is a proven bound of the whole.

*Within t of each other* is the same with t/2 to either side: there is an L with L ≤ spec ≤ L + t for all.
"""

from __future__ import annotations

import heapq
import math
import os
import time
from collections.abc import Callable, Iterable, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from dataclasses import dataclass, field, replace
from enum import StrEnum
from functools import cached_property
from itertools import count
from types import MappingProxyType
from typing import TYPE_CHECKING, Final, NamedTuple

import numpy as np

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.moments import Moments
from kentrobar.core.body.specs import BALANCE, STATIC_WEIGHT, SWING_WEIGHT, TWIST_WEIGHT
from kentrobar.core.frame.outline import Outline
from kentrobar.core.quantities.units import GCM2_PER_KGCM2
from kentrobar.core.solving.candidates import Candidates, Slot, candidates
from kentrobar.core.solving.matching import Aim, lightest, require_known
from kentrobar.core.solving.programme import (
    GAP,
    PER_PIECE_G,
    Block,
    Row,
    UndecidedError,
    Vector,
    block_of,
    loose_block_of,
    solve,
)
from kentrobar.core.weight.pieces import Piece

if TYPE_CHECKING:
    from scipy.optimize import OptimizeResult

PLANES_APART: Final = 0.05  # of the balance's tolerance, which the planes about b*·M may err by
NARROWEST: Final = 0.05  # of the balance's tolerance: so short a stretch is asked with real pieces
# By which part of the tolerance bands are drawn in for what real pieces miss of a loose answer, in whole
# steps of a strip or not.
DRAWN_IN: Final = ((True, 0.02), (True, 0.06), (False, 0.1), (False, 0.2))
NEAR_ENOUGH: Final = 0.1  # of a cutting step a frame: so near to its bound a plan is the least
GOOD_ENOUGH: Final = 0.5  # of a cutting step a frame: so near to its bound the first plan may be
BOUND_NEAR: Final = (
    0.3  # of a cutting step a frame: so near a first bound may stay to what it could be
)
POLISH_S: Final = (
    0.6,
    0.1,
)  # and so much more a frame: then a plan proven within a step a frame is left as it is
LOOSE_S: Final = (
    0.15  # a frame, for a stretch the first time it is looked into; four times as long each time
)
_LARGEST_GAP: Final = 0.01
_CONTINUOUS_G: Final = 0.01  # where nothing comes in steps
_ROUNDING: Final = 1e-9  # relative; an edge belongs to its band
_NARROWER: Final = (4.0, 2.0, 1.0, 0.5, 0.0)  # stretches about a target, in parts of its tolerance
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
    """One frame of a set: what was read of it, where weight may lie on it, which specs it need not meet."""

    measured: MeasuredSpecs
    slots: Sequence[Slot]
    outline: Outline | None
    left_out: frozenset[str] = frozenset()


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


Watch = Callable[[float, float], bool]  # told the best weight so far and its bound, g; False stops


def match_set(
    members: Sequence[Member], tolerances: Mapping[str, float], axis_cm: float, alike: Alike, *,
    about: Mapping[str, float] = MappingProxyType({}),
    ceiling_g: float = math.inf,
    seconds: float = 60.0,
    polish_s: float = 0.0,
    watch: Watch = lambda _best, _bound: True,
) -> SetMatch:  # fmt: skip
    """The least weight, laid and taken away, that makes a set alike; the target is chosen too.

    ``tolerances`` are by spec; a spec without is left free. ``about`` are values by spec that the band which
    all are brought within has to hold. No frame comes to weigh more than ``ceiling_g``. A plan that is
    proven within a cutting step a frame is made lighter for ``polish_s`` at least.

    Raises:
        SpecError: a spec with a tolerance that was neither read of a frame nor left out for it.
        PieceError, OutlineError: a site that cannot be on its frame.
    """
    for member in members:
        require_known(member.measured, tolerances.keys() - member.left_out, axis_cm)
    half = {name: t / 2 if alike is Alike.TO_EACH_OTHER else t for name, t in tolerances.items()}
    until = time.monotonic() + seconds
    frames = _Frames(members, half, axis_cm, about, ceiling_g)
    return _Search(frames, until, polish_s, watch).best()


class Relaxed(NamedTuple):
    """What strips and putty of any size would come to: a bound, g, and the target that it is met at."""

    bound_g: float
    target: Mapping[str, float]


def relaxed(
    members: Sequence[Member], tolerances: Mapping[str, float], axis_cm: float, alike: Alike, *,
    about: Mapping[str, float] = MappingProxyType({}),
    ceiling_g: float = math.inf,
) -> Relaxed | None:  # fmt: skip
    """Below which weight no plan makes a set alike, by one linear programme; None where none does."""
    half = {name: t / 2 if alike is Alike.TO_EACH_OTHER else t for name, t in tolerances.items()}
    frames = _Frames(members, half, axis_cm, about, ceiling_g)
    whole = frames.all_balances()
    if whole is None:
        return None
    found = frames.solve(frames.loose, _Stretch(0.0, 0, *whole), seconds=5.0, is_relaxed=True)
    if found.x is None:
        return None
    return Relaxed(max(float(found.fun), 0.0), _narrowed(frames, found))


def _narrowed(frames: _Frames, found: OptimizeResult) -> Mapping[str, float]:
    """A target near that of a wide stretch that every frame truly can come to, where there is one so near."""
    target = frames.target_of(found.x)
    if not frames.has_balance:
        return target
    for part in _NARROWER:
        middle, half = target[BALANCE.key], part * frames.tolerances[BALANCE.key]
        near = _Stretch(0.0, 0, middle - half, middle + half)
        closer = frames.solve(frames.loose, near, seconds=5.0, is_relaxed=True, drawn_in=1e-4)
        if closer.x is not None:
            target = frames.target_of(closer.x)
    return target


@dataclass(frozen=True)
class _Plan:
    """One solution over all frames, frame by frame, with its weights and what the target came to."""

    xs: tuple[Vector, ...]
    added_g: tuple[float, ...]
    target: Mapping[str, float]

    @property
    def weight_g(self) -> float:
        return sum(self.added_g)


@dataclass(frozen=True, order=True)
class _Stretch:
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
        return self.high - self.low


class _One:
    """One frame of a set: its columns, and what each of them does to each spec."""

    def __init__(self, member: Member, found: Candidates, axis_cm: float) -> None:
        self.measured, self.frame = member.measured, member.measured.moments()
        self.left_out, self.candidates = member.left_out, found
        self.columns = [column.moments for column in found.columns]
        self.whole = np.array([column.whole for column in found.columns], dtype=bool)
        self.mass = np.array([m.mass for m in self.columns])
        self.first = np.array([m.first_y for m in self.columns])
        self.weights = np.abs(self.mass)
        self.linear = {
            name: np.array([_linear(name, m, axis_cm) for m in self.columns]) for name in _FREE
        }
        most = np.array([column.most for column in found.columns])
        self.lightest = self.frame.mass + float(np.minimum(self.mass, 0.0) @ most)
        self.heaviest = self.frame.mass + float(np.maximum(self.mass, 0.0) @ most)
        aside = float(np.abs([m.first_x for m in self.columns]) @ most) if len(most) else 0.0
        # The most twist weight that pieces on one side alone could lose of it, kg·cm².
        self.most_lost = aside**2 / self.frame.mass / GCM2_PER_KGCM2 if self.frame.mass > 0 else 0.0

    def weight_g(self, x: Vector) -> float:
        """What a solution lays and takes away, g."""
        return float(self.weights @ np.where(self.whole, np.round(x), x))

    def with_laid(self, x: Vector) -> Moments:
        """The frame with what a solution lays on it."""
        whole = self.frame
        for moments, is_whole, laid in zip(self.columns, self.whole, x, strict=True):
            if laid > 1e-9:
                whole = whole.plus(moments.times(round(laid) if is_whole else float(laid)))
        return whole


class _Frames:
    """The programme of a whole set, asked stretch by stretch of its balance."""

    def __init__(
        self,
        members: Sequence[Member],
        tolerances: Mapping[str, float],
        axis_cm: float,
        about: Mapping[str, float],
        ceiling_g: float,
    ) -> None:
        self.tolerances, self.axis_cm, self.about = dict(tolerances), axis_cm, about
        found: list[Candidates] = []
        for member in members:
            known = next(
                (c for c, m in zip(found, members, strict=False)
                 if m.slots == member.slots and m.outline == member.outline), None,
            )  # fmt: skip
            found.append(known or candidates(member.slots, member.outline))
        self.ones = [_One(m, c, axis_cm) for m, c in zip(members, found, strict=True)]
        self.starts = np.concatenate([[0], np.cumsum([len(o.columns) for o in self.ones])])
        self.starts = self.starts.astype(np.intp)
        self.weights = np.concatenate([np.zeros(0), *(one.weights for one in self.ones)])
        self.free = [name for name in _FREE if name in tolerances]
        self.ceiling_g = ceiling_g
        self.has_balance = BALANCE.key in tolerances

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
            (max(one.lightest, low), min(one.heaviest, high, one.frame.mass + to_beat_g))
            for one in self.ones
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

    def plan(self, xs: Sequence[Vector]) -> _Plan | None:
        """A solution as a plan, if some target holds all of its frames within tolerance."""
        wholes = [one.with_laid(x) for one, x in zip(self.ones, xs, strict=True)]
        if any(w.mass > self.ceiling_g + _ROUNDING * w.mass for w in wholes):
            return None
        target = {}
        for name in self.tolerances:
            low, high = self._middles(name, zip(self.ones, wholes, strict=True))
            if low > high + _ROUNDING * max(abs(high), 1.0):
                return None
            target[name] = (low + high) / 2
        added = tuple(one.weight_g(x) for one, x in zip(self.ones, xs, strict=True))
        return _Plan(tuple(xs), added, target)

    def left_to(self, i: int, xs: Sequence[Vector]) -> Aim:
        """What the other frames of a plan leave to one of them: within twice the tolerance of each."""
        others = [
            (one, one.with_laid(x))
            for j, (one, x) in enumerate(zip(self.ones, xs, strict=True))
            if j != i
        ]
        bounds = {}
        for name, tolerance in self.tolerances.items():
            if name not in self.ones[i].left_out:
                low, high = self._middles(name, others)
                bounds[name] = (low - tolerance, high + tolerance)
        return self._under_ceiling(bounds)

    def _middles(self, name: str, wholes: Iterable[tuple[_One, Moments]]) -> tuple[float, float]:
        """Where the middle of a spec's band may lie for these frames to be within it."""
        values = [_spec(name, w, self.axis_cm) for one, w in wholes if name not in one.left_out]
        tolerance = self.tolerances[name]
        low, high = max(values, default=0.0) - tolerance, min(values, default=1e4) + tolerance
        return self.within(name, low, high)

    def near(self, target: Mapping[str, float], one: _One) -> Aim:
        """Within the tolerance of a target, for one frame."""
        reach = self.tolerances
        return self._under_ceiling(
            {n: (v - reach[n], v + reach[n]) for n, v in target.items() if n not in one.left_out}
        )

    def _under_ceiling(self, bounds: dict[str, tuple[float, float]]) -> Aim:
        if self.ceiling_g < math.inf:
            low, high = bounds.get(STATIC_WEIGHT.key, (0.0, math.inf))
            bounds[STATIC_WEIGHT.key] = (low, min(high, self.ceiling_g))
        return Aim(bounds, self.axis_cm)

    # -- the programme ------------------------------------------------------------------------

    def solve(
        self, blocks: Sequence[Block], stretch: _Stretch, *, seconds: float, gap: float = GAP,
        drawn_in: float = 0.0, to_beat_g: float = math.inf, is_relaxed: bool = False,
    ) -> OptimizeResult:  # fmt: skip
        """HiGHS's answer for a stretch, with every band drawn in by a part of its tolerance."""
        masses = self.masses(to_beat_g)
        free = [self.within(name, 0.0, _FREE[name]) for name in self.free]
        if self.has_balance:
            free += [(stretch.low, stretch.high)]
            free += [(stretch.low * low, stretch.high * max(high, low)) for low, high in masses]
        cost = np.concatenate([self.weights, np.zeros(len(free))])
        rows = list(self._rows(stretch, masses, 1.0 - drawn_in))
        if to_beat_g < math.inf:
            rows.append(Row.over_all(self.weights, -np.inf, to_beat_g))
        return solve(blocks, cost, rows, seconds=seconds, free=free, is_relaxed=is_relaxed, gap=gap)

    def _rows(
        self, stretch: _Stretch, masses: Sequence[tuple[float, float]], part: float
    ) -> Iterable[Row]:
        for i, one in enumerate(self.ones):
            own = np.arange(self.starts[i], self.starts[i + 1])
            for name in self.free:
                if name not in one.left_out:
                    yield self._alike(one, own, name, part)
            low, high = masses[i]
            if math.isfinite(self.ceiling_g) or self.has_balance:
                yield Row(own, one.mass, low - one.frame.mass - _ROUNDING * one.frame.mass,
                          high - one.frame.mass + _ROUNDING * one.frame.mass)  # fmt: skip
            if self.has_balance and BALANCE.key not in one.left_out:
                yield from self._balanced(i, stretch, masses[i], part)

    def _alike(self, one: _One, own: np.ndarray, name: str, part: float) -> Row:
        """Spec of a frame less that of the target, within the tolerance."""
        at = len(self.weights) + self.free.index(name)
        now = _linear(name, one.frame, self.axis_cm)
        give = part * self.tolerances[name] + _ROUNDING * max(abs(now), 1.0)
        # What lies aside may lose so much of the twist weight, which a bound must not forbid.
        lost = one.most_lost if name == TWIST_WEIGHT.key else 0.0
        return Row(
            np.append(own, at), np.append(one.linear[name], -1.0), -give - now, give - now + lost
        )

    def _balanced(
        self, i: int, stretch: _Stretch, mass: tuple[float, float], part: float
    ) -> Iterable[Row]:
        """(b* - t)·M ≤ S ≤ (b* + t)·M, with b*·M between its four planes."""
        one, own = self.ones[i], np.arange(self.starts[i], self.starts[i + 1])
        b = len(self.weights) + len(self.free)
        product = b + 1 + i
        t = part * self.tolerances[BALANCE.key] + _ROUNDING * stretch.high
        frame = one.frame
        for sign in (1.0, -1.0):
            values = sign * one.first + t * one.mass
            now = sign * frame.first_y + t * frame.mass
            yield Row(np.append(own, product), np.append(values, -sign), -now, np.inf)
        low, high = mass
        for at_b, at_mass, sign in (
            (stretch.low, low, 1.0), (stretch.high, high, 1.0),
            (stretch.high, low, -1.0), (stretch.low, high, -1.0),
        ):  # fmt: skip
            columns = np.concatenate([own, [b, product]])
            values = np.concatenate([-at_b * one.mass, [-at_mass, 1.0]])
            edge = at_b * frame.mass - at_b * at_mass
            give = _ROUNDING * abs(at_b * frame.mass)
            yield (
                Row(columns, values, edge - give, np.inf) if sign > 0
                else Row(columns, values, -np.inf, edge + give)
            )  # fmt: skip


class _Search:
    """The search over all stretches, as long as there is time and something to gain."""

    def __init__(self, frames: _Frames, until: float, polish_s: float, watch: Watch) -> None:
        self.frames, self.until, self.watch = frames, until, watch
        self.count = len(frames.ones)
        self.enough = math.inf
        self.polish_s = max(polish_s, POLISH_S[0] + POLISH_S[1] * self.count)
        self.found: _Plan | None = None
        self.left: list[_Stretch] = []
        self.order = count()
        self.step_g = frames.step_g

    def best(self) -> SetMatch:
        """The lightest plan over all stretches, with its proven bound."""
        whole = self.frames.all_balances()
        is_whole = True  # nothing was left out for want of time
        bound_g = 0.0
        try:
            if whole:
                self._keep([_Stretch(0.0, next(self.order), *whole)])
            # From here on: the first programme of a process waits for HiGHS to be loaded.
            self.enough = time.monotonic() + self.polish_s
            while self.left and self.left[0].bound_g < self._to_beat_g():
                bound_g = self.left[0].bound_g
                if self._is_enough(bound_g) or not self.watch(self._weight_g(), bound_g):
                    is_whole = False
                    break
                self._look_into(heapq.heappop(self.left))
        except UndecidedError:
            is_whole = False
        if is_whole:
            # Stretches that were closed hold nothing that beats the best by more than what is near enough.
            bound_g = self._to_beat_g()
        return self._answer(bound_g, is_whole)

    def _is_enough(self, bound_g: float) -> bool:
        return (
            self.found is not None
            and self.found.weight_g - bound_g <= self.step_g
            and time.monotonic() > self.enough
        )

    def _weight_g(self) -> float:
        return math.inf if self.found is None else self.found.weight_g

    def _to_beat_g(self) -> float:
        """Below which weight a further plan is worth looking for, g."""
        return self._weight_g() - NEAR_ENOUGH * self.step_g

    def _seconds(self) -> float:
        """What is left. Raises UndecidedError where nothing is."""
        left = self.until - time.monotonic()
        if left <= 0:
            raise UndecidedError
        return left

    def _keep(self, stretches: Iterable[_Stretch]) -> None:
        """Put stretches that some plan may lie in where they are looked at next."""
        for each in stretches:
            relaxed = self.frames.solve(
                self.frames.loose, each, seconds=self._seconds(), is_relaxed=True
            )
            if relaxed.x is not None:
                bound_g = max(float(relaxed.fun), each.bound_g)
                heapq.heappush(self.left, replace(each, bound_g=bound_g))

    def _look_into(self, stretch: _Stretch) -> None:
        """Part a stretch, raise its bound, or find a plan in it."""
        try:
            if self._is_wide(stretch):
                self._keep(self._parts(stretch))
            elif not stretch.is_bounded:
                self._bound(stretch)
            else:
                self._plan_in(stretch)
        except UndecidedError:
            heapq.heappush(self.left, stretch)
            raise

    def _is_wide(self, stretch: _Stretch) -> bool:
        if not self.frames.has_balance:
            return False
        tolerance = self.frames.tolerances[BALANCE.key]
        apart = self.frames.planes_apart_cm(stretch.width, self._to_beat_g())
        return stretch.width > NARROWEST * tolerance and apart > PLANES_APART * tolerance

    def _parts(self, stretch: _Stretch) -> list[_Stretch]:
        """Its two halves; what bounds the whole bounds both."""
        middle = (stretch.low + stretch.high) / 2
        ends = ((stretch.low, middle), (middle, stretch.high))
        return [_Stretch(stretch.bound_g, next(self.order), *each) for each in ends]

    def _bound(self, stretch: _Stretch) -> None:
        answer = self._ask(self.frames.loose, stretch, 4 * LOOSE_S * self.count, near=BOUND_NEAR)
        bound_g = max(answer.bound_g, stretch.bound_g)
        if answer.x is not None and self.found is None:
            self._lay_near(answer.x, bound_g)
        if bound_g < self._to_beat_g():
            heapq.heappush(self.left, replace(stretch, bound_g=bound_g, is_bounded=True))

    def _plan_in(self, stretch: _Stretch) -> None:
        """Look for a plan in a stretch, then raise its bound by whole steps; part it where neither helps."""
        seconds = LOOSE_S * self.count * 4**stretch.tries
        for is_counted, drawn_in in DRAWN_IN if self.found is None else ():
            blocks = self.frames.counted if is_counted else self.frames.loose
            answer = self._ask(blocks, stretch, seconds, drawn_in=drawn_in, near=GOOD_ENOUGH)
            if answer.x is not None and self._lay_near(answer.x, stretch.bound_g):
                break
        if self._is_enough(stretch.bound_g):
            heapq.heappush(self.left, stretch)
            return
        if self._weight_g() - stretch.bound_g <= self.step_g:
            seconds = self.enough - time.monotonic()  # proven already; the rest is polish
        answer = self._ask(self.frames.counted, stretch, seconds)
        if answer.x is not None:
            self._lay_near(answer.x, stretch.bound_g)
        bound_g = max(answer.bound_g, stretch.bound_g)
        if bound_g >= self._to_beat_g():
            return
        stretch = replace(stretch, bound_g=bound_g, tries=stretch.tries + 1)
        if not answer.is_whole:
            heapq.heappush(self.left, stretch)
        elif self.frames.has_balance and stretch.width > self._narrowest():
            self._keep(replace(part, is_bounded=True) for part in self._parts(stretch))
        else:
            self._decide(stretch)

    def _narrowest(self) -> float:
        return NARROWEST * self.frames.tolerances[BALANCE.key]

    def _decide(self, stretch: _Stretch) -> None:
        """The whole programme with real pieces, where loose answers tell no more."""
        answer = self._ask(self.frames.real, stretch, self._seconds())
        if answer.bound_g >= self._to_beat_g():
            return
        plan = None if answer.x is None else self.frames.plan(self.frames.parted(answer.x))
        if plan is not None:
            self._take(plan)
        if answer.x is None or not answer.is_whole:
            raise UndecidedError
        if plan is None and stretch.width > 1e-7:
            # Out of balance by what the planes let in, or out of twist weight by what lies aside.
            self._keep(replace(part, is_bounded=True, tries=9) for part in self._parts(stretch))

    def _ask(
        self, blocks: Sequence[Block], stretch: _Stretch, seconds: float, *,
        drawn_in: float = 0.0, near: float = NEAR_ENOUGH,
    ) -> _Answer:  # fmt: skip
        """HiGHS's answer that beats the best plan; its bound is infinite where there is none."""
        # A little above the best plan, so that there is something to find and a bound beside it.
        to_beat_g = self._weight_g() + near * self.step_g
        for_pieces = PER_PIECE_G * sum(len(one.candidates.spans) for one in self.frames.ones)
        gap = near * self.step_g / max(stretch.bound_g, 1.0)
        try:
            found = self.frames.solve(
                blocks, stretch, seconds=min(seconds, self._seconds()), drawn_in=drawn_in,
                to_beat_g=to_beat_g, gap=max(min(gap, _LARGEST_GAP), GAP),
            )  # fmt: skip
        except UndecidedError:
            self._seconds()
            return _Answer(None, -math.inf, False)
        if found.x is None:
            return _Answer(None, math.inf, True)
        dual = found.fun if found.mip_dual_bound is None else found.mip_dual_bound
        return _Answer(found.x, float(dual) - for_pieces, not found.status)

    # -- plans ---------------------------------------------------------------------------------

    def _take(self, plan: _Plan) -> None:
        if plan.weight_g < self._weight_g():
            self.found = plan

    def _lay_near(self, x: Vector, bound_g: float) -> bool:
        """Lay real pieces on each frame to the target of a loose answer; whether all could be."""
        target, seconds = self.frames.target_of(x), self._seconds()

        def laid(one: _One) -> Vector | None:
            aim = self.frames.near(target, one)
            return lightest(one.measured, one.candidates, aim, seconds)

        with ThreadPoolExecutor(
            os.cpu_count()
        ) as threads:  # HiGHS lets other threads run meanwhile
            xs = list(threads.map(laid, self.frames.ones))
        known = [x for x in xs if x is not None]
        plan = self.frames.plan(known) if len(known) == len(xs) else None
        if plan is not None:
            self._take(plan)
            if plan.weight_g - bound_g > self.step_g:
                self._lay_anew(plan)
        return plan is not None

    def _lay_anew(self, plan: _Plan) -> None:
        """Lay frame after frame anew within what the others leave, as long as that saves weight."""
        heaviest_first = sorted(range(self.count), key=lambda i: -plan.added_g[i])
        xs, saved = list(plan.xs), True
        while saved and self.count > 1:
            saved = False
            for i in heaviest_first:
                one = self.frames.ones[i]
                with suppress(UndecidedError):
                    laid = lightest(
                        one.measured, one.candidates, self.frames.left_to(i, xs), self._seconds()
                    )
                    if laid is not None and one.weight_g(laid) < one.weight_g(xs[i]) - 1e-6:
                        xs[i], saved = laid, True
            better = self.frames.plan(xs)
            if better is None or self._is_enough(0.0):
                break
            self._take(better)

    def _answer(self, bound_g: float, is_whole: bool) -> SetMatch:
        best = self.found
        if best is None:
            return SetMatch({}, (), (), 0.0, False, is_whole)
        bound_g = max(min(bound_g, best.weight_g), 0.0)
        pieces = tuple(
            tuple(one.candidates.pieces(x))
            for one, x in zip(self.frames.ones, best.xs, strict=True)
        )
        is_proven = best.weight_g - bound_g <= max(self.step_g, PER_PIECE_G)
        return SetMatch(best.target, pieces, best.added_g, bound_g, True, is_proven)


class _Answer(NamedTuple):
    """What HiGHS made of a stretch: a solution, its bound, whether it came to an end."""

    x: Vector | None
    bound_g: float
    is_whole: bool


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


def _reach(one: _One) -> tuple[float, float]:
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
