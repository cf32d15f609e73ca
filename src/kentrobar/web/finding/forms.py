"""A table of readings that is sent or pasted."""

from __future__ import annotations

from typing import Any

from django import forms

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.units import LENGTH
from kentrobar.core.reading.pasted import LARGEST_CHARACTERS
from kentrobar.exchange.tables import LARGEST_TABLE_BYTES, read_text
from kentrobar.web.frames.models import SpecSheet
from kentrobar.web.kit.quantities import LENGTH_UNITS, QuantityField, style_fields


class ReadingsForm(forms.Form):
    """The table, in which build its frames were read, about which axis."""

    file = forms.FileField(
        label="A CSV file", required=False, widget=forms.FileInput({"accept": ".csv,text/csv,.txt"})
    )
    text = forms.CharField(
        label="Or a block of a spreadsheet",
        required=False,
        max_length=LARGEST_CHARACTERS,
        widget=forms.Textarea({"rows": 5}),
    )
    build = forms.ChoiceField(label="Read in", choices=SpecSheet.SheetBuild.choices, initial="playing")
    axis = QuantityField(LENGTH, LENGTH_UNITS, positive=False, label="Swing axis from the butt")

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.initial.setdefault("axis", ("10", "cm"))
        style_fields(self)
        self.fields["file"].widget.attrs["class"] = "form-control"

    def clean(self) -> None:
        cleaned = self.cleaned_data
        if cleaned.get("file"):
            try:
                cleaned["text"] = read_text(cleaned["file"].read(LARGEST_TABLE_BYTES + 1))
            except KentrobarError as error:
                self.add_error("file", error.message)
        if not self.errors and not cleaned.get("text", "").strip():
            self.add_error("text", "Choose a file, or paste the rows with their column names.")
