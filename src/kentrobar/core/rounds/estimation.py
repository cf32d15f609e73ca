"""What all readings and all work so far say of a frame: as it is now, and how far pieces and rolls are off.

The frame's moments, what is unsure about each piece (its place, how it was cut) and the density of each roll
are one vector with one covariance. Laying, trimming and taking off change what of it counts; every reading is
linear in it: a balance b read of a frame is S - b·M = 0, a swing weight about p is A - 2pS + p²M. So one
update of a linear-Gaussian state in order of time (R. E. Kalman, 1960; in P. D. Joseph's form, which keeps
the covariance positive) is the best estimate there is.

Of a frame's moments nothing is known before they are read. What no reading tells of is kept as directions of
their own beside the covariance, never as a huge variance (the exact diffuse filter: S. J. Koopman, 1997). A
spec is known where none of these directions moves it; else it is not measured.
"""

from __future__ import annotations

import math
from collections.abc import Hashable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from types import MappingProxyType
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy.special import chdtrc

from kentrobar.core.body.measured import MeasuredSpecs, u_of
from kentrobar.core.body.moments import Moments
from kentrobar.core.body.ranges import TYPICAL
from kentrobar.core.body.specs import AIMED, BALANCE, READ, READ_BY_KEY, STATIC_WEIGHT, SWING_WEIGHT, ReadSpec
from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.outline import Outline
from kentrobar.core.quantities.estimates import PAIRS, Covariance, Estimate
from kentrobar.core.solving.chance import matrix_of
from kentrobar.core.solving.matching import spec_of
from kentrobar.core.weight.pieces import PLACE_U_CM, Piece, effect_of
from kentrobar.core.weight.prediction import Prediction, as_it_is, gradients_at, measured_of

IMPOSSIBLE: Final = 0.001  # so seldom is a right reading so far from what is known
# A frame before anything was read of it, and how far frames differ, each as (M, S, A, T): what is read moves
# the one along the other, so neither shows in what is known then.
_NOMINAL: Final = Moments(300.0, 9600.0, 460_000.0, 14_000.0)
_SPREAD: Final = (100.0, 3_000.0, 100_000.0, 10_000.0)
_MOMENTS: Final = 5
_TELLS: Final = 1.0  # a reading tells of a direction whose spread it narrows
_UNMOVED: Final = 0.1  # of a spec's usual ±: what a direction moves by less is known all the same
_LEAST_NOISE: Final = 1e-9
_FORGOTTEN: Final = 1000.0  # times its usual ±: as far as a spec may be that is unread again
_CONTRADICTS: Final = 0.01  # so seldom is a right reading of one spec so far from what is known
# Of its weight, that a piece shifts by when it is made permanent: a rule of thumb, until it is learnt.
PERMANENT: Final = Estimate(0.0, 0.01)
NO_SHIFTS: Final[Mapping[Hashable, Estimate]] = MappingProxyType({})

Array = NDArray[np.float64]
Slopes = Mapping[str, Mapping[str, float]]
NO_SLOPES: Final[Slopes] = MappingProxyType({})
Biases = Mapping[str, "Bias"]
NO_BIASES: Final[Biases] = MappingProxyType({})


class StatePart(NamedTuple):
    """A stretch of the state: of the frame, of a piece's place or its cut, of a roll, of an instrument."""

    kind: str
    key: Hashable
    size: int


_FRAME: Final = StatePart("frame", "", _MOMENTS)


class Bias(NamedTuple):
    """How far all readings of an instrument may be off together: its key, and one standard deviation.

    It is a part of the ± of each of them: of its calibration and of its step, which more readings leave.
    """

    key: Hashable
    u: float

    @property
    def part(self) -> StatePart:
        """What it is of the state: the same however its ± was worked out, another after the next calibration."""
        return StatePart("bias", (self.key, f"{self.u:.2g}"), 1)


