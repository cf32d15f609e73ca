"""What another one in a fitting's place does, against the board's own exchange and against sums by hand."""

import math

import pytest

from kentrobar.core.body.sport import Sport
from kentrobar.core.editing.actions import exchange
from kentrobar.core.editing.alternatives import alternatives, edge_tapes
from kentrobar.core.editing.plan import Baseline
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.frame.anatomy import EDGE_TAPE_PART
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.weight.builds import USUAL_FITTINGS, Fitting, FittingKind, full_edge_cm
from kentrobar.core.weight.materials import MaterialKind
from kentrobar.core.weight.together import is_put_on, put_on_usual
from tests.core.frames import PADDLE, RACKET, REED, plan, stock


def fitting(kind, grams, key=1, **more):
    return Fitting(key=key, kind=kind, label=f"{kind} {grams:g}", mass_g=Estimate(grams, 0.1), **more)


@pytest.mark.parametrize(
    "kind", [FittingKind.STRINGS, FittingKind.GRIP, FittingKind.OVERGRIP, FittingKind.DAMPENER]
)
def test_what_is_compared_is_what_an_exchange_on_the_board_brings(kind):
    old, lighter, heavier = (fitting(kind, grams, key) for grams, key in ((10.0, 1), (7.5, 8), (13.0, 9)))
    others = [fitting(FittingKind.BUTT_CAP, 8.0, 3)]
    found = alternatives(REED, [old, *others], old, [heavier, lighter], outline=RACKET, axis_cm=10.0)
    assert [each.fitting for each in found] == [lighter, heavier]
    for each in found:
        laid = plan([], fitted=(old, *others))
        change = exchange(laid, old.key, each.fitting).plan.prediction.change
        for name in ("mass_g", "balance_cm", "swingweight_kgcm2", "twistweight_kgcm2"):
            assert getattr(each.change, name).value == pytest.approx(getattr(change, name).value, abs=1e-6)


def test_only_what_goes_round_the_handle_changes_the_grip():
    thick, thin = (
        fitting(FittingKind.OVERGRIP, 5.5, k, thickness_mm=Estimate(mm, 0.1))
        for k, mm in ((1, 0.6), (2, 0.4))
    )
    (found,) = alternatives(REED, [thick], thick, [thin], outline=RACKET, axis_cm=10.0)
    assert found.grip_mm.value == pytest.approx(-2 * math.pi * 0.2)
    strings = fitting(FittingKind.STRINGS, 16.0)
    (found,) = alternatives(
        REED, [strings], strings, [fitting(FittingKind.STRINGS, 15.0, 2)], outline=RACKET, axis_cm=10.0
    )
    assert found.grip_mm is None


def test_edge_tape_is_told_by_its_length_round_the_edge():
    tape = stock(MaterialKind.EDGE_TAPE)
    (found,) = edge_tapes(PADDLE, Shelf([tape, stock(MaterialKind.LEAD_TAPE, 2)]))
    line = PADDLE.rim(found.body(PADDLE).face)
    assert full_edge_cm(PADDLE) == pytest.approx(2 * EDGE_TAPE_PART * line.half_length)
    assert found.mass_g.value == pytest.approx(tape.density.value * full_edge_cm(PADDLE))
    assert found.body(PADDLE).extent_cm == pytest.approx(full_edge_cm(PADDLE))
    assert not list(edge_tapes(RACKET, Shelf([tape])))


@pytest.mark.parametrize("sport", list(Sport))
def test_all_accessories_together_are_the_sum_of_their_masses_and_inertias(sport):
    usual = [
        fitting(kind, each.mass_g, number)
        for number, (kind, each) in enumerate(USUAL_FITTINGS.items(), 1)
        if is_put_on(fitting(kind, 1.0), sport)
    ]
    assert {FittingKind.OVERGRIP} <= {each.kind for each in usual}
    assert FittingKind.BUTT_CAP not in {each.kind for each in usual}
    found = put_on_usual(sport, usual)
    for name in ("mass_g", "swingweight_kgcm2", "twistweight_kgcm2"):
        alone = sum(getattr(line.change, name).value for line in found.ledger)
        assert getattr(found.prediction.change, name).value == pytest.approx(alone, abs=1e-6)
    assert found.prediction.change.mass_g.value == pytest.approx(sum(each.mass_g.value for each in usual))


def test_a_baseline_has_no_ceiling_unless_somebody_sets_one():
    assert Baseline(RACKET, REED).ceiling_g == math.inf
