"""What a plan may be made of: slots and choices as columns of a programme, and back as pieces.

Each column is one unit of something that can be laid, with the moments it adds: a step of putty, a cell
of a stretch of rim, a grip in place of another. A strip is a run of neighbouring cells.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, Final, NamedTuple

import numpy as np

from kentrobar.core.body.moments import Moments
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.places import ClockPlace, RimPlace
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.weight.pieces import CUT_LENGTH_U_CM, WEIGHED_U_G, Piece, PointPiece, RimStrip, effect_of
from kentrobar.core.weight.pieces.piece import NO_SOURCE, Source

MOST_CELLS: Final = 400


@dataclass(frozen=True, kw_only=True)
class PointSlot:
    """Where one body may lie, in steps of ``step_g`` (0: any weight) up to ``max_g`` each.

    ``like`` is a body whose shape it has, whatever its weight; without, it is a compact piece.
    """

    label: str
    y_cm: float
    x_cm: float = 0.0
    mirrored: bool = False
    step_g: float = 0.1
    max_g: float = 15.0
    least_g: float = 0.0  # a piece smaller than this is not worth laying
    material: str = ""
    source: Source = NO_SOURCE
    like: Piece | None = None


@dataclass(frozen=True, kw_only=True)
class RimSlot:
    """A stretch of rim where one strip may lie, cut in steps of ``step_cm``; clockwise from start.

    With ``grows_from`` (0 its start, 0.5 its middle) the strip always lies about that place and only its
    length is chosen, so that strips of several frames look alike.
    """

    label: str
    start: RimPlace
    end: RimPlace
    g_per_cm: Estimate
    mirrored: bool = False
    face: Face = Face.INNER
    step_cm: float = 0.5
    least_cm: float = 0.0
    layers: int = 1
    grows_from: float | None = None
    material: str = ""
    source: Source = NO_SOURCE


class Choice(NamedTuple):
    """What is done wholly or not at all: a heavier cap, one grip for another, a fitting taken off.

    Choices that change the same ``fitting``, by its key, exclude each other; 0 changes none.
    """

    label: str
    pieces: tuple[Piece, ...]
    fitting: int = 0


Slot = PointSlot | RimSlot | Choice


class Column(NamedTuple):
    """One variable: the moments that one unit of it adds, its largest value, whether whole."""

    moments: Moments
    most: float
    whole: bool


class Span(NamedTuple):
    """The columns of one slot, from ``first`` to before ``last``, and the least of them in use.

    Of one that ``grows`` each column needs the one before it.
    """

    first: int
    last: int
    least: float
    grows: bool = False


@dataclass
class Candidates:
    """All that may be laid: the columns of all slots, and which of them make up which slot."""

    slots: Sequence[Slot]
    outline: Outline | None
    columns: list[Column] = field(default_factory=list)
    spans: list[Span] = field(default_factory=list)

    def rivals(self) -> Iterator[list[int]]:
        """Columns of which at most one is taken: those that change one fitting."""
        of_fitting: dict[int, list[int]] = {}
        for slot, span in zip(self.slots, self.spans, strict=True):
            if isinstance(slot, Choice) and slot.fitting:
                of_fitting.setdefault(slot.fitting, []).append(span.first)
        yield from (columns for columns in of_fitting.values() if len(columns) > 1)

    def pieces(self, x: np.ndarray[Any, Any]) -> Iterator[Piece]:
        """A solution as pieces that can be cut and laid."""
        for slot, (first, last, *_) in zip(self.slots, self.spans, strict=True):
            match slot:
                case PointSlot():
                    mass = x[first] * (slot.step_g or 1.0)
                    if slot.step_g:
                        mass = round(x[first]) * slot.step_g
                    if mass > 1e-9:
                        yield _body(slot, mass)
                case RimSlot():
                    taken = [i - first for i in range(first, last) if x[i] > 0.5]
                    if taken:
                        yield _run_of(slot, self.outline, taken[0], len(taken))
                case _ if x[first] > 0.5:
                    yield from slot.pieces


def candidates(slots: Sequence[Slot], outline: Outline | None) -> Candidates:
    """The columns of these slots.

    Raises:
        PieceError, OutlineError: a slot that cannot be on this frame, or steps too fine.
    """
    found = Candidates(slots, outline)
    for slot in slots:
        first = len(found.columns)
        least = 0
        match slot:
            case PointSlot():
                found.columns.append(_body_column(slot))
                least = math.ceil(slot.least_g / (slot.step_g or 1.0) - 1e-9)
            case RimSlot():
                found.columns.extend(_cells(slot, outline))
                least = math.ceil(slot.least_cm / slot.step_cm - 1e-9)
            case _:
                found.columns.append(_choice_column(slot, outline))
        grows = isinstance(slot, RimSlot) and slot.grows_from is not None
        found.spans.append(Span(first, len(found.columns), least, grows))
    if len(found.columns) > MOST_CELLS * 10:
        raise PieceError(
            "The steps are too fine for so many sites; cut in larger steps.",
            code="too_many_cells",
            field="step_cm",
        )
    return found


def _choice_column(choice: Choice, outline: Outline | None) -> Column:
    moments = Moments()
    for piece in choice.pieces:
        moments = moments.plus(effect_of(piece, outline).moments)
    return Column(moments, 1.0, True)


def _body_column(slot: PointSlot) -> Column:
    if not (slot.max_g > 0 and slot.step_g >= 0):
        raise PieceError("A site takes more than 0 g, in steps of 0 or more.", code="no_mass", field="max_g")
    unit = slot.step_g or 1.0
    most = slot.max_g / unit
    # A step that fits ten times must not fit 9.999 times.
    most = math.floor(most + 1e-9) if slot.step_g else most
    return Column(effect_of(_body(slot, unit), None).moments, float(most), bool(slot.step_g))


def _body(slot: PointSlot, mass_g: float) -> Piece:
    mass = Estimate(mass_g, WEIGHED_U_G)
    if slot.like:
        named = replace(slot.like, label=slot.label, material=slot.material, source=slot.source)
        return named.with_field("mass_g", mass)
    return PointPiece(
        label=slot.label,
        material=slot.material,
        source=slot.source,
        mass_g=mass,
        y_cm=slot.y_cm,
        x_cm=slot.x_cm,
        mirrored=slot.mirrored,
    )


def _stretch(slot: RimSlot, outline: Outline | None) -> tuple[float, float]:
    """Arc lengths of a slot's start and end along its line, start first."""
    if outline is None:
        raise PieceError("A site on the rim needs the outline.", code="no_outline", field="outline")
    line = outline.rim(slot.face)
    start, end = slot.start.arc_length(line), slot.end.arc_length(line)
    if end <= start and line.closed:
        end += line.length
    return (start, end) if start < end else (end, start)


