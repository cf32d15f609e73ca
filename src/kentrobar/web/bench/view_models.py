"""A work at the bench, as its page shows it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Final

from django.core import signing

from kentrobar.core.bench.cautions import hazards_of, short_cautions
from kentrobar.core.body.specs import POINTS, READ_BY_KEY, ReadSpec, Specs
from kentrobar.core.body.sport import Sport
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.frame.clock import clock_text
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.rounds.trimming import Advice, Trim
from kentrobar.core.weight.pieces import Piece
from kentrobar.core.weight.pieces.strip import LENGTH_STEP_CM
from kentrobar.web.bench.models import BenchEvent
from kentrobar.web.bench.rounds import Action, Round, WorkState, stored_trim
from kentrobar.web.kit.numbers import ShownSpec, Units, chance_text, read_specs
from kentrobar.web.kit.spec_rows import (
    NO_TEXT,
    SpecCell,
    SpecRow,
    SpecText,
    TargetText,
    gap_text,
    row_of,
    text_of,
)
from kentrobar.web.shops.models import User
from kentrobar.web.showing.drawing import CloseUp, close_up
from kentrobar.web.showing.pieces import is_of_fitting, piece_text, positions

TRIMS: Final = "trims at the bench"


@dataclass(frozen=True, slots=True)
class LayView:
    """The piece whose turn it is, and the specs to expect once it is on."""

    number: int
    what: str
    positions: list[tuple[str, str]]
    close_up: CloseUp | None
    is_removed: bool
    done: int
    count: int
    cautions: list[tuple[str, str]]
    expected: list[SpecRow]


@dataclass(frozen=True, slots=True)
class NextView:
    """Next up: trims with what to expect of them, or the spec (``noun``) to read.

    ``told`` is the trims as the page sends them back, signed.
    """

    advice: str
    chance: str
    trims: list[str]
    signed: str
    expected: list[SpecRow]
    noun: str


@dataclass(frozen=True, slots=True)
class RoundView:
    """A reading beside what was expected, spec by spec."""

    event: BenchEvent
    number: int
    by: User | None
    questioned: str
    rows: list[SpecRow]


@dataclass(frozen=True, slots=True)
class BenchView:
    """A work at the bench: what to do now, where the frame stands, what is on it, what was read."""

    action: str
    questioned: str
    is_repeated: bool
    base: int
    now: list[SpecRow]
    chance: str
    applied_pieces: list[tuple[int, str]]
    removed_pieces: list[str]
    is_permanent: bool
    is_read_for_good: bool
    is_read_now: bool
    can_be_permanent: bool
    rounds: list[RoundView]
    axis: str
    lay: LayView | None
    next: NextView | None


def bench_view(state: WorkState, shelf: Shelf, units: Units, offset_cm: Estimate | None = None) -> BenchView:
    """A work as its page shows it.

    ``offset_cm`` is by how much the piece whose turn it is is expected to lie off.
    """
    work, frame, action = state.work, state.work.plan.frame, state.action
    is_next = action is Action.NEXT
    return BenchView(
        action=action.value,
        questioned=_nouns(state.rounds[-1].questioned) if state.is_questioned else "",
        is_repeated=state.is_repeated,
        base=len(work.events.all()),
        now=list(_now(state, units)),
        chance=chance_text(state.chance),
        applied_pieces=[
            (number, piece_text(piece, frame, units)) for number, piece in state.applied_pieces()
        ],
        removed_pieces=[piece_text(piece, frame, units) for _, piece in state.removed_pieces()],
        is_permanent=state.is_permanent,
        is_read_for_good=state.is_read_for_good,
        is_read_now=not work.ended_at and action in (Action.READ, Action.QUESTION),
        can_be_permanent=is_next and state.needs_securing,
        rounds=[_round(state, each, units) for each in reversed(state.rounds)],
        axis=units.axis_text(work.target.axis_cm),
        lay=_to_apply(state, shelf, units, offset_cm) if action is Action.LAY else None,
        next=_next(state, units) if is_next else None,
    )


def _to_apply(state: WorkState, shelf: Shelf, units: Units, offset_cm: Estimate | None) -> LayView:
    number = state.to_apply[0]
    piece, outline = state.planned(number).piece, state.plan.outline
    return LayView(
        number=number,
        what=what_text(state, piece, units),
        positions=[] if is_of_fitting(piece) else positions(piece, outline, units),
        close_up=_close_up(state, piece),
        is_removed=piece.removed,
        done=len(state.plan.placed) - len(state.to_apply),
        count=len(state.plan.placed),
        cautions=short_cautions(hazards_of(state.plan.only([number]), shelf)),
        expected=list(_values(state.expected_with(number, offset_cm), units)),
    )


def what_text(state: WorkState, piece: Piece, units: Units) -> str:
    """What is to be applied: strips with their length, putty with its weight; or what becomes of a fitting."""
    if is_of_fitting(piece):
        return piece_text(piece, state.work.plan.frame, units)
    name = piece.material or piece.label
    weight = f"{units.piece_mass_text(piece.total_mass_g)} {units.mass}"
    if not piece.is_strip:
        return f"{name}, {weight}{', half on either side' if piece.sides > 1 else ''}"
    return f"{piece.count} × {units.bench_lengths.text(piece.extent_cm)} {name}, {weight}"


def _close_up(state: WorkState, piece: Piece) -> CloseUp | None:
    """The drawing round a piece; none where the outline was changed since."""
    others = [each for _, each in state.applied_pieces()]
    circumstances = state.plan.baseline.circumstances
    try:
        return close_up(piece, state.plan.outline, circumstances, others, "Where the piece goes")
    except KentrobarError:
        return None


def _now(state: WorkState, units: Units) -> Iterator[SpecRow]:
    """Each spec as it is now beside its target, within its tolerance or not."""
    length_cm, missed = state.plan.outline.length_cm, state.target.miss(state.now)
    for spec in read_specs(units):
        key, target = spec.read_key, None
        if key in missed:
            target = TargetText(
                spec.of_length(state.target.centres[key], length_cm),
                spec.width(state.target.reach[key]),
                not missed[key],
            )
        yield row_of(spec, SpecCell(text_of(spec, getattr(state.now, spec.key))), target=target)


def _values(specs: Specs, units: Units) -> Iterator[SpecRow]:
    for spec in read_specs(units):
        quantity = getattr(specs, spec.key)
        if quantity:
            yield row_of(spec, SpecCell(text_of(spec, quantity)))


def _round(state: WorkState, each: Round, units: Units) -> RoundView:
    length_cm = state.plan.outline.length_cm
    rows = []
    for spec in read_specs(units):
        key, found = spec.read_key, each.gap(spec.read_key)
        if read := getattr(each.read, key):
            now = plain_text(spec, read, length_cm)
            before = plain_text(spec, getattr(each.expected, key), length_cm) if found else NO_TEXT
            cell = SpecCell(now, before, gap=gap_text(spec, found) if found else None)
            rows.append(row_of(spec, cell, has_sides=True))
    number = state.rounds.index(each) + 1
    return RoundView(each.event, number, each.event.made_by, _nouns(each.questioned), rows)


def _nouns(specs: Sequence[ReadSpec]) -> str:
    return " and ".join(spec.noun for spec in specs)


def plain_text(spec: ShownSpec, quantity: Estimate, length_cm: float) -> SpecText:
    """What was read of a spec; a balance in points is told with its side, and has no unit beside."""
    if spec.key == POINTS.key:
        return SpecText(spec.of_length(quantity.value, length_cm))
    return text_of(spec, quantity)


def _next(state: WorkState, units: Units) -> NextView:
    """Next up, with numbers."""
    step = state.next
    trims = step.trims if step.advice is Advice.TRIM and step.expect is not None else ()
    shown = [(int(trim.key), stored_trim(trim)) for trim in trims]
    return NextView(
        advice=step.advice.value,
        chance=chance_text(step.chance),
        trims=[trim_text(state, trim, units) for trim in trims],
        signed=signing.dumps(shown, salt=TRIMS) if trims else "",
        expected=list(_values(step.expect.after, units)) if trims and step.expect else [],
        noun=READ_BY_KEY[step.spec].noun if step.spec else "",
    )


def trim_text(state: WorkState, trim: Trim, units: Units) -> str:
    """What is to be cut, in words: "take 6 mm off each strip at 12"."""
    applied = state.belief.on[trim.key].piece
    at = applied.place(state.plan.outline, units.bench_lengths)
    if trim.piece is None:
        return f"Remove what is at {at}"
    more, count = _more(applied, trim.piece, units)
    if not applied.is_strip:
        sides = " on either side" if applied.sides > 1 else ""
        what = applied.material or "the weight"
        if trim.piece.one_mass_g > applied.one_mass_g:
            return f"Add {more}{sides} to {what} at {at}"
        return f"Take {more}{sides} off {what} at {at}"
    whose = "each strip" if count > 1 else "the strip"
    if trim.piece.extent_cm < applied.extent_cm:
        return f"Take {more} off {whose} at {at}"
    return f"Add {more} beside {whose} at {at}{_end_text(state, applied, trim.piece, units)}"


def _end_text(state: WorkState, applied: Piece, longer: Piece, units: Units) -> str:
    """At which end a strip of the rim is made longer."""
    outline, was, grown = state.plan.outline, applied.as_strip, longer.as_strip
    if was is None or grown is None:
        return ""
    line = outline.rim(was.face)
    (start, end), (new_start, new_end) = was.stretch(line), grown.stretch(line)
    hair = LENGTH_STEP_CM / 2
    if new_start < start - hair and new_end > end + hair:
        return ", half at each end"
    point = new_start if new_start < start - hair else new_end
    if outline.sport is Sport.TENNIS:
        return f", at its end toward {clock_text(line.clock_at(point))}"
    return f", at its end {units.bench_lengths.text(line.point(point).y)} from the butt"


def _more(applied: Piece, cut: Piece, units: Units) -> tuple[str, int]:
    """By how much a piece changes, and how many strips it is."""
    if applied.is_strip:
        return units.bench_lengths.text(abs(cut.extent_cm - applied.extent_cm)), applied.count
    grams = abs(cut.one_mass_g - applied.one_mass_g)
    return f"{units.piece_mass_text(grams)} {units.mass}", applied.count
