"""The list of frames."""

from __future__ import annotations

from typing import Any

import django_tables2 as tables
from django.core.paginator import Paginator

from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import points_headlight
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.numbers import Units, points_text, shown_specs
from kentrobar.web.shops.requests import SignedIn

_NUMBER = {"th": {"class": "number"}}
_ON_WIDE = {"th": {"class": "on-wide"}}  # left out on a phone, so that the specs are in sight
_NUMBER_ON_WIDE = {"th": {"class": "number on-wide"}}


class FrameTable(tables.Table):
    """Its columns and how it is sorted; rows are written plainly, as there may be many on a page."""

    mark_it = tables.Column(accessor="pk", verbose_name="", orderable=False)
    label = tables.Column(verbose_name="Frame")
    player = tables.Column(accessor="client__name", verbose_name="Player", attrs=_ON_WIDE)
    sport = tables.Column(order_by="sport", attrs=_ON_WIDE)
    mass = tables.Column(accessor="specs__mass_g", verbose_name="Static weight", attrs=_NUMBER)
    balance = tables.Column(accessor="specs__balance_cm", verbose_name="Balance", attrs=_NUMBER)
    swingweight = tables.Column(
        accessor="specs__swingweight_kgcm2", verbose_name="Swing weight", attrs=_NUMBER
    )
    twistweight = tables.Column(
        accessor="specs__twistweight_kgcm2", verbose_name="Twist weight", attrs=_NUMBER_ON_WIDE
    )
    build = tables.Column(accessor="specs__build", verbose_name="Read in", attrs=_ON_WIDE)
    plan_count = tables.Column(verbose_name="Plans", attrs=_NUMBER_ON_WIDE)

    class Meta:
        model = Frame
        fields = ("label",)
        sequence = ("mark_it", "label", "player", "sport", "...")
        empty_text = "No frame matches. Clear the search, or take a new frame in."
        attrs = {"class": "table align-middle"}
        template_name = "frames/_rows.html"
        per_page = 50

    def __init__(self, *args: object, request: SignedIn, **options: object) -> None:
        self.units: Units = request.user.units
        self.marked = set(request.GET.getlist("marked"))
        super().__init__(*args, **options)

    def show(self, page: str) -> None:
        """The page of rows that is asked for, the nearest where there is none of that number."""
        self.paginator = Paginator(self.rows, self.Meta.per_page)
        self.page = self.paginator.get_page(page)
        self.lines = [line_of(row.record, self.units, self.marked) for row in self.page.object_list]


def line_of(frame: Frame, units: Units, marked: set[str]) -> dict[str, Any]:
    """A frame as its row tells it."""
    sheet = frame.specs
    line: dict[str, Any] = {"frame": frame, "is_marked": str(frame.pk) in marked, "build": "–"}
    if sheet is None:
        return line
    shown = {spec.key: spec for spec in shown_specs(units)}
    line["build"] = sheet.get_build_display()
    if sheet.mass_g is not None:
        line["mass"] = f"{shown['mass_g'].value(Estimate(sheet.mass_g))} {units.mass}"
    if sheet.balance_cm is not None:
        points = points_text(points_headlight(sheet.balance_cm, frame.length_cm))
        line["balance"] = points
        if units.balance != "pt":
            told = shown["balance_cm"].value(Estimate(sheet.balance_cm))
            line |= {"balance": f"{told} {units.balance}", "points": points}
    if sheet.swingweight_kgcm2 is not None:
        swing = shown["swingweight_kgcm2"].value(Estimate(sheet.swingweight_kgcm2))
        line |= {"swing": swing, "axis": units.axis_text(sheet.axis_cm)}
    if sheet.twistweight_kgcm2 is not None:
        line["twist"] = shown["twistweight_kgcm2"].value(Estimate(sheet.twistweight_kgcm2))
    return line
