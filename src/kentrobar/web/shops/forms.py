"""What people type about themselves."""

from __future__ import annotations

from typing import Any

from allauth.account.forms import LoginForm
from django import forms
from django.http import HttpRequest

from kentrobar.web.shops.models import User


class SignInForm(LoginForm):
    """Sign-in whose failed attempts are counted under the name that was typed."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["login"].label = "User name or e-mail"

    def user_credentials(self) -> dict:
        return super().user_credentials() | {"login": self.cleaned_data["login"]}


class ShopSignupForm(forms.Form):
    """The extra field of signing up: everyone starts with a shop of their own."""

    shop_name = forms.CharField(
        max_length=100, label="Name of your shop or bench", initial="My bench"
    )
    field_order = ["username", "email", "password1", "password2", "shop_name"]

    def signup(self, request: HttpRequest, user: User) -> None:
        from kentrobar.web.shops.services import open_shop

        open_shop(self.cleaned_data["shop_name"], user)


class PreferencesForm(forms.ModelForm):
    class Meta:
        model = User
        fields = ["mass_unit", "length_unit", "balance_unit", "theme"]
        widgets = dict.fromkeys(fields, forms.RadioSelect)
