"""What a person types about a material."""

from __future__ import annotations

import re
from typing import Any

from django import forms

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.estimates import NOT_MEASURED, Amount
from kentrobar.core.quantities.units import (
    CM_PER_IN,
    LENGTH,
    LINE_DENSITY,
    MASS,
    MM_PER_CM,
    Dimension,
    parse_quantity,
)
from kentrobar.core.weight.builds import FittingKind
from kentrobar.core.weight.materials import (
    KINDS,
    MOST_EACH_G,
    MOST_G_PER_CM,
    MOST_G_PER_CM3,
    Cut,
    Form,
    MaterialKind,
)
from kentrobar.core.weight.tape_words import density_by_rule, length_and_mass
from kentrobar.web.kit.merging import MergedForm
from kentrobar.web.kit.numbers import Units
from kentrobar.web.kit.quantities import QuantityField, Typed, style_fields
from kentrobar.web.kit.requests import Sent
from kentrobar.web.materials.models import Accessory, FittingKinds, Material
from kentrobar.web.shops.models import Shop

VOLUME_DENSITY = Dimension("density", "8 g/cm³", {"g/cm³": 1.0}, {"gcm3": "g/cm³"})
THINNEST_MM, THICKEST_MM = 0.05, 10.0  # of a layer round the handle
COUNT = Dimension("count", "2", {"pieces": 1.0}, {"piece": "pieces", "pcs": "pieces"})


_WEIGHTS: dict[Form, tuple[Dimension, list[str], str]] = {
    Form.TAPE: (LINE_DENSITY, ["g/cm", "g/in", "oz/in"], "Weight per length"),
    Form.PUTTY: (VOLUME_DENSITY, ["g/cm³"], "Density"),
    Form.SLEEVE: (MASS, ["g", "oz"], "Weight of one"),
    Form.ITEM: (MASS, ["g", "oz"], "Weight of one"),
}
_HEAVIEST = {Form.TAPE: (MOST_G_PER_CM, "g/cm"), Form.PUTTY: (MOST_G_PER_CM3, "g/cm³")}
_AMOUNTS: dict[Form, tuple[Dimension, list[str]]] = {
    Form.TAPE: (LENGTH, ["cm", "m", "in"]),
    Form.PUTTY: (MASS, ["g", "oz"]),
    Form.SLEEVE: (COUNT, ["pieces"]),
    Form.ITEM: (COUNT, ["pieces"]),
}
AMOUNT_NAMES = {Form.TAPE: "Strip or roll as sold", Form.PUTTY: "Package as sold"}


def weight_field(form: Form) -> QuantityField:
    """The field of what a material of this form weighs."""
    dimension, units, label = _WEIGHTS[form]
    has_rule = form is Form.TAPE  # may stand in its place
    return QuantityField(
        dimension, units, with_spread=form is not Form.PUTTY, required=not has_rule, label=label
    )


def amount_field(form: Form, label: str, *, required: bool, positive: bool = True) -> QuantityField:
    """The field of an amount of a material: a length, a weight or a count."""
    dimension, units = _AMOUNTS[form]
    return QuantityField(dimension, units, required=required, positive=positive, label=label)


