"""A form with readings that asks about what is unusual before it takes them."""

from __future__ import annotations

from collections.abc import Sequence

from django import forms

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.reading.entry import Entry
from kentrobar.core.reading.slips import EntryFix
from kentrobar.web.measuring.boxes import ReadingBoxes
from kentrobar.web.measuring.fixes import Fill, FixButton, ShownQuestion, boxes_fill, buttons, shown_questions

_UNUSUAL = "unusual"


class QuestionedForm(forms.Form):
    """Specs that no frame can have are refused at their boxes. What is merely unusual is asked about;
    ``keep`` says that the person has looked and means it.
    """

    boxes: ReadingBoxes
    questions: Sequence[ShownQuestion] = ()
    fixes: Sequence[FixButton] = ()

    keep = forms.BooleanField(required=False, widget=forms.HiddenInput)

    def judge(self, entry: Entry) -> None:
        """Refuse what cannot be, ask about what is unusual."""
        if entry.has_errors:
            return
        problem = entry.problem()
        if problem is not None:
            self.refuse(problem)
            self.fixes = buttons(entry.fixes(), self.fill)
        elif not self.cleaned_data.get("keep"):
            self.questions = shown_questions(entry.questions(), self.fill)
            if self.questions:
                self.add_error(None, forms.ValidationError("", code=_UNUSUAL))

    def refuse(self, problem: KentrobarError) -> None:
        """Show what cannot be at its box."""
        if not self.boxes.blame(problem):
            self.add_error(None, problem.message)

    def fill(self, fix: EntryFix) -> Fill:
        """The fields that a fix fills."""
        return boxes_fill(fix, self.boxes)

    @property
    def only_asks(self) -> bool:
        """Whether nothing is wrong and all that is left is to look at unusual values."""
        return bool(self.questions) and all(
            error.code == _UNUSUAL for errors in self.errors.as_data().values() for error in errors
        )
