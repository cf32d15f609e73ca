"""What one gram does here: the frame coloured by it, and a card for the wall."""

from __future__ import annotations

from typing import Any, NamedTuple

from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, render
from django.utils.text import slugify
from django.views.decorators.http import require_GET

from kentrobar.core.estimates import Estimate, Quantity
from kentrobar.core.gram import Place, gram_map, site_grams
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.queries import frames_of
from kentrobar.web.kit.numbers import ShownSpec, shown_specs
from kentrobar.web.planning import drawing
from kentrobar.web.planning.sheet import card_pdf

SHADES = 6


class Stretch(NamedTuple):
    """One coloured stretch of the drawing; ``shade`` is 0 (least) to 5 (most)."""

    d: str
    shade: int
    lowers: bool


@require_GET
def gram(request: HttpRequest, frame_pk: int) -> HttpResponse:
    """The map by one spec, with the table of all named places."""
    return render(request, "planning/gram.html", _context(request, frame_pk))


@require_GET
def gram_card(request: HttpRequest, frame_pk: int) -> HttpResponse:
    """The same as a card on one page of paper."""
    paper = "letter" if request.GET.get("paper") == "letter" else "a4"
    context = _context(request, frame_pk) | {"paper": paper, "made_by": request.user}
    response = HttpResponse(card_pdf(context), content_type="application/pdf")
    name = slugify(f"{context['frame'].label} a gram")
    response["Content-Disposition"] = f'inline; filename="{name}-{paper}.pdf"'
    return response


def _context(request: HttpRequest, frame_pk: int) -> dict[str, Any]:
    frame: Frame = get_object_or_404(frames_of(request.user), pk=frame_pk)
    outline, measured = frame.outline, frame.measured
    axis_cm = measured.axis_cm
    specs = [spec for spec in shown_specs(request.user.units) if spec.key != "mass_g"]
    places = gram_map(measured, outline, axis_cm)
    shown = [s for s in specs if isinstance(getattr(places[0].change, s.key), Estimate)]
    asked = request.GET.get("spec", "swingweight_kgcm2")
    chosen = next((s for s in shown if s.key == asked), shown[0])
    backdrop = drawing.backdrop_of(outline)
    return {
        "frame": frame, "axis_cm": axis_cm, "backdrop": backdrop, "specs": specs, "shown": shown,
        "chosen": chosen, "height": backdrop.fulcrum_y + 6,
        "stretches": list(_stretches(places, chosen, backdrop.middle)),
        "rows": [
            (site, [spec.change(getattr(change, spec.key)) for spec in specs])
            for site, change in site_grams(measured, outline, axis_cm)
        ],
        "range": _range(places, chosen),
    }  # fmt: skip


def _value(quantity: Quantity) -> float:
    return quantity.value if isinstance(quantity, Estimate) else 0.0


def _stretches(places: list[Place], spec: ShownSpec, middle: float) -> list[Stretch]:
    values = [_value(getattr(place.change, spec.key)) for place in places]
    most = max(map(abs, values)) or 1.0
    found = []
    for place, value in zip(places, values, strict=True):
        shade = min(int(abs(value) / most * SHADES), SHADES - 1)
        for line in drawing.both_sides(place.line, middle):
            found.append(Stretch(line, shade, value < 0))
    return found


def _range(places: list[Place], spec: ShownSpec) -> tuple[str, str]:
    quantities = [getattr(place.change, spec.key) for place in places]
    least, most = (pick(quantities, key=_value) for pick in (min, max))
    return spec.change(least), spec.change(most)
