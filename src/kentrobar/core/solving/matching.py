"""The least weight that brings a frame to its target: a mixed-integer programme in moment space.

Every piece adds its moments, so weight, first moment and swing weight are sums over the pieces and
"within tolerance" is linear: |M - M*| ≤ tM, (b* - tb)·M ≤ S ≤ (b* + tb)·M, |SW - SW*| ≤ tS, and twist
weight likewise. Recoil weight is linear about the middle of the balance's band but for M·(b - middle)², some
thousandths. What is cut or rolled comes in steps, hence whole numbers: a compact piece is a count
of its steps, a strip a run of neighbouring cells of its stretch. HiGHS solves it to a proven optimum.
Weight that is taken away counts like weight that is added: either is work, and neither comes for nothing.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from itertools import combinations
from typing import TYPE_CHECKING, Any, Final, NamedTuple

import numpy as np

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.moments import Moments
from kentrobar.core.body.specs import (
    AIMED,
    AIMED_BY_KEY,
    BALANCE,
    READ_BY_KEY,
    RECOIL_WEIGHT,
    STATIC_WEIGHT,
    SWING_WEIGHT,
    TWIST_WEIGHT,
)
from kentrobar.core.body.target import Target
from kentrobar.core.frame.outline import Outline
from kentrobar.core.quantities.errors import SpecError
from kentrobar.core.quantities.units import GCM2_PER_KGCM2
from kentrobar.core.solving.candidates import Candidates, Column, Slot, candidates
from kentrobar.core.solving.centring import MomentBand, Pull, centred
from kentrobar.core.solving.programme import GAP, PER_PIECE_G, ConstraintRow, UndecidedError, block_of, solve
from kentrobar.core.weight.pieces import Piece

if TYPE_CHECKING:
    from scipy.optimize import OptimizeResult

_CONTINUOUS_G: Final = 0.01  # where nothing comes in steps
_MOST_TRIES: Final = 8
_NEARLY_NEAREST: Final = 0.15  # of the least miss; to prove the very least takes three times as long
_TINY: Final = 1e-7  # kg·cm²: what HiGHS may miss a row by
_KEYS: Final = tuple(spec.key for spec in AIMED)
_ROUNDING: Final = 1e-9  # relative; by which bounds give way, since an edge belongs to its band


def _written(name: str, value: float) -> str:
    return f"{value:.2f} {AIMED_BY_KEY[name].unit}"


@dataclass(frozen=True)
class Reason:
    """Why demands are not met: one spec is beyond or out of reach, several clash, or time ran out.

    ``now`` is the spec of the frame and ``low`` to ``high`` what was demanded, for one spec; where it
    ``is_change`` nobody read the spec, and these are how far it was to move.
    """

    names: tuple[str, ...]
    now: float = 0.0
    low: float = 0.0
    high: float = 0.0
    is_change: bool = False

    @property
    def is_beyond(self) -> bool:
        """Whether the frame is past it already and all that is added only takes it farther."""
        return len(self.names) == 1 and self.names != ("balance_cm",) and self.now > self.high

    def sentence(self, written: Callable[[str, float], str] = _written) -> str:
        """For a person; ``written`` writes a spec's value with its unit."""
        nouns = [AIMED_BY_KEY[name].noun for name in self.names]
        if not nouns:
            return (
                "Time ran out before a plan was found or ruled out; widen a tolerance, or cut in larger "
                "steps."
            )
        if len(nouns) > 1:
            together = "both be met" if len(nouns) == 2 else "all be met together"
            return (
                f"{', '.join(nouns[:-1]).capitalize()} and {nouns[-1]} cannot {together} with these sites "
                "and steps; widen one of them, or allow more sites."
            )
        now, low, high = (written(self.names[0], value) for value in (self.now, self.low, self.high))
        if self.is_change and not self.is_beyond:
            return (
                f"No weight at these sites moves the {nouns[0]} by {low} to {high}; allow more weight, finer "
                "steps or other sites."
            )
        if self.is_change:
            return f"Added weight only raises the {nouns[0]}. Remove or replace a fitting."
        if self.is_beyond:
            return (
                f"The {nouns[0]} is {now} already, above {high}; what is added only raises it. Remove or "
                "replace what is fitted, or choose another frame."
            )
        return (
            f"No weight at these sites brings the {nouns[0]} from {now} to between {low} and {high}; allow "
            "more weight, finer steps or other sites."
        )


