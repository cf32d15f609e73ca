"""What a person types to have plans proposed: targets with tolerances, what to lay."""

from __future__ import annotations

from typing import Any

from django import forms

from kentrobar.core.estimates import Estimate
from kentrobar.core.goals import Goal
from kentrobar.core.matching import USUAL_TOLERANCE, Aim
from kentrobar.core.materials import Form
from kentrobar.core.pieces import Piece
from kentrobar.core.plans import predict
from kentrobar.core.specs import Specs
from kentrobar.core.supply import Workpiece
from kentrobar.core.units import CM_PER_POINT, INERTIA, LENGTH, MASS, points_headlight
from kentrobar.web.frames.forms import BalanceField
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.numbers import Units
from kentrobar.web.kit.quantities import QuantityField, Typed, style_fields
from kentrobar.web.materials.models import Material
from kentrobar.web.planning.means import workpiece_for
from kentrobar.web.planning.presenting import CUTTING_STEPS

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
    tape = forms.ChoiceField(label="Tape for rim, throat and bevels")
    putty = forms.ChoiceField(label="Putty for cavity and cap")
    step = QuantityField(LENGTH, ["cm", "mm", "in"], label="Cutting step")
    layers = forms.TypedChoiceField(
        choices=[("1", "one layer"), ("2", "up to two layers"), ("3", "up to three layers")],
        coerce=int, empty_value=1, required=False, initial="2", label="Tape in",
    )  # fmt: skip

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
        self.initial |= {
            "step": CUTTING_STEPS[units.length], "mass": ("", units.mass, ""),
            "ceiling": ("", units.mass), "balance": ("", units.balance, ""),
        }  # fmt: skip
        style_fields(self)

    def wish(self, goal: Goal, now: Specs) -> None:
        """Start with what answers a wish."""
        for name, (value, tolerance) in goal.targets(now, self.frame.is_racket).items():
            unit, shown, give = "kg·cm²", value, tolerance
            if name == "mass_g":
                unit = self.units.mass
                shown, give = (MASS.from_base(each, unit) for each in (value, tolerance))
            elif name == "balance_cm":
                unit, shown, give = self._balance_shown(value, tolerance)
            self.initial[_FIELD_OF[name]] = f"{shown:.2f}", unit, f"{give:.3g}"

    def _balance_shown(self, balance_cm: float, tolerance_cm: float) -> tuple[str, float, float]:
        unit = self.units.balance
        if unit == "pt":
            points = points_headlight(balance_cm, self.frame.length_cm)
            return unit, points, tolerance_cm / CM_PER_POINT
        return unit, LENGTH.from_base(balance_cm, unit), LENGTH.from_base(tolerance_cm, unit)

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
        kept = set()
        for name, field in _FIELD_OF.items():
            typed: Typed | None = self.cleaned_data[field]
            if typed is None:
                now = getattr(self.now, name)
                if self.cleaned_data.get(f"keep_{field}") and isinstance(now, Estimate):
                    give = USUAL_TOLERANCE[name]
                    bounds[name] = (now.value - give, now.value + give)
                    kept.add(name)
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
            kept.add("mass_g")
        return Aim(bounds, self.axis_cm, frozenset(kept))

    def workpiece(self) -> Workpiece:
        """The frame with what there is to lay; the usual of the shelf where the form was not filled in."""
        shelf = self.shelf.values()
        if not self.is_valid():
            return workpiece_for(self.frame, shelf)
        typed = self.cleaned_data
        return workpiece_for(
            self.frame, shelf, typed["tape"], typed["putty"], step_cm=typed["step"].base,
            layers=typed["layers"], keeps_grip=typed["keep_grip"],
        )  # fmt: skip

    def material_of(self, piece: Piece) -> Material | None:
        """What a proposed piece is cut from; None for what is taken away."""
        return next((m for m in self.shelf.values() if m.name == piece.material), None)

    def target_rows(self) -> list[Any]:
        return [self[name] for name in (*_FIELD_OF.values(), "ceiling")]

    def keep_rows(self) -> list[Any]:
        return [self[name] for name in ("keep_balance", "keep_swingweight", "keep_grip")]

    def means_rows(self) -> list[Any]:
        return [self[name] for name in ("tape", "layers", "putty", "step")]
