"""A piece in words: where it lies, and what the hand at the bench needs to cut and lay it."""

from __future__ import annotations

from kentrobar.core.circumstances import CAP_DEPTH_CM
from kentrobar.core.outline import Face, Outline, Sport, clock_text
from kentrobar.core.pieces import Piece, Plug, PointPiece, RimStrip, StringBed, count_of
from kentrobar.core.placing import ON_RIM_CM, nearest_on_rim
from kentrobar.core.silhouette import SHAFT_WIDTH_CM
from kentrobar.core.sites import region_at, shaft_at
from kentrobar.web.kit.numbers import Units
from kentrobar.web.planning.laying import ON_AXIS_CM

ON_TOP_CM = 0.1  # so near to the tip an end lies on a paddle's top edge


def cut_words(piece: Piece, outline: Outline, units: Units) -> dict[str, str | int]:
    """What the hand at the bench needs: where in words, how far from the butt, length, how many."""
    start, end = ends_of(piece, outline)
    reach = units.ruler_text(start)
    if end != start:
        reach += f" to {units.ruler_text(end)}"
    length = piece.length_cm.value if isinstance(piece, RimStrip) else end - start
    return {
        "where": where_text(piece, outline, units),
        "from_butt": "" if isinstance(piece, StringBed) else reach,
        "cut_length": f"{units.ruler_text(length)} {units.ruler}" if length else "–",
        "count": count_of(piece),
    }


def ends_of(piece: Piece, outline: Outline) -> tuple[float, float]:
    """Distances from the butt at which a piece starts and ends, cm; the same for a compact one."""
    if isinstance(piece, RimStrip):
        line = outline.rim(piece.face)
        start, end = piece.stretch(line)
        return line.point(start).y, line.point(end).y
    if isinstance(piece, PointPiece):
        return piece.y_cm, piece.y_cm
    if isinstance(piece, StringBed):
        return outline.centre_y_cm, outline.centre_y_cm
    return piece.from_cm, piece.to_cm


def where_text(piece: Piece, outline: Outline, units: Units) -> str:
    """Where a piece lies, in the field's words."""
    if isinstance(piece, RimStrip):
        layers = f", {piece.layers} layers" if piece.layers > 1 else ""
        both = ", both faces" if piece.both_faces else ""
        told = _by_clock if outline.sport is Sport.TENNIS else _by_region
        return f"{told(piece, outline, units)}, {face_words(piece.face, outline)}{both}{layers}"
    if isinstance(piece, PointPiece):
        return _compact_words(piece, outline)
    if isinstance(piece, StringBed):
        return "strings"
    if isinstance(piece, Plug):
        return "inside the butt cap" if piece.to_cm <= CAP_DEPTH_CM else "in the cavity"
    is_whole = piece.from_cm == 0 and piece.to_cm >= outline.handle_length_cm
    return "round the handle" if is_whole else "along the handle, on its flat bevels"


def _by_clock(piece: RimStrip, outline: Outline, _units: Units) -> str:
    line = outline.rim(piece.face)
    start, end = (clock_text(line.clock_at(s)) for s in piece.stretch(line))
    return f"{start} to {end}{' and mirrored' if piece.mirrored else ''}"


def _by_region(piece: RimStrip, outline: Outline, units: Units) -> str:
    """On a paddle: the part of the edge, and how far from the butt or, on the top edge, from its middle."""
    line = outline.rim(piece.face)
    start, end = piece.stretch(line)
    ends = [line.point(s) for s in (start, end)]
    side = "both sides" if piece.mirrored else "right" if start + end > 0 else "left"
    side = "across" if start < 0 < end and not piece.mirrored else side
    is_on_top = min(point.y for point in ends) > line.point(0.0).y - ON_TOP_CM
    far = [units.ruler_text(abs(point.x) if is_on_top else point.y) for point in ends]
    since = "its middle" if is_on_top else "the butt"
    return f"{region_at(outline, (start + end) / 2)}, {side}, {far[0]} to {far[1]} {units.ruler} from {since}"


def _compact_words(piece: PointPiece, outline: Outline) -> str:
    side = "left" if piece.x_cm < 0 else "right"
    shaft = shaft_at(outline, piece.y_cm)
    if shaft is not None and abs(abs(piece.x_cm) - shaft) < SHAFT_WIDTH_CM:
        return "on both shafts" if piece.mirrored else f"on the {side} shaft"
    s, distance = nearest_on_rim(outline, Face.OUTER, piece.x_cm, piece.y_cm)
    if distance <= ON_RIM_CM:
        if outline.sport is Sport.TENNIS:
            sides = " and mirrored" if piece.mirrored else ""
            return f"on the rim at {clock_text(outline.rim(Face.OUTER).clock_at(s))}{sides}"
        return f"{region_at(outline, s)}, {'both sides' if piece.mirrored else side}"
    if abs(piece.x_cm) >= ON_AXIS_CM:
        return "on both sides" if piece.mirrored else f"on the {side}"
    return "in the handle" if piece.y_cm <= outline.handle_length_cm else "on the long axis"


_FACE_WORDS = {
    Sport.TENNIS: {
        Face.INNER: "inner face", Face.OUTER: "outer face", Face.BUMPER: "under the bumper",
    },
    Sport.PICKLEBALL: {Face.OUTER: "edge guard", Face.INNER: "face beside the edge"},
}  # fmt: skip


def face_words(face: Face, outline: Outline) -> str:
    """A face as the sport calls it."""
    return _FACE_WORDS[outline.sport][face]


def face_choices(outline: Outline) -> list[tuple[str, str]]:
    """The faces of a frame with their names, the usual one first."""
    return [(face.value, words) for face, words in _FACE_WORDS[outline.sport].items()]
