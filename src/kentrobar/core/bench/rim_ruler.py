"""A rim as one strip of paper to wrap round it: its hours, what is blocked, where each piece lies.

All positions are arc lengths along one face in cm, 0 in the middle of the tip, negative on the left.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from typing import NamedTuple

from kentrobar.core.frame.circumstances import Circumstances, keep_outs
from kentrobar.core.frame.clock import clock_text
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.places import RimStretch
from kentrobar.core.frame.rim import Face, RimLine
from kentrobar.core.quantities.errors import OutlineError
from kentrobar.core.weight.pieces import RimStrip

_EXACT_CM = 1e-6


class OnRim(NamedTuple):
    """A stretch of a rim, ``start`` ≤ ``end``, and what is there."""

    start: float
    end: float
    name: str


class HourMark(NamedTuple):
    """A full hour of the clock on a rim."""

    at: float
    text: str


def hours(line: RimLine) -> list[HourMark]:
    """The full hours that a rim has, from its left end to its right; 6:00 stands at both ends of a hoop."""
    found = []
    for hour in range(-6, 7):
        try:
            at = math.copysign(line.at_clock(60.0 * abs(hour)), hour)
        except OutlineError:  # the handle is there
            continue
        found.append(HourMark(at, clock_text(60.0 * hour)))
    return found


def strips_on(strips: Sequence[tuple[str, RimStrip]], outline: Outline, face: Face) -> list[OnRim]:
    """Where the strips of one face lie; those that share a stretch share its name, such as "1, 4"."""
    line = outline.rim(face)
    names: dict[RimStretch, list[str]] = {}
    for name, strip in strips:
        if strip.face is face:
            for stretch in _joined(part for each in strip.stretches(line) for part in on_paper(each, line)):
                exact = RimStretch(round(stretch.start, 6), round(stretch.end, 6))
                names.setdefault(exact, []).append(name)
    return [OnRim(*stretch, ", ".join(dict.fromkeys(each))) for stretch, each in sorted(names.items())]


def blocked_on(circumstances: Circumstances, outline: Outline, face: Face) -> list[OnRim]:
    """Where nothing should be laid, and why."""
    line = outline.rim(face)
    return [
        OnRim(*part, out.name)
        for out in keep_outs(circumstances, outline, face)
        for part in on_paper(RimStretch(out.start, out.end), line)
    ]


def on_paper(stretch: RimStretch, line: RimLine) -> Iterator[RimStretch]:
    """A stretch as it lies on the paper: over the throat of a hoop it is cut, as the paper is."""
    half = line.half_length
    for shift in (-line.length, 0.0, line.length) if line.closed else (0.0,):
        start, end = max(stretch.start + shift, -half), min(stretch.end + shift, half)
        if end - start > _EXACT_CM:
            yield RimStretch(start, end)


def _joined(stretches: Iterable[RimStretch]) -> list[RimStretch]:
    """Stretches of one piece where those that meet are one, as the strip and its image at the tip."""
    found: list[RimStretch] = []
    for each in sorted(stretches):
        if found and each.start - found[-1].end < _EXACT_CM:
            found[-1] = RimStretch(found[-1].start, max(each.end, found[-1].end))
        else:
            found.append(each)
    return found
