"""The list of frames."""

from __future__ import annotations

import django_tables2 as tables
from django.core.paginator import Paginator
from django.utils.html import format_html
from django.utils.safestring import mark_safe

from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import points_headlight
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.numbers import Units, points_text, shown_specs
from kentrobar.web.shops.requests import SignedIn

_NUMBER = {"td": {"class": "number"}, "th": {"class": "number"}}


class FrameTable(tables.Table):
    mark_it = tables.Column(accessor="pk", verbose_name="", orderable=False)
    label = tables.Column(linkify=("frames:detail", {"pk": tables.A("pk")}), verbose_name="Frame")
    player = tables.Column(accessor="client__name", verbose_name="Player")
    sport = tables.Column(accessor="get_sport_display", order_by="sport")
    mass = tables.Column(accessor="specs__mass_g", verbose_name="Static weight", attrs=_NUMBER)
    balance = tables.Column(accessor="specs__balance_cm", verbose_name="Balance", attrs=_NUMBER)
    swingweight = tables.Column(
        accessor="specs__swingweight_kgcm2",
        verbose_name="Swing weight",
        attrs=_NUMBER,
    )
    twistweight = tables.Column(
        accessor="specs__twistweight_kgcm2",
        verbose_name="Twist weight",
        attrs=_NUMBER,
    )
    build = tables.Column(accessor="specs__build", verbose_name="Read in")
    plan_count = tables.Column(verbose_name="Plans", attrs=_NUMBER)

    class Meta:
        model = Frame
        fields = ("label",)
        sequence = ("mark_it", "label", "player", "sport", "...")
        empty_text = "No frame matches. Clear the search, or take a new frame in."
        attrs = {"class": "table align-middle"}
        per_page = 50

    def __init__(self, *args: object, request: SignedIn, **options: object) -> None:
        self.units: Units = request.user.units
        self.marked = set(request.GET.getlist("marked"))
        super().__init__(*args, **options)
        self.shown = {spec.key: spec for spec in shown_specs(self.units)}

    def show(self, page: str) -> None:
        """The page of rows that is asked for, the nearest where there is none of that number."""
        self.paginator = Paginator(self.rows, self.Meta.per_page)
        self.page = self.paginator.get_page(page)

    def render_mark_it(self, value: int, record: Frame) -> str:
        return format_html(
            '<input class="form-check-input" type="checkbox" form="compare" name="frame" '
            'value="{}" aria-label="Mark {} for comparing"{}>',
            value,
            record.label,
            mark_safe(" checked") if str(value) in self.marked else "",
        )

    def render_build(self, record: Frame) -> str:
        return record.specs.get_build_display() if record.specs else ""

    def render_mass(self, value: float) -> str:
        return f"{self.shown['mass_g'].value(Estimate(value))} {self.units.mass}"

    def render_balance(self, value: float, record: Frame) -> str:
        points = points_text(points_headlight(value, record.length_cm))
        if self.units.balance == "pt":
            return points
        shown = self.shown["balance_cm"].value(Estimate(value))
        return f"{shown} {self.units.balance} ({points})"

    def render_swingweight(self, value: float, record: Frame) -> str:
        return f"{value:.1f} at {record.measured.axis_cm:g} cm"

    def render_twistweight(self, value: float) -> str:
        return f"{value:.2f}"
