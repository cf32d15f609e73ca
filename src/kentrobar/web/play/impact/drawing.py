"""The map of a face as shapes: bands and contours of one measure, the sweet spot, what lies on the frame."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Final, NamedTuple

import numpy as np

from kentrobar.core.play.impact import Array
from kentrobar.core.play.maps import FaceMap, bands, contours
from kentrobar.core.play.sweet_zone import HittingFace, SweetZone, ZoneEdge
from kentrobar.core.quantities.units import MM_PER_CM
from kentrobar.web.showing import drawing

SHADES: Final = 5
BESIDE_MM: Final = 16.0  # the frame that is shown round the face
LABEL_GAP_MM: Final = 15.0
LABELS_AT_CM: Final = -2.0  # beside the long axis, where the marks of the zone and of percussion stand
CROSS_MM: Final = 8
EVERY: Final = 8  # of the heights of an edge, some tenths of a millimetre apart, one is drawn


class ShadedBand(NamedTuple):
    """One colour of the map; ``lowers`` where the measure falls."""

    shade: int
    lowers: bool
    d: str


class ContourLine(NamedTuple):
    """A contour with its label, which has no place where others stand too near."""

    d: str
    text: str
    x: float | None
    y: float | None


def face_path(face: HittingFace, middle: float) -> str:
    """The face as a closed path."""
    return zone_path(ZoneEdge(face.y_cm, -face.half_width_cm, face.half_width_cm), middle)


def zone_path(edge: ZoneEdge, middle: float) -> str:
    """A zone as a closed path: up its right edge and down its left one, finest where it rounds off."""
    last = len(edge.y_cm) - 1
    drawn = [i for i in range(last + 1) if i % EVERY == 0 or not EVERY < i < last - EVERY]
    y, left, right = (each[drawn] for each in edge)
    ends = [[(left[i] + right[i]) / 2, y[i]] for i in (0, -1)]
    up = np.concatenate([ends[:1], np.column_stack([right, y]), ends[1:]])
    return _path(np.concatenate([up, np.column_stack([left, y])[::-1], ends[:1]]), middle, True)


def view_box(face: HittingFace, middle: float) -> str:
    """The part of the frame's drawing that shows its face."""
    left, right = (drawing.x_mm(float(face.y_cm[i])) for i in (0, -1))
    half = MM_PER_CM * float(face.half_width_cm.max()) + BESIDE_MM
    across = right - left + 3 * BESIDE_MM
    return f"{left - 2 * BESIDE_MM:.1f} {middle - half:.1f} {across:.1f} {2 * half:.1f}"


def shaded(of: FaceMap, levels: Sequence[float], middle: float, is_difference: bool) -> list[ShadedBand]:
    """The map between its contours, the stronger the more; a difference by its sign and size."""
    low, high = of.range
    most = max(abs(low), abs(high)) if is_difference else high - low
    found = []
    for start, end, shapes in bands(of, levels):
        value = (max(start, low) + min(end, high)) / 2
        part = abs(value) / most if is_difference else (value - low) / most
        shade = min(int(SHADES * part), SHADES - 1)
        found.append(ShadedBand(shade, is_difference and value < 0, _paths(shapes, middle, True)))
    return found


def lines(of: FaceMap, levels: Sequence[float], texts: Sequence[str], middle: float) -> Iterator[ContourLine]:
    """The contours, each with its number as near to the line of labels as it comes."""
    taken: list[tuple[float, float]] = []
    for contour, text in zip(contours(of, levels), texts, strict=True):
        place = _label_place(contour.lines, of, middle, taken)
        if place:
            taken.append(place)
        x, y = place or (None, None)
        yield ContourLine(lines_path(contour.lines, middle), text, x, y)


def _label_place(
    found: Sequence[Array], of: FaceMap, middle: float, taken: Sequence[tuple[float, float]]
) -> tuple[float, float] | None:
    points = np.concatenate(found) if found else np.empty((0, 2))
    edge = np.interp(points[:, 1], of.y_cm, _half_widths(of))
    points = points[np.abs(points[:, 0]) < edge - 0.6]
    for x, y in sorted(points.tolist(), key=lambda p: (round(abs(p[0] - LABELS_AT_CM)), -p[1])):
        at = drawing.x_mm(y), round(middle + MM_PER_CM * x, 1)
        if all(abs(at[0] - a) > LABEL_GAP_MM or abs(at[1] - b) > LABEL_GAP_MM for a, b in taken):
            return at
    return None


def _half_widths(of: FaceMap) -> Array:
    """Half the face's width at each height of a map's grid."""
    return np.asarray(np.where(of.on_face, np.abs(of.x_cm)[None, :], 0.0).max(axis=1))


def _paths(shapes: Sequence[Array], middle: float, closed: bool) -> str:
    """Shapes of many points as one path; every other point is enough for the eye."""
    return " ".join(_path(np.concatenate([shape[:-1:2], shape[-1:]]), middle, closed) for shape in shapes)


def _path(points: Array, middle: float, closed: bool) -> str:
    """Rows of (x, y) in cm as a path of the drawing: there are thousands, written in one go."""
    x = drawing.MARGIN_MM + MM_PER_CM * points[:, 1]
    across = middle + MM_PER_CM * points[:, 0]
    numbers = tuple(np.column_stack([x, across]).ravel().tolist())
    return f"M{('%.1f %.1f ' * len(points)) % numbers}{'Z' if closed else ''}"


class ZoneShown(NamedTuple):
    """A zone's edge and a cross at its centre, as paths."""

    d: str
    cross: str


def zone_shown(zone: SweetZone | None, middle: float) -> ZoneShown | None:
    """A zone in the drawing; None for none."""
    return ZoneShown(zone_path(zone.edge, middle), cross(zone.x_cm, zone.y_cm, middle)) if zone else None


def spot(x_cm: float, y_cm: float, middle: float) -> tuple[float, float]:
    """A place of the face in the drawing."""
    return drawing.x_mm(y_cm), round(middle + MM_PER_CM * x_cm, 1)


def cross(x_cm: float, y_cm: float, middle: float) -> str:
    """An upright cross at a place of the face."""
    (x, y), half = spot(x_cm, y_cm, middle), CROSS_MM / 2
    return f"M{x} {y - half:.1f}v{CROSS_MM}M{x - half:.1f} {y}h{CROSS_MM}"


def lines_path(shapes: Sequence[Array], middle: float) -> str:
    """Lines on the face as one path."""
    return _paths(shapes, middle, False)
