"""The sweet spot moved: where it lies after, worked out anew; what is proposed where it cannot be reached."""

import math
from dataclasses import replace
from functools import partial

import numpy as np
import pytest

from kentrobar.core.body.target import Target
from kentrobar.core.editing.plan import Baseline
from kentrobar.core.frame.rim import Face
from kentrobar.core.play.impact import hit_frame
from kentrobar.core.play.strokes import STROKES, ball_of, swing_of
from kentrobar.core.play.sweet_zone import hitting_face, zone_of_speed
from kentrobar.core.play.zone_plans import WantedZone, propose_nearest_zone, propose_zone
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.solving.proposals import LEAST
from kentrobar.core.solving.supply import SOME_PUTTY, SOME_TAPE, Supply, Workpiece
from kentrobar.core.weight.prediction import predict
from tests.core.frames import RACKET, REED, point

FACE = hitting_face(RACKET)


def zone_of(stroke, body):
    known = STROKES[stroke]
    ball = ball_of(known.sport, known.ball_ms)
    return zone_of_speed(body, ball, swing_of(known.face_ms, body, RACKET, 10.0), FACE)


def work():
    return Workpiece(
        Baseline(RACKET, REED), Supply(tape=SOME_TAPE, putty=SOME_PUTTY, step_cm=1.0, most_layers=3)
    )


def middle(stroke, pieces=()):
    prediction = predict(REED, pieces, length_cm=RACKET.length_cm, axis_cm=10.0, outline=RACKET)
    return zone_of(stroke, hit_frame(prediction).body).y_cm


def wanted(stroke, by_cm, give_cm=0.1):
    return WantedZone(partial(zone_of, stroke), middle(stroke) + by_cm, give_cm)


@pytest.mark.parametrize(("stroke", "by_cm"), [("ground", 0.4), ("volley", 0.8), ("serve", 0.3)])
@pytest.mark.parametrize("school", [LEAST, "counter", "hoop"])
def test_the_zone_comes_to_lie_where_it_was_wanted(stroke, by_cm, school):
    aim = wanted(stroke, by_cm)
    found = propose_zone(school, work(), Target({}), aim)
    assert middle(stroke, found.pieces) == pytest.approx(aim.y_cm, abs=0.1)
    assert found.found.added_g > 0


def test_specs_that_are_kept_are_kept_while_the_zone_moves():
    kept = {"balance_cm": (32.3, 32.5), "mass_g": (310.0, 330.0)}
    aim = wanted("volley", 0.5)
    found = propose_zone(LEAST, work(), Target(kept), aim)
    after = found.prediction.after
    assert middle("volley", found.pieces) == pytest.approx(aim.y_cm, abs=0.1)
    assert 32.3 <= after.balance_cm.value <= 32.5
    assert after.mass_g.value <= 330.0


def test_no_single_place_of_the_hoop_does_it_with_less():
    """Against the least pair of points at each place of the rim, found by bisection."""
    aim = wanted("volley", 0.6)
    heavy = Supply(tape=replace(SOME_TAPE, density=Estimate(0.5, 0.01)), putty=SOME_PUTTY, step_cm=0.2)
    found = propose_zone(LEAST, replace(work(), supply=heavy), Target({}), aim)
    line = RACKET.rim(Face.INNER)

    def least_g(arc_cm):
        x, y = line.point(arc_cm)[:2]
        low, high = 0.0, 40.0
        if middle("volley", [point(high, y, x, mirrored=True)]) < aim.y_cm - 0.1:
            return math.inf
        for _ in range(20):
            mass = (low + high) / 2
            enough = middle("volley", [point(mass, y, x, mirrored=True)]) >= aim.y_cm - 0.1
            low, high = (low, mass) if enough else (mass, high)
        return 2 * high

    least = min(least_g(arc) for arc in np.linspace(0.5, line.half_length, 12))
    assert found.found.added_g < least + 0.25  # a step of two strips weighs 0.2 g


def test_a_zone_that_lies_there_already_needs_nothing():
    found = propose_nearest_zone(work(), Target({}), wanted("ground", 0.0))
    assert found.is_met
    assert found.proposal.pieces == ()


def test_out_of_reach_the_nearest_goes_as_far_as_it_can():
    aim = wanted("ground", 6.0)
    assert propose_zone(LEAST, work(), Target({"mass_g": (310.0, 318.0)}), aim) is None
    found = propose_nearest_zone(work(), Target({"mass_g": (310.0, 318.0)}), aim)
    assert not found.is_met
    climbed = middle("ground", found.proposal.pieces) - middle("ground")
    assert 0.1 < climbed < 6.0
    assert found.proposal.prediction.after.mass_g.value <= 318.0 + 1e-6
