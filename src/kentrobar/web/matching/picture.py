"""The frames of a set as points of two specs, with the box of the target that a hand drags."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from typing import Any, Final, NamedTuple

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


def pictures(
    frames: Sequence[PreparedFrame], target: Mapping[str, float], reach: Mapping[str, float],
    units: Units, length_cm: float,
) -> list[dict[str, Any]]:  # fmt: skip
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
    frames: Sequence[PreparedFrame], pair: tuple[ShownSpec, ShownSpec], target: Mapping[str, float],
    reach: Mapping[str, float], length_cm: float,
) -> dict[str, Any]:  # fmt: skip
    across, up = pair
    x = _scale(across.read_key, frames, target, reach, LEFT, WIDTH - RIGHT)
    y = _scale(up.read_key, frames, target, reach, HEIGHT - BOTTOM, TOP)
    return {
        "x": x, "y": y, "across": across, "up": up, "width": WIDTH, "height": HEIGHT,
        "left": LEFT, "right": WIDTH - RIGHT, "top": TOP, "bottom": HEIGHT - BOTTOM,
        "points": _points(frames, x, y),
        "box": _box(x, y, target, reach),
        "x_ticks": _ticks(x, across, length_cm), "y_ticks": _ticks(y, up, length_cm),
    }  # fmt: skip


def _scale(
    key: str, frames: Sequence[PreparedFrame], target: Mapping[str, float], reach: Mapping[str, float],
    start: float, end: float,
) -> Scale:  # fmt: skip
    give = reach.get(key, 0.0)
    values = [each.values[key] for each in frames]
    if key in target:
        values += [target[key] - give, target[key] + give]
    low, high = min(values), max(values)
    span = max((high - low) * (1 + 2 * _MARGIN), 2 * _LEAST_TOLERANCES * give,
               2 * AIMED_BY_KEY[key].tolerance)  # fmt: skip
    middle = (low + high) / 2
    return Scale(key, middle - span / 2, middle + span / 2, start, end)


def _points(frames: Sequence[PreparedFrame], x: Scale, y: Scale) -> list[dict[str, Any]]:
    masses = [each.values["mass_g"] for each in frames]
    least, most = min(masses), max(masses)
    points = []
    for each, mass in zip(frames, masses, strict=True):
        part = (mass - least) / (most - least) if most > least else 0.5
        points.append({
            "frame": each.frame, "is_out": not each.is_ready, "x": x.at(each.values[x.key]),
            "y": y.at(each.values[y.key]), "r": round(SMALLEST_R + part * (LARGEST_R - SMALLEST_R), 1),
        })  # fmt: skip
    if len(points) <= MOST_LABELS:
        _place_labels(points)
    return points


def _place_labels(points: list[dict[str, Any]]) -> None:
    """Labels beside their points, each below the one before where they would lie over each other."""
    taken: list[tuple[float, float]] = []
    for point in sorted(points, key=lambda p: p["y"]):
        is_right = point["x"] < WIDTH * 0.68
        at = point["y"] + 4
        while any(abs(at - y) < _LABEL_GAP and abs(point["x"] - x) < 150 for x, y in taken):
            at += 3
        taken.append((point["x"], at))
        point["label_y"] = round(at, 1)
        point["label_x"] = round(point["x"] + (point["r"] + 5) * (1 if is_right else -1), 1)
        point["anchor"] = "start" if is_right else "end"


def _box(
    x: Scale, y: Scale, target: Mapping[str, float], reach: Mapping[str, float]
) -> dict[str, float] | None:
    if x.key not in target or y.key not in target:
        return None
    wide = abs(x.per_unit) * reach.get(x.key, 0.0)
    high = abs(y.per_unit) * reach.get(y.key, 0.0)
    cx, cy = x.at(target[x.key]), y.at(target[y.key])
    return {
        "cx": cx, "cy": cy, "x": round(cx - wide, 2), "y": round(cy - high, 2),
        "width": round(2 * wide, 2), "height": round(2 * high, 2),
    }  # fmt: skip


def _ticks(scale: Scale, spec: ShownSpec, length_cm: float) -> list[dict[str, Any]]:
    """Round numbers of the person's unit along an axis; points count down toward the tip."""
    to_shown, to_base = _turned(spec, length_cm)
    low, high = sorted((to_shown(scale.low), to_shown(scale.high)))
    return [
        {"at": scale.at(to_base(value)), "text": text} for value, text in _round_between(low, high)
    ]


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
    return [
        (i * step, written(i * step, decimals)) for i in range(first, math.floor(high / step) + 1)
    ]
