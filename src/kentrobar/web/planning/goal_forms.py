"""What a person types to have plans proposed: targets with tolerances, what to lay."""

from __future__ import annotations

from typing import Any

from django import forms

from kentrobar.core.estimates import Estimate
from kentrobar.core.goals import Goal
from kentrobar.core.matching import USUAL_TOLERANCE, Aim
from kentrobar.core.materials import Form
from kentrobar.core.plans import predict
from kentrobar.core.proposals import Supply
from kentrobar.core.specs import Specs
from kentrobar.core.units import INERTIA, LENGTH, MASS
from kentrobar.web.frames.forms import BalanceField
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.numbers import Units
from kentrobar.web.kit.quantities import QuantityField, Typed, style_fields
from kentrobar.web.materials.models import Material

_FIELD_OF = {"mass_g": "mass", "balance_cm": "balance", "swingweight_kgcm2": "swingweight",
             "twistweight_kgcm2": "twistweight"}  # fmt: skip
_FORMS = {"tape": Form.TAPE, "putty": Form.PUTTY}


class AimForm(forms.Form):
    """Targets by spec, each with its tolerance; what is left empty is free."""

    mass = QuantityField(MASS, ["g", "oz"], with_spread=True, required=False, label="Static weight")
    balance = BalanceField(required=False, label="Balance")
    swingweight = QuantityField(
        INERTIA, ["kg·cm²", "oz·in²"], with_spread=True, required=False, label="Swing weight"
    )
    twistweight = QuantityField(
        INERTIA, ["kg·cm²", "oz·in²"], with_spread=True, required=False, label="Twist weight"
    )
    ceiling = QuantityField(MASS, ["g", "oz"], required=False, label="Total at most")
    tape = forms.ChoiceField(label="Tape for the rim")
    putty = forms.ChoiceField(label="Putty for throat and handle")
    step = QuantityField(LENGTH, ["cm", "mm", "in"], label="Cutting step")

    keep_balance = forms.BooleanField(required=False, label="Keep the balance")
    keep_swingweight = forms.BooleanField(required=False, label="Keep the swing weight")
    keep_grip = forms.BooleanField(required=False, label="Keep the grip size")

    def __init__(self, data: Any, *, frame: Frame, shelf: Any, units: Units) -> None:
        super().__init__(data)
        self.frame, self.units = frame, units
        self.axis_cm = frame.measured.axis_cm
        self.now = predict(
            frame.measured, [], length_cm=frame.length_cm, axis_cm=self.axis_cm
        ).before
        self.shelf = {str(material.pk): material for material in shelf}
        for name, form in _FORMS.items():
            self.fields[name].choices = [
                (pk, material.name) for pk, material in self.shelf.items() if material.form is form
            ]
        self.initial |= {"step": ("0.5", "cm"), "mass": ("", units.mass, ""),
                         "balance": ("", units.balance, "")}  # fmt: skip
        style_fields(self)

    def wish(self, goal: Goal, now: Specs) -> None:
        """Start with what answers a wish."""
        mass_unit = self.units.mass
        balance_unit = "mm" if self.units.balance == "pt" else self.units.balance
        scale = {
            "mass_g": (mass_unit, MASS.from_base(1.0, mass_unit)),
            "balance_cm": (balance_unit, LENGTH.from_base(1.0, balance_unit)),
        }
        for name, (value, tolerance) in goal.targets(now, self.frame.is_racket).items():
            unit, factor = scale.get(name, ("kg·cm²", 1.0))
            texts = f"{value * factor:.2f}", unit, f"{tolerance * factor:.3g}"
            self.initial[_FIELD_OF[name]] = texts

    def clean_tape(self) -> Material:
        return self.shelf[self.cleaned_data["tape"]]

    def clean_putty(self) -> Material:
        return self.shelf[self.cleaned_data["putty"]]

    def clean(self) -> dict[str, Any]:
        cleaned = super().clean() or self.cleaned_data
        asked = (*_FIELD_OF.values(), "ceiling", "keep_balance", "keep_swingweight")
        if not self.errors and not any(cleaned[name] for name in asked):
            raise forms.ValidationError("Choose a wish, or type one target at least.", "no_target")
        return cleaned

    def aim(self) -> Aim:
        """The bounds that were typed, or that keep a spec where it is."""
        bounds: dict[str, tuple[float, float]] = {}
        for name, field in _FIELD_OF.items():
            typed: Typed | None = self.cleaned_data[field]
            if typed is None:
                now = getattr(self.now, name)
                if self.cleaned_data.get(f"keep_{field}") and isinstance(now, Estimate):
                    give = USUAL_TOLERANCE[name]
                    bounds[name] = (now.value - give, now.value + give)
                continue
            value = typed.base
            if field == "balance":
                value = self.fields["balance"].in_cm(typed, self.frame.length_cm)
            give = USUAL_TOLERANCE[name] if typed.u_base is None else typed.u_base
            bounds[name] = (value - give, value + give)
        ceiling = self.cleaned_data["ceiling"]
        if ceiling:
            low, high = bounds.get("mass_g", (0.0, ceiling.base))
            bounds["mass_g"] = (min(low, ceiling.base), min(high, ceiling.base))
        return Aim(bounds, self.axis_cm)

    def supply(self) -> Supply:
        tape, putty = self.cleaned_data["tape"], self.cleaned_data["putty"]
        return Supply(tape.name, tape.density, putty.name, self.cleaned_data["step"].base)

    def usual_supply(self) -> Supply:
        """What to reckon with where nothing was chosen: the first tape and putty of the shelf."""
        tape, putty = (
            next((m for m in self.shelf.values() if m.form is form), None)
            for form in _FORMS.values()
        )
        density = tape.density if tape else Estimate(0.1, 0.002)
        return Supply(tape.name if tape else "", density, putty.name if putty else "")

    def target_rows(self) -> list[Any]:
        return [self[name] for name in (*_FIELD_OF.values(), "ceiling")]

    def keep_rows(self) -> list[Any]:
        return [self[name] for name in ("keep_balance", "keep_swingweight", "keep_grip")]

    def means_rows(self) -> list[Any]:
        return [self[name] for name in ("tape", "putty", "step")]
