"""The frames of a set as points of two specs, with the box of the target that a hand drags."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Final, NamedTuple

from kentrobar.core.body.specs import (
    AIMED_BY_KEY,
    BALANCE,
    POINTS,
    RECOIL_WEIGHT,
    STATIC_WEIGHT,
    SWING_WEIGHT,
    TWIST_WEIGHT,
)
from kentrobar.core.quantities.units import CM_PER_POINT, points_headlight
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.numbers import ShownSpec, Units, shown_specs, written
from kentrobar.web.matching.prepared import PreparedFrame

WIDTH, HEIGHT = 520.0, 340.0
LEFT, RIGHT, TOP, BOTTOM = 58.0, 14.0, 14.0, 44.0
SMALLEST_R, LARGEST_R = 5.0, 11.0
_MARGIN: Final = 0.25  # of the span, on either side
_LEAST_TOLERANCES: Final = 4.0  # that a picture shows, so that its box is never a dot
_PAIRS: Final = ((BALANCE.key, SWING_WEIGHT.key), (STATIC_WEIGHT.key, TWIST_WEIGHT.key))
_LABEL_GAP: Final = 13.0
# More lie over each other; a point then tells its frame when it is pointed at.
MOST_LABELS: Final = 20
_Turn = Callable[[float], float]


class Scale(NamedTuple):
    """One axis of the picture: from a spec's base unit to the picture, and to the person's unit."""

    key: str
    low: float
    high: float
    start: float
    end: float

    def at(self, value: float) -> float:
        """Where a value lies in the picture."""
        part = (value - self.low) / (self.high - self.low)
        return round(self.start + part * (self.end - self.start), 2)

    @property
    def per_unit(self) -> float:
        """Of the picture for one base unit."""
        return (self.end - self.start) / (self.high - self.low)


@dataclass(frozen=True, slots=True)
class PointLabel:
    """Where the name of a point is written, and which of its ends is there."""

    x: float
    y: float
    anchor: str


@dataclass(frozen=True, slots=True)
class FramePoint:
    """One frame in the picture: the larger, the heavier."""

    frame: Frame
    is_out: bool
    x: float
    y: float
    r: float
    label: PointLabel | None = None


@dataclass(frozen=True, slots=True)
class TargetBox:
    """The box of the target, with its centre."""

    cx: float
    cy: float
    x: float
    y: float
    width: float
    height: float


@dataclass(frozen=True, slots=True)
class AxisTick:
    """A round number along an axis."""

    at: float
    text: str


@dataclass(frozen=True, slots=True)
class SetPicture:
    """The frames of a set by two specs."""

    x: Scale
    y: Scale
    across: ShownSpec
    up: ShownSpec
    points: list[FramePoint]
    box: TargetBox | None
    x_ticks: list[AxisTick]
    y_ticks: list[AxisTick]
    width: float = WIDTH
    height: float = HEIGHT
    left: float = LEFT
    right: float = WIDTH - RIGHT
    top: float = TOP
    bottom: float = HEIGHT - BOTTOM


def pictures(
    frames: Sequence[PreparedFrame],
    target: Mapping[str, float],
    reach: Mapping[str, float],
    units: Units,
    length_cm: float,
) -> list[SetPicture]:
    """Balance against swing weight, and static weight against twist weight where both are known of some.

    Recoil weight stands in the place of swing weight where it is that which is to be alike.
    """
    shown = {spec.read_key: spec for spec in shown_specs(units)}
    is_by_inertia = RECOIL_WEIGHT.key in reach and SWING_WEIGHT.key not in reach
    drawn = []
    for across, up in _PAIRS:
        if up == SWING_WEIGHT.key and is_by_inertia:
            up = RECOIL_WEIGHT.key
        known = [e for e in frames if across in e.values and up in e.values]
        if len(known) > 1:
            pair = (shown[across], shown[up])
            drawn.append(_picture(known, pair, target, reach, length_cm))
    return drawn


def _picture(
    frames: Sequence[PreparedFrame],
    pair: tuple[ShownSpec, ShownSpec],
    target: Mapping[str, float],
    reach: Mapping[str, float],
    length_cm: float,
) -> SetPicture:
    across, up = pair
    x = _scale(across.read_key, frames, target, reach, LEFT, WIDTH - RIGHT)
    y = _scale(up.read_key, frames, target, reach, HEIGHT - BOTTOM, TOP)
    return SetPicture(
        x,
        y,
        across,
        up,
        _points(frames, x, y),
        _box(x, y, target, reach),
        _ticks(x, across, length_cm),
        _ticks(y, up, length_cm),
    )


def _scale(
    key: str,
    frames: Sequence[PreparedFrame],
    target: Mapping[str, float],
    reach: Mapping[str, float],
    start: float,
    end: float,
) -> Scale:
    give = reach.get(key, 0.0)
    values = [each.values[key] for each in frames]
    if key in target:
        values += [target[key] - give, target[key] + give]
    low, high = min(values), max(values)
    span = max(
        (high - low) * (1 + 2 * _MARGIN), 2 * _LEAST_TOLERANCES * give, 2 * AIMED_BY_KEY[key].tolerance
    )
    middle = (low + high) / 2
    return Scale(key, middle - span / 2, middle + span / 2, start, end)


def _points(frames: Sequence[PreparedFrame], x: Scale, y: Scale) -> list[FramePoint]:
    masses = [each.values["mass_g"] for each in frames]
    least, most = min(masses), max(masses)
    points = []
    for each, mass in zip(frames, masses, strict=True):
        part = (mass - least) / (most - least) if most > least else 0.5
        radius = round(SMALLEST_R + part * (LARGEST_R - SMALLEST_R), 1)
        at = x.at(each.values[x.key]), y.at(each.values[y.key])
        points.append(FramePoint(each.frame, not each.is_ready, *at, radius))
    return list(_labelled(points)) if len(points) <= MOST_LABELS else points


def _labelled(points: Iterable[FramePoint]) -> Iterator[FramePoint]:
    """With labels beside their points, each below the one before where they would lie over each other."""
    taken: list[tuple[float, float]] = []
    for point in sorted(points, key=lambda p: p.y):
        is_right = point.x < WIDTH * 0.68
        at = point.y + 4
        while any(abs(at - y) < _LABEL_GAP and abs(point.x - x) < 150 for x, y in taken):
            at += 3
        taken.append((point.x, at))
        beside = round(point.x + (point.r + 5) * (1 if is_right else -1), 1)
        yield replace(point, label=PointLabel(beside, round(at, 1), "start" if is_right else "end"))


def _box(x: Scale, y: Scale, target: Mapping[str, float], reach: Mapping[str, float]) -> TargetBox | None:
    if x.key not in target or y.key not in target:
        return None
    wide = abs(x.per_unit) * reach.get(x.key, 0.0)
    high = abs(y.per_unit) * reach.get(y.key, 0.0)
    cx, cy = x.at(target[x.key]), y.at(target[y.key])
    corner = round(cx - wide, 2), round(cy - high, 2)
    return TargetBox(cx, cy, *corner, width=round(2 * wide, 2), height=round(2 * high, 2))


def _ticks(scale: Scale, spec: ShownSpec, length_cm: float) -> list[AxisTick]:
    """Round numbers of the person's unit along an axis; points count down toward the tip."""
    to_shown, to_base = _turned(spec, length_cm)
    low, high = sorted((to_shown(scale.low), to_shown(scale.high)))
    return [AxisTick(scale.at(to_base(value)), text) for value, text in _round_between(low, high)]


def _turned(spec: ShownSpec, length_cm: float) -> tuple[_Turn, _Turn]:
    """From a spec's base unit to what is shown, and back."""
    if spec.key == POINTS.key:
        return (
            lambda cm: points_headlight(cm, length_cm),
            lambda points: length_cm / 2 - points * CM_PER_POINT,
        )
    return lambda base: base * spec.factor, lambda shown: shown / spec.factor


def _round_between(low: float, high: float) -> list[tuple[float, str]]:
    step = 10 ** math.floor(math.log10((high - low) / 3))
    step *= next(f for f in (1, 2, 5, 10) if (high - low) / (step * f) <= 6)
    decimals = max(0, -math.floor(math.log10(step) + 1e-9))
    first = math.ceil(low / step)
    return [(i * step, written(i * step, decimals)) for i in range(first, math.floor(high / step) + 1)]
