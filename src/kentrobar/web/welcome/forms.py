"""What a person types at their first steps: the name of their shop, a file to bring in."""

from __future__ import annotations

from collections.abc import Mapping

from django import forms
from django.http import HttpRequest

from kentrobar.core.body.specs import BALANCE, STATIC_WEIGHT
from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.outline import Dimensions
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.quantities import style_fields
from kentrobar.web.kit.requests import Sent
from kentrobar.web.measuring.boxes import ReadingBoxes
from kentrobar.web.measuring.questioning import QuestionedForm
from kentrobar.web.shops.models import User
from kentrobar.web.welcome.trying import USUAL_DIMENSIONS


class ShopSignupForm(forms.Form):
    """The extra field of signing up: everyone starts with a shop of their own."""

    shop_name = forms.CharField(max_length=100, label="Name of your shop or bench", initial="My bench")
    field_order = ["username", "email", "password1", "password2", "shop_name"]

    def signup(self, request: HttpRequest, user: User) -> None:
        # Sign-up forms are loaded before the models that a shop starts with.
        from kentrobar.web.welcome.opening import open_shop

        open_shop(self.cleaned_data["shop_name"], user)


class FirstForm(QuestionedForm):
    """As much of a frame as a first answer takes: what it is called, its weight, its balance."""

    sport = forms.ChoiceField(choices=Frame.SportChoice, label="What is it?")
    label = forms.CharField(max_length=80, label="What do you call it?")

    titles: Mapping[str, str] = {
        STATIC_WEIGHT.field: "What does it weigh?",
        BALANCE.field: "Where does it balance, from the butt?",
    }

    def __init__(self, data: Sent, user: User) -> None:
        super().__init__(data)
        specs = (STATIC_WEIGHT, BALANCE)
        self.boxes = ReadingBoxes(data, user, specs=specs, titles=self.titles)
        self.boxes.read(Sport.TENNIS, USUAL_DIMENSIONS[Sport.TENNIS].length_cm)
        style_fields(self)

    @property
    def dimensions(self) -> Dimensions:
        """Usual dimensions of the sport, until somebody measures them."""
        return USUAL_DIMENSIONS[Sport(self.cleaned_data["sport"])]

    def clean(self) -> None:
        cleaned = self.cleaned_data
        if "sport" in cleaned:
            sport = Sport(cleaned["sport"])
            self.judge(self.boxes.read(sport, self.dimensions.length_cm))
        if any(row.errors for row in self.boxes.rows):
            self.add_error(None, forms.ValidationError("", code="boxes"))


class ImportForm(forms.Form):
    """A kentrobar/1 file."""

    file = forms.FileField(
        label="A kentrobar/1 file",
        widget=forms.FileInput({"class": "form-control", "accept": ".json,application/json"}),
    )
