"""The least weight that brings a frame to its target: a mixed-integer programme in moment space.

Every piece adds its moments, so weight, first moment and swing weight are sums over the pieces and
"within tolerance" is linear: |M - M*| ≤ tM, (b* - tb)·M ≤ S ≤ (b* + tb)·M, |SW - SW*| ≤ tS, and twist
weight likewise. What is cut or rolled comes in steps, hence whole numbers: a compact piece is a count
of its steps, a strip a run of neighbouring cells of its stretch. HiGHS solves it to a proven optimum.
Weight that is taken away counts like weight that is added: either is work, and neither comes for nothing.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations
from typing import TYPE_CHECKING, Any, Final, NamedTuple

import numpy as np

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import READ_BY_KEY, TWIST_WEIGHT
from kentrobar.core.frame.outline import Outline
from kentrobar.core.quantities.errors import SpecError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import GCM2_PER_KGCM2
from kentrobar.core.solving.candidates import Candidates, Slot, candidates
from kentrobar.core.solving.programme import (
    PER_PIECE_G,
    Row,
    UndecidedError,
    block_of,
    solve,
)
from kentrobar.core.weight.pieces import Piece

if TYPE_CHECKING:
    from scipy.optimize import OptimizeResult

_PIECE_COUNTS_G: Final = (
    500.0  # what a piece costs where the fewest are asked for: more than any plan
)
_CONTINUOUS_G: Final = 0.01  # where nothing comes in steps
_MOST_TRIES: Final = 8
_ROUNDING: Final = 1e-9  # relative; by which bounds give way, since an edge belongs to its band


@dataclass(frozen=True)
class Aim:
    """Bounds that a spec must come to lie in, by its key; left out: free.

    Where not all can be met, those that are ``kept`` give way last.
    """

    bounds: Mapping[str, tuple[float, float]]
    axis_cm: float = 10.0
    kept: frozenset[str] = frozenset()

    @classmethod
    def at(
        cls, targets: Mapping[str, float], tolerances: Mapping[str, float], axis_cm: float
    ) -> Aim:
        """Targets with the same tolerance to either side."""
        return cls({n: (v - tolerances[n], v + tolerances[n]) for n, v in targets.items()}, axis_cm)


def _written(name: str, value: float) -> str:
    return f"{value:.2f} {READ_BY_KEY[name].unit}"


@dataclass(frozen=True)
class Reason:
    """Why demands are not met: one spec is beyond or out of reach, several clash, or time ran out.

    ``now`` is the spec of the frame and ``low`` to ``high`` what was demanded, for one spec.
    """

    names: tuple[str, ...]
    now: float = 0.0
    low: float = 0.0
    high: float = 0.0

    @property
    def is_beyond(self) -> bool:
        """Whether the frame is past it already and all that is added only takes it farther."""
        return len(self.names) == 1 and self.names != ("balance_cm",) and self.now > self.high

    def sentence(self, written: Callable[[str, float], str] = _written) -> str:
        """For a person; ``written`` writes a spec's value with its unit."""
        nouns = [READ_BY_KEY[name].noun for name in self.names]
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
        now, low, high = (
            written(self.names[0], value) for value in (self.now, self.low, self.high)
        )
        if self.is_beyond:
            return (
                f"The {nouns[0]} is {now} already, above {high}; what is added only raises it. Take weight "
                "away, or choose another frame."
            )
        return (
            f"No weight at these sites brings the {nouns[0]} from {now} to between {low} and {high}; allow "
            "more weight, finer steps or other sites."
        )


