"""Pieces on a frame: specs before and after, their change, each with ±.

All outputs are smooth functions of the five moments. With g the gradient of one of them and C the
covariance of the moments, its variance is gᵀ·C·g (first-order propagation).
The change of a spec depends on the frame's readings only through the difference of the gradients
after and before, on the pieces through the gradient after.
"""

from __future__ import annotations

import math
from collections.abc import Container, Hashable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache, partial
from operator import add, sub
from typing import Final, NamedTuple

from kentrobar.core.body.measured import SPEC_PAIRS, MeasuredSpecs
from kentrobar.core.body.moments import Moments
from kentrobar.core.body.specs import (
    BALANCE,
    READ,
    RECOIL_WEIGHT,
    STATIC_WEIGHT,
    SWING_WEIGHT,
    TWIST_WEIGHT,
    Specs,
)
from kentrobar.core.frame.outline import Outline
from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.quantities.estimates import (
    NO_COVARIANCE,
    PAIRS,
    Covariance,
    Estimate,
    NotMeasured,
    Quantity,
    Vector,
    covariance_of,
)
from kentrobar.core.quantities.units import CM_PER_POINT, GCM2_PER_KGCM2, points_headlight
from kentrobar.core.weight.pieces import Effect, Piece, effect_of

OFF_FRAME_CM: Final = 1.0  # a centre of mass so far beyond an end is worth a warning

Row = tuple[float, float, float]
_NO_ROW: Row = (0.0, 0.0, 0.0)
_NO_VARIANCES = [0.0] * 7
_KGCM2 = 1 / GCM2_PER_KGCM2
# Made some twenty times a prediction: without the call through the named tuple's own constructor.
_as_estimate = partial(tuple.__new__, Estimate)


class Prediction(NamedTuple):
    """What a plan makes of a frame. ``warnings`` are sentences for the person.

    ``moments`` and their ``covariance`` are those of the frame with the pieces on it; what was never read
    counts as 0 in them, or is a usual frame's (:func:`as_it_is`). ``shared`` is what of that covariance errs
    together on all frames: by roll, what one standard deviation of its density does.
    """

    before: Specs
    after: Specs
    change: Specs
    warnings: tuple[str, ...]
    moments: Moments
    covariance: Covariance
    shared: Mapping[Hashable, Vector]


@dataclass(frozen=True)
class PieceShare:
    """What one piece does: its lever about the axis and its part of the swing-weight change.

    ``lever_cm`` is the distance of its centre of mass from the axis, positive toward the tip.
    ``share`` is its part of the sum of all pieces' changes, taken without sign (0 to 1).
    """

    mass_g: float
    y_cm: float
    lever_cm: float
    swingweight_kgcm2: float
    share: float


def predict(
    measured: MeasuredSpecs,
    pieces: Sequence[Piece],
    *,
    length_cm: float,
    axis_cm: float,
    outline: Outline | None = None,
) -> Prediction:
    """Specs before and after laying ``pieces`` on a frame, and their change, with ±.

    Specs that the readings do not give stay ``NotMeasured``; the changes that need nothing of the
    frame are known all the same, as surely as the pieces are.

    Args:
        measured: the frame's readings; ``measured.axis_cm`` is the axis they were taken at.
        pieces: what is laid on or taken away.
        length_cm: the frame's length, for balance in points.
        axis_cm: the axis of the swing weights in the answer.
        outline: needed for strips on the rim only.

    Raises:
        PieceError, OutlineError: a piece that cannot lie where it is put; more mass taken away
            than the frame has.
    """
    effects = [effect_of(piece, outline) for piece in pieces]
    lowest, highest = -OFF_FRAME_CM, length_cm + OFF_FRAME_CM
    is_odd = any(e.overlaps or not lowest <= e.moments[1] / e.moments[0] <= highest for e in effects)
    warnings = tuple(_warnings(pieces, effects, length_cm)) if is_odd else ()
    return _predict(_start(measured, length_cm, axis_cm), effects, length_cm, warnings)


def as_measured(prediction: Prediction) -> MeasuredSpecs:
    """Specs after a plan taken as what is known of the frame, with how they err together."""
    after = prediction.after
    known = {spec.key for spec in READ if after.of(spec)}
    return measured_of(prediction.moments, prediction.covariance, known, after.axis_cm)


