"""What a person types about a frame."""

from __future__ import annotations

import json
import re
from collections.abc import Sequence
from typing import Any

from django import forms

from kentrobar.core import specs as core_specs
from kentrobar.core.blocked import parse_blocked
from kentrobar.core.checks import Question, require_possible
from kentrobar.core.errors import KentrobarError, UnitError
from kentrobar.core.estimates import NOT_MEASURED, Estimate, Quantity
from kentrobar.core.outline import (
    Dimensions,
    PaddleDimensions,
    RacketDimensions,
    Sport,
    head_from_size,
    outline_of,
)
from kentrobar.core.slips import Entry, Mend, TypedNumber, find_mends, questions
from kentrobar.core.specs import MeasuredSpecs
from kentrobar.core.units import AREA, CM_PER_POINT, INERTIA, LENGTH, MASS, parse_balance
from kentrobar.web.frames.models import Frame, SpecSheet
from kentrobar.web.kit.numbers import Units
from kentrobar.web.kit.quantities import QuantityField, Typed, style_fields

LENGTH_UNITS, THICKNESS_UNITS = ["cm", "mm", "in"], ["mm", "cm", "in"]


class BalanceField(QuantityField):
    """A balance in a length or in points; points need the frame's length, so the form turns them."""

    def __init__(self, **options: Any) -> None:
        super().__init__(LENGTH, ["mm", "cm", "in", "pt"], with_spread=True, **options)

    def read(self, text: str, unit: str, spread: str) -> Typed:
        _, unit, base = parse_balance(text, unit, 0.0)
        spread_unit = "cm" if unit == "pt" else unit
        u_base = self._spread(spread, spread_unit)
        if unit == "pt" and u_base is not None:
            u_base *= CM_PER_POINT
        return Typed(text, unit, base, u_base)

    def in_cm(self, typed: Typed, length_cm: float) -> float:
        return parse_balance(typed.text, typed.unit, length_cm)[2]


class PatternField(forms.CharField):
    """A string pattern such as 16 x 19, as (mains, crosses), or None."""

    def __init__(self) -> None:
        super().__init__(max_length=12, required=False, label="String pattern")
        self.widget.attrs["placeholder"] = "16 x 19"

    def clean(self, value: Any) -> tuple[int, int] | None:
        text = super().clean(value)
        if not text:
            return None
        found = re.fullmatch(r"\s*(\d{1,2})\s*[x×*/]\s*(\d{1,2})\s*", text, re.IGNORECASE)
        if not found or not (8 <= int(found[1]) <= 24 and 8 <= int(found[2]) <= 28):
            raise forms.ValidationError("Type mains and crosses, such as 16 x 19.", "pattern")
        return int(found[1]), int(found[2])


def text_area(label: str) -> forms.CharField:
    return forms.CharField(
        max_length=2000, required=False, widget=forms.Textarea({"rows": 2}), label=label
    )


def _dimension(label: str, units: list[str] = LENGTH_UNITS, **options: Any) -> QuantityField:
    return QuantityField(LENGTH, units, label=label, **options)


class HandedIn(forms.Form):
    """How a frame is built, and what it is in for."""

    pattern = PatternField()
    handle_build = forms.ChoiceField(choices=Frame.HandleChoice, required=False, label="Handle")
    post_hold = forms.ChoiceField(
        choices=Frame.PostChoice, required=False, label="Held by the stringing machine"
    )
    blocked = forms.CharField(
        max_length=200, required=False, label="Blocked on the rim",
        help_text="Tie-off holes and the like: 6T, 8H, 1:15-1:45, 57-59 cm.",
    )  # fmt: skip
    bumper_reach = QuantityField(
        LENGTH, LENGTH_UNITS, required=False, label="Bumper and grommet strip reach down to",
        help_text="From the butt; left empty, as far as they usually do.",
    )  # fmt: skip
    complaint = text_area("What the player complains of")
    wishes = text_area("What the player wants")
    must_keep = text_area("What must not change")


