"""A new frame with what was read of it, one at a time."""

from __future__ import annotations

from typing import Any

from django import forms

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.reading.slips import EntryFix
from kentrobar.web.frames.forms import FrameForm, PaddleOutlineForm, RacketOutlineForm
from kentrobar.web.frames.models import SpecSheet
from kentrobar.web.kit.requests import Sent
from kentrobar.web.measuring.boxes import USUAL_LENGTH_CM, ReadingBoxes
from kentrobar.web.measuring.fixes import Fill, boxes_fill
from kentrobar.web.measuring.questioning import QuestionedForm
from kentrobar.web.measuring.services import Taking
from kentrobar.web.shops.models import User


class NewFrameForm(QuestionedForm, FrameForm):
    """What is known of a new frame, and what was read of it."""

    build = forms.ChoiceField(choices=SpecSheet.SheetBuild, label="Read in", initial="playing")

    def __init__(self, data: Sent = None, *, user: User) -> None:
        super().__init__(data, user=user)
        self.boxes = ReadingBoxes(data, user)
        self.boxes.read(self.sport, USUAL_LENGTH_CM[self.sport])

    # -- cleaning -------------------------------------------------------------------

    def clean(self) -> None:
        super().clean()
        cleaned = self.cleaned_data
        if hasattr(self, "dimensions"):
            self._read_boxes(cleaned)
        if any(row.errors for row in self.boxes.rows):
            self.add_error(None, forms.ValidationError("", code="boxes"))

    def _read_boxes(self, cleaned: dict[str, Any]) -> None:
        build = cleaned.get("build", "")
        self.judge(self.boxes.read(self.sport, self.dimensions.length_cm, build))

    def refuse(self, problem: KentrobarError) -> None:
        if not self.boxes.blame(problem):
            self.blame(problem)

    def fill(self, fix: EntryFix) -> Fill:
        return boxes_fill(fix, self.boxes, length_is_typed=True)

    # -- what was typed -----------------------------------------------------------------

    def taking(self) -> Taking:
        """What is to be recorded of a new frame."""
        return Taking(self.boxes.entry.measured, self.cleaned_data["build"], self.boxes.readings())


class NewRacketForm(RacketOutlineForm, NewFrameForm):
    pass


class NewPaddleForm(PaddleOutlineForm, NewFrameForm):
    pass


NEW_FORM_OF: dict[str, type[NewFrameForm]] = {
    NewRacketForm.sport.value: NewRacketForm,
    NewPaddleForm.sport.value: NewPaddleForm,
}
