"""Smooth curves in the plane, and how what is summed along them is kept.

A rim's mid-line is a chain of runs, each given by position and its two derivatives. Shifted along its
normal by d, with curvature κ (negative on a convex rim run clockwise), a run has the speed (1 - κd)
times its own. ∫y, ∫y², ∫x², ∫x ds and the point itself are kept as quintic Hermite polynomials between
knots about 2 mm apart: value, slope and curvature at the knots are exact (Gauss-Legendre quadrature
between them), so that the integral over any stretch is two look-ups and agrees with fine quadrature to
better than 1e-9.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from kentrobar.core.quantities.errors import OutlineError

Array = NDArray[np.float64]

KNOT_SPACING_CM: Final = 0.2
_NODES, _WEIGHTS = np.polynomial.legendre.leggauss(8)


class Run(NamedTuple):
    """A smooth stretch of the mid-line: position and its two derivatives by t in [0, 1]."""

    position: Callable[[Array], tuple[Array, Array]]
    first: Callable[[Array], tuple[Array, Array]]
    second: Callable[[Array], tuple[Array, Array]]


def hoop_run(a: float, b: float, c: float, centre_y: float) -> Run:
    """A hoop from its tip down the right side to its bottom: half axes a and b, fullness c, cm."""
    k = math.pi
    a, b = a / (1 - c), b / (1 - c)

    def position(t: Array) -> tuple[Array, Array]:
        p = k * t
        return (a * (np.sin(p) + c * np.sin(3 * p)), centre_y + b * (np.cos(p) - c * np.cos(3 * p)))

    def first(t: Array) -> tuple[Array, Array]:
        p = k * t
        return (k * a * (np.cos(p) + 3 * c * np.cos(3 * p)), k * b * (-np.sin(p) + 3 * c * np.sin(3 * p)))

    def second(t: Array) -> tuple[Array, Array]:
        p = k * t
        return (
            -(k**2) * a * (np.sin(p) + 9 * c * np.sin(3 * p)),
            k**2 * b * (-np.cos(p) + 9 * c * np.cos(3 * p)),
        )

    return Run(position, first, second)


def arc_run(centre: tuple[float, float], radii: tuple[float, float], start: float, end: float) -> Run:
    """An elliptic arc; angles in radians clockwise from the tip's direction."""
    (cx, cy), (rx, ry), sweep = centre, radii, end - start

    def position(t: Array) -> tuple[Array, Array]:
        p = start + sweep * t
        return cx + rx * np.sin(p), cy + ry * np.cos(p)

    def first(t: Array) -> tuple[Array, Array]:
        p = start + sweep * t
        return sweep * rx * np.cos(p), -sweep * ry * np.sin(p)

    def second(t: Array) -> tuple[Array, Array]:
        p = start + sweep * t
        return -(sweep**2) * rx * np.sin(p), -(sweep**2) * ry * np.cos(p)

    return Run(position, first, second)


def line_run(start: tuple[float, float], end: tuple[float, float]) -> Run:
    """A straight run from start to end, cm."""
    dx, dy = end[0] - start[0], end[1] - start[1]
    return Run(
        lambda t: (start[0] + dx * t, start[1] + dy * t),
        lambda t: (np.full_like(t, dx), np.full_like(t, dy)),
        lambda t: (np.zeros_like(t), np.zeros_like(t)),
    )


class Samples(NamedTuple):
    """A shifted line at given t: position, unit tangent, curvature, speed ds/dt."""

    x: Array
    y: Array
    tx: Array
    ty: Array
    curvature: Array
    speed: Array


def sample(run: Run, t: Array, offset: float) -> Samples:
    """Points ``offset`` cm beside a run at the parameters t.

    Raises:
        OutlineError: the run bends more sharply than that.
    """
    (x, y), (dx, dy), (ddx, ddy) = run.position(t), run.first(t), run.second(t)
    speed = np.hypot(dx, dy)
    tx, ty = dx / speed, dy / speed
    curvature = (dx * ddy - dy * ddx) / speed**3
    stretch = 1 - curvature * offset
    if np.any(stretch <= 0.02):
        raise OutlineError(
            "The rim bends more sharply than tape on this face can follow; "
            "enlarge the corner radius or the shoulder.",
            code="too_sharp",
            field="corner_radius_cm",
        )
    return Samples(x - offset * ty, y + offset * tx, tx, ty, curvature / stretch, speed * stretch)


def knots_of(run: Run, offset: float) -> tuple[Array, Array, Array]:
    """Arc length, and value/slope/curvature of the six kept functions at the knots of a run.

    Returns arrays of shape (n,), (3, 6, n) with the functions (∫y, ∫y², ∫x², ∫x, x, y) by arc
    length counted from the run's own start, and the total (5,) of s and the four integrals.
    """
    rough = sample(run, np.linspace(0, 1, 33), offset).speed.mean()
    count = max(4, math.ceil(rough / KNOT_SPACING_CM))
    t = np.linspace(0, 1, count + 1)
    half = 0.5 / count
    nodes = (t[:-1] + half)[:, None] + half * _NODES
    inside = sample(run, nodes.ravel(), offset)
    integrands = np.array([np.ones_like(inside.x), inside.y, inside.y**2, inside.x**2, inside.x])
    steps = ((integrands * inside.speed).reshape(5, count, -1) * (_WEIGHTS * half)).sum(axis=2)
    sums = np.concatenate([np.zeros((5, 1)), np.cumsum(steps, axis=1)], axis=1)
    at = sample(run, t, offset)
    x, y, tx, ty, bend = at.x, at.y, at.tx, at.ty, at.curvature
    values = np.array([*sums[1:], x, y])
    slopes = np.array([y, y**2, x**2, x, tx, ty])
    curvatures = np.array([ty, 2 * y * ty, 2 * x * tx, tx, -bend * ty, bend * tx])
    return sums[0], np.array([values, slopes, curvatures]), sums[:, -1]


def hermite(arc: Array, data: Array) -> Array:
    """Quintic coefficients, in the unit of ``data`` (6 functions, intervals, 6 powers of u in [0, 1])."""
    h = np.diff(arc)
    value, slope, bend = data[0], data[1], data[2]
    rise = np.diff(value, axis=1)
    d0, d1 = slope[:, :-1] * h, slope[:, 1:] * h
    e0, e1 = bend[:, :-1] * h**2, bend[:, 1:] * h**2
    return np.stack(
        [
            value[:, :-1],
            d0,
            e0 / 2,
            10 * rise - 6 * d0 - 4 * d1 - 1.5 * e0 + 0.5 * e1,
            -15 * rise + 8 * d0 + 7 * d1 + 1.5 * e0 - e1,
            6 * rise - 3 * d0 - 3 * d1 - 0.5 * e0 + 0.5 * e1,
        ],
        axis=2,
    )


def horner(c: Sequence[float], u: float) -> float:
    """The value of a polynomial in its own unit, coefficients from the lowest power up."""
    return ((((c[5] * u + c[4]) * u + c[3]) * u + c[2]) * u + c[1]) * u + c[0]


def root(rising: Callable[[float], float], low: float, high: float) -> float:
    """Where a rising function crosses 0, by bisection to the last bits: no start-up, no
    surprise. In the unit of its argument."""
    while True:
        middle = (low + high) / 2
        if not low < middle < high:
            return middle
        if rising(middle) < 0:
            low = middle
        else:
            high = middle
