"""Specs that few look at: spin weight and MgR/I, before and after, with ±.

Both are functions of all five moments; with g the gradient of one and C their covariance its variance is
gᵀ·C·g, as in ``prediction``. The spin weight of a thin frame is swing weight plus twist weight (second
order in the beam); MgR/I is g·M·(b - p)/I about the swing axis, the square of the rate of small swings.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import NamedTuple

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.moments import Moments
from kentrobar.core.frame.outline import Outline
from kentrobar.core.quantities.estimates import PAIRS, Covariance, Estimate, NotMeasured, Quantity, Vector
from kentrobar.core.quantities.units import GCM2_PER_KGCM2
from kentrobar.core.weight.pieces import Piece, effect_of
from kentrobar.core.weight.prediction import sum_of

_HALF_STEP = 1e-4  # relative; the functions are smooth, so a difference serves for the gradient


class FurtherSpecs(NamedTuple):
    """Spin weight (kg·cm²) and MgR/I (s⁻²) about one axis, or their change."""

    spinweight_kgcm2: Quantity
    mgr_per_i: Quantity


class FurtherPrediction(NamedTuple):
    """What a plan makes of these specs of a frame."""

    before: FurtherSpecs
    after: FurtherSpecs
    change: FurtherSpecs


def further(
    measured: MeasuredSpecs, pieces: Sequence[Piece], *, axis_cm: float, outline: Outline
) -> FurtherPrediction:
    """Spin weight and MgR/I before and after laying ``pieces``, about ``axis_cm``, with ±.

    Raises:
        PieceError, OutlineError: a piece that cannot lie where it is put.
    """
    frame, of_frame = measured.moments(), measured.covariance()
    added, of_pieces, _ = sum_of([effect_of(piece, outline) for piece in pieces])
    whole = frame.plus(added)
    known = (
        measured.knows_swingweight(axis_cm) and measured.knows_balance and measured.knows_twistweight,
        measured.knows_recoil,
    )
    needs = (
        "static weight, balance, swing weight and twist weight",
        "static weight, balance and swing weight",
    )
    specs: list[list[Quantity]] = [[], [], []]
    for is_known, missing, value_of in zip(known, needs, (_spin, _mgr_per_i), strict=True):
        if not is_known:
            for column in specs:
                column.append(NotMeasured(missing))
            continue
        before, after = value_of(frame, axis_cm), value_of(whole, axis_cm)
        g_before, g_after = (_gradient(value_of, m, axis_cm) for m in (frame, whole))
        own = _variance(g_after, of_pieces)
        apart = tuple(a - b for a, b in zip(g_after, g_before, strict=True))
        specs[0].append(Estimate(before, _root(_variance(g_before, of_frame))))
        specs[1].append(Estimate(after, _root(_variance(g_after, of_frame) + own)))
        specs[2].append(Estimate(after - before, _root(_variance(apart, of_frame) + own)))
    return FurtherPrediction(*(FurtherSpecs(*column) for column in specs))


def _spin(m: Moments, axis_cm: float) -> float:
    return m.spinweight_kgcm2(axis_cm)


def _mgr_per_i(m: Moments, axis_cm: float) -> float:
    return m.mgr_per_i(axis_cm)


def _gradient(value_of: Callable[[Moments, float], float], m: Moments, axis_cm: float) -> Vector:
    """By the five moments, from central differences."""
    scale = (m.mass, m.first_y, m.second_yz, max(abs(m.second_xz), GCM2_PER_KGCM2), m.first_y)
    slopes = []
    for i, size in enumerate(scale):
        step = _HALF_STEP * size
        above, below = (m._replace(**{m._fields[i]: m[i] + sign * step}) for sign in (1.0, -1.0))
        slopes.append((value_of(above, axis_cm) - value_of(below, axis_cm)) / (2 * step))
    a, b, c, d, e = slopes
    return (a, b, c, d, e)


def _variance(g: Sequence[float], covariance: Covariance) -> float:
    return sum((1 if i == j else 2) * g[i] * g[j] * c for (i, j), c in zip(PAIRS, covariance, strict=True))


def _root(variance: float) -> float:
    return math.sqrt(max(variance, 0.0))
