"""Where weight may lie on a frame, as it is ticked and in words."""

from __future__ import annotations

from collections.abc import Iterable

from django import forms

from kentrobar.core.solving.allowed import Allowed, Hoop
from kentrobar.web.frames.models import Frame


def allowed_field(label: str) -> forms.MultipleChoiceField:
    """Places to tick; a form offers those of its frame."""
    ticks = forms.CheckboxSelectMultiple(attrs={"class": "form-check-input"})
    return forms.MultipleChoiceField(required=False, widget=ticks, label=label)


def allowed_text(allowed: Allowed, named: Iterable[tuple[str, str]]) -> str:
    """The places that may be used by their names, and where strips of the hoop may lie."""
    if allowed.is_anywhere:
        return "every place"
    used = ", ".join(label for key, label in named if allowed.lets_use(key))
    face = (
        "" if allowed.hoop is Hoop.EITHER else f"; strips of the hoop {Frame.HoopChoice(allowed.hoop).label}"
    )
    return used + face
