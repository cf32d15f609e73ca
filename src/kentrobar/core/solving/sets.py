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
from dataclasses import replace
from itertools import count
from typing import TYPE_CHECKING, Final, NamedTuple

from kentrobar.core.body.specs import BALANCE
from kentrobar.core.body.target import Target
from kentrobar.core.solving.matching import lightest, require_known
from kentrobar.core.solving.programme import GAP, PER_PIECE_G, Block, UndecidedError, Vector
from kentrobar.core.solving.set_programme import (
    BalanceStretch,
    FrameColumns,
    FrameProblem,
    SetProgramme,
    Solution,
)
from kentrobar.core.weight.pieces import Piece

if TYPE_CHECKING:
    from scipy.optimize import OptimizeResult

PLANES_APART: Final = 0.05  # of the balance's tolerance, which the planes about b*·M may err by
NARROWEST: Final = 0.05  # of the balance's tolerance: so short a stretch is asked with real pieces
# By which part of the tolerance bands are drawn in for what real pieces miss of a loose answer, in whole
# steps of a strip or not.
DRAWN_IN: Final = ((False, 0.1), (False, 0.2), (True, 0.02), (True, 0.06))
NEAR_ENOUGH: Final = 0.1  # of a cutting step a frame: so near to its bound a plan is the least
GOOD_ENOUGH: Final = 0.5  # of a cutting step a frame: so near to its bound the first plan may be
# Of a cutting step a frame: so near a first bound may stay to what it could be.
BOUND_NEAR: Final = 0.3
# And so much more a frame: then a plan proven within a step a frame is left as it is.
POLISH_S: Final = (0.6, 0.1)
# A frame, for a stretch the first time it is looked into; four times as long each time.
LOOSE_S: Final = 0.15
_LARGEST_GAP: Final = 0.01
_NARROWEST_PARTS: Final = 64  # a stretch that is parted so often is left open
_NARROWER: Final = (4.0, 2.0, 1.0, 0.5, 0.0)  # stretches about a target, in parts of its tolerance


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
    members: Sequence[FrameProblem],
    target: Target,
    *,
    seconds: float = 60.0,
    polish_s: float = 0.0,
    watch: Watch = lambda _best, _bound: True,
) -> SetMatch:
    """The least weight, laid and taken away, that makes a set alike; the target is chosen too.

    Where the target has centres, the band that all are brought within has to hold them. A plan that is proven
    within a cutting step a frame is made lighter for ``polish_s`` at least.

    Raises:
        SpecError: a spec with a tolerance that was neither read of a frame nor left out for it.
        PieceError, OutlineError: a site that cannot be on its frame.
    """
    for member in members:
        require_known(member.measured, target.bands.keys() - member.left_out, target.axis_cm)
    until = time.monotonic() + seconds
    return _Search(SetProgramme(members, target), until, polish_s, watch).best()


class Relaxed(NamedTuple):
    """What strips and putty of any size would come to: a bound, g, and the target that it is met at."""

    bound_g: float
    target: Mapping[str, float]


def relaxed(members: Sequence[FrameProblem], target: Target) -> Relaxed | None:
    """Below which weight no plan makes a set alike, by one linear programme; None where none does."""
    frames = SetProgramme(members, target)
    whole = frames.all_balances()
    if whole is None:
        return None
    found = frames.solve(frames.loose, BalanceStretch(0.0, 0, *whole), seconds=5.0, is_relaxed=True)
    if found.x is None:
        return None
    return Relaxed(max(float(found.fun), 0.0), _narrowed(frames, found))


def _narrowed(frames: SetProgramme, found: OptimizeResult) -> Mapping[str, float]:
    """A target near that of a wide stretch that every frame truly can come to, where there is one so near."""
    target = frames.target_of(found.x)
    if not frames.has_balance:
        return target
    for part in _NARROWER:
        middle, half = target[BALANCE.key], part * frames.tolerances[BALANCE.key]
        near = BalanceStretch(0.0, 0, middle - half, middle + half)
        closer = frames.solve(frames.loose, near, seconds=5.0, is_relaxed=True, drawn_in=1e-4)
        if closer.x is not None:
            target = frames.target_of(closer.x)
    return target


