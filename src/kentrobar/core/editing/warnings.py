"""What speaks against a piece at its place, why, and how it is fixed in one step.

A rule refuses or advises against; either way a person who knows better can set it aside.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise
from typing import Final, NamedTuple

from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.anatomy import CAP_DEPTH_CM, CHANNEL_MM, GRIP_TOP_CM, IN_CAP_CM
from kentrobar.core.frame.circumstances import (
    Circumstances,
    HandleBuild,
    KeepOut,
    both_sides,
    bumper_reach_s,
    free_stretches,
    keep_outs,
)
from kentrobar.core.frame.outline import Outline, PaddleDimensions
from kentrobar.core.frame.places import ClockPlace, RimStretch
from kentrobar.core.frame.rim import Face, RimLine
from kentrobar.core.quantities.estimates import NotMeasured
from kentrobar.core.weight.materials import MOST_G_PER_CM, Hardness, MaterialKind, Undo
from kentrobar.core.weight.piece_of_material import PieceOfMaterial
from kentrobar.core.weight.pieces import Piece, RimStrip, effect_of
from kentrobar.core.weight.pieces.strip import SHORTEST_STRIP_CM

SEARCH_CM: Final = 25.0  # how far along the rim a clear place is looked for
TOUCH_CM: Final = 0.02  # an overlap that a hand cannot see
TIGHT_BEND_CM: Final = 6.0  # radius below which stiff tape springs back
BEND_SPACING_CM: Final = 0.4
STIFF_PART_CM: Final = 2.0  # so short, stiff tape holds round such a bend
_STEP_CM: Final = 0.1


class Fix(NamedTuple):
    """One way out: what it does, and the pieces that take the place of the one objected to."""

    label: str
    pieces: tuple[Piece, ...]


class PieceWarning(NamedTuple):
    """One rule that speaks against the piece at ``position`` of a plan."""

    code: str
    position: int
    is_refusal: bool
    message: str
    fixes: tuple[Fix, ...] = ()


@dataclass(frozen=True)
class _Strip:
    """A strip on its line with what it should keep clear of."""

    piece: RimStrip
    line: RimLine
    outs: list[KeepOut]
    outline: Outline
    stretch: RimStretch = field(init=False)

    def __post_init__(self) -> None:
        start, end = self.piece.stretch(self.line)
        if self.piece.mirrored and end <= 0:  # a pair named by its left strip is told by its right
            start, end = -end, -start
        object.__setattr__(self, "stretch", RimStretch(start, end))

    @property
    def circuit_cm(self) -> float:
        """Length of a closed line, 0 for an open one."""
        return self.line.length if self.line.closed else 0.0

    def crossed(self) -> list[KeepOut]:
        """Those keep-outs that the strip or its mirror image crosses."""
        return [out for out in self.outs if not self._is_clear([out], *self.stretch)]

    def _is_clear(self, outs: list[KeepOut], start: float, end: float) -> bool:
        free = free_stretches(start, end, outs, self.circuit_cm)
        return sum(e - s for s, e in free) >= end - start - TOUCH_CM

    def moved(self) -> RimStrip | None:
        """The strip at the nearest clear place, or None where there is none near."""
        start, end = self.stretch
        length = end - start
        low, high = (0.0, self.line.half_length) if self.piece.mirrored else (-1e9, 1e9)
        if not self.line.closed:
            low, high = max(low, -self.line.half_length), self.line.half_length
        for i in range(1, int(SEARCH_CM / _STEP_CM)):
            for first in (start + i * _STEP_CM, start - i * _STEP_CM):
                if low <= first and first + length <= high:
                    moved = self._clear_part(first, first + length)
                    if moved is not None:
                        return moved
        return None

    def _clear_part(self, start: float, end: float) -> RimStrip | None:
        """The strip on this stretch, if it is clear there: as told and cut, which rounds it."""
        if not self._is_clear(self.outs, start, end):
            return None
        part = self.piece.part(self.outline, start, end)
        return part if self._is_clear(self.outs, *part.stretch(self.line)) else None

    def parted(self) -> tuple[RimStrip, ...]:
        """The strip cut where it should stay clear; what is cut off goes on at its lower end."""
        start, end = self.stretch
        if not self.piece.mirrored and abs(start + end) < 1e-6:
            pair = replace(self, piece=self._pair(), outs=both_sides(self.outs))
            return pair.parted() if pair.crossed() else (pair.piece,)
        parts = free_stretches(start, end, self.outs, self.circuit_cm)
        lost = (end - start) - sum(e - s for s, e in parts)
        if parts and lost > 0:
            last = parts[-1]
            longer = RimStretch(last.start, last.end + lost)
            is_free = self.line.closed and not self.piece.mirrored
            fits = is_free or longer.end <= self.line.half_length
            if fits and self._is_clear(self.outs, *longer):
                parts[-1] = longer
        return tuple(
            self.piece.part(self.outline, *part)
            for part in parts
            if part.end - part.start >= SHORTEST_STRIP_CM
        )

    def _pair(self) -> RimStrip:
        """A strip laid across the tip as two halves, one on either side."""
        pair = replace(self.piece, mirrored=True)
        return pair.part(self.outline, 0.0, self.piece.length_cm.value / 2)


# -- the rules ----------------------------------------------------------------------------


class _Case(NamedTuple):
    """One piece in its circumstances."""

    position: int
    placed: PieceOfMaterial
    all: Sequence[PieceOfMaterial]
    outline: Outline
    circumstances: Circumstances

    @property
    def piece(self) -> Piece:
        return self.placed.piece

    @property
    def strip(self) -> RimStrip | None:
        """The piece where it is a strip along the rim, whose rules are its own."""
        return self.placed.piece.as_strip

    def on_handle(self) -> bool:
        return effect_of(self.piece, self.outline).centre_cm <= self.outline.handle_length_cm

    def warning(
        self, code: str, message: str, *fixes: Fix, is_refusal: bool = False
    ) -> Iterator[PieceWarning]:
        yield PieceWarning(code, self.position, is_refusal, message, fixes)


_Rule = Callable[[_Case], Iterator[PieceWarning]]


def warnings_for(
    placed: Sequence[PieceOfMaterial], outline: Outline, circumstances: Circumstances
) -> list[PieceWarning]:
    """All that speaks against the pieces of a plan; what is taken away is asked nothing."""
    found: list[PieceWarning] = []
    for index, each in enumerate(placed):
        if not each.piece.removed:
            case = _Case(index, each, placed, outline, circumstances)
            found += [warning for rule in RULES for warning in rule(case)]
    return found


def is_clear(
    strip: RimStrip, others: Iterable[Piece], outline: Outline, circumstances: Circumstances
) -> bool:
    """Whether a strip covers nothing that should stay clear: no hole, no post, no other strip, not itself."""
    if effect_of(strip, outline).overlaps:
        return False
    outs = keep_outs(circumstances, outline, strip.face) + _covered(strip, enumerate(others), outline)
    return not _on_its_line(strip, outs, outline).crossed()


def _on_its_line(piece: RimStrip, outs: list[KeepOut], outline: Outline) -> _Strip:
    return _Strip(piece, outline.rim(piece.face), both_sides(outs) if piece.mirrored else outs, outline)


def _covered(piece: RimStrip, others: Iterable[tuple[int, Piece]], outline: Outline) -> list[KeepOut]:
    """Where other pieces lie on the same face."""
    return [
        KeepOut(start, end, "on_another", str(index))
        for index, under in others
        if under.face_name == piece.face_name and not under.removed
        for start, end in under.stretches_on_rim(outline)
    ]


def _foam_handle(case: _Case) -> Iterator[PieceWarning]:
    piece = case.piece
    if not piece.fills_cavity:
        return
    if case.circumstances.handle.is_foam:
        yield from case.warning(
            "foam_handle",
            "The handle is foam-filled: there is no cavity to fill.",
            Fix("Put it inside the butt cap", (piece.inside_cap(),)),
            is_refusal=True,
        )
    elif case.circumstances.handle is HandleBuild.UNKNOWN:
        yield from case.warning(
            "handle_unknown", "It is unknown whether this handle is hollow. Look before you roll the putty."
        )


def _too_dense(case: _Case) -> Iterator[PieceWarning]:
    piece = case.piece
    if not (piece.is_strip and piece.extent_cm):
        return
    length_cm = piece.extent_cm * piece.count
    g_per_cm = piece.total_mass_g / length_cm
    if g_per_cm > MOST_G_PER_CM:
        yield from case.warning(
            "too_dense",
            f"{piece.total_mass_g:.4g} g on {length_cm:.3g} cm is {g_per_cm:.3g} g/cm: no tape is so heavy. "
            "Check weight, length and their units.",
        )


def is_too_wide(placed: PieceOfMaterial, outline: Outline) -> bool:
    """Whether a tape is wider than the face it lies on; edge tape is meant to reach round the edge."""
    face, width = placed.piece.face_name, placed.width_mm
    if not face or isinstance(width, NotMeasured) or placed.kind is MaterialKind.EDGE_TAPE:
        return False
    return width > _room_mm(face, outline)


def _room_mm(face: str, outline: Outline) -> float:
    """How wide a tape may be on a face, mm."""
    dimensions = outline.dimensions
    if isinstance(dimensions, PaddleDimensions):
        return dimensions.thickness_mm
    return CHANNEL_MM if face == Face.BUMPER else dimensions.beam_mm


def _too_wide(case: _Case) -> Iterator[PieceWarning]:
    if is_too_wide(case.placed, case.outline):
        room = _room_mm(case.piece.face_name, case.outline)
        yield from case.warning(
            "too_wide",
            f"This tape is {case.placed.width_mm:.3g} mm wide, its place about {room:.3g} mm: take a narrower one, or "
            "slit it and place the halves on each other.",
        )


def _stiff_bend(case: _Case) -> Iterator[PieceWarning]:
    strip, facts = case.strip, case.placed.facts
    if strip is None or strip.face is Face.BUMPER:
        return
    if not facts or facts.hardness is not Hardness.STIFF:
        return
    length, line = strip.length_cm.value, case.outline.rim(strip.face)
    radius = _tightest_bend_cm(line, *strip.stretch(line))
    if radius >= TIGHT_BEND_CM or length <= STIFF_PART_CM:
        return
    parts = strip.divided(case.outline, math.ceil(length / STIFF_PART_CM - 1e-9))
    yield from case.warning(
        "stiff_bend",
        "This tape is stiff and the edge bends tightly here: a long strip lifts.",
        Fix("Cut it in short strips", tuple(parts)),
    )


def _tightest_bend_cm(line: RimLine, start: float, end: float) -> float:
    """The smallest radius of curvature of a line between two arc lengths, about; infinite where straight."""
    points = line.polyline(start, end, spacing=BEND_SPACING_CM)
    headings = [math.atan2(b.x - a.x, b.y - a.y) for a, b in pairwise(points)]
    turns = [abs(math.remainder(b - a, math.tau)) for a, b in pairwise(headings)]
    sharpest = max(turns, default=0.0)
    return (end - start) / (len(points) - 1) / sharpest if sharpest > 1e-9 else math.inf


def _bumper(case: _Case) -> Iterator[PieceWarning]:
    piece, outline = case.strip, case.outline
    if piece is None or piece.face is not Face.BUMPER:
        return
    inner = Fix("Move it to the inner face", (replace(piece, face=Face.INNER),))
    if case.circumstances.is_used:
        yield from case.warning(
            "worn_bumper",
            "A used frame: its bumper has set and may crack when lifted. Hide weight under it on a new "
            "or stripped frame.",
            inner,
        )
    if case.placed.facts and case.placed.facts.hardness is Hardness.STIFF:
        yield from case.warning(
            "stiff_in_channel",
            "This tape is stiff: it hardly bends into the channel and may lift the bumper.",
            inner,
        )
    line = outline.rim(Face.BUMPER)
    reach = bumper_reach_s(case.circumstances, outline)
    start, end = piece.stretch(line)
    if max(abs(start), abs(end)) > reach + 0.05:
        moved = piece.placed_at(outline, max(reach - (end - start) / 2, 0.0))
        fixes = [Fix("Move it up under the bumper", (moved,))] if end - start <= reach else []
        yield from case.warning(
            "beyond_bumper",
            f"Bumper and grommet strip reach down to {line.point(reach).y:.1f} cm from the butt; this "
            "strip reaches further and would show.",
            *fixes,
            inner,
        )


def _on_handle(case: _Case) -> Iterator[PieceWarning]:
    piece, facts = case.piece, case.placed.facts
    if not facts or not case.on_handle():
        return
    if facts.is_lead:
        yield from case.warning(
            "lead_at_hand",
            "Lead under a grip: sweat comes through to the hand. Take tungsten or putty there, or seal "
            "it well and keep the grip on.",
        )
    top = case.outline.handle_length_cm
    is_under_grip = piece.goes_round_handle and not facts.at_skin
    if is_under_grip and piece.ends(case.outline)[0] < top - GRIP_TOP_CM:
        length = piece.extent_cm
        at_top = piece.at_height(case.outline, top - length / 2)
        fixes = [Fix("Move it to the top of the handle", (at_top,))] if length <= GRIP_TOP_CM else []
        yield from case.warning(
            "grip_grows", "Under the grip, where the hand holds, it makes the grip thicker.", *fixes
        )


def _trial_only(case: _Case) -> Iterator[PieceWarning]:
    if case.placed.facts and case.placed.facts.undo is Undo.TRIAL:
        yield from case.warning(
            "trial_only", "For trials only: it slides and catches the air. Use tape once it is right."
        )


def _bare_edge(case: _Case) -> Iterator[PieceWarning]:
    piece = case.strip
    if case.outline.sport is Sport.TENNIS or piece is None:
        return
    if piece.face is Face.OUTER and case.placed.kind is not MaterialKind.EDGE_TAPE:
        if is_covered(piece, case.all, case.outline) or case.circumstances.has_edge_tape:
            return
        yield from case.warning("bare_edge", "The edge takes knocks: put protective edge tape over it.")


def is_covered(piece: Piece, placed: Iterable[PieceOfMaterial], outline: Outline) -> bool:
    """Whether protective edge tape of the plan is over every strip of a piece."""
    mine = piece.stretches_on_rim(outline)
    tapes = [each.piece for each in placed if each.kind is MaterialKind.EDGE_TAPE]
    return bool(mine) and any(
        all(any(low <= start and end <= high for low, high in over) for start, end in mine)
        for over in (tape.stretches_on_rim(outline) for tape in tapes)
    )


def _crossings(case: _Case) -> Iterator[PieceWarning]:
    piece, outline = case.strip, case.outline
    if piece is None:
        return
    strip = _on_its_line(piece, keep_outs(case.circumstances, outline, piece.face), outline)
    if effect_of(piece, outline).overlaps:
        apart = replace(piece, at=ClockPlace(0.0), gap_cm=0.0)
        near_tip = strip.stretch.start < 0
        fix = apart if near_tip else replace(piece, at=ClockPlace(360.0), gap_cm=0.0)
        yield from case.warning(
            "crosses_itself", piece.overlap_sentence(), Fix("Start both at the centre line", (fix,))
        )
        return
    for code in ("blocked", "post"):
        crossed = [out for out in strip.crossed() if out.code == code]
        if crossed:
            names = ", ".join(dict.fromkeys(out.name for out in crossed))
            sentence = (
                f"It covers {names}, where nothing can go."
                if code == "blocked"
                else f"It is where {names} hold the frame; the next restring would tear it off."
                if "retainers" in names
                else f"It is where {names} holds the frame; the next restring would tear it off."
            )
            yield PieceWarning(code, case.position, code == "blocked", sentence, tuple(_fixes(strip)))


def _fixes(strip: _Strip) -> Iterator[Fix]:
    parted = strip.parted()
    if parted:
        yield Fix("Leave it clear" if len(parted) == 1 else "Cut it there", parted)
    moved = strip.moved()
    if moved:
        yield Fix("Move it clear", (moved,))


def _on_another(case: _Case) -> Iterator[PieceWarning]:
    piece = case.strip
    if piece is None or case.placed.kind is MaterialKind.EDGE_TAPE:
        return
    below = (
        (index, other.piece)
        for index, other in enumerate(case.all[: case.position])
        if other.kind is not MaterialKind.EDGE_TAPE
    )
    strip = _on_its_line(piece, _covered(piece, below, case.outline), case.outline)
    crossed = strip.crossed()
    if crossed:
        moved = strip.moved()
        yield from case.warning(
            "on_another",
            "It overlaps another strip and counts as a second layer.",
            *([Fix("Move it beside", (moved,))] if moved else []),
        )


def _off_handle(case: _Case) -> Iterator[PieceWarning]:
    """A cap laid elsewhere than at the butt."""
    piece = case.piece
    is_compact = not piece.extent_cm and piece.has_place
    if case.placed.kind is not MaterialKind.BUTT_CAP or not is_compact:
        return
    if piece.ends(case.outline)[0] > CAP_DEPTH_CM:
        at_butt = piece.dragged(case.outline, 0.0, IN_CAP_CM).alone()
        yield from case.warning(
            "cap_off_butt", "A butt cap sits at the butt.", Fix("Put it there", (at_butt,)), is_refusal=True
        )


RULES: Final[tuple[_Rule, ...]] = (
    _foam_handle,
    _too_dense,
    _too_wide,
    _stiff_bend,
    _bumper,
    _on_handle,
    _trial_only,
    _bare_edge,
    _crossings,
    _on_another,
    _off_handle,
)
