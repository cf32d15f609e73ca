"""The player's card, and labels for frames with the address of their page."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.web.frames.models import Frame
from kentrobar.web.orders.models import Job
from kentrobar.web.planning.paper.sheet import printed

MOST_LABELS: Final = 200


class LabelPlace(NamedTuple):
    """The top left corner of a label on its sheet, mm."""

    left_mm: float
    top_mm: float


class Labels(NamedTuple):
    """A sheet of labels: columns and rows, the size of one, the sheet's margins; mm."""

    columns: int
    rows: int
    width_mm: float
    height_mm: float
    left_mm: float
    top_mm: float

    @property
    def qr_mm(self) -> float:
        """How large the code is."""
        return min(self.height_mm - 6, 26.0)

    @property
    def on_sheet(self) -> int:
        """How many lie on one sheet."""
        return self.columns * self.rows

    def place(self, number: int) -> LabelPlace:
        """Where a label lies on its sheet, from the top left, row by row; mm."""
        row, column = divmod(number % self.on_sheet, self.columns)
        return LabelPlace(self.left_mm + column * self.width_mm, self.top_mm + row * self.height_mm)


# By their size; any others are these with the margins of one's own paper.
SHEETS: Final = MappingProxyType(
    {
        "70x37": Labels(3, 8, 70.0, 37.0, 0.0, 0.5),
        "99x38": Labels(2, 7, 99.0, 38.0, 5.0, 15.0),
        "63x30": Labels(3, 9, 63.0, 30.0, 8.0, 13.0),
        "48x25": Labels(4, 11, 48.0, 25.0, 8.0, 8.5),
    }
)
USUAL_SHEET: Final = "70x37"


@dataclass(frozen=True, slots=True)
class FrameLabel:
    """What a label says of a frame: its code leads to the frame's page."""

    frame: Frame
    qr: str


def labels_pdf(labels: Sequence[FrameLabel], job: Job, sheet: Labels, skip: int) -> bytes:
    """Labels on sheets of A4, the first ``skip`` places left free: they are used already."""
    first = min(skip, sheet.on_sheet - 1)
    placed = [(label, sheet.place(first + i)) for i, label in enumerate(labels[:MOST_LABELS])]
    last = first + len(placed)
    sheets = [placed[max(i - first, 0) : i - first + sheet.on_sheet] for i in range(0, last, sheet.on_sheet)]
    context = {"sheets": sheets, "sheet": sheet, "job": job}
    return printed("orders/handover/labels.html", "a4", context)