class AppliedPiece(NamedTuple):
    """A piece on the frame; ``share`` is what is left of the weight whose place is off.

    ``roll`` is the key of what its density errs together with; empty where it was weighed. ``shifts_with``
    is what it shifted together with when it was made permanent; empty while it lies for trial.
    """

    piece: Piece
    moments: Moments
    share: float
    roll: Hashable
    shifts_with: Hashable = ""


@dataclass(frozen=True)
class StateEstimate:
    """What is known of a frame on the bench; immutable, each event makes a new one.

    ``mean`` and ``covariance`` are of the ``parts`` in order: the frame's moments as (M, S, A, T, X), for
    each piece the moments that its place and its cut are off by, for each roll its density's relative error.
    ``unread`` are the directions of the frame's moments that no reading tells of, a column each, as long as
    frames differ in them.
    """

    length_cm: float
    outline: Outline | None
    mean: Array
    covariance: Array
    unread: Array
    parts: tuple[StatePart, ...] = (_FRAME,)
    on: Mapping[str, AppliedPiece] = field(default_factory=dict)
    place_u_cm: float = PLACE_U_CM

    # -- what is done -----------------------------------------------------------------------

    def with_applied(self, key: str, piece: Piece, offset_cm: Estimate | None = None) -> StateEstimate:
        """With a piece laid, under a key of its own.

        ``offset_cm`` is by how much pieces usually lie nearer to the tip than meant, where that was learnt.

        Raises:
            PieceError, OutlineError: it cannot lie there.
        """
        piece = piece if piece.shared_key else replace(piece, material=f"the roll of {key}")
        place, cut, rolls = self._errors(piece)
        off = np.zeros(_MOMENTS)
        if offset_cm is not None and place[1, 1] > 0:
            # What a shift along the frame does to the other moments is how they err with the first.
            mass = effect_of(piece, self.outline).moments.mass
            off = offset_cm.value * mass * place[:, 1] / place[1, 1]
            place = place * (offset_cm.u * mass) ** 2 / place[1, 1]
        started = self._with_part(StatePart("place", key, _MOMENTS), place, off)
        started = started._with_part(StatePart("cut", key, _MOMENTS), cut)
        for roll, u in rolls.items():
            started = started._with_part(StatePart("roll", roll, 1), np.array([[u * u]]))
        applied = AppliedPiece(piece, effect_of(piece, self.outline).moments, 1.0, next(iter(rolls), ""))
        return replace(started, on={**self.on, key: applied})

    def with_trimmed(self, key: str, piece: Piece) -> StateEstimate:
        """With a piece cut anew: it lies where it lay, and what its cut is off by is another."""
        was = self.on[key]
        piece = replace(piece, material=was.piece.material, source=was.piece.source)
        _, cut, _ = self._errors(piece)
        moments = effect_of(piece, self.outline).moments
        changed = self._without({StatePart("cut", key, _MOMENTS)})
        changed = changed._with_part(StatePart("cut", key, _MOMENTS), cut)
        share = was.share * moments.mass / was.moments.mass
        return replace(changed, on={**self.on, key: AppliedPiece(piece, moments, share, was.roll)})

    def with_moved(self, key: str, piece: Piece) -> StateEstimate:
        """With a piece laid elsewhere: what its place is off by is another, and its cut errs from there."""
        was = self.on[key]
        piece = replace(piece, material=was.piece.material, source=was.piece.source)
        return self.with_taken_off(key).with_applied(key, piece)

    def with_taken_off(self, key: str) -> StateEstimate:
        """With a piece taken off."""
        rest = {each: applied for each, applied in self.on.items() if each != key}
        gone = {StatePart("place", key, _MOMENTS), StatePart("cut", key, _MOMENTS)}
        return replace(self._without(gone), on=rest)

    def with_made_permanent(self, shifts: Mapping[Hashable, Estimate] = NO_SHIFTS) -> StateEstimate:
        """With all that lies made permanent: backing paper comes off, edges are pressed and cut once more.

        ``shifts`` is by which part its weight then changes, as learnt, by what pieces share (their roll, or
        their material); where nothing was learnt, the rule of thumb. Pieces that share shift alike.
        """
        changed = self
        for key, applied in self.on.items():
            shared = applied.piece.shared_key or applied.piece.name
            known = shifts.get(shared, PERMANENT)
            changed = changed._with_part(
                StatePart("permanent", shared, 1), np.array([[known.u**2]]), known.value
            )
            changed = replace(changed, on={**changed.on, key: applied._replace(shifts_with=shared)})
        return changed

    def permanent_shifts(self) -> dict[Hashable, Estimate]:
        """By which part what lies changed its weight when it was made permanent, by what pieces share."""
        found = {}
        for part, at in self._places():
            if part.kind == "permanent":
                spread = float(np.sqrt(self.covariance[at.start, at.start]))
                found[part.key] = Estimate(float(self.mean[at.start]), spread)
        return found

    def with_roll(self, key: Hashable, u_relative: float, factor: float = 1.0) -> StateEstimate:
        """With what is known of a roll's density before: ``factor`` of what it is taken for."""
        started = self._without({StatePart("roll", key, 1)})
        return started._with_part(StatePart("roll", key, 1), np.array([[u_relative**2]]), factor - 1.0)

    def _errors(self, piece: Piece) -> tuple[Array, Array, dict[Hashable, float]]:
        """Covariances of what place and cut are off by, and each roll's relative ±."""
        whole = effect_of(piece, self.outline)
        surely = effect_of(piece.sure_but_for_place(), self.outline)
        place, all_but_roll = matrix_of(surely.covariance), matrix_of(whole.covariance)
        rolls = {key: abs(v[0]) / abs(whole.moments.mass) for key, v in whole.shared.items()}
        return place * (self.place_u_cm / PLACE_U_CM) ** 2, all_but_roll - place, rolls

    def _with_part(self, part: StatePart, covariance: Array, value: float | Array = 0.0) -> StateEstimate:
        if part in self.parts:
            return self
        size = len(self.mean)
        wider = np.zeros((size + part.size, size + part.size))
        wider[:size, :size] = self.covariance
        wider[size:, size:] = covariance
        mean = np.append(self.mean, np.broadcast_to(value, part.size))
        return replace(self, mean=mean, covariance=wider, parts=(*self.parts, part))

    def _without(self, gone: set[StatePart]) -> StateEstimate:
        kept = [i for part, at in self._places() for i in at if part not in gone]
        return replace(
            self,
            mean=self.mean[kept],
            covariance=self.covariance[np.ix_(kept, kept)],
            parts=tuple(part for part in self.parts if part not in gone),
        )

    def _places(self) -> list[tuple[StatePart, range]]:
        found, start = [], 0
        for part in self.parts:
            found.append((part, range(start, start + part.size)))
            start += part.size
        return found

    # -- what is read -------------------------------------------------------------------------

    def surprise(self, read: MeasuredSpecs, biases: Biases = NO_BIASES, slopes: Slopes = NO_SLOPES) -> float:
        """How seldom a right reading is so far from what is known, 0 to 1; 1 where nothing was known."""
        _, (rows, missed), started = self._demands(read, biases, slopes)
        if not len(missed):
            return 1.0
        together = rows @ started.covariance @ rows.T + np.eye(len(rows))
        distance = float(missed @ np.linalg.solve(together, missed))
        return float(chdtrc(len(missed), max(distance, 0.0)))

    def with_read(
        self, read: MeasuredSpecs, biases: Biases = NO_BIASES, slopes: Slopes = NO_SLOPES
    ) -> StateEstimate:
        """With a reading believed.

        ``biases`` are of the instruments, by the keys of the specs they read; of a spec that errs with others
        of the reading they are left out. ``slopes`` tell of a spec that was worked out from what is known now
        (a timed swing from weight and balance) how far it follows from each of these: what is known is then
        not counted twice. Its ± is that of the timing alone.
        """
        news, (rows, missed), started = self._demands(read, biases, slopes)
        first = np.zeros((len(started.mean), len(news.missed)))
        first[:_MOMENTS] = news.steps
        now = started._moved(first, news.rows, news.missed)
        left = missed - rows @ (now.mean - started.mean)
        prior = now.covariance
        gain = np.linalg.solve(rows @ prior @ rows.T + np.eye(len(rows)), rows @ prior).T
        return replace(now._moved(gain, rows, left), unread=news.unread)._at_usual_mass()

    def with_read_instead(
        self, read: MeasuredSpecs, biases: Biases = NO_BIASES, slopes: Slopes = NO_SLOPES
    ) -> StateEstimate:
        """With a reading believed against what was known: of the specs that it contradicts, that was a slip."""
        against = self._contradicted(read, biases, slopes)
        return self._without_knowledge_of(against, read.axis_cm).with_read(read, biases, slopes)

    def with_what_fits(
        self, read: MeasuredSpecs, biases: Biases = NO_BIASES, slopes: Slopes = NO_SLOPES
    ) -> tuple[StateEstimate, tuple[ReadSpec, ...]]:
        """With a reading believed as far as it can be, and the specs that cannot: a slip drops no other spec."""
        if self.surprise(read, biases, slopes) >= IMPOSSIBLE:
            return self.with_read(read, biases, slopes), ()
        against = self._contradicted(read, biases, slopes)
        rest = read.without(against)
        if self.surprise(rest, biases, slopes) < IMPOSSIBLE:
            return self, tuple(_read_specs(read))
        return self.with_read(rest, biases, slopes), tuple(against)

    def _contradicted(self, read: MeasuredSpecs, biases: Biases, slopes: Slopes) -> list[ReadSpec]:
        """The specs of a reading that by themselves contradict what is known; all where only together they do."""
        specs = _read_specs(read)
        alone = {s: MeasuredSpecs.read_apart({s.key: read.of(s)}, read.axis_cm) for s in specs}
        return [s for s in specs if self.surprise(alone[s], biases, slopes) < _CONTRADICTS] or specs

    def _without_knowledge_of(self, specs: Sequence[ReadSpec], axis_cm: float) -> StateEstimate:
        """The same with these specs unread, and what is known of the others kept."""
        gradients = [_of_spec(spec.key, self.moments(), axis_cm)[0][: len(_SPREAD)] for spec in READ]
        directions = np.zeros((_MOMENTS, len(specs)))
        each_alone = np.linalg.inv(np.array(gradients)) * [_FORGOTTEN * spec.usual_u for spec in READ]
        directions[: len(_SPREAD)] = each_alone[:, [READ.index(spec) for spec in specs]]
        return replace(self, unread=np.hstack([self.unread, directions]))

    def _at_usual_mass(self) -> StateEstimate:
        """The same along what is unread, at the mass that the ± of a balance is taken by before it is weighed."""
        along = self.unread[0]
        if np.linalg.norm(along) < _TELLS:  # g: it was weighed
            return self
        mean = self.mean.copy()
        mean[:_MOMENTS] += self.unread @ along * (_usual_mass_g(self.outline) - mean[0]) / (along @ along)
        return replace(self, mean=mean)

    def _moved(self, gain: NDArray[np.floating], rows: Array, missed: Array) -> StateEstimate:
        """The state by this gain of rows that err by one each, apart."""
        rest = np.eye(len(self.mean)) - gain @ rows
        covariance = rest @ self.covariance @ rest.T + gain @ gain.T
        return replace(self, mean=self.mean + gain @ missed, covariance=covariance)

    def _demands(
        self, read: MeasuredSpecs, biases: Biases, slopes: Slopes
    ) -> tuple[_News, tuple[Array, Array], StateEstimate]:
        """What a reading tells of what was unread, and what it demands besides: rows and what each misses.

        A row is over the state that is answered, and errs by one, apart from the others.
        """
        started, biases = self, _independent(read, biases)
        for bias in biases.values():
            started = started._with_part(bias.part, np.array([[bias.u**2]]))
        specs = _read_specs(read)
        of_now, now = started._of_now(), started.moments()
        # The balance row is in g·cm: this much for a cm. A frame that nobody weighed yet weighs what is read.
        mass = now.mass if self._is_known(STATIC_WEIGHT.key, read.axis_cm) else read.mass_g.or_else(now.mass)
        rows = np.zeros((len(specs), len(started.mean)))
        missed, scale = np.zeros(len(specs)), np.ones(len(specs))
        for i, spec in enumerate(specs):
            value = read.of(spec).or_else(0.0)
            if spec is BALANCE:
                scale[i] = mass
                rows[i] = of_now[1] - value * of_now[0]
                missed[i] = value * now.mass - now.first_y
            else:
                gradient, current = _of_spec(spec.key, now, read.axis_cm)
                for key, slope in slopes.get(spec.key, {}).items():
                    gradient = gradient - slope * _of_spec(key, now, read.axis_cm)[0]
                rows[i], missed[i] = gradient @ of_now, value - current
            if spec.key in biases:
                rows[i, started._at(biases[spec.key].part)] = scale[i]
        us = scale * np.array([_own_u(u_of(read.of(spec)), biases.get(spec.key)) for spec in specs])
        together = np.array([[read.correlation(a, b) if a is not b else 1.0 for b in specs] for a in specs])
        errs = np.linalg.cholesky(
            together.reshape(len(specs), len(specs)) + _LEAST_NOISE * np.eye(len(specs))
        )
        apart = np.linalg.inv(errs * us[:, None])
        return *_split(apart @ rows, apart @ missed, self.unread), started

    def _at(self, part: StatePart) -> int:
        return next(at.start for each, at in self._places() if each == part)

    # -- what is known ------------------------------------------------------------------------

    def _of_now(self) -> Array:
        """What the frame as it is now is off by, of each part of the state: five rows."""
        found = np.zeros((_MOMENTS, len(self.mean)))
        for part, at in self._places():
            columns = found[:, at.start : at.stop]
            if part.kind == "frame":
                columns += np.eye(_MOMENTS)
            elif part.kind == "place" and part.key in self.on:
                columns += self.on[str(part.key)].share * np.eye(_MOMENTS)
            elif part.kind == "cut" and part.key in self.on:
                columns += np.eye(_MOMENTS)
            elif part.kind in ("roll", "permanent"):
                for applied in self.on.values():
                    errs_with = applied.roll if part.kind == "roll" else applied.shifts_with
                    if errs_with == part.key:
                        columns[:, 0] += np.array(applied.moments)
        return found

    def moments(self) -> Moments:
        """The moments of the frame as it is now."""
        applied = np.sum([each.moments for each in self.on.values()], axis=0) if self.on else 0.0
        return Moments(*map(float, self._of_now() @ self.mean + applied))

    def measured(self, axis_cm: float) -> MeasuredSpecs:
        """The specs as they are now, with how they err together."""
        return measured_of(self.moments(), self._covariance_now(), self._known(axis_cm), axis_cm)

    def now(self, axis_cm: float) -> Prediction:
        """The specs as they are now, as a prediction that nothing is added to."""
        known = self._known(axis_cm)
        return as_it_is(self.moments(), self._covariance_now(), known, self.length_cm, axis_cm)

    def _covariance_now(self) -> Covariance:
        of_now = self._of_now()
        covariance = of_now @ self.covariance @ of_now.T
        return tuple(float(covariance[i, j]) for i, j in PAIRS)

    def _known(self, axis_cm: float) -> frozenset[str]:
        """The keys of the specs that readings tell of, the swing weight about this axis."""
        return frozenset(spec.key for spec in AIMED if self._is_known(spec.key, axis_cm))

    def _is_known(self, key: str, axis_cm: float) -> bool:
        gradient, _ = _of_spec(key, self.moments(), axis_cm)
        moved = np.abs(gradient @ self.unread).max(initial=0.0)
        return bool(moved < _UNMOVED * READ_BY_KEY.get(key, SWING_WEIGHT).usual_u)

    def density_factor(self, roll: Hashable) -> Estimate:
        """By which the density of a roll differs from what it is taken for: 1 where it does not."""
        at = self._at(StatePart("roll", roll, 1))
        return Estimate(1.0 + float(self.mean[at]), float(np.sqrt(self.covariance[at, at])))

    def place_offset(self, key: str) -> Estimate:
        """By how much a piece lies nearer to the tip than was meant, cm."""
        at = self._at(StatePart("place", key, _MOMENTS)) + 1
        mass = self.on[key].moments.mass
        return Estimate(float(self.mean[at]) / mass, float(np.sqrt(self.covariance[at, at])) / abs(mass))

    def rolls(self) -> list[Hashable]:
        """The rolls that anything was laid of, by their keys."""
        return [part.key for part in self.parts if part.kind == "roll"]


