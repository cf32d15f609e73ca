"""A form field for what a person types: number, unit and, where wanted, ±."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any, NamedTuple

from django import forms
from django.core.exceptions import ValidationError

from kentrobar.core.body.specs import BALANCE, AimedSpec
from kentrobar.core.quantities.errors import UnitError
from kentrobar.core.quantities.units import (
    CM_PER_POINT,
    LENGTH,
    POINTS_UNIT,
    Dimension,
    is_signed,
    parse_balance,
    parse_number,
    parse_quantity,
)
from kentrobar.web.kit.records import Json

LENGTH_UNITS, THICKNESS_UNITS = ["cm", "mm", "in"], ["mm", "cm", "in"]


class Typed(NamedTuple):
    """A quantity as it was typed, with its value in the base unit."""

    text: str
    unit: str
    base: float
    u_base: float | None = None

    @property
    def is_change(self) -> bool:
        """Whether it says by how much more or less: by its sign. In points a minus is head-heavy, no change."""
        return is_signed(self.text) and (self.unit != POINTS_UNIT or self.text.startswith("+"))

    def record(self) -> Json:
        """What is kept of the typing beside the canonical value."""
        return {"text": self.text, "unit": self.unit}


class QuantityWidget(forms.MultiWidget):
    template_name = "kit/quantity_widget.html"

    def __init__(self, units: Sequence[str], with_spread: bool, noun: str) -> None:
        self.with_spread = with_spread
        attrs = {"class": "form-control", "inputmode": "decimal", "autocomplete": "off"}
        widgets: list[forms.Widget] = [
            forms.TextInput(attrs),
            forms.Select(
                {"class": "form-select", "aria-label": f"Unit of {noun}"},
                choices=[(unit, unit) for unit in units],
            ),
        ]
        if with_spread:
            widgets.append(forms.TextInput(attrs | {"placeholder": "±", "aria-label": f"± of {noun}"}))
        super().__init__(widgets)

    def decompress(self, value: Any) -> list[Any]:
        return list(value) if value else [None] * len(self.widgets)

    def id_for_label(self, id_: str) -> str:
        return f"{id_}_0"


class QuantityField(forms.MultiValueField):
    """Cleans to ``Typed`` or None; one clear sentence where it cannot be read."""

    def __init__(
        self,
        dimension: Dimension,
        units: Sequence[str],
        *,
        with_spread: bool = False,
        positive: bool = True,
        takes_change: bool = False,
        **options: Any,
    ) -> None:
        self.dimension = dimension
        self.positive, self.takes_change = positive, takes_change
        required = options.pop("required", True)
        options.setdefault("label", dimension.noun.capitalize())
        parts = [forms.CharField(required=False), forms.CharField(required=False)]
        if with_spread:
            parts.append(forms.CharField(required=False))
        super().__init__(
            fields=parts,
            widget=QuantityWidget(units, with_spread, str(options["label"]).lower()),
            require_all_fields=False,
            required=False,
            **options,
        )
        self.units = tuple(units)
        self.needed = required

    def compress(self, data: list[str]) -> tuple[str, str, str] | None:
        text, unit, spread = (*[(part or "").strip() for part in data], "", "", "")[:3]
        return (text, unit if unit in self.units else self.units[0], spread)

    def clean(self, value: Any) -> Typed | None:
        text, unit, spread = super().clean(value) or ("", self.units[0], "")
        if not text:
            if self.needed:
                raise ValidationError(f"Type the {str(self.label).lower()}.", code="required")
            return None
        try:
            return self.read(text, unit, spread)
        except UnitError as error:
            raise ValidationError(error.message, code=error.code) from None

    def read(self, text: str, unit: str, spread: str) -> Typed:
        """The typed quantity; raises UnitError."""
        value, unit = parse_quantity(text, self.dimension, unit)
        base = self.dimension.to_base(value, unit)
        typed = Typed(text, unit, base, self._spread(spread, unit))
        self._require_value(typed)
        if self.positive and base <= 0 and not (self.takes_change and typed.is_change):
            raise UnitError(f"The {str(self.label).lower()} is above 0.", code="not_positive")
        return typed

    def _require_value(self, typed: Typed) -> None:
        """Refuse a change where a value is asked for."""
        if typed.text.startswith("+") and not self.takes_change:
            raise UnitError("Enter the value itself, not a change.", code="no_change")

    def _spread(self, text: str, unit: str) -> float | None:
        if not text:
            return None
        value, _ = parse_number(text.lstrip("±"))
        if value < 0:
            raise UnitError("A ± is 0 or more.", code="negative_spread")
        return self.dimension.to_base(value, unit)


class BalanceField(QuantityField):
    """A balance in a length or in points; points need the frame's length, so the form turns them."""

    def __init__(self, **options: Any) -> None:
        options.setdefault("with_spread", True)
        super().__init__(LENGTH, BALANCE.typed_units, **options)

    def read(self, text: str, unit: str, spread: str) -> Typed:
        _, unit, base = parse_balance(text, unit, 0.0)
        spread_unit = "cm" if unit == POINTS_UNIT else unit
        u_base = self._spread(spread, spread_unit)
        if unit == POINTS_UNIT and u_base is not None:
            u_base *= CM_PER_POINT
        typed = Typed(text, unit, base, u_base)
        self._require_value(typed)
        return typed

    @staticmethod
    def in_cm(typed: Typed, length_cm: float) -> float:
        """A balance from the butt, which points tell from the middle of a length."""
        return parse_balance(typed.text, typed.unit, length_cm)[2]


def spec_field(spec: AimedSpec, **options: Any) -> QuantityField:
    """The field of a spec that is typed with its ± unless told otherwise; never required."""
    options.setdefault("label", spec.title)
    options.setdefault("with_spread", True)
    if spec is BALANCE:
        return BalanceField(required=False, **options)
    units = spec.typed_units
    return QuantityField(spec.dimension, units, required=False, **options)


def offer(form: forms.BaseForm, name: str, choices: Iterable[tuple[str, str]]) -> None:
    """Let a person choose of these in a form's field."""
    field = form.fields[name]
    if not isinstance(field, forms.ChoiceField):
        raise TypeError(f"{name} offers no choice.")
    field.choices = list(choices)


def style_fields(form: forms.BaseForm) -> None:
    """Give plain fields the look of the house."""
    for field in form.fields.values():
        if look := look_of(field.widget):
            field.widget.attrs["class"] = look


def look_of(widget: forms.Widget) -> str:
    """The class of a plain widget; empty for one that brings its own."""
    if isinstance(widget, forms.Select):
        return "form-select"
    if isinstance(widget, forms.CheckboxInput):
        return "form-check-input"
    typed = forms.TextInput | forms.NumberInput | forms.EmailInput | forms.PasswordInput | forms.Textarea
    return "form-control" if isinstance(widget, typed) else ""


def read_axis(text: str, usual_cm: float) -> tuple[float, str]:
    """A swing axis as typed, in cm; the usual one, with a sentence, where it cannot be read."""
    if not text:
        return usual_cm, ""
    try:
        return LENGTH.to_base(*parse_quantity(text, LENGTH, "cm")), ""
    except UnitError as error:
        return usual_cm, error.message
