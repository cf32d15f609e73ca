"""What a person types about an instrument and the bodies it is calibrated with."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django import forms
from django.conf import settings
from django.forms.boundfield import BoundField

from kentrobar.core.body.specs import BALANCE, STATIC_WEIGHT, SWING_WEIGHT, TWIST_WEIGHT
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.units import INERTIA, LENGTH, MASS, Dimension, parse_quantity
from kentrobar.core.reading.calibration import (
    Correction,
    Finds,
    KnownBody,
    calibrate,
    mass_inertia_kgcm2,
    rod_inertia_kgcm2,
)
from kentrobar.instruments.allowed import require_allowed
from kentrobar.instruments.lines import compile_pattern
from kentrobar.instruments.taking import require_address
from kentrobar.web.kit.merging import MergedForm
from kentrobar.web.kit.quantities import style_fields
from kentrobar.web.kit.requests import Sent
from kentrobar.web.measuring.models import Instrument

_KIND = Instrument.InstrumentKind
CALIBRATION_ROWS = 4

# What each kind needs besides name, steps and device.
_OWN_FIELDS: dict[str, tuple[str, ...]] = {
    _KIND.BOARD: ("offset_cm",),
    _KIND.MACHINE: ("axis_cm",),
    _KIND.PENDULUM: (
        "hang_cm",
        "holder_mass_g",
        "holder_centre_cm",
        "holder_inertia_kgcm2",
        "holder_beside_cm",
    ),
    _KIND.SIDEWAYS: ("drop_cm",),
    _KIND.CORDS: ("cord_cm", "apart_cm"),
}
_UNIT_READ = {
    _KIND.SCALE: STATIC_WEIGHT.unit,
    _KIND.BOARD: BALANCE.unit,
    _KIND.MACHINE: SWING_WEIGHT.unit,
    _KIND.TWIST: TWIST_WEIGHT.unit,
    _KIND.EDGE: BALANCE.unit,
    _KIND.FINGER: BALANCE.unit,
}
_DEVICE_FIELDS = ("address", "pattern", "baud")
# What an instrument says of itself, in words.
_IN_WORDS = {
    "resolution": "318.4 on its display: steps of 0.1. 318: steps of 1.",
    "repeatability": "How far readings of one frame scatter when you repeat them.",
    "offset_cm": "A ruler that begins 5 cm from the pivot: 5. It is added to every reading.",
    "axis_cm": "A machine that shows the swing weight 10 cm from the butt: 10.",
    "holder_beside_cm": "A dowel under the throat is half a beam beside it.",
}
_POSITIVE = ("hang_cm", "drop_cm", "cord_cm", "apart_cm")


class InstrumentForm(MergedForm, forms.ModelForm):
    class Meta:
        model = Instrument
        fields = (
            "name",
            "resolution",
            "repeatability",
            "offset_cm",
            "axis_cm",
            "hang_cm",
            "holder_mass_g",
            "holder_centre_cm",
            "holder_inertia_kgcm2",
            "holder_beside_cm",
            "drop_cm",
            "cord_cm",
            "apart_cm",
            "due_after_days",
            "address",
            "pattern",
            "baud",
            "is_put_away",
        )

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        kind = self.instance.kind
        own = _OWN_FIELDS.get(kind, ())
        for name in {n for names in _OWN_FIELDS.values() for n in names} - set(own):
            del self.fields[name]
        unit = _UNIT_READ.get(kind, "s")
        self.fields["resolution"].label = f"Smallest step, {unit}"
        self.fields["repeatability"].label = f"Scatter of one reading, {unit}"
        if unit == "s":
            del self.fields["resolution"]
            self.fields["repeatability"].label = "Scatter of one pass, s (a tapping hand: 0.03)"
        for name, words in _IN_WORDS.items():
            if name in self.fields and not (unit == "s" and name == "repeatability"):
                self.fields[name].help_text = words
        self.fields[
            "address"
        ].help_text = "A port such as /dev/ttyUSB0 or COM3, or socket://host:port; empty without a cable."
        self.fields["pattern"].help_text = (
            "How a line of it looks: (?P<value>…) is the number, (?P<unit>…) its unit, "
            "(?P<settled>…) the word for settled."
        )
        style_fields(self)
        for field in self.fields.values():
            if isinstance(field, forms.FloatField | forms.IntegerField):
                field.widget.attrs |= {"class": "form-control", "step": "any"}

    @property
    def own_rows(self) -> list[BoundField]:
        """What it reads and how well."""
        return [field for field in self if field.name not in _DEVICE_FIELDS]

    @property
    def device_rows(self) -> list[BoundField]:
        """How it is asked over a cable."""
        return [self[name] for name in _DEVICE_FIELDS]

    @property
    def has_device(self) -> bool:
        """Whether the fields of its cable are to be seen: there is one, or something is wrong with them."""
        return bool(self["address"].value()) or not set(_DEVICE_FIELDS).isdisjoint(self.errors)

    def clean(self) -> None:
        super().clean()
        cleaned = self.cleaned_data
        for name in _POSITIVE:
            if cleaned.get(name) is not None and cleaned[name] <= 0:
                self.add_error(name, "This length is above 0.")
        if cleaned.get("resolution") is not None and cleaned["resolution"] < 0:
            self.add_error("resolution", "A step is 0 or more.")
        if cleaned.get("repeatability") is not None and cleaned["repeatability"] <= 0:
            self.add_error("repeatability", "The scatter is above 0. Measure one thing ten times to find it.")

    def clean_name(self) -> str:
        name = str(self.cleaned_data["name"])
        same = Instrument.objects.filter(shop=self.instance.shop_id, name=name)
        if same.exclude(pk=self.instance.pk).exists():
            raise forms.ValidationError("Another instrument has this name.", "taken")
        return name

    def clean_address(self) -> str:
        address = str(self.cleaned_data["address"]).strip()
        if address:
            _checked(require_address, address)
            _checked(lambda each: require_allowed(each, settings.DEVICE_ADDRESSES), address)
        return address

    def clean_pattern(self) -> str:
        pattern = str(self.cleaned_data["pattern"])
        _checked(compile_pattern, pattern)
        return pattern


def _checked(check: Callable[[str], object], value: str) -> None:
    try:
        check(value)
    except KentrobarError as error:
        raise forms.ValidationError(error.message, error.code) from None


class CalibrationForm(forms.Form):
    """Known bodies, a row each, with what the instrument showed for them."""

    def __init__(self, instrument: Instrument, data: Sent = None) -> None:
        super().__init__(data)
        self.instrument = instrument
        for i in range(1, CALIBRATION_ROWS + 1):
            for name in self.columns:
                label = f"{self.columns[name][0]} of body {i}"
                self.fields[f"{name}_{i}"] = forms.CharField(required=False, max_length=40, label=label)
        style_fields(self)

    @property
    def columns(self) -> dict[str, tuple[str, Dimension, str]]:
        """Name of each column: heading, dimension and unit."""
        match self.instrument.kind:
            case _KIND.MACHINE | _KIND.TWIST:
                return {
                    "mass": ("Weight, g", MASS, "g"),
                    "length": ("Rod's length, cm (empty: a compact weight)", LENGTH, "cm"),
                    "distance": ("Its middle from the axis, cm", LENGTH, "cm"),
                    "reading": ("Shown, kg·cm²", INERTIA, "kg·cm²"),
                }
            case _KIND.BOARD:
                return {
                    "length": ("Length of a plain rod, cm", LENGTH, "cm"),
                    "reading": ("Shown balance, cm", LENGTH, "cm"),
                }
            case _:
                return {"mass": ("Known weight, g", MASS, "g"), "reading": ("Shown, g", MASS, "g")}

    def table(self) -> list[list[BoundField]]:
        return [[self[f"{name}_{i}"] for name in self.columns] for i in range(1, CALIBRATION_ROWS + 1)]

    def clean(self) -> None:
        cleaned = self.cleaned_data
        known, self.typed = [], []
        for i in range(1, CALIBRATION_ROWS + 1):
            texts = {name: (cleaned.get(f"{name}_{i}") or "").strip() for name in self.columns}
            if not any(texts.values()):
                continue
            body = self._body(texts, i)
            if body:
                known.append(body)
                self.typed.append(texts | {"truth": body.truth})
        if not self.errors:
            self._calibrate(known)

    def _body(self, texts: dict[str, str], i: int) -> KnownBody | None:
        values: dict[str, float] = {}
        for name, text in texts.items():
            _, dimension, unit = self.columns[name]
            try:
                values[name] = dimension.to_base(*parse_quantity(text, dimension, unit)) if text else 0.0
            except KentrobarError as error:
                self.add_error(f"{name}_{i}", error.message)
        if self.errors:
            return None
        try:
            return KnownBody(self._truth(values), values["reading"])
        except KentrobarError as error:
            self.add_error(f"{error.field.rpartition('_')[0] or 'reading'}_{i}", error.message)
            return None

    def _truth(self, values: dict[str, float]) -> float:
        if self.instrument.kind == _KIND.BOARD:
            return values["length"] / 2
        if self.instrument.kind == _KIND.SCALE:
            return values["mass"]
        if values["length"]:
            return rod_inertia_kgcm2(values["mass"], values["length"], values["distance"])
        return mass_inertia_kgcm2(values["mass"], values["distance"])

    def _calibrate(self, known: list[KnownBody]) -> None:
        alone = Finds.ZERO if self.instrument.kind == _KIND.BOARD else Finds.SCALE
        u = self.instrument.repeatability
        try:
            self.found: Correction = calibrate(known, u, alone)
        except KentrobarError as error:
            self.add_error(None, error.message)