class MaterialForm(MergedForm, forms.Form):
    """What a shop says of one material. A new one has its kind chosen before."""

    name = forms.CharField(max_length=60)
    width = QuantityField(LENGTH, ["mm", "cm", "in"], required=False, label="Width")
    thickness = QuantityField(LENGTH, ["mm", "in"], required=False, label="Thickness of one layer")
    price = forms.DecimalField(
        max_digits=9, decimal_places=2, min_value=0, required=False, label="Price of one package"
    )
    rule = forms.CharField(
        max_length=60,
        required=False,
        label="Or as a rule",
        help_text="“4 strips weigh half an ounce”, “2 in a gram”. Counts as ±10 % until you weigh a cut.",
    )
    hardness = forms.ChoiceField(choices=Material.HardnessChoice)
    undo = forms.ChoiceField(choices=Material.UndoChoice, label="Taking off")
    look = forms.CharField(
        max_length=40, required=False, label="Look", help_text="Colour and shine, such as matt black."
    )
    note = forms.CharField(max_length=200, required=False, label="Caution, in your words")

    def __init__(self, data: Sent, *, shop: Shop, kind: MaterialKind, material: Material | None = None):
        super().__init__(data)
        self.shop, self.kind, self.material = shop, kind, material
        facts = KINDS[kind]
        self.fields["weight"] = weight_field(facts.form)
        self.fields["sold"] = amount_field(
            facts.form, AMOUNT_NAMES.get(facts.form, "Pieces in a package"), required=False
        )
        if facts.form is not Form.TAPE:
            del self.fields["width"], self.fields["rule"]
        if facts.form not in (Form.TAPE, Form.SLEEVE):
            del self.fields["thickness"]
        self.initial = (
            self._known() if material else {"hardness": facts.hardness.value, "undo": facts.undo.value}
        )
        self.fields["note"].widget.attrs["placeholder"] = facts.caution
        self.order_fields(
            [
                "name",
                "weight",
                "rule",
                "sold",
                "width",
                "thickness",
                "price",
                "look",
                "hardness",
                "undo",
                "note",
            ]
        )
        style_fields(self)

    def _known(self) -> dict[str, Any]:
        m = self.material
        assert m is not None  # noqa: S101 - asked by __init__
        weight = {Form.TAPE: m.g_per_cm, Form.PUTTY: m.density_g_cm3}.get(m.form, m.each_g)
        spread = {Form.TAPE: m.g_per_cm_u, Form.PUTTY: None}.get(m.form, m.each_u_g)
        unit = _WEIGHTS[m.form][1][0]
        shown = (f"{weight:.4g}", unit)
        if m.typed_density:
            shown = (m.typed_density["text"], m.typed_density["unit"])
        return {
            "name": m.name,
            "price": m.price,
            "hardness": m.hardness,
            "undo": m.undo,
            "note": m.note,
            "look": m.look,
            "weight": (*shown, f"{spread:.2g}" if spread else ""),
            "width": m.width_mm and (f"{m.width_mm:g}", "mm"),
            "thickness": m.thickness_mm and (f"{m.thickness_mm:g}", "mm"),
            "sold": m.sold_amount and (f"{m.sold_amount:g}", m.unit),
        }

    def clean_name(self) -> str:
        name = " ".join(self.cleaned_data["name"].split())
        taken = Material.objects.filter(shop=self.shop, name=name)
        if taken.exclude(pk=self.material.pk if self.material else 0).exists():
            raise forms.ValidationError("This name is taken; choose another.", "name_taken")
        return name

    def clean_weight(self) -> Typed:
        typed: Typed = self.cleaned_data["weight"]
        most, unit = _HEAVIEST.get(KINDS[self.kind].form, (MOST_EACH_G, "g"))
        if typed and typed.base > most:
            raise forms.ValidationError(
                f"{typed.text} {typed.unit} is too much. The most is {most:g} {unit}. Check the number and its "
                "unit.",
                "too_heavy",
            )
        return typed

    def clean(self) -> None:
        super().clean()
        cleaned = self.cleaned_data
        rule, weight = cleaned.get("rule"), cleaned.get("weight")
        if rule and not self.errors:
            if weight and "weight" in self.changed_data:
                self.add_error("rule", "The weight is given above too. Leave one of the two empty.")
            else:
                self._take_rule(rule)
        elif "rule" in self.fields and not (weight or self.errors):
            self.add_error("weight", "Enter what it weighs, or a rule for it.")

    def _take_rule(self, rule: str) -> None:
        """Put the weight per length that the words come to in the place of a typed one."""
        sold = self.cleaned_data.get("sold")
        try:
            cut = length_and_mass(
                rule, length_unit="in", mass_unit="g", strip_cm=sold.base if sold else NOT_MEASURED
            )
            density = density_by_rule(cut)
        except KentrobarError as error:
            self.add_error("sold" if error.code == "no_strip_length" else "rule", error.message)
            return
        self.cleaned_data["weight"] = Typed(f"{density.value:.4g}", "g/cm", density.value, density.u)
        try:
            self.clean_weight()
        except forms.ValidationError as error:
            self.add_error("rule", error)

    @property
    def sets_weight(self) -> bool:
        """Whether a weight or a rule was typed that is not the one known."""
        return not {"weight", "rule"}.isdisjoint(self.changed_data)

    def about(self) -> dict[str, Any]:
        """The columns other than the weight."""
        cleaned = self.cleaned_data
        width, thickness, sold = (cleaned.get(n) for n in ("width", "thickness", "sold"))
        return {
            "width_mm": MM_PER_CM * width.base if width else None,
            "thickness_mm": MM_PER_CM * thickness.base if thickness else None,
            "sold_amount": sold.base if sold else None,
            **{name: cleaned[name] for name in ("name", "price", "look", "hardness", "undo", "note")},
        }


