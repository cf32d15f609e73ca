"""What a hand does on the board, as functions from plan to plan."""

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from kentrobar.core.editing import actions
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.weight.pieces import effect_of
from tests.core.frames import PADDLE, RACKET, plan, point, strip, strips


@given(st.floats(0, 12), st.floats(2, 8), st.sampled_from([60.0, 180.0, 330.0]))
def test_a_pair_moves_apart_by_the_gap_on_both_sides(gap, length, minutes):
    """By the length of the rim between its strips, at the end of the head they were nearest to."""
    pair = plan([strip(minutes, length, mirrored=True)])
    moved = actions.move_apart(pair, 1, gap).plan.pieces[0]
    line = RACKET.rim(Face.INNER)
    start, end = moved.stretch(line)
    between = 2 * start if minutes < 200 else line.length - 2 * end
    assert between == pytest.approx(2 * gap, abs=0.02)
    assert moved.total_mass_g == pytest.approx(pair.pieces[0].total_mass_g, abs=0.002)


def test_only_a_pair_moves_apart_and_not_off_the_rim():
    for piece, code in ((strip(60), "no_pair"), (point(2, 30), "no_strip")):
        with pytest.raises(PieceError) as refused:
            actions.move_apart(plan([piece]), 1, 1.0)
        assert refused.value.code == code
    for gap in (-1.0, 60.0):
        with pytest.raises(PieceError):
            actions.move_apart(plan([strip(60, mirrored=True)]), 1, gap)


@given(strips)
def test_the_other_face_comes_round_to_the_first_again(piece):
    """Each face of the frame once, the piece otherwise the same; what it lies on changes its moments."""
    on_plan, seen = plan([piece]), []
    for _ in RACKET.faces:
        seen.append(on_plan.pieces[0].face)
        on_plan = actions.lay_on_other_face(on_plan, 1).plan
    assert set(seen) == set(RACKET.faces)
    assert on_plan.pieces == [piece]


def test_a_paddle_has_its_own_faces():
    on_plan = plan([strip(60, face=Face.OUTER)], outline=PADDLE)
    assert actions.lay_on_other_face(on_plan, 1).plan.pieces[0].face in PADDLE.faces


@given(st.lists(strips, min_size=2, max_size=4), st.floats(3, 65), st.floats(-13, 13))
def test_an_action_leaves_every_other_piece_as_it_is(pieces, y, x):
    """The very same objects, so that what is known of them is kept."""
    before = plan(pieces)
    for done in (
        actions.drag(before, 1, x, y),
        actions.mirror(before, 1),
        actions.lay_on_other_face(before, 1),
    ):
        assert all(a is b for a, b in zip(done.plan.pieces[1:], before.pieces[1:], strict=True))
        assert done.summary
    assert before.pieces == pieces


@given(strips, st.integers(2, 6))
def test_a_divided_strip_weighs_and_lies_as_before(piece, parts):
    assume(piece.length_cm.value / parts > 0.5 and not effect_of(piece, RACKET).overlaps)
    cut = actions.divide(plan([piece]), 1, parts).plan.pieces
    assert len(cut) == parts
    before = effect_of(piece, RACKET).moments
    after = [effect_of(part, RACKET).moments for part in cut]
    assert sum(m.mass for m in after) == pytest.approx(before.mass, rel=0.01)
    assert sum(m.first_y for m in after) == pytest.approx(before.first_y, rel=0.02, abs=0.2)