class FrameForm(HandedIn):
    """What rackets and paddles share: who, dimensions, readings.

    Specs that no frame can have are refused at the field. What is merely unusual is asked about;
    ``keep`` says that the person has looked and means it.
    """

    sport: Sport
    dimension_fields: tuple[str, ...] = ()
    starting_dimensions: dict[str, tuple[str, str]] = {}

    label = forms.CharField(max_length=80, label="Name of the frame")
    player = forms.CharField(max_length=80, required=False)
    mark = forms.CharField(max_length=40, required=False, label="Own mark or last digits")
    build = forms.ChoiceField(choices=SpecSheet.Build, label="Read in", initial="playing")
    mass = QuantityField(MASS, ["g", "oz"], with_spread=True, required=False, label="Static weight")
    balance = BalanceField(required=False, label="Balance")
    swingweight = QuantityField(
        INERTIA, ["kg·cm²", "oz·in²"], with_spread=True, required=False, label="Swing weight"
    )
    axis = QuantityField(
        LENGTH, LENGTH_UNITS, required=False, positive=False, label="Swing axis from the butt"
    )
    twistweight = QuantityField(
        INERTIA, ["kg·cm²", "oz·in²"], with_spread=True, required=False, label="Twist weight"
    )
    colour = forms.CharField(max_length=40, required=False)
    is_used = forms.BooleanField(required=False, label="Used before")
    notes = text_area("Notes")
    keep = forms.BooleanField(required=False, widget=forms.HiddenInput)

    about_fields = (
        "label", "player", "mark", "colour", "is_used", "handle_build", "post_hold", "blocked",
        "complaint", "wishes", "must_keep", "notes",
    )  # fmt: skip
    spec_fields = ("mass", "balance", "swingweight", "axis", "twistweight")

    def __init__(self, data: Any = None, *, units: Units, frame: Frame | None = None) -> None:
        super().__init__(data)
        self.units = units
        self.asked: list[Question] = []
        self.mends: list[tuple[str, str]] = []
        self.initial |= self._starting_values() if frame is None else self._values_of(frame)
        style_fields(self)

    def _starting_values(self) -> dict[str, Any]:
        balance_unit = self.units.balance
        return {
            "mass": ("", self.units.mass, ""),
            "balance": ("", balance_unit, ""),
            "axis": ("10" if self.sport is Sport.TENNIS else "5", "cm"),
        } | self.starting_dimensions

    def _values_of(self, frame: Frame) -> dict[str, Any]:
        values: dict[str, Any] = {name: getattr(frame, name) for name in self.about_fields}
        values |= typed_dimensions_of(frame, self.dimension_fields)
        if frame.bumper_reach_cm:
            values["bumper_reach"] = (f"{frame.bumper_reach_cm:g}", "cm")
        values["pattern"] = f"{frame.mains} x {frame.crosses}" if frame.mains else ""
        if frame.specs:
            values["build"] = frame.specs.build
            for field in self.spec_fields:
                typed = frame.specs.typed.get(field)
                if typed:
                    values[field] = (typed["text"], typed["unit"], typed.get("spread", ""))
        return {"axis": ("10", "cm"), **values}

    # -- cleaning -------------------------------------------------------------------

    def clean(self) -> dict[str, Any]:
        cleaned = super().clean() or self.cleaned_data
        if any(name.rpartition("_")[0] in self.errors for name in self.dimension_fields):
            return cleaned
        try:
            self.dimensions = self.read_dimensions(cleaned)
            outline = outline_of(self.dimensions)
            mains, _ = cleaned.get("pattern") or (0, 0)
            parse_blocked(cleaned.get("blocked") or "", outline, mains)
        except KentrobarError as error:
            self._blame(error)
            return cleaned
        if not any(name in self.errors for name in self.spec_fields):
            self._clean_specs(cleaned)
        return cleaned

    def read_dimensions(self, cleaned: dict[str, Any]) -> Dimensions:
        raise NotImplementedError

    def _clean_specs(self, cleaned: dict[str, Any]) -> None:
        length_cm = self.dimensions.length_cm
        axis = cleaned["axis"]
        if cleaned["swingweight"] and axis is None:
            self.add_error(
                "axis",
                "A swing weight without its axis is half a number; type the axis, such as 10 cm.",
            )
            return
        self.measured = MeasuredSpecs(
            mass_g=_estimate(cleaned["mass"], core_specs.SCALE_U_G),
            balance_cm=self._balance(cleaned["balance"], length_cm),
            swingweight_kgcm2=_estimate(cleaned["swingweight"], core_specs.SWINGWEIGHT_U_KGCM2),
            axis_cm=axis.base if axis else 10.0,
            twistweight_kgcm2=_estimate(cleaned["twistweight"], core_specs.TWISTWEIGHT_U_KGCM2),
        )
        entry = self._entry(cleaned)
        try:
            require_possible(self.measured, length_cm)
        except KentrobarError as error:
            self._blame(error)
            self.mends = mend_orders(find_mends(entry))
            return
        if not cleaned["keep"]:
            self.asked = questions(entry)
            for question in self.asked:
                self._ask(question)
                self.mends += mend_orders(question.mends)

    def _entry(self, cleaned: dict[str, Any]) -> Entry:
        fields = ("length", "mass", "balance", "swingweight", "axis", "twistweight")
        typed = {name: cleaned[name] for name in fields if cleaned[name]}
        return Entry(self.sport, {n: TypedNumber(t.text, t.unit) for n, t in typed.items()})

    def _balance(self, typed: Typed | None, length_cm: float) -> Quantity:
        if typed is None:
            return NOT_MEASURED
        u = core_specs.BALANCE_BOARD_U_CM if typed.u_base is None else typed.u_base
        return Estimate(self.fields["balance"].in_cm(typed, length_cm), u)

    def _blame(self, error: KentrobarError) -> None:
        """Show an error of the rules at its field."""
        self.add_error(self._field_of(error.field), error.message)

    def _ask(self, question: Question) -> None:
        self.add_error(
            self._field_of(question.field), forms.ValidationError(question.message, "unusual")
        )

    def _field_of(self, quantity: str) -> str | None:
        field = quantity if quantity in self.fields else quantity.rpartition("_")[0]
        return field if field in self.fields else None

    @property
    def only_asks(self) -> bool:
        """Whether nothing is wrong and all that is left is to look at unusual values."""
        return bool(self.asked) and all(
            error.code == "unusual" for errors in self.errors.as_data().values() for error in errors
        )

    # -- what was typed -----------------------------------------------------------------

    @property
    def about(self) -> dict[str, Any]:
        mains, crosses = self.cleaned_data["pattern"] or (None, None)
        about = {name: self.cleaned_data[name] for name in self.about_fields}
        for name in ("handle_build", "post_hold"):
            about[name] = about[name] or "unknown"
        reach = self.cleaned_data["bumper_reach"]
        about["bumper_reach_cm"] = reach.base if reach else None
        return about | {"mains": mains, "crosses": crosses}

    def typed(self, fields: tuple[str, ...]) -> dict[str, Any]:
        return {
            field: value.record()
            for field in fields
            if isinstance(value := self.cleaned_data.get(field), Typed)
        }

    def typed_dimensions(self) -> dict[str, Any]:
        return self.typed(tuple(name.rpartition("_")[0] for name in self.dimension_fields))

    def typed_specs(self) -> dict[str, Any]:
        """The readings as typed, with their ±."""
        kept = self.typed(self.spec_fields)
        for field in kept:
            spread = self.data.get(f"{field}_2", "").strip()
            if spread:
                kept[field]["spread"] = spread
        return kept

    def was_reread(self, before: dict[str, Any]) -> bool:
        """Whether any reading differs from what was typed before."""
        parts = ("text", "unit", "spread")

        def plain(typed: dict[str, Any]) -> dict[str, tuple[Any, ...]]:
            known = {field: typed[field] for field in self.spec_fields if field in typed}
            return {f: tuple(t.get(p, "") for p in parts) for f, t in known.items()}

        now, then = plain(self.typed_specs()), plain(before)
        if "swingweight" not in now and "swingweight" not in then:
            now.pop("axis", None), then.pop("axis", None)
        return now != then

    def dimension_rows(self) -> list[Any]:
        return [self[name.rpartition("_")[0]] for name in self.dimension_fields]

    def spec_rows(self) -> list[Any]:
        return [self[name] for name in self.spec_fields]