@dataclass(frozen=True)
class Match:
    """What was found. ``lower_bound_g`` is proven: no plan adds less.

    Where ``is_feasible`` is false, ``reason`` says why and ``nearest`` is a plan that misses at most
    15 % more than the least there is, by the sum of what it misses in parts of each tolerance.
    """

    is_feasible: bool
    pieces: tuple[Piece, ...] = ()
    added_g: float = 0.0
    lower_bound_g: float = 0.0
    reason: Reason | None = None
    nearest: tuple[Piece, ...] = ()
    is_proven: bool = True


def match(
    measured: MeasuredSpecs,
    slots: Sequence[Slot],
    target: Target,
    *,
    length_cm: float,
    outline: Outline | None = None,
    sums: Sequence[MomentBand] = (),
    seconds: float = 20.0,
    explain: bool = True,
    fewer_than: int | None = None,
) -> Match:
    """The plan of least added weight that brings a frame within its target, as near to its middle as is free.

    ``explain`` looks for the clash and the nearest plan where there is none, unless ``sums`` of moments have
    to be met too, whose names it does not know. ``fewer_than`` asks for the fewest pieces instead, fewer than
    so many, and for the least weight among such plans.

    Raises:
        SpecError: a spec that is aimed at but was never measured.
        PieceError, OutlineError: a site that cannot be on this frame.
    """
    require_known(measured, target.bands, target.axis_cm)
    problem = _Problem(measured, candidates(slots, outline), target, seconds, sums)
    try:
        found = problem.least_weight(_KEYS) if fewer_than is None else problem.fewest_pieces(fewer_than)
    except UndecidedError:
        return Match(False, reason=Reason(()), is_proven=False)
    if found is not None:
        x, bound, proven = found
        x = centred(x, problem.candidates, Pull(problem.frame, target.bands, target.axis_cm, tuple(sums)))
        added = problem.weight_of(x)
        pieces = tuple(problem.candidates.pieces(x))
        return Match(True, pieces, added, min(bound, added), is_proven=proven)
    if problem.is_open:
        return Match(False, reason=Reason(()), is_proven=False)
    if not explain or sums:
        return Match(False)
    with ThreadPoolExecutor(1) as beside:  # HiGHS lets other threads run meanwhile
        nearest = beside.submit(problem.nearest)
        why = _Problem(measured, problem.candidates, target, seconds).reason()
    return Match(False, reason=why, nearest=tuple(problem.candidates.pieces(nearest.result())))


def lightest(
    measured: MeasuredSpecs, candidates: Candidates, target: Target, seconds: float
) -> np.ndarray[Any, Any] | None:
    """The least weight within a target, as units of each column; None where there is none.

    Raises:
        UndecidedError: time ran out before one was found or ruled out.
    """
    found = _Problem(measured, candidates, target, seconds).least_weight(_KEYS)
    return None if found is None else found[0]


def require_known(measured: MeasuredSpecs, names: Iterable[str], axis_cm: float) -> None:
    """Refuse to aim at a spec that was not read. Raises SpecError, whose ``field`` names what is missing."""
    for name in names:
        for each in _needed_for(name, measured, axis_cm):
            if not getattr(measured, each):
                raise SpecError(
                    f"The {READ_BY_KEY[each].noun} of this frame is not known; read it, or leave out what "
                    "depends on it.",
                    code="not_measured",
                    field=each,
                )


def _needed_for(name: str, measured: MeasuredSpecs, axis_cm: float) -> tuple[str, ...]:
    """Which readings tell a spec, by their keys."""
    if name == BALANCE.key:
        return STATIC_WEIGHT.key, name
    is_elsewhere = name == SWING_WEIGHT.key and not measured.knows_swingweight(axis_cm)
    if is_elsewhere or name == RECOIL_WEIGHT.key:
        return STATIC_WEIGHT.key, BALANCE.key, SWING_WEIGHT.key
    return (name,)


