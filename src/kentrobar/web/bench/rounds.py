"""A work's events gone through in order: what lies, what was read and expected, what comes next."""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import dataclass, field
from enum import StrEnum
from functools import cached_property
from typing import Final

from kentrobar.core.bench.stages import Stage
from kentrobar.core.bench.steps import OrderOfWork, steps_of
from kentrobar.core.body.measured import MeasuredSpecs, u_of
from kentrobar.core.body.specs import READ, READ_BY_KEY, ReadSpec, Specs
from kentrobar.core.body.target import Target
from kentrobar.core.editing.plan import PlanPiece, PlanState
from kentrobar.core.editing.stored import read_pieces, stored_pieces
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.reading.comparing import FeltRule, Gap, gap
from kentrobar.core.rounds.estimation import IMPOSSIBLE, Bias, StateEstimate, estimate_state
from kentrobar.core.rounds.trimming import Advice, Next, Trim, after, next_step
from kentrobar.core.solving.chance import chance_within
from kentrobar.core.weight.pieces import Piece, Source
from kentrobar.web.bench.biases import biases_at_first, biases_of
from kentrobar.web.bench.models import BenchEvent, BenchWork
from kentrobar.web.frames.baselines import baseline_of
from kentrobar.web.kit.records import Json
from kentrobar.web.measuring.models import Instrument
from kentrobar.web.measuring.services import TakenReading, Taking

Kind = BenchEvent.EventKind


class Action(StrEnum):
    """Brief now."""

    LAY = "lay"
    READ = "read"
    QUESTION = "question"  # the last reading cannot be: read again, or believe it
    NEXT = "next"  # the last reading says what comes next


@dataclass(frozen=True)
class Round:
    """A reading beside what was expected, spec by spec; what is ``questioned`` is not counted."""

    event: BenchEvent
    expected: Specs
    read: MeasuredSpecs
    questioned: tuple[ReadSpec, ...]

    def gap(self, key: str) -> Gap | None:
        """How far a spec that was read is from what was expected; None where nothing was."""
        expected, read = getattr(self.expected, key), getattr(self.read, key)
        return gap(key, expected, read, FeltRule()) if expected and read else None