def estimate_state(
    measured: MeasuredSpecs,
    *,
    length_cm: float,
    outline: Outline | None = None,
    place_u_cm: float = PLACE_U_CM,
    biases: Biases = NO_BIASES,
) -> StateEstimate:
    """What the first reading of a frame tells of it, before anything is applied; ``biases`` as when it is read."""
    unread = np.eye(_MOMENTS, len(_SPREAD)) * _SPREAD
    nothing = np.zeros((_MOMENTS, _MOMENTS))
    blank = StateEstimate(length_cm, outline, np.array(_NOMINAL), nothing, unread, place_u_cm=place_u_cm)
    return blank._at_usual_mass().with_read(measured, biases)


def _usual_mass_g(outline: Outline | None) -> float:
    """What most frames of a sport weigh, the middle of their range."""
    usual = TYPICAL[outline.sport if outline else Sport.TENNIS][STATIC_WEIGHT.key]
    return (usual.low + usual.high) / 2


def _independent(read: MeasuredSpecs, biases: Biases) -> Biases:
    """The biases of specs that err apart from the others of their reading."""
    specs = _read_specs(read)
    found = {}
    for spec in specs:
        errs_apart = not any(read.correlation(spec, each) for each in specs if each is not spec)
        if spec.key in biases and errs_apart:
            bias = biases[spec.key]
            found[spec.key] = bias._replace(u=min(bias.u, u_of(read.of(spec))))
    return found


