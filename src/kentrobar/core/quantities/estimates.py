"""A value with its standard uncertainty, "not measured" as a value of its own, and covariance."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from operator import add
from typing import Final, Literal, NamedTuple, TypeVar

_T = TypeVar("_T")


class Estimate(NamedTuple):  # a tuple: one prediction makes dozens of them, and pieces hash them
    """A number with its standard uncertainty ``u`` (one standard deviation), in the same unit.

    It is true, whatever its value: ``if quantity:`` asks whether a quantity is known.
    """

    value: float
    u: float = 0.0

    def map(self, change: Callable[[float], float], slope: float = 1.0) -> Estimate:
        """A function of it: its value changed, its ± times the function's slope there."""
        return Estimate(change(self.value), abs(slope) * self.u)

    def or_else(self, other: object) -> float:
        """Its value, in its unit: it is known."""
        return self.value

    def text(self, written: Callable[[Estimate], str], otherwise: str = "–") -> str:
        """As ``written`` writes it: it is known."""
        return written(self)


def weighted_mean(estimates: Sequence[Estimate]) -> Estimate:
    """The mean, in their unit, of what was told apart of one number, by inverse variances (C. F. Gauss, 1809).

    At least one, each with a ± above 0.
    """
    weights = [each.u**-2 for each in estimates]
    whole = math.fsum(weights)
    mean = math.fsum(w * each.value for w, each in zip(weights, estimates, strict=True)) / whole
    return Estimate(mean, whole**-0.5)


@dataclass(frozen=True, slots=True)
class NotMeasured:
    """Stands where a number is unknown, so that it cannot slip into arithmetic.

    ``missing`` names the measurement that would make it known.
    """

    missing: str = ""

    def __bool__(self) -> Literal[False]:
        return False

    def map(self, change: Callable[[float], float], slope: float = 1.0) -> NotMeasured:
        """A function of what is not known is not known either."""
        return self

    def or_else(self, other: _T) -> _T:
        """The other value, since this one is not known."""
        return other

    def text(self, written: Callable[[Estimate], str], otherwise: str = "–") -> str:
        """What stands where nothing is known."""
        return otherwise


NOT_MEASURED: Final = NotMeasured()

Quantity = Estimate | NotMeasured
Amount = float | NotMeasured  # a number without ±, where nobody said


# -- covariance of the five moments of a body -------------------------------------------

Vector = tuple[float, float, float, float, float]  # one standard deviation, as (M, S, A, T, X)

# A symmetric 5 x 5 matrix by (M, S, A, T, X): its upper triangle, row by row. At this size plain
# numbers are several times faster than arrays.
Covariance = tuple[float, ...]
PAIRS: Final = tuple((i, j) for i in range(5) for j in range(i, 5))
NO_COVARIANCE: Final[Covariance] = (0.0,) * len(PAIRS)


def covariance_of(deviations: Sequence[Vector]) -> Covariance:
    """Covariance of independent deviations: the sum of their outer products."""
    if not deviations:
        return NO_COVARIANCE
    covariance, *others = map(_outer, deviations)
    for other in others:  # one to three are what a piece has: adding them in turn is quickest
        covariance = tuple(map(add, covariance, other))
    return covariance


def covariance_of_pair(v: Vector, w: Vector) -> Covariance:
    """What two deviations that are wholly correlated have more than two independent ones: v·wᵀ + w·vᵀ."""
    return tuple(v[i] * w[j] + w[i] * v[j] for i, j in PAIRS)


def _outer(v: Vector) -> Covariance:
    a, b, c, d, e = v
    return (
        a * a,
        a * b,
        a * c,
        a * d,
        a * e,
        b * b,
        b * c,
        b * d,
        b * e,
        c * c,
        c * d,
        c * e,
        d * d,
        d * e,
        e * e,
    )
