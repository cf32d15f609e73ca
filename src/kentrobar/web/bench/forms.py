"""What is read at the bench."""

from __future__ import annotations

from django import forms

from kentrobar.core.body.specs import READ, SWING_WEIGHT
from kentrobar.core.body.sport import Sport
from kentrobar.core.editing.actions import set_place
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.frame.outline import Outline
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.units import LENGTH, MASS
from kentrobar.core.weight.pieces import Piece, RimStrip
from kentrobar.web.bench.rounds import stored_reading
from kentrobar.web.kit.numbers import Units
from kentrobar.web.kit.quantities import QuantityField, Typed, style_fields
from kentrobar.web.kit.records import Json
from kentrobar.web.kit.requests import Sent
from kentrobar.web.measuring.boxes import ReadingBoxes
from kentrobar.web.planning.board.parameters import ActionRequest, place
from kentrobar.web.shops.models import User


class CutForm(forms.Form):
    """A piece that lies, cut to another length or weight than was told."""

    def __init__(self, data: Sent, *, piece: Piece, units: Units) -> None:
        super().__init__(data)
        self.piece = piece
        is_strip = piece.is_strip
        self.fields["to"] = QuantityField(
            LENGTH if is_strip else MASS,
            ["mm", "cm", "in"] if is_strip else ["g", "oz"],
            label="Length of each strip now" if is_strip else "Weight of one now",
        )
        unit = units.ruler if is_strip else units.mass
        now = LENGTH.from_base(piece.extent_cm, unit) if is_strip else MASS.from_base(piece.one_mass_g, unit)
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


class SplitForm(forms.Form):
    """An applied strip cut in two where it lies; each part is then moved or removed by itself."""

    first = QuantityField(LENGTH, ["mm", "cm", "in"], label="Length of the first part")

    def __init__(self, data: Sent, *, strip: RimStrip, outline: Outline, units: Units) -> None:
        super().__init__(data)
        self.strip, self.outline = strip, outline
        half = LENGTH.from_base(strip.length_cm.value / 2, units.ruler)
        self.initial["first"] = f"{half:.4g}", units.ruler
        style_fields(self)

    def clean_first(self) -> Typed:
        typed: Typed = self.cleaned_data["first"]
        try:
            self.parts = self.strip.split(self.outline, typed.base)
        except KentrobarError as error:
            raise forms.ValidationError(error.message, error.code) from None
        return typed


class MoveForm(forms.Form):
    """Move an applied piece: to a clock position, a place by its name, or so far from the butt."""

    place = forms.CharField(label="New position", max_length=40)

    def __init__(self, data: Sent, *, alone: PlanState, number: int, units: Units) -> None:
        super().__init__(data)
        self.alone, self.number, self.units = alone, number, units
        far = "20 1/2 in" if units.ruler == "in" else "52 cm"
        name = "3 and 9" if alone.outline.sport is Sport.TENNIS else "top corners"
        self.fields[
            "place"
        ].help_text = (
            f"A clock position as “2:30”, a place as “{name}”, or its distance from the butt as “{far}”."
        )
        style_fields(self)

    def clean_place(self) -> str:
        text: str = self.cleaned_data["place"]
        try:
            request = ActionRequest(self.alone, {"value": text}, self.units, lambda: Shelf([]))
            self.moved = set_place(self.alone, self.number, place(request)).plan.find(self.number).piece
        except KentrobarError as error:
            raise forms.ValidationError(error.message) from None
        return text


class ReadingAtBench:
    """One reading of the frame as it lies, of as many specs as were read, each with its instrument."""

    def __init__(self, data: Sent, user: User, *, sport: Sport, length_cm: float, axis_cm: float) -> None:
        about = f"{SWING_WEIGHT.title} at {user.units.axis_text(axis_cm)}"
        self.boxes = ReadingBoxes(
            data, user, axis_cm=axis_cm, is_axis_fixed=True, titles={SWING_WEIGHT.field: about}
        )
        self.entry = self.boxes.read(sport, length_cm)

    def is_valid(self) -> bool:
        """Whether it can be noted; its boxes say what is wrong."""
        if self.entry.is_empty and not self.entry.has_errors:
            self.boxes.rows[0].errors.append("Enter at least one reading.")
        problem = self.entry.problem()
        if problem and not self.boxes.blame(problem):
            self.boxes.rows[0].errors.append(problem.message)
        return not any(row.errors for row in self.boxes.rows)

    def record(self) -> Json:
        """What is kept of the reading, about the work's axis."""
        read = self.entry.measured
        shared = {each.spec.key: each.precision.shared_u for each in self.entry.specs.values()}
        return {
            "specs": {s.key: q._asdict() | {"shared_u": shared[s.key]} for s in READ if (q := read.of(s))},
            "readings": [stored_reading(each) for each in self.boxes.readings()],
        }
