"""Moving pieces by hand, and the places a frame has."""

import math
import re
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.editing.placing import AtSite, HeightPosition, Order, Share, ordered
from kentrobar.core.editing.shelf import Stock
from kentrobar.core.frame.places import Toward, nearest_on_rim
from kentrobar.core.frame.rim import Face
from kentrobar.core.frame.silhouette import silhouette_of
from kentrobar.core.frame.sites import FULL_EDGE, sites_of
from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.weight.materials import KINDS, MaterialKind
from kentrobar.core.weight.pieces import PointPiece, Sleeve, effect_of
from tests.core.frames import PADDLE, RACKET, pieces, plugs, point, strip


@given(st.floats(-20, 20), st.floats(20, 75), st.sampled_from([RACKET, PADDLE]))
def test_nearest_point_of_the_rim_is_nearest(x, y, outline):
    line = outline.rim(Face.OUTER)
    _, distance = nearest_on_rim(outline, Face.OUTER, x, y)
    everywhere = line.polyline(-line.half_length, line.half_length, spacing=0.05)
    # On the long axis both sides are equally near: to 0.01 mm either is right.
    assert distance <= min(math.dist((x, y), p) for p in everywhere) + 1e-3


@pytest.mark.parametrize("minutes", [70, 130, 200, 300, 500, 650])
def test_nudging_a_strip_moves_it_1_mm_along_the_rim(minutes):
    line = RACKET.rim(Face.INNER)
    before = line.at_clock(minutes)
    after = line.at_clock(strip(minutes).nudged(RACKET, Toward.TIP, 0.1).at.minutes)
    assert abs(after - before) == pytest.approx(0.1, abs=1e-4)
    assert line.point(after).y > line.point(before).y


def test_nudging_toward_the_tip_stops_there():
    laid = strip(2.0)
    for _ in range(5):
        laid = laid.nudged(RACKET, Toward.TIP, 1.0)
    assert laid.at.minutes == 0
    assert laid.nudged(RACKET, Toward.TIP, 1.0) == laid
    assert laid.nudged(RACKET, Toward.LEFT, 1.0).at.minutes > 700


@given(pieces, st.sampled_from(list(Toward)), st.floats(0, 30))
def test_a_nudged_piece_stays_on_the_frame(piece, toward, by_cm):
    moved = effect_of(piece.nudged(RACKET, toward, by_cm), RACKET).moments
    assert -0.01 <= moved.balance_cm <= 68.6
    assert moved.mass == pytest.approx(effect_of(piece, RACKET).moments.mass)


@given(pieces, st.floats(-40, 40), st.floats(-20, 90), st.sampled_from([RACKET, PADDLE]))
def test_a_dragged_piece_lies_somewhere_real(piece, x, y, outline):
    if getattr(piece, "face", None) is Face.BUMPER:
        piece = strip(100)
    laid = piece.dragged(outline, x, y)
    if outline is RACKET or getattr(laid, "length_cm", (0,))[0] < outline.rim(Face.OUTER).length - 1:
        assert 0 <= effect_of(laid, outline).moments.balance_cm <= outline.length_cm + 1e-9


def test_compact_pieces_follow_rim_shaft_and_handle():
    piece = point(2, 52, 12.9, mirrored=True)
    on_rim = piece.dragged(RACKET, 11, 60)
    assert nearest_on_rim(RACKET, Face.OUTER, on_rim.x_cm, on_rim.y_cm)[1] < 0.02
    on_shaft = piece.dragged(RACKET, 3, 28)
    assert 0.7 < on_shaft.x_cm < 8
    assert on_shaft.mirrored
    on_handle = piece.dragged(RACKET, 1, 5)
    assert (on_handle.x_cm, on_handle.mirrored) == (0, True)  # the pair stays a pair


