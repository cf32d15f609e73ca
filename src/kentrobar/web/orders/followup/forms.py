"""What a player is asked of each frame."""

from __future__ import annotations

from typing import Any, Final

from django import forms

from kentrobar.web.kit.quantities import style_fields
from kentrobar.web.orders.models import QUALITIES, JobFrame, PlayTest

SCALE: Final = ((-2, "much worse"), (-1, "worse"), (0, "the same"), (1, "better"), (2, "much better"))


class PlayForm(forms.Form):
    """One frame: a small scale per quality, whether it feels the same, the player's own words."""

    def __init__(self, data: Any, *, row: JobFrame, others: list[JobFrame]) -> None:
        super().__init__(data, prefix=f"f{row.pk}")
        self.row, self.others = row, others
        for quality in QUALITIES:
            self.fields[quality] = forms.TypedChoiceField(
                label=quality.capitalize(),
                choices=SCALE,
                coerce=int,
                empty_value=None,
                required=False,
                widget=forms.RadioSelect,
            )
        self.fields["alike"] = forms.ChoiceField(
            label=f"Beside {others[0].frame.label}" if others else "Beside how it was",
            choices=[(value, label) for value, label in PlayTest.AlikeAnswer.choices],
            required=False,
            widget=forms.RadioSelect,
        )
        self.fields["words"] = forms.CharField(
            label="In the player's words", max_length=2000, required=False, widget=forms.Textarea({"rows": 2})
        )
        style_fields(self)

    @property
    def is_said(self) -> bool:
        """Whether anything was said of this frame."""
        return any(value not in (None, "") for value in self.cleaned_data.values())

    def about(self) -> dict[str, Any]:
        """What was said, by field."""
        cleaned = self.cleaned_data
        ratings = {q: cleaned[q] for q in QUALITIES if cleaned[q] is not None}
        other = self.others[0].frame if self.others and cleaned["alike"] else None
        return {"words": cleaned["words"], "alike": cleaned["alike"], "ratings": ratings, "other": other}
