"""The period of a swing from the moments at which it passed: taps, a light gate, video frames.

Pass number i comes at ``start + i·P/q + offset[i mod q]``, where q passes make one full swing and the
offsets allow for a mark that is not in the middle. A line through all passes uses every one of them:
with scatter σ of a tap the period's ± falls as N^(-3/2), far better than first to last.

Missed passes leave a gap of whole steps and are counted over; a double tap falls between the steps
and is left out, as is a pass too far from where the others put it.
"""

from __future__ import annotations

import math
import statistics
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.reading.series import scatter_of

TAP_SCATTER_S: Final = 0.03  # of a hand's tap at a pass
LEAST_PASSES: Final = 4
LONGEST_GAP: Final = 6  # steps; beyond this the count of missed passes is a guess
MISTAP_SIGMAS: Final = 4.0
SHORTEST_PERIOD_S: Final = 0.2
LONGEST_PERIOD_S: Final = 20.0
_DOUBLE = 0.55  # two passes closer than this part of a step cannot both be passes


class NoSwingError(KentrobarError):
    """No swing was found; the message says why and what to do."""


@dataclass(frozen=True)
class Timing:
    """The period found; ``left_out`` are indices of mis-taps, ``scatter_s`` that of one pass."""

    period_s: Estimate
    swings: float
    used: tuple[int, ...]
    left_out: tuple[int, ...]
    scatter_s: float
    passes_per_swing: int
    own_square_s2: float = 0.0  # sum of the squared residuals of its own passes
    freedom: int = 0

    def u_after(self, more_swings: int) -> float:
        """What ``more_swings`` swings more would bring the period's ± to, s."""
        whole = self.swings + more_swings
        n = max(whole * self.passes_per_swing + 1, 2.0)
        step_u = self.scatter_s / math.sqrt(n * (n * n - 1) / 12)
        return step_u * self.passes_per_swing


def period_of(
    times_s: Sequence[float], passes_per_swing: int = 1, scatter_s: float = TAP_SCATTER_S
) -> Timing:
    """The period with ± from the times of passes.

    Args:
        times_s: moments of the passes in the order they came, s.
        passes_per_swing: 1 where each pass goes the same way, 2 where both ways are counted, 4
            where a gate tells both edges of both passes.
        scatter_s: what one pass usually scatters by; few passes tell their own scatter badly.

    Raises:
        NoSwingError: too few passes, or passes that keep no beat.
    """
    times = np.asarray(times_s, dtype=float)
    if len(times) < LEAST_PASSES * max(1, passes_per_swing // 2):
        raise NoSwingError(
            f"{len(times)} passes are too few; go on until there are {LEAST_PASSES} at least.",
            code="too_few_passes",
            field="times",
        )
    if not np.all(np.isfinite(times)) or np.any(np.diff(times) < 0):
        raise NoSwingError(
            "The times do not run forward; check that the column holds times, oldest first.",
            code="times_run_back",
            field="times",
        )
    numbered = _numbered(times, passes_per_swing)
    return _fitted(times, numbered, passes_per_swing, scatter_s)


def _numbered(times: NDArray[np.float64], q: int) -> dict[int, int]:
    """Index in ``times`` → number of the pass; double taps are left out."""
    # With several passes a swing single gaps may alternate; sums over a swing do not.
    step = float(np.median(times[q:] - times[:-q])) / q
    if not SHORTEST_PERIOD_S <= step * q <= LONGEST_PERIOD_S:
        raise NoSwingError(
            f"The passes come every {step:.3g} s, which is no swing of a frame: a period lies "
            f"between {SHORTEST_PERIOD_S:g} and {LONGEST_PERIOD_S:g} s. Check the unit of the times.",
            code="no_beat",
            field="times",
        )
    if q == 4:  # edges come in close pairs: number them as they are, one missed edge spoils it
        return {i: i for i in range(len(times))}
    numbers = {0: 0}
    last, number = 0, 0
    for i in range(1, len(times)):
        steps = (times[i] - times[last]) / step
        if steps < _DOUBLE:
            continue
        if steps > LONGEST_GAP:
            raise NoSwingError(
                f"There is a gap of {times[i] - times[last]:.1f} s, about {steps:.0f} passes; start "
                "again and tap every pass.",
                code="long_gap",
                field="times",
            )
        number += max(1, round(steps))
        numbers[i] = number
        last = i
    return numbers


def _fitted(times: NDArray[np.float64], numbers: dict[int, int], q: int, usual_s: float) -> Timing:
    kept = sorted(numbers)
    least = q + 3
    while True:
        if len(kept) < least:
            raise _no_beat()
        count = np.array([numbers[i] for i in kept], dtype=float)
        design = np.zeros((len(kept), q + 1))
        design[:, 0] = count / q
        design[np.arange(len(kept)), 1 + (count.astype(int) % q)] = 1.0
        solution, _, rank, _ = np.linalg.lstsq(design, times[kept], rcond=None)
        if rank < design.shape[1]:
            raise NoSwingError(
                "Passes of one direction only were found; count one pass a swing instead.",
                code="one_direction",
                field="times",
            )
        residuals = times[kept] - design @ solution
        freedom = max(len(kept) - q - 1, 1)
        worst = int(np.argmax(np.abs(residuals)))
        others = np.delete(residuals, worst)
        usual = max(1.4826 * statistics.median(np.abs(others)), 0.6 * usual_s)
        if abs(residuals[worst]) <= MISTAP_SIGMAS * usual:
            break
        if len(times) - len(kept) >= len(times) / 3:
            raise _no_beat()
        del kept[worst]
    seen = float(residuals @ residuals)
    scatter = scatter_of(seen, freedom, usual_s)
    if seen / freedom > (0.12 * float(solution[0]) / q) ** 2:
        raise _no_beat()
    covariance = np.linalg.inv(design.T @ design) * scatter**2
    used = tuple(kept)
    return Timing(
        Estimate(float(solution[0]), math.sqrt(float(covariance[0, 0]))),
        float(count[-1] - count[0]) / q,
        used,
        tuple(i for i in range(len(times)) if i not in numbers or i not in used),
        scatter,
        q,
        seen,
        freedom,
    )


def _no_beat() -> NoSwingError:
    return NoSwingError(
        "The passes keep no steady beat; tap only when the frame passes the same mark.",
        code="no_beat",
        field="times",
    )


LEARNT_FREEDOM: Final = 8  # of passes beyond what a beat takes, before a person's own scatter is told


def learnt_scatter_s(squares_and_freedom: Sequence[tuple[float, int]]) -> Estimate | None:
    """What one person's passes scatter by, s, with ±, from timings of theirs; None from too few."""
    freedom = sum(each for _, each in squares_and_freedom)
    if freedom < LEARNT_FREEDOM:
        return None
    scatter = math.sqrt(sum(square for square, _ in squares_and_freedom) / freedom)
    return Estimate(scatter, scatter / math.sqrt(2 * freedom))


def swings_worth_it(timing: Timing, rest_u: float, per_second: float, most: int = 40) -> int:
    """How many swings more are worth their time, 0 where none are.

    ``rest_u`` is the ± of the inertia from all but the period, ``per_second`` how much inertia a
    second of period makes. Worth it is what still brings the whole ± down by a tenth or more.
    """

    def whole(more: int) -> float:
        return math.hypot(rest_u, per_second * timing.u_after(more))

    now = math.hypot(rest_u, per_second * timing.period_s.u)
    best = whole(most)
    if best > 0.9 * now:
        return 0
    return next(n for n in range(1, most + 1) if whole(n) <= 1.1 * best or n == most)