def test_growing_is_1_mm_or_a_tenth_of_a_gram():
    assert strip(60, 6.0).grown(RACKET, 3).length_cm.value == pytest.approx(6.3)
    assert strip(60, 6.0).grown(RACKET, -100).length_cm.value == pytest.approx(0.5)
    assert point(2, 5).grown(RACKET, 1).mass_g.value == pytest.approx(2.1)
    assert point(0.2, 5).grown(RACKET, -9).mass_g.value == pytest.approx(0.1)


@given(plugs)
def test_more_putty_makes_a_longer_plug(plug):
    more = plug.grown(RACKET, 5)
    assert more.mass_g.value > plug.mass_g.value
    assert more.to_cm - more.from_cm > plug.to_cm - plug.from_cm - 0.01


def test_mirroring_twice_is_nothing():
    assert strip(60).mirror_toggled().mirror_toggled() == strip(60)
    assert strip(60).mirror_toggled().mirrored


@pytest.mark.parametrize("outline", [RACKET, PADDLE])
def test_sites_lie_on_the_frame(outline):
    sites = sites_of(outline)
    assert len({site.key for site in sites}) == len(sites)
    for site in sites:
        assert 0 <= site.y_cm <= outline.length_cm
        if site.clock:
            line = outline.rim(Face.OUTER)
            assert line.point(line.at_clock(site.clock.minutes)).y == pytest.approx(site.y_cm)


@pytest.mark.parametrize("outline", [RACKET, PADDLE])
def test_drawing_stays_within_the_frame(outline):
    shapes = silhouette_of(outline)
    every = [p for path in [*shapes.body, shapes.handle, *shapes.strings] for p in path]
    assert max(p.y for p in every) <= outline.length_cm + 1e-6
    assert min(p.y for p in every) >= 0
    left, right = strip(100, face=Face.OUTER, mirrored=True).paths(outline)
    assert [(-x, y) for x, y in right] == [tuple(p) for p in left]


# -- what is laid is what was typed --------------------------------------------------------


def stock(kind):
    facts = KINDS[kind]
    weight = {"density": Estimate(0.1, 0.002), "g_cm3": 2.0, "each_g": 2.0}
    return Stock(key=1, name=kind.value, kind=kind, facts=facts, **weight)


TAPE = stock(MaterialKind.LEAD_TAPE)


@pytest.mark.parametrize("outline", [RACKET, PADDLE])
@pytest.mark.parametrize("share", list(Share))
@pytest.mark.parametrize(("layers", "both_faces"), [(1, False), (3, False), (2, True)])
@pytest.mark.parametrize("mirrored", [False, True])
def test_all_that_was_typed_is_laid(outline, share, layers, both_faces, mirrored):
    """At every named place, told of one strip, of a side or of all; what does not fit is refused."""
    order = Order(TAPE, 3.0, outline.usual_face, mirrored, both_faces=both_faces, layers=layers, share=share)
    at_each_side = layers * (2 if both_faces else 1)
    for site in sites_of(outline, Estimate(32.0, 0.1)):
        (piece,), _ = ordered(order, AtSite(site.key), outline, Estimate(32.0, 0.1))
        strips = {Share.ONE: piece.sides * at_each_side, Share.SIDE: piece.sides, Share.ALL: 1}[share]
        assert piece.total_mass_g == pytest.approx(0.3 * strips), site.key
        assert piece.sides == (2 if mirrored and site.mirrored else 1)


@pytest.mark.parametrize("outline", [RACKET, PADDLE])
@pytest.mark.parametrize("both_faces", [False, True])
@pytest.mark.parametrize("mirrored", [False, True])
@pytest.mark.parametrize("count", [1, 2, 4, 6])
def test_so_many_strips_are_placed_as_were_counted_or_none(outline, both_faces, mirrored, count):
    order = Order(TAPE, 3.0, outline.usual_face, mirrored, both_faces=both_faces, count=count)
    for site in sites_of(outline, Estimate(32.0, 0.1)):
        places = (2 if mirrored and site.mirrored else 1) * (2 if both_faces else 1)
        if count % places:
            with pytest.raises(PieceError, match="cannot be shared evenly"):
                ordered(order, AtSite(site.key), outline, Estimate(32.0, 0.1))
        else:
            (piece,), _ = ordered(order, AtSite(site.key), outline, Estimate(32.0, 0.1))
            assert piece.total_mass_g == pytest.approx(0.3 * count), site.key


