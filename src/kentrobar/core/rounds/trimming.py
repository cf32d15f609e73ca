"""What to do next with the applied pieces: a small trim that makes the frame surely what it is to be.

Near what is applied now every spec is linear in what is cut off or put on, so the least work within bands
(grams changed, and a little for each piece touched) is a small integer programme over the steps that a hand
can cut. A strip grows only where nothing is in its way, at the end that has the room. The bands are drawn in
by a multiple of each ± until the chance that is asked for is reached (guard bands, as in
``solving.most_reliable``); what comes of a trim is told by the belief itself, so nothing rests on the linear
step. Where no trim helps, the rest is noise, and a reading may.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from enum import StrEnum
from typing import TYPE_CHECKING, Final, NamedTuple

import numpy as np

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.moments import Moments
from kentrobar.core.body.specs import BALANCE, READ, RECOIL_WEIGHT, STATIC_WEIGHT, SWING_WEIGHT
from kentrobar.core.body.target import Bands
from kentrobar.core.frame.circumstances import ANYWHERE, Circumstances
from kentrobar.core.frame.outline import Outline
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.rounds.estimation import NO_BIASES, Array, Biases, StateEstimate
from kentrobar.core.rounds.growing import GrowthRoom, longer, rooms_to_grow
from kentrobar.core.solving.chance import chance_within
from kentrobar.core.solving.matching import linear, spec_of
from kentrobar.core.solving.most_reliable import drawn_in, most_reliable
from kentrobar.core.weight.pieces import Piece, effect_of
from kentrobar.core.weight.pieces.strip import LENGTH_STEP_CM, SHORTEST_STRIP_CM
from kentrobar.core.weight.prediction import Prediction

if TYPE_CHECKING:
    from scipy.optimize import OptimizeResult

MASS_STEP_G: Final = 0.1
MOST_MORE_G: Final = 6.0
TOUCHED_G: Final = 0.4  # what it is worth not to touch one more piece
WORTH_A_CUT: Final = 0.1  # a chance that rises by less, and not to what is wanted, is not worth a cut
NOTICEABLE: Final = 0.02  # a chance that rises by less is not worth a reading
FAR_BETTER: Final = 2.0  # times: so much surer in the middle of its bands, a frame is out of reach there
_MISSED_G: Final = 100.0  # for one tolerance that is missed, where not all can be met

# What is read for a spec that is worked out from others, in the order of reading.
_FOLLOWS_FROM: Final[Mapping[str, tuple[str, ...]]] = {
    BALANCE.key: (STATIC_WEIGHT.key, BALANCE.key),
    RECOIL_WEIGHT.key: (STATIC_WEIGHT.key, BALANCE.key, SWING_WEIGHT.key),
}


class Trim(NamedTuple):
    """One piece as it is to be: cut to another length, made lighter or heavier; None: taken off."""

    key: str
    piece: Piece | None


class Advice(StrEnum):
    """Next up."""

    DONE = "done"  # surely within
    TRIM = "trim"
    READ = "read"  # one more reading tells more than any trim
    MEASURE = "measure"  # a spec of the target is not known: nothing can be said before it is read
    OUT_OF_REACH = "out_of_reach"  # nothing that lies can be trimmed so
    NOISE = "noise"  # neither helps noticeably


class Next(NamedTuple):
    """Next up, with the chance now and after it, and the specs that are then expected."""

    advice: Advice
    chance_now: float
    trims: tuple[Trim, ...] = ()
    expect: Prediction | None = None
    chance: float = 0.0
    spec: str = ""  # whose reading tells most, or is missing


def after(belief: StateEstimate, trims: tuple[Trim, ...]) -> StateEstimate:
    """The belief once these pieces are trimmed."""
    for key, piece in trims:
        belief = belief.with_taken_off(key) if piece is None else belief.with_trimmed(key, piece)
    return belief


def next_step(
    belief: StateEstimate,
    bands: Bands,
    axis_cm: float,
    wanted_chance: float,
    noise: Mapping[str, float],
    biases: Biases = NO_BIASES,
    circumstances: Circumstances = ANYWHERE,
) -> Next:
    """A small trim that reaches the chance wanted, or what helps where none does.

    Args:
        belief: the frame as it lies on the bench.
        bands: what each spec is to lie within, by its key.
        axis_cm: of the swing weight.
        wanted_chance: the chance to reach, 0 to 1.
        noise: the ± of one more reading of a spec, by its key; a spec left out cannot be read.
        biases: of the instruments it would be read with, by the spec's key: a part of that ±.
        circumstances: what a strip that grows has to stay clear of, beside the others.
    """
    now = belief.now(axis_cm)
    if missing := _missing(now, bands):
        return Next(Advice.MEASURE, 0.0, expect=now, spec=missing)
    chance_now = chance_within(now, bands)
    if chance_now >= wanted_chance:
        return Next(Advice.DONE, chance_now, expect=now, chance=chance_now)
    options = _Options(belief, bands, axis_cm, circumstances)

    def chance_of(trims: tuple[Trim, ...]) -> float:
        return chance_within(after(belief, trims).now(axis_cm), bands)

    trims = most_reliable(options.least, chance_of, wanted_chance) or options.nearest()
    best = chance_of(trims) if trims else chance_now
    if best >= wanted_chance or best >= chance_now + WORTH_A_CUT:
        expect = after(belief, trims).now(axis_cm)
        return Next(Advice.TRIM, chance_now, trims, expect, best)
    spec, with_it = _worth_reading(belief, bands, axis_cm, noise, biases)
    if _in_the_middle(now, bands) > FAR_BETTER * max(chance_now, with_it):
        return Next(Advice.OUT_OF_REACH, chance_now, expect=now, chance=chance_now)
    advice = Advice.READ if with_it >= chance_now + NOTICEABLE else Advice.NOISE
    return Next(advice, chance_now, expect=now, chance=max(with_it, chance_now), spec=spec)


def _missing(now: Prediction, bands: Bands) -> str:
    """The first spec to read before all that is wanted is known; empty where it is."""
    unknown = [name for name in bands if not getattr(now.after, name)]
    if not unknown:
        return ""
    needed = _FOLLOWS_FROM.get(unknown[0], (unknown[0],))
    return next((key for key in needed if not getattr(now.after, key)), unknown[0])


def _in_the_middle(now: Prediction, bands: Bands) -> float:
    """The chance there would be if all specs lay in the middle of their bands."""
    shifted = {}
    for name, (low, high) in bands.items():
        value = getattr(now.after, name).value
        shifted[name] = (value - (high - low) / 2, value + (high - low) / 2)
    return chance_within(now, shifted)


def _worth_reading(
    belief: StateEstimate, bands: Bands, axis_cm: float, noise: Mapping[str, float], biases: Biases
) -> tuple[str, float]:
    """The spec whose further reading, coming out as expected, would raise the chance most, and to what."""
    known = belief.measured(axis_cm)
    best = ("", 0.0)
    for spec in READ:
        value = known.of(spec)
        if spec.key not in noise or not value:
            continue
        read = MeasuredSpecs.read_apart({spec.key: Estimate(value.value, noise[spec.key])}, axis_cm)
        chance = chance_within(belief.with_read(read, biases).now(axis_cm), bands)
        if chance > best[1]:
            best = (spec.key, chance)
    return best


class _Options:
    """The pieces that can be trimmed, by whole steps down and up, and what a step of each does."""

    def __init__(
        self, belief: StateEstimate, bands: Bands, axis_cm: float, circumstances: Circumstances
    ) -> None:
        self.belief, self.bands, self.axis_cm = belief, bands, axis_cm
        self.now = belief.now(axis_cm)
        self.moments = belief.moments()
        self.pieces = [
            (key, applied.piece) for key, applied in belief.on.items() if not applied.piece.removed
        ]
        self.room = rooms_to_grow([piece for _, piece in self.pieces], belief.outline, circumstances)
        steps = [_down_and_up(piece, room) for (_, piece), room in zip(self.pieces, self.room, strict=True)]
        self.most = np.array([count for pair in steps for count in pair], dtype=float)
        self.does = [self._of_a_step(i, sign) for i in range(len(self.pieces)) for sign in (-1, 1)]
        self.weights = np.array([abs(m.mass) for m in self.does])

    def _of_a_step(self, i: int, sign: int) -> Moments:
        """What one step less or more of a piece does, by the density that its roll turned out to have."""
        key, piece = self.pieces[i]
        outline = self.belief.outline
        other = _stepped(piece, sign, self.room[i], outline)
        if other is None:
            return Moments()
        change = effect_of(other, outline).moments.plus(effect_of(piece, outline).moments.times(-1.0))
        roll = self.belief.on[key].roll
        factor = self.belief.density_factor(roll).value if roll else 1.0
        return change.times(factor)

    def least(self, guard: float) -> tuple[Trim, ...] | None:
        """The trim of least work into the bands drawn in by so many times each ±; None where none is."""
        us = {name: q.u for name in self.bands if (q := getattr(self.now.after, name))}
        narrow = drawn_in(self.bands, us, guard)
        if narrow is None or not self.pieces:
            return None
        found = self._solved(narrow, may_miss=False)
        return None if found.x is None else self._trims(found.x)

    def nearest(self) -> tuple[Trim, ...]:
        """What comes nearest to the middle of the bands, in parts of each tolerance."""
        if not self.pieces:
            return ()
        middles = {name: ((low + high) / 2,) * 2 for name, (low, high) in self.bands.items()}
        found = self._solved(middles, may_miss=True)
        return () if found.x is None else self._trims(found.x)

    def _solved(self, bands: Bands, *, may_miss: bool) -> OptimizeResult:
        """HiGHS's answer: steps of each piece down and up, which pieces are touched, what is missed."""
        from scipy.optimize import Bounds, LinearConstraint, milp

        rows, count = list(self._rows(bands)), len(self.pieces)
        width = 3 * count + (2 * len(rows) if may_miss else 0)
        matrix = np.zeros((len(rows) + count, width))
        lows, highs = np.full(len(matrix), -np.inf), np.full(len(matrix), np.inf)
        for i, (row, low, high, tolerance) in enumerate(rows):
            matrix[i, : 2 * count] = row
            lows[i], highs[i] = low, high
            if may_miss:
                at = 3 * count + 2 * i
                matrix[i, at : at + 2] = tolerance, -tolerance
        for i in range(count):
            matrix[len(rows) + i, 2 * i : 2 * i + 2] = 1.0
            matrix[len(rows) + i, 2 * count + i] = -self.most[2 * i : 2 * i + 2].sum()
            highs[len(rows) + i] = 0.0
        missed = np.full(width - 3 * count, _MISSED_G)
        cost = np.concatenate([self.weights, np.full(count, TOUCHED_G), missed])
        upper = np.concatenate([self.most, np.ones(count), np.full(len(missed), np.inf)])
        whole = np.concatenate([np.ones(3 * count), np.zeros(len(missed))])
        return milp(
            cost,
            integrality=whole,
            bounds=Bounds(np.zeros(width), upper),
            constraints=LinearConstraint(matrix, lows, highs),
            options={"time_limit": 1.0, "mip_rel_gap": 0.01},
        )

    def _rows(self, bands: Bands) -> list[tuple[Array, float, float, float]]:
        """Each band as low ≤ row·steps ≤ high, and what one tolerance of it is in the row's unit."""
        found = []
        for name, (low, high) in bands.items():
            tolerance = max((self.bands[name][1] - self.bands[name][0]) / 2, 1e-6)
            # Recoil weight is a sum about the middle of the balance's band, near enough for a trim.
            axis_cm = self.axis_cm if name != RECOIL_WEIGHT.key else sum(bands[BALANCE.key]) / 2
            sums = np.array([linear(name, m, axis_cm) for m in self.does])
            if name != BALANCE.key:
                now = spec_of(name, self.moments, self.axis_cm)
                found.append((sums, low - now, high - now, tolerance))
                continue
            masses, mass = np.array([m.mass for m in self.does]), self.moments.mass
            # Nearly b·M, since a trim hardly changes M: the edge is taken at the mass as it is.
            for edge, sign in ((low, 1.0), (high, -1.0)):
                short = -sign * (self.moments.first_y - edge * mass)
                found.append((sign * (sums - edge * masses), short, np.inf, tolerance * mass))
        return found

    def _trims(self, x: Array) -> tuple[Trim, ...]:
        found = []
        for i, (key, piece) in enumerate(self.pieces):
            steps = round(x[2 * i + 1]) - round(x[2 * i])
            if steps:
                found.append(Trim(key, _stepped(piece, steps, self.room[i], self.belief.outline)))
        return tuple(found)


def _down_and_up(piece: Piece, room: GrowthRoom) -> tuple[int, int]:
    """How many steps can be taken off a piece, and put on."""
    if not piece.is_by_length:
        # The last step of a compact piece takes it off.
        return math.floor(piece.one_mass_g / MASS_STEP_G + 1e-9), round(MOST_MORE_G / MASS_STEP_G)
    down = math.floor((piece.extent_cm - SHORTEST_STRIP_CM) / LENGTH_STEP_CM + 1e-9)
    return max(down, 0), room.steps


def _stepped(piece: Piece, steps: int, room: GrowthRoom, outline: Outline | None) -> Piece | None:
    """A piece so many steps longer or heavier, or less where negative; None where nothing is left."""
    strip = piece.as_strip
    if piece.is_by_length and strip and outline and 0 < steps <= room.steps:
        return longer(strip, steps, room.end, outline)
    if piece.is_by_length:
        return piece.with_length(round(piece.extent_cm + steps * LENGTH_STEP_CM, 3))
    mass_g = round(piece.one_mass_g + steps * MASS_STEP_G, 3)
    return piece.with_mass(mass_g) if mass_g > MASS_STEP_G / 2 else None
