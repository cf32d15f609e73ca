"""What one gram does here: the frame coloured by it, and a card for the wall."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import NamedTuple

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, render
from django.views.decorators.http import require_GET

from kentrobar.core.body.specs import Specs
from kentrobar.core.frame.sites import Site
from kentrobar.core.quantities.estimates import Estimate, Quantity
from kentrobar.core.quantities.units import G_PER_OZ
from kentrobar.core.weight.prediction import predict
from kentrobar.core.weight.sensitivity_map import Place, sensitivity_map, site_sensitivities
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.queries import frames_of
from kentrobar.web.kit.numbers import ShownSpec, Units, shown_specs
from kentrobar.web.kit.requests import context_of
from kentrobar.web.shops.requests import SignedIn
from kentrobar.web.showing import drawing

SHADES = 6
# What the map is told for, by the unit of a person: in words, and in grams.
DOSES = {"g": ("1 g", 1.0), "oz": ("0.1 oz", G_PER_OZ / 10)}


class Swatch(NamedTuple):
    """One colour of the map: 0 (least) to 5 (most), from what to what it stands, and where it lies."""

    shade: int
    lowers: bool
    text: str
    d: str


@require_GET
def sensitivity(request: SignedIn, frame_pk: int) -> HttpResponse:
    """The map by one spec, with the table of all named places."""
    return render(request, "planning/sensitivity.html", context_of(sensitivity_view(request, frame_pk)))


@dataclass(frozen=True, slots=True)
class SensitivityView:
    """A frame coloured by what a dose of weight does to one spec, and the table of its named places."""

    frame: Frame
    units: Units
    axis: str
    dose: str
    backdrop: drawing.Backdrop
    specs: list[ShownSpec]
    shown: list[ShownSpec]
    chosen: ShownSpec
    height: float
    swatches: list[Swatch]
    rows: list[tuple[Site, str, list[tuple[str, str]]]]
    range: tuple[str, str]


def sensitivity_view(request: SignedIn, frame_pk: int) -> SensitivityView:
    """The map of a frame by the spec that is asked for."""
    frame: Frame = get_object_or_404(frames_of(request.user), pk=frame_pk)
    outline, measured, units = frame.outline, frame.measured, request.user.units.of_sport(frame.sport)
    axis_cm = measured.axis_cm
    dose, dose_g = DOSES[units.mass]
    specs = [spec.finer() for spec in shown_specs(units) if spec.key != "mass_g"]
    before = predict(measured, [], length_cm=outline.length_cm, axis_cm=axis_cm).before
    places = sensitivity_map(measured, outline, axis_cm, dose_g)
    shown = [s for s in specs if getattr(places[0].change, s.key)]
    spec_key = request.GET.get("spec", "swingweight_kgcm2")
    chosen = next((s for s in shown if s.key == spec_key), shown[0])
    backdrop = drawing.backdrop_of(outline)
    return SensitivityView(
        frame,
        units,
        units.axis_text(axis_cm),
        dose,
        backdrop,
        specs,
        shown,
        chosen,
        backdrop.fulcrum_y + 6,
        list(_swatches(places, chosen, backdrop.middle)),
        [
            (site, units.length_text(y_cm), [_change_text(spec, before, change, units) for spec in specs])
            for site, y_cm, change in site_sensitivities(measured, outline, axis_cm, dose_g)
        ],
        _range(places, chosen),
    )


def _change_text(spec: ShownSpec, before: Specs, change: Specs, units: Units) -> tuple[str, str]:
    """What the dose changes there, and in percent of what it was where that is told."""
    by = getattr(change, spec.key)
    return spec.change(by), spec.percent(getattr(before, spec.key), by) if units.percent else ""


def _value(quantity: Quantity) -> float:
    return quantity.or_else(0.0)


def _swatches(places: list[Place], spec: ShownSpec, middle: float) -> Iterator[Swatch]:
    """The colours that occur, from the lowest change to the highest."""
    values = [_value(getattr(place.change, spec.key)) for place in places]
    step = (max(map(abs, values)) or 1.0) / SHADES
    shapes: dict[tuple[int, int], list[str]] = {}
    for place, value in zip(places, values, strict=True):
        sign, shade = (-1 if value < 0 else 1), min(int(abs(value) / step), SHADES - 1)
        shapes.setdefault((sign, shade), []).extend(drawing.both_sides(place.shape, middle))
    for (sign, shade), paths in sorted(shapes.items(), key=lambda item: item[0][0] * (item[0][1] + 1)):
        ends = sorted((sign * step * shade, sign * step * (shade + 1)))
        text = " to ".join(spec.change(Estimate(end)) for end in ends)
        yield Swatch(shade, sign < 0, text, " ".join(paths))


def _range(places: list[Place], spec: ShownSpec) -> tuple[str, str]:
    quantities = [getattr(place.change, spec.key) for place in places]
    least, most = (pick(quantities, key=_value) for pick in (min, max))
    return spec.change(least), spec.change(most)
