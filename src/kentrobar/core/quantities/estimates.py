"""A value with its standard uncertainty, "not measured" as a value of its own, and covariance."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from operator import mul
from typing import Final, NamedTuple


class Estimate(NamedTuple):  # a tuple: one prediction makes dozens of them, and pieces hash them
    """A number with its standard uncertainty ``u`` (one standard deviation), in the same unit."""

    value: float
    u: float = 0.0


@dataclass(frozen=True, slots=True)
class NotMeasured:
    """Stands where a number is unknown, so that it cannot slip into arithmetic.

    ``missing`` names the measurement that would make it known.
    """

    missing: str = ""

    def __bool__(self) -> bool:
        return False


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
    # One to three are what a piece has, and these lines are what dragging one costs.
    if len(deviations) == 3:
        v, w, x = deviations
        return tuple([v[i] * v[j] + w[i] * w[j] + x[i] * x[j] for i, j in PAIRS])
    if len(deviations) == 2:
        v, w = deviations
        return tuple([v[i] * v[j] + w[i] * w[j] for i, j in PAIRS])
    if len(deviations) == 1:
        a, b, c, d, e = deviations[0]
        return (a*a, a*b, a*c, a*d, a*e, b*b, b*c, b*d, b*e, c*c, c*d, c*e, d*d, d*e, e*e)  # fmt: skip
    if not deviations:
        return NO_COVARIANCE
    columns = tuple(zip(*deviations, strict=True))
    return tuple([sum(map(mul, columns[i], columns[j])) for i, j in PAIRS])
