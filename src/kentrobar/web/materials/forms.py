"""What a person types about a material."""

from __future__ import annotations

import re
from typing import Any

from django import forms

from kentrobar.core.errors import KentrobarError
from kentrobar.core.units import LINE_DENSITY, MASS, Dimension, parse_quantity
from kentrobar.web.kit.quantities import QuantityField
from kentrobar.web.materials.models import Accessory, FittingKinds, Material

VOLUME_DENSITY = Dimension("density", "8 g/cm³", {"g/cm³": 1.0}, {"gcm3": "g/cm³"})


class MaterialWeightForm(forms.Form):
    """One material's weight: per length, per volume or of one piece."""

    def __init__(self, material: Material, data: Any = None) -> None:
        super().__init__(data, prefix=f"m{material.pk}", auto_id="id_%s")
        self.material = material
        match material.form:
            case Material.Form.TAPE:
                field = QuantityField(
                    LINE_DENSITY, ["g/cm", "g/in", "oz/in"], with_spread=True,
                    label=f"Weight per length of {material.name}",
                )  # fmt: skip
                shown = (f"{material.g_per_cm:g}", "g/cm", f"{material.g_per_cm_u:.2g}")
            case Material.Form.PUTTY:
                field = QuantityField(
                    VOLUME_DENSITY, ["g/cm³"], label=f"Density of {material.name}"
                )
                shown = (f"{material.density_g_cm3:g}", "g/cm³")
            case _:
                field = QuantityField(MASS, ["g", "oz"], label=f"Weight of one {material.name}")
                shown = (f"{material.sleeve_mass_g:g}", "g")
        typed = material.typed_density
        if typed:
            shown = (typed["text"], typed["unit"], *shown[2:])
        self.fields["weight"] = field
        self.initial["weight"] = shown


class WeighingField(forms.CharField):
    """One weighing or several: "5.2 5.4 5.1 g" or "0.18, 0.19 oz"; cleans to (texts, grams)."""

    def clean(self, value: Any) -> tuple[list[str], list[float]]:
        text = super().clean(value)
        unit = "oz" if re.search(r"\boz\b", text) else "g"
        words = [w for w in re.split(r"[;\s]+|,\s+", re.sub(r"\b(g|oz)\b", " ", text)) if w]
        try:
            values = [MASS.to_base(*parse_quantity(word, MASS, unit)) for word in words[:30]]
        except KentrobarError as error:
            raise forms.ValidationError(error.message, error.code) from None
        if not values or min(values) <= 0:
            raise forms.ValidationError("Type one weight or several, each above 0.", "no_mass")
        return [f"{word} {unit}" for word in words], values


class WeighForm(forms.Form):
    """The shop's own weighings of one kind of fitting."""

    weighings = WeighingField(
        max_length=200,
        label="Weighings",
        widget=forms.TextInput({"class": "form-control", "placeholder": "5.2 5.4 5.1 g"}),
    )

    def __init__(self, accessory: Accessory, data: Any = None) -> None:
        super().__init__(data, prefix=f"a{accessory.pk}", auto_id="id_%s")
        self.accessory = accessory
        self.initial["weighings"] = " ".join(accessory.typed.get("texts", []))


class NewAccessoryForm(forms.Form):
    """Another sort of a kind of fitting."""

    kind = forms.ChoiceField(choices=FittingKinds, widget=forms.Select({"class": "form-select"}))
    name = forms.CharField(max_length=60, widget=forms.TextInput({"class": "form-control"}))
