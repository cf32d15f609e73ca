"""What is read at the bench."""

from __future__ import annotations

import math
from typing import Any

from django import forms

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import BALANCE, READ, SWING_WEIGHT
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import LENGTH, MASS
from kentrobar.core.reading.checks import require_possible
from kentrobar.core.weight.pieces import Piece
from kentrobar.web.kit.numbers import Units
from kentrobar.web.kit.quantities import (
    BalanceField,
    QuantityField,
    Typed,
    spec_field,
    style_fields,
)
from kentrobar.web.kit.requests import Sent


class CutForm(forms.Form):
    """A piece that lies, cut to another length or weight than was told."""

    def __init__(self, data: Sent, *, piece: Piece, units: Units) -> None:
        super().__init__(data)
        self.piece = piece
        is_strip = piece.as_strip is not None
        self.fields["to"] = QuantityField(
            LENGTH if is_strip else MASS, ["mm", "cm", "in"] if is_strip else ["g", "oz"],
            label="Length of each strip now" if is_strip else "Weight now, of one body",
        )  # fmt: skip
        unit = units.ruler if is_strip else units.mass
        now = (
            LENGTH.from_base(piece.extent_cm, unit)
            if is_strip
            else MASS.from_base(piece.one_mass_g, unit)
        )
        self.initial["to"] = f"{now:.4g}", unit

    def clean_to(self) -> Typed:
        typed: Typed = self.cleaned_data["to"]
        try:
            self.cut = (
                self.piece.with_length(typed.base)
                if self.piece.as_strip
                else self.piece.with_mass(typed.base)
            )
        except KentrobarError as error:
            raise forms.ValidationError(error.message) from None
        return typed


class ReadForm(forms.Form):
    """One reading of the frame as it lies, of as many specs as were read."""

    times = forms.TypedChoiceField(
        choices=[(n, f"the mean of {n}" if n > 1 else "read once") for n in (1, 2, 3, 5)],
        coerce=int, empty_value=None, required=False, label="What is typed is",
    )  # fmt: skip

    def __init__(self, data: Sent, *, length_cm: float, axis_cm: float, units: Units) -> None:
        super().__init__(data)
        self.length_cm, self.axis_cm = length_cm, axis_cm
        for spec in READ:
            label = spec.title
            if spec is SWING_WEIGHT:
                label += f" at {units.axis_text(axis_cm)}"
            self.fields[spec.field] = spec_field(spec, with_spread=False, label=label)
            unit = units.balance if spec is BALANCE else spec.unit
            self.initial[spec.field] = "", units.mass if spec.dimension is MASS else unit
        self.order_fields([*(spec.field for spec in READ), "times"])
        style_fields(self)

    def clean(self) -> dict[str, Any]:
        cleaned = super().clean() or self.cleaned_data
        if self.errors:
            return cleaned
        if not any(cleaned[spec.field] for spec in READ):
            self.add_error(READ[0].field, "Type what you read of one spec at least.")
            return cleaned
        try:
            require_possible(self.measured(), self.length_cm)
        except KentrobarError as error:
            field = next((s.field for s in READ if s.key == error.field), READ[0].field)
            self.add_error(field, error.message)
        return cleaned

    def measured(self) -> MeasuredSpecs:
        """What was read, about the work's axis, with the ± of instruments that nobody described."""
        root = math.sqrt(self.cleaned_data["times"] or 1)
        found = {
            spec.key: Estimate(self._base(spec.field, typed), spec.usual_u / root)
            for spec in READ
            if (typed := self.cleaned_data[spec.field])
        }
        return MeasuredSpecs.read_apart(found, self.axis_cm)

    def record(self) -> dict[str, Any]:
        """What is kept of the reading."""
        read = self.measured()
        quantities = {spec.key: read.of(spec) for spec in READ}
        return {
            "specs": {n: q._asdict() for n, q in quantities.items() if isinstance(q, Estimate)},
            "typed": {s.field: t.record() for s in READ if (t := self.cleaned_data[s.field])},
            "times": self.cleaned_data["times"] or 1,
        }

    def _base(self, name: str, typed: Typed) -> float:
        return BalanceField.in_cm(typed, self.length_cm) if name == BALANCE.field else typed.base
