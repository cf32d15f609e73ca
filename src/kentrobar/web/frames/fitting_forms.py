"""What a person types about something fitted on a frame."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from django import forms

from kentrobar.core.body.specs import STATIC_WEIGHT
from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.units import LENGTH, MASS, MM_PER_CM
from kentrobar.core.weight.builds import USUAL_FITTINGS, Fitting, FittingKind, require_likely
from kentrobar.core.weight.pieces import effect_of
from kentrobar.core.weight.strings import STRING_DENSITIES, package_less_offcuts_g
from kentrobar.web.frames.models import Frame, FrameFitting, SpecSheet
from kentrobar.web.frames.services import strings_in
from kentrobar.web.kit.merging import MergedForm
from kentrobar.web.kit.numbers import Units
from kentrobar.web.kit.quantities import LENGTH_UNITS, QuantityField, Typed, offer, style_fields
from kentrobar.web.kit.requests import Sent
from kentrobar.web.materials.models import Accessory

MASS_UNITS = ["g", "oz"]
_SOURCE = FrameFitting.WeightSource


def _length(label: str) -> QuantityField:
    return QuantityField(LENGTH, LENGTH_UNITS, required=False, positive=False, label=label)


class FittingForm(MergedForm, forms.Form):
    """Weight and place of one fitting; left empty they are the usual ones of its kind."""

    mass = QuantityField(MASS, MASS_UNITS, with_spread=True, required=False, label="Weight")
    y = _length("Position from the butt, if compact")
    x = _length("Distance from the middle, both sides")
    start = _length("Along the handle, from")
    end = _length("to")
    note = forms.CharField(
        max_length=80, required=False, label="Differences", help_text="Gauge, coating, width, wear."
    )

    def __init__(self, data: Sent, *, frame: Frame, fitting: FrameFitting | None = None) -> None:
        super().__init__(data)
        self.frame, self.fitting = frame, fitting
        if fitting:
            self.initial["note"] = fitting.note
            self.initial["mass"] = (f"{fitting.mass_g:.4g}", "g", f"{fitting.mass_u_g:.2g}")
            places = {
                "y": fitting.y_cm,
                "x": fitting.x_cm or None,
                "start": fitting.from_cm,
                "end": fitting.to_cm,
            }
            self.initial.update({n: (f"{v:g}", "cm") for n, v in places.items() if v is not None})
        style_fields(self)

    def clean(self) -> None:
        cleaned = self.cleaned_data
        if self.errors:
            return
        places = {"y": "y_cm", "x": "x_cm", "start": "from_cm", "end": "to_cm"}
        self.place = {
            column: cleaned[name].base if cleaned[name] else (0.0 if name == "x" else None)
            for name, column in places.items()
        }
        try:
            if cleaned["mass"]:
                require_likely(self._kind, cleaned["mass"].base)
            self._try()
        except KentrobarError as error:
            fields = {"to_cm": "end", "from_cm": "start", "mass_g": "mass"}
            self.add_error(
                fields.get(error.field, error.field if error.field in self.fields else None), error.message
            )

    def values(self) -> dict[str, Any]:
        """What is to be kept of the fitting."""
        mass = self.cleaned_data["mass"]
        kept: dict[str, Any] = {**self.place, "note": self.cleaned_data["note"]}
        if mass:
            kept |= {
                "mass_g": mass.base,
                "mass_u_g": _u(mass),
                "source": _SOURCE.WEIGHED,
                "typed": {"mass": mass.record()},
            }
        return kept

    @property
    def _kind(self) -> FittingKind:
        """What kind of fitting is typed in."""
        assert self.fitting  # noqa: S101 - only NewFittingForm has none
        return FittingKind(self.fitting.kind)

    def _try(self) -> None:
        """Lay the fitting on the frame once, so that what cannot be is refused here."""
        assert self.fitting  # noqa: S101 - only NewFittingForm has none
        trial = FrameFitting(
            pk=0, kind=self.fitting.kind, label=self.fitting.label, mass_g=self.fitting.mass_g, mass_u_g=0.1
        )
        for name, value in self.values().items():
            setattr(trial, name, value)
        _lay(trial, self.frame)


def _choice(accessory: Accessory, units: Units) -> str:
    weight = f"{units.piece_mass_text(accessory.mass_g)} {units.mass}"
    return f"{accessory.name} ({weight}{' weighed' if accessory.weighings_g else ''})"


class NewFittingForm(FittingForm):
    """Something new on a frame, from the shop's shelf; strings from gauge and material too."""

    accessory = forms.ChoiceField(label="What")
    label = forms.CharField(max_length=60, required=False, label="Name, if another")
    material = forms.ChoiceField(choices=[("", "–"), *((m, m) for m in STRING_DENSITIES)], required=False)
    gauge = QuantityField(LENGTH, ["mm"], required=False, label="Gauge")
    package = QuantityField(MASS, MASS_UNITS, required=False, label="Package weighed")
    offcuts = QuantityField(MASS, MASS_UNITS, required=False, label="Offcuts weighed")
    was_on = forms.BooleanField(required=False, label="On at the last reading")

    field_order = (
        "accessory",
        "label",
        "mass",
        "material",
        "gauge",
        "package",
        "offcuts",
        "y",
        "x",
        "start",
        "end",
        "note",
        "was_on",
    )

    def __init__(
        self, data: Sent, *, frame: Frame, shelf: list[Accessory], units: Units, tapes: Iterable[Fitting] = ()
    ) -> None:
        sport = Sport(frame.sport)
        self.tapes = {f"tape-{each.key}": each for each in tapes}
        self.shelf = {str(a.pk): a for a in shelf if sport in USUAL_FITTINGS[FittingKind(a.kind)].sports}
        super().__init__(data, frame=frame)
        choices = [(pk, _choice(each, units)) for pk, each in self.shelf.items()]
        choices += [
            (key, f"{each.label} ({units.piece_mass_text(each.mass_g.value)} {units.mass})")
            for key, each in self.tapes.items()
        ]
        earlier = [(FittingKind.EARLIER.value, "Earlier weight")]
        offer(self, "accessory", choices + earlier)
        self.fields["gauge"].widget.widgets[0].attrs["placeholder"] = "1.25"
        if frame.specs is None:
            del self.fields["was_on"]

    @property
    def _kind(self) -> FittingKind:
        chosen = self.shelf.get(self.cleaned_data["accessory"])
        if self._tape:
            return FittingKind.EDGE_TAPE
        return FittingKind(chosen.kind) if chosen else FittingKind.EARLIER

    @property
    def _tape(self) -> Fitting | None:
        """The tape of the stock that is chosen for the full edge."""
        return self.tapes.get(self.cleaned_data["accessory"])

    def _of_tape(self, tape: Fitting) -> dict[str, Any]:
        return {
            "kind": tape.kind.value,
            "label": self.cleaned_data["label"] or tape.label,
            "mass_g": tape.mass_g.value,
            "mass_u_g": tape.mass_g.u,
            "thickness_mm": tape.layer_mm.value,
            "source": _SOURCE.COMPUTED,
            "noted_for": self._noted_for,
        }

    @property
    def _noted_for(self) -> SpecSheet | None:
        """The readings that it was on for already, where it is noted late."""
        return self.frame.specs if self.cleaned_data.get("was_on") else None

    def values(self) -> dict[str, Any]:
        if self._tape:
            return self._of_tape(self._tape) | super().values()
        chosen = self.shelf.get(self.cleaned_data["accessory"])
        usual = USUAL_FITTINGS[FittingKind.EARLIER]
        kept: dict[str, Any] = {
            "kind": chosen.kind if chosen else FittingKind.EARLIER.value,
            "label": self.cleaned_data["label"] or (chosen.name if chosen else usual.label),
            "mass_g": chosen.mass_g if chosen else usual.mass_g,
            "mass_u_g": chosen.mass_u_g if chosen else usual.u_g,
            "source": _SOURCE.SHOP if chosen and chosen.weighings_g else _SOURCE.USUAL,
            "noted_for": self._noted_for,
        }
        if kept["kind"] == FittingKind.STRINGS:
            kept |= self._strings()
        return kept | super().values()

    def _strings(self) -> dict[str, Any]:
        """Weight of strings from package and offcuts, or from gauge and material."""
        cleaned = self.cleaned_data
        typed = {n: cleaned[n].record() for n in ("package", "offcuts", "gauge") if cleaned[n]}
        if cleaned["package"]:
            offcuts = cleaned["offcuts"].base if cleaned["offcuts"] else 0.0
            found = package_less_offcuts_g(cleaned["package"].base, offcuts, STATIC_WEIGHT.usual_u)
            return {"mass_g": found.value, "mass_u_g": found.u, "source": _SOURCE.PACKAGE, "typed": typed}
        if cleaned["gauge"] and cleaned["material"]:
            found = strings_in(self.frame, cleaned["gauge"].base * MM_PER_CM, cleaned["material"])
            typed["material"] = cleaned["material"]
            return {"mass_g": found.value, "mass_u_g": found.u, "source": _SOURCE.COMPUTED, "typed": typed}
        return {}

    def clean(self) -> None:
        super().clean()
        cleaned = self.cleaned_data
        package, offcuts = cleaned.get("package"), cleaned.get("offcuts")
        if package and offcuts and offcuts.base >= package.base:
            self.add_error("offcuts", "The offcuts weigh less than the package did.")

    def _try(self) -> None:
        if self.errors:
            return
        values = self.values()
        if values["mass_g"] > 0:
            _lay(FrameFitting(pk=0, **values), self.frame)


def _lay(fitting: FrameFitting, frame: Frame) -> None:
    effect_of(fitting.fitting(frame).body(frame.outline), frame.outline)


def _u(typed: Typed) -> float:
    return STATIC_WEIGHT.usual_u if typed.u_base is None else typed.u_base