def mend_orders(mends: Sequence[Mend]) -> list[tuple[str, str]]:
    """Mends as buttons of the page: what they say, and what its script puts into the fields."""
    return [
        (
            mend.sentence,
            json.dumps({n: [t.text, t.unit] for n, t in mend.changes.items()}, ensure_ascii=False),
        )
        for mend in mends
        if mend.changes
    ]


def typed_dimensions_of(frame: Frame, names: tuple[str, ...]) -> dict[str, tuple[str, str]]:
    """A frame's dimensions as they were typed, as values for the fields of a form."""
    base_units = {"cm": "cm", "mm": "mm", "cm2": "cm²"}
    values = {}
    for name in names:
        field, _, unit = name.rpartition("_")
        typed, value = frame.typed.get(field), getattr(frame, name)
        if typed:
            values[field] = (typed["text"], typed["unit"])
        elif value is not None:
            values[field] = (f"{value:g}", base_units[unit])
    return values


def _estimate(typed: Typed | None, usual_u: float) -> Quantity:
    if typed is None:
        return NOT_MEASURED
    return Estimate(typed.base, usual_u if typed.u_base is None else typed.u_base)


class RacketOutline(forms.Form):
    """The dimensions of a racket."""

    sport = Sport.TENNIS
    dimension_fields = (
        "length_cm", "head_size_cm2", "head_length_cm", "head_width_cm", "beam_mm",
        "handle_length_cm",
    )  # fmt: skip
    starting_dimensions = {
        "length": ("68.58", "cm"), "beam": ("23", "mm"), "handle_length": ("18", "cm"),
    }  # fmt: skip

    length = _dimension("Length")
    head_size = QuantityField(AREA, ["in²", "cm²"], label="Head size", required=False)
    head_length = _dimension(
        "Head length, outside", required=False, help_text="Left empty: a usual head of this size."
    )
    head_width = _dimension("Head width, outside", required=False)
    beam = _dimension("Beam", THICKNESS_UNITS)
    handle_length = _dimension("Handle length")

    def read_dimensions(self, cleaned: dict[str, Any]) -> Dimensions:
        size, length, width = (cleaned[f] for f in ("head_size", "head_length", "head_width"))
        if not (length and width):
            if length or width or not size:
                raise UnitError(
                    "Type the head size, or the head's length and width, or all three.",
                    code="head_unknown",
                    field="head_size_cm2",
                )
            head_length_cm, head_width_cm = head_from_size(size.base)
        else:
            head_length_cm, head_width_cm = length.base, width.base
        return RacketDimensions(
            length_cm=cleaned["length"].base,
            head_length_cm=head_length_cm,
            head_width_cm=head_width_cm,
            beam_mm=cleaned["beam"].base * 10,
            handle_length_cm=cleaned["handle_length"].base,
            head_size_cm2=size.base if size else None,
        )


