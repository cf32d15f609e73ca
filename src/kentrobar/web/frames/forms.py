"""What a person types about a frame."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from django import forms
from django.forms.boundfield import BoundField

from kentrobar.core.body.limits import require_possible
from kentrobar.core.body.sport import Sport
from kentrobar.core.editing.plan import Baseline
from kentrobar.core.frame.blocked import parse_blocked, with_unit
from kentrobar.core.frame.outline import (
    Dimensions,
    Outline,
    PaddleDimensions,
    RacketDimensions,
    head_from_size,
    outline_of,
)
from kentrobar.core.quantities.errors import KentrobarError, UnitError
from kentrobar.core.quantities.units import AREA, LENGTH, MASS
from kentrobar.core.weight.grip import grip_size_text, parse_grip_size
from kentrobar.web.frames.hooks import require_unopposed
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.queries import client_names, model_names
from kentrobar.web.kit.merging import MergedForm
from kentrobar.web.kit.quantities import (
    LENGTH_UNITS,
    THICKNESS_UNITS,
    QuantityField,
    Typed,
    offer,
    style_fields,
)
from kentrobar.web.kit.records import Json
from kentrobar.web.kit.requests import Sent
from kentrobar.web.shops.models import Client, User
from kentrobar.web.shops.services import the_one_named


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
            raise forms.ValidationError("Enter mains and crosses, such as 16 x 19.", "pattern")
        return int(found[1]), int(found[2])


class GripSizeField(forms.CharField):
    """A grip size such as 4 3/8 or L3, as its circumference in mm, or None."""

    def __init__(self) -> None:
        super().__init__(max_length=20, required=False, label="Grip size")
        self.widget.attrs["placeholder"] = "4 3/8 or L3"

    def prepare_value(self, value: Any) -> Any:
        return grip_size_text(value) if isinstance(value, float) else value

    def clean(self, value: Any) -> float | None:
        text = super().clean(value)
        try:
            return parse_grip_size(text) if text else None
        except UnitError as error:
            raise forms.ValidationError(error.message, error.code) from None

    def has_changed(self, initial: Any, data: Any) -> bool:
        return bool(super().has_changed(self.prepare_value(initial), data))


def text_area(label: str) -> forms.CharField:
    return forms.CharField(max_length=2000, required=False, widget=forms.Textarea({"rows": 2}), label=label)


def _dimension(label: str, units: list[str] = LENGTH_UNITS, **options: Any) -> QuantityField:
    return QuantityField(LENGTH, units, label=label, **options)


def require_one_client(user: User, name: str) -> str:
    """The name of one client, or of none yet. Raises ValidationError where it fits two."""
    names = [known for known in client_names(user) if known.lower() == name.strip().lower()]
    return _require_one(names, name)


def require_one_model(user: User, sport: str, name: str) -> str:
    """The same of a model's name."""
    names = [known for known in model_names(user, sport) if known.lower() == name.strip().lower()]
    return _require_one(names, name)


def _require_one(names: list[str], name: str) -> str:
    try:
        the_one_named(names, name.strip())
    except KentrobarError as error:
        raise forms.ValidationError(error.message, error.code) from None
    return name


def handles_of(sport: str, known: str = "") -> list[tuple[str, str]]:
    """The handles that frames of a sport have: a paddle's has no trap door. ``known`` is offered too."""
    doors = {Frame.HandleChoice.TRAP_DOOR.value, Frame.HandleChoice.FOAM_TRAP_DOOR.value} - {known}
    return [
        (value, label)
        for value, label in Frame.HandleChoice.choices
        if sport == Sport.TENNIS.value or value not in doors
    ]


class HandedIn(forms.Form):
    """How a frame is built, and what it is in for."""

    sport: Sport

    pattern = PatternField()
    handle_build = forms.ChoiceField(choices=Frame.HandleChoice, required=False, label="Handle")
    post_hold = forms.ChoiceField(
        choices=Frame.PostChoice, required=False, label="Held by the stringing machine"
    )
    blocked = forms.CharField(
        max_length=200,
        required=False,
        label="Blocked on the rim",
        help_text="Tie-off holes and the like: 6T, 8H, 1:15-1:45, 57-59 cm or 22 1/2-23 in.",
    )
    bumper_reach = QuantityField(
        LENGTH,
        LENGTH_UNITS,
        required=False,
        label="Bumper and grommet strip reach down to",
        help_text="From the butt. Left empty: as far as usual.",
    )
    grip_size = GripSizeField()
    pallet = forms.CharField(
        max_length=60,
        required=False,
        help_text="Shape or size of the handle under the grip, where it can be changed.",
    )
    ceiling = QuantityField(
        MASS,
        ["g", "oz"],
        required=False,
        label="Ceiling of static weight",
        help_text="Ready to play. Plans warn above it.",
    )
    stiffness = forms.FloatField(
        required=False,
        min_value=1,
        max_value=200,
        label="Stiffness",
        help_text="Weight does not change it. Matching compares it.",
    )
    strain = forms.MultipleChoiceField(
        choices=Client.StrainChoice,
        required=False,
        label="Reported pain",
        widget=forms.CheckboxSelectMultiple(attrs={"class": "form-check-input"}),
        help_text="Kept with the player. It changes what is proposed first, and is shown on board and card.",
    )
    complaint = text_area("Complaint")
    wishes = text_area("Request")
    must_keep = text_area("What must not change")

    def __init__(self, data: Sent = None) -> None:
        super().__init__(data)
        offer(self, "handle_build", handles_of(self.sport.value))

    @property
    def handle_and_ceiling(self) -> dict[str, Any]:
        """Columns of the grip, the pallet and the ceiling."""
        ceiling = self.cleaned_data["ceiling"]
        return {
            "grip_mm": self.cleaned_data["grip_size"],
            "pallet": self.cleaned_data["pallet"],
            "ceiling_g": ceiling.base if ceiling else None,
        }


