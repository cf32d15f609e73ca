"""A new frame with what was read of it, one at a time."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django import forms
from django.forms.boundfield import BoundField

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import BALANCE, READ, SWING_WEIGHT, TWIST_WEIGHT, ReadSpec
from kentrobar.core.body.specs import STATIC_WEIGHT as MASS
from kentrobar.core.frame.outline import Sport
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate, Quantity
from kentrobar.core.quantities.units import LENGTH
from kentrobar.core.reading.checks import Question, require_possible
from kentrobar.core.reading.slips import Mend, TypedNumber, TypedSpecs, find_mends, questions
from kentrobar.web.frames.forms import FrameForm, PaddleOutlineForm, RacketOutlineForm
from kentrobar.web.frames.models import SpecSheet
from kentrobar.web.kit.quantities import (
    LENGTH_UNITS,
    BalanceField,
    QuantityField,
    Typed,
    spec_field,
)
from kentrobar.web.measuring.mends import Fill, MendButton, buttons, quantity_fill
from kentrobar.web.measuring.services import TakenReading, Taking

USUAL_AXIS = {Sport.TENNIS: ("10", "cm"), Sport.PICKLEBALL: ("5", "cm")}


class NewFrameForm(FrameForm):
    """What is known of a new frame, and what was read of it.

    Specs that no frame can have are refused at the field. What is merely unusual is asked about;
    ``keep`` says that the person has looked and means it.
    """

    build = forms.ChoiceField(choices=SpecSheet.Build, label="Read in", initial="playing")
    mass = spec_field(MASS)
    balance = spec_field(BALANCE)
    swingweight = spec_field(SWING_WEIGHT)
    axis = QuantityField(
        LENGTH, LENGTH_UNITS, required=False, positive=False, label="Swing axis from the butt"
    )
    twistweight = spec_field(TWIST_WEIGHT)
    keep = forms.BooleanField(required=False, widget=forms.HiddenInput)

    read_fields = ("mass", "balance", "swingweight", "axis", "twistweight")

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.asked: list[Question] = []
        self.mends: list[MendButton] = []

    def starting_values(self) -> dict[str, Any]:
        return {
            **{spec.field: ("", self.units.of(spec), "") for spec in READ},
            "axis": USUAL_AXIS[self.sport],
        } | super().starting_values()

    # -- cleaning -------------------------------------------------------------------

    def clean(self) -> dict[str, Any]:
        cleaned = super().clean()
        if hasattr(self, "dimensions") and not any(
            name in self.errors for name in self.read_fields
        ):
            self._clean_specs(cleaned)
        return cleaned

    def _clean_specs(self, cleaned: dict[str, Any]) -> None:
        axis = cleaned["axis"]
        if cleaned["swingweight"] and axis is None:
            self.add_error(
                "axis",
                "A swing weight without its axis is half a number; type the axis, such as 10 cm.",
            )
            return
        known = {spec.key: self._quantity(spec, cleaned[spec.field]) for spec in READ}
        self.measured = MeasuredSpecs.read_apart(known, axis.base if axis else 10.0)
        entry = self._entry(cleaned)
        try:
            require_possible(self.measured, self.dimensions.length_cm)
        except KentrobarError as error:
            self.blame(error)
            self.mends = self._buttons(find_mends(entry))
            return
        if not cleaned["keep"]:
            self._ask(questions(entry))

    def _quantity(self, spec: ReadSpec, typed: Typed | None) -> Quantity:
        if typed is None:
            return NOT_MEASURED
        u = spec.usual_u if typed.u_base is None else typed.u_base
        return Estimate(self._base(spec, typed), u)

    def _base(self, spec: ReadSpec, typed: Typed) -> float:
        if spec is not BALANCE:
            return typed.base
        return BalanceField.in_cm(typed, self.dimensions.length_cm)

    def _entry(self, cleaned: dict[str, Any]) -> TypedSpecs:
        typed = {name: cleaned.get(name) for name in ("length", *self.read_fields)}
        return TypedSpecs(
            self.sport, {n: TypedNumber(t.text, t.unit) for n, t in typed.items() if t}
        )

    def _ask(self, asked: list[Question]) -> None:
        self.asked = asked
        for question in asked:
            error = forms.ValidationError(question.message, "unusual")
            self.add_error(self.field_of(question.field), error)
            self.mends += self._buttons(question.mends)

    def _buttons(self, mends: Sequence[Mend]) -> list[MendButton]:
        return buttons(mends, _fill)

    def field_of(self, quantity: str) -> str | None:
        by_key = {spec.key: spec.field for spec in READ} | {"axis_cm": "axis"}
        return super().field_of(by_key.get(quantity, quantity))

    @property
    def only_asks(self) -> bool:
        """Whether nothing is wrong and all that is left is to look at unusual values."""
        return bool(self.asked) and all(
            error.code == "unusual" for errors in self.errors.as_data().values() for error in errors
        )

    # -- what was typed -----------------------------------------------------------------

    def taking(self) -> Taking:
        """What is to be recorded of a new frame."""
        return Taking(self.measured, self.cleaned_data["build"], list(self._readings()))

    def _readings(self) -> list[TakenReading]:
        typed = ((spec, self.cleaned_data[spec.field]) for spec in READ)
        return [
            TakenReading(
                spec.field, each.text, each.unit, self._base(spec, each), detail=self._detail(spec)
            )
            for spec, each in typed
            if each is not None
        ]

    def _detail(self, spec: ReadSpec) -> dict[str, Any]:
        spread = self.data.get(f"{spec.field}_2", "").strip()
        detail: dict[str, Any] = {"spread": spread} if spread else {}
        axis = self.cleaned_data["axis"]
        if spec is SWING_WEIGHT and axis:
            detail["axis"] = axis.record()
        return detail

    def spec_rows(self) -> list[BoundField]:
        return [self[name] for name in self.read_fields]


def _fill(mend: Mend) -> Fill:
    return quantity_fill(mend.changes)


class NewRacketForm(RacketOutlineForm, NewFrameForm):
    pass


class NewPaddleForm(PaddleOutlineForm, NewFrameForm):
    pass


NEW_FORM_OF: dict[str, type[NewFrameForm]] = {
    Sport.TENNIS.value: NewRacketForm,
    Sport.PICKLEBALL.value: NewPaddleForm,
}
