"""Answering ``rounds``: what a frame on the bench is by all that was done and read, and what comes next."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Final

from kentrobar.core.body.limits import require_possible
from kentrobar.core.body.specs import AIMED_BY_KEY, READ, READ_BY_KEY
from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.rounds.estimation import Bias, StateEstimate, estimate_state
from kentrobar.core.rounds.trimming import Advice, Next, Trim, next_step
from kentrobar.core.weight.pieces import Piece
from kentrobar.exchange import convert, models
from kentrobar.exchange.frames import ReadFrame, read_frame, require_axis
from kentrobar.exchange.matches import CHANCE_DECIMALS
from kentrobar.exchange.reading import DocumentError, at_path
from kentrobar.exchange.targets import bands_of


def answer_rounds(request: models.RoundsRequest) -> models.RoundsAnswer:
    """What ``rounds`` prints for this request.

    Raises:
        DocumentError: a frame, an event or a target that cannot be; the path says which.
    """
    frame = read_frame(request.frame, "frame")
    require_axis(request.axis_cm, frame)
    bands = bands_of(request, frame)
    bench = _Bench(frame, request)
    for i, event in enumerate(request.events):
        bench.take(i, event)
    now = bench.belief.now(request.axis_cm)
    with at_path("events"):
        _require_body(frame, bench.belief, request.axis_cm)
    for name in bands:
        if not getattr(now.after, name):
            raise DocumentError(
                f"target.{name}",
                f"the {AIMED_BY_KEY[name].noun} of the frame is not known; read it, or leave it out.",
            )
    step = next_step(bench.belief, bands, request.axis_cm, request.chance, bench.noise, bench.biases)
    return models.RoundsAnswer(
        now=convert.specs_document(now.after),
        chance=round(step.chance_now, CHANCE_DECIMALS),
        rolls=_rolls(bench.belief),
        questioned=bench.questioned,
        next=None if bench.is_questioned else _next(step),
        advice=READ_AGAIN if bench.is_questioned else _sentence(step),
        warnings=list(frame.warnings()),
    )


READ_AGAIN: Final = "The last reading does not fit what is known; read again before you cut."


@dataclass
class _Bench:
    """The frame on the bench while its events are gone through in order."""

    frame: ReadFrame
    request: models.RoundsRequest
    questioned: list[int] = field(default_factory=list)
    is_questioned: bool = False  # the last reading: nothing is to be cut before it is read again
    noise: dict[str, float] = field(default_factory=dict)
    biases: dict[str, Bias] = field(default_factory=dict)

    def __post_init__(self) -> None:
        frame, errors = self.frame, self.request.errors
        self.biases = convert.biases(self.request.frame.measured)
        self.belief: StateEstimate = estimate_state(
            frame.measured,
            length_cm=frame.length_cm,
            outline=frame.outline,
            place_u_cm=errors.place_cm,
            biases=self.biases,
        )
        self._note_noise(frame.measured)

    def take(self, i: int, event: models.Event) -> None:
        """One event. Raises DocumentError for what cannot be."""
        for n, laid in enumerate(event.laid or ()):
            with at_path(f"events.{i}.laid.{n}"):
                self._lay(laid)
        if event.trimmed is not None:
            with at_path(f"events.{i}.trimmed"):
                self._trim(event.trimmed)
        if event.taken_off is not None:
            with at_path(f"events.{i}.taken_off"):
                self._applied(event.taken_off)
                self.belief = self.belief.with_taken_off(event.taken_off)
        if event.read is not None:
            with at_path(f"events.{i}.read"):
                self._read(i, event.read)

    def _lay(self, laid: models.AppliedDocument) -> None:
        if laid.id in self.belief.on:
            problem = f"“{laid.id}” lies already; give each piece an id of its own."
            raise PieceError(problem, code="lies_already", field="id")
        piece = convert.piece(laid.piece, self.request.errors)
        piece.require_within(self.frame.room)
        self.belief = self.belief.with_applied(laid.id, piece)
        _require_body(self.frame, self.belief, self.request.axis_cm)

    def _trim(self, trimmed: models.Trimmed) -> None:
        piece = self._applied(trimmed.id)
        if trimmed.mass_g == 0:
            self.belief = self.belief.with_taken_off(trimmed.id)
            return
        cut = (
            piece.with_length(trimmed.length_cm)
            if trimmed.length_cm is not None
            else piece.with_mass(trimmed.mass_g or 0.0)
        )
        cut.require_within(self.frame.room)
        self.belief = self.belief.with_trimmed(trimmed.id, cut)

    def _applied(self, key: str) -> Piece:
        if key not in self.belief.on:
            raise PieceError(f"nothing that lies is “{key[:40]}”; lay it first.", code="not_laid")
        return self.belief.on[key].piece

    def _read(self, i: int, block: models.MeasuredBlock) -> None:
        read = convert.measured_specs(block)
        require_possible(read, self.frame.length_cm, self.frame.room.width_cm)
        biases = convert.biases(block)
        self.belief, doubted = self.belief.with_what_fits(read, biases)
        self.is_questioned = bool(doubted)
        if doubted:
            self.questioned.append(i)
        counted = read.without(doubted)
        self.biases |= {key: bias for key, bias in biases.items() if counted.has(key)}
        self._note_noise(counted)

    def _note_noise(self, read: object) -> None:
        """How surely each spec was read last: so would one more reading be."""
        for spec in READ:
            if value := getattr(read, spec.key):
                self.noise[spec.key] = value.u


def _require_body(frame: ReadFrame, belief: StateEstimate, axis_cm: float) -> None:
    """Refuse what leaves no body. Raises KentrobarError."""
    frame._replace(measured=belief.measured(axis_cm)).predict([], axis_cm)


def _rolls(belief: StateEstimate) -> list[models.RollAnswer]:
    return [
        models.RollAnswer(material=str(roll), factor=convert.value(belief.density_factor(roll)))
        for roll in belief.rolls()
    ]


def _next(step: Next) -> models.NextAnswer | None:
    if step.advice is not Advice.TRIM or step.expect is None:
        return None
    return models.NextAnswer(
        changes=[_change(each) for each in step.trims],
        expect=convert.specs_document(step.expect.after),
        chance=round(step.chance, CHANCE_DECIMALS),
    )


def _change(trim: Trim) -> models.Change:
    piece = trim.piece
    if piece is None:
        return models.Change(id=trim.key, mass_g=0.0)
    if piece.is_by_length:
        return models.Change(id=trim.key, length_cm=piece.extent_cm)
    return models.Change(id=trim.key, mass_g=piece.one_mass_g)


def _sentence(step: Next) -> str:
    """Next up, in words."""
    percent = f"{100 * step.chance_now:.0f} %"
    match step.advice:
        case Advice.DONE:
            return f"All lies within, with a chance of {percent}; leave it."
        case Advice.TRIM:
            return "Trim as shown, then measure again."
        case Advice.READ:
            noun = READ_BY_KEY[step.spec].noun
            return f"No trim helps noticeably; one more reading of the {noun} would tell more."
        case Advice.OUT_OF_REACH:
            return "Nothing that lies can be trimmed so that all lies within; lay another piece."
        case _:
            return f"The chance is {percent}, and the rest is noise: no trim raises it noticeably."
