"""The reading grid: what was typed of a known frame, what it comes to, and what is odd about it."""

from __future__ import annotations

from functools import cached_property

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import READ_BY_FIELD
from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.estimates import NOT_MEASURED, Quantity
from kentrobar.core.reading.checks import Question
from kentrobar.core.reading.crosscheck import CrossCheck, cross_check
from kentrobar.core.reading.slips import Reference
from kentrobar.core.weight.builds import Build, Fitting
from kentrobar.web.frames.builds import fittings_in, same_build
from kentrobar.web.frames.hooks import applied_since
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.requests import Sent, read_count
from kentrobar.web.measuring.boxes import ReadingBoxes
from kentrobar.web.measuring.expecting import expectation
from kentrobar.web.measuring.grid.carrying import KnownSpecs, Since, carried_over
from kentrobar.web.measuring.services import Taking
from kentrobar.web.shops.models import User


class ReadingGrid:
    """The whole form: boxes, build, what was added since; ``data`` is what was typed, if anything."""

    def __init__(self, frame: Frame, user: User, data: Sent = None) -> None:
        self.frame, self.data = frame, data or {}
        axis_cm = frame.specs.axis_cm if frame.specs else None
        self.boxes = ReadingBoxes(data, user, axis_cm=axis_cm)
        self.build = self._build()
        self.chosen = set(map(read_count, self.boxes.sent_list("fitted")))
        self.offered = applied_since(frame)
        self.since = self._since()
        self.keep = bool(self.data.get("keep"))
        self.entry = self.boxes.read(Sport(frame.sport), frame.length_cm, self.build)
        self.errors: list[str] = []

    # -- what was typed ----------------------------------------------------------------

    def _since(self) -> Since:
        key = read_count(str(self.data.get("applied", "")))
        usual = next(iter(self.offered), None) if "applied" not in self.data else None
        plan = next((each for each in self.offered if each.key == key), usual)
        return Since(bool(self.data.get("was_changed")), plan)

    def _build(self) -> str:
        typed = str(self.data.get("build", ""))
        if typed in set(Build):
            return typed
        return str(self.frame.specs.build) if self.frame.specs else Build.PLAYING.value

    # -- what it comes to ----------------------------------------------------------------

    @cached_property
    def fitted(self) -> list[Fitting]:
        return fittings_in(self.frame, self.build, self.chosen)

    @cached_property
    def known(self) -> KnownSpecs | None:
        """What is known of the frame in this build before it is read."""
        return carried_over(self.frame, self.since, self.build, self.fitted, self.entry.axis_cm)

    @property
    def known_specs(self) -> MeasuredSpecs | None:
        """The same, without where it comes from."""
        return self.known.measured if self.known else None

    def carried(self, spec: str) -> Quantity:
        """A spec that is not read anew, as far as it is known; not measured where it is read."""
        if self.known is None or self.entry.specs[spec].series is not None:
            return NOT_MEASURED
        return self.known.measured.of(READ_BY_FIELD[spec])

    @cached_property
    def reference(self) -> Reference | None:
        return expectation(
            self.frame, self.build, self.fitted, self.entry.axis_cm, was_changed=self.since.was_changed
        )

    @cached_property
    def questions(self) -> list[Question]:
        """What is odd about the readings together."""
        return self.entry.questions(self.reference)

    @cached_property
    def fits_uncorrected(self) -> bool:
        """Whether a balance fits once the board's own offset is left out: it was from the butt."""
        return bool(self.questions) and self.entry.fits_uncorrected("balance", self.reference)

    @cached_property
    def checked(self) -> CrossCheck:
        """Where weight was added since the last reading: what it was, and whether it can be."""
        sheet = self.frame.specs
        was_changed = self.since.was_changed
        if not was_changed or sheet is None or not same_build(self.frame, sheet, self.fitted):
            return CrossCheck()
        return cross_check(sheet.measured, self.entry.measured, self.frame.length_cm)

    def check(self) -> bool:
        """Whether it can be saved: all is read, nothing impossible, what is odd is kept or gone."""
        if self.entry.is_empty and not self.entry.has_errors:
            self.errors.append("Enter at least one reading.")
        problem = self.entry.problem(self.known_specs)
        if problem and not self.boxes.blame(problem):
            self.errors.append(problem.message)
        is_sound = not (problem or self.errors or self.entry.has_errors)
        return is_sound and (self.keep or not self.is_odd)

    @property
    def is_odd(self) -> bool:
        outliers = any(each.series and each.series.outliers for each in self.entry.specs.values())
        return bool(self.questions or self.checked.message or outliers)

    # -- what is kept -----------------------------------------------------------------------

    def taking(self) -> Taking:
        """What is to be recorded."""
        keys = [fitting.key for fitting in self.fitted]
        return Taking(self.entry.upon(self.known_specs), self.build, self.boxes.readings(), keys)
