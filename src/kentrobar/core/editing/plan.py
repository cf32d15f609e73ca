"""The immutable plan: pieces laid on a stated baseline, and what they make of it."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Final, NamedTuple

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.target import NOTHING_WANTED, Target
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.editing.warnings import PieceWarning, warnings_for
from kentrobar.core.frame.circumstances import ANYWHERE, Circumstances
from kentrobar.core.frame.outline import Outline
from kentrobar.core.quantities.errors import KentrobarError, PieceError
from kentrobar.core.weight.builds import Fitting
from kentrobar.core.weight.further import FurtherPrediction, further
from kentrobar.core.weight.piece_of_material import PieceOfMaterial
from kentrobar.core.weight.pieces import Piece
from kentrobar.core.weight.prediction import PieceShare, Prediction, piece_shares, predict

MOST_PIECES: Final = 100
LONGEST_NAME: Final = 80


class PlanPiece(NamedTuple):
    """A piece with its number on the plan; ``overruled`` are the codes of the rules set aside for it."""

    number: int
    piece: Piece
    overruled: frozenset[str] = frozenset()


class PlanWarning(NamedTuple):
    """A warning about the piece of this number, and whether the person set it aside."""

    number: int
    warning: PieceWarning
    is_overruled: bool


CEILING_SLACK_G: Final = 0.05  # less is no more than a scale shows


@dataclass(frozen=True)
class Baseline:
    """What a plan starts from: a frame, what was read of it, and what was fitted on it then.

    ``ceiling_g`` is the static weight that it must not exceed, set up as it was read.
    """

    outline: Outline
    measured: MeasuredSpecs
    circumstances: Circumstances = ANYWHERE
    fitted: tuple[Fitting, ...] = ()
    ceiling_g: float = math.inf

    def find_fitting(self, key: int) -> Fitting:
        """What was fitted, by key. Raises PieceError where it is not on the frame."""
        for fitting in self.fitted:
            if fitting.key == key:
                return fitting
        raise PieceError("This is not on the frame; look at its fittings.", code="no_such_fitting")


@dataclass(frozen=True)
class PlanState:
    """One state of a plan. Every action on it makes a new one; the baseline stays as it is.

    ``target`` is what it is to bring the frame within, where somebody said.
    """

    baseline: Baseline
    name: str
    axis_cm: float
    placed: tuple[PlanPiece, ...] = ()
    target: Target = NOTHING_WANTED

    @property
    def outline(self) -> Outline:
        """The frame's outline."""
        return self.baseline.outline

    @property
    def above_ceiling_g(self) -> float:
        """By how much the frame comes out heavier than it may, g; 0 where it does not, or nobody weighed it."""
        mass = self.prediction.after.mass_g
        over = mass.or_else(0.0) - self.baseline.ceiling_g
        return over if over > CEILING_SLACK_G else 0.0

    @property
    def measured(self) -> MeasuredSpecs:
        """What was measured of the frame."""
        return self.baseline.measured

    @property
    def pieces(self) -> list[Piece]:
        """The pieces without their numbers, in their order."""
        return [each.piece for each in self.placed]

    # -- what it comes to ---------------------------------------------------------------

    @cached_property
    def prediction(self) -> Prediction:
        """Raises PieceError or OutlineError where a piece cannot lie where it is put."""
        return predict(
            self.measured,
            self.pieces,
            length_cm=self.outline.length_cm,
            axis_cm=self.axis_cm,
            outline=self.outline,
        )

    @cached_property
    def outcome(self) -> Prediction:
        """The prediction about the axis of the target. Raises as :attr:`prediction`."""
        if self.axis_cm == self.target.axis_cm:
            return self.prediction
        return replace(self, axis_cm=self.target.axis_cm).prediction

    @cached_property
    def further(self) -> FurtherPrediction:
        """The specs that few look at; raises as :attr:`prediction`."""
        return further(self.measured, self.pieces, axis_cm=self.axis_cm, outline=self.outline)

    @cached_property
    def shares(self) -> list[PieceShare]:
        """What each piece does, in the order of the plan."""
        return piece_shares(self.pieces, axis_cm=self.axis_cm, outline=self.outline)

    def on(self, baseline: Baseline) -> PlanState:
        """The same pieces on another baseline.

        Raises:
            PieceError: it names this plan, and what would no longer fit.
        """
        moved = replace(self, baseline=baseline)
        try:
            _ = moved.prediction
        except KentrobarError as error:
            raise PieceError(
                f"The plan “{self.name}” would no longer fit this frame: {error.message} Change the "
                "plan first, or check in a new frame.",
                code="plan_misfits",
            ) from None
        return moved

    def cut_from(self, shelf: Shelf) -> list[PieceOfMaterial]:
        """The pieces with what they were cut from."""
        return [shelf.placed(piece) for piece in self.pieces]

    def warnings(self, shelf: Shelf) -> list[PlanWarning]:
        """What speaks against the pieces."""
        found = warnings_for(self.cut_from(shelf), self.outline, self.baseline.circumstances)
        against = [(self.placed[each.position], each) for each in found]
        return [PlanWarning(placed.number, each, each.code in placed.overruled) for placed, each in against]

    # -- its pieces ---------------------------------------------------------------------

    def find(self, number: int) -> PlanPiece:
        """The piece of this number; raises PieceError where it is gone."""
        for placed in self.placed:
            if placed.number == number:
                return placed
        raise PieceError(
            f"Piece {number} is no longer on this plan; it may have been removed in another tab.",
            code="piece_gone",
        )

    def added(self, piece: Piece) -> PlanState:
        """The plan with one more piece, numbered on. Raises PieceError where it holds no more."""
        if len(self.placed) >= MOST_PIECES:
            raise PieceError(
                f"A plan holds at most {MOST_PIECES} pieces; join some of them.", code="too_many"
            )
        number = max((placed.number for placed in self.placed), default=0) + 1
        return replace(self, placed=(*self.placed, PlanPiece(number, piece)))

    def changed(self, number: int, piece: Piece) -> PlanState:
        """The plan with another piece under this number."""
        return self._with(number, lambda placed: placed._replace(piece=piece))

    def replaced(self, number: int, pieces: Sequence[Piece]) -> PlanState:
        """The plan with other pieces in the place of one; the first keeps its number."""
        before, plan = self.find(number), self
        for piece in pieces[1:]:
            plan = plan.added(piece)
        return plan._with(number, lambda _: before._replace(piece=pieces[0]))

    def overruling(self, number: int, code: str, is_overruled: bool) -> PlanState:
        """The plan with one rule set aside for a piece, or heeded again."""
        codes = {code} if is_overruled else set()
        return self._with(
            number, lambda placed: placed._replace(overruled=(placed.overruled - {code}) | codes)
        )

    def without(self, number: int) -> PlanState:
        """The plan without this piece."""
        self.find(number)
        return replace(self, placed=tuple(each for each in self.placed if each.number != number))

    def only(self, numbers: Iterable[int]) -> PlanState:
        """The plan with these pieces alone."""
        wanted = set(numbers)
        return replace(self, placed=tuple(each for each in self.placed if each.number in wanted))

    def _with(self, number: int, change: Callable[[PlanPiece], PlanPiece]) -> PlanState:
        self.find(number)
        changed = (change(each) if each.number == number else each for each in self.placed)
        return replace(self, placed=tuple(changed))
