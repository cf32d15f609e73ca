"""The rim of a frame as a line: clock positions, y, arc length and the integrals along it.

A frame is even from left to right, so only the right half of its rim is kept: it starts at the
tip (arc length s = 0) and runs clockwise, down the right side. For each face that tape can lie on
(inner, outer, under the bumper) the rim's mid-line is shifted along its normal by that face's
offset.
"""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Sequence
from enum import StrEnum
from typing import NamedTuple

import numpy as np

from kentrobar.core.frame.clock import CLOCK_MINUTES, clock_text
from kentrobar.core.frame.curves import Run, hermite, horner, knots_of, root
from kentrobar.core.quantities.errors import OutlineError


class Face(StrEnum):
    """Where on the rim a strip lies."""

    INNER = "inner"
    OUTER = "outer"
    BUMPER = "bumper"


class RimPoint(NamedTuple):
    """A point of a rim line, cm: x to the right, y from the butt."""

    x: float
    y: float


class Sums(NamedTuple):
    """Integrals along a stretch of a rim line: ∫ds, ∫y ds, ∫y² ds, ∫x² ds, ∫x ds (cm … cm³)."""

    length: float
    y: float
    yy: float
    xx: float
    x: float


class Over(NamedTuple):
    """A stretch of a rim line: its integrals, and the points (x, y) where it starts and ends, cm."""

    sums: Sums
    first: tuple[float, float]
    last: tuple[float, float]