def test_a_count_is_shared_by_all_corners_and_by_both_sides_of_the_edge():
    pieces_, _ = ordered(Order(TAPE, 3.0, Face.OUTER, True, count=8), AtSite("all_corners"), PADDLE)
    assert [piece.layers for piece in pieces_] == [2, 2]
    (edge,), _ = ordered(Order(TAPE, 3.0, Face.OUTER, True, count=4), AtSite(FULL_EDGE), PADDLE)
    assert edge.layers == 2
    with pytest.raises(PieceError, match="use 8 or 4"):
        ordered(Order(TAPE, 3.0, Face.OUTER, True, count=6), AtSite("all_corners"), PADDLE)


def test_counted_strips_lie_side_by_side_under_the_grip():
    (piece,), _ = ordered(Order(TAPE, 10.0, Face.INNER, True, count=4), AtSite("handle_top"), RACKET)
    assert piece.tape_lengths(TAPE.density.value) == [10.0] * 4


def test_a_count_and_other_layers_contradict_each_other():
    with pytest.raises(PieceError, match="4 strips make 2 layers there, not 3"):
        ordered(Order(TAPE, 3.0, Face.INNER, True, layers=3, count=4), AtSite("three_nine"), RACKET)


def test_the_full_edge_takes_its_layers_and_says_what_it_weighs():
    order = Order(TAPE, 10.0, Face.OUTER, True, layers=2)
    (piece,), _ = ordered(order, AtSite(FULL_EDGE), PADDLE)
    assert piece.layers == 2
    of_all = replace(order, amount=10.0, share=Share.ALL)
    with pytest.raises(PieceError, match=f"{piece.total_mass_g:.1f} g"):
        ordered(of_all, AtSite(FULL_EDGE), PADDLE)
    (same,), _ = ordered(replace(of_all, amount=piece.total_mass_g / 0.1), AtSite(FULL_EDGE), PADDLE)
    assert same == piece


def test_a_strip_too_long_for_its_place_is_refused_with_how_long_it_may_be():
    order = Order(TAPE, 20.0, Face.OUTER, True)
    with pytest.raises(PieceError, match="at most") as refused:
        ordered(order, AtSite("throat_edge"), PADDLE)
    longest = float(re.search(r"at most ([\d.]+) cm", refused.value.message)[1])
    (piece,), _ = ordered(replace(order, amount=longest - 0.1), AtSite("throat_edge"), PADDLE)
    site = next(each for each in sites_of(PADDLE) if each.key == "throat_edge")
    assert piece.anchor(PADDLE).y == pytest.approx(site.y_cm, abs=1.05)


@pytest.mark.parametrize("face", [Face.INNER, Face.OUTER])
@pytest.mark.parametrize(("outline", "y_cm"), [(RACKET, 62.0), (RACKET, 45.0), (PADDLE, 30.0)])
def test_what_is_typed_by_its_distance_lies_there(outline, y_cm, face):
    if outline is PADDLE and face is Face.INNER:
        face = Face.OUTER
    (piece,), _ = ordered(Order(TAPE, 2.0, face, True), HeightPosition(y_cm, "typed"), outline)
    assert piece.anchor(outline).y == pytest.approx(y_cm, abs=1e-3)


@pytest.mark.parametrize(("y_cm", "kind"), [(8.0, Sleeve), (28.0, PointPiece)])
def test_a_distance_on_handle_or_shaft_is_taken_too(y_cm, kind):
    (piece,), _ = ordered(Order(TAPE, 4.0, Face.INNER, False), HeightPosition(y_cm, "typed"), RACKET)
    assert isinstance(piece, kind)
    assert effect_of(piece, RACKET).centre_cm == pytest.approx(y_cm, abs=1e-3)
