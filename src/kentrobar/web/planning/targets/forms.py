"""What a person types to have plans proposed: targets with tolerances, what to lay."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from django import forms
from django.forms.boundfield import BoundField
from django.http import QueryDict

from kentrobar.core.body.specs import (
    BALANCE,
    READ,
    READ_BY_FIELD,
    READ_BY_KEY,
    STATIC_WEIGHT,
    SWING_WEIGHT,
    TWIST_WEIGHT,
    ReadSpec,
    Specs,
)
from kentrobar.core.body.target import Target
from kentrobar.core.editing.plan import Baseline
from kentrobar.core.editing.shelf import Shelf, Stock
from kentrobar.core.quantities.estimates import Quantity
from kentrobar.core.quantities.units import LENGTH, MASS, POINTS_UNIT, points_headlight
from kentrobar.core.solving.allowed import Allowed, AllowedPreset, Hoop, presets, site_names
from kentrobar.core.solving.goals import Goal
from kentrobar.core.solving.supply import Workpiece, supply_for
from kentrobar.core.weight.materials import Form
from kentrobar.core.weight.prediction import predict
from kentrobar.web.frames.allowed import allowed_field, allowed_text
from kentrobar.web.frames.baselines import baseline_of
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.numbers import Units
from kentrobar.web.kit.quantities import BalanceField, QuantityField, Typed, offer, spec_field, style_fields
from kentrobar.web.planning.board.view_models import CUTTING_STEPS

_FORMS = {"tape": Form.TAPE, "putty": Form.PUTTY}


class AllowedPositionsForm(forms.Form):
    """The places of a frame that plans may use: those it remembers, or those ticked now."""

    places = allowed_field("Allowed positions")
    hoop = forms.ChoiceField(choices=Frame.HoopChoice.choices, required=False, label="Strips of the hoop")
    with_places = forms.BooleanField(required=False, widget=forms.HiddenInput, initial=True)

    def __init__(self, data: QueryDict | None, *, frame: Frame) -> None:
        self.frame, self.named = frame, site_names(frame.outline, frame.measured.balance_cm)
        self.keys = frozenset(key for key, _ in self.named)
        remembered = sorted(self.keys if frame.allowed.sites is None else frame.allowed.sites)
        if data is not None and "with_places" not in data:  # a link that says nothing of places
            data = data.copy()
            data.setlist("places", remembered)
            data["hoop"] = frame.allowed.hoop.value
        super().__init__(data, initial={"places": remembered, "hoop": frame.allowed.hoop.value})
        offer(self, "places", self.named)
        if not frame.is_racket:
            del self.fields["hoop"]

    def clean_places(self) -> frozenset[str] | None:
        """The keys that are ticked; None where all are, since no place is ruled out then."""
        ticked = frozenset(self.cleaned_data["places"])
        if not ticked:
            raise forms.ValidationError("Tick at least one position.", "no_place")
        return None if ticked == self.keys else ticked

    @property
    def allowed(self) -> Allowed:
        """What was ticked; what the frame remembers where that cannot be read."""
        remembered = self.frame.allowed
        hoop = self.cleaned_data.get("hoop") or remembered.hoop
        return Allowed(self.cleaned_data.get("places", remembered.sites), Hoop(hoop))

    @property
    def kept(self) -> str:
        """What was ticked, in words."""
        return allowed_text(self.allowed, self.named)

    @property
    def presets(self) -> list[AllowedPreset]:
        return [AllowedPreset("All", Allowed(self.keys)), *presets(self.frame.outline)]


class TargetForm(AllowedPositionsForm):
    """Targets by spec, each with its tolerance; what is left empty is free."""

    needs_target = True

    mass = spec_field(STATIC_WEIGHT, takes_change=True)
    balance = spec_field(BALANCE, takes_change=True, label="Balance")
    swingweight = spec_field(SWING_WEIGHT, takes_change=True)
    twistweight = spec_field(TWIST_WEIGHT, takes_change=True)
    ceiling = QuantityField(MASS, ["g", "oz"], required=False, label="Total at most")
    tape = forms.ChoiceField(label="Tape for rim, throat and bevels")
    tape_below = forms.ChoiceField(label="Another tape for throat and bevels", required=False)
    putty = forms.ChoiceField(label="Putty for cavity and cap")
    step = QuantityField(LENGTH, ["cm", "mm", "in"], label="Cutting step")
    layers = forms.TypedChoiceField(
        choices=[("1", "one layer"), ("2", "up to two layers"), ("3", "up to three layers")],
        coerce=int,
        empty_value=1,  # type: ignore[arg-type]
        required=False,
        initial="2",
        label="Tape in",
    )

    keep_balance = forms.BooleanField(required=False, label="Keep the balance")
    keep_swingweight = forms.BooleanField(required=False, label="Keep the swing weight")
    keep_grip = forms.BooleanField(required=False, label="Keep the grip size")

    def __init__(self, data: QueryDict | None, *, frame: Frame, shelf: Shelf, units: Units) -> None:
        super().__init__(data, frame=frame)
        self.shelf, self.units = shelf, units.of_sport(frame.sport)
        self.baseline = self.begin_from(frame)
        self.axis_cm = self.baseline.measured.axis_cm
        self.now = predict(self.baseline.measured, [], length_cm=frame.length_cm, axis_cm=self.axis_cm).before
        for name, form in _FORMS.items():
            of_form = [(str(stock.key), stock.name) for stock in shelf.offered if stock.form is form]
            offer(self, name, of_form)
        tapes = [(str(stock.key), stock.name) for stock in shelf.offered if stock.is_tape]
        offer(self, "tape_below", [("", "the same"), *tapes])
        self.initial.update(
            {
                "step": CUTTING_STEPS[units.length],
                "ceiling": (self._ceiling_shown(), units.mass),
                **{spec.field: ("", self.units.of(spec), "") for spec in READ_BY_FIELD.values()},
            }
        )
        style_fields(self)

    def _ceiling_shown(self) -> str:
        """The frame's own ceiling, set up as it was read, where a total can be held against it."""
        ceiling_g = self.baseline.ceiling_g
        if ceiling_g == math.inf or not self.now.mass_g:
            return ""
        return f"{MASS.from_base(ceiling_g, self.units.mass):.2f}"

    def begin_from(self, frame: Frame) -> Baseline:
        """What plans start from: the frame as it was read."""
        return baseline_of(frame, frame.specs)

    def begin_with(self, goal: Goal, now: Specs) -> None:
        """Start with the targets of a goal; a spec that nobody read with the change itself."""
        for name, shift in goal.shifts(self.frame.is_racket).items():
            spec, value = READ_BY_KEY[name], getattr(now, name)
            if not value and spec is BALANCE:
                continue
            shown = self._shown(spec, value.value + shift.by) if value else self._change_shown(spec, shift.by)
            self.initial[spec.field] = (
                shown,
                self.units.of(spec),
                self.units.tolerance_text(spec, shift.tolerance),
            )

    def _shown(self, spec: ReadSpec, value: float) -> str:
        """A value in the person's unit, to start from."""
        unit = self.units.of(spec)
        if unit == POINTS_UNIT:
            return f"{points_headlight(value, self.frame.length_cm):.2f}"
        return f"{spec.dimension.from_base(value, unit):.2f}"

    def _change_shown(self, spec: ReadSpec, by: float) -> str:
        return f"{spec.dimension.from_base(by, self.units.of(spec)):+.2f}"

    def start_from(self, query: Mapping[str, Any]) -> None:
        """Start with targets that a link names, each with the usual tolerance."""
        for name in READ_BY_FIELD:
            text, unit = query.get(f"{name}_0", ""), query.get(f"{name}_1", "")
            if text:
                self.initial[name] = text, unit, query.get(f"{name}_2", "")

    def clean_tape(self) -> Stock:
        return self.shelf.find(int(self.cleaned_data["tape"]))

    def clean_tape_below(self) -> Stock | None:
        chosen = self.cleaned_data["tape_below"]
        return self.shelf.find(int(chosen)) if chosen else None

    def clean_putty(self) -> Stock:
        return self.shelf.find(int(self.cleaned_data["putty"]))

    def clean(self) -> None:
        super().clean()
        cleaned = self.cleaned_data
        for spec in READ:
            typed = cleaned.get(spec.field)
            if getattr(self.now, spec.key):
                continue
            if spec is BALANCE and (typed or cleaned.get("keep_balance")):
                said = "Measure static weight and balance first: the new balance depends on both."
                self.add_error(spec.field if typed else "keep_balance", said)
            elif typed and not typed.is_change:
                said = f"Measure the {spec.noun} first, or enter a change with its sign, such as +5."
                self.add_error(spec.field, said)
        if cleaned.get("ceiling") and not self.now.mass_g:
            self.add_error("ceiling", "Weigh the frame first: the total depends on it.")
        inputs = (*READ_BY_FIELD, "ceiling", "keep_balance", "keep_swingweight")
        is_needed = self.needs_target and not self.errors
        if is_needed and not any(cleaned[name] for name in inputs):
            raise forms.ValidationError("Choose a goal, or enter at least one target.", "no_target")

    def target(self) -> Target:
        """The bands that were typed, or that keep a spec where it is; of a spec not read those of its change."""
        bands: dict[str, tuple[float, float]] = {}
        changes: dict[str, tuple[float, float]] = {}
        kept = set()
        for name, spec in READ_BY_KEY.items():
            typed: Typed | None = self.cleaned_data[spec.field]
            now = getattr(self.now, name)
            give = spec.tolerance if typed is None or typed.u_base is None else typed.u_base
            if typed is not None:
                value = self._value_of(spec, typed)
            elif self.cleaned_data.get(f"keep_{spec.field}"):
                value = now.or_else(0.0)
                kept.add(name)
            else:
                continue
            (bands if now else changes)[name] = (value - give, value + give)
        ceiling = self.cleaned_data["ceiling"]
        if ceiling:
            low, high = bands.get("mass_g", (0.0, ceiling.base))
            bands["mass_g"] = (min(low, ceiling.base), min(high, ceiling.base))
            kept.add("mass_g")
        return Target(bands, self.axis_cm, kept=frozenset(kept), changes=changes)

    def _value_of(self, spec: ReadSpec, typed: Typed) -> float:
        """What is to be reached, in the base unit: as typed, or from where it is now by what was typed."""
        if not typed.is_change:
            return BalanceField.in_cm(typed, self.frame.length_cm) if spec is BALANCE else typed.base
        by = typed.base
        if typed.unit == POINTS_UNIT:
            # More points are nearer to the butt.
            by = BalanceField.in_cm(typed, self.frame.length_cm) - self.frame.length_cm / 2
        now: Quantity = getattr(self.now, spec.key)
        return now.or_else(0.0) + by

    def workpiece(self) -> Workpiece:
        """The frame with what there is to lay: what was chosen, and the usual where nothing was.

        What was chosen counts even where a target is missing or cannot be read.
        """
        self.is_valid()
        chosen = {name: self.cleaned_data.get(name) for name in ("tape", "tape_below", "putty", "layers")}
        step, keeps_grip = self.cleaned_data.get("step"), bool(self.cleaned_data.get("keep_grip"))
        if step:
            chosen["step_cm"] = step.base
        known = {name: value for name, value in chosen.items() if value}
        supply = supply_for(self.shelf, self.baseline, keeps_grip=keeps_grip, **known)
        return Workpiece(self.baseline, supply, keeps_grip, self.allowed)

    def target_rows(self) -> list[BoundField]:
        return [self[name] for name in (*READ_BY_FIELD, "ceiling")]

    def keep_rows(self) -> list[BoundField]:
        return [self[name] for name in ("keep_balance", "keep_swingweight", "keep_grip")]

    def means_rows(self) -> list[BoundField]:
        return [self[name] for name in ("tape", "tape_below", "layers", "putty", "step")]
