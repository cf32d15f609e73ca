"""What the invented club found out on court: where players hit, and what suits one of them best."""

from __future__ import annotations

from typing import Final, NamedTuple

import numpy as np

from kentrobar.core.body.specs import SWING_WEIGHT
from kentrobar.core.play.hits import Hit, is_on_face
from kentrobar.core.play.sweet_zone import hitting_face
from kentrobar.core.play.trial_setups import usual_steps
from kentrobar.core.solving.supply import Workpiece, supply_for
from kentrobar.web.frames.baselines import baseline_of
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.queries import frames_with_fittings
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.play.hits.services import mark_hits, start_hit_map
from kentrobar.web.play.models import Trial, TrialAsk
from kentrobar.web.play.trials.forms import MOST_LAYERS
from kentrobar.web.play.trials.services import TrialRequest, answer, plan_trial
from kentrobar.web.play.trials.trial_state import trial_state
from kentrobar.web.shops.models import User

SEED: Final = 20260411


class _Played(NamedTuple):
    """Hits of one stroke: how many, their middle and how they scatter, across and along, cm."""

    frame: str
    stroke: str
    about: str
    number: int
    middle: tuple[float, float]
    spread: tuple[float, float]


PLAYED: Final = [
    _Played("Sedge 98 Tour", "volley", "Ink on the strings, at the net", 46, (-0.9, 51.0), (3.6, 3.4)),
    _Played("Mudlark 16", "punch", "Chalk on the face, one game", 22, (0.4, 30.2), (3.0, 2.6)),
]


def load_court(technician: User) -> None:
    """Mark the hits of the demo, and lead a trial half way."""
    rng = np.random.default_rng(SEED)
    _lead_trial(technician, rng)
    for played in PLAYED:
        frame = Frame.objects.get(shop=technician.shop_id, label=played.frame)
        hit_map = start_hit_map(frame, technician, stroke=played.stroke, about=played.about)
        mark_hits(hit_map, _hits(played, frame, rng), 0)


def _hits(played: _Played, frame: Frame, rng: np.random.Generator) -> list[Hit]:
    face = hitting_face(frame.outline)
    found: list[Hit] = []
    while len(found) < played.number:
        hit = Hit(*rng.normal(played.middle, played.spread).tolist())
        if is_on_face(hit, face):
            found.append(hit)
    return found


TRIED: Final = "Sedge 98 Tour"
ITS_BEST: Final = 321.0  # kg·cm², which nobody knows
ITS_WIDTH: Final = 4.5
ANSWERED: Final = 7


def _lead_trial(technician: User, rng: np.random.Generator) -> None:
    """A trial of the swing weight, with the first answers of a player whose best is made up."""
    frame = frames_with_fittings(technician).get(label=TRIED)
    baseline = baseline_of(frame, frame.specs)
    work = Workpiece(baseline, supply_for(shelf_of(technician), baseline, layers=MOST_LAYERS))
    read = frame.measured.swingweight_kgcm2
    if not read:
        return
    steps = usual_steps(SWING_WEIGHT.key, read.value, frame.is_racket)
    trial = plan_trial(TrialRequest(frame, work, [steps], []), technician)
    for number in range(1, ANSWERED + 1):
        ask = trial_state(trial).open
        if ask is None:
            return
        answer(trial, number, said=_says(trial, ask, rng))


def _says(trial: Trial, ask: TrialAsk, rng: np.random.Generator) -> str:
    values = {setup.number: setup.values[0] for setup in trial.setups.all()}
    first, second = (-0.5 * ((values[n] - ITS_BEST) / ITS_WIDTH) ** 2 for n in (ask.first, ask.second))
    felt = first - second + rng.normal(0, 0.4)
    return "a" if felt > 0.5 else "b" if felt < -0.5 else "same"