class _Search:
    """The search over all stretches, as long as there is time and something to gain."""

    def __init__(self, frames: SetProgramme, until: float, polish_s: float, watch: Watch) -> None:
        self.frames, self.until, self.watch = frames, until, watch
        self.count = len(frames.ones)
        self.enough = math.inf
        self.polish_s = max(polish_s, POLISH_S[0] + POLISH_S[1] * self.count)
        self.found: Solution | None = None
        self.left: list[BalanceStretch] = []
        self.open_g: list[float] = []  # bounds of stretches that neither hold a plan nor rule one out
        self.order = count()
        self.step_g = frames.step_g

    def best(self) -> SetMatch:
        """The lightest plan over all stretches, with its proven bound."""
        whole = self.frames.all_balances()
        is_whole = True  # nothing was left out for want of time
        bound_g = 0.0
        try:
            if whole:
                self._keep([BalanceStretch(0.0, next(self.order), *whole)])
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
        if self.open_g:
            bound_g, is_whole = min([bound_g, *self.open_g]), False
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

    def _keep(self, stretches: Iterable[BalanceStretch]) -> None:
        """Put stretches that some plan may lie in where they are looked at next."""
        for each in stretches:
            relaxed = self.frames.solve(self.frames.loose, each, seconds=self._seconds(), is_relaxed=True)
            if relaxed.x is not None:
                bound_g = max(float(relaxed.fun), each.bound_g)
                heapq.heappush(self.left, replace(each, bound_g=bound_g))

    def _look_into(self, stretch: BalanceStretch) -> None:
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

    def _is_wide(self, stretch: BalanceStretch) -> bool:
        if not self.frames.has_balance:
            return False
        tolerance = self.frames.tolerances[BALANCE.key]
        apart = self.frames.planes_apart_cm(stretch.width, self._to_beat_g())
        return stretch.width > NARROWEST * tolerance and apart > PLANES_APART * tolerance

    def _parts(self, stretch: BalanceStretch) -> list[BalanceStretch]:
        """Its two halves; what bounds the whole bounds both."""
        middle = (stretch.low + stretch.high) / 2
        ends = ((stretch.low, middle), (middle, stretch.high))
        return [BalanceStretch(stretch.bound_g, next(self.order), *each) for each in ends]

    def _bound(self, stretch: BalanceStretch) -> None:
        answer = self._ask(self.frames.loose, stretch, 4 * LOOSE_S * self.count, near=BOUND_NEAR)
        bound_g = max(answer.bound_g, stretch.bound_g)
        if answer.x is not None and self.found is None:
            self._lay_near(answer.x, bound_g)
        if bound_g < self._to_beat_g():
            heapq.heappush(self.left, replace(stretch, bound_g=bound_g, is_bounded=True))

    def _plan_in(self, stretch: BalanceStretch) -> None:
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

    def _decide(self, stretch: BalanceStretch) -> None:
        """The whole programme with real pieces, where loose answers tell no more."""
        answer = self._ask(self.frames.real, stretch, self._seconds())
        if answer.bound_g >= self._to_beat_g():
            return
        plan = None if answer.x is None else self.frames.plan(self.frames.parted(answer.x))
        if plan is not None:
            self._take(plan)
        if answer.x is None or not answer.is_whole:
            raise UndecidedError
        if plan is not None:
            return
        # Out of balance by what the planes let in, or out of twist or recoil weight by what is no sum.
        if not self.frames.has_balance or stretch.width < self._narrowest() / _NARROWEST_PARTS:
            self.open_g.append(answer.bound_g)
        else:
            self._keep(replace(part, is_bounded=True, tries=9) for part in self._parts(stretch))

    def _ask(
        self,
        blocks: Sequence[Block],
        stretch: BalanceStretch,
        seconds: float,
        *,
        drawn_in: float = 0.0,
        near: float = NEAR_ENOUGH,
    ) -> _Answer:
        """HiGHS's answer that beats the best plan; its bound is infinite where there is none."""
        # A little above the best plan, so that there is something to find and a bound beside it.
        to_beat_g = self._weight_g() + near * self.step_g
        for_pieces = PER_PIECE_G * sum(len(one.candidates.spans) for one in self.frames.ones)
        gap = near * self.step_g / max(stretch.bound_g, 1.0)
        try:
            found = self.frames.solve(
                blocks,
                stretch,
                seconds=min(seconds, self._seconds()),
                drawn_in=drawn_in,
                to_beat_g=to_beat_g,
                gap=max(min(gap, _LARGEST_GAP), GAP),
            )
        except UndecidedError:
            self._seconds()
            return _Answer(None, -math.inf, False)
        if found.x is None:
            return _Answer(None, math.inf, True)
        dual = found.fun if found.mip_dual_bound is None else found.mip_dual_bound
        return _Answer(found.x, float(dual) - for_pieces, not found.status)

    # -- plans ---------------------------------------------------------------------------------

    def _take(self, plan: Solution) -> None:
        if plan.weight_g < self._weight_g():
            self.found = plan

    def _lay_near(self, x: Vector, bound_g: float) -> bool:
        """Lay real pieces on each frame to the target of a loose answer; whether all could be."""
        target, seconds = self.frames.target_of(x), self._seconds()

        def filled(one: FrameColumns) -> Vector | None:
            aim = self.frames.near(target, one)
            return lightest(one.measured, one.candidates, aim, seconds)

        with ThreadPoolExecutor(os.cpu_count()) as threads:  # HiGHS lets other threads run meanwhile
            xs = self._with_rest(list(threads.map(filled, self.frames.ones)))
        plan = None if xs is None else self.frames.plan(xs)
        if plan is not None:
            self._take(plan)
            if plan.weight_g - bound_g > self.step_g:
                self._solve_again(plan)
        return plan is not None

    def _with_rest(self, xs: list[Vector | None]) -> list[Vector] | None:
        """With what missed the target laid within what the others leave; None where it cannot be."""
        for i, one in enumerate(self.frames.ones):
            if xs[i] is None:
                left = self.frames.left_to(i, xs)
                xs[i] = lightest(one.measured, one.candidates, left, self._seconds())
                if xs[i] is None:
                    return None
        return [x for x in xs if x is not None]

    def _solve_again(self, plan: Solution) -> None:
        """Lay frame after frame anew within what the others leave, as long as that saves weight."""
        heaviest_first = sorted(range(self.count), key=lambda i: -plan.added_g[i])
        xs, saved = list(plan.xs), True
        while saved and self.count > 1:
            saved = False
            for i in heaviest_first:
                one = self.frames.ones[i]
                with suppress(UndecidedError):
                    filled = lightest(
                        one.measured, one.candidates, self.frames.left_to(i, xs), self._seconds()
                    )
                    if filled is not None and one.weight_g(filled) < one.weight_g(xs[i]) - 1e-6:
                        xs[i], saved = filled, True
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
            tuple(one.candidates.pieces(x)) for one, x in zip(self.frames.ones, best.xs, strict=True)
        )
        is_proven = best.weight_g - bound_g <= max(self.step_g, PER_PIECE_G)
        return SetMatch(best.target, pieces, best.added_g, bound_g, True, is_proven)


class _Answer(NamedTuple):
    """What HiGHS made of a stretch: a solution, its bound, whether it came to an end."""

    x: Vector | None
    bound_g: float
    is_whole: bool
