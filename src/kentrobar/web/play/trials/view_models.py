"""A trial as its page tells it: what to fit now, what the answers tell so far, where that leads."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Final, NamedTuple

from django.urls import reverse
from django.utils.http import urlencode

from kentrobar.core.editing.plan import PlanPiece
from kentrobar.core.editing.stored import read_pieces
from kentrobar.core.play.trial_design import LEAST_BEFORE_ENOUGH, RATINGS, order_of_purposes
from kentrobar.core.play.trials import INTERVAL, WITHIN_TRIED, Array, Interval
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.numbers import Units
from kentrobar.web.play.models import TrialAsk, TrialSetup
from kentrobar.web.play.trials.trial_state import TrialState
from kentrobar.web.showing.pieces import piece_text

WIDTH: Final = 420.0  # of the picture of what is known, its units
HEIGHT: Final = 110.0
LIKELY: Final = 0.5  # a chance from which on it is said
SPELLED: Final = {"a": "the first", "b": "the second", "same": "no difference"}


class ToFit(NamedTuple):
    """A setup as it is fitted: on which frame, how it is called, what lies there."""

    frame: Frame
    name: str
    pieces: list[str]
    is_on: bool


class Progress(NamedTuple):
    """How many were answered, of at most how many."""

    done: int
    of: int


@dataclass(frozen=True, slots=True)
class NowView:
    """What is asked now, with the setups that it takes in order."""

    ask: TrialAsk
    fits: list[ToFit]


@dataclass(frozen=True, slots=True)
class SetupView:
    """One setup: its name, what is on the frame for it, in how many answers it was played."""

    number: int
    name: str
    pieces: list[str]
    played: int


@dataclass(frozen=True, slots=True)
class ChancePicture:
    """The chance that the best is at each value, as a curve over the setups that are tried."""

    curve: str
    band: str
    ticks: list[tuple[float, str]]
    best_x: float
    label: str
    width: float = WIDTH
    height: float = HEIGHT


@dataclass(frozen=True, slots=True)
class BestView:
    """The best of one spec with its interval, what is felt of it, and a picture of what is known."""

    noun: str
    value: str
    low: str
    high: str
    felt: str
    felt_low: str
    felt_high: str
    part: str
    picture: ChancePicture


@dataclass(frozen=True, slots=True)
class AnswerView:
    """One answer: which setups were played, why they were asked, what was said of them."""

    number: int
    first: str
    second: str
    purpose: str
    said: str
    rated: int | None


@dataclass(frozen=True, slots=True)
class TrialView:
    """A trial as who fits the weights sees it; ``target_address`` is where the best is made a plan's target."""

    now: NowView | None
    setups: list[SetupView]
    best: list[BestView]
    sentences: list[str]
    answers: list[AnswerView]
    progress: Progress
    last: TrialAsk | None
    is_careless: bool
    target_address: str
    missed: list[str]


def trial_view(state: TrialState, units: Units) -> TrialView:
    """Where a trial stands, as its page shows it."""
    found = state.found
    values_text = list(zip(found.best(), found.felt(), found.marginals(), strict=True))
    return TrialView(
        now=_now(state, units),
        setups=[_setup(state, each, units) for each in state.setups],
        best=[_best(state, i, *each, units) for i, each in enumerate(values_text)],
        sentences=list(sentences(state, units)),
        answers=_answers(state, units),
        progress=progress(state),
        last=state.last_answered,
        is_careless=state.is_careless,
        target_address=_target_address(state, [best for best, *_ in values_text], units),
        missed=[_values_text(state, values, units) for values in state.trial.missed],
    )


def progress(state: TrialState) -> Progress:
    """How far a trial is."""
    whole = RATINGS if state.trial.rates else len(order_of_purposes(state.trial.is_blind))
    return Progress(len(state.answered), whole)


def _now(state: TrialState, units: Units) -> NowView | None:
    ask = state.open
    if ask is None:
        return None
    trial = state.trial
    first = _to_fit(state, ask.first, trial.frame, units, is_on=state.fitted == ask.first)
    if trial.rates:
        return NowView(ask, [first])
    on = trial.twin or trial.frame
    second = _to_fit(state, ask.second, on, units, is_on=ask.first == ask.second and not trial.twin)
    return NowView(ask, [first, second])


def _to_fit(state: TrialState, number: int, frame: Frame, units: Units, *, is_on: bool) -> ToFit:
    setup = state.setups[number]
    is_twin = frame.pk == state.trial.twin_id
    placed = read_pieces(setup.twin_pieces if is_twin else setup.pieces)
    return ToFit(frame, setup_name(state, setup, units), _pieces(placed, frame, units), is_on)


def _pieces(placed: tuple[PlanPiece, ...], frame: Frame, units: Units) -> list[str]:
    return [piece_text(each.piece, frame, units) for each in placed]


def setup_name(state: TrialState, setup: TrialSetup, units: Units) -> str:
    """A setup by its number and its values."""
    values_text = _values_text(state, setup.values, units)
    return f"{setup.number}: {values_text}" + (" (as it is)" if not setup.pieces else "")


def _values_text(state: TrialState, values: list[float], units: Units) -> str:
    return ", ".join(units.spec_text(spec, value) for spec, value in zip(state.sought, values, strict=True))


