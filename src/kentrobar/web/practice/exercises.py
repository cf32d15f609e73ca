"""What can be practised, and the exercise that a run stands for."""

from __future__ import annotations

from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.bench.practice.finding_slips import FindSlip, SheetCell, Slip
from kentrobar.core.bench.practice.predicting import Predict
from kentrobar.core.bench.practice.reading_well import ReadWell
from kentrobar.core.bench.practice.scores import Score
from kentrobar.core.bench.practice.weighing import MatchTwo
from kentrobar.core.body.sport import Sport
from kentrobar.web.kit.records import Json
from kentrobar.web.practice.models import PracticeRun

Task = PracticeRun.Task


class Offered(NamedTuple):
    """One kind of exercise: its title, what it trains, and what each level adds."""

    title: str
    trains: str
    levels: tuple[str, str, str]


OFFERED: Final = MappingProxyType(
    {
        Task.READ: Offered(
            "Measure well",
            "As many readings as the required ± takes, and no more.",
            ("steady instruments", "a reading slips", "coarse instruments, a reading slips"),
        ),
        Task.SLIP: Offered(
            "Find the slip",
            "Find the impossible entry, and what went wrong.",
            ("steady readings", "readings scatter more", "coarse readings"),
        ),
        Task.PREDICT: Offered(
            "Predict before you see",
            "What a piece of weight does to the four specs, from the head.",
            ("one piece", "one piece", "two pieces"),
        ),
        Task.MATCH: Offered(
            "Match two",
            "Make one frame like another with the least weight, in few tries.",
            ("two places", "three places", "four places"),
        ),
        Task.FINISH: Offered(
            "Finish in few rounds",
            "Reach a target while cuts and readings vary: apply, measure, trim.",
            ("two places", "three places", "four places"),
        ),
    }
)


def read_well(run: PracticeRun) -> ReadWell:
    """The exercise of a run that reads a frame."""
    return ReadWell(run.seed, run.level, Sport(run.sport))


def find_slip(run: PracticeRun) -> FindSlip:
    """The exercise of a run that looks for a slip."""
    return FindSlip(run.seed, run.level, Sport(run.sport))


def predict(run: PracticeRun) -> Predict:
    """The exercise of a run that predicts."""
    return Predict(run.seed, run.level, Sport(run.sport))


def weighing(run: PracticeRun) -> MatchTwo:
    """The exercise of a run that lays weight."""
    return MatchTwo(run.seed, run.level, Sport(run.sport), errs=run.task == Task.FINISH)


def score_of(run: PracticeRun, answer: Json) -> Score:
    """What a run is worth with this answer at its end."""
    match run.task:
        case Task.READ:
            taken = [move["read"] for move in run.moves if "read" in move]
            return read_well(run).score(taken, {key: float(value) for key, value in answer.items()})
        case Task.SLIP:
            entry = None
            if answer["entry"]:
                row, key = str(answer["entry"]).split("/")
                entry = SheetCell(int(row), key)
            return find_slip(run).score(entry, Slip(str(answer["slip"])))
        case Task.PREDICT:
            return predict(run).score({key: float(value) for key, value in answer.items()})
        case _:
            return weighing(run).score([move["doses"] for move in run.moves])
