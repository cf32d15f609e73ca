"""Readings before and after weight was laid: what was added, and whether they can all be right.

Three differences name the added piece: Δm = ΔM, its place ȳ = ΔS/Δm, its spread ΔA/Δm - ȳ². Whatever was
laid is a sum of bodies on the frame, each with (1, y, y²) times its mass, so the differences lie in the
cone of such sums; how far they lie outside of it, in their own ±, is a non-negative least-squares problem.
Where they lie too far, one reading has slipped: each is taken as wrong in turn, by a slip of its own
instrument, and the likeliest is named.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import BALANCE, STATIC_WEIGHT, SWING_WEIGHT, ReadSpec
from kentrobar.core.quantities.estimates import PAIRS, Estimate
from kentrobar.core.reading.slips import edited_digits

LEAST_ADDED_SIGMAS: Final = 3.0  # below this nothing was surely added or taken away
ODD_SQUARE: Final = 10.6  # right readings lie so far outside less than once in two hundred times
_BODY_STEP_CM: Final = 2.0  # between the places that a body is tried at
# What a slip costs that no digit explains: a scale hardly errs by itself, a frame on a board or in a cradle
# is soon laid askew.
_ANY_SLIP: Final = {STATIC_WEIGHT: 6.0, BALANCE: 4.5, SWING_WEIGHT: 4.5}
_NEXT_DIGIT: Final = 2.0  # what it costs to read one place for the next: 304 for 314, 299 for 309
AS_LIKELY: Final = 0.3  # another reading that is so likely beside the likeliest is named too
_USUALLY_ADDED_G: Final = 6.0  # less is likelier than more
_AGREE_IN_NOTHING: Final = 2.5
_MOST_CHANGED: Final = (60.0, 5.0, 90.0)  # g, cm, kg·cm², by all that is ever laid at once
_READ: Final = (STATIC_WEIGHT, BALANCE, SWING_WEIGHT)
_LEAST_U: Final = (0.05, 0.02, 0.3)  # g, cm, kg·cm²: claimed surer, they are held to this

_Vector = NDArray[np.float64]


class Added(NamedTuple):
    """The body that the differences tell of: mass (negative when taken away) and its place."""

    mass_g: Estimate
    place_cm: Estimate


@dataclass(frozen=True)
class CrossCheck:
    """What was added, where that can be told, and a sentence where the readings contradict.

    ``culprit`` names the reading that is likely wrong: mass, balance or swingweight.
    """

    added: Added | None = None
    culprit: str = ""
    message: str = ""


class _Slip(NamedTuple):
    """One reading taken as wrong: how likely that is, which it is, and what it would have been."""

    likelihood: float
    spec: ReadSpec
    is_after: bool
    typed: float
    meant: float | None = None  # None where no slip of the digits explains it


def cross_check(before: MeasuredSpecs, after: MeasuredSpecs, length_cm: float) -> CrossCheck:
    """Check readings before and after weight was only added, or only taken away."""
    if not (before.knows_recoil and after.knows_recoil):
        return CrossCheck()
    pair = _Pair(before, after, length_cm)
    added = pair.added()
    if pair.outside() <= ODD_SQUARE:
        return CrossCheck(added)
    slips = list(pair.slips())
    shares = {spec: sum(s.likelihood for s in slips if s.spec is spec) for spec in _READ}
    culprit, *others = sorted(_READ, key=lambda spec: -shares[spec])
    likeliest = max((s for s in slips if s.spec is culprit), key=lambda s: s.likelihood)
    also = [spec.noun for spec in others if shares[spec] > AS_LIKELY * shares[culprit]]
    return CrossCheck(added, culprit.field, _sentence(before, after, likeliest, also))


@dataclass(frozen=True)
class _Pair:
    """Two sets of readings of one frame, each of weight, balance and swing weight."""

    before: MeasuredSpecs
    after: MeasuredSpecs
    length_cm: float

    @cached_property
    def difference(self) -> _Vector:
        """Δ of (M, S, A)."""
        one, other = self.before.moments(), self.after.moments()
        return np.array([b - a for a, b in zip(one[:3], other[:3], strict=True)])

    @cached_property
    def covariance(self) -> _Vector:
        """Covariance of the difference, never surer than an instrument is."""
        whole = np.zeros((3, 3))
        for each in (self.before, self.after):
            for (i, j), c in zip(PAIRS, _held(each).covariance(), strict=True):
                if j < 3:
                    whole[i, j] += c
                    whole[j, i] += c if i != j else 0.0
        return whole

    def added(self) -> Added | None:
        """The body that the difference tells of, where enough was laid to tell."""
        (dm, ds, _), c = self.difference, self.covariance
        u = math.sqrt(c[0, 0])
        if abs(dm) < LEAST_ADDED_SIGMAS * u:
            return None
        place = ds / dm
        variance = c[1, 1] - 2 * place * c[0, 1] + place**2 * c[0, 0]
        return Added(Estimate(dm, u), Estimate(place, math.sqrt(max(variance, 0.0)) / abs(dm)))

    def outside(self) -> float:
        """How far the difference lies from all that bodies on the frame make, squared, in its ±."""
        from scipy.optimize import nnls  # loaded late: no start of the application needs it

        y = np.linspace(0.0, self.length_cm, math.ceil(self.length_cm / _BODY_STEP_CM) + 1)
        whiten = np.linalg.inv(np.linalg.cholesky(self.covariance))
        bodies = whiten @ np.array([np.ones_like(y), y, y * y])
        seen = whiten @ self.difference
        return min(float(nnls(bodies, sign * seen)[1]) ** 2 for sign in (1.0, -1.0))

    def slips(self) -> Iterator[_Slip]:
        """Each reading taken as wrong, by a slip of its digits or by anything at all."""
        for is_after in (True, False):
            side = self.after if is_after else self.before
            for spec, least_u, most in zip(_READ, _LEAST_U, _MOST_CHANGED, strict=True):
                read = side.of(spec)
                assert read  # noqa: S101 - asked by cross_check
                text = f"{read.value:.{1 if spec is STATIC_WEIGHT else 2}f}"
                other = (self.before if is_after else self.after).of(spec)
                assert other  # noqa: S101 - asked by cross_check
                for cost, edited in _meant(text):
                    if abs(float(edited) - other.value) > most:
                        continue  # no weight that is laid makes so much
                    fixed = self._with(spec, float(edited), is_after)
                    found = fixed.likelihood(cost)
                    yield _Slip(found, spec, is_after, read.value, float(edited))
                off = max(read.u, least_u)
                for wide in (5.0, 20.0, 80.0):  # times its ±: such a reading counts for little
                    loose = self._with(spec, read.value, is_after, wide * off)
                    yield _Slip(loose.likelihood(_ANY_SLIP[spec]), spec, is_after, read.value)

    def likelihood(self, cost: float) -> float:
        """Of readings with a slip of this cost turned back: do they tell of a body, and of a usual one?"""
        cost += abs(float(self.difference[0])) / _USUALLY_ADDED_G
        if self.is_same():  # that all three agree in "nothing" is no accident
            cost -= _AGREE_IN_NOTHING
        return math.exp(-cost - self.outside() / 2)

    def is_same(self) -> bool:
        """Whether both sides tell of one and the same frame."""
        d = self.difference
        return float(d @ np.linalg.solve(self.covariance, d)) <= ODD_SQUARE

    def _with(self, spec: ReadSpec, value: float, is_after: bool, u: float | None = None) -> _Pair:
        side = self.after if is_after else self.before
        read = side.of(spec)
        assert read  # noqa: S101 - asked by cross_check
        changed = side.with_reading(spec, Estimate(value, read.u if u is None else u))
        return replace(self, after=changed) if is_after else replace(self, before=changed)


def _meant(text: str) -> Iterator[tuple[float, str]]:
    """What was likely meant by a number as it is shown, to the same decimals."""
    decimals = len(text.partition(".")[2])
    for cost, edited in edited_digits(text, known=True):
        if len(edited.partition(".")[2]) == decimals:
            yield cost, edited
    whole = len(text) - decimals - 1
    for place in range(whole - 1, -decimals, -1):
        for step in (-(10.0**place), 10.0**place):
            yield _NEXT_DIGIT, f"{float(text) + step:.{decimals}f}"


def _held(measured: MeasuredSpecs) -> MeasuredSpecs:
    """The same, no reading surer than its instrument can be."""
    for spec, least_u in zip(_READ, _LEAST_U, strict=True):
        read = measured.of(spec)
        if read and read.u < least_u:
            measured = measured.with_reading(spec, Estimate(read.value, least_u))
    return measured


def _sentence(before: MeasuredSpecs, after: MeasuredSpecs, slip: _Slip, also: Sequence[str]) -> str:
    changes = []
    for spec in _READ:
        one, other = before.of(spec), after.of(spec)
        assert one  # noqa: S101 - asked by cross_check
        assert other  # noqa: S101 - likewise
        changes.append(f"{other.value - one.value:+.{spec.decimals}f} {spec.unit}")
    when = "after" if slip.is_after else "before"
    doubt = f", then the {' or the '.join(also)}" if also else ""
    likely = f"The {slip.spec.noun} {when} is the likeliest slip{doubt}"
    fix = (
        ". Measure it once more."
        if slip.meant is None
        else f": {slip.meant:g} instead of {slip.typed:g} {slip.spec.unit} would fit. Measure it once more."
    )
    return (
        f"Static weight {changes[0]}, balance {changes[1]} and swing weight {changes[2]} together "
        f"fit no weight added or removed. {likely}{fix}"
    )
