"""The plan of a balance board to build, and its check with a plain rod."""

from __future__ import annotations

from dataclasses import dataclass

from django import forms
from django.http import HttpResponse
from django.views.decorators.http import require_GET

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.units import LENGTH, MM_PER_CM
from kentrobar.core.reading.jig import (
    BOARD_WIDTH_CM,
    PIVOT_CM,
    STOP_HEIGHT_CM,
    BoardCheck,
    BoardPlan,
    board_plan,
    check_board,
)
from kentrobar.web.kit.numbers import Units
from kentrobar.web.kit.quantities import LENGTH_UNITS, QuantityField, style_fields
from kentrobar.web.kit.requests import Sent, context_of, page
from kentrobar.web.shops.requests import SignedIn

USUAL_OFFSET_CM = 15.0
USUAL_ROD_CM = 60.0


class BoardForm(forms.Form):
    """How a board is to be built, and what a rod showed on it once it is."""

    offset = QuantityField(LENGTH, LENGTH_UNITS, positive=False, label="Start of the ruler, from the pivot")
    rod = QuantityField(LENGTH, LENGTH_UNITS, label="Length of a plain rod")
    reading = QuantityField(LENGTH, LENGTH_UNITS, required=False, positive=False, label="Reading of the rod")
    turned = QuantityField(
        LENGTH, LENGTH_UNITS, required=False, positive=False, label="Reading of the rod turned end for end"
    )

    def __init__(self, data: Sent, units: Units) -> None:
        super().__init__(data)
        unit = units.length
        shown = {
            "offset": f"{LENGTH.from_base(USUAL_OFFSET_CM, unit):.3g}",
            "rod": f"{LENGTH.from_base(USUAL_ROD_CM, unit):.3g}",
        }
        self.initial = {name: (shown.get(name, ""), unit) for name in self.fields}
        self.plan: BoardPlan = board_plan(USUAL_OFFSET_CM)
        self.check: BoardCheck | None = None
        self.rod_cm = USUAL_ROD_CM
        style_fields(self)

    def clean(self) -> None:
        cleaned = self.cleaned_data
        if self.errors:
            return
        reading, turned, self.rod_cm = cleaned["reading"], cleaned["turned"], cleaned["rod"].base
        try:
            self.plan = board_plan(cleaned["offset"].base)
            if reading and turned:
                self.check = check_board(self.rod_cm, reading.base, turned.base)
        except KentrobarError as error:
            self.add_error(error.field, error.message)
        if bool(reading) != bool(turned):
            self.add_error("turned" if reading else "reading", "Measure the rod both ways: it may be uneven.")


@dataclass(frozen=True, slots=True)
class BuildView:
    """A board's plan in the person's units, with its drawing in mm from the pivot."""

    form: BoardForm
    half_mm: float
    board_mm: float
    ruler_mm: tuple[float, float]
    long_mm: float
    parts: list[tuple[str, str]]
    steps: list[str]
    findings: list[str]


@require_GET
def build_board(request: SignedIn) -> HttpResponse:
    """How a balance board is built and checked."""
    units = request.user.units
    form = BoardForm(request.GET if "offset_0" in request.GET else None, units)
    form.is_valid()
    return page(request, "measuring/build_board.html", context_of(_view(form, units)))


def _view(form: BoardForm, units: Units) -> BuildView:
    plan, length = form.plan, units.bench_lengths.text
    return BuildView(
        form,
        MM_PER_CM * plan.half_length_cm,
        MM_PER_CM * plan.length_cm,
        (MM_PER_CM * plan.offset_cm, MM_PER_CM * plan.ruler_end_cm),
        MM_PER_CM * plan.ruler_cm,
        [
            ("Board, straight and even", f"{length(plan.length_cm)} × {length(BOARD_WIDTH_CM)}"),
            ("Pivot, a dowel across the middle underneath", f"{length(PIVOT_CM)} thick"),
            ("Ruler, from the pivot", f"{length(plan.offset_cm)} to {length(plan.ruler_end_cm)}"),
            ("Two stops beside the handle", f"{length(STOP_HEIGHT_CM)} high"),
        ],
        [
            "Glue the dowel square across the middle. Level the empty board with tape.",
            f"Fix the ruler so that its zero lies {length(plan.offset_cm)} from the dowel, its numbers growing "
            "toward the butt.",
            "Set the stops so that the frame slides freely along the middle line.",
            "Slide the frame until the board is level, and read the ruler at the butt.",
            f"Check: a plain rod of {length(form.rod_cm)} must show {length(plan.rod_reading_cm(form.rod_cm))}.",
        ],
        _findings(form.check, units) if form.check else [],
    )


def _findings(check: BoardCheck, units: Units) -> list[str]:
    """What the rod says of the board."""
    length = units.bench_lengths.text
    found = [
        f"The ruler’s zero lies {length(check.offset_cm)} from the pivot: type that as the board’s offset."
    ]
    if not check.rod_is_even:
        found.append(
            f"The rod is uneven: turned, it reads {length(abs(check.turned_cm))} "
            f"{'more' if check.turned_cm > 0 else 'less'}. The mean of both is taken."
        )
    return found
