"""An aim typed at a spec, met by one piece: it grows, or moves along its line, until the spec is there.

What a hand can do comes in steps, a millimetre of a strip or of a way, a tenth of a gram of the rest. The
steps are looked through coarsely for the first stretch, from where the piece is now, over which the spec
crosses the aim, and that stretch is halved. So the nearest way is taken where a spec turns round on the way,
as twist weight does past 3:00. An aim beyond what the piece can do is refused with what it can.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from enum import StrEnum
from functools import cache
from itertools import pairwise
from typing import Final, NamedTuple

from kentrobar.core.editing.plan import PlanState
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.places import Toward
from kentrobar.core.quantities.errors import KentrobarError, PieceError, SpecError
from kentrobar.core.quantities.estimates import Quantity
from kentrobar.core.weight.pieces import Piece, effect_of
from kentrobar.core.weight.pieces.piece import LIGHTEST_G, MASS_STEP_G
from kentrobar.core.weight.pieces.strip import LENGTH_STEP_CM, SHORTEST_STRIP_CM

HEAVIEST_G: Final = 60.0  # that one body grows to: more is no adjustment but another frame
WAY_STEP_CM: Final = 0.1
LOOKED_AT: Final = 60  # steps on the way that are looked at before the crossing is halved


class By(StrEnum):
    """What of the piece changes."""

    AMOUNT = "amount"
    PLACE = "place"


class Want(NamedTuple):
    """What a spec is to come to, by its key: its value with the plan, or by how much the plan changes it."""

    spec: str
    value: float
    is_change: bool


class OutOfReachError(PieceError):
    """No step of the piece meets the aim; ``least`` and ``most`` are what the spec can be brought to."""

    def __init__(self, least: float, most: float, want: Want, by: By) -> None:
        self.least, self.most, self.want, self.by = least, most, want, by
        super().__init__(self.sentence(lambda value: f"{value:.1f}"), code="out_of_reach", field="aim")

    def sentence(self, written: Callable[[float], str]) -> str:
        """For a person; ``written`` writes a value of the spec, or a change of it, as they read it."""
        what = "growing" if self.by is By.AMOUNT else "moving"
        least, most = written(self.least), written(self.most)
        if least == most:
            return f"By {what}, this piece leaves it at {least}. Choose another piece, or add one."
        return f"By {what}, this piece brings it to {least} to {most}. Choose another piece, or add one."


def meet(plan: PlanState, number: int, want: Want, by: By) -> Piece:
    """The piece of this number as it has to be for the plan to come to ``want``, to the nearest step.

    Raises:
        OutOfReachError: it can not.
        SpecError: the spec was never read, so that only its change is known.
    """
    piece = plan.find(number).piece
    ways = _grown(piece, plan.outline) if by is By.AMOUNT else _moved(piece, plan.outline)

    @cache
    def missed(step: int) -> float | None:
        """How far the spec lies above the aim; None where the piece cannot be so."""
        try:
            return _reached(plan.changed(number, ways.at(step)), want) - want.value
        except SpecError:
            raise
        except KentrobarError:
            return None

    _ = _reached(plan, want)  # says what was never read
    near = _crossing(ways, missed)
    if near is None:
        values = [m + want.value for s in ways.looked_at() if (m := missed(s)) is not None]
        raise OutOfReachError(min(values), max(values), want, by)
    return ways.at(near)


def _reached(plan: PlanState, want: Want) -> float:
    prediction = plan.prediction
    specs = prediction.change if want.is_change else prediction.after
    found: Quantity = getattr(specs, want.spec)
    if not found:
        raise SpecError(
            f"Measure {found.missing} first, or enter a change with its sign, such as +5.",
            code="not_measured",
            field="aim",
        )
    return found.value


class _Ways(NamedTuple):
    """What a piece can be, by whole steps from ``low`` to ``high``; it is at step 0 now."""

    at: Callable[[int], Piece]
    low: int
    high: int

    def looked_at(self) -> Iterator[int]:
        """Steps over the whole way, both ends and where it is now among them."""
        stride = max((self.high - self.low) // LOOKED_AT, 1)
        yield from range(self.low, 0, stride)
        yield 0
        yield from range(min(stride, self.high), self.high, stride)
        if self.high > 0:
            yield self.high


def _crossing(ways: _Ways, missed: Callable[[int], float | None]) -> int | None:
    """The step nearest to the aim, in the stretch nearest to now; None where none crosses it."""
    stretches = sorted(pairwise(ways.looked_at()), key=lambda ends: min(abs(ends[0]), abs(ends[1])))
    for low, high in stretches:
        first, last = missed(low), missed(high)
        if first is None or last is None or first * last > 0:
            continue
        while high - low > 1:
            middle = (low + high) // 2
            value = missed(middle)
            if value is None:
                return None
            if first * value <= 0:
                high = middle
            else:
                low, first = middle, value
        return min((low, high), key=lambda step: abs(missed(step) or 0.0))
    return None


def _grown(piece: Piece, outline: Outline) -> _Ways:
    """Longer and shorter, or heavier and lighter; a pair no longer than where its strips meet."""
    if not piece.is_by_length:
        low = round((piece.one_mass_g - LIGHTEST_G) / MASS_STEP_G)
        high = round((HEAVIEST_G - piece.one_mass_g) / MASS_STEP_G)
    else:
        low = round((piece.extent_cm - SHORTEST_STRIP_CM) / LENGTH_STEP_CM)
        high = _longer(piece, outline)

    return _Ways(lambda steps: piece.grown(outline, steps), -max(low, 0), max(high, 0))


def _longer(piece: Piece, outline: Outline) -> int:
    """By how many steps a strip can grow until it meets itself or its image."""
    low, high = 0, int(piece.longest_cm(outline) / LENGTH_STEP_CM)
    while low < high:
        middle = (low + high + 1) // 2
        grown = piece.grown(outline, middle)
        grew = grown.extent_cm >= piece.extent_cm + (middle - 0.5) * LENGTH_STEP_CM
        if grew and not effect_of(grown, outline).overlaps:
            low = middle
        else:
            high = middle - 1
    return low


def _moved(piece: Piece, outline: Outline) -> _Ways:
    """Along its line: a strip along its half of the rim, the rest toward butt or tip."""
    strip = piece.as_strip
    if strip is None:
        farthest = round(outline.length_cm / WAY_STEP_CM)

        def nudged(steps: int) -> Piece:
            toward = Toward.TIP if steps > 0 else Toward.BUTT
            return piece.nudged(outline, toward, abs(steps) * WAY_STEP_CM)

        return _Ways(nudged, -farthest, farthest)
    line = outline.rim(strip.face)
    start, end = strip.stretch(line)
    centre, half = (start + end) / 2, (end - start) / 2
    side = -1.0 if centre < 0 else 1.0
    nearest = half if strip.mirrored else 0.0
    low = round((nearest - abs(centre)) / WAY_STEP_CM)
    high = round((line.half_length - nearest - abs(centre)) / WAY_STEP_CM)

    def slid(steps: int) -> Piece:
        middle = side * (abs(centre) + steps * WAY_STEP_CM)
        return strip.part(outline, middle - half, middle + half) if steps else piece

    return _Ways(slid, min(low, 0), max(high, 0))
