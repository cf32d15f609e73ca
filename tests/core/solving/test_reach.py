"""The region that added weight can reach, against plans laid at random and the solver itself."""

import numpy as np
import pytest

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.target import Target
from kentrobar.core.editing.plan import Baseline
from kentrobar.core.quantities.errors import SpecError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.solving.candidates import PointSlot
from kentrobar.core.solving.matching import match
from kentrobar.core.solving.reach import SECOND_SPECS, reach
from kentrobar.core.solving.supply import Supply, Workpiece, slots_to_use
from kentrobar.core.weight.materials import MaterialKind
from kentrobar.core.weight.prediction import predict
from tests.core.frames import RACKET, REED, point, stock

WORK = Workpiece(
    Baseline(RACKET, MeasuredSpecs()),
    Supply(tape=stock(MaterialKind.TUNGSTEN_TAPE), putty=stock(MaterialKind.TUNGSTEN_PUTTY, 2)),
)
SITES = [
    *(site for site in slots_to_use(WORK).values() if isinstance(site, PointSlot)),
    PointSlot(label="tip", y_cm=67.5, max_g=30),
    PointSlot(label="sides", y_cm=52, x_cm=12.5, mirrored=True),
]
MOST_G = 20.0


@pytest.mark.parametrize("second", SECOND_SPECS)
def test_every_random_plan_lies_within(second):
    found = reach(REED, SITES, RACKET, most_g=MOST_G, axis_cm=10.0, second=second)
    random = np.random.default_rng(3)
    for _ in range(300):
        parts = random.dirichlet(np.full(len(SITES), 0.4)) * MOST_G * random.uniform(0, 1)
        pieces = [
            point(m / (1 + s.mirrored), s.y_cm, s.x_cm, mirrored=s.mirrored)
            for m, s in zip(parts, SITES, strict=True)
            if m > 1e-6 and m / (1 + s.mirrored) <= s.max_g
        ]
        after = predict(REED, pieces, length_cm=68.58, axis_cm=10.0).after
        value = getattr(after, second).value
        # The edges are straight between the steps, the true ones bend a little.
        slack = 0.01 * (max(found.most) - min(found.least))
        near = [
            found.holds(after.balance_cm.value + d, value + e)
            for d in (-0.01, 0, 0.01)
            for e in (-slack, 0, slack)
        ]
        assert any(near), (after.balance_cm.value, value)


def test_the_edges_are_reached_and_what_lies_beyond_is_not():
    found = reach(REED, SITES, RACKET, most_g=MOST_G, axis_cm=10.0)
    ceiling = REED.mass_g.value + MOST_G
    for i in (3, 12, 21):
        for edge, outward in ((found.most[i], 1.0), (found.least[i], -1.0)):
            at = {
                "balance_cm": (found.balance_cm[i] - 0.03, found.balance_cm[i] + 0.03),
                "mass_g": (0.0, ceiling + 0.2),
            }
            inside = Target(
                at | {"swingweight_kgcm2": (edge - outward * 2 - 1, edge - outward * 2 + 1)}, 10.0
            )
            beyond = Target(
                at | {"swingweight_kgcm2": (edge + outward * 4 - 1, edge + outward * 4 + 1)}, 10.0
            )
            about = {"length_cm": 68.58, "outline": RACKET, "explain": False}
            assert match(REED, SITES, inside, **about).is_feasible
            assert not match(REED, SITES, beyond, **about).is_feasible


def test_more_weight_reaches_farther_and_none_reaches_nothing():
    small, large = (reach(REED, SITES, RACKET, most_g=g, axis_cm=10.0) for g in (5.0, 20.0))
    assert large.balance_cm[0] < small.balance_cm[0] < 32.4 < small.balance_cm[-1] < large.balance_cm[-1]
    assert max(large.most) > max(small.most)
    assert min(small.least) >= 318.0 - 1e-6  # nothing that is added lowers the swing weight


def test_what_was_never_read_is_asked_for():
    with pytest.raises(SpecError, match="read them first"):
        reach(MeasuredSpecs(Estimate(300)), SITES, RACKET, most_g=5, axis_cm=10.0)
    known = MeasuredSpecs(Estimate(300), Estimate(32), Estimate(300), 10.0)
    with pytest.raises(SpecError):
        reach(known, SITES, RACKET, most_g=5, axis_cm=10.0, second="twistweight_kgcm2")
