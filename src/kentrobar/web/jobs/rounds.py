"""A work's events gone through in order: what lies, what was read and expected, what comes next."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from functools import cached_property

from kentrobar.core.bench.steps import OrderOfWork, steps_of
from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import READ, READ_BY_KEY, Specs
from kentrobar.core.laying.plan import LaidPiece, LaidPlan
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.reading.comparing import FeltRule, Gap, gap
from kentrobar.core.rounds.estimation import IMPOSSIBLE, Belief, believe
from kentrobar.core.rounds.trimming import Next, next_step
from kentrobar.core.solving.chance import chance_within
from kentrobar.core.weight.pieces import Piece
from kentrobar.web.frames.baselines import baseline_of
from kentrobar.web.jobs.models import BenchEvent, BenchWork
from kentrobar.web.measuring.services import TakenReading, Taking
from kentrobar.web.planning.stored import read_pieces

Kind = BenchEvent.Kind


class Action(StrEnum):
    """What is to be done now."""

    LAY = "lay"
    READ = "read"
    QUESTION = "question"  # the last reading cannot be: read again, or believe it
    NEXT = "next"  # the last reading says what comes next


@dataclass(frozen=True)
class Round:
    """A reading beside what was expected, spec by spec; ``is_questioned`` is not counted."""

    event: BenchEvent
    expected: Specs
    read: MeasuredSpecs
    is_questioned: bool

    def gaps(self, keys: Sequence[str]) -> list[tuple[str, Estimate, Estimate, Gap]]:
        """Key, what was expected, what was read, and the gap between them."""
        found = []
        for key in keys:
            expected, read = getattr(self.expected, key), getattr(self.read, key)
            if isinstance(expected, Estimate) and isinstance(read, Estimate):
                found.append((key, expected, read, gap(key, expected, read, FeltRule())))
        return found


@dataclass
class Stand:
    """Where a work stands after all of its events."""

    work: BenchWork
    plan: LaidPlan
    belief: Belief
    to_lay: list[int]
    rounds: list[Round] = field(default_factory=list)
    noise: dict[str, float] = field(default_factory=dict)
    is_changed: bool = False  # since it was read
    is_permanent: bool = False
    is_questioned: bool = False

    @property
    def bands(self) -> dict[str, tuple[float, float]]:
        """What each spec is to lie within."""
        return {
            name: (value - self.work.tolerances[name], value + self.work.tolerances[name])
            for name, value in self.work.target.items()
        }

    @cached_property
    def now(self) -> Specs:
        """The specs as they are now."""
        return self.belief.now(self.work.axis_cm).after

    @cached_property
    def chance(self) -> float:
        """That all specs lie within now."""
        return chance_within(self.belief.now(self.work.axis_cm), self.bands)

    @property
    def is_read_for_good(self) -> bool:
        """Whether it is made permanent and was read since."""
        return self.is_permanent and not self.is_changed and not self.is_questioned

    @property
    def action(self) -> Action:
        if self.is_questioned:
            return Action.QUESTION
        if self.to_lay:
            return Action.LAY
        return Action.READ if self.is_changed or not self.rounds else Action.NEXT

    @cached_property
    def next(self) -> Next:
        """What the last reading says comes next."""
        return next_step(self.belief, self.bands, self.work.axis_cm, self.work.chance, self.noise)

    def planned(self, number: int) -> LaidPiece:
        """A piece of the plan by its number."""
        return next(each for each in self.plan.laid if each.number == number)

    def expected_with(self, number: int) -> Specs:
        """What is expected to be read once a piece lies too."""
        laid = self.belief.with_laid(str(number), self.planned(number).piece)
        return laid.now(self.work.axis_cm).after

    def lies(self) -> list[tuple[int, Piece]]:
        """What lies on the frame now, by its number in the plan."""
        return [(int(key), laid.piece) for key, laid in self.belief.on.items()]


def stand_of(work: BenchWork) -> Stand:
    """Where a work stands. Raises PieceError, OutlineError for a piece that no longer has its place."""
    baseline = baseline_of(work.plan.frame, work.specs)
    plan = LaidPlan(baseline, work.plan.name, work.axis_cm, read_pieces(work.pieces))
    belief = believe(
        baseline.measured, length_cm=baseline.outline.length_cm, outline=baseline.outline
    )
    stand = Stand(work, plan, belief, _in_order(plan, work.plan.order_of_work))
    stand.noise = {
        spec.key: spec.usual_u for spec in READ if isinstance(baseline.measured.of(spec), Estimate)
    }
    believed = {e.data.get("event") for e in work.events.all() if e.kind == Kind.BELIEVED}
    for event in work.events.all():
        _take(stand, event, event.number in believed)
    return stand


def _in_order(plan: LaidPlan, order: str) -> list[int]:
    steps = steps_of(plan, OrderOfWork(order))
    return [plan.laid[i].number for step in steps for i in step.pieces]


def _take(stand: Stand, event: BenchEvent, is_believed: bool) -> None:
    number = event.piece
    if number is not None and number in stand.to_lay:
        stand.to_lay.remove(number)
    if event.kind in (Kind.LAID, Kind.TRIMMED, Kind.TAKEN_OFF):
        stand.is_permanent = False
    match Kind(event.kind):
        case Kind.LAID if number is not None:
            stand.belief = stand.belief.with_laid(str(number), stand.planned(number).piece)
            stand.is_changed = True
        case Kind.TRIMMED:
            (laid,) = read_pieces([event.data])
            stand.belief = stand.belief.with_trimmed(str(number), laid.piece)
            stand.is_changed = True
        case Kind.TAKEN_OFF:
            stand.belief = stand.belief.with_taken_off(str(number))
            stand.is_changed = True
        case Kind.PERMANENT:
            stand.belief = stand.belief.with_made_permanent()
            stand.is_permanent = stand.is_changed = True
        case Kind.READ:
            _read(stand, event, is_believed)


def _read(stand: Stand, event: BenchEvent, is_believed: bool) -> None:
    read = reading_of(event, stand.work.axis_cm)
    expected = stand.belief.now(stand.work.axis_cm).after
    is_questioned = not is_believed and stand.belief.surprise(read) < IMPOSSIBLE
    stand.rounds.append(Round(event, expected, read, is_questioned))
    stand.is_questioned = is_questioned
    if not is_questioned:
        stand.belief = stand.belief.with_read(read)
        stand.noise |= {s.key: q.u for s in READ if isinstance(q := read.of(s), Estimate)}
        stand.is_changed = False


def reading_of(event: BenchEvent, axis_cm: float) -> MeasuredSpecs:
    """What was read in an event, about the work's axis."""
    specs = event.data["specs"]
    return MeasuredSpecs.read_apart(
        {key: Estimate(q["value"], q["u"]) for key, q in specs.items() if key in READ_BY_KEY},
        axis_cm,
    )


def taking_of(stand: Stand) -> Taking | None:
    """What the frame is known to be once all is permanent and read, with that reading; None before."""
    work, sheet = stand.work, stand.work.specs
    if not stand.is_read_for_good or sheet is None:
        return None
    event = stand.rounds[-1].event
    readings = [
        TakenReading(
            spec.field, typed["text"], typed["unit"], event.data["specs"][spec.key]["value"]
        )
        for spec in READ
        if (typed := event.data["typed"].get(spec.field))
    ]
    return Taking(stand.belief.measured(work.axis_cm), sheet.build, readings, sheet.fitting_ids)