class FrameForm(MergedForm, HandedIn):
    """What is known of a frame beside its readings: whose it is, how it is built, its dimensions."""

    dimension_keys: dict[str, str] = {}
    starting_dimensions: dict[str, tuple[str, str]] = {}

    label = forms.CharField(max_length=80, label="Name of the frame")
    player = forms.CharField(max_length=80, required=False)
    mark = forms.CharField(max_length=40, required=False, label="Own mark or last digits")
    colour = forms.CharField(max_length=40, required=False)
    is_used = forms.BooleanField(required=False, label="Used before")
    notes = text_area("Notes")

    about_fields = (
        "label",
        "player",
        "mark",
        "colour",
        "is_used",
        "handle_build",
        "post_hold",
        "blocked",
        "pallet",
        "stiffness",
        "complaint",
        "wishes",
        "must_keep",
        "notes",
        "strain",
    )

    def __init__(self, data: Sent = None, *, user: User, frame: Frame | None = None) -> None:
        super().__init__(data)
        self.user, self.units, self.frame = user, user.units, frame
        if frame is not None:
            offer(self, "handle_build", handles_of(self.sport.value, frame.handle_build))
        self.initial.update(self.starting_values() if frame is None else self._values_of(frame))
        style_fields(self)

    def starting_values(self) -> dict[str, Any]:
        """What stands in the fields for a new frame."""
        return dict(self.starting_dimensions)

    def _values_of(self, frame: Frame) -> dict[str, Any]:
        of_frame = (name for name in self.about_fields if name != "strain")
        values: dict[str, Any] = {name: getattr(frame, name) for name in of_frame}
        values |= typed_dimensions_of(frame, self.dimension_keys | _TYPED_BESIDE)
        values["grip_size"] = frame.grip_mm
        if frame.bumper_reach_cm:
            values["bumper_reach"] = (f"{frame.bumper_reach_cm:g}", "cm")
        values["strain"] = frame.client.strain if frame.client else []
        values["pattern"] = f"{frame.mains} x {frame.crosses}" if frame.mains else ""
        return values

    # -- cleaning -------------------------------------------------------------------

    def clean_player(self) -> str:
        return require_one_client(self.user, self.cleaned_data["player"])

    def clean(self) -> None:
        super().clean()
        cleaned = self.cleaned_data
        if any(name in self.errors for name in self.dimension_keys):
            return
        try:
            self.dimensions = self.read_dimensions(cleaned)
            outline = outline_of(self.dimensions)
            mains, _ = cleaned.get("pattern") or (0, 0)
            cleaned["blocked"] = with_unit(cleaned.get("blocked") or "", self.units.length)
            parse_blocked(cleaned["blocked"], outline, mains)
            if self.frame:
                self._require_change(self.frame, outline)
        except KentrobarError as error:
            self.blame(error)

    def _require_change(self, frame: Frame, outline: Outline) -> None:
        """What was read of the frame, and what lies on it, must still fit its dimensions."""
        require_possible(frame.measured, outline.length_cm)
        require_unopposed(frame, Baseline(outline, frame.measured))

    def read_dimensions(self, cleaned: dict[str, Any]) -> Dimensions:
        raise NotImplementedError

    def blame(self, error: KentrobarError) -> None:
        """Show an error of the rules at its field."""
        self.add_error(self.field_of(error.field), error.message)

    def field_of(self, quantity: str) -> str | None:
        """The field that a quantity of the rules is typed in, None where it is in none."""
        by_key = {key: name for name, key in self.dimension_keys.items()}
        field = by_key.get(quantity, quantity)
        return field if field in self.fields else None

    # -- what was typed -----------------------------------------------------------------

    @property
    def about(self) -> dict[str, Any]:
        """What is told of the frame, by column; ``player`` is the name of a client."""
        mains, crosses = self.cleaned_data["pattern"] or (None, None)
        about = {name: self.cleaned_data[name] for name in self.about_fields}
        for name in ("handle_build", "post_hold"):
            about[name] = about[name] or "unknown"
        reach = self.cleaned_data["bumper_reach"]
        about["bumper_reach_cm"] = reach.base if reach else None
        return about | {"mains": mains, "crosses": crosses} | self.handle_and_ceiling

    def typed_dimensions(self) -> Json:
        """The dimensions as they were typed."""
        return typed_dimensions(self.cleaned_data, self.dimension_keys)

    def dimension_rows(self) -> list[BoundField]:
        return [self[name] for name in self.dimension_keys]


