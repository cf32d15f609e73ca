"""What one gram does to this frame, place by place: the customizer's chart, for the frame itself."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final, NamedTuple

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import Specs
from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.anatomy import HANDLE_RADIUS_CM, HOOP_WALL_CM, SHAFT_WIDTH_CM
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.rim import Face, RimPoint
from kentrobar.core.frame.silhouette import Path, wall_between
from kentrobar.core.frame.sites import Site, shaft_at, shaft_ends, sites_of
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.weight.pieces import PointPiece
from kentrobar.core.weight.prediction import predict

RIM_STEPS: Final = 48
HANDLE_STEPS: Final = 14
SHAFT_STEPS: Final = 12


class Place(NamedTuple):
    """A part of the frame's right side (or its handle), drawn closed, and what weight there changes."""

    shape: Path
    change: Specs


def gram_change(
    measured: MeasuredSpecs,
    x_cm: float,
    y_cm: float,
    *,
    length_cm: float,
    axis_cm: float,
    dose_g: float = 1.0,
) -> Specs:
    """The change that a gram makes, half of it on either side where it is off the long axis.

    ``dose_g`` is another weight than the gram, for those who count in ounces.
    """
    mirrored = abs(x_cm) > 1e-9
    mass = Estimate(dose_g / 2 if mirrored else dose_g)
    piece = PointPiece(mass_g=mass, x_cm=x_cm, y_cm=y_cm, mirrored=mirrored)
    return predict(measured, [piece], length_cm=length_cm, axis_cm=axis_cm).change


def site_sensitivities(
    measured: MeasuredSpecs, outline: Outline, axis_cm: float, dose_g: float = 1.0
) -> list[tuple[Site, float, Specs]]:
    """Each named site from the tip to the butt, its distance from the butt, and what a gram does there.

    On the rim that is on its usual face.
    """
    line = outline.rim(outline.usual_face)
    found = []
    for site in sites_of(outline):
        x, y = site.x_cm, site.y_cm
        if site.clock is not None:
            x, y = line.point(site.clock.arc_length(line))
        change = gram_change(measured, x, y, length_cm=outline.length_cm, axis_cm=axis_cm, dose_g=dose_g)
        found.append((site, y, change))
    return found


def sensitivity_map(
    measured: MeasuredSpecs, outline: Outline, axis_cm: float, dose_g: float = 1.0
) -> list[Place]:
    """The right half of rim, shaft and handle in small parts, each with what a gram there does."""
    return [
        Place(shape, gram_change(measured, x, y, length_cm=outline.length_cm, axis_cm=axis_cm, dose_g=dose_g))
        for shape, (x, y) in [*_shaft(outline), *_handle(outline), *_rim(outline)]
    ]


_Part = tuple[Path, RimPoint]  # its shape, and where weight on it lies


def _rim(outline: Outline) -> Iterator[_Part]:
    inner, usual = outline.rim(Face.INNER), outline.rim(outline.usual_face)
    step = inner.half_length / RIM_STEPS
    for i in range(RIM_STEPS):
        middle = inner.clock_at((i + 0.5) * step)
        yield wall_between(outline, i * step, (i + 1) * step), usual.point(usual.at_clock(middle))


def _shaft(outline: Outline) -> Iterator[_Part]:
    if outline.sport is not Sport.TENNIS:
        return
    (_, top), (_, bottom) = shaft_ends(outline)
    step = (top - 1.5 * HOOP_WALL_CM - bottom) / SHAFT_STEPS
    half = SHAFT_WIDTH_CM / 2
    for i in range(SHAFT_STEPS):
        low, high = (bottom + (i + k) * step for k in (0, 1))
        x0, x1 = (shaft_at(outline, y) or 0.0 for y in (low, high))
        # Round the same way as the rim's parts, so that where they overlap both are filled.
        shape = [
            RimPoint(x0 + half, low),
            RimPoint(x1 + half, high),
            RimPoint(x1 - half, high),
            RimPoint(x0 - half, low),
        ]
        yield shape, RimPoint((x0 + x1) / 2, (low + high) / 2)


def _handle(outline: Outline) -> Iterator[_Part]:
    step, r = outline.handle_length_cm / HANDLE_STEPS, HANDLE_RADIUS_CM
    for i in range(HANDLE_STEPS):
        low, high = i * step, (i + 1) * step
        shape = [RimPoint(-r, low), RimPoint(-r, high), RimPoint(r, high), RimPoint(r, low)]
        yield shape, RimPoint(0.0, (low + high) / 2)