def linear(name: str, m: Moments, axis_cm: float) -> float:
    """A spec as a sum over pieces, in its base unit: what is left out of it is :func:`lost`.

    Of balance it is the first moment, g·cm; of recoil weight the inertia about ``axis_cm``, which is then a
    balance.
    """
    match name:
        case STATIC_WEIGHT.key:
            return m.mass
        case BALANCE.key:
            return m.first_y
        case TWIST_WEIGHT.key:
            return m.second_xz / GCM2_PER_KGCM2
        case _:
            return m.swingweight_kgcm2(axis_cm)


def spec_of(name: str, m: Moments, axis_cm: float) -> float:
    """A spec of a body in its base unit, the swing weight about ``axis_cm``."""
    match name:
        case BALANCE.key:
            return m.balance_cm
        case TWIST_WEIGHT.key:
            return m.twistweight_kgcm2
        case RECOIL_WEIGHT.key:
            return m.recoil_kgcm2
        case _:
            return linear(name, m, axis_cm)


def off_middle(mass_g: float, reach_cm: float) -> float:
    """By how much recoil weight is less than the inertia so far from the balance, kg·cm²."""
    return mass_g * reach_cm**2 / GCM2_PER_KGCM2


def off_line(columns: Sequence[Column], frame: Moments) -> float:
    """The most twist weight that pieces on one side alone could lose of it: X²/M, kg·cm²."""
    aside = sum(abs(column.moments.first_x) * column.most for column in columns)
    return aside**2 / frame.mass / GCM2_PER_KGCM2 if frame.mass > 0 else 0.0


# -- the programme -----------------------------------------------------------------------------


class _ProvenAnswer(NamedTuple):
    """HiGHS's best answer, and below which weight there is none, g."""

    best: OptimizeResult
    bound_g: float


