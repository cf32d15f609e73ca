"""What speaks against a piece at its place, why, and how it is mended in one step.

A rule refuses or advises against; either way a person who knows better can set it aside.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise
from typing import Final, NamedTuple

from kentrobar.core.circumstances import (
    CAP_DEPTH_CM,
    Circumstances,
    HandleBuild,
    KeepOut,
    both_sides,
    bumper_reach_s,
    free_stretches,
    keep_outs,
)
from kentrobar.core.materials import KINDS, Hardness, KindFacts, MaterialKind, Undo
from kentrobar.core.outline import Face, Outline, RimLine, Sport
from kentrobar.core.pieces import (
    ClockPlace,
    Piece,
    Plug,
    PointPiece,
    RimStrip,
    Sleeve,
    Stretch,
    effect_of,
)
from kentrobar.core.placing import SHORTEST_STRIP_CM, cut_to, divided, laid_at
from kentrobar.core.plans import overlap_sentence

GRIP_TOP_CM: Final = 7.0  # of the handle: there the hand hardly lies
SEARCH_CM: Final = 25.0  # how far along the rim a clear place is looked for
TOUCH_CM: Final = 0.02  # an overlap that a hand cannot see
TIGHT_BEND_CM: Final = 6.0  # radius below which stiff tape springs back
BEND_SPACING_CM: Final = 0.4
STIFF_PART_CM: Final = 2.0  # so short, stiff tape holds round such a bend
_STEP_CM: Final = 0.1


class Laid(NamedTuple):
    """A piece with the kind of material it was cut from, where that is known.

    ``own`` is what a shop says of its material where that differs from the kind.
    """

    piece: Piece
    kind: MaterialKind | None = None
    own: KindFacts | None = None

    @property
    def facts(self) -> KindFacts | None:
        """What holds of its material; None where it is not known."""
        return self.own or (KINDS[self.kind] if self.kind else None)


class Mend(NamedTuple):
    """One way out: what it does, and the pieces that take the place of the one objected to."""

    label: str
    pieces: tuple[Piece, ...]


class Objection(NamedTuple):
    """One rule that speaks against the piece at ``position`` of a plan."""

    code: str
    position: int
    is_refusal: bool
    message: str
    mends: tuple[Mend, ...] = ()


@dataclass(frozen=True)
class _Strip:
    """A strip on its line with what it should keep clear of."""

    piece: RimStrip
    line: RimLine
    outs: list[KeepOut]
    outline: Outline
    stretch: Stretch = field(init=False)

    def __post_init__(self) -> None:
        start, end = self.piece.stretch(self.line)
        if self.piece.mirrored and end <= 0:  # a pair named by its left strip is told by its right
            start, end = -end, -start
        object.__setattr__(self, "stretch", Stretch(start, end))

    @property
    def turn(self) -> float:
        return self.line.length if self.line.closed else 0.0

    def crossed(self) -> list[KeepOut]:
        """Those keep-outs that the strip or its mirror image crosses."""
        return [out for out in self.outs if not self._is_clear([out], *self.stretch)]

    def _is_clear(self, outs: list[KeepOut], start: float, end: float) -> bool:
        free = free_stretches(start, end, outs, self.turn)
        return sum(e - s for s, e in free) >= end - start - TOUCH_CM

    def moved(self) -> RimStrip | None:
        """The strip at the nearest clear place, or None where there is none near."""
        start, end = self.stretch
        length = end - start
        low, high = (0.0, self.line.half_length) if self.piece.mirrored else (-1e9, 1e9)
        if not self.line.closed:
            low, high = max(low, -self.line.half_length), self.line.half_length
        for i in range(1, int(SEARCH_CM / _STEP_CM)):
            for way in (1, -1):
                first = start + way * i * _STEP_CM
                if (
                    low <= first
                    and first + length <= high
                    and self._is_clear(self.outs, first, first + length)
                ):
                    return cut_to(self.piece, self.outline, first, first + length)
        return None

    def parted(self) -> tuple[RimStrip, ...]:
        """The strip cut where it should stay clear; what is cut off goes on at its lower end."""
        start, end = self.stretch
        if not self.piece.mirrored and abs(start + end) < 1e-6:
            pair = replace(self, piece=self._pair(), outs=both_sides(self.outs))
            return pair.parted() if pair.crossed() else (pair.piece,)
        parts = free_stretches(start, end, self.outs, self.turn)
        lost = (end - start) - sum(e - s for s, e in parts)
        if parts and lost > 0:
            last = parts[-1]
            longer = Stretch(last.start, last.end + lost)
            is_free = self.line.closed and not self.piece.mirrored
            fits = is_free or longer.end <= self.line.half_length
            if fits and self._is_clear(self.outs, *longer):
                parts[-1] = longer
        return tuple(
            cut_to(self.piece, self.outline, *part)
            for part in parts
            if part.end - part.start >= SHORTEST_STRIP_CM
        )

    def _pair(self) -> RimStrip:
        """A strip laid across the tip as two halves, one on either side."""
        pair = replace(self.piece, mirrored=True)
        return cut_to(pair, self.outline, 0.0, self.piece.length_cm.value / 2)


# -- the rules ----------------------------------------------------------------------------


class _Case(NamedTuple):
    """One piece in its circumstances."""

    position: int
    laid: Laid
    all: Sequence[Laid]
    outline: Outline
    circumstances: Circumstances

    @property
    def piece(self) -> Piece:
        return self.laid.piece

    def on_handle(self) -> bool:
        moments = effect_of(self.piece, self.outline).moments
        return moments.first_y / moments.mass <= self.outline.handle_length_cm

    def objection(
        self, code: str, message: str, *mends: Mend, is_refusal: bool = False
    ) -> Iterator[Objection]:
        yield Objection(code, self.position, is_refusal, message, mends)


_Rule = Callable[[_Case], Iterator[Objection]]


def objections(
    laid: Sequence[Laid], outline: Outline, circumstances: Circumstances
) -> list[Objection]:
    """All that speaks against the pieces of a plan; what is taken away is asked nothing."""
    found: list[Objection] = []
    for index, each in enumerate(laid):
        if not each.piece.removed:
            case = _Case(index, each, laid, outline, circumstances)
            found += [objection for rule in RULES for objection in rule(case)]
    return found


def _foam_handle(case: _Case) -> Iterator[Objection]:
    piece = case.piece
    if not isinstance(piece, Plug) or piece.to_cm <= CAP_DEPTH_CM:
        return
    if case.circumstances.handle is HandleBuild.FOAM:
        in_cap = replace(piece, from_cm=0.3, to_cm=CAP_DEPTH_CM - 0.2, radius_cm=1.3)
        yield from case.objection(
            "foam_handle", "The handle is foam-filled: there is no cavity to fill.",
            Mend("Put it inside the butt cap", (in_cap,)), is_refusal=True,
        )  # fmt: skip
    elif case.circumstances.handle is HandleBuild.UNKNOWN:
        yield from case.objection(
            "handle_unknown",
            "Nobody has looked yet whether this handle is hollow; look before you roll the putty.",
        )


def _stiff_bend(case: _Case) -> Iterator[Objection]:
    piece, facts = case.piece, case.laid.facts
    if not isinstance(piece, RimStrip) or piece.face is Face.BUMPER:
        return
    if not facts or facts.hardness is not Hardness.STIFF:
        return
    length, line = piece.length_cm.value, case.outline.rim(piece.face)
    radius = _tightest_bend_cm(line, *piece.stretch(line))
    if radius >= TIGHT_BEND_CM or length <= STIFF_PART_CM:
        return
    parts = divided(piece, case.outline, math.ceil(length / STIFF_PART_CM - 1e-9))
    yield from case.objection(
        "stiff_bend",
        f"This tape is stiff and the edge bends tightly here (radius {radius:.0f} cm): a long strip lifts.",
        Mend("Cut it in short strips", tuple(parts)),
    )


def _tightest_bend_cm(line: RimLine, start: float, end: float) -> float:
    """The smallest radius of curvature of a line between two arc lengths, about; infinite where straight."""
    points = line.polyline(start, end, spacing=BEND_SPACING_CM)
    headings = [math.atan2(b.x - a.x, b.y - a.y) for a, b in pairwise(points)]
    turns = [abs(math.remainder(b - a, math.tau)) for a, b in pairwise(headings)]
    sharpest = max(turns, default=0.0)
    return (end - start) / (len(points) - 1) / sharpest if sharpest > 1e-9 else math.inf


def _bumper(case: _Case) -> Iterator[Objection]:
    piece, outline = case.piece, case.outline
    if not isinstance(piece, RimStrip) or piece.face is not Face.BUMPER:
        return
    inner = Mend("Lay it on the inner face", (replace(piece, face=Face.INNER),))
    if case.circumstances.is_used:
        yield from case.objection(
            "worn_bumper",
            "A used frame: its bumper has set and may crack when lifted. Hide weight under it on a new "
            "or stripped frame.", inner,
        )  # fmt: skip
    if case.laid.facts and case.laid.facts.hardness is Hardness.STIFF:
        yield from case.objection(
            "stiff_in_channel", "This tape is stiff: it hardly bends into the channel and may lift "
            "the bumper.", inner,
        )  # fmt: skip
    line = outline.rim(Face.BUMPER)
    reach = bumper_reach_s(case.circumstances, outline)
    start, end = piece.stretch(line)
    if max(abs(start), abs(end)) > reach + 0.05:
        moved = laid_at(piece, outline, max(reach - (end - start) / 2, 0.0))
        mends = [Mend("Move it up under the bumper", (moved,))] if end - start <= reach else []
        yield from case.objection(
            "beyond_bumper",
            f"Bumper and grommet strip reach down to {line.point(reach).y:.1f} cm from the butt; this "
            "strip reaches farther and would show.", *mends, inner,
        )  # fmt: skip


def _on_handle(case: _Case) -> Iterator[Objection]:
    piece, facts = case.piece, case.laid.facts
    if not facts or not case.on_handle():
        return
    if facts.is_lead:
        yield from case.objection(
            "lead_at_hand",
            "Lead under a grip: sweat comes through to the hand. Take tungsten or putty there, or seal "
            "it well and keep the grip on.",
        )
    top = case.outline.handle_length_cm
    is_under_grip = isinstance(piece, Sleeve) and not facts.at_skin
    if is_under_grip and isinstance(piece, Sleeve) and piece.from_cm < top - GRIP_TOP_CM:
        length = piece.to_cm - piece.from_cm
        at_top = replace(piece, from_cm=round(top - length, 2), to_cm=top)
        mends = (
            [Mend("Move it to the top of the handle", (at_top,))] if length <= GRIP_TOP_CM else []
        )
        yield from case.objection(
            "grip_grows", "Under the grip, where the hand lies, it makes the grip thicker.", *mends
        )


def _trial_only(case: _Case) -> Iterator[Objection]:
    if case.laid.facts and case.laid.facts.undo is Undo.TRIAL:
        yield from case.objection(
            "trial_only",
            "For trials only: it slides and catches the air. Lay tape once it is right.",
        )


def _bare_edge(case: _Case) -> Iterator[Objection]:
    piece = case.piece
    if case.outline.sport is Sport.TENNIS or not isinstance(piece, RimStrip):
        return
    if piece.face is Face.OUTER and case.laid.kind is not MaterialKind.EDGE_TAPE:
        if is_covered(piece, case.all, case.outline) or case.circumstances.wears_edge_tape:
            return
        yield from case.objection(
            "bare_edge", "The edge takes knocks: lay protective edge tape over it."
        )


def is_covered(piece: RimStrip, laid: Iterable[Laid], outline: Outline) -> bool:
    """Whether protective edge tape of the plan lies over the whole strip."""
    line = outline.rim(piece.face)
    start, end = piece.stretch(line)
    for other in laid:
        over = other.piece
        if other.kind is MaterialKind.EDGE_TAPE and isinstance(over, RimStrip):
            low, high = over.stretch(outline.rim(over.face))
            if low <= start and end <= high and (over.mirrored or not piece.mirrored):
                return True
    return False


def _crossings(case: _Case) -> Iterator[Objection]:
    piece, outline = case.piece, case.outline
    if not isinstance(piece, RimStrip):
        return
    line = outline.rim(piece.face)
    outs = keep_outs(case.circumstances, outline, piece.face)
    strip = _Strip(piece, line, both_sides(outs) if piece.mirrored else outs, outline)
    if effect_of(piece, outline).overlaps:
        apart = replace(piece, at=ClockPlace(0.0), gap_cm=0.0)
        near_tip = strip.stretch.start < 0
        mend = apart if near_tip else replace(piece, at=ClockPlace(360.0), gap_cm=0.0)
        yield from case.objection(
            "crosses_itself",
            overlap_sentence(piece),
            Mend("Let both start at the centre line", (mend,)),
        )
        return
    for code in ("blocked", "post"):
        crossed = [out for out in strip.crossed() if out.code == code]
        if crossed:
            names = ", ".join(dict.fromkeys(out.name for out in crossed))
            sentence = (
                f"It covers {names}, where nothing can lie."
                if code == "blocked"
                else f"It lies where {names} hold the frame; the next restring would tear it off."
                if "retainers" in names
                else f"It lies where {names} holds the frame; the next restring would tear it off."
            )
            yield Objection(
                code, case.position, code == "blocked", sentence, tuple(_ways_out(strip))
            )


def _ways_out(strip: _Strip) -> Iterator[Mend]:
    parted = strip.parted()
    if parted:
        yield Mend("Leave it clear" if len(parted) == 1 else "Cut it there", parted)
    moved = strip.moved()
    if moved:
        yield Mend("Move it clear", (moved,))


def _on_another(case: _Case) -> Iterator[Objection]:
    piece = case.piece
    if not isinstance(piece, RimStrip) or case.laid.kind is MaterialKind.EDGE_TAPE:
        return
    line = case.outline.rim(piece.face)
    outs = []
    for index, other in enumerate(case.all[: case.position]):
        under = other.piece
        if not isinstance(under, RimStrip) or under.face is not piece.face or under.removed:
            continue
        if other.kind is MaterialKind.EDGE_TAPE:
            continue
        start, end = under.stretch(line)
        sides = [(start, end), (-end, -start)] if under.mirrored else [(start, end)]
        outs += [KeepOut(s, e, "on_another", str(index)) for s, e in sides]
    strip = _Strip(piece, line, both_sides(outs) if piece.mirrored else outs, case.outline)
    crossed = strip.crossed()
    if crossed:
        moved = strip.moved()
        yield from case.objection(
            "on_another", "It lies on another strip and counts as a second layer there.",
            *([Mend("Move it beside", (moved,))] if moved else []),
        )  # fmt: skip


def _off_handle(case: _Case) -> Iterator[Objection]:
    """A compact thing that belongs on the strings, or a cap, laid elsewhere."""
    piece, kind = case.piece, case.laid.kind
    if (
        kind is MaterialKind.BUTT_CAP
        and isinstance(piece, PointPiece)
        and piece.y_cm > CAP_DEPTH_CM
    ):
        at_butt = replace(piece, y_cm=1.2, x_cm=0.0, mirrored=False)
        yield from case.objection(
            "cap_off_butt", "A butt cap sits at the butt.", Mend("Put it there", (at_butt,)),
            is_refusal=True,
        )  # fmt: skip


RULES: Final[tuple[_Rule, ...]] = (
    _foam_handle, _stiff_bend, _bumper, _on_handle, _trial_only, _bare_edge, _crossings, _on_another,
    _off_handle,
)  # fmt: skip
