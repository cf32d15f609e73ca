"""What a person types at their first steps: the name of their shop, a file to bring in."""

from __future__ import annotations

from django import forms
from django.http import HttpRequest

from kentrobar.web.shops.models import User


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


class ImportForm(forms.Form):
    """A kentrobar/1 file."""

    file = forms.FileField(
        label="A kentrobar/1 file",
        widget=forms.FileInput({"class": "form-control", "accept": ".json,application/json"}),
    )
