"""How far strips can be made longer where they are: clear of what should stay free, of each other, of themselves."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from enum import StrEnum
from typing import Final, NamedTuple

from kentrobar.core.editing.warnings import is_clear
from kentrobar.core.frame.circumstances import Circumstances
from kentrobar.core.frame.outline import Outline
from kentrobar.core.quantities.errors import KentrobarError, PieceError
from kentrobar.core.weight.pieces import Piece, RimStrip
from kentrobar.core.weight.pieces.strip import LENGTH_STEP_CM

LONGEST_MORE_CM: Final = 4.0  # that a strip can be lengthened by, with a bit applied beside it
_MOST_STEPS: Final = round(LONGEST_MORE_CM / LENGTH_STEP_CM)


class GrowthEnd(StrEnum):
    """Where a strip is made longer: at which end of its stretch along the rim."""

    BOTH = "both"
    START = "start"
    END = "end"


class GrowthRoom(NamedTuple):
    """By how many steps a strip may grow, and at which end; a wrap round the handle grows as a whole."""

    steps: int
    end: GrowthEnd = GrowthEnd.BOTH


def rooms_to_grow(
    pieces: Sequence[Piece], outline: Outline | None, circumstances: Circumstances
) -> list[GrowthRoom]:
    """The room of each piece once those before it have taken theirs, so that all of them may grow."""
    grown, found = list(pieces), []
    for i, piece in enumerate(pieces):
        strip = piece.as_strip
        if strip is None or outline is None:
            found.append(GrowthRoom(_MOST_STEPS))
            continue
        others = grown[:i] + grown[i + 1 :]
        found.append(max(_at_each_end(strip, others, outline, circumstances), key=lambda room: room.steps))
        if found[-1].steps:
            grown[i] = longer(strip, found[-1].steps, found[-1].end, outline)
    return found


def _at_each_end(
    strip: RimStrip, others: Sequence[Piece], outline: Outline, circumstances: Circumstances
) -> Iterator[GrowthRoom]:
    """The room of a strip at either end; one across the centre line grows at both, one beside it at its outer."""
    start, end = strip.stretch(outline.rim(strip.face))
    is_across = not strip.mirrored and abs(start + end) < LENGTH_STEP_CM
    ends = (
        (GrowthEnd.BOTH,)
        if is_across or strip.starts_at_centre_line(outline)
        else (GrowthEnd.START, GrowthEnd.END)
    )
    for at in ends:
        steps = 0
        while steps < _MOST_STEPS:
            try:
                grown = longer(strip, steps + 1, at, outline)
            except KentrobarError:
                break
            if not is_clear(grown, others, outline, circumstances):
                break
            steps += 1
        yield GrowthRoom(steps, at)


def longer(strip: RimStrip, steps: int, at: GrowthEnd, outline: Outline) -> RimStrip:
    """A strip so many steps longer at an end. Raises PieceError where the rim ends."""
    more_cm = steps * LENGTH_STEP_CM
    if at is GrowthEnd.BOTH:
        return strip.with_length(round(strip.extent_cm + more_cm, 3))
    line = outline.rim(strip.face)
    start, end = strip.stretch(line)
    reach = (start - more_cm, end) if at is GrowthEnd.START else (start, end + more_cm)
    grown = strip.part(outline, *reach)
    if max(abs(a - b) for a, b in zip(grown.stretch(line), reach, strict=True)) > LENGTH_STEP_CM / 2:
        raise PieceError("The rim ends here.", code="off_rim")
    return grown
