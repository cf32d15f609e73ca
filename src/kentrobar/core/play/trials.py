"""Trials on court: which specs a player likes best, from comparisons of two setups and ratings.

How well a setup suits is u(s) = -½ Σ ((s - s*)/w)², with the player's best s* and a width w for each spec: as
far off as w it suits worse by half of what one judgement scatters by. Of two setups the player prefers the
one that seems better by more than a band τ, and else finds them the same (probit with ties); a part of the
answers, for some nearly all, says nothing: it falls on any, or always on the first, on the second, on either
of the two, or on "the same". Ratings are m + k·u(s) with a scatter of their own, u
flattened far from the best, where a scale of seven ends. Some players have no preference: to them all setups
are equal. The posterior of best, widths, band and carelessness is worked out on a grid.

The next pair to try is that whose answer tells most of s* (expected information). Checks are slipped in: the
pair whose answer tells most of whether the player takes care, and a setup against itself.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from functools import cached_property
from itertools import combinations, product
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtr

from kentrobar.core.quantities.errors import SpecError

Array = NDArray[np.float64]

BEYOND: Final = 0.5  # of the range tried: so far beyond it the best may lie
STEPS: Final = {1: 81, 2: 31}  # of the grid of s*, by the number of specs
WIDTHS: Final = {1: 9, 2: 5}  # of the grid of each w
WIDEST: Final = (0.1, 0.8)  # of the range tried: from the pickiest to the least picky player
BANDS: Final = (0.15, 0.4, 0.8, 1.4)  # τ
NO_PREFERENCE: Final = 6.0  # of the range tried: so wide that all setups suit equally
NO_PREFERENCE_PRIOR: Final = 0.1
RATED_REACH: Final = 8.0  # of u: no rating falls farther below the best, as 1 to 7 is some scatters wide
GUESSING: Final = 0.5  # a greater part than this says nothing: who answers so is careless
NAMED_AT: Final = 0.28  # the chance of that at which it is told
WITHIN_TRIED: Final = 0.9  # the chance that the best lies within what was tried, before it is called known
HARDLY: Final = 0.05  # the chance of no preference above which nothing is called known
INTERVAL: Final = 0.9
MOST_SETUPS: Final = 40


class Preference(StrEnum):
    """What a player says of the first of two setups beside the second."""

    FIRST = "a"
    SECOND = "b"
    SAME = "same"


SAYINGS: Final = tuple(Preference)


class Carelessness(NamedTuple):
    """The part of the answers that says nothing, how those fall on first, second and same, and how usual it is."""

    part: float
    falls: tuple[float, float, float]
    prior: float


_ANY = (1 / 3, 1 / 3, 1 / 3)
KINDS: Final = (
    Carelessness(0.04, _ANY, 0.52),
    Carelessness(0.25, _ANY, 0.24),
    Carelessness(0.9, _ANY, 0.1),
    Carelessness(0.95, (1.0, 0.0, 0.0), 0.03),
    Carelessness(0.95, (0.0, 1.0, 0.0), 0.03),
    Carelessness(0.95, (0.5, 0.5, 0.0), 0.04),
    Carelessness(0.95, (0.0, 0.0, 1.0), 0.04),
)
_PARTS: Final = np.array([kind.part for kind in KINDS])
_FALLS: Final = np.array([kind.falls for kind in KINDS]).T  # a row a saying, a column a kind


class Answer(NamedTuple):
    """Two setups by their numbers, and what was said; a setup may be tried against itself."""

    first: int
    second: int
    said: Preference


class Rating(NamedTuple):
    """A setup by its number, and how well it suits: 1 to 7."""

    setup: int
    rated: float


class Interval(NamedTuple):
    """A posterior told by its mean, its standard deviation and the middle nine tenths of it."""

    value: float
    u: float
    low: float
    high: float

    @property
    def half_width(self) -> float:
        """Half of the middle nine tenths, in the base unit of the spec."""
        return (self.high - self.low) / 2


class SetupPair(NamedTuple):
    """Two setups to try next, by their numbers; a check is not asked for what it tells of the best."""

    first: int
    second: int
    is_check: bool = False


@dataclass(frozen=True)
class Design:
    """The setups of a trial as rows of specs, with the grid that answers are weighed on.

    Raises:
        SpecError: fewer than two setups, too many, more than two specs, or a spec alike in all.
    """

    setups: tuple[tuple[float, ...], ...]

    def __post_init__(self) -> None:
        if not 2 <= len(self.setups) <= MOST_SETUPS:
            raise SpecError(f"A trial needs 2 to {MOST_SETUPS} setups.", code="setups", field="setups")
        if self.specs not in STEPS:
            raise SpecError("A play test is about one spec or two.", code="specs", field="of")
        if min(self.ranges) <= 0:
            raise SpecError(
                "All setups have the same value of a tested spec. Vary it.", code="no_range", field="setups"
            )

    @property
    def specs(self) -> int:
        """How many specs are tried."""
        return len(self.setups[0])

    @cached_property
    def values(self) -> Array:
        """The setups, a row each, a column a spec in its base unit."""
        return np.array(self.setups, dtype=float)

    @cached_property
    def ranges(self) -> list[float]:
        """From the least to the greatest of each spec tried, in its base unit."""
        return [float(span) for span in np.ptp(self.values, axis=0)]

    @cached_property
    def axes(self) -> list[Array]:
        """The values of each spec at which s* may lie."""
        lows, highs = self.values.min(axis=0), self.values.max(axis=0)
        return [
            np.linspace(low - BEYOND * span, high + BEYOND * span, STEPS[self.specs])
            for low, high, span in zip(lows, highs, self.ranges, strict=True)
        ]

    @cached_property
    def widths(self) -> Array:
        """The combinations of widths, a row each, in the units of the specs; the widest of each is no preference."""
        parts = [*np.geomspace(*WIDEST, WIDTHS[self.specs]), NO_PREFERENCE]
        return np.array(
            [
                [part * span for part, span in zip(combination, self.ranges, strict=True)]
                for combination in product(parts, repeat=self.specs)
            ]
        )

    @cached_property
    def prefers(self) -> NDArray[np.bool_]:
        """Whether a player of these widths has a preference, a row a combination, a column a spec."""
        return np.asarray(self.widths < 0.99 * NO_PREFERENCE * np.array(self.ranges))

    @cached_property
    def width_prior(self) -> Array:
        """The chance of each combination of widths beforehand, 0 to 1."""
        each = (1 - NO_PREFERENCE_PRIOR) / WIDTHS[self.specs]
        return np.asarray(np.where(self.prefers, each, NO_PREFERENCE_PRIOR).prod(axis=1))

    @cached_property
    def points(self) -> Array:
        """All points of the grid of s*, a row each."""
        return np.stack([axis.ravel() for axis in np.meshgrid(*self.axes, indexing="ij")], axis=1)

    @cached_property
    def worth(self) -> Array:
        """u of each setup, by the point of s* and the combination of widths."""
        off = self.values[:, None, None, :] - self.points[None, :, None, :]
        return np.asarray(-0.5 * ((off / self.widths[None, None, :, :]) ** 2).sum(axis=-1))

    def chances(self, first: int, second: int) -> Array:
        """The chance of each answer of somebody who takes care, by s*, widths and band."""
        return _chances(self.worth[first] - self.worth[second])

    @cached_property
    def pairs(self) -> list[tuple[int, int]]:
        """All pairs of different setups."""
        return list(combinations(range(len(self.setups)), 2))

    @cached_property
    def thinned(self) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
        """The points of s* and the widths on which pairs are weighed against each other.

        For two specs it is every other one of each axis: the pair found so tells nine tenths of the most at
        least, and an answer is weighed on all of them.
        """
        every = 1 if self.specs == 1 else 2
        sizes = ([STEPS[self.specs]] * self.specs, [WIDTHS[self.specs] + 1] * self.specs)
        points, widths = (
            np.arange(math.prod(size)).reshape(size)[(slice(None, None, every),) * self.specs].ravel()
            for size in sizes
        )
        return points, widths

    @property
    def pair_chances(self) -> Iterable[Array]:
        """The chances of each pair on the thinned grid; kept for one spec, too many to keep for two."""
        return self._kept if self.specs == 1 else self._pair_chances()

    def _pair_chances(self) -> Iterator[Array]:
        worth = self.worth[np.ix_(np.arange(len(self.setups)), *self.thinned)]
        return (_chances(worth[first] - worth[second]) for first, second in self.pairs)

    @cached_property
    def _kept(self) -> list[Array]:
        return list(self._pair_chances())


@dataclass
class Posterior:
    """What the answers so far tell, by s*, widths, band and carelessness; ``weights`` sum to 1."""

    design: Design
    weights: Array = field(init=False)

    def __post_init__(self) -> None:
        points, widths = len(self.design.points), self.design.width_prior
        priors = widths[:, None, None] * np.array([kind.prior for kind in KINDS])
        shape = (points, len(widths), len(BANDS), len(KINDS))
        self._weigh(np.broadcast_to(priors, shape).copy())

    def _weigh(self, weights: Array) -> None:
        self.weights = weights / weights.sum()

    def take(self, answer: Answer) -> None:
        """Weigh one more answer."""
        said = SAYINGS.index(answer.said)
        careful = self.design.chances(answer.first, answer.second)[said]
        self._weigh(self.weights * ((1 - _PARTS) * careful[..., None] + _PARTS * _FALLS[said]))

    def take_ratings(self, ratings: Sequence[Rating]) -> None:
        """Weigh ratings: by how well a hill about each s* fits them, its height and scatter left open."""
        if len(ratings) < 3:  # two numbers fit any hill
            return
        rated = np.array([rating.rated for rating in ratings])
        worth = self.design.worth[[rating.setup for rating in ratings]]
        worth = RATED_REACH * np.expm1(worth / RATED_REACH)
        fit = _fit_of(worth, rated)
        self._weigh(self.weights * np.exp(fit - fit.max())[:, :, None, None])

    def best(self) -> list[Interval]:
        """The best value of each spec."""
        return [_interval(axis, chances) for axis, chances in self.marginals()]

    def marginals(self) -> list[tuple[Array, Array]]:
        """The values of each spec at which its best may lie, with the chance of each."""
        of_point = self.weights.sum(axis=(1, 2, 3)).reshape([len(axis) for axis in self.design.axes])
        every = range(self.design.specs)
        return [
            (axis, np.asarray(of_point.sum(axis=tuple(j for j in every if j != i))))
            for i, axis in enumerate(self.design.axes)
        ]

    def felt(self) -> list[Interval]:
        """How far off the best a setup must be to be told from it as often as not, for each spec."""
        found = []
        for i in range(self.design.specs):
            # Of who has a preference: nobody else feels anything.
            weights = self.weights.sum(axis=(0, 3)) * self.design.prefers[:, i, None]  # by widths and band
            off = self.design.widths[:, i][:, None] * np.sqrt(2 * np.array(BANDS))[None, :]
            order = np.argsort(off.ravel())
            found.append(_interval(off.ravel()[order], weights.ravel()[order]))
        return found

    def careless(self) -> float:
        """The chance that most of the answers say nothing."""
        of_part = self.weights.sum(axis=(0, 1, 2))
        return float(of_part[_PARTS > GUESSING].sum())

    def no_preference(self) -> float:
        """The chance that the player finds all setups equal in one of the specs."""
        of_width = self.weights.sum(axis=(0, 2, 3))
        return float(of_width[~self.design.prefers.all(axis=1)].sum())

    def within_tried(self) -> float:
        """The chance that the best lies within what was tried; the least of the specs."""
        edges = zip(self.design.values.min(axis=0), self.design.values.max(axis=0), strict=True)
        return min(
            float(chances[(axis >= low - 1e-9) & (axis <= high + 1e-9)].sum())
            for (axis, chances), (low, high) in zip(self.marginals(), edges, strict=True)
        )

    @property
    def is_careless(self) -> bool:
        """Whether the player is to be told that the answers do not hang together."""
        return self.careless() > NAMED_AT

    @property
    def is_enough(self) -> bool:
        """Whether the best is known more closely than the player feels: more trials would tell nothing.

        Never of who may have no preference, nor where the best may lie beyond what was tried.
        """
        if self.no_preference() > HARDLY or self.within_tried() < WITHIN_TRIED:
            return False
        return all(best.half_width < felt.value for best, felt in zip(self.best(), self.felt(), strict=True))

    def worth_spreads(self) -> list[float]:
        """How little is known of the worth of each setup: its standard deviation."""
        weights = self.weights.sum(axis=(2, 3))
        means = np.einsum("isw,sw->i", self.design.worth, weights)
        squares = np.einsum("isw,sw->i", self.design.worth**2, weights)
        return [float(each) for each in np.sqrt(np.maximum(squares - means**2, 0.0))]

    @property
    def _thinned_weights(self) -> Array:
        """The posterior on the thinned grid, which sums to 1 there."""
        weights = self.weights[np.ix_(*self.design.thinned)]
        return np.asarray(weights / weights.sum())

    def next_pair(self) -> tuple[SetupPair, float]:
        """The pair whose answer tells most of s*, and how much, in bits."""
        weights = self._thinned_weights
        careful, idle = weights @ (1 - _PARTS), _FALLS * _PARTS @ weights.sum(axis=(1, 2)).T
        at_point = weights.sum(axis=(1, 2, 3))
        gains = [
            _information(np.einsum("yswt,swt->ys", chances, careful) + idle, at_point)
            for chances in self.design.pair_chances
        ]
        best = int(np.argmax(gains))
        return SetupPair(*self.design.pairs[best]), gains[best]

    def check(self) -> SetupPair:
        """The pair whose answer tells most of whether the player takes care."""
        weights = self._thinned_weights
        of_part, careful = weights.sum(axis=(0, 1, 2)), weights * (1 - _PARTS)
        gains = [
            _information(np.tensordot(chances, careful, axes=3) + of_part * _PARTS * _FALLS, of_part)
            for chances in self.design.pair_chances
        ]
        return SetupPair(*self.design.pairs[int(np.argmax(gains))], is_check=True)


def _chances(better: Array) -> Array:
    """The chance of each answer, by band, of somebody to whom the first is so much better than the second."""
    bands = np.array(BANDS)
    a, b = ndtr(better[..., None] - bands), ndtr(-better[..., None] - bands)
    return np.stack([a, b, 1 - a - b])


def _information(together: Array, of_value: Array) -> float:
    """What an answer tells of something, in bits: how much surer the answer is once that is known.

    ``together`` is the chance of each answer with each value of it, ``of_value`` that of each value.
    """
    parts = together / np.maximum(of_value, 1e-300)
    return float(_entropy(together.sum(axis=1)) - of_value @ _entropy(parts))


def _entropy(chances: Array) -> Array:
    """Bits, over the first axis."""
    safe = np.where(chances > 0, chances, 1.0)
    return np.asarray(-(chances * np.log2(safe)).sum(axis=0))


def _fit_of(worth: Array, rated: Array) -> Array:
    """Log likelihood of ratings by s* and widths, with mean, slope and scatter integrated out.

    A linear regression of the ratings on u with a wide conjugate prior: slopes about 1 a unit of u.
    """
    count = len(rated)
    x = worth - worth.mean(axis=0)
    y = rated - rated.mean()
    xx, xy = (x**2).sum(axis=0) + 0.1, np.einsum("rsw,r->sw", x, y)
    left = (y @ y) - np.where(xy > 0, xy**2 / xx, 0.0)  # what suits worse is not rated higher
    return np.asarray(-0.5 * np.log(xx) - (count / 2) * np.log(1.0 + left))


def _interval(values: Array, weights: Array) -> Interval:
    """Mean, standard deviation and middle nine tenths of weighted values in order."""
    weights = weights / weights.sum()
    mean = float(values @ weights)
    u = math.sqrt(max(float(weights @ (values - mean) ** 2), 0.0))
    reached = np.cumsum(weights) - weights / 2
    low, high = np.interp([(1 - INTERVAL) / 2, (1 + INTERVAL) / 2], reached, values)
    return Interval(mean, u, float(low), float(high))


def posterior(design: Design, answers: Sequence[Answer], ratings: Sequence[Rating] = ()) -> Posterior:
    """What answers and ratings tell."""
    found = Posterior(design)
    for answer in answers:
        found.take(answer)
    found.take_ratings(ratings)
    return found


class Consistency(NamedTuple):
    """How often a pair that was tried again got the same answer, and how likely guessing does as well."""

    agree: int
    of: int
    chance: float


def consistency(answers: Sequence[Answer]) -> Consistency:
    """Over pairs that were tried more than once, and setups tried against themselves."""
    agree = of = 0
    before: dict[tuple[int, int], Preference] = {}
    for first, second, said in answers:
        if first == second:
            of += 1
            agree += said is Preference.SAME
            continue
        key, answer = _ordered(first, second, said)
        if key in before:
            of += 1
            agree += before[key] is answer
        before[key] = answer
    guess = 1 / len(SAYINGS)
    chance = sum(math.comb(of, k) * guess**k * (1 - guess) ** (of - k) for k in range(agree, of + 1))
    return Consistency(agree, of, chance)


def _ordered(first: int, second: int, said: Preference) -> tuple[tuple[int, int], Preference]:
    """A pair with the lower number first, and what was said of it then."""
    if first < second:
        return (first, second), said
    turned = {
        Preference.FIRST: Preference.SECOND,
        Preference.SECOND: Preference.FIRST,
        Preference.SAME: Preference.SAME,
    }
    return (second, first), turned[said]
