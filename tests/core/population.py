"""Frames at large, built up of bodies: hoop, shafts, handle, strings; face, guard, handle of a paddle.

What they read follows from sums over the bodies and from nothing else, so that it owes nothing to the
proportions by which the code under test tells a slip.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from kentrobar.core.body.sport import Sport


class Reading(NamedTuple):
    """Static weight g, balance cm, swing weight about ``axis_cm`` and twist weight, kg·cm²."""

    mass_g: float
    balance_cm: float
    swingweight_kgcm2: float
    axis_cm: float
    twistweight_kgcm2: float


class Built(NamedTuple):
    """A frame as many grains: mass g, from the butt cm, from the long axis cm."""

    sport: Sport
    length_cm: float
    grains: np.ndarray  # (n, 3)

    def with_grains(self, *more: tuple[float, float, float]) -> Built:
        """With further grains on it; a negative mass is one taken off."""
        return self._replace(grains=np.concatenate([self.grains, np.array(more).reshape(-1, 3)]))

    def read(self, axis_cm: float) -> Reading:
        mass, y, x = self.grains.T
        return Reading(
            mass.sum(), mass @ y / mass.sum(), mass @ (y - axis_cm) ** 2 / 1000, axis_cm, mass @ x**2 / 1000
        )


def _along(mass: float, y: np.ndarray, x: np.ndarray, thicker: float = 0.0) -> np.ndarray:
    """A mass spread over points; ``thicker`` is how much more lies at the far ones than at the near."""
    toward = (y - y.mean()) / (np.ptp(y) or 1.0)
    weights = 1 + thicker * toward
    return np.column_stack([mass * weights / weights.sum(), y, x])


def racket(random: np.random.Generator, length: float) -> Built:
    """Hoop with its bumper, shafts, handle with grip and cap, strings; lighter where it is short."""
    u = random.uniform
    heft = u(0.93, 1.06) if length > 68 else (length / 68.58) ** 1.6 * u(0.94, 1.04)
    half_high, half_wide = u(0.245, 0.255) * length, u(12.3, 13.4) * (length / 68.58) ** 0.5
    middle = length - half_high
    turn = np.linspace(0, 2 * np.pi, 121)[:-1]
    rim = (middle + half_high * np.cos(turn), half_wide * np.sin(turn))
    down = np.linspace(0.24 * length, middle - half_high, 12)
    spread = np.linspace(1.4, 5.5, 12)
    handle = np.linspace(0.5, 0.25 * length, 16)
    bed = np.linspace(-0.95, 0.95, 20)
    across, up = (half_wide * bed, middle + half_high * bed)
    inside = np.array(
        [(y, x) for y in up for x in across if ((y - middle) / half_high) ** 2 + (x / half_wide) ** 2 < 1]
    ).T
    parts = [
        _along(heft * u(127, 139), *rim, u(-0.3, 0.3)),
        _along(heft * u(5, 8), middle + half_high * np.cos(turn[:12]), half_wide * np.sin(turn[:12])),
        _along(heft * u(13, 17), down, spread),
        _along(heft * u(13, 17), down, -spread),
        _along(heft * u(98, 118), handle, np.full(16, 1.2), u(-0.7, 0.1)),
        _along(u(6, 16), np.array([0.4, 1.2]), np.zeros(2)),
        _along(u(15.5, 18.0), *inside),
    ]
    return Built(Sport.TENNIS, length, np.concatenate(parts))


def junior(random: np.random.Generator) -> Built:
    """From 17 in for small children up to 26 in, hoop and handle cut down together."""
    return racket(random, random.choice([43.2, 48.3, 53.3, 58.4, 63.5, 66.0]))


def tail_weighted(random: np.random.Generator) -> Built:
    """A racket with much lead and putty in its handle, and some at the tip to go with it."""
    u, frame = random.uniform, racket(random, 68.58)
    tail = [(u(20, 36), u(2, 9), 1.0), (u(8, 20), u(10, 16), 1.4)]
    return frame.with_grains(*tail, (u(0, 6), 67.5, 0.0))


def old_heavy(random: np.random.Generator) -> Built:
    """Of wood, with a small thick hoop, solid shafts and a solid handle."""
    u, length = random.uniform, 68.58
    turn = np.linspace(0, 2 * np.pi, 121)[:-1]
    half_high, half_wide = u(13.5, 14.5), u(10.5, 11.5)
    middle = length - half_high
    down = np.linspace(30.0, middle - half_high, 14)
    handle = np.linspace(0.5, 30.0, 20)
    bed = np.linspace(-0.6, 0.6, 8)
    parts = [
        _along(u(132, 146), middle + half_high * np.cos(turn), half_wide * np.sin(turn)),
        _along(u(42, 55), down, np.full(14, 1.6)),
        _along(u(178, 200), handle, np.full(20, 1.3), u(-0.5, -0.1)),
        _along(u(12, 16), middle + half_high * np.repeat(bed, 8), half_wide * np.tile(bed, 8)),
    ]
    return Built(Sport.TENNIS, length, np.concatenate(parts))


def oversize(random: np.random.Generator) -> Built:
    """A light game-improvement racket: a large hoop that holds most of its weight, a hollow handle."""
    u, length = random.uniform, random.choice([68.58, 69.9, 71.1])
    frame = racket(random, length)
    grip = frame.grains[:, 1] < 0.26 * length
    light = frame.grains.copy()
    light[grip, 0] *= u(0.58, 0.72)
    light[~grip, 0] *= u(0.88, 0.95)
    light[~grip, 2] *= u(1.03, 1.10)
    return frame._replace(grains=light)


def paddle(random: np.random.Generator, length: float) -> Built:
    """Face plate and core with its edge guard, handle core, grip and cap."""
    u = random.uniform
    handle_length, wide = u(0.31, 0.345) * length, u(18.7, 20.2)
    y = np.linspace(handle_length - 1.5, length, 25)
    taper = np.minimum(1.0, 0.55 + (y - y[0]) / 12)
    plate = np.array(
        [
            (at, half * side)
            for at, half in zip(y, taper * wide / 2, strict=True)
            for side in np.linspace(-0.97, 0.97, 15)
        ]
    ).T
    edge_y = np.concatenate([y, y, np.full(15, length)])
    edge_x = np.concatenate([taper * wide / 2, -taper * wide / 2, wide / 2 * np.linspace(-1, 1, 15)])
    handle = np.linspace(0.3, handle_length, 12)
    parts = [
        _along(u(156, 180), *plate, u(-0.15, 0.15)),
        _along(u(12, 17), edge_y, edge_x),
        _along(u(27, 38), handle, np.full(12, 1.2)),
        _along(u(2, 7), np.array([0.4, 1.2]), np.zeros(2)),
    ]
    return Built(Sport.PICKLEBALL, length, np.concatenate(parts))
