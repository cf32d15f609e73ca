"""Taps on the drawing and in a photo, and what is typed, as places of a face."""

from __future__ import annotations

import math
from collections.abc import Sequence

from kentrobar.core.frame.outline import Outline
from kentrobar.core.play.hits import MOST_HITS, Hit
from kentrobar.core.play.straightening import PlanePoint, Straightened, corners_of, straighten
from kentrobar.core.play.sweet_zone import hitting_face
from kentrobar.core.quantities.errors import KentrobarError, SpecError
from kentrobar.core.quantities.units import LENGTH, MM_PER_CM, parse_quantity
from kentrobar.web.showing.drawing import MARGIN_MM, backdrop_of, x_mm

FARTHEST = 1e6  # pixels or millimetres: no tap is farther


def tapped(text: str, outline: Outline) -> list[Hit]:
    """Taps in units of the drawing, ``"x,y x,y"``, as hits. Raises SpecError."""
    middle = backdrop_of(outline).middle
    return [Hit((point.y - middle) / MM_PER_CM, (point.x - MARGIN_MM) / MM_PER_CM) for point in _points(text)]


def typed(text: str, unit: str) -> list[Hit]:
    """Hits as a person types them: a line each, across and from the butt.

    Raises:
        SpecError: a line that cannot be read; it is named by its number.
    """
    found = []
    for number, line in enumerate(text.splitlines(), 1):
        parts = line.replace(";", " ").replace("\t", " ").split()
        if not parts:
            continue
        try:
            across, along = (LENGTH.to_base(*parse_quantity(part, LENGTH, unit)) for part in parts)
        except (KentrobarError, ValueError):
            raise SpecError(
                f"Line {number}, “{line.strip()[:40]}”: give two lengths, across and from the butt, such as "
                f"“{_example(unit)}”.",
                code="line",
                field="typed",
            ) from None
        found.append(Hit(across, along))
    if not found:
        raise SpecError("Enter at least one impact.", code="empty", field="typed")
    return found


def _example(unit: str) -> str:
    return "-0.6 20.5" if unit == "in" else "-1.5 52"


def on_drawing(photo: str, outline: Outline) -> Straightened:
    """The map from a photo's pixels onto the drawing, by its four taps. Raises SpecError."""
    taps = _points(photo)
    if len(taps) != 4:
        raise SpecError("Tap four places: top, right, bottom, left.", code="not_four", field="taps")
    middle = backdrop_of(outline).middle
    plane = [PlanePoint(x_mm(y), middle + MM_PER_CM * x) for x, y in corners_of(hitting_face(outline))]
    return straighten(taps, plane)


def _points(text: str) -> Sequence[PlanePoint]:
    try:
        points = [PlanePoint(*(float(part) for part in pair.split(","))) for pair in text.split()[:MOST_HITS]]
    except (TypeError, ValueError):
        points = []
    if not points or not all(math.isfinite(end) and abs(end) < FARTHEST for point in points for end in point):
        raise SpecError("This tap was not on the drawing.", code="no_tap", field="hits")
    return points