@dataclass
class WorkState:
    """Where a work stands after all of its events."""

    work: BenchWork
    plan: PlanState
    belief: StateEstimate
    to_apply: list[int]
    rounds: list[Round] = field(default_factory=list)
    noise: dict[str, float] = field(default_factory=dict)
    biases: dict[str, Bias] = field(default_factory=dict)
    is_changed: bool = False  # since it was read
    is_permanent: bool = False
    is_questioned: bool = False

    @property
    def target(self) -> Target:
        """What the frame is to become."""
        return self.work.target

    @cached_property
    def now(self) -> Specs:
        """The specs as they are now."""
        return self.belief.now(self.target.axis_cm).after

    @cached_property
    def chance(self) -> float:
        """That all specs lie within now."""
        return chance_within(self.belief.now(self.target.axis_cm), self.target.bands)

    @property
    def is_repeated(self) -> bool:
        """Whether the reading that is questioned agrees with one that was questioned right before it."""
        if not self.is_questioned or len(self.rounds) < 2:
            return False
        earlier, last = self.rounds[-2], self.rounds[-1]
        was_changed = last.event.number != earlier.event.number + 1
        if was_changed or not set(last.questioned) <= set(earlier.questioned):
            return False
        alone = estimate_state(earlier.read, length_cm=self.plan.outline.length_cm)
        return alone.surprise(last.read) >= IMPOSSIBLE

    @property
    def needs_securing(self) -> bool:
        """Whether anything was added that can still come off; what was cut or taken off is off for good."""
        return bool(self.applied_pieces()) and not self.is_permanent

    @property
    def is_read_for_good(self) -> bool:
        """Whether something was done, nothing is left to secure, and it was read since."""
        is_done = bool(self.belief.on) and not self.to_apply and not self.needs_securing
        return is_done and bool(self.rounds) and not self.is_changed and not self.is_questioned

    @property
    def action(self) -> Action:
        if self.is_questioned:
            return Action.QUESTION
        if self.to_apply:
            return Action.LAY
        return Action.READ if self.is_changed or not self.rounds else Action.NEXT

    @property
    def stage(self) -> Stage:
        """Brief next, as a job tells it."""
        match self.action:
            case Action.LAY:
                return Stage.FIT
            case Action.READ | Action.QUESTION:
                return Stage.READ
        if self.next.advice in _STAGES:
            return _STAGES[self.next.advice]
        return Stage.VERIFY if self.is_read_for_good else Stage.PERMANENT

    @cached_property
    def next(self) -> Next:
        """What the last reading says comes next; searched for once, when it was noted."""
        stored = self.work.next_step
        if stored and self.work.events_seen == len(self.work.events.all()):
            return self._read_next(stored)
        target = self.target
        return next_step(
            self.belief,
            target.bands,
            target.axis_cm,
            target.chance,
            self.noise,
            self.biases,
            self.plan.baseline.circumstances,
        )

    def _read_next(self, kept: Json) -> Next:
        trims = tuple(Trim(key, _read_trim(stored)) for key, stored in kept["trims"])
        expect = after(self.belief, trims).now(self.target.axis_cm)
        return Next(Advice(kept["advice"]), self.chance, trims, expect, kept["chance"], kept["spec"])

    def stored_next(self) -> Json:
        """Next up, as it is kept with the work; the inverse of how it is read."""
        if self.action is not Action.NEXT:
            return {}
        step = self.next
        trims = [(trim.key, stored_trim(trim)) for trim in step.trims]
        return {"advice": step.advice, "trims": trims, "chance": step.chance, "spec": step.spec}

    def planned(self, number: int) -> PlanPiece:
        """A piece of the plan by its number."""
        return next(each for each in self.plan.placed if each.number == number)

    def expected_with(self, number: int, offset_cm: Estimate | None = None) -> Specs:
        """What is expected to be read once a piece lies too, off by what was learnt of its place."""
        applied = self.belief.with_applied(str(number), self.planned(number).piece, offset_cm)
        return applied.now(self.target.axis_cm).after

    def applied_pieces(self) -> list[tuple[int, Piece]]:
        """What is on the frame now, by its number in the plan."""
        return [(number, piece) for number, piece in self.done_pieces() if not piece.removed]

    @property
    def next_number(self) -> int:
        """The number of a piece that the plan does not know."""
        known = [each.number for each in self.plan.placed] + [e.piece or 0 for e in self.work.events.all()]
        return max(known, default=0) + 1

    def removed_pieces(self) -> list[tuple[int, Piece]]:
        """What was cut or taken off the frame, by its number in the plan."""
        return [(number, piece) for number, piece in self.done_pieces() if piece.removed]

    def done_pieces(self) -> list[tuple[int, Piece]]:
        """What was added and what was taken off, by its number in the plan."""
        return [(int(key), applied.piece) for key, applied in self.belief.on.items()]


def work_state(work: BenchWork) -> WorkState:
    """Where a work stands. Raises PieceError, OutlineError for a piece that no longer has its place."""
    baseline = baseline_of(work.plan.frame, work.specs)
    plan = PlanState(baseline, work.plan.name, work.target.axis_cm, read_pieces(work.pieces))
    biases = biases_at_first(work.specs)
    belief = estimate_state(
        baseline.measured, length_cm=baseline.outline.length_cm, outline=baseline.outline, biases=biases
    )
    state = WorkState(work, plan, belief, _in_order(plan, work.plan.order_of_work))
    state.biases = biases
    state.noise = {spec.key: spec.usual_u for spec in READ if baseline.measured.of(spec)}
    believed = {e.data.get("event") for e in work.events.all() if e.kind == Kind.BELIEVED}
    for event in work.events.all():
        _take(state, event, event.number in believed)
    return state


_STAGES: Final = {
    Advice.TRIM: Stage.TRIM,
    Advice.READ: Stage.READ,
    Advice.MEASURE: Stage.READ,
    Advice.OUT_OF_REACH: Stage.PLAN,
}


def stored_trim(trim: Trim) -> Json | None:
    """A piece as it then lies, as the database keeps it; None: taken off."""
    if trim.piece is None:
        return None
    return stored_pieces([PlanPiece(int(trim.key), trim.piece)])[0]


