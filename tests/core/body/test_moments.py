"""Worked numbers of the physics contract, and what must hold for every body."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.body.moments import Moments, moments_from_specs, swingweight_at_axis
from kentrobar.core.quantities.units import points_headlight
from kentrobar.core.weight.pieces import effect_of
from tests.core.frames import RACKET, pieces, point

FRAME = moments_from_specs(310.0, 32.40, 318.0, 10.0, 13.60)


def test_worked_racket():
    assert FRAME.recoil_kgcm2 == pytest.approx(162.454, abs=5e-4)
    assert FRAME.gyration_cm == pytest.approx(22.8921, abs=5e-5)
    assert points_headlight(FRAME.balance_cm, 68.58) == pytest.approx(5.9528, abs=5e-5)
    assert FRAME.swingweight_kgcm2(10.16) == pytest.approx(315.7859, abs=5e-5)
    assert FRAME.swingweight_kgcm2(5.0) == pytest.approx(395.1900, abs=5e-5)
    assert FRAME.spinweight_kgcm2(10.0) == pytest.approx(331.6)
    assert FRAME.mgr_per_i(10.0) == pytest.approx(980.665 * 310 * 22.4 / 318_000)


def test_worked_pieces():
    head = effect_of(point(1.5, 52.0, 12.2, mirrored=True), None).moments
    butt = effect_of(point(4.0, 1.8), None).moments
    laid = FRAME.plus(head).plus(butt)
    assert laid.mass == pytest.approx(317.0)
    assert laid.balance_cm == pytest.approx(32.1994, abs=5e-5)
    assert laid.swingweight_kgcm2(10.0) == pytest.approx(323.5610, abs=5e-5)
    assert laid.twistweight_kgcm2 == pytest.approx(14.0465, abs=5.1e-5)
    assert laid.recoil_kgcm2 == pytest.approx(167.3396, abs=5e-5)


def test_worked_paddle():
    assert swingweight_at_axis(112.0, 5.0, 225.0, 23.80, 10.0) == pytest.approx(75.3250, abs=5e-5)
    assert moments_from_specs(225.0, 23.8, 112.0, 5.0).recoil_kgcm2 == pytest.approx(32.4760, abs=5e-5)


@given(st.floats(-10, 30), st.floats(-10, 30))
def test_axis_change_is_reversible(there, back):
    changed = swingweight_at_axis(318.0, back, 310.0, 32.4, there)
    assert swingweight_at_axis(changed, there, 310.0, 32.4, back) == pytest.approx(318.0)


@given(pieces)
def test_adding_then_removing_leaves_the_frame(piece):
    """Moments cancel exactly but for the last bits of the sums."""
    added = FRAME.plus(effect_of(piece, RACKET).moments)
    restored = added.plus(effect_of(replace(piece, removed=True), RACKET).moments)
    for mine, frames in zip(restored, FRAME, strict=True):
        assert mine == pytest.approx(frames, rel=1e-12, abs=1e-9)


@given(st.lists(pieces, min_size=2, max_size=5), st.randoms())
def test_order_does_not_matter(laid, random):
    shuffled = random.sample(laid, len(laid))
    one, other = Moments(), Moments()
    for first, second in zip(laid, shuffled, strict=True):
        one = one.plus(effect_of(first, RACKET).moments)
        other = other.plus(effect_of(second, RACKET).moments)
    assert one == pytest.approx(other, rel=1e-12, abs=1e-9)


@given(pieces)
def test_mirrored_pieces_leave_left_and_right_even(piece):
    aside = effect_of(piece, RACKET).moments.first_x
    one = effect_of(piece.alone(), RACKET).moments.first_x
    assert aside == (0 if piece.sides > 1 else one)
    if piece.can_be_pair and piece.sides == 1:
        assert effect_of(piece.mirror_toggled(), RACKET).moments.first_x == 0


@given(pieces, st.floats(-5, 30))
def test_added_mass_never_lowers_swing_weight(piece, axis_cm):
    added = effect_of(piece, RACKET).moments
    assert added.swingweight_kgcm2(axis_cm) >= -1e-12
    assert added.mass > 0