class CutsForm(forms.Form):
    """Cuts of a tape that were weighed: "20 cm 2.05 g", one a line; without units in the person's."""

    cuts = forms.CharField(
        max_length=600,
        label="Cuts, one a line: length and weight",
        widget=forms.Textarea({"rows": 3, "class": "form-control"}),
    )

    def __init__(self, data: Sent, units: Units, strip_cm: Amount = NOT_MEASURED) -> None:
        super().__init__(data)
        self.units, self.strip_cm = units, strip_cm
        length = "8 in" if units.length == "in" else "20 cm"
        self.example = f"{length} {units.piece_mass_text(2.05)} {units.mass}"
        self.fields["cuts"].widget.attrs["placeholder"] = self.example

    def clean_cuts(self) -> list[Cut]:
        lines = [line for line in self.cleaned_data["cuts"].splitlines() if line.strip()]
        return [self._cut(line) for line in lines]

    def _cut(self, line: str) -> Cut:
        try:
            return length_and_mass(
                line, length_unit=self.units.length, mass_unit=self.units.mass, strip_cm=self.strip_cm
            )
        except KentrobarError as error:
            raise forms.ValidationError(
                f"{error.message.rstrip('.')}; write it as {self.example}.", error.code
            ) from None


class StockForm(forms.Form):
    """What came, what was cut, or what lies there now."""

    why = forms.ChoiceField(
        choices=[("counted", "there is now"), ("bought", "bought"), ("cut", "used")], label="What"
    )
    note = forms.CharField(max_length=120, required=False, label="For what")

    def __init__(self, data: Sent, material: Material, units: Units) -> None:
        super().__init__(data)
        self.fields["amount"] = amount_field(material.form, "Amount", required=True, positive=False)
        usual = {Form.TAPE: units.tape, Form.PUTTY: units.mass}
        self.initial["amount"] = ("", usual.get(material.form, material.unit))
        self.order_fields(["why", "amount", "note"])
        style_fields(self)

    def clean_amount(self) -> Typed:
        typed: Typed = self.cleaned_data["amount"]
        if typed and typed.base < 0:
            raise forms.ValidationError("An amount is 0 or more. Choose “used” to deduct some.", "negative")
        return typed


class WeighingField(forms.CharField):
    """One weighing or several: "5.2 5.4 5.1 g" or "0.18, 0.19 oz"; cleans to (texts, grams).

    "17.9-1.4 g" is a package less what was cut off.
    """

    unit = "g"  # where none is typed

    def clean(self, value: Any) -> tuple[list[str], list[float]]:
        text = super().clean(value)
        if not text and not self.required:
            return [], []
        named = re.search(r"\b(oz|g)\b", text)
        unit = named[1] if named else self.unit
        plain = _LESS.sub("-", re.sub(r"\b(g|oz)\b", " ", text))
        words = [w for w in re.split(r"[;\s]+|,\s+", plain) if w]
        try:
            values = [_less_offcuts_g(word, unit) for word in words[:30]]
        except KentrobarError as error:
            raise forms.ValidationError(error.message, error.code) from None
        if not values or min(values) <= 0:
            raise forms.ValidationError("Enter one weight or several, each above 0.", "no_mass")
        return [f"{word} {unit}" for word in words], values


