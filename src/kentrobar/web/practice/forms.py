"""What is typed at the practice bench, in each kind of exercise."""

from __future__ import annotations

from django import forms

from kentrobar.core.bench.practice.finding_slips import ROWS, SLIP_NAMES, Slip
from kentrobar.core.bench.practice.hidden import SPECS
from kentrobar.core.bench.practice.predicting import RIGHT
from kentrobar.core.bench.practice.weighing import MOST_G, MatchTwo
from kentrobar.core.body.specs import BALANCE, READ_BY_KEY, ReadSpec
from kentrobar.core.quantities.units import MASS
from kentrobar.web.kit.numbers import Units
from kentrobar.web.kit.quantities import LENGTH_UNITS, QuantityField, style_fields
from kentrobar.web.kit.records import Json
from kentrobar.web.kit.requests import Sent
from kentrobar.web.practice.models import PracticeRun


class BeginForm(forms.ModelForm):
    """Which exercise, how hard, with which frames."""

    class Meta:
        model = PracticeRun
        fields = ("task", "level", "sport")


def _quantity(spec: ReadSpec, *, is_change: bool) -> QuantityField:
    """A spec or its change as a person types it; points of balance are no length."""
    units = LENGTH_UNITS if spec is BALANCE else list(spec.typed_units)
    return QuantityField(spec.dimension, units, positive=not is_change, label=spec.title)


class SpecsForm(forms.Form):
    """The specs of a frame as stated, or changes as guessed, by the keys of specs in base units."""

    def __init__(
        self, data: Sent, *, units: Units, changes: bool, start: dict[str, float] | None = None
    ) -> None:
        super().__init__(data)
        specs = [READ_BY_KEY[key] for key in RIGHT] if changes else list(SPECS)
        for spec in specs:
            self.fields[spec.key] = _quantity(spec, is_change=changes)
            unit, value = units.typed_unit(spec), (start or {}).get(spec.key)
            text = "" if value is None else units.spec_text(spec, value).split()[0]
            self.initial[spec.key] = text, unit

    def answer(self) -> Json:
        """What was typed."""
        return {name: typed.base for name, typed in self.cleaned_data.items()}


class SlipForm(forms.Form):
    """Which entry slipped, and how."""

    entry = forms.ChoiceField(label="The entry", required=False)
    slip = forms.ChoiceField(
        label="What went wrong", choices=[(slip.value, name) for slip, name in SLIP_NAMES.items()]
    )

    def __init__(self, data: Sent) -> None:
        super().__init__(data)
        field = self.fields["entry"]
        if isinstance(field, forms.ChoiceField):
            field.choices = [
                ("", "none of them"),
                *(
                    (f"{row}/{spec.key}", f"{spec.noun} of row {row + 1}")
                    for row in range(ROWS)
                    for spec in SPECS
                ),
            ]
        style_fields(self)

    def clean(self) -> None:
        cleaned = self.cleaned_data
        is_none = cleaned.get("slip") == Slip.NONE
        if not self.errors and is_none == bool(cleaned.get("entry")):
            raise forms.ValidationError(
                "Choose an entry and what went wrong, or none and that nothing slipped.", "half"
            )

    def answer(self) -> Json:
        """What was chosen."""
        return dict(self.cleaned_data)


class DosesForm(forms.Form):
    """So much weight at each place, all of it, half on either side; left empty: none."""

    def __init__(self, data: Sent, *, exercise: MatchTwo, units: Units, start: dict[str, float]) -> None:
        super().__init__(data)
        self.units = units
        self.places = [site.key for site in exercise.sites]
        for site in exercise.sites:
            self.fields[site.key] = QuantityField(
                MASS, ["g", "oz"], positive=False, required=False, label=site.label
            )
            grams = start.get(site.key)
            text = units.piece_mass_text(grams) if grams else ""
            self.initial[site.key] = text, units.mass

    def clean(self) -> None:
        cleaned = self.cleaned_data
        for name, typed in list(cleaned.items()):
            if typed and not 0 <= typed.base <= MOST_G:
                most = f"{self.units.mass_text(MOST_G)} {self.units.mass}"
                self.add_error(name, f"A position takes 0 to {most}.")

    def doses(self) -> dict[str, float]:
        """What was typed, g by place."""
        return {name: round(typed.base, 3) for name, typed in self.cleaned_data.items() if typed}
