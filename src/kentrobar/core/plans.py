"""Pieces on a frame: specs before and after, their change, each with ±.

All outputs are smooth functions of the five moments. With g the gradient of one of them and C the
covariance of the moments, its variance is gᵀ·C·g (first-order propagation).
The change of a spec depends on the frame's readings only through the difference of the gradients
after and before, on the pieces through the gradient after.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

from kentrobar.core.errors import PieceError
from kentrobar.core.estimates import Estimate, NotMeasured, Quantity
from kentrobar.core.moments import Moments
from kentrobar.core.outline import Outline
from kentrobar.core.pieces import Effect, Piece, effect_of
from kentrobar.core.specs import (
    NO_COVARIANCE,
    Covariance,
    MeasuredSpecs,
    Specs,
    Vector,
    covariance_of,
)
from kentrobar.core.units import CM_PER_POINT, points_headlight

Row = tuple[float, float, float]
_NO_ROW: Row = (0.0, 0.0, 0.0)
_MASS_ROW: Row = (1.0, 0.0, 0.0)
_NO_VARIANCES = [0.0] * 7


@dataclass(frozen=True)
class Prediction:
    """What a plan makes of a frame. ``warnings`` are sentences for the person."""

    before: Specs
    after: Specs
    change: Specs
    warnings: tuple[str, ...] = ()


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
    frame are exact all the same.

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
    warnings = tuple(_warnings(pieces, effects, length_cm))
    return _predict(measured, effects, length_cm, axis_cm, warnings)


def piece_changes(
    measured: MeasuredSpecs,
    pieces: Sequence[Piece],
    *,
    length_cm: float,
    axis_cm: float,
    outline: Outline | None = None,
) -> list[Specs]:
    """The change that each piece alone makes to the bare frame. Raises as :func:`predict`."""
    return [
        _predict(measured, [effect_of(piece, outline)], length_cm, axis_cm, ()).change
        for piece in pieces
    ]


def piece_shares(
    pieces: Sequence[Piece], *, axis_cm: float, outline: Outline | None = None
) -> list[PieceShare]:
    """Lever and share of the swing-weight change of every piece. Raises as :func:`predict`."""
    moments = [effect_of(piece, outline).moments for piece in pieces]
    changes = [m.swingweight_kgcm2(axis_cm) for m in moments]
    whole = sum(map(abs, changes)) or 1.0
    return [
        PieceShare(m.mass, y, y - axis_cm, change, abs(change) / whole)
        for m, change, y in zip(
            moments, changes, (m.first_y / m.mass for m in moments), strict=True
        )
    ]


def _predict(
    measured: MeasuredSpecs,
    effects: Sequence[Effect],
    length_cm: float,
    axis_cm: float,
    warnings: tuple[str, ...],
) -> Prediction:
    frame, of_frame, before_values, before_rows, before = _before(measured, length_cm, axis_cm)
    laid, of_pieces = _sum_of(effects)
    whole = frame.plus(laid)
    if measured.knows_mass and whole.mass <= 0:
        raise PieceError(
            f"The plan takes away {-laid.mass:.1f} g, more than the frame weighs.",
            code="nothing_left",
            field="pieces",
        )
    after_rows = _gradients(whole, axis_cm, measured.knows_mass)
    own = _variances(after_rows, of_pieces)
    after_u = _roots(_variances(after_rows, of_frame), own)
    change_u = _roots(_variances(_difference(after_rows, before_rows), of_frame), own)

    after = _values(whole, length_cm, axis_cm, measured.knows_mass)
    change = [a - b for a, b in zip(after, before_values, strict=True)]
    known, known_change = _known(measured, not laid.first_x, axis_cm)
    return Prediction(
        before,
        _specs(after, after_u, known, axis_cm),
        _specs(change, change_u, known_change, axis_cm),
        warnings + _impossible(measured, whole, length_cm),
    )


@lru_cache(maxsize=1024)  # the frame stays as it is while pieces move on it
def _before(
    measured: MeasuredSpecs, length_cm: float, axis_cm: float
) -> tuple[Moments, Covariance, list[float], _Gradients, Specs]:
    """The frame without pieces: moments, their covariance, the outputs, their gradients, specs."""
    frame, of_frame = measured.moments(), covariance_of(measured.deviations())
    rows = _gradients(frame, axis_cm, measured.knows_mass)
    values = _values(frame, length_cm, axis_cm, measured.knows_mass)
    us = _roots(_variances(rows, of_frame), _NO_VARIANCES)
    known, _ = _known(measured, True, axis_cm)
    return frame, of_frame, values, rows, _specs(values, us, known, axis_cm)


def _sum_of(effects: Sequence[Effect]) -> tuple[Moments, Covariance]:
    """Moments of all effects together, and their covariance with shared deviations added up."""
    if not effects:
        return Moments(), NO_COVARIANCE
    shared: dict[str, list[Vector]] = {}
    for effect in effects:
        for key, vector in effect.shared.items():
            shared.setdefault(key, []).append(vector)
    together = [_added(vectors) for vectors in shared.values()]
    covariances = [effect.covariance for effect in effects]
    if together:
        covariances.append(covariance_of(together))
    moments = [effect.moments for effect in effects]
    return Moments(*map(sum, zip(*moments, strict=True))), tuple(
        map(sum, zip(*covariances, strict=True))
    )


def _added(vectors: Sequence[Vector]) -> Vector:
    m, s, a, t, x = map(sum, zip(*vectors, strict=True))
    return (m, s, a, t, x)


class _Gradients(NamedTuple):
    """Gradients of the outputs, each by the three moments it may depend on."""

    mass: Row  # M, S, A
    balance: Row  # M, S, A
    swing: Row  # M, S, A
    recoil: Row  # M, S, A
    gyration: Row  # M, S, A
    twist: Row  # M, T, X


def _gradients(m: Moments, p: float, knows_mass: bool) -> _Gradients:
    swing: Row = (p * p / 1000, -2 * p / 1000, 0.001)
    if not knows_mass:
        return _Gradients(_MASS_ROW, _NO_ROW, swing, _NO_ROW, _NO_ROW, (0.0, 0.001, 0.0))
    mass, b, offset = m.mass, m.first_y / m.mass, m.first_x / m.mass
    k = math.sqrt(max(m.second_yz - m.first_y * b, 1e-9) / mass)
    scale = 1 / (2 * k * mass)
    return _Gradients(
        _MASS_ROW,
        (-b / mass, 1 / mass, 0.0),
        swing,
        (b * b / 1000, -2 * b / 1000, 0.001),
        ((b * b - k * k) * scale, -2 * b * scale, scale),
        (offset * offset / 1000, 0.001, -2 * offset / 1000),
    )


def _difference(one: _Gradients, other: _Gradients) -> _Gradients:
    return _Gradients(
        *[(a - d, b - e, c - f) for (a, b, c), (d, e, f) in zip(one, other, strict=True)]
    )


def _variances(rows: _Gradients, c: Covariance) -> list[float]:
    """Variances of the outputs in the order of ``Specs``."""
    mm, ms, ma, mt, mx, ss, sa, _, _, aa, _, _, tt, tx, xx = c
    balance = _variance(rows.balance, mm, ms, ma, ss, sa, aa)
    return [
        _variance(rows.mass, mm, ms, ma, ss, sa, aa),
        balance,
        balance / CM_PER_POINT**2,
        _variance(rows.swing, mm, ms, ma, ss, sa, aa),
        _variance(rows.twist, mm, mt, mx, tt, tx, xx),
        _variance(rows.recoil, mm, ms, ma, ss, sa, aa),
        _variance(rows.gyration, mm, ms, ma, ss, sa, aa),
    ]


def _variance(row: Row, aa: float, ab: float, ac: float, bb: float, bc: float, cc: float) -> float:
    """gᵀ·C·g for three moments a, b, c."""
    a, b, c = row
    return a * a * aa + b * b * bb + c * c * cc + 2 * (a * b * ab + a * c * ac + b * c * bc)


def _roots(one: Sequence[float], other: Sequence[float]) -> list[float]:
    """Standard uncertainties of two independent parts; rounding may leave a tiny negative."""
    return [math.sqrt(v) if (v := a + b) > 0 else 0.0 for a, b in zip(one, other, strict=True)]


def _values(m: Moments, length_cm: float, axis_cm: float, knows_mass: bool) -> list[float]:
    swing = m.swingweight_kgcm2(axis_cm)
    if not knows_mass:
        return [m.mass, 0.0, 0.0, swing, m.second_xz / 1000, 0.0, 0.0]
    b = m.balance_cm
    return [
        m.mass,
        b,
        points_headlight(b, length_cm),
        swing,
        m.twistweight_kgcm2,
        m.recoil_kgcm2,
        m.gyration_cm,
    ]


_Known = tuple[Sequence[bool], Sequence[str]]


@lru_cache(maxsize=1024)
def _known(measured: MeasuredSpecs, even: bool, axis_cm: float) -> tuple[_Known, _Known]:
    """Which outputs, and which changes, follow from the readings; and what each still needs.

    ``even``: what is laid is even from left to right.
    """
    missing = measured.missing()
    for_mass, for_balance = _needs(missing, 1), _needs(missing, 2)
    for_recoil = _needs(missing, 3)
    swing_known = measured.knows_swingweight(axis_cm)
    for_swing = "swing weight" if "swing weight" in missing else for_balance
    twist_change = measured.knows_mass or even
    balance = measured.knows_balance
    recoil = measured.knows_recoil
    known = (measured.knows_mass, balance, balance, swing_known, measured.knows_twistweight)
    change = (True, balance, balance, True, twist_change)
    needs = (for_mass, for_balance, for_balance, for_swing, "twist weight", for_recoil, for_recoil)
    change_needs = (*needs[:4], "static weight", for_balance, for_recoil)
    return ((*known, recoil, recoil), needs), ((*change, balance, recoil), change_needs)


def _needs(missing: Sequence[str], count: int) -> str:
    wanted = ("static weight", "balance", "swing weight")[:count]
    return " and ".join(noun for noun in wanted if noun in missing)


def _specs(values: list[float], us: list[float], known: _Known, axis_cm: float) -> Specs:
    quantities: list[Quantity] = list(map(Estimate, values, us))
    flags, missing = known
    if not all(flags):
        for i, (is_known, needs) in enumerate(zip(flags, missing, strict=True)):
            if not is_known:
                quantities[i] = NotMeasured(needs)
    mass, balance, points, swing, twist, recoil, gyration = quantities
    return Specs(mass, balance, points, swing, twist, recoil, gyration, axis_cm)


def _warnings(
    pieces: Sequence[Piece], effects: Sequence[Effect], length_cm: float
) -> Iterable[str]:
    for piece, effect in zip(pieces, effects, strict=True):
        mass, first_y, *_ = effect.moments
        if not effect.overlaps and -1.0 <= first_y / mass <= length_cm + 1.0:
            continue
        if effect.overlaps:
            yield overlap_sentence(piece)
        else:
            yield f"{_name(piece)}: it lies off the frame, which reaches from 0 to {length_cm:.1f} cm."


def overlap_sentence(piece: Piece) -> str:
    """What is wrong with a mirrored pair whose strips lie on each other."""
    return (
        f"{_name(piece)}: the left and the right strip overlap on the centre line; shorten "
        "them or move them apart."
    )


def _name(piece: Piece) -> str:
    return piece.label or piece.material or "A piece"


def _impossible(measured: MeasuredSpecs, whole: Moments, length_cm: float) -> tuple[str, ...]:
    """Warn where so much is taken away that nothing real is left."""
    if measured.knows_recoil and whole.recoil_kgcm2 <= 0:
        return ("More swing weight is taken away than the frame has; check the removed pieces.",)
    if measured.knows_twistweight and whole.second_xz < 0:
        return ("More twist weight is taken away than the frame has; check the removed pieces.",)
    return ()
