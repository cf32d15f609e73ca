"""What a hit does: effective mass, rebound, ball speed and twist at a point of the face.

A hit lasts some milliseconds, too short for the hands to matter: the frame answers as a free body. At (x, y)
it is as heavy as a point of mass Me with 1/Me = 1/M + (y - b)²/Icm + x²/TW, and against such a point a ball
rebounds with the apparent coefficient eA = (e - m/Me)/(1 + m/Me). Weight on one side alone moves the balance
point aside and couples both turns by the product of inertia P = ∫(x - x0)(y - b) dm: 1/Me = 1/M + (TW·(y -
b)² - 2·P·(x - x0)·(y - b) + Icm·(x - x0)²)/(Icm·TW - P²). Where the face comes with speed V and the ball with
u toward it, the ball leaves with (1 + eA)·V + eA·u. Source: R. Cross, "Impact of a ball with a bat or
racket", American Journal of Physics 67 (1999); H. Brody, R. Cross and C. Lindsey, The Physics and Technology
of Tennis. Not in it: how the frame bends, and its drag in the air, which slows the swing itself.

Lengths in cm, masses in g, inertia in kg·cm², speeds in m/s. Points may be arrays of one shape.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property
from operator import add
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from kentrobar.core.body.moments import Moments
from kentrobar.core.body.specs import BALANCE, RECOIL_WEIGHT, STATIC_WEIGHT, SWING_WEIGHT, TWIST_WEIGHT
from kentrobar.core.quantities.errors import SpecError
from kentrobar.core.quantities.estimates import PAIRS, Covariance, Estimate, covariance_of
from kentrobar.core.quantities.units import GCM2_PER_KGCM2
from kentrobar.core.weight.prediction import Prediction

Array = NDArray[np.float64]
Places = Array | float

CM_PER_M: Final = 100.0
ROUNDING: Final = 1e-9  # of what lies evenly about the long axis
LEAST_ARM_CM: Final = 0.1  # of the balance point about the axis: nearer, no swing has a speed there


class Fall(NamedTuple):
    """By which part restitution is less at the frame than at the middle of the face.

    It falls with the square of the distance, in parts of half the face's width and height, cm.
    """

    part: float = 0.0
    centre_y_cm: float = 0.0
    half_width_cm: float = 1.0
    half_height_cm: float = 1.0

    def terms(self, y_cm: Places) -> tuple[Array, float]:
        """Which part of the restitution is left at a height, as a constant and a factor of x²."""
        along = (np.asarray(y_cm) - self.centre_y_cm) / self.half_height_cm
        return np.asarray(1 - self.part * along**2), -self.part / self.half_width_cm**2


EVEN: Final = Fall()


class Ball(NamedTuple):
    """What comes: its mass, its restitution off the middle of a face held still, its speed toward it, m/s."""

    mass_g: float
    restitution: float
    speed_ms: float
    fall: Fall = EVEN

    def restitution_at(self, x_cm: Places, y_cm: Places) -> Array:
        """Its restitution off a place of the face held still, 0 to 1."""
        constant, square = self.fall.terms(y_cm)
        return np.asarray(self.restitution * (constant + square * np.asarray(x_cm) ** 2))


class StrokeSwing(NamedTuple):
    """How the frame comes: the speed of its balance point, m/s, about an axis so far from the butt."""

    speed_ms: float
    axis_cm: float


@dataclass(frozen=True)
class FreeBody:
    """What a hit knows of a frame; its inertias and their product are about the centre of mass.

    That lies ``offset_cm`` to the right of the long axis, and ``product_kgcm2`` couples both turns, where
    weight lies on one side alone.
    """

    mass_g: float
    balance_cm: float
    recoil_kgcm2: float
    twistweight_kgcm2: float
    offset_cm: float = 0.0
    product_kgcm2: float = 0.0

    @property
    def is_even(self) -> bool:
        """Whether it is alike on both sides."""
        return max(abs(self.offset_cm), abs(self.product_kgcm2)) < ROUNDING

    @property
    def _turns(self) -> float:
        """Icm·TW - P², in g²·cm⁴."""
        return GCM2_PER_KGCM2**2 * (self.recoil_kgcm2 * self.twistweight_kgcm2 - self.product_kgcm2**2)

    def effective_mass_g(self, x_cm: Places, y_cm: Places) -> Array:
        """How heavy the frame is to a ball there; M at the balance point, less everywhere else."""
        return np.asarray(1 / self._per_gram(x_cm, y_cm))

    def _per_gram(self, x_cm: Places, y_cm: Places) -> Array:
        """1/Me, g⁻¹."""
        constant, slope, square = self.per_gram_terms(y_cm)
        x = np.asarray(x_cm)
        return np.asarray(constant + x * (slope + square * x))

    def per_gram_terms(self, y_cm: Places) -> tuple[Array, Array, float]:
        """1/Me at a height, g⁻¹, as a constant and the factors of x and x², x in cm."""
        scale = GCM2_PER_KGCM2 / self._turns
        along, aside = np.asarray(y_cm) - self.balance_cm, self.offset_cm
        square = scale * self.recoil_kgcm2
        constant = 1 / self.mass_g + along * (
            scale * self.twistweight_kgcm2 * along + 2 * scale * self.product_kgcm2 * aside
        )
        slope = -2 * scale * self.product_kgcm2 * along - 2 * square * aside
        return np.asarray(constant + square * aside**2), np.asarray(slope), square

    def apparent_restitution(self, ball: Ball, x_cm: Places, y_cm: Places) -> Array:
        """The ratio of its speed that a ball keeps off the frame at rest; below 0 it goes on the way it came."""
        ratio = ball.mass_g * self._per_gram(x_cm, y_cm)
        return np.asarray((ball.restitution_at(x_cm, y_cm) - ratio) / (1 + ratio))

    def face_speed_ms(self, swing: StrokeSwing, y_cm: Places) -> Array:
        """How fast the face comes at a height."""
        arm = np.asarray(y_cm) - swing.axis_cm
        return np.asarray(swing.speed_ms * arm / (self.balance_cm - swing.axis_cm))

    def ball_speed_ms(self, ball: Ball, swing: StrokeSwing, x_cm: Places, y_cm: Places) -> Array:
        """How fast the ball leaves."""
        rebound = self.apparent_restitution(ball, x_cm, y_cm)
        return np.asarray((1 + rebound) * self.face_speed_ms(swing, y_cm) + rebound * ball.speed_ms)

    def twist_rad_s(self, ball: Ball, swing: StrokeSwing, x_cm: Places, y_cm: Places) -> Array:
        """How fast a hit beside the long axis twists the frame, rad/s; positive where x is."""
        ratio = ball.mass_g * self._per_gram(x_cm, y_cm)
        meeting_cms = CM_PER_M * (ball.speed_ms + self.face_speed_ms(swing, y_cm))
        impulse = ball.mass_g * (1 + ball.restitution_at(x_cm, y_cm)) * meeting_cms / (1 + ratio)
        across, along = np.asarray(x_cm) - self.offset_cm, np.asarray(y_cm) - self.balance_cm
        lever = GCM2_PER_KGCM2 * (self.recoil_kgcm2 * across - self.product_kgcm2 * along) / self._turns
        return np.asarray(impulse * lever)

    def percussion_cm(self, axis_cm: float) -> float:
        """Where a hit does not move a hand that holds the frame at ``axis_cm`` from the butt."""
        arm = self.balance_cm - axis_cm
        return self.balance_cm + GCM2_PER_KGCM2 * self.recoil_kgcm2 / (self.mass_g * arm)


@dataclass(frozen=True)
class HitFrame:
    """A frame as a hit knows it, and how surely: its moments with their covariance.

    ``is_twist_taken`` where nobody read the twist weight and a usual one was taken.
    """

    moments: Moments
    covariance: Covariance
    is_twist_taken: bool = False
    product_gcm2: float = 0.0  # ∫xy dm of what lies on one side alone

    @cached_property
    def body(self) -> FreeBody:
        """What it most likely is."""
        return _body_of(self.moments, self.product_gcm2)

    def estimates(self, values: Callable[[FreeBody], Sequence[float]]) -> list[Estimate]:
        """What is told of the body, each in its own unit with its ± by first differences over the moments."""
        us = [math.sqrt(self.covariance[PAIRS.index((i, i))]) for i in range(len(self.moments))]
        found = np.array(values(self.body), dtype=float)
        slopes = self.slopes(values, us)
        variance = sum(
            (1 if i == j else 2) * slopes[i] * slopes[j] * c
            for (i, j), c in zip(PAIRS, self.covariance, strict=True)
        )
        spreads = np.sqrt(np.maximum(variance, 0.0))
        return [Estimate(float(v), float(u)) for v, u in zip(found, spreads, strict=True)]

    def slopes(self, values: Callable[[FreeBody], Sequence[float]], steps: Sequence[float]) -> Array:
        """By how much each value, in its base unit, grows with each moment, a row each, by differences of ``steps``.

        0 for a moment whose step is 0.
        """
        rows = [np.zeros(len(values(self.body)))] * len(steps)
        for i, step in enumerate(steps):
            if step > 0:
                more, less = (
                    np.array(values(_body_of(_moved(self.moments, i, by), self.product_gcm2)))
                    for by in (step, -step)
                )
                rows[i] = (more - less) / (2 * step)
        return np.array(rows)


def _moved(moments: Moments, at: int, by: float) -> Moments:
    return Moments(*(m + by * (i == at) for i, m in enumerate(moments)))


def _body_of(m: Moments, product_gcm2: float) -> FreeBody:
    about_centre = (product_gcm2 - m.first_x * m.first_y / m.mass) / GCM2_PER_KGCM2
    return FreeBody(
        m.mass, m.balance_cm, m.recoil_kgcm2, m.twistweight_kgcm2, m.first_x / m.mass, about_centre
    )


def hit_frame(
    prediction: Prediction, usual_twist: Estimate | None = None, *, product_gcm2: float = 0.0
) -> HitFrame:
    """A frame with what a plan lays on it; ``usual_twist`` (kg·cm²) may stand for one that nobody read.

    ``product_gcm2`` is the product of inertia of what is on it (:func:`product_of_inertia_gcm2`).

    Raises:
        SpecError: one of its specs is not known; ``field`` is its key.
    """
    moments, covariance, is_taken = prediction.moments, prediction.covariance, False
    for spec in (STATIC_WEIGHT, BALANCE, RECOIL_WEIGHT, TWIST_WEIGHT):
        if prediction.after.of(spec):
            continue
        if spec is TWIST_WEIGHT and usual_twist is not None:
            is_taken = True
            moments = moments._replace(second_xz=moments.second_xz + GCM2_PER_KGCM2 * usual_twist.value)
            taken = covariance_of([(0.0, 0.0, 0.0, GCM2_PER_KGCM2 * usual_twist.u, 0.0)])
            covariance = tuple(map(add, covariance, taken))
            continue
        wanted = SWING_WEIGHT if spec is RECOIL_WEIGHT else spec
        raise SpecError(
            f"The response map needs the {wanted.noun}. Measure it first.",
            code="not_measured",
            field=wanted.key,
        )
    return HitFrame(moments, covariance, is_taken, product_gcm2)


def require_swing(body: FreeBody, swing: StrokeSwing) -> None:
    """Refuse a swing about the balance point, which then has no speed. Raises SpecError."""
    if abs(body.balance_cm - swing.axis_cm) < LEAST_ARM_CM:
        raise SpecError(
            "The swing turns about the balance point itself; give an axis in the handle.",
            code="no_arm",
            field="axis_cm",
        )
