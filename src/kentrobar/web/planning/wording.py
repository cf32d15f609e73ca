"""A piece in words: where it lies, and what the hand at the bench needs to cut and lay it."""

from __future__ import annotations

from kentrobar.core.objections import CAP_DEPTH_CM
from kentrobar.core.outline import Face, Outline, Sport, clock_text
from kentrobar.core.pieces import Piece, Plug, PointPiece, RimStrip, StringBed, count_of
from kentrobar.core.placing import ON_RIM_CM, nearest_on_rim
from kentrobar.core.silhouette import SHAFT_WIDTH_CM
from kentrobar.core.sites import shaft_at
from kentrobar.web.kit.numbers import Units
from kentrobar.web.planning.laying import ON_AXIS_CM


def cut_words(piece: Piece, outline: Outline, units: Units) -> dict[str, str | int]:
    """What the hand at the bench needs: where in words, how far from the butt, length, how many."""
    start, end = ends_of(piece, outline)
    reach = units.ruler_text(start)
    if end != start:
        reach += f" to {units.ruler_text(end)}"
    length = piece.length_cm.value if isinstance(piece, RimStrip) else end - start
    return {
        "where": where_text(piece, outline),
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


def where_text(piece: Piece, outline: Outline) -> str:
    """Where a piece lies, in the field's words."""
    if isinstance(piece, RimStrip):
        line = outline.rim(piece.face)
        start, end = (clock_text(line.clock_at(s)) for s in piece.stretch(line))
        sides = " and mirrored" if piece.mirrored else ""
        layers = f", {piece.layers} layers" if piece.layers > 1 else ""
        both = ", both faces" if piece.both_faces else ""
        return f"{start} to {end}{sides}, {face_words(piece.face, outline)}{both}{layers}"
    if isinstance(piece, PointPiece):
        return _compact_words(piece, outline)
    if isinstance(piece, StringBed):
        return "strings"
    if isinstance(piece, Plug):
        return "inside the butt cap" if piece.to_cm <= CAP_DEPTH_CM else "in the cavity"
    is_whole = piece.from_cm == 0 and piece.to_cm >= outline.handle_length_cm
    return "round the handle" if is_whole else "along the handle, on its flat bevels"


def _compact_words(piece: PointPiece, outline: Outline) -> str:
    side = "left" if piece.x_cm < 0 else "right"
    shaft = shaft_at(outline, piece.y_cm)
    if shaft is not None and abs(abs(piece.x_cm) - shaft) < SHAFT_WIDTH_CM:
        return "on both shafts" if piece.mirrored else f"on the {side} shaft"
    s, distance = nearest_on_rim(outline, Face.OUTER, piece.x_cm, piece.y_cm)
    if distance <= ON_RIM_CM:
        sides = " and mirrored" if piece.mirrored else ""
        return f"on the rim at {clock_text(outline.rim(Face.OUTER).clock_at(s))}{sides}"
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