_LESS = re.compile(r"(?<=\d)\s*[-−–]\s*(?=\d)")  # a package less its offcuts


def _less_offcuts_g(word: str, unit: str) -> float:
    whole, _, offcuts = word.partition("-") if not word.startswith("-") else (word, "", "")
    first, *rest = (MASS.to_base(*parse_quantity(part, MASS, unit)) for part in (whole, offcuts) if part)
    return first - sum(rest)


class WeighForm(MergedForm, forms.Form):
    """The shop's own weighings of one kind of fitting, and how thick it is round the handle."""

    weighings = WeighingField(max_length=200, label="Weighings", required=False)
    thickness = forms.CharField(max_length=20, required=False, label="Thickness")
    note = forms.CharField(max_length=80, required=False, label="Differences")

    def __init__(self, accessory: Accessory, units: Units, data: Sent = None) -> None:
        super().__init__(data, prefix=f"a{accessory.pk}", auto_id="id_%s")
        self.accessory, self.units = accessory, units
        self.initial["weighings"] = " ".join(accessory.typed.get("texts", []))
        self.initial["note"] = accessory.note
        field = self.fields["weighings"]
        field.unit = units.mass  # type: ignore[attr-defined]
        example = _weighing_example(accessory.kind, units)
        field.widget.attrs |= {"class": "form-control", "placeholder": example}
        self.fields["thickness"].widget.attrs |= {
            "class": "form-control",
            "placeholder": "0.02 in" if units.ruler == "in" else "0.6 mm",
        }
        if accessory.thickness_mm:
            self.initial["thickness"] = _thickness_text(accessory.thickness_mm, units)
        self.fields["note"].widget.attrs |= {"class": "form-control", "placeholder": "gauge, coating, width"}
        if not accessory.fitting.goes_round_handle:
            del self.fields["thickness"]

    def clean_thickness(self) -> float | None:
        """The thickness in mm; None where nobody measured it."""
        typed = self.cleaned_data["thickness"]
        if not typed:
            return None
        try:
            mm = MM_PER_CM * LENGTH.to_base(*parse_quantity(typed, LENGTH, self.units.ruler))
        except KentrobarError as error:
            raise forms.ValidationError(error.message, error.code) from None
        if not THINNEST_MM <= mm <= THICKEST_MM:
            thin, thick = (_thickness_text(each, self.units) for each in (THINNEST_MM, THICKEST_MM))
            raise forms.ValidationError(f"A layer is {thin} to {thick} thick.", "no_thickness")
        return mm


def _weighing_example(kind: str, units: Units) -> str:
    """How weighings are typed; of strings a package less its offcuts."""
    if kind == FittingKind.STRINGS:
        return "0.63-0.05 oz" if units.mass == "oz" else "17.9-1.4 g, package less offcuts"
    return "0.18 0.19 oz" if units.mass == "oz" else "5.2 5.4 5.1 g"


def _thickness_text(mm: float, units: Units) -> str:
    """As it is read off a gauge: millimetres as measured, inches to a thousandth."""
    return f"{mm / MM_PER_CM / CM_PER_IN:.3f} in" if units.ruler == "in" else f"{mm:g} mm"


class NewAccessoryForm(forms.Form):
    """Another fitting of a kind of fitting."""

    kind = forms.ChoiceField(choices=FittingKinds, widget=forms.Select({"class": "form-select"}))
    name = forms.CharField(max_length=60, widget=forms.TextInput({"class": "form-control"}))
