"""A value with its standard uncertainty, and "not measured" as a value of its own."""

from __future__ import annotations

from dataclasses import dataclass
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
