"""What a person types about a material."""

from __future__ import annotations

from typing import Any

from django import forms

from kentrobar.core.units import LINE_DENSITY, MASS, Dimension
from kentrobar.web.kit.quantities import QuantityField
from kentrobar.web.materials.models import Material

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