@dataclass(frozen=True)
class Match:
    """What was found. ``lower_bound_g`` is proven: no plan adds less.

    Where ``is_feasible`` is false, ``reason`` says why and ``nearest`` is the plan that comes
    nearest, by the sum of what it misses in parts of each tolerance.
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
    aim: Aim,
    *,
    length_cm: float,
    outline: Outline | None = None,
    seconds: float = 20.0,
    explain: bool = True,
    fewest: bool = False,
) -> Match:
    """The plan of least added weight that brings a frame within its aim.

    ``explain`` looks for the clash and the nearest plan where there is none; ``fewest`` asks for the
    fewest pieces instead, and for the least weight among such plans.

    Raises:
        SpecError: a spec that is aimed at but was never measured.
        PieceError, OutlineError: a site that cannot be on this frame.
    """
    require_known(measured, aim.bounds, aim.axis_cm)
    problem = _Problem(measured, candidates(slots, outline), aim, seconds)
    try:
        found = problem.fewest_pieces() if fewest else problem.least_weight(tuple(READ_BY_KEY))
    except UndecidedError:
        return Match(False, reason=Reason(()), is_proven=False)
    if found is not None:
        x, bound, proven = found
        added = problem.weight_of(x)
        pieces = tuple(problem.candidates.pieces(x))
        return Match(True, pieces, added, min(bound, added), is_proven=proven)
    if not explain:
        return Match(False)
    nearest = tuple(problem.candidates.pieces(problem.nearest()))
    return Match(False, reason=problem.reason(), nearest=nearest)


def lightest(
    measured: MeasuredSpecs, candidates: Candidates, aim: Aim, seconds: float
) -> np.ndarray[Any, Any] | None:
    """The least weight within an aim, as units of each column; None where there is none.

    Raises:
        UndecidedError: time ran out before one was found or ruled out.
    """
    found = _Problem(measured, candidates, aim, seconds).least_weight(tuple(READ_BY_KEY))
    return None if found is None else found[0]


def require_known(measured: MeasuredSpecs, names: Iterable[str], axis_cm: float) -> None:
    """Refuse to aim at a spec that was not read. Raises SpecError, whose ``field`` names what is missing."""
    for name in names:
        needed: tuple[str, ...] = ("mass_g", name) if name == "balance_cm" else (name,)
        if name == "swingweight_kgcm2" and not measured.knows_swingweight(axis_cm):
            needed = ("mass_g", "balance_cm", name)
        for each in needed:
            if not isinstance(getattr(measured, each), Estimate):
                raise SpecError(
                    f"The {READ_BY_KEY[each].noun} of this frame is not known; read it, or leave out what "
                    "depends on it.",
                    code="not_measured",
                    field=each,
                )


# -- the programme -----------------------------------------------------------------------------


class _Lightest(NamedTuple):
    """HiGHS's best answer, and below which weight there is none, g."""

    best: OptimizeResult
    bound_g: float