class _Problem:
    """The frame, its columns and its target, asked in several ways."""

    def __init__(
        self,
        measured: MeasuredSpecs,
        candidates: Candidates,
        target: Target,
        seconds: float,
        sums: Sequence[MomentBand] = (),
    ) -> None:
        self.frame, self.candidates = measured.moments(), candidates
        self.target, self.seconds, self.sums = target, seconds, sums
        self.is_open = False  # neither a plan was found nor that there is none
        self.units = np.array([list(c.moments) for c in candidates.columns]).reshape(-1, 5)
        self.masses = self.units[:, 0]
        self.weights = np.abs(self.masses)
        low, high = target.bands.get(BALANCE.key, (0.0, 0.0))
        self.middle = (low + high) / 2
        heaviest = self.frame.mass + sum(max(c.moments.mass, 0.0) * c.most for c in candidates.columns)
        # How much less than a sum these may be.
        self.lost = {
            TWIST_WEIGHT.key: off_line(candidates.columns, self.frame),
            RECOIL_WEIGHT.key: off_middle(heaviest, (high - low) / 2),
        }

    def weight_of(self, x: np.ndarray[Any, Any]) -> float:
        """What a solution lays and takes away, g."""
        whole = [column.whole for column in self.candidates.columns]
        return float(self.weights @ np.where(whole, np.round(x), x))

    def least_weight(self, names: Sequence[str]) -> tuple[np.ndarray[Any, Any], float, bool] | None:
        """The lightest plan that meets these demands, its proven bound, whether it is the optimum."""
        found = self._lightest(names)
        if found is None:
            return None
        x = self._whole(found.best)
        for_pieces = PER_PIECE_G * len(self.candidates.spans)
        bound = max(found.bound_g - for_pieces, 0.0)
        is_proven = found.best.status == 0 and self.weight_of(x) - bound <= self._step_g()
        return x, bound, is_proven

    def _step_g(self) -> float:
        """The heaviest step that there is to cut, within which a plan counts as the least, g."""
        return max(
            (w for w, c in zip(self.weights, self.candidates.columns, strict=True) if c.whole),
            default=_CONTINUOUS_G,
        )

    def fewest_pieces(self, fewer_than: int) -> tuple[np.ndarray[Any, Any], float, bool] | None:
        """The plan of the fewest pieces, the lightest of such; nothing is proven of its weight."""
        for count in range(fewer_than):
            found = self._lightest(_KEYS, most_pieces=count)
            if found is not None:
                return self._whole(found.best), 0.0, found.best.status == 0
            if self.is_open:
                break
        return None

    def _lightest(
        self, names: Sequence[str], *, is_any: bool = False, most_pieces: int | None = None
    ) -> _ProvenAnswer | None:
        """HiGHS's best, or None where there is none; with ``is_any`` the first plan there is, at any weight.

        Twist weight and recoil weight are a little less than sums; where a plan misses its demand by that, it
        is asked for on top. The bound is that of the first answer, which asks for less than was demanded and
        therefore holds; where there is none to what was asked for on top, the problem ``is_open``.
        """
        cost = np.zeros_like(self.weights) if is_any else self.weights
        self.is_open = False
        extra, bound_g = dict.fromkeys(names, (0.0, 0.0)), -np.inf
        for tries in range(_MOST_TRIES):
            found = self._solve(cost, [*self._bands(), *self._rows(extra)], most_pieces=most_pieces)
            if found.x is None:
                self.is_open = tries > 0
                return None
            if not tries:
                dual = found.mip_dual_bound
                bound_g = float(found.fun if dual is None else dual)
            missed = dict(self._missed(names, self._whole(found)))
            if not missed:
                return _ProvenAnswer(found, bound_g)
            for name, (low, high) in missed.items():
                below, above = extra[name]
                # A little more, so that the next answer is there.
                extra[name] = below + 1.02 * low + _TINY, self.lost[name] if high else above
        self.is_open = True
        return None

    def _whole(self, found: OptimizeResult) -> np.ndarray[Any, Any]:
        return np.asarray(found.x[: len(self.masses)])

    def _missed(
        self, names: Iterable[str], x: np.ndarray[Any, Any]
    ) -> Iterator[tuple[str, tuple[float, float]]]:
        """By how much a solution is below and above what is demanded, of specs that are no sums."""
        if self.frame.mass <= 0:
            return
        whole = self.frame
        for column, count in zip(self.candidates.columns, x, strict=True):
            if count:
                whole = whole.plus(column.moments.times(float(count)))
        for name in names:
            if name in self.target.bands and self.lost.get(name):
                low, high = self.target.bands[name]
                value = spec_of(name, whole, self.target.axis_cm)
                give = 2 * _ROUNDING * max(abs(low), abs(high))  # once more than the rows do
                below, above = max(low - value - give, 0.0), max(value - high - give, 0.0)
                if below or above:
                    yield name, (below, above)

    def _clashing(self) -> tuple[str, ...]:
        """The fewest demands that clash: what cannot be met lies within something that cannot either."""
        clashing = [tuple(name for name in _KEYS if name in self.target.bands)]  # known already
        while True:
            fewer = dict.fromkeys(
                names for of in clashing for names in combinations(of, len(of) - 1) if names
            )
            still = [names for names in fewer if self._cannot_be_met(names)]
            if not still:
                return clashing[0]
            clashing = still

    def _cannot_be_met(self, names: Sequence[str]) -> bool:
        if RECOIL_WEIGHT.key in names and BALANCE.key not in names:
            return False  # about no point is it a sum then
        try:
            return self._lightest(names, is_any=True) is None and not self.is_open
        except UndecidedError:
            return False

    def nearest(self) -> np.ndarray[Any, Any]:
        """A plan that misses next to the least, in parts of each tolerance; what is kept gives way last."""
        found = self._nearest(self.target.kept) if self.target.kept else None
        if found is None:
            found = self._nearest(frozenset())
        return np.zeros(len(self.masses)) if found is None else found

    def _nearest(self, kept: frozenset[str]) -> np.ndarray[Any, Any] | None:
        rows = list(self._scaled(_KEYS))
        k = len(rows)
        loose = []
        for i, (name, row, low, high, scale) in enumerate(rows):
            give = 0.0 if name in kept else scale
            missed = _unit(2 * k, i, give) - _unit(2 * k, k + i, give)
            loose.append((np.concatenate([row, missed]), low, high))
        cost = np.concatenate([self.weights * 1e-6, np.ones(2 * k)])
        try:
            found = self._solve(cost, loose, extra=2 * k, gap=_NEARLY_NEAREST)
        except UndecidedError:
            return None
        return None if found.x is None else self._whole(found)

    def reason(self) -> Reason:
        """Why the demands cannot be met: the smallest set of them that clash."""
        clashing = self._clashing()
        if len(clashing) > 1:
            return Reason(clashing)
        return Reason(clashing, self._values()[clashing[0]], *self.target.bands[clashing[0]])

    def _values(self) -> dict[str, float]:
        if self.frame.mass <= 0:
            return dict.fromkeys(_KEYS, 0.0)
        return {name: spec_of(name, self.frame, self.target.axis_cm) for name in _KEYS}

    def _rows(
        self, extra: Mapping[str, tuple[float, float]]
    ) -> Iterator[tuple[np.ndarray[Any, Any], float, float]]:
        """Each demand as low ≤ row·x ≤ high, with what is asked for on top at either end."""
        for name, (below, above) in extra.items():
            if name not in self.target.bands:
                continue
            low, high = self.target.bands[name]
            give = _ROUNDING * max(abs(low), abs(high))
            low, high = low - give, high + give
            if name == BALANCE.key:
                sums, now = self._sums(name)
                for edge, sign in ((low, 1.0), (high, -1.0)):
                    row = sign * (sums - edge * self.masses)
                    yield row, -sign * (now - edge * self.frame.mass), np.inf
                continue
            sums, now = self._sums(name)
            yield sums, low + below - now, high + self.lost.get(name, 0.0) - above - now

    def _bands(self) -> Iterator[tuple[np.ndarray[Any, Any], float, float]]:
        """The sums of moments that must be met, as rows."""
        for band in self.sums:
            now = band.of(self.frame)
            yield self.units @ np.array(band.weights), band.low - now, band.high - now

    def _sums(self, name: str) -> tuple[np.ndarray[Any, Any], float]:
        """What a unit of each column adds to a spec as a sum, and what it is without."""
        axis_cm = self.middle if name == RECOIL_WEIGHT.key else self.target.axis_cm
        columns = self.candidates.columns
        return (
            np.array([linear(name, c.moments, axis_cm) for c in columns]),
            linear(name, self.frame, axis_cm),
        )

    def _scaled(
        self, names: Sequence[str]
    ) -> Iterator[tuple[str, np.ndarray[Any, Any], float, float, float]]:
        """Each row with its spec's name and what one tolerance of it is."""
        for name in names:
            for row, low, high in self._rows({name: (0.0, 0.0)}):
                wide = (self.target.bands[name][1] - self.target.bands[name][0]) / 2
                wide = min(wide, AIMED_BY_KEY[name].tolerance)
                scale = max(wide, 1e-6) * (self.frame.mass if name == "balance_cm" else 1.0)
                yield name, row, low, high, scale

    def _solve(
        self,
        cost: np.ndarray[Any, Any],
        rows: Sequence[tuple[np.ndarray[Any, Any], float, float]],
        extra: int = 0,
        most_pieces: int | None = None,
        gap: float = GAP,
    ) -> OptimizeResult:
        """HiGHS's answer; ``extra`` columns of any size stand behind the frame's own."""
        if not len(cost):
            # Nowhere to lay anything: either the frame meets the demands as it is, or not.
            from scipy.optimize import OptimizeResult

            is_met = all(low <= 0 <= high for _, low, high in rows)
            x = np.zeros(0) if is_met else None
            answer: Any = {"x": x, "fun": 0.0, "mip_dual_bound": 0.0, "status": 0}
            return OptimizeResult(**answer)
        return solve(
            [block_of(self.candidates, most_pieces)],
            cost,
            [ConstraintRow.over_all(*row) for row in rows],
            seconds=self.seconds,
            free=[(0.0, np.inf)] * extra,
            gap=gap,
        )


def _unit(size: int, at: int, value: float) -> np.ndarray[Any, Any]:
    vector = np.zeros(size)
    vector[at] = value
    return vector
