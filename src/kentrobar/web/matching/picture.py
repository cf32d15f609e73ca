"""The frames of a set as points of two specs, with the box of the target that a hand drags."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
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
    Specs,
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
_LABEL_SHIFTS: Final = (0.0, 13.0, -13.0, 26.0, -26.0, 39.0, -39.0)
_LETTER, _COST_WIDTH = 6.3, 46.0
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


SMALL_WIDTH, SMALL_HEIGHT, SMALL_MARGIN = 300.0, 170.0, 22.0


class Move(NamedTuple):
    """Where a frame is before and after its plan."""

    name: str
    x: float
    y: float
    to_x: float
    to_y: float


@dataclass(frozen=True, slots=True)
class BeforeAfter:
    """What a way does to the frames of a set, by two specs: from where to where, and the target's box."""

    across: ShownSpec
    up: ShownSpec
    moves: list[Move]
    box: TargetBox | None
    width: float = SMALL_WIDTH
    height: float = SMALL_HEIGHT


def before_after(
    frames: Sequence[PreparedFrame],
    after: Mapping[int, Specs],
    target: Mapping[str, float],
    reach: Mapping[str, float],
    units: Units,
) -> BeforeAfter | None:
    """The first pair of specs that is known of all frames; None where there is none."""
    shown = {spec.read_key: spec for spec in shown_specs(units)}
    planned = [each for each in frames if each.frame.pk in after]
    for across, up in ((BALANCE.key, SWING_WEIGHT.key), (BALANCE.key, STATIC_WEIGHT.key)):
        if not planned or any(across not in each.values or up not in each.values for each in planned):
            continue
        ends = [_values(after[each.frame.pk], across, up) for each in planned]
        starts = [(each.values[across], each.values[up]) for each in planned]
        x, y = (
            _scale(key, [pair[i] for pair in (*starts, *ends)], target, reach, *edges)
            for i, (key, edges) in enumerate(
                (
                    (across, (SMALL_MARGIN, SMALL_WIDTH - SMALL_MARGIN)),
                    (up, (SMALL_HEIGHT - SMALL_MARGIN, SMALL_MARGIN)),
                )
            )
        )
        moves = [
            Move(each.frame.label, x.at(a), y.at(b), x.at(c), y.at(d))
            for each, (a, b), (c, d) in zip(planned, starts, ends, strict=True)
        ]
        return BeforeAfter(shown[across], shown[up], moves, _box(x, y, target, reach))
    return None


def _values(specs: Specs, *keys: str) -> tuple[float, ...]:
    return tuple(getattr(specs, key).value for key in keys)


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
    x = _scale(
        across.read_key, [each.values[across.read_key] for each in frames], target, reach, LEFT, WIDTH - RIGHT
    )
    y = _scale(
        up.read_key, [each.values[up.read_key] for each in frames], target, reach, HEIGHT - BOTTOM, TOP
    )
    box = _box(x, y, target, reach)
    return SetPicture(
        x,
        y,
        across,
        up,
        _points(frames, x, y, box),
        box,
        _ticks(x, across, length_cm),
        _ticks(y, up, length_cm),
    )


def _scale(
    key: str,
    values: Sequence[float],
    target: Mapping[str, float],
    reach: Mapping[str, float],
    start: float,
    end: float,
) -> Scale:
    give = reach.get(key, 0.0)
    if key in target:
        values = [*values, target[key] - give, target[key] + give]
    low, high = min(values), max(values)
    span = max(
        (high - low) * (1 + 2 * _MARGIN), 2 * _LEAST_TOLERANCES * give, 2 * AIMED_BY_KEY[key].tolerance
    )
    middle = (low + high) / 2
    return Scale(key, middle - span / 2, middle + span / 2, start, end)


def _points(frames: Sequence[PreparedFrame], x: Scale, y: Scale, box: TargetBox | None) -> list[FramePoint]:
    masses = [each.values["mass_g"] for each in frames]
    least, most = min(masses), max(masses)
    points = []
    for each, mass in zip(frames, masses, strict=True):
        part = (mass - least) / (most - least) if most > least else 0.5
        radius = round(SMALLEST_R + part * (LARGEST_R - SMALLEST_R), 1)
        at = x.at(each.values[x.key]), y.at(each.values[y.key])
        points.append(FramePoint(each.frame, not each.is_ready, *at, radius))
    return list(_labelled(points, box)) if len(points) <= MOST_LABELS else points


class _Rectangle(NamedTuple):
    left: float
    top: float
    right: float
    bottom: float

    def covers(self, other: _Rectangle) -> bool:
        """Whether the two lie over each other."""
        return (
            self.left < other.right
            and other.left < self.right
            and self.top < other.bottom
            and other.top < self.bottom
        )


def _labelled(points: Sequence[FramePoint], box: TargetBox | None) -> Iterator[FramePoint]:
    """With labels beside their points, where they cover no point, no other label and not the box."""
    taken = [_Rectangle(p.x - p.r, p.y - p.r, p.x + p.r, p.y + p.r) for p in points]
    if box:
        taken.append(_Rectangle(box.x, box.y, box.x + box.width, box.y + box.height))
    for point in sorted(points, key=lambda p: p.y):
        places = [(side, down) for down in _LABEL_SHIFTS for side in (1, -1)]
        covered = [(sum(_room(point, *place).covers(each) for each in taken), place) for place in places]
        _, (side, down) = min(covered, key=lambda each: each[0])  # the first of the best
        taken.append(_room(point, side, down))
        x, y = point.x + side * (point.r + 5), point.y + 4 + down
        label = PointLabel(round(x, 1), round(y, 1), "start" if side > 0 else "end")
        yield replace(point, label=label)


def _room(point: FramePoint, side: int, down: float) -> _Rectangle:
    """What a label takes, with the grams that a drag writes behind the name."""
    near = point.x + side * (point.r + 4)
    far = near + side * (_LETTER * len(point.frame.label) + _COST_WIDTH)
    left, right = sorted((near, far))
    outside = WIDTH if left < 0 or right > WIDTH else 0.0  # then it covers everything
    middle = point.y + down
    return _Rectangle(left - outside, middle - _LABEL_GAP / 2, right + outside, middle + _LABEL_GAP / 2)


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
