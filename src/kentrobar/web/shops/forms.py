"""What people type about themselves."""

from __future__ import annotations

import math
import re
from collections.abc import Iterator
from typing import Any

from allauth.account.forms import LoginForm
from django import forms
from django.utils import timezone

from kentrobar.core.body.ranges import TYPICAL
from kentrobar.core.body.specs import AIMED, AimedSpec
from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.errors import UnitError
from kentrobar.core.quantities.units import POINTS_UNIT, parse_range
from kentrobar.web.kit.merging import MergedForm
from kentrobar.web.kit.numbers import Units
from kentrobar.web.shops.models import Shop, User

_NUMBERS = re.compile(r"\d+(?:[.,]\d+)?")
DAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")


class SignInForm(LoginForm):
    """Sign-in whose failed attempts are counted under the name that was typed."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["login"].label = "User name or e-mail"
        for field in self.fields.values():
            field.widget.attrs.pop("placeholder", None)  # the label says it

    def user_credentials(self) -> dict[str, Any]:
        return {**super().user_credentials(), "login": self.cleaned_data["login"]}


class PreferencesForm(MergedForm, forms.ModelForm):
    class Meta:
        model = User
        fields = [
            "mass_unit",
            "length_unit",
            "balance_unit",
            "inertia_unit",
            "wants_percent",
            "wants_further_specs",
            "theme",
        ]
        widgets = dict.fromkeys(
            ["mass_unit", "length_unit", "balance_unit", "inertia_unit", "theme"], forms.RadioSelect
        )


class RangesForm(MergedForm, forms.Form):
    """Between which values a shop sees specs as usual, by sport; left empty, the rule of thumb stands."""

    def __init__(self, data: Any, *, shop: Shop, units: Units) -> None:
        super().__init__(data)
        self.shop, self.units = shop, units
        for sport, spec, name in self._each():
            own = shop.usual_ranges.get(sport.value, {}).get(spec.key)
            low, high = (self._shown(spec, v) for v in TYPICAL[sport][spec.key])
            self.fields[name] = forms.CharField(
                required=False,
                max_length=40,
                label=f"{spec.title}, {self._unit(spec)}",
                initial=" to ".join(self._shown(spec, v) for v in own) if own else "",
                widget=forms.TextInput({"class": "form-control", "placeholder": f"{low} to {high}"}),
            )

    def _each(self) -> Iterator[tuple[Sport, AimedSpec, str]]:
        for sport in Sport:
            for spec in AIMED:
                yield sport, spec, f"range_{sport.value}_{spec.field}"

    def _unit(self, spec: AimedSpec) -> str:
        unit = self.units.of(spec)
        return self.units.length if unit == POINTS_UNIT else unit

    def _shown(self, spec: AimedSpec, value: float) -> str:
        return f"{spec.dimension.from_base(value, self._unit(spec)):.4g}"

    def of(self, sport: str) -> list[forms.BoundField]:
        """The fields of one sport."""
        return [self[name] for each, _, name in self._each() if each.value == sport]

    def rackets(self) -> list[forms.BoundField]:
        return self.of(Sport.TENNIS.value)

    def paddles(self) -> list[forms.BoundField]:
        return self.of(Sport.PICKLEBALL.value)

    def clean(self) -> None:
        cleaned = self.cleaned_data
        self.ranges: dict[str, dict[str, list[float]]] = {}
        for sport, spec, name in self._each():
            text = cleaned.get(name, "").strip()
            if not text:
                continue
            try:
                low, high = parse_range(text, spec.dimension, self._unit(spec))
            except UnitError as error:
                self.add_error(name, error.message)
                continue
            if len(_NUMBERS.findall(text)) < 2 or not 0 < low < high < math.inf:
                self.add_error(name, "Enter both ends of the range, such as 300 to 340.")
                continue
            self.ranges.setdefault(sport.value, {})[spec.key] = [low, high]


class RulesForm(MergedForm, forms.Form):
    """When somebody looked at the rules of play last, by sport, and what the shop notes of them."""

    def __init__(self, data: Any, *, shop: Shop) -> None:
        super().__init__(data)
        for sport, noun in (("tennis", "rackets"), ("pickleball", "paddles")):
            seen = shop.rules_seen(Sport(sport))
            self.fields[f"rules_{sport}_on"] = forms.DateField(
                required=False,
                label=f"Rules for {noun}: last looked at on",
                initial=seen.seen_on,
                widget=forms.DateInput({"type": "date", "class": "form-control"}, "%Y-%m-%d"),
            )
            self.fields[f"rules_{sport}_note"] = forms.CharField(
                required=False,
                label="Your note",
                initial=seen.note,
                max_length=300,
                widget=forms.TextInput({"class": "form-control"}),
            )

    def clean(self) -> None:
        cleaned = self.cleaned_data
        for name, day in list(cleaned.items()):
            if name.endswith("_on") and day and day > timezone.localdate():
                self.add_error(name, "That day is still to come; give the day you looked.")

    @property
    def rules(self) -> dict[str, dict[str, str]]:
        """What was typed, as a shop keeps it."""
        found = {}
        for sport in Sport:
            seen_on = self.cleaned_data[f"rules_{sport.value}_on"]
            note = self.cleaned_data[f"rules_{sport.value}_note"]
            found[sport.value] = {"seen_on": seen_on.isoformat() if seen_on else "", "note": note}
        return found


class ShopForm(MergedForm, forms.ModelForm):
    """Where the bench stands, and what gap the shop takes as felt."""

    class Meta:
        model = Shop
        fields = (
            "name",
            "latitude_deg",
            "altitude_m",
            "felt_mass_g",
            "felt_balance_cm",
            "felt_swingweight_kgcm2",
            "felt_twistweight_kgcm2",
            "opens_at",
            "closes_at",
            "work_days",
            "currency",
            "price_of_an_hour",
            "follow_up_after_days",
            "shares_frame_pages",
        )

    work_days = forms.TypedMultipleChoiceField(
        label="Open on",
        coerce=int,
        choices=list(enumerate(DAYS)),
        required=False,
        widget=forms.CheckboxSelectMultiple,
    )

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        for name, field in self.fields.items():
            field.widget.attrs |= {"class": "form-control", "step": "any"}
            if name in ("opens_at", "closes_at"):
                field.widget = forms.TimeInput({"type": "time", "class": "form-control"}, "%H:%M")
        self.fields["shares_frame_pages"].widget.attrs["class"] = "form-check-input"
        self.fields["work_days"].widget.attrs = {}  # a class would be that of the whole list too

    def place(self) -> list[forms.BoundField]:
        """The fields of where the bench stands."""
        return [self[name] for name in ("name", "latitude_deg", "altitude_m")]

    def hours(self) -> list[forms.BoundField]:
        """The fields of when it is worked at."""
        return [self[name] for name in ("opens_at", "closes_at", "work_days")]

    def business(self) -> list[forms.BoundField]:
        """The fields of prices, and of what happens after a frame went home."""
        names = ("currency", "price_of_an_hour", "follow_up_after_days", "shares_frame_pages")
        return [self[name] for name in names]

    def felt(self) -> list[forms.BoundField]:
        """The fields of the gaps that are felt."""
        return [field for field in self if field.name.startswith("felt_")]

    def clean(self) -> None:
        super().clean()
        cleaned = self.cleaned_data
        opens, closes = cleaned.get("opens_at"), cleaned.get("closes_at")
        if opens and closes and opens >= closes:
            self.add_error("closes_at", "Closing time is after opening time.")
        latitude, altitude = cleaned.get("latitude_deg"), cleaned.get("altitude_m")
        if latitude is not None and not -90 <= latitude <= 90:
            self.add_error("latitude_deg", "Latitude is from -90 to 90 degrees.")
        if altitude is not None and not -500 <= altitude <= 9000:
            self.add_error("altitude_m", "Height is from -500 to 9000 m.")
        for field in self.felt():
            value = cleaned.get(field.name)
            if value is not None and value <= 0:
                self.add_error(field.name, "A felt gap is above 0.")