def measured_of(
    moments: Moments, covariance: Covariance, known: Container[str], axis_cm: float
) -> MeasuredSpecs:
    """What moments tell of a frame, as readings that err together; ``known`` are the keys of its specs."""
    knows_mass = STATIC_WEIGHT.key in known or BALANCE.key in known  # a balance belongs to a mass
    rows = _gradients(moments, axis_cm, knows_mass)
    values = _values(moments, 0.0, axis_cm, knows_mass)
    us_of_all = _roots(_variances(rows, covariance), _NO_VARIANCES)
    by_key = dict(zip(Specs._fields, map(Estimate, values, us_of_all), strict=False))
    keys = [spec.key for spec in READ]
    us = [by_key[key].u if key in known else 0.0 for key in keys]
    gradients, full = _by_key(rows), dict(zip(PAIRS, covariance, strict=True))
    correlations = tuple(
        _bilinear(gradients[keys[i]], full, gradients[keys[j]]) / (us[i] * us[j]) if us[i] and us[j] else 0.0
        for i, j in SPEC_PAIRS
    )
    return MeasuredSpecs(
        **{key: by_key[key] for key in keys if key in known}, axis_cm=axis_cm, correlations=correlations
    )


def as_it_is(
    moments: Moments, covariance: Covariance, known: Container[str], length_cm: float, axis_cm: float
) -> Prediction:
    """A body as it is, as a prediction that nothing is added to.

    Args:
        moments: with the mass that they belong to, also where that is not ``known``.
        covariance: of the moments, of what is known of them.
        known: the keys of the specs, the swing weight about ``axis_cm``, that follow from readings.
        length_cm, axis_cm: as for :func:`predict`.
    """
    rows, values = _gradients(moments, axis_cm, True), _values(moments, length_cm, axis_cm, True)
    us = _roots(_variances(rows, covariance), _NO_VARIANCES)
    keys = (STATIC_WEIGHT, BALANCE, BALANCE, SWING_WEIGHT, TWIST_WEIGHT, RECOIL_WEIGHT, RECOIL_WEIGHT)
    flags = tuple(spec.key in known for spec in keys)
    needs: tuple[str, ...] = ()
    if not all(flags):
        (_, needs), _ = _known(measured_of(moments, covariance, known, axis_cm), True, axis_cm)
    nothing = [0.0] * len(values)
    unchanged = _specs(nothing, nothing, ((True,) * len(values), ()), axis_cm)
    specs = _specs(values, us, (flags, needs), axis_cm)
    return Prediction(specs, specs, unchanged, (), moments, covariance, {})


def gradients_of(prediction: Prediction) -> dict[str, Vector]:
    """How each spec that frames are made alike in follows the moments, by its key: in (M, S, A, T, X)."""
    after = prediction.after
    return gradients_at(prediction.moments, after.axis_cm, knows_mass=bool(after.mass_g or after.balance_cm))


def gradients_at(moments: Moments, axis_cm: float, *, knows_mass: bool) -> dict[str, Vector]:
    """The same for a body; without its mass, of what needs none."""
    return _by_key(_gradients(moments, axis_cm, knows_mass))


def _by_key(rows: _Gradients) -> dict[str, Vector]:
    return {
        STATIC_WEIGHT.key: (rows.mass, 0.0, 0.0, 0.0, 0.0),
        BALANCE.key: (*rows.balance, 0.0, 0.0),
        SWING_WEIGHT.key: (*rows.swing, 0.0, 0.0),
        TWIST_WEIGHT.key: (rows.twist[0], 0.0, 0.0, *rows.twist[1:]),
        RECOIL_WEIGHT.key: (*rows.recoil, 0.0, 0.0),
    }


def _bilinear(g: Sequence[float], covariance: Mapping[tuple[int, int], float], h: Sequence[float]) -> float:
    return sum(c * (g[i] * h[j] + (g[j] * h[i] if i != j else 0.0)) for (i, j), c in covariance.items())


def piece_changes(
    measured: MeasuredSpecs,
    pieces: Sequence[Piece],
    *,
    length_cm: float,
    axis_cm: float,
    outline: Outline | None = None,
) -> list[Specs]:
    """The change that each piece alone makes to the unstrung frame. Raises as :func:`predict`."""
    start = _start(measured, length_cm, axis_cm)
    return [_predict(start, [effect_of(piece, outline)], length_cm).change for piece in pieces]


def piece_shares(
    pieces: Sequence[Piece], *, axis_cm: float, outline: Outline | None = None
) -> list[PieceShare]:
    """Lever and share of the swing-weight change of every piece. Raises as :func:`predict`."""
    moments = [effect_of(piece, outline).moments for piece in pieces]
    changes = [m.swingweight_kgcm2(axis_cm) for m in moments]
    whole = sum(map(abs, changes)) or 1.0
    return [
        PieceShare(m.mass, y, y - axis_cm, change, abs(change) / whole)
        for m, change, y in zip(moments, changes, (m.first_y / m.mass for m in moments), strict=True)
    ]


