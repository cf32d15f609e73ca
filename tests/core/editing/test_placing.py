"""Moving pieces by hand, and the places a frame has."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.frame.places import Toward, nearest_on_rim
from kentrobar.core.frame.rim import Face
from kentrobar.core.frame.silhouette import silhouette_of
from kentrobar.core.frame.sites import sites_of
from kentrobar.core.weight.pieces import effect_of
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
