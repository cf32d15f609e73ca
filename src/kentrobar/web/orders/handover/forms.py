"""What is typed when a frame goes home."""

from __future__ import annotations

from typing import Any

from django import forms

from kentrobar.web.kit.quantities import style_fields


class SignOffForm(forms.Form):
    """Who says that it is as it is to be; where it is not, why it goes home so."""

    signed_as = forms.CharField(label="Signed off by", max_length=80)
    remark = forms.CharField(label="Remark", max_length=200, required=False)

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["remark"].help_text = "Required where a spec is outside its tolerance."
        style_fields(self)