def _own_u(u: float, bias: Bias | None) -> float:
    """The ± of a reading without what its instrument is off by in all of them."""
    shared = bias.u if bias else 0.0
    return max(math.sqrt(u * u - shared * shared), _LEAST_NOISE)


class _News(NamedTuple):
    """Rows that tell of what was unread: each with its step in the moments, and what stays unread."""

    rows: Array
    missed: Array
    steps: Array
    unread: Array


def _split(rows: Array, missed: Array, unread: Array) -> tuple[_News, tuple[Array, Array]]:
    """Rows turned so that the first ones tell of what was unread, and the others of none of it."""
    turn, sizes, directions = np.linalg.svd(rows[:, :_MOMENTS] @ unread)
    count = int(np.sum(sizes > _TELLS))
    steps = unread @ directions[:count].T / sizes[:count]
    rows, missed = turn.T @ rows, turn.T @ missed
    news = _News(rows[:count], missed[:count], steps, unread @ directions[count:].T)
    return news, (rows[count:], missed[count:])


def _of_spec(key: str, m: Moments, axis_cm: float) -> tuple[Array, float]:
    """How a spec follows the moments, and what it is of these."""
    return np.array(gradients_at(m, axis_cm, knows_mass=True)[key]), spec_of(key, m, axis_cm)


def _read_specs(read: MeasuredSpecs) -> list[ReadSpec]:
    return [spec for spec in READ if read.has(spec.key)]
