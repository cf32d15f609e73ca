"""Frames as one kentrobar/1 document, which can be read in again here or matched by the command line."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Final

from kentrobar.exchange import convert, models
from kentrobar.web.frames.models import Frame

MOST_FRAMES: Final = 50  # that a document may hold


def frames_document(frames: Iterable[Frame]) -> models.MatchRequest:
    """Frames with the readings that count; those that were never read are left out."""
    return models.MatchRequest(
        format="kentrobar/1", frames=[_frame(each) for each in frames if each.specs is not None]
    )


def _frame(frame: Frame) -> models.FrameToMatch:
    sheet = frame.specs
    assert sheet is not None  # noqa: S101 - told above
    return models.FrameToMatch(
        label=f"{frame.label} {frame.mark}".strip(),
        sport=frame.sport,
        length_cm=frame.length_cm,
        outline=convert.outline_document(frame.dimensions),
        measured=convert.measured_block(sheet.measured, sheet.build),
    )
