"""An aim typed at a spec, met by one piece; beside a search over every step there is."""

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.editing.actions import hold_balance, meet_aim
from kentrobar.core.editing.balancing import COUNTERWEIGHT
from kentrobar.core.editing.goal_seek import By, OutOfReachError, Want, meet
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.errors import SpecError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.weight.materials import MaterialKind
from kentrobar.core.weight.pieces import Plug
from kentrobar.core.weight.prediction import predict
from tests.core.frames import PADDLE, RACKET, REED, plan, point, stock, strip

SWING, TWIST, MASS, BALANCE = "swingweight_kgcm2", "twistweight_kgcm2", "mass_g", "balance_cm"
SHELF = Shelf([stock(MaterialKind.TUNGSTEN_TAPE), stock(MaterialKind.REMOVABLE_PUTTY, 2)])


def change_of(piece, spec):
    found = predict(REED, [piece], length_cm=68.58, axis_cm=10.0, outline=RACKET)
    return getattr(found.change, spec).value


PIECES = [
    strip(0, 6, mirrored=True),
    strip(60, 6, mirrored=True),
    strip(150, 8),
    point(4, 55, 5, mirrored=True),
    Plug(mass_g=Estimate(6.0), from_cm=2.5, to_cm=6.0),
]


@given(st.sampled_from(PIECES), st.integers(-30, 60), st.sampled_from([SWING, TWIST, MASS]))
def test_a_piece_grows_to_the_step_nearest_to_the_aim(piece, steps, spec):
    """Whatever a hand could make of it by so many steps is found again from what that comes to."""
    wanted = piece.grown(RACKET, steps)
    aim = change_of(wanted, spec)
    assume(abs(aim - change_of(piece, spec)) > 1e-3)
    found = meet(plan([piece]), 1, Want(spec, aim, is_change=True), By.AMOUNT)
    # About the swing axis putty does nearly nothing: there several steps come to the same.
    assert change_of(found, spec) == pytest.approx(aim, abs=1e-3)
    if not isinstance(piece, Plug):
        assert found.one_mass_g == pytest.approx(wanted.one_mass_g, abs=1e-6)


@given(st.floats(150, 320))
def test_a_strip_moves_to_where_the_swing_weight_is_met(minutes):
    piece = strip(120, 6, mirrored=True, face=Face.INNER)
    aim = change_of(strip(minutes, 6, mirrored=True), SWING)
    found = meet(plan([piece]), 1, Want(SWING, aim, is_change=True), By.PLACE)
    a_step = 0.1 * 6 * 0.1 * 2 * 2 * 60 / 1000  # of a millimetre at most: grams, twice the lever
    assert change_of(found, SWING) == pytest.approx(aim, abs=a_step)
    assert found.total_mass_g == pytest.approx(piece.total_mass_g)


def test_a_value_and_a_change_are_the_same_aim():
    piece = strip(60, 6, mirrored=True)
    by_value = meet(plan([piece]), 1, Want(SWING, 321.0, is_change=False), By.AMOUNT)
    by_change = meet(plan([piece]), 1, Want(SWING, 3.0, is_change=True), By.AMOUNT)
    assert by_value == by_change


@pytest.mark.parametrize(
    ("spec", "aim", "by"),
    [(SWING, 60.0, By.AMOUNT), (SWING, -3.0, By.AMOUNT), (SWING, 9.0, By.PLACE), (BALANCE, -2.0, By.PLACE)],
)
def test_beyond_its_limit_it_says_what_the_piece_can_do(spec, aim, by):
    """No step of those that a hand could make goes beyond what is said; the ends are met."""
    piece = strip(60, 6, mirrored=True)
    with pytest.raises(OutOfReachError) as refused:
        meet(plan([piece]), 1, Want(spec, aim, is_change=True), by)
    least, most = refused.value.least, refused.value.most
    assert least < most
    assert not least <= aim <= most
    for end in (least, most):
        met = meet(plan([piece]), 1, Want(spec, end, is_change=True), by)
        assert change_of(met, spec) == pytest.approx(end, abs=0.05)
    for steps in range(-50, 100, 7):
        if by is By.AMOUNT and piece.grown(RACKET, steps).extent_cm < 20:
            assert least - 1e-9 <= change_of(piece.grown(RACKET, steps), spec) <= most + 1e-9


def test_a_pair_grows_no_farther_than_where_its_strips_meet():
    piece = strip(15, 2, mirrored=True)
    with pytest.raises(OutOfReachError) as refused:
        meet(plan([piece]), 1, Want(MASS, 12.0, is_change=True), By.AMOUNT)
    met = meet(plan([piece]), 1, Want(MASS, refused.value.most, is_change=True), By.AMOUNT)
    start, _ = met.stretch(RACKET.rim(met.face))
    assert 0 <= start < 0.1


def test_what_was_never_read_is_met_by_its_change_alone():
    scale_only = plan([strip(60, 6, mirrored=True)], measured=MeasuredSpecs(mass_g=Estimate(310)))
    with pytest.raises(SpecError, match="with its sign"):
        meet(scale_only, 1, Want(SWING, 322.0, is_change=False), By.AMOUNT)
    done = meet_aim(scale_only, 1, Want(SWING, 5.0, is_change=True), By.AMOUNT)
    assert done.plan.prediction.change.swingweight_kgcm2.value == pytest.approx(5.0, abs=0.1)


def test_on_a_paddle_too():
    start = plan(
        [strip(120, 5, face=Face.OUTER, mirrored=True)],
        measured=MeasuredSpecs(Estimate(225.0), Estimate(23.8), Estimate(112.0), 5.0),
        outline=PADDLE,
        axis_cm=5.0,
    )
    done = meet_aim(start, 1, Want(SWING, 114.0, is_change=False), By.AMOUNT)
    assert done.plan.prediction.after.swingweight_kgcm2.value == pytest.approx(114.0, abs=0.05)


def test_holding_the_balance_again_lays_its_own_piece_anew():
    """Grown in the head, held, grown, held: one counterweight, as if it had been laid once."""
    done = hold_balance(plan([strip(0, 6, mirrored=True)]), SHELF)
    longer = meet_aim(done.plan, 1, Want(MASS, 4.0, is_change=True), By.AMOUNT).plan
    again = hold_balance(longer, SHELF).plan
    once = hold_balance(longer.only([1]), SHELF).plan
    assert [p.label for p in again.pieces].count(COUNTERWEIGHT) == 1
    assert again.prediction.change.mass_g.value == pytest.approx(once.prediction.change.mass_g.value)
    assert again.prediction.change.balance_cm.value == pytest.approx(0.0, abs=0.007)
    assert hold_balance(again, SHELF).plan.pieces == again.pieces
    alone = again.without(1)
    assert not hold_balance(alone, SHELF).plan.placed
