"""A rule of thumb as a shop writes it."""

from __future__ import annotations

from django import forms

from kentrobar.web.kit.merging import MergedForm
from kentrobar.web.kit.numbers import Units
from kentrobar.web.kit.quantities import style_fields
from kentrobar.web.kit.requests import Sent
from kentrobar.web.play.advice.queries import HeldRule
from kentrobar.web.play.advice.view_models import in_units

MOST_SCHOOLS = 5


class RuleForm(MergedForm, forms.Form):
    """What it says, its reason, where it does not hold; an empty line parts what schools say."""

    title = forms.CharField(max_length=80)
    says = forms.CharField(
        label="What it says",
        max_length=2000,
        widget=forms.Textarea({"rows": 5}),
        help_text="Where schools differ, let each have its say, with an empty line between.",
    )
    reason = forms.CharField(max_length=1000, required=False, widget=forms.Textarea({"rows": 3}))
    not_where = forms.CharField(
        label="Where it does not hold", max_length=1000, required=False, widget=forms.Textarea({"rows": 3})
    )

    def __init__(self, data: Sent, *, held: HeldRule | None, units: Units) -> None:
        initial = {}
        if held:
            initial = {
                "title": held.title,
                "says": in_units("\n\n".join(held.says), units),
                "reason": in_units(held.reason, units),
                "not_where": in_units(held.not_where, units),
            }
        super().__init__(data, initial=initial)
        style_fields(self)

    def clean_says(self) -> list[str]:
        parts = self.cleaned_data["says"].replace("\r", "").split("\n\n")
        schools = [" ".join(part.split()) for part in parts if part.strip()]
        if len(schools) > MOST_SCHOOLS:
            raise forms.ValidationError(f"Up to {MOST_SCHOOLS} schools have room here.", "many")
        return schools