class PaddleOutline(forms.Form):
    """The dimensions of a paddle."""

    sport = Sport.PICKLEBALL
    dimension_fields = (
        "length_cm", "width_cm", "corner_radius_cm", "shoulder_cm", "handle_length_cm",
        "thickness_mm",
    )  # fmt: skip
    starting_dimensions = {
        "corner_radius": ("4", "cm"), "shoulder": ("5", "cm"), "thickness": ("16", "mm"),
        "handle_length": ("13", "cm"),
    }  # fmt: skip

    length = _dimension("Length")
    width = _dimension("Width")
    corner_radius = _dimension("Corner radius")
    shoulder = _dimension(
        "Shoulder height", help_text="Over which the face widens from the handle."
    )
    handle_length = _dimension("Handle length")
    thickness = _dimension("Thickness", THICKNESS_UNITS)

    def read_dimensions(self, cleaned: dict[str, Any]) -> Dimensions:
        return PaddleDimensions(
            length_cm=cleaned["length"].base,
            width_cm=cleaned["width"].base,
            corner_radius_cm=cleaned["corner_radius"].base,
            shoulder_cm=cleaned["shoulder"].base,
            handle_length_cm=cleaned["handle_length"].base,
            thickness_mm=cleaned["thickness"].base * 10,
        )


class RacketForm(RacketOutline, FrameForm):
    pass


class PaddleForm(PaddleOutline, FrameForm):
    pass


FORM_OF: dict[str, type[FrameForm]] = {
    Sport.TENNIS.value: RacketForm,
    Sport.PICKLEBALL.value: PaddleForm,
}


class ImportForm(forms.Form):
    """A kentrobar/1 file."""

    file = forms.FileField(
        label="A kentrobar/1 file",
        widget=forms.FileInput({"class": "form-control", "accept": ".json,application/json"}),
    )