def _read_trim(stored: Json | None) -> Piece | None:
    return read_pieces([stored])[0].piece if stored else None


def _in_order(plan: PlanState, order: str) -> list[int]:
    steps = steps_of(plan, OrderOfWork(order))
    return [plan.placed[i].number for step in steps for i in step.pieces]


def _take(state: WorkState, event: BenchEvent, is_believed: bool) -> None:
    number = event.piece
    if number is not None and number in state.to_apply:
        state.to_apply.remove(number)
    if event.kind in (Kind.LAID, Kind.ADDED, Kind.TRIMMED, Kind.MOVED, Kind.TAKEN_OFF):
        state.is_permanent = False
    match Kind(event.kind):
        case Kind.LAID if number is not None:
            offset = Estimate(*event.data["place"]) if event.data.get("place") else None
            piece = state.planned(number).piece
            state.belief = state.belief.with_applied(str(number), piece, offset)
            state.is_changed = True
        case Kind.ADDED:
            (applied,) = read_pieces([event.data])
            state.belief = state.belief.with_applied(str(number), applied.piece)
            state.is_changed = True
        case Kind.TRIMMED:
            (applied,) = read_pieces([event.data])
            state.belief = state.belief.with_trimmed(str(number), applied.piece)
            state.is_changed = True
        case Kind.MOVED:
            (applied,) = read_pieces([event.data])
            state.belief = state.belief.with_moved(str(number), applied.piece)
            state.is_changed = True
        case Kind.TAKEN_OFF:
            state.belief = state.belief.with_taken_off(str(number))
            state.is_changed = True
        case Kind.PERMANENT:
            state.belief = state.belief.with_made_permanent(_shifts(event))
            state.is_permanent = state.is_changed = True
        case Kind.READ:
            _read(state, event, is_believed)


def _shifts(event: BenchEvent) -> dict[Hashable, Estimate]:
    """What was expected of each material when it was made permanent, as it was then learnt."""
    shifts = event.data.get("shifts", {})
    return {Source(stock=int(key)): Estimate(*shift) for key, shift in shifts.items()}


def _read(state: WorkState, event: BenchEvent, is_believed: bool) -> None:
    read = reading_of(event, state.target.axis_cm)
    expected = state.belief.now(state.target.axis_cm).after
    slopes, biases = event.data.get("slopes", {}), biases_of(event)
    questioned: tuple[ReadSpec, ...] = ()
    if is_believed:
        state.belief = state.belief.with_read_instead(read, biases, slopes)
    else:
        state.belief, questioned = state.belief.with_what_fits(read, biases, slopes)
    state.rounds.append(Round(event, expected, read, questioned))
    state.is_questioned = bool(questioned)
    counted = [spec for spec in READ if read.of(spec) and spec not in questioned]
    state.biases |= {spec.key: biases[spec.key] for spec in counted if spec.key in biases}
    state.noise |= {spec.key: u_of(read.of(spec)) for spec in counted}
    state.is_changed = state.is_changed and state.is_questioned


def stored_reading(reading: TakenReading) -> Json:
    """One reading as an event keeps it."""
    key = reading.instrument.pk if reading.instrument else None
    return reading._asdict() | {"instrument": key}


def reading_of(event: BenchEvent, axis_cm: float) -> MeasuredSpecs:
    """What was read in an event, about the work's axis."""
    specs = event.data["specs"]
    return MeasuredSpecs.read_apart(
        {key: Estimate(q["value"], q["u"]) for key, q in specs.items() if key in READ_BY_KEY}, axis_cm
    )


def taking_of(state: WorkState) -> Taking | None:
    """What the frame is known to be once all is permanent and read, with that reading; None before."""
    sheet = state.work.specs
    if not state.is_read_for_good or sheet is None:
        return None
    kept = state.rounds[-1].event.data["readings"]
    known = Instrument.objects.in_bulk([each["instrument"] for each in kept if each["instrument"]])
    readings = [TakenReading(**each | {"instrument": known.get(each["instrument"])}) for each in kept]
    return Taking(state.belief.measured(state.target.axis_cm), sheet.build, readings, sheet.fitting_ids)
