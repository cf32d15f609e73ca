"""What is read at the bench."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any, Final

from django import forms
from django.urls import reverse

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import BALANCE, READ, SWING_WEIGHT, ReadSpec
from kentrobar.core.editing.actions import set_place
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import LENGTH, MASS
from kentrobar.core.reading.calibration import NO_CORRECTION
from kentrobar.core.reading.checks import require_possible
from kentrobar.core.reading.series import usual_precision
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
from kentrobar.web.measuring.models import Instrument
from kentrobar.web.measuring.queries import readers_of
from kentrobar.web.planning.hand.parameters import ActionRequest, place

SAME_AXIS_CM: Final = 1e-6


class CutForm(forms.Form):
    """A piece that lies, cut to another length or weight than was told."""

    def __init__(self, data: Sent, *, piece: Piece, units: Units) -> None:
        super().__init__(data)
        self.piece = piece
        is_strip = piece.is_strip
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
                if self.piece.is_strip
                else self.piece.with_mass(typed.base)
            )
        except KentrobarError as error:
            raise forms.ValidationError(error.message) from None
        return typed


class MoveForm(forms.Form):
    """A piece that lies, laid elsewhere: by the clock, or so far from the butt."""

    place = forms.CharField(label="Lies now at", max_length=20)

    def __init__(self, data: Sent, *, laid: PlanState, number: int, units: Units) -> None:
        super().__init__(data)
        self.laid, self.number, self.units = laid, number, units
        far = "20 1/2 in" if units.ruler == "in" else "52 cm"
        self.fields[
            "place"
        ].help_text = (
            f"A clock position as “2:30”, or how far its middle is from the butt, as “{far}”."
        )
        style_fields(self)

    def clean_place(self) -> str:
        text: str = self.cleaned_data["place"]
        try:
            asked = ActionRequest(self.laid, {"value": text}, self.units, lambda: Shelf([]))
            self.moved = (
                set_place(self.laid, self.number, place(asked)).plan.find(self.number).piece
            )
        except KentrobarError as error:
            raise forms.ValidationError(error.message) from None
        return text


class ReadForm(forms.Form):
    """One reading of the frame as it lies, of as many specs as were read, each with its instrument."""

    times = forms.TypedChoiceField(
        choices=[(n, f"the mean of {n}" if n > 1 else "read once") for n in (1, 2, 3, 5)],
        coerce=int, empty_value=None, required=False, label="What is typed is",
    )  # fmt: skip

    def __init__(
        self, data: Sent, *, length_cm: float, axis_cm: float, units: Units,
        instruments: Sequence[Instrument] = (),
    ) -> None:  # fmt: skip
        super().__init__(data)
        self.length_cm, self.axis_cm = length_cm, axis_cm
        self.readers = {spec.field: self._readers(spec, instruments) for spec in READ}
        for spec in READ:
            label = spec.title
            if spec is SWING_WEIGHT:
                label += f" at {units.axis_text(axis_cm)}"
            self.fields[spec.field] = spec_field(spec, with_spread=False, label=label)
            self.initial[spec.field] = "", units.of(spec)
            if readers := self.readers[spec.field]:
                offered = [
                    *((str(each.pk), _name_of(each)) for each in readers),
                    ("", "another one"),
                ]
                self.fields[f"{spec.field}_with"] = forms.ChoiceField(
                    choices=offered, required=False, label="read with", initial=str(readers[0].pk)
                )
        style_fields(self)

    def _readers(self, spec: ReadSpec, instruments: Sequence[Instrument]) -> list[Instrument]:
        """Those that read a spec; a machine only where its axis is that of the work."""
        return [
            each for each in readers_of(spec, instruments)
            if spec is not SWING_WEIGHT or abs(each.axis_cm - self.axis_cm) < SAME_AXIS_CM
        ]  # fmt: skip

    def rows(self) -> list[tuple[forms.BoundField, forms.BoundField | None, str]]:
        """Each spec's field, that of its instrument, and where a device of it is asked."""
        found = []
        for spec in READ:
            readers = self.readers[spec.field]
            device = next((each for each in readers if each.address), None)
            address = reverse("measuring:take", args=[device.pk]) if device else ""
            chosen = self[f"{spec.field}_with"] if readers else None
            found.append((self[spec.field], chosen, address))
        return found

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
        """What was read, about the work's axis, as surely as its instrument reads it so many times."""
        times = self.cleaned_data["times"] or 1
        found = {
            spec.key: self._estimate(spec, typed, times)
            for spec in READ
            if (typed := self.cleaned_data[spec.field])
        }
        return MeasuredSpecs.read_apart(found, self.axis_cm)

    def _estimate(self, spec: ReadSpec, typed: Typed, times: int) -> Estimate:
        shown = BalanceField.in_cm(typed, self.length_cm) if spec is BALANCE else typed.base
        instrument = self.instrument_of(spec)
        precision = instrument.precision_at(shown) if instrument else usual_precision(spec)
        value = instrument.correction.truth(shown) if instrument else shown
        scatter = precision.repeatability / math.sqrt(times)
        return Estimate(value, math.hypot(scatter, precision.step_u, precision.systematic))

    def instrument_of(self, spec: ReadSpec) -> Instrument | None:
        """What a spec was read with; None where nobody said."""
        chosen = self.cleaned_data.get(f"{spec.field}_with")
        return next((each for each in self.readers[spec.field] if str(each.pk) == chosen), None)

    def record(self) -> dict[str, Any]:
        """What is kept of the reading."""
        read = self.measured()
        quantities = {spec.key: read.of(spec) for spec in READ}
        typed = {s.field: t.record() for s in READ if (t := self.cleaned_data[s.field])}
        with_what = {
            s.field: i.pk for s in READ if s.field in typed and (i := self.instrument_of(s))
        }
        return {
            "specs": {n: q._asdict() for n, q in quantities.items() if q},
            "typed": typed, "times": self.cleaned_data["times"] or 1, "instruments": with_what,
        }  # fmt: skip


def _name_of(instrument: Instrument) -> str:
    """What an instrument is called, and whether what it shows is corrected."""
    is_corrected = instrument.correction != NO_CORRECTION
    return f"{instrument.name}, corrected" if is_corrected else instrument.name