def typed_dimensions(cleaned: Mapping[str, Any], keys: Mapping[str, str]) -> Json:
    """Dimensions as they were typed, by field; whether a usual head was taken where none was."""
    typed = {name: cleaned.get(name) for name in (*keys, *_TYPED_BESIDE)}
    kept: Json = {n: v.record() for n, v in typed.items() if isinstance(v, Typed)}
    if "head_size" in keys and not HEAD_FIELDS & kept.keys():
        kept[Frame.USUAL_HEAD] = True
    return kept


def typed_dimensions_of(frame: Frame, keys: Mapping[str, str]) -> dict[str, tuple[str, str]]:
    """A frame's dimensions as they were typed, as values for the fields of a form."""
    values = {}
    for name, key in keys.items():
        typed, value = frame.typed.get(name), getattr(frame, key)
        if frame.has_usual_head and name in HEAD_FIELDS:
            continue
        if typed:
            values[name] = (typed["text"], typed["unit"])
        elif value is not None:
            values[name] = (f"{value:g}", _BASE_UNITS.get(key, "cm"))
    return values


HEAD_FIELDS = frozenset({"head_size", "head_length", "head_width"})
USUAL_HEAD_CM2 = AREA.to_base(100.0, "in²")
_BASE_UNITS = {"head_size_cm2": "cm²", "beam_mm": "mm", "thickness_mm": "mm", "ceiling_g": "g"}
_TYPED_BESIDE = {"ceiling": "ceiling_g"}  # kept as typed beside the dimensions


class RacketOutlineForm(forms.Form):
    """The dimensions of a racket."""

    sport = Sport.TENNIS
    dimension_keys = {
        "length": "length_cm",
        "head_size": "head_size_cm2",
        "head_length": "head_length_cm",
        "head_width": "head_width_cm",
        "beam": "beam_mm",
        "handle_length": "handle_length_cm",
    }
    starting_dimensions = {"length": ("68.58", "cm"), "beam": ("23", "mm"), "handle_length": ("18", "cm")}

    length = _dimension("Length")
    head_size = QuantityField(
        AREA,
        ["in²", "cm²"],
        label="Head size",
        required=False,
        help_text="Left empty: a usual head, 100 in², until you know it.",
    )
    head_length = _dimension(
        "Head length, outside", required=False, help_text="Left empty: a usual head of this size."
    )
    head_width = _dimension("Head width, outside", required=False)
    beam = _dimension("Beam", THICKNESS_UNITS)
    handle_length = _dimension("Handle length")

    def read_dimensions(self, cleaned: dict[str, Any]) -> Dimensions:
        size, length, width = (cleaned[f] for f in ("head_size", "head_length", "head_width"))
        if not (length and width):
            if length or width:
                raise UnitError(
                    "Enter both the head's length and its width, or its size alone.",
                    code="head_unknown",
                    field="head_width_cm" if length else "head_length_cm",
                )
            head_length_cm, head_width_cm = head_from_size(size.base if size else USUAL_HEAD_CM2)
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


class PaddleOutlineForm(forms.Form):
    """The dimensions of a paddle."""

    sport = Sport.PICKLEBALL
    dimension_keys = {
        "length": "length_cm",
        "width": "width_cm",
        "corner_radius": "corner_radius_cm",
        "shoulder": "shoulder_cm",
        "handle_length": "handle_length_cm",
        "thickness": "thickness_mm",
    }
    starting_dimensions = {
        "corner_radius": ("4", "cm"),
        "shoulder": ("5", "cm"),
        "thickness": ("16", "mm"),
        "handle_length": ("13", "cm"),
    }

    length = _dimension("Length")
    width = _dimension("Width")
    corner_radius = _dimension("Corner radius")
    shoulder = _dimension("Shoulder height", help_text="Over which the face widens from the handle.")
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


class RacketForm(RacketOutlineForm, FrameForm):
    pass


class PaddleForm(PaddleOutlineForm, FrameForm):
    pass


FORM_OF: dict[str, type[FrameForm]] = {Sport.TENNIS.value: RacketForm, Sport.PICKLEBALL.value: PaddleForm}
