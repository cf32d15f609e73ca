"""What one gram does to this frame, place by place: the customizer's chart, for the frame itself."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final, NamedTuple

from kentrobar.core.estimates import Estimate
from kentrobar.core.outline import Face, Outline, RimPoint, Sport
from kentrobar.core.pieces import PointPiece
from kentrobar.core.plans import predict
from kentrobar.core.sites import Site, shaft_at, shaft_ends, sites_of
from kentrobar.core.specs import MeasuredSpecs, Specs

RIM_STEPS: Final = 48
HANDLE_STEPS: Final = 14
SHAFT_STEPS: Final = 12


class Place(NamedTuple):
    """A stretch of the frame's right side (or its long axis) and what a gram there changes."""

    line: tuple[RimPoint, ...]
    change: Specs


def gram_change(
    measured: MeasuredSpecs, x_cm: float, y_cm: float, *, length_cm: float, axis_cm: float
) -> Specs:
    """The change that one gram makes, half of it on either side where it is off the long axis."""
    mirrored = abs(x_cm) > 1e-9
    piece = PointPiece(
        mass_g=Estimate(0.5 if mirrored else 1.0), x_cm=x_cm, y_cm=y_cm, mirrored=mirrored
    )
    return predict(measured, [piece], length_cm=length_cm, axis_cm=axis_cm).change


def site_grams(
    measured: MeasuredSpecs, outline: Outline, axis_cm: float
) -> list[tuple[Site, Specs]]:
    """What a gram does at each named site, from the tip to the butt."""
    length = outline.length_cm
    return [
        (site, gram_change(measured, site.x_cm, site.y_cm, length_cm=length, axis_cm=axis_cm))
        for site in sites_of(outline)
    ]


def gram_map(measured: MeasuredSpecs, outline: Outline, axis_cm: float) -> list[Place]:
    """The right half of rim, shaft and handle in short stretches, each with what a gram there does."""
    return [
        Place(tuple(line), _at_middle(measured, outline, line, axis_cm))
        for line in [*_rim(outline), *_shaft(outline), *_handle(outline)]
    ]


def _at_middle(
    measured: MeasuredSpecs, outline: Outline, line: Sequence[RimPoint], axis_cm: float
) -> Specs:
    x = sum(point.x for point in line) / len(line)
    y = sum(point.y for point in line) / len(line)
    return gram_change(measured, x, y, length_cm=outline.length_cm, axis_cm=axis_cm)


def _rim(outline: Outline) -> list[list[RimPoint]]:
    rim = outline.rim(Face.OUTER)
    step = rim.half_length / RIM_STEPS
    return [rim.polyline(i * step, (i + 1) * step) for i in range(RIM_STEPS)]


def _shaft(outline: Outline) -> list[list[RimPoint]]:
    if outline.sport is not Sport.TENNIS:
        return []
    (_, top), (_, bottom) = shaft_ends(outline)
    heights = [bottom + (top - bottom) * i / SHAFT_STEPS for i in range(SHAFT_STEPS + 1)]
    points = [RimPoint(shaft_at(outline, y) or 0.0, y) for y in heights]
    return [points[i : i + 2] for i in range(SHAFT_STEPS)]


def _handle(outline: Outline) -> list[list[RimPoint]]:
    step = outline.handle_length_cm / HANDLE_STEPS
    return [[RimPoint(0.0, i * step), RimPoint(0.0, (i + 1) * step)] for i in range(HANDLE_STEPS)]