class _Problem:
    """The frame, its columns and its aim, asked in several ways."""

    def __init__(
        self, measured: MeasuredSpecs, candidates: Candidates, aim: Aim, seconds: float
    ) -> None:
        self.frame, self.candidates = measured.moments(), candidates
        self.aim, self.seconds = aim, seconds
        self.masses = np.array([c.moments.mass for c in candidates.columns])
        self.weights = np.abs(self.masses)

    def weight_of(self, x: np.ndarray[Any, Any]) -> float:
        """What a solution lays and takes away, g."""
        whole = [column.whole for column in self.candidates.columns]
        return float(self.weights @ np.where(whole, np.round(x), x))

    def least_weight(self, names: Sequence[str]) -> tuple[np.ndarray[Any, Any], float, bool] | None:
        """The lightest plan that meets these demands, its proven bound, whether it is the optimum."""
        found = self._lightest(names)
        if found is None:
            return None
        x = self._laid(found.best)
        for_pieces = PER_PIECE_G * len(self.candidates.spans)
        bound = max(found.bound_g - for_pieces, 0.0)
        is_proven = found.best.status == 0 and self.weight_of(x) - bound <= self._step_g()
        return x, bound, is_proven

    def _step_g(self) -> float:
        """The heaviest step that there is to cut, within which a plan counts as the least, g."""
        return max((w for w, c in zip(self.weights, self.candidates.columns, strict=True) if c.whole),
                   default=_CONTINUOUS_G)  # fmt: skip

    def fewest_pieces(self) -> tuple[np.ndarray[Any, Any], float, bool] | None:
        """The plan of the fewest pieces, the lightest of such; nothing is proven of its weight."""
        found = self._lightest(tuple(READ_BY_KEY), _PIECE_COUNTS_G)
        return None if found is None else (self._laid(found.best), 0.0, found.best.status == 0)

    def _lightest(self, names: Sequence[str], per_piece_g: float = PER_PIECE_G) -> _Lightest | None:
        """HiGHS's best, or None where there is none.

        What lies aside loses X²/M of its twist weight (some thousandths), which is not linear: where
        that misses the demand, it is asked for on top. The bound is that of the first answer, which asks for
        less than was demanded and therefore holds.
        """
        lost, bound_g = 0.0, -np.inf
        for _ in range(_MOST_TRIES):
            rows = list(self._rows(names, lost))
            found = self._solve(self.weights, rows, per_piece_g=per_piece_g)
            if found.x is None:
                return None
            if not lost:
                dual = found.mip_dual_bound
                bound_g = float(found.fun if dual is None else dual)
            missed = self._missed_twist(self._laid(found)) if TWIST_WEIGHT.key in names else 0.0
            if missed <= 0:
                break
            lost += 1.02 * missed  # a little more, so that the next answer is there
        return _Lightest(found, bound_g)

    def _laid(self, found: OptimizeResult) -> np.ndarray[Any, Any]:
        return np.asarray(found.x[: len(self.masses)])

    def _missed_twist(self, x: np.ndarray[Any, Any]) -> float:
        """By how much a solution misses the least twist weight, kg·cm²; 0 or less where it does not."""
        if TWIST_WEIGHT.key not in self.aim.bounds or self.frame.mass <= 0:
            return 0.0
        whole = self.frame
        for column, count in zip(self.candidates.columns, x, strict=True):
            if count:
                whole = whole.plus(column.moments.times(float(count)))
        return self.aim.bounds[TWIST_WEIGHT.key][0] - whole.twistweight_kgcm2

    def _clashing(self) -> tuple[str, ...]:
        demanded = [name for name in READ_BY_KEY if name in self.aim.bounds]
        for size in range(1, len(demanded) + 1):
            for names in combinations(demanded, size):
                if self._cannot_be_met(names):
                    return names
        return tuple(demanded)

    def _cannot_be_met(self, names: Sequence[str]) -> bool:
        try:
            return self._lightest(names) is None
        except UndecidedError:
            return False

    def nearest(self) -> np.ndarray[Any, Any]:
        """The plan that misses least, in parts of each tolerance; what is kept gives way last."""
        found = self._nearest(self.aim.kept) if self.aim.kept else None
        if found is None:
            found = self._nearest(frozenset())
        return np.zeros(len(self.masses)) if found is None else found

    def _nearest(self, kept: frozenset[str]) -> np.ndarray[Any, Any] | None:
        rows = list(self._scaled(tuple(READ_BY_KEY)))
        k = len(rows)
        loose = []
        for i, (name, row, low, high, scale) in enumerate(rows):
            give = 0.0 if name in kept else scale
            missed = _unit(2 * k, i, give) - _unit(2 * k, k + i, give)
            loose.append((np.concatenate([row, missed]), low, high))
        cost = np.concatenate([self.weights * 1e-6, np.ones(2 * k)])
        try:
            found = self._solve(cost, loose, extra=2 * k)
        except UndecidedError:
            return None
        return None if found.x is None else self._laid(found)

    def reason(self) -> Reason:
        """Why the demands cannot be met: the smallest set of them that clash."""
        clashing = self._clashing()
        if len(clashing) > 1:
            return Reason(clashing)
        return Reason(clashing, self._values()[clashing[0]], *self.aim.bounds[clashing[0]])

    def _values(self) -> dict[str, float]:
        frame = self.frame
        return {
            "mass_g": frame.mass,
            "balance_cm": frame.first_y / frame.mass if frame.mass else 0.0,
            "swingweight_kgcm2": frame.swingweight_kgcm2(self.aim.axis_cm),
            "twistweight_kgcm2": frame.second_xz / GCM2_PER_KGCM2,
        }

    def _rows(
        self, names: Sequence[str], lost_twist: float = 0.0
    ) -> Iterator[tuple[np.ndarray[Any, Any], float, float]]:
        """Each demand as low ≤ row·x ≤ high; ``lost_twist`` is what is lost of twist weight later."""
        frame, p = self.frame, self.aim.axis_cm
        columns = [c.moments for c in self.candidates.columns]
        for name in names:
            if name not in self.aim.bounds:
                continue
            low, high = self.aim.bounds[name]
            give = _ROUNDING * max(abs(low), abs(high))
            low, high = low - give, high + give
            match name:
                case "mass_g":
                    yield self.masses, low - frame.mass, high - frame.mass
                case "balance_cm":
                    for edge, sign in ((low, 1.0), (high, -1.0)):
                        row = np.array([sign * (m.first_y - edge * m.mass) for m in columns])
                        yield row, -sign * (frame.first_y - edge * frame.mass), np.inf
                case "swingweight_kgcm2":
                    row = np.array([m.swingweight_kgcm2(p) for m in columns])
                    now = frame.swingweight_kgcm2(p)
                    yield row, low - now, high - now
                case _:
                    row = np.array([m.second_xz / GCM2_PER_KGCM2 for m in columns])
                    now = frame.second_xz / GCM2_PER_KGCM2 - lost_twist
                    yield row, low - now, high - now

    def _scaled(
        self, names: Sequence[str]
    ) -> Iterator[tuple[str, np.ndarray[Any, Any], float, float, float]]:
        """Each row with its spec's name and what one tolerance of it is."""
        for name in names:
            for row, low, high in self._rows([name]):
                wide = (self.aim.bounds[name][1] - self.aim.bounds[name][0]) / 2
                wide = min(wide, READ_BY_KEY[name].tolerance)
                scale = max(wide, 1e-6) * (self.frame.mass if name == "balance_cm" else 1.0)
                yield name, row, low, high, scale

    def _solve(
        self,
        cost: np.ndarray[Any, Any],
        rows: Sequence[tuple[np.ndarray[Any, Any], float, float]],
        extra: int = 0,
        per_piece_g: float = PER_PIECE_G,
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
            [block_of(self.candidates, per_piece_g)], cost, [Row.over_all(*row) for row in rows],
            seconds=self.seconds, free=[(0.0, np.inf)] * extra,
        )  # fmt: skip


def _unit(size: int, at: int, value: float) -> np.ndarray[Any, Any]:
    vector = np.zeros(size)
    vector[at] = value
    return vector
