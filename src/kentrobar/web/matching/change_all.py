"""What is changed on all frames of a set at once: what they share, and what is fitted on them."""

from __future__ import annotations

from typing import Any

from django import forms
from django.forms.boundfield import BoundField

from kentrobar.core.frame.blocked import parse_blocked
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.units import LENGTH
from kentrobar.core.weight.strings import STRING_DENSITIES
from kentrobar.web.frames.forms import handles_of
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.quantities import LENGTH_UNITS, QuantityField, Typed, offer, style_fields
from kentrobar.web.kit.requests import Sent
from kentrobar.web.materials.models import Accessory, FittingKinds

_AS_IS = ("", "unchanged")


class ChangeAllForm(forms.Form):
    """What is left empty stays on each frame as it is."""

    handle_build = forms.ChoiceField(required=False, label="Handle")
    post_hold = forms.ChoiceField(required=False, label="Held by the stringing machine")
    blocked = forms.CharField(max_length=200, required=False, label="Blocked stretches of the rim")
    bumper_reach = QuantityField(
        LENGTH, LENGTH_UNITS, required=False, label="Bumper reaches down to, from the butt"
    )
    off = forms.ChoiceField(required=False, label="Take off")
    on = forms.ChoiceField(required=False, label="Put on")
    string_material = forms.ChoiceField(
        choices=[_AS_IS, *((m, m) for m in STRING_DENSITIES)], required=False, label="String with"
    )
    gauge = QuantityField(LENGTH, ["mm"], required=False, label="Gauge")

    def __init__(self, data: Sent, *, frames: list[Frame], shelf: list[Accessory]) -> None:
        super().__init__(data)
        self.frames = frames
        self.accessories = {str(each.pk): each for each in shelf}
        is_racket = frames[0].is_racket
        offer(self, "handle_build", [_AS_IS, *handles_of(frames[0].sport)])
        offer(self, "post_hold", [_AS_IS, *Frame.PostChoice.choices])
        kinds = {f.kind for frame in frames for f in frame.fittings.all() if f.is_on}
        offer(self, "off", [("", "nothing"), *((k, v) for k, v in FittingKinds.choices if k in kinds)])
        offer(self, "on", [("", "nothing"), *((pk, each.name) for pk, each in self.accessories.items())])
        self.initial = {"gauge": ("1.25", "mm")}
        if not is_racket:
            for name in ("post_hold", "bumper_reach", "string_material", "gauge"):
                del self.fields[name]
        style_fields(self)

    def clean_blocked(self) -> str:
        blocked: str = self.cleaned_data["blocked"].strip()
        try:
            for frame in self.frames:
                parse_blocked(blocked, frame.outline, frame.mains or 0)
        except KentrobarError as error:
            raise forms.ValidationError(error.message, error.code) from None
        return blocked

    def clean(self) -> None:
        cleaned = self.cleaned_data
        changes = ("handle_build", "post_hold", "blocked", "bumper_reach", "off", "on", "string_material")
        if not self.errors and not any(cleaned.get(name) for name in changes):
            raise forms.ValidationError("Choose what to change on all frames.", "nothing")

    def known(self) -> dict[str, Any]:
        """What the frames have in common from now on, by their fields."""
        cleaned = self.cleaned_data
        found = {n: cleaned[n] for n in ("handle_build", "post_hold", "blocked") if cleaned.get(n)}
        reach: Typed | None = cleaned.get("bumper_reach")
        return found | ({"bumper_reach_cm": reach.base} if reach else {})

    @property
    def accessory(self) -> Accessory | None:
        """What is put on all of them."""
        return self.accessories.get(self.cleaned_data["on"])

    def strings(self) -> tuple[str, Typed] | None:
        """What all of them are strung with."""
        material, gauge = self.cleaned_data.get("string_material"), self.cleaned_data.get("gauge")
        return (material, gauge) if material and gauge else None

    def shared_rows(self) -> list[BoundField]:
        names = ("handle_build", "post_hold", "blocked", "bumper_reach")
        return [self[name] for name in names if name in self.fields]

    def fitted_rows(self) -> list[BoundField]:
        names = ("off", "on", "string_material", "gauge")
        return [self[name] for name in names if name in self.fields]
