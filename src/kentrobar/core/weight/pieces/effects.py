"""What a body adds to the moments of a frame, and how surely.

An ``Effect`` is the body's moments, and their covariance from what is unknown about it alone (mass,
length, place). Unknowns that several pieces share (the density of one roll) stand apart under a key, as
what one standard deviation does, so that they add up before they are squared.
"""

from __future__ import annotations

from collections.abc import Hashable
from operator import add, mul
from typing import Final, NamedTuple

from kentrobar.core.body.moments import Moments
from kentrobar.core.quantities.estimates import PAIRS, Covariance, Vector, covariance_of

# Factors of the covariances of a body with its mirror image: those of X with the rest cancel.
_WITH_IMAGE: Final = tuple(0.0 if (i == 4) != (j == 4) else 2.0 for i, j in PAIRS)


OF_ITSELF: Final = "of itself"  # key of what the strips of one piece share, and no other piece


class Effect(NamedTuple):
    """What a body adds: moments, their covariance, and the deviations shared by key."""

    moments: Moments
    covariance: Covariance
    shared: dict[Hashable, Vector]
    overlaps: bool = False  # the two strips of a mirrored pair lie on each other

    @property
    def centre_cm(self) -> float:
        """Distance of its centre of mass from the butt, cm."""
        return self.moments.first_y / self.moments.mass

    def several(self, count: int) -> Effect:
        """So many such bodies, cut and laid apart: variances add up, shared deviations too."""
        return Effect(
            self.moments.times(count),
            tuple([count * c for c in self.covariance]),
            {key: scaled(vector, count) for key, vector in self.shared.items()},
            self.overlaps,
        )

    def with_image(self) -> Effect:
        """The body with its mirror image: all doubles but what goes with X, which cancels."""
        m = self.moments
        return Effect(
            Moments(2 * m[0], 2 * m[1], 2 * m[2], 2 * m[3], 0.0),
            tuple(map(mul, self.covariance, _WITH_IMAGE)),
            {key: (2 * m, 2 * s, 2 * a, 2 * t, 0.0) for key, (m, s, a, t, _) in self.shared.items()},
            self.overlaps,
        )

    def settled(self) -> Effect:
        """With what only its own strips share counted, now that all of them are there."""
        if OF_ITSELF not in self.shared:
            return self
        others = dict(self.shared)
        own = covariance_of([others.pop(OF_ITSELF)])
        return self._replace(covariance=tuple(map(add, self.covariance, own)), shared=others)

    def taken_away(self) -> Effect:
        """The same body, taken off a frame."""
        return self._replace(
            moments=self.moments.times(-1.0),
            shared={key: scaled(vector, -1.0) for key, vector in self.shared.items()},
        )


def scaled(v: Vector | Moments, factor: float) -> Vector:
    """A vector of moments times a number."""
    a, b, c, d, e = v
    return (a * factor, b * factor, c * factor, d * factor, e * factor)


def combined(v: Vector | Moments, f: float, w: Vector | Moments, g: float) -> Vector:
    """The linear combination f·v + g·w of two vectors of moments."""
    return (
        v[0] * f + w[0] * g,
        v[1] * f + w[1] * g,
        v[2] * f + w[2] * g,
        v[3] * f + w[3] * g,
        v[4] * f + w[4] * g,
    )
