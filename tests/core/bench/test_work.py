"""Steps by school, tools, cut lists, marks along the rim, and what a plan costs."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.bench.appraisal import Use, appraise
from kentrobar.core.bench.cutting import ROLL, StripToCut, cuts, in_parts
from kentrobar.core.bench.steps import ORDERS, OrderOfWork, steps_of, tools_of
from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.frame.circumstances import HandleBuild
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate
from kentrobar.core.weight.materials import MaterialKind
from kentrobar.core.weight.piece_of_material import PieceOfMaterial
from kentrobar.core.weight.pieces import Plug, RimStrip, Sleeve, StringBed
from kentrobar.core.weight.prediction import predict
from tests.core.frames import RACKET, REED, pieces, plan, point, stock, strip, strips

PUTTY = Plug(mass_g=Estimate(4.0, 0.05), from_cm=1, to_cm=2)
LAID = [strip(0, 8), PUTTY, point(3, 32, 3, mirrored=True), point(2, 5, removed=True)]
SETTING = {"outline": RACKET, "axis_cm": 10.0}


@given(st.lists(pieces, max_size=6), st.sampled_from(OrderOfWork))
def test_every_school_lays_each_piece_once_and_ends_at_the_plan(laid, order):
    steps = steps_of(plan(laid), order)
    assert sorted(i for step in steps for i in step.pieces) == list(range(len(laid)))
    if steps:
        whole = predict(REED, laid, length_cm=68.58, **SETTING).after
        assert steps[-1].expected.swingweight_kgcm2.value == pytest.approx(whole.swingweight_kgcm2.value)
        assert steps[-1].expected.mass_g.value == pytest.approx(whole.mass_g.value)


@pytest.mark.parametrize(
    ("order", "expected"),
    [
        (OrderOfWork.SWING_FIRST, [(3,), (0,), (1, 2)]),
        (OrderOfWork.BALANCE_FIRST, [(3,), (1,), (2,), (0,)]),
        (OrderOfWork.AT_ONCE, [(3,), (0, 1, 2)]),
        (OrderOfWork.SWING_ALONE, [(3,), (0, 1, 2)]),
    ],
)
def test_schools_differ_in_what_comes_first(order, expected):
    steps = steps_of(plan(LAID), order)
    assert [step.pieces for step in steps] == expected
    assert all(step.read for step in steps)
    assert set(ORDERS) == set(OrderOfWork)


def test_steps_need_no_readings():
    steps = steps_of(plan(LAID[:2], MeasuredSpecs()), OrderOfWork.BALANCE_FIRST)
    assert len(steps) == 2
    assert [step.change.mass_g.value for step in steps] == pytest.approx([4.0, 4.8])


def test_tools_follow_from_what_is_laid():
    bare = tools_of([PieceOfMaterial(point(1, 30))], RACKET, HandleBuild.UNKNOWN)
    full = tools_of(
        [
            PieceOfMaterial(strip(0, 5, face=Face.BUMPER), MaterialKind.LEAD_TAPE),
            PieceOfMaterial(PUTTY, MaterialKind.REMOVABLE_PUTTY),
            PieceOfMaterial(StringBed(mass_g=Estimate(1.0), removed=True)),
        ],
        RACKET,
        HandleBuild.HOLLOW,
    )
    assert set(bare) < set(full)
    for tool in ("gloves", "staple remover", "string cutters", "sharp blade", "cotton"):
        assert any(tool in each for each in full), tool
    through_door = tools_of(
        [PieceOfMaterial(PUTTY, MaterialKind.REMOVABLE_PUTTY)], RACKET, HandleBuild.TRAP_DOOR
    )
    assert any("trap door" in each for each in through_door)
    assert not any("staple" in each for each in through_door)
    cap = tools_of([PieceOfMaterial(PUTTY, MaterialKind.BUTT_CAP)], RACKET, HandleBuild.HOLLOW)
    assert not any("cotton" in each for each in cap)  # a heavier cap rattles no more than the old one


# -- cutting ------------------------------------------------------------------------------

lengths = st.lists(st.floats(0.5, 20).map(lambda v: round(v, 1)), min_size=1, max_size=25)


@given(st.floats(0.2, 12), st.floats(0.05, 0.3), st.booleans())
def test_tape_beside_shaft_and_handle_is_cut_to_its_weight(mass, density, mirrored):
    for piece in (
        strip(0, 8, mirrored=mirrored, layers=2),
        point(mass, 28, 3, mirrored=mirrored),
        Sleeve(mass_g=Estimate(mass), from_cm=4, to_cm=10),
    ):
        cut = piece.tape_lengths(density)
        assert len(set(cut)) == 1  # left and right alike
        if isinstance(piece, RimStrip):
            assert cut == [8.0] * (2 + 2 * mirrored)
        else:
            assert sum(cut) * density == pytest.approx(piece.total_mass_g, rel=0.01, abs=0.001)
        if isinstance(piece, Sleeve):
            assert max(cut) <= 6.0 + 1e-6


@given(lengths, st.floats(20, 60))
def test_all_is_cut_once_and_no_strip_holds_more_than_it_is_long(wanted, sold):
    strips = cuts([StripToCut(i, length) for i, length in enumerate(wanted)], sold)
    made = [cut for each in strips for cut in each.cuts]
    assert sorted(cut.piece for cut in made) == list(range(len(wanted)))
    for each in strips:
        assert sum(cut.length_cm for cut in each.cuts) + each.offcut_cm == pytest.approx(sold)
        assert 0 <= len(each.cuts) - each.strokes <= 1
    fewest = math.ceil(sum(wanted) / sold - 1e-9)
    assert fewest <= len(strips) <= math.ceil(11 / 9 * fewest) + 1


def test_a_strip_that_comes_out_even_saves_a_cut():
    (one,) = cuts([StripToCut(1, 5.08)] * 4, 20.32)
    assert (len(one.cuts), one.strokes) == (4, 3)
    assert one.offcut_cm == pytest.approx(0, abs=1e-6)


def test_a_roll_has_no_end():
    (roll,) = cuts([StripToCut(1, 50), StripToCut(2, 70)], ROLL)
    assert roll.is_roll
    assert cuts([], ROLL) == []


@given(st.floats(0.5, 90), st.floats(5, 40))
def test_what_is_longer_than_a_strip_is_laid_in_parts(length, sold):
    parts = in_parts(length, sold)
    assert sum(parts) == pytest.approx(length, abs=1e-5)
    assert max(parts) <= sold + 1e-5
    assert len(parts) <= length // sold + 1
    if length > sold + 0.1:
        assert min(parts) >= 2.0 - 1e-5
    strips = cuts([StripToCut(3, length)], sold)
    assert sum(cut.length_cm for each in strips for cut in each.cuts) == pytest.approx(length, abs=1e-5)


# -- what it costs ------------------------------------------------------------------------


TAPE = stock(MaterialKind.LEAD_TAPE, density=Estimate(0.1), unit_price=0.02)
SILICONE = stock(MaterialKind.SILICONE, 2, unit_price=0.1)


def test_a_plan_is_appraised():
    uses = [
        Use(strip(180, 10, mirrored=True, layers=2), TAPE),
        Use(PUTTY, SILICONE),
        Use(point(0.4, 33, 3, mirrored=True), TAPE),
    ]
    found = appraise(uses, RACKET)
    assert found.visible == 4 + 2
    assert (found.lasting, found.trial) == (1, 0)
    assert found.money == pytest.approx(40 * 0.02 + 4 * 0.1 + 8 * 0.02)
    assert "stays for good" in found.undo
    unpriced = Use(point(3, 50, 12), stock(MaterialKind.MODULE, 3))
    assert appraise([*uses, unpriced], RACKET).money == NOT_MEASURED


@given(st.lists(st.builds(lambda p: Use(p, TAPE), strips), max_size=5))
def test_more_pieces_never_cost_less(uses):
    all_of_them = appraise(uses, RACKET)
    for fewer in (uses[:-1], uses[1:]):
        some = appraise(fewer, RACKET)
        assert some.minutes <= all_of_them.minutes
        assert some.visible <= all_of_them.visible
        assert some.money <= all_of_them.money + 1e-9
    hidden = [use.piece for use in uses if use.piece.face is Face.BUMPER]
    assert all_of_them.minutes >= (25 if hidden else 0)


def test_what_was_taken_away_must_be_kept_to_undo_it():
    assert "keep it" in appraise([Use(point(2, 5, removed=True))], RACKET).undo
    assert appraise([], RACKET) == (0, (), 0, 0, 0.0, 0.0, "Completely: all of it comes off.")