class RimLine:
    """The line that a strip on one face follows.

    Arc length ``s`` (cm) is 0 at the tip, grows clockwise and is negative on the left side. On a
    closed rim it repeats after ``2 * half_length``; an open one ends at ``±half_length``.
    """

    def __init__(self, runs: Sequence[Run], offset: float, closed: bool, centre_y: float) -> None:
        self.closed = closed
        self.centre_y = centre_y
        starts: list[float] = []
        widths: list[float] = []
        coefficients: list[list[list[float]]] = []
        total = np.zeros(5)
        for run in runs:
            arc, data, run_total = knots_of(run, offset)
            data[0, :4] += total[1:, None]
            starts += (arc[:-1] + total[0]).tolist()
            widths += np.diff(arc).tolist()
            coefficients += hermite(arc, data).transpose(1, 0, 2).tolist()
            total += run_total
        self.half_length = float(total[0])
        self._starts, self._widths, self._coefficients = starts, widths, coefficients
        self._whole = Sums(*map(float, total))
        self._angles = [self._angle_at(s) for s in starts]
        self._end_angle = self._angle_at(self.half_length)

    @property
    def length(self) -> float:
        """Length of the whole line, both sides, cm."""
        return 2 * self.half_length

    # -- look-ups -------------------------------------------------------------------

    def _locate(self, s: float) -> tuple[list[list[float]], float]:
        index = max(bisect_right(self._starts, s) - 1, 0)
        return self._coefficients[index], (s - self._starts[index]) / self._widths[index]

    def point(self, s: float) -> RimPoint:
        """The point at arc length ``s``; raises OutlineError beyond the end of an open rim."""
        s = self.wrap(s)
        (*_, cx, cy), u = self._locate(abs(s))
        return RimPoint(math.copysign(horner(cx, u), s), horner(cy, u))

    def wrap(self, s: float) -> float:
        """The same place with ``s`` in [-half_length, half_length]."""
        half = self.half_length
        if -half <= s <= half:
            return s
        if not self.closed:
            if abs(s) < half + 1e-9:
                return math.copysign(half, s)
            raise OutlineError(
                "This place is beyond the end of the rim, where the handle begins.",
                code="beyond_rim",
                field="at",
            )
        return (s + half) % (2 * half) - half

    def sums(self, start: float, end: float) -> Sums:
        """Integrals over the stretch from ``start`` to ``end`` (≤), cm … cm³. Raises as :meth:`over`."""
        return self.over(start, end).sums

    def over(self, start: float, end: float) -> Over:
        """Integrals over the stretch from ``start`` to ``end`` (start ≤ end), and its two ends.

        Raises:
            OutlineError: the stretch is longer than the rim or leaves an open one.
        """
        if end - start > self.length + 1e-9:
            raise OutlineError(
                f"A strip of {end - start:.1f} cm is longer than the rim ({self.length:.1f} cm); "
                "shorten it, or use several layers.",
                code="longer_than_rim",
                field="length_cm",
            )
        if not self.closed and (start < -self.half_length - 1e-9 or end > self.half_length + 1e-9):
            raise OutlineError(
                "The strip reaches past the end of the rim into the handle; "
                "shorten it or move it toward the tip.",
                code="beyond_rim",
                field="length_cm",
            )
        y1, yy1, xx1, x1, last = self._from_tip(end)
        y0, yy0, xx0, x0, first = self._from_tip(start)
        return Over(Sums(end - start, y1 - y0, yy1 - yy0, xx1 - xx0, x1 - x0), first, last)

    def _from_tip(self, s: float) -> tuple[float, float, float, float, tuple[float, float]]:
        """Integrals from the tip to ``s``, and the point there; even integrands make them odd in s."""
        rounds = 0
        if self.closed and abs(s) > self.half_length:
            rounds = math.floor((s + self.half_length) / (2 * self.half_length))
            s -= 2 * self.half_length * rounds
        polynomials, u = self._locate(abs(s))
        y, yy, xx, x, at_x, at_y = [
            ((((f * u + e) * u + d) * u + c) * u + b) * u + a for a, b, c, d, e, f in polynomials
        ]
        if s < 0:
            y, yy, xx, at_x = -y, -yy, -xx, -at_x
        if rounds:
            whole = 2 * rounds
            y += whole * self._whole.y
            yy += whole * self._whole.yy
            xx += whole * self._whole.xx
        return y, yy, xx, x, (at_x, at_y)

    # -- clock and height -------------------------------------------------------------

    def _angle_at(self, s: float) -> float:
        (*_, cx, cy), u = self._locate(s)
        return math.atan2(horner(cx, u), horner(cy, u) - self.centre_y)

    def at_clock(self, minutes: float) -> float:
        """Arc length at a clock position in minutes of the 12-hour face (3:00 is 180).

        Raises:
            OutlineError: an open rim has no such place (the handle is there).
        """
        side = (minutes + CLOCK_MINUTES / 2) % CLOCK_MINUTES - CLOCK_MINUTES / 2
        angle = abs(side) * (2 * math.pi / CLOCK_MINUTES)
        s = self._at_angle(angle)
        if s > self.half_length + 1e-6:
            raise OutlineError(
                f"There is no rim at {clock_text(minutes)}: the handle is there.",
                code="no_rim_there",
                field="at",
            )
        s = min(max(s, 0.0), self.half_length)
        return -s if side < 0 else s

    def _at_angle(self, angle: float) -> float:
        """Arc length where the ray at ``angle`` from the tip's direction meets the rim."""
        index = min(bisect_right(self._angles, angle), len(self._starts)) - 1
        begin, width = self._angles[index], self._widths[index]
        end = self._angles[index + 1] if index + 1 < len(self._angles) else self._end_angle
        u = (angle - begin) / (end - begin)
        *_, x, y = self._coefficients[index]
        sine, cosine = math.sin(angle), math.cos(angle)
        # The line through the head's middle at this angle crosses the rim where one polynomial is 0.
        a, b, c, d, e, f = [cx * cosine - cy * sine for cx, cy in zip(x, y, strict=True)]
        a += self.centre_y * sine
        for _ in range(20):  # Newton's method; two rounds are usual
            miss = ((((f * u + e) * u + d) * u + c) * u + b) * u + a
            step = miss / ((((5 * f * u + 4 * e) * u + 3 * d) * u + 2 * c) * u + b)
            u -= step
            if abs(step) < 1e-7:  # it converges quadratically: what is left is below 1e-13
                break
        return self._starts[index] + u * width

    def clock_at(self, s: float) -> float:
        """The clock position in minutes (0 ≤ … < 720) at arc length ``s``."""
        s = self.wrap(s)
        minutes = self._angle_at(abs(s)) * CLOCK_MINUTES / (2 * math.pi)
        return (-minutes if s < 0 else minutes) % CLOCK_MINUTES

    def at_y(self, y_cm: float) -> float:
        """Arc length on the right side at distance ``y_cm`` from the butt, cm.

        Raises:
            OutlineError: the rim does not reach there.
        """
        top, bottom = self.point(0.0).y, self.point(self.half_length).y
        if not bottom - 1e-9 <= y_cm <= top + 1e-9:
            raise OutlineError(
                f"{y_cm:.1f} cm from the butt is not on this rim, which reaches from "
                f"{bottom:.1f} to {top:.1f} cm.",
                code="not_on_rim",
                field="at",
            )
        if y_cm >= top:
            return 0.0
        if y_cm <= bottom:
            return self.half_length
        return root(lambda s: y_cm - self.point(s).y, 0.0, self.half_length)

    def polyline(self, start: float, end: float, spacing: float = 0.4) -> list[RimPoint]:
        """Points along the line from ``start`` to ``end``, about ``spacing`` cm apart."""
        count = max(2, math.ceil(abs(end - start) / spacing) + 1)
        return [self.point(start + (end - start) * i / (count - 1)) for i in range(count)]