def _predict(
    start: _Start, effects: Sequence[Effect], length_cm: float, warnings: tuple[str, ...] = ()
) -> Prediction:
    added, of_pieces, shared = sum_of(effects)
    whole = start.moments.plus(added)
    if start.knows_mass and whole.mass <= 0:
        raise PieceError(
            f"The plan removes {-added.mass:.1f} g, more than the frame weighs.",
            code="nothing_left",
            field="pieces",
        )
    rows = _gradients(whole, start.axis_cm, start.knows_mass)
    own = _variances(rows, of_pieces)
    after_u = _roots(_variances(rows, start.covariance), own)
    change_u = _roots(_variances(_difference(rows, start.rows), start.covariance), own)
    after = _values(whole, length_cm, start.axis_cm, start.knows_mass)
    change = list(map(sub, after, start.values))
    return Prediction(
        start.specs,
        _specs(after, after_u, start.known, start.axis_cm),
        _specs(change, change_u, start.known_change if added.first_x else start.known_even, start.axis_cm),
        warnings + start.impossible(whole),
        whole,
        tuple(map(add, start.covariance, of_pieces)),
        shared,
    )


@dataclass(frozen=True)
class _Start:
    """A frame without pieces: its moments with their covariance, its outputs, and what is known of it."""

    moments: Moments
    covariance: Covariance
    values: list[float]
    rows: _Gradients
    specs: Specs
    known: _Flags
    known_change: _Flags  # where what is laid is uneven from left to right
    known_even: _Flags
    axis_cm: float
    knows_mass: bool
    knows_recoil: bool
    knows_twist: bool

    def impossible(self, whole: Moments) -> tuple[str, ...]:
        """Warn where so much is taken away that nothing real is left."""
        for spec, is_known, left in (
            ("swing weight", self.knows_recoil, whole.second_yz * whole.mass - whole.first_y**2),
            ("twist weight", self.knows_twist, whole.second_xz),
        ):
            if is_known and left < 0:
                return (f"More {spec} is taken away than the frame has; check the removed pieces.",)
        return ()


@lru_cache(maxsize=1024)  # the frame stays as it is while pieces move on it
def _start(measured: MeasuredSpecs, length_cm: float, axis_cm: float) -> _Start:
    frame, covariance = measured.moments(), measured.covariance()
    rows = _gradients(frame, axis_cm, measured.knows_mass)
    values = _values(frame, length_cm, axis_cm, measured.knows_mass)
    us = _roots(_variances(rows, covariance), _NO_VARIANCES)
    known, known_change = _known(measured, False, axis_cm)
    _, known_even = _known(measured, True, axis_cm)
    return _Start(
        frame,
        covariance,
        values,
        rows,
        _specs(values, us, known, axis_cm),
        known,
        known_change,
        known_even,
        axis_cm,
        measured.knows_mass,
        measured.knows_recoil,
        measured.knows_twistweight,
    )


def sum_of(effects: Sequence[Effect]) -> tuple[Moments, Covariance, Mapping[Hashable, Vector]]:
    """Moments of all effects together, their covariance with shared deviations added up, and those by key."""
    if not effects:
        return Moments(), NO_COVARIANCE, {}
    shared: dict[Hashable, Vector] = {}
    for effect in effects:
        for key, vector in effect.shared.items():
            before = shared.get(key)
            shared[key] = vector if before is None else _added(before, vector)
    covariances = [effect.covariance for effect in effects]
    if shared:
        covariances.append(covariance_of([*shared.values()]))
    moments = Moments(*map(sum, zip(*[effect.moments for effect in effects], strict=True)))
    return moments, tuple(map(sum, zip(*covariances, strict=True))), shared


def _added(v: Vector, w: Vector) -> Vector:
    return (v[0] + w[0], v[1] + w[1], v[2] + w[2], v[3] + w[3], v[4] + w[4])


class _Gradients(NamedTuple):
    """Gradients of the outputs, each by the three moments it may depend on."""

    balance: Row  # M, S, A
    recoil: Row  # M, S, A
    gyration: Row  # M, S, A
    twist: Row  # M, T, X
    swing: Row  # M, S, A
    mass: float  # M


def _gradients(m: Moments, p: float, knows_mass: bool) -> _Gradients:
    swing: Row = (p * p / GCM2_PER_KGCM2, -2 * p / GCM2_PER_KGCM2, _KGCM2)
    if not knows_mass:
        return _Gradients(_NO_ROW, _NO_ROW, _NO_ROW, (0.0, _KGCM2, 0.0), swing, 1.0)
    mass, first_y, second_yz, _, first_x = m
    b, offset = first_y / mass, first_x / mass
    k = math.sqrt(max(second_yz - first_y * b, 1e-9) / mass)
    scale = 1 / (2 * k * mass)
    return _Gradients(
        (-b / mass, 1 / mass, 0.0),
        (b * b / GCM2_PER_KGCM2, -2 * b / GCM2_PER_KGCM2, _KGCM2),
        ((b * b - k * k) * scale, -2 * b * scale, scale),
        (offset * offset / GCM2_PER_KGCM2, _KGCM2, -2 * offset / GCM2_PER_KGCM2),
        swing,
        1.0,
    )


