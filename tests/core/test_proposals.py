"""From a wish in words to plans that can be laid."""

import pytest

from kentrobar.core.estimates import Estimate
from kentrobar.core.goals import GOALS
from kentrobar.core.matching import Aim
from kentrobar.core.pieces import RimStrip
from kentrobar.core.plans import predict
from kentrobar.core.proposals import SCHOOLS, Supply, propose, sites_to_use
from kentrobar.core.specs import MeasuredSpecs
from tests.core.frames import PADDLE, RACKET, REED

SUPPLY = Supply("Lead tape", Estimate(0.2, 0.004), "Putty")
MUDLARK = MeasuredSpecs(Estimate(225, 0.1), Estimate(23.8, 0.05), Estimate(112, 1), 5.0,
                        Estimate(6.1, 0.2))  # fmt: skip


def wished(key, measured, outline, axis_cm):
    now = predict(measured, [], length_cm=outline.length_cm, axis_cm=axis_cm).before
    targets = GOALS[key].targets(now, outline is RACKET)
    return Aim({n: (v - u, v + u) for n, (v, u) in targets.items()}, axis_cm)


@pytest.mark.parametrize("key", GOALS)
@pytest.mark.parametrize(
    ("measured", "outline", "axis"), [(REED, RACKET, 10.0), (MUDLARK, PADDLE, 5.0)]
)
def test_every_wish_is_reached_by_all_that_is_proposed(key, measured, outline, axis):
    aim = wished(key, measured, outline, axis)
    found, first = propose(measured, outline, aim, SUPPLY)
    assert bool(found) == first.is_feasible
    assert found or first.reasons
    for proposal in found:
        for name, (low, high) in aim.bounds.items():
            value = getattr(proposal.prediction.after, name).value
            assert low - 1e-6 <= value <= high + 1e-6
        assert proposal.found.added_g >= found[0].found.added_g - 1e-6
        assert all(p.material in ("Lead tape", "Putty") for p in proposal.pieces)
    assert len({tuple(p.pieces) for p in found}) == len(found) <= 3


def test_quicker_never_means_a_lower_swing_weight():
    aim = wished("quicker", REED, RACKET, 10.0)
    found, _ = propose(REED, RACKET, aim, SUPPLY)
    for proposal in found:
        assert proposal.prediction.change.balance_cm.value < -0.4
        assert proposal.prediction.change.swingweight_kgcm2.value >= 0


def test_schools_keep_to_their_sites():
    aim = wished("hold", REED, RACKET, 10.0)
    sites = sites_to_use(RACKET, SUPPLY)
    labels = {sites[key].label for key in SCHOOLS["polarized"].sites if key in sites}
    found, _ = propose(REED, RACKET, aim, SUPPLY)
    polarized = next(p for p in found if p.key == "polarized")
    assert {piece.label for piece in polarized.pieces} <= labels
    assert polarized.visible == sum(
        1 + p.mirrored for p in polarized.pieces if isinstance(p, RimStrip)
    )


def test_unknown_specs_are_left_out_of_a_wish():
    scale_only = MeasuredSpecs(Estimate(300, 0.1), Estimate(32, 0.1))
    now = predict(scale_only, [], length_cm=68.58, axis_cm=10).before
    assert set(GOALS["heavier"].targets(now, True)) == {"mass_g"}