def _setup(state: TrialState, setup: TrialSetup, units: Units) -> SetupView:
    frame = state.trial.frame
    played = sum(setup.number in (each.first, each.second) for each in state.asks if each.is_answered)
    return SetupView(
        number=setup.number,
        name=setup_name(state, setup, units),
        played=played,
        pieces=_pieces(read_pieces(setup.pieces), frame, units),
    )


# -- what is known ----------------------------------------------------------------------------


def _best(
    state: TrialState, index: int, best: Interval, felt: Interval, marginal: tuple[Array, Array], units: Units
) -> BestView:
    spec = state.sought[index]
    return BestView(
        noun=spec.noun,
        value=units.spec_text(spec, best.value),
        low=units.spec_text(spec, best.low),
        high=units.spec_text(spec, best.high),
        felt=units.spec_text(spec, felt.value),
        felt_low=units.spec_text(spec, felt.low),
        felt_high=units.spec_text(spec, felt.high),
        part=f"{100 * INTERVAL:.0f} %",
        picture=_picture(state, index, best, marginal, units),
    )


def _picture(
    state: TrialState, index: int, best: Interval, marginal: tuple[Array, Array], units: Units
) -> ChancePicture:
    axis, chances = marginal
    spec = state.sought[index]

    def x(value: float) -> float:
        return round(float(WIDTH * (value - axis[0]) / (axis[-1] - axis[0])), 1)

    heights = HEIGHT * (1 - chances / chances.max())
    points = [f"{x(v)} {h:.1f}" for v, h in zip(axis, heights, strict=True)]
    inside = [i for i, v in enumerate(axis) if best.low <= v <= best.high]
    under = [points[i] for i in inside]
    if under:
        under = [f"{x(axis[inside[0]])} {HEIGHT}", *under, f"{x(axis[inside[-1]])} {HEIGHT}"]
    values = sorted({round(setup.values[index], 6) for setup in state.setups})
    ends = (values[0], values[-1]) if len(values) > 1 else values
    return ChancePicture(
        curve=" ".join(points),
        band=" ".join(under),
        ticks=[(x(value), units.spec_text(spec, value) if value in ends else "") for value in values],
        best_x=x(best.value),
        label=f"Where the best {spec.noun} lies: most likely {units.spec_text(spec, best.value)}, "
        f"{100 * INTERVAL:.0f} % between {units.spec_text(spec, best.low)} and "
        f"{units.spec_text(spec, best.high)}",
    )


def sentences(state: TrialState, units: Units) -> Iterator[str]:
    """What the answers tell, how far they can be trusted, whether to go on."""
    answered = state.answered
    if not answered:
        yield "Nothing is answered yet."
        return
    counted = state.consistency
    if counted.of:
        yield f"Asked again, the player said the same {counted.agree} of {counted.of} times" + (
            f"; guessing does as well {100 * counted.chance:.0f} % of the time." if counted.of > 2 else "."
        )
    if state.is_careless:
        yield (
            "The answers are hardly better than guesses. Rest, let somebody else fit the weights, "
            "play longer with each, or try wider steps; what is told below may be worth nothing."
        )
        return
    if state.found.no_preference() > LIKELY:
        yield (
            "No preference shows: the setups seem alike to this player. Try wider steps, or leave the frame "
            "as it is."
        )
        return
    if len(answered) >= LEAST_BEFORE_ENOUGH and state.found.within_tried() < WITHIN_TRIED:
        yield "The best may be beyond the range. Plan the next play test over a wider range."
        return
    if state.is_settled:
        yield "Enough: the best is known more closely than this player feels."
    elif len(answered) >= progress(state).of:
        yield "All questions are answered. The best is within the interval; another play test may narrow it."
    elif state.trial.ended_at is None:
        left = progress(state).of - len(answered)
        yield f"Go on: the best is not yet known as closely as the player feels; {left} more at most."
    else:
        yield "The play test ended before the best was known as closely as the player feels."


def _target_address(state: TrialState, bests: Sequence[Interval], units: Units) -> str:
    """The address of the plan that makes the best the target."""
    query: dict[str, str] = {}
    for spec, best in zip(state.sought, bests, strict=True):
        unit = units.typed_unit(spec)
        give = spec.dimension.from_base(max(spec.tolerance, best.u / 2), unit)
        value = units.spec_text(spec, best.value).split()[0].replace("−", "-")
        query |= {f"{spec.field}_0": value, f"{spec.field}_1": unit, f"{spec.field}_2": f"{give:.2g}"}
    frame = state.trial.frame
    return f"{reverse('planning:target', args=[frame.pk])}?{urlencode(query)}"


def _answers(state: TrialState, units: Units) -> list[AnswerView]:
    """What was asked and answered, the last first."""
    names = [_values_text(state, setup.values, units) for setup in state.setups]
    return [
        AnswerView(
            number=each.number,
            first=names[each.first],
            second=names[each.second],
            purpose=each.get_purpose_display(),
            said=SPELLED.get(each.said, ""),
            rated=each.rated,
        )
        for each in reversed(state.asks)
        if each.is_answered
    ]