def _cells(slot: RimSlot, outline: Outline | None) -> Iterator[Column]:
    start, end = _stretch(slot, outline)
    if not (slot.step_cm > 0 and slot.g_per_cm.value > 0):
        raise PieceError(
            "A strip needs a step and a weight per length above 0.", code="no_step", field="step_cm"
        )
    count = math.floor((end - start) / slot.step_cm + 1e-9)
    if not 1 <= count <= MOST_CELLS:
        raise PieceError(
            f"{slot.label or 'A site'} takes {count} steps; make it 1 to {MOST_CELLS}.",
            code="empty_stretch" if count < 1 else "too_many_cells",
            field="step_cm",
        )
    before = Moments()
    for i in range(count):
        if slot.grows_from is None:
            yield Column(effect_of(_run_of(slot, outline, i, 1), outline).moments, 1.0, True)
        else:  # what one more step adds
            whole = effect_of(_run_of(slot, outline, 0, i + 1), outline).moments
            yield Column(whole.plus(before.times(-1.0)), 1.0, True)
            before = whole


def _run_of(slot: RimSlot, outline: Outline | None, first: int, count: int) -> RimStrip:
    """The strip of so many cells from the one numbered ``first``; of one that grows, about its place."""
    start, end = _stretch(slot, outline)
    length = count * slot.step_cm
    if slot.grows_from is None:
        return _strip(slot, outline, start + first * slot.step_cm, length)
    return _strip(slot, outline, start + slot.grows_from * (end - start - length), length)


def _strip(slot: RimSlot, outline: Outline | None, start: float, length: float) -> RimStrip:
    assert outline is not None  # noqa: S101 - asked by _stretch
    line = outline.rim(slot.face)
    return RimStrip(
        label=slot.label,
        material=slot.material,
        at=ClockPlace(line.clock_at(line.wrap(start + length / 2))),
        length_cm=Estimate(length, CUT_LENGTH_U_CM),
        g_per_cm=slot.g_per_cm,
        source=slot.source,
        face=slot.face,
        mirrored=slot.mirrored,
        layers=slot.layers,
    )
