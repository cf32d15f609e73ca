"""A period from the total time of several swings, as a stopwatch gives it: "16 in 22.4 s", several times.

Each total begins and ends with a hand at a button, however many swings lie between. Of totals T_i over n_i
swings the period is Σ n·T / Σ n², the line through no time at no swing; its ± falls with the square root of
Σ n², so that one long total tells as much as many short ones.
"""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final, NamedTuple

from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.reading.series import scatter_of
from kentrobar.core.reading.timing import (
    LONGEST_PERIOD_S,
    SHORTEST_PERIOD_S,
    TAP_SCATTER_S,
    NoSwingError,
    Timing,
)

MOST_TOTALS: Final = 40
MOST_SWINGS: Final = 400
APART_SIGMAS: Final = 4.0  # by which one total stands out from the others
_TOTAL = re.compile(
    r"^(?P<count>\d{1,3})\s*(?:swings?|×|x)?\s*(?:in|:|=|/)\s*"
    r"(?:(?P<minutes>\d{1,2}):)?(?P<seconds>\d{1,4}(?:[.,]\d{1,3})?)\s*(?:s|sec|seconds?)?$",
    re.IGNORECASE,
)


class Total(NamedTuple):
    """So many swings in so many seconds; ``step_s`` is the last digit of the stopwatch."""

    swings: int
    seconds: float
    step_s: float


@dataclass(frozen=True)
class TotalTiming(Timing):
    """A period from totals: more swings are one more total."""

    square: float = 0.0  # Σ n²

    def u_after(self, more_swings: int) -> float:
        return self.scatter_s / math.sqrt(self.square + more_swings**2)


def read_totals(text: str) -> list[Total]:
    """Totals such as "16 in 22.4 s", one a line or apart by semicolons.

    Raises:
        NoSwingError: a line that is no total; it quotes the line.
    """
    lines = [line.strip() for line in re.split(r"[;\n]| and ", text) if line.strip()]
    return [_total(line) for line in lines[:MOST_TOTALS]]


def _total(line: str) -> Total:
    found = _TOTAL.match(line)
    if found is None or not 1 <= int(found["count"]) <= MOST_SWINGS:
        raise NoSwingError(
            f"“{line[:30]}” is no total; write how many swings in how many seconds: 16 in 22.4 s.",
            code="no_total",
            field="totals",
        )
    seconds = found["seconds"].replace(",", ".")
    _, _, digits = seconds.partition(".")
    whole = 60 * int(found["minutes"] or 0) + float(seconds)
    return Total(int(found["count"]), whole, 10.0 ** -len(digits))


def period_of_totals(totals: Sequence[Total], scatter_s: float = TAP_SCATTER_S) -> TotalTiming:
    """The period with ± from totals; ``scatter_s`` is what a hand scatters by at one press.

    Raises:
        NoSwingError: no total, none that is of a swing, or totals that contradict each other.
    """
    if not totals:
        raise NoSwingError("Type a total such as 16 in 22.4 s.", code="no_total", field="totals")
    for each in totals:
        if not SHORTEST_PERIOD_S <= each.seconds / each.swings <= LONGEST_PERIOD_S:
            raise NoSwingError(
                f"{each.swings} swings in {each.seconds:g} s is {each.seconds / each.swings:.3g} s a "
                f"swing; a frame takes {SHORTEST_PERIOD_S:g} to {LONGEST_PERIOD_S:g} s. Check the count.",
                code="no_beat",
                field="totals",
            )
    square = float(sum(each.swings**2 for each in totals))
    period = sum(each.swings * each.seconds for each in totals) / square
    # Started and stopped by hand, and read to a digit.
    usual = math.sqrt(2 * scatter_s**2 + max(each.step_s for each in totals) ** 2 / 12)
    residuals = [each.seconds - period * each.swings for each in totals]
    _require_one_count(totals, residuals, period, usual)
    scatter = scatter_of(sum(r * r for r in residuals), len(totals) - 1, usual)
    return TotalTiming(
        period_s=Estimate(period, scatter / math.sqrt(square)),
        swings=float(sum(each.swings for each in totals)),
        used=tuple(range(len(totals))),
        left_out=(),
        scatter_s=scatter,
        passes_per_swing=1,
        square=square,
        # Two presses make a total: half of what it scatters is of each.
        own_square_s2=sum(r * r for r in residuals) / 2,
        freedom=len(totals) - 1,
    )


def _require_one_count(
    totals: Sequence[Total], residuals: Sequence[float], period: float, usual: float
) -> None:
    """Refuse totals of which one counts a swing too few or too many: the others say which."""
    if len(totals) < 2:
        return
    periods = sorted(each.seconds / each.swings for each in totals)
    middle = periods[len(periods) // 2]
    for each in totals:
        off = each.seconds / middle - each.swings
        if abs(off) > 0.5 and abs(off * middle) > APART_SIGMAS * usual:
            raise NoSwingError(
                f"{each.swings} swings in {each.seconds:g} s does not fit the others: at their rate "
                f"that is {each.swings + off:.1f} swings. Count again, or exclude it.",
                code="miscounted",
                field="totals",
            )
