"""What a person asks of a set: its target, within what, with what."""

from __future__ import annotations

import math
from typing import Any

from django import forms
from django.forms.boundfield import BoundField

from kentrobar.core.bench.steps import ORDERS
from kentrobar.core.body.specs import AIMED, BALANCE, RECOIL_WEIGHT, AimedSpec
from kentrobar.core.body.target import Alike, Target, Values
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.quantities.units import LENGTH, MASS, POINTS_UNIT, points_headlight
from kentrobar.core.solving.allowed import Allowed, site_names
from kentrobar.core.weight.materials import Form
from kentrobar.web.frames.allowed import allowed_field
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.numbers import Units
from kentrobar.web.kit.quantities import BalanceField, QuantityField, Typed, offer, spec_field, style_fields
from kentrobar.web.kit.requests import Sent
from kentrobar.web.matching.models import FrameSet, SetMember

Kind = FrameSet.TargetKind
_ANY = "usual"


class SetForm(forms.Form):
    """What is asked of a set; its frames and their readings are not here."""

    base = forms.IntegerField(widget=forms.HiddenInput)
    kind = forms.ChoiceField(choices=Kind.choices, label="Target")
    favourite = forms.ChoiceField(required=False, label="Which frame")
    other = forms.ChoiceField(required=False, label="Which set")
    alike = forms.ChoiceField(choices=FrameSet.AlikeChoice.choices, label="Matched means")
    build = forms.ChoiceField(choices=FrameSet.BuildChoice.choices, label="All converted to")
    axis = QuantityField(LENGTH, ["cm", "mm", "in"], label="Swing axis")
    ceiling = QuantityField(MASS, ["g", "oz"], required=False, label="No frame above")
    chance = forms.FloatField(min_value=50, max_value=99.9, label="Most reliable: wanted chance, %")
    tape = forms.ChoiceField(label="Tape")
    putty = forms.ChoiceField(label="Putty")
    step = QuantityField(LENGTH, ["cm", "mm", "in"], label="Cutting step")
    layers = forms.TypedChoiceField(
        choices=[(1, "one layer"), (2, "up to two layers"), (3, "up to three layers")],
        coerce=int,
        label="Tape in",
    )

    places = allowed_field("Allowed positions")
    order_of_work = forms.ChoiceField(
        choices=[(order.value, procedure.label) for order, procedure in ORDERS.items()], label="Order of work"
    )

    def __init__(
        self,
        data: Sent,
        *,
        of: FrameSet,
        frames: list[Frame],
        others: list[FrameSet],
        shelf: Shelf,
        units: Units,
    ) -> None:
        super().__init__(data)
        self.of, self.frames, self.units = of, frames, units
        for spec in AIMED:
            self.fields[f"target_{spec.field}"] = spec_field(
                spec, with_spread=False, label=f"{spec.title}, target"
            )
            # A width of a balance is a length; points tell a place.
            units_within = [unit for unit in spec.typed_units if unit != POINTS_UNIT]
            self.fields[f"within_{spec.field}"] = QuantityField(
                spec.dimension, units_within, required=False, label=f"{spec.title} within"
            )
        offer(self, "favourite", [(str(frame.pk), frame.label) for frame in frames])
        offer(self, "other", [("", "none"), *((str(each.pk), each.name) for each in others)])
        offer(self, "places", site_names(frames[0].outline))
        for name, form in (("tape", Form.TAPE), ("putty", Form.PUTTY)):
            usual = shelf.usual(form)
            first = (_ANY, f"the usual: {usual.name}" if usual else "the usual")
            offer(self, name, [first, *((str(s.key), s.name) for s in shelf.offered if s.form is form)])
        self.initial = self._shown_values()
        style_fields(self)

    # -- as it is asked now ---------------------------------------------------------------

    def _shown_values(self) -> dict[str, Any]:
        of, target, units = self.of, self.of.target, self.units
        found: dict[str, Any] = {
            "base": of.version,
            "kind": of.kind,
            "alike": target.alike.value,
            "build": target.setup,
            "favourite": str(of.favourite_id or ""),
            "other": str(of.other_id or ""),
            "axis": units.axis_typed(target.axis_cm),
            "ceiling": ("", units.mass),
            "chance": f"{100 * target.chance:g}",
            "order_of_work": of.order_of_work,
            "layers": of.layers,
            "places": sorted(of.allowed.sites or ()),
            "tape": str(of.tape_id or _ANY),
            "putty": str(of.putty_id or _ANY),
            "step": self._shown("step", LENGTH.from_base(of.step_cm, units.length), units.length),
        }
        if target.ceiling_g < math.inf:
            shown = MASS.from_base(target.ceiling_g, units.mass)
            found["ceiling"] = self._shown("ceiling", shown, units.mass)
        for spec in AIMED:
            found[f"target_{spec.field}"] = self._spec_shown(spec, "target", target.centres.get(spec.key))
            found[f"within_{spec.field}"] = self._spec_shown(spec, "within", target.tolerances.get(spec.key))
        return found

    def _spec_shown(self, spec: AimedSpec, part: str, value: float | None) -> tuple[str, str]:
        unit = self.units.of(spec)
        if part == "within" and unit == POINTS_UNIT:
            unit = "mm"
        if value is None:  # a written target is kept as typed while another kind is chosen
            typed = self.of.typed.get(f"{part}_{spec.field}") if part == "target" else None
            return (typed["text"], typed["unit"]) if typed else ("", unit)
        if unit == POINTS_UNIT:
            shown = points_headlight(value, self.frames[0].length_cm)
        else:
            shown = spec.dimension.from_base(value, unit)
        return self._shown(f"{part}_{spec.field}", shown, unit)

    def _shown(self, name: str, value: float, unit: str) -> tuple[str, str]:
        """A value as it was typed last, or written shortly."""
        typed = self.of.typed.get(name)
        return (
            (typed["text"], typed["unit"])
            if typed
            else (f"{value:.4g}" if value < 1e3 else f"{value:.5g}", unit)
        )

    # -- what was typed ----------------------------------------------------------------------

    def clean(self) -> None:
        cleaned = self.cleaned_data
        if self.errors:
            return
        within = [spec.field for spec in AIMED if cleaned[f"within_{spec.field}"]]
        if not within:
            self.add_error("within_mass", "Enter a tolerance for at least one spec.")
        if RECOIL_WEIGHT.field in within and BALANCE.field not in within:
            self.add_error(
                f"within_{BALANCE.field}",
                "Recoil weight is matched together with balance. Enter a tolerance for balance too.",
            )
        if cleaned["kind"] == Kind.WRITTEN:
            for field in within:
                if not cleaned[f"target_{field}"]:
                    self.add_error(f"target_{field}", "Enter the target, or leave its tolerance empty too.")
        if cleaned["kind"] == Kind.OTHER and not cleaned["other"]:
            self.add_error("other", "Choose the set to match.")

    def values(self) -> dict[str, Any]:
        """What was asked, by the fields of the set."""
        cleaned, of = self.cleaned_data, self.of
        typed = {name: t.record() for name, t in cleaned.items() if isinstance(t, Typed)}
        return {
            "kind": cleaned["kind"],
            "target": self._target(),
            "favourite_id": int(cleaned["favourite"] or 0) or None,
            "other_id": int(cleaned["other"] or 0) or None,
            "tape_id": _key(cleaned["tape"]),
            "putty_id": _key(cleaned["putty"]),
            "step_cm": self._kept("step", of.step_cm),
            "layers": cleaned["layers"],
            "allowed": Allowed(frozenset(cleaned["places"]) or None),
            "order_of_work": cleaned["order_of_work"],
            "typed": typed,
        }

    def _target(self) -> Target:
        """What was asked: about the centres of a written target, else free."""
        cleaned, before = self.cleaned_data, self.of.target
        ceiling_g = self._kept("ceiling", before.ceiling_g)
        return Target.about(
            self._typed("target", before.centres) if cleaned["kind"] == Kind.WRITTEN else {},
            self._typed("within", before.tolerances),
            self._kept("axis", before.axis_cm) or before.axis_cm,
            alike=Alike(cleaned["alike"]),
            setup=cleaned["build"],
            chance=cleaned["chance"] / 100,
            ceiling_g=math.inf if ceiling_g is None else ceiling_g,
        )

    def _typed(self, part: str, before: Values) -> dict[str, float]:
        """The targets or the tolerances that were typed, by the keys of their specs."""
        found = {spec.key: self._kept(f"{part}_{spec.field}", before.get(spec.key), spec) for spec in AIMED}
        return {key: value for key, value in found.items() if value is not None}

    def _kept(self, name: str, stored: float | None, spec: AimedSpec | None = None) -> float | None:
        """What was typed in base units; what was only shown, shortly, stays as it is to the last digit."""
        typed: Typed | None = self.cleaned_data[name]
        if typed is None:
            return None
        if stored is not None and (typed.text, typed.unit) == tuple(self.initial[name][:2]):
            return stored
        is_place = spec is not None and name.startswith("target_")
        return self._base(spec, typed) if spec and is_place else typed.base

    def _base(self, spec: AimedSpec, typed: Typed) -> float:
        if spec is BALANCE:
            return BalanceField.in_cm(typed, self.frames[0].length_cm)
        return typed.base

    def spec_rows(self) -> list[tuple[AimedSpec, BoundField, BoundField]]:
        """Target and tolerance of each spec."""
        return [(s, self[f"target_{s.field}"], self[f"within_{s.field}"]) for s in AIMED]

    def means_rows(self) -> list[BoundField]:
        names = ("order_of_work", "tape", "layers", "putty", "step", "ceiling", "build", "axis", "chance")
        return [self[name] for name in names]


class MemberPositionsForm(forms.Form):
    """Where weight may lie on one frame of a set."""

    places = allowed_field("Allowed positions (none ticked: those of the set)")

    def __init__(self, data: Sent, *, member: SetMember) -> None:
        super().__init__(data, initial={"places": sorted(member.allowed.sites or ())})
        offer(self, "places", site_names(member.frame.outline))

    @property
    def allowed(self) -> Allowed:
        """What was ticked."""
        return Allowed(frozenset(self.cleaned_data["places"]) or None)


def _key(text: str) -> int | None:
    return None if text == _ANY else int(text)
