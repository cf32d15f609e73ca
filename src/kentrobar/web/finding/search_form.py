"""What is searched for: words, ranges of specs, a material, days."""

from __future__ import annotations

from typing import Final

from django import forms

from kentrobar.core.body.specs import BALANCE, READ, SWING_WEIGHT, TWIST_WEIGHT, ReadSpec
from kentrobar.core.quantities.errors import UnitError
from kentrobar.core.quantities.units import LENGTH, POINTS_UNIT, parse_range
from kentrobar.web.kit.numbers import Units
from kentrobar.web.kit.quantities import style_fields
from kentrobar.web.kit.requests import Sent

Range = tuple[float, float]
_EXAMPLES: Final[dict[str | tuple[str, str], str]] = {
    "g": "305-310",
    "oz": "over 8",
    "mm": "315-320",
    "cm": "31.5-32",
    "in": "12.4-12.6",
    (SWING_WEIGHT.key, "kg·cm²"): "over 320",
    (SWING_WEIGHT.key, "oz·in²"): "over 1750",
    (TWIST_WEIGHT.key, "kg·cm²"): "13-14",
    (TWIST_WEIGHT.key, "oz·in²"): "71-77",
}


class SearchForm(forms.Form):
    """What is typed into the search; what is left empty does not count."""

    q = forms.CharField(label="Words", max_length=100, required=False)
    material = forms.CharField(label="Laid of", max_length=60, required=False)
    since = forms.DateField(label="Since", required=False, widget=forms.DateInput({"type": "date"}))
    until = forms.DateField(label="Until", required=False, widget=forms.DateInput({"type": "date"}))

    def __init__(self, data: Sent, *, units: Units) -> None:
        super().__init__(data)
        self.units = units
        for spec in READ:
            self.fields[spec.field] = forms.CharField(
                label=f"{spec.title}, {self._unit(spec)}",
                max_length=40,
                required=False,
                widget=forms.TextInput({"placeholder": self._example(spec), "autocomplete": "off"}),
            )
        self.order_fields(["q", *(spec.field for spec in READ), "material", "since", "until"])
        style_fields(self)
        for name in ("since", "until"):
            self.fields[name].widget.attrs["class"] = "form-control"

    def _unit(self, spec: ReadSpec) -> str:
        if spec is BALANCE:
            return "mm" if self.units.balance == POINTS_UNIT else self.units.balance
        return self.units.of(spec)

    def _example(self, spec: ReadSpec) -> str:
        unit = self._unit(spec)
        return _EXAMPLES.get(unit) or _EXAMPLES.get((spec.key, unit), "")

    def clean(self) -> None:
        cleaned = self.cleaned_data
        for spec in READ:
            text = cleaned.get(spec.field)
            if text:
                try:
                    dimension = LENGTH if spec is BALANCE else spec.dimension
                    cleaned[spec.field] = parse_range(text, dimension, self._unit(spec))
                except UnitError as error:
                    self.add_error(spec.field, error.message)

    @property
    def ranges(self) -> dict[str, Range]:
        """The ranges asked for, in base units, by the keys of specs."""
        return {spec.key: self.cleaned_data[spec.field] for spec in READ if self.cleaned_data[spec.field]}

    @property
    def is_empty(self) -> bool:
        """Whether nothing is asked for."""
        return not any(self.cleaned_data.values())