def _difference(one: _Gradients, other: _Gradients) -> _Gradients:
    """How far the gradients of two frames differ; those of weight and swing weight never do."""
    balance, recoil, gyration, twist = [
        (a - d, b - e, c - f) for (a, b, c), (d, e, f) in zip(one[:4], other[:4], strict=True)
    ]
    return _Gradients(balance, recoil, gyration, twist, _NO_ROW, 0.0)


def _variances(rows: _Gradients, covariance: Covariance) -> list[float]:
    """gᵀ·C·g of the outputs, in the order of ``Specs``."""
    mm, ms, ma, mt, mx, ss, sa, _, _, aa, _, _, tt, tx, xx = covariance
    *along, (t0, t1, t2), (s0, s1, s2), mass = rows
    balance, recoil, gyration = [
        a * a * mm + b * b * ss + c * c * aa + 2 * (a * b * ms + a * c * ma + b * c * sa) for a, b, c in along
    ]
    swing = s0 * s0 * mm + s1 * s1 * ss + s2 * s2 * aa + 2 * (s0 * s1 * ms + s0 * s2 * ma + s1 * s2 * sa)
    twist = t0 * t0 * mm + t1 * t1 * tt + t2 * t2 * xx + 2 * (t0 * t1 * mt + t0 * t2 * mx + t1 * t2 * tx)
    return [mass * mm, balance, balance / CM_PER_POINT**2, swing, twist, recoil, gyration]


def _roots(one: Sequence[float], other: Sequence[float]) -> list[float]:
    """Standard uncertainties of two independent parts; rounding may leave a variance below 0 by a hair."""
    return list(map(math.sqrt, map(abs, map(add, one, other))))


def _values(m: Moments, length_cm: float, axis_cm: float, knows_mass: bool) -> list[float]:
    """The outputs in the order of ``Specs``; 0 for those that need a mass that is not known."""
    swing = m.swingweight_kgcm2(axis_cm)
    if not knows_mass:
        return [m.mass, 0.0, 0.0, swing, m.second_xz / GCM2_PER_KGCM2, 0.0, 0.0]
    b, recoil = m.balance_cm, m.recoil_kgcm2
    gyration = math.sqrt(max(GCM2_PER_KGCM2 * recoil / m.mass, 0.0))
    return [m.mass, b, points_headlight(b, length_cm), swing, m.twistweight_kgcm2, recoil, gyration]


_Flags = tuple[tuple[bool, ...], tuple[str, ...]]


def _known(measured: MeasuredSpecs, even: bool, axis_cm: float) -> tuple[_Flags, _Flags]:
    """Which outputs, and which changes, follow from the readings; and what each still needs.

    ``even``: what is laid is even from left to right.
    """
    missing = measured.missing()
    for_mass, for_balance, for_recoil = (_needs(missing, count) for count in (1, 2, 3))
    mass, balance, recoil = measured.knows_mass, measured.knows_balance, measured.knows_recoil
    swing, twist = measured.knows_swingweight(axis_cm), measured.knows_twistweight
    for_swing = "swing weight" if "swing weight" in missing else for_balance
    known = (mass, balance, balance, swing, twist, recoil, recoil)
    change = (True, balance, balance, True, mass or even, balance, recoil)
    needs = (for_mass, for_balance, for_balance, for_swing, "twist weight", for_recoil, for_recoil)
    change_needs = (*needs[:4], "static weight", for_balance, for_recoil)
    return (known, needs), (change, change_needs)


def _needs(missing: Sequence[str], count: int) -> str:
    wanted = ("static weight", "balance", "swing weight")[:count]
    return " and ".join(noun for noun in wanted if noun in missing)


def _specs(values: list[float], us: list[float], known: _Flags, axis_cm: float) -> Specs:
    quantities: list[Quantity] = list(map(_as_estimate, zip(values, us, strict=True)))
    flags, missing = known
    if not all(flags):
        for i, (is_known, needs) in enumerate(zip(flags, missing, strict=True)):
            if not is_known:
                quantities[i] = NotMeasured(needs)
    return tuple.__new__(Specs, (*quantities, axis_cm))


def _warnings(pieces: Sequence[Piece], effects: Sequence[Effect], length_cm: float) -> Iterable[str]:
    for piece, effect in zip(pieces, effects, strict=True):
        if effect.overlaps:
            yield piece.overlap_sentence()
        elif not -OFF_FRAME_CM <= effect.centre_cm <= length_cm + OFF_FRAME_CM:
            yield f"{piece.name}: it is off the frame, which reaches from 0 to {length_cm:.1f} cm."
