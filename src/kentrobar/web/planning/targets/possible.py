"""What is possible: the region of balance and swing or twist weight a frame can come to."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import NamedTuple

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, render
from django.views.decorators.http import require_GET

from kentrobar.core.body.specs import BALANCE, POINTS
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import MASS, parse_quantity, points_headlight
from kentrobar.core.solving.reach import SECOND_SPECS, Reach, reach
from kentrobar.core.solving.supply import sites_in_hand
from kentrobar.core.weight.prediction import predict
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.queries import frames_in_use, frames_with_fittings
from kentrobar.web.kit.numbers import ShownSpec, Units, shown_specs
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.planning.targets.forms import TargetForm
from kentrobar.web.shops.requests import SignedIn

_OWN_FIELDS = ("most", "second", "tape", "putty", "layers")
USUAL_MOST_G = 20.0
MOST_OTHERS = 100


@require_GET
def possible(request: SignedIn, frame_pk: int) -> HttpResponse:
    """The region reached by up to so many grams, with the target and the shop's other frames in it."""
    frame = get_object_or_404(frames_with_fittings(request.user), pk=frame_pk)
    units = request.user.units.of_sport(frame.sport)
    most_g, problem = _most(request.GET.get("most", ""), units)
    second = request.GET.get("second")
    second = second if second in SECOND_SPECS else SECOND_SPECS[0]
    form = TargetForm(request.GET, frame=frame, shelf=shelf_of(request.user), units=units)
    work = form.workpiece()
    specs = {spec.key: spec for spec in shown_specs(units)}
    across, up = specs.get(BALANCE.key) or specs[POINTS.key], specs[second]
    slots = list(sites_in_hand(work, is_hidden=not work.allowed.lets_lie(is_hidden=False)).values())
    region = None
    try:
        found = reach(
            frame.measured, slots, frame.outline, most_g=most_g, axis_cm=frame.measured.axis_cm, second=second
        )
    except KentrobarError as error:
        problem = error.message
    else:
        bounds = form.target().bands if form.is_valid() else {}
        others = [each for each in frames_in_use(request.user)[:MOST_OTHERS] if each.sport == frame.sport]
        region = region_view(frame, found, bounds, (across, up), others)
    context = {
        "frame": frame,
        "second": second,
        "seconds": [specs[s] for s in SECOND_SPECS],
        "most": request.GET.get("most") or f"{units.mass_text(USUAL_MOST_G)} {units.mass}",
        "across": across,
        "up": up,
        "problem": problem,
        "supply": work.supply,
        "means": [form["tape"], form["putty"], form["layers"]],
        "typed": [(k, v) for k, each in request.GET.lists() if k not in _OWN_FIELDS for v in each],
        "region": region,
    }
    return render(request, "planning/possible.html", context)


def _most(text: str, units: Units) -> tuple[float, str]:
    """The grams typed; the usual ones, with a sentence, where they cannot be read."""
    try:
        most = MASS.to_base(*parse_quantity(text, MASS, units.mass)) if text else USUAL_MOST_G
    except KentrobarError as error:
        return USUAL_MOST_G, error.message
    if not 0.1 <= most <= 200:
        return USUAL_MOST_G, "Type 0.1 to 200 g of added weight."
    return most, ""


class RegionPoint(NamedTuple):
    """A frame in the picture, and whether this frame can be brought there."""

    x: float
    y: float
    name: str
    within: bool


@dataclass(frozen=True, slots=True)
class RegionView:
    """The region as its chart draws it, its ends in words, the target and other frames in it."""

    drawn: dict[str, object]
    others: list[RegionPoint]
    is_target_within: bool | None
    ends: list[str]
    highest: str


def region_view(
    frame: Frame,
    found: Reach,
    bounds: Mapping[str, tuple[float, float]],
    specs: tuple[ShownSpec, ShownSpec],
    frames: list[Frame],
) -> RegionView:
    """What a frame can come to, in a person's units."""
    across, up = specs

    def x(balance_cm: float, length_cm: float = frame.length_cm) -> float:
        if across.key == POINTS.key:
            return round(points_headlight(balance_cm, length_cm), 2)
        return round(balance_cm * across.factor, 3)

    def edge(corners: Iterable[tuple[float, float]]) -> list[dict[str, float]]:
        return [{"x": x(b), "y": round(v, 2)} for b, v in corners]

    points = {}
    for other in frames:
        pair = _pair(other, up.key, frame.measured.axis_cm)
        if pair:
            at = x(pair[0], other.length_cm)
            points[other.pk] = RegionPoint(at, round(pair[1], 2), other.label, found.holds(*pair))
    now = points.pop(frame.pk, None)
    target, is_within = None, None
    if BALANCE.key in bounds and up.key in bounds:
        (b0, b1), (v0, v1) = bounds[BALANCE.key], bounds[up.key]
        target = edge([(b0, v0), (b1, v0), (b1, v1), (b0, v1), (b0, v0)])
        is_within = found.holds((b0 + b1) / 2, (v0 + v1) / 2)
    drawn: dict[str, object] = {
        "low": edge(zip(found.balance_cm, found.least, strict=True)),
        "high": edge(zip(found.balance_cm, found.most, strict=True)),
        "now": now and now._asdict(),
        "others": [each._asdict() for each in points.values()],
        "target": target,
        "across": f"Balance, {across.unit}",
        "up": f"{up.name}, {up.unit}",
    }
    ends = [across.value(_estimate(frame, across, b)) for b in (found.balance_cm[0], found.balance_cm[-1])]
    return RegionView(drawn, list(points.values()), is_within, ends, up.value(Estimate(max(found.most))))


def _estimate(frame: Frame, across: ShownSpec, balance_cm: float) -> Estimate:
    is_points = across.key == POINTS.key
    return Estimate(points_headlight(balance_cm, frame.length_cm) if is_points else balance_cm)


def _pair(frame: Frame, second: str, axis_cm: float) -> tuple[float, float] | None:
    """Balance and second spec of a frame about one axis, where both are known."""
    now = predict(frame.measured, [], length_cm=frame.length_cm, axis_cm=axis_cm).before
    balance, value = now.balance_cm, getattr(now, second)
    if balance and value:
        return balance.value, value.value
    return None
