"""What a person types at their first steps: the name of their shop, a file to bring in."""

from __future__ import annotations

from typing import Any

from django import forms
from django.http import HttpRequest

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import BALANCE, STATIC_WEIGHT
from kentrobar.core.frame.outline import Dimensions, Sport
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.estimates import Estimate, Quantity
from kentrobar.core.reading.checks import require_possible
from kentrobar.core.reading.reference_ranges import USUAL_AXIS_CM
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.numbers import Units
from kentrobar.web.kit.quantities import BalanceField, spec_field, style_fields
from kentrobar.web.kit.requests import Sent
from kentrobar.web.measuring.services import TakenReading
from kentrobar.web.shops.models import User
from kentrobar.web.welcome.trying import USUAL_DIMENSIONS


class ShopSignupForm(forms.Form):
    """The extra field of signing up: everyone starts with a shop of their own."""

    shop_name = forms.CharField(
        max_length=100, label="Name of your shop or bench", initial="My bench"
    )
    field_order = ["username", "email", "password1", "password2", "shop_name"]

    def signup(self, request: HttpRequest, user: User) -> None:
        # Sign-up forms are loaded before the models that a shop starts with.
        from kentrobar.web.welcome.opening import open_shop

        open_shop(self.cleaned_data["shop_name"], user)


class FirstForm(forms.Form):
    """As much of a frame as a first answer takes: what it is called, its weight, its balance."""

    sport = forms.ChoiceField(choices=Frame.SportChoice, label="What is it?")
    label = forms.CharField(max_length=80, label="What do you call it?")
    mass = spec_field(STATIC_WEIGHT, with_spread=False, label="What does it weigh?")
    balance = spec_field(BALANCE, with_spread=False, label="Where does it balance, from the butt?")

    def __init__(self, data: Sent, units: Units) -> None:
        super().__init__(data)
        self.initial = {spec.field: ("", units.of(spec)) for spec in (STATIC_WEIGHT, BALANCE)}
        style_fields(self)

    @property
    def dimensions(self) -> Dimensions:
        """Usual dimensions of the sport, until somebody measures them."""
        return USUAL_DIMENSIONS[Sport(self.cleaned_data["sport"])]

    def clean(self) -> dict[str, Any]:
        cleaned = super().clean() or self.cleaned_data
        if self.errors:
            return cleaned
        length_cm = self.dimensions.length_cm
        mass, balance = cleaned["mass"], cleaned["balance"]
        known: dict[str, Quantity] = {}
        if mass:
            known[STATIC_WEIGHT.key] = Estimate(mass.base, STATIC_WEIGHT.usual_u)
        if balance:
            known[BALANCE.key] = Estimate(BalanceField.in_cm(balance, length_cm), BALANCE.usual_u)
        axis = USUAL_AXIS_CM[Sport(cleaned["sport"])]
        self.measured = MeasuredSpecs.read_apart(known, axis)
        try:
            require_possible(self.measured, length_cm)
        except KentrobarError as error:
            fields = {STATIC_WEIGHT.key: "mass", BALANCE.key: "balance"}
            self.add_error(fields.get(error.field), error.message)
        return cleaned

    def readings(self) -> list[TakenReading]:
        """What was typed, as it is kept."""
        found = []
        for spec in (STATIC_WEIGHT, BALANCE):
            typed, quantity = self.cleaned_data[spec.field], self.measured.of(spec)
            if typed and quantity:
                found.append(TakenReading(spec.field, typed.text, typed.unit, quantity.value))
        return found


class ImportForm(forms.Form):
    """A kentrobar/1 file."""

    file = forms.FileField(
        label="A kentrobar/1 file",
        widget=forms.FileInput({"class": "form-control", "accept": ".json,application/json"}),
    )
