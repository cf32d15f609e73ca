"""Moments of the pieces against sums over small parts of them."""

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.body.moments import Moments
from kentrobar.core.frame.places import HeightPlace
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.errors import OutlineError, PieceError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.weight.pieces import Plug, RimStrip, Sleeve, effect_of
from tests.core.frames import PADDLE, RACKET, pieces, point, strip


def grains(parts):
    """Moments of many grains (m, x, y, z)."""
    total = Moments()
    for m, x, y, z in parts:
        total = total.plus(Moments(m, m * y, m * (y * y + z * z), m * (x * x + z * z), m * x))
    return total


@pytest.mark.parametrize("face", list(Face))
@pytest.mark.parametrize("both_faces", [False, True])
def test_strip_is_the_sum_of_its_grains(face, both_faces):
    laid = strip(100.0, 9.0, face=face, both_faces=both_faces)
    line, z, n = RACKET.rim(face), RACKET.face_heights_cm[face], 4000
    start, end = laid.stretch(line)
    middles = [line.point(start + (end - start) * (i + 0.5) / n) for i in range(n)]
    sides = (z, -z) if both_faces else (z,)
    sum_of_grains = grains((0.9 / n, p.x, p.y, side) for p in middles for side in sides)
    assert effect_of(laid, RACKET).moments == pytest.approx(sum_of_grains, rel=1e-7)


@pytest.mark.parametrize(("kind", "radii"), [(Sleeve, [1.6]), (Plug, [(i + 0.5) / 20 for i in range(20)])])
def test_handle_bodies_are_the_sum_of_their_grains(kind, radii):
    """A sleeve is one ring, a plug of radius 1 is rings of growing weight."""
    radius = 1.6 if kind is Sleeve else 1.0
    rings, slices, weight = 24, 150, sum(radii)
    parts = [
        (
            12.0 * r / weight / rings / slices,
            r * math.cos(2 * math.pi * k / rings),
            2 + 6 * (i + 0.5) / slices,
            r * math.sin(2 * math.pi * k / rings),
        )
        for r in radii
        for k in range(rings)
        for i in range(slices)
    ]
    laid = kind(mass_g=Estimate(12.0), from_cm=2, to_cm=8, radius_cm=radius)
    expected = grains(parts)
    assert effect_of(laid, None).moments == pytest.approx(expected, rel=2e-3, abs=1e-6)
    assert effect_of(laid, None).moments.second_yz == pytest.approx(expected.second_yz, rel=1e-4)


def test_mirrored_strips_at_twelve_start_at_the_gap():
    line = RACKET.rim(Face.INNER)
    assert strip(0, 8, mirrored=True).stretch(line) == (0, 8)
    assert strip(0, 8, mirrored=True, gap_cm=1.5).stretch(line) == (1.5, 9.5)
    start, end = strip(360, 8, mirrored=True, gap_cm=1).stretch(line)
    assert (start, end) == pytest.approx((line.half_length - 9, line.half_length - 1))
    assert strip(0, 8).stretch(line) == (-4, 4)


@pytest.mark.parametrize(("minutes", "overlap"), [(180, False), (8, True), (355, True), (0, False)])
def test_overlapping_pair_is_noticed(minutes, overlap):
    assert effect_of(strip(minutes, 10, mirrored=True), RACKET).overlaps is overlap


def test_place_by_height_is_the_place_by_clock():
    line = RACKET.rim(Face.INNER)
    by_height = RimStrip(at=HeightPlace(52.0), length_cm=Estimate(10, 0.1), g_per_cm=Estimate(0.1, 0.002))
    by_clock = strip(line.clock_at(line.at_y(52.0)), 10)
    assert effect_of(by_height, RACKET).moments == pytest.approx(effect_of(by_clock, RACKET).moments)


def test_weighed_strip_equals_one_of_that_density():
    weighed = replace(strip(60, 10), g_per_cm=strip(0).mass_g, mass_g=Estimate(1.0, 0.05))
    assert effect_of(weighed, RACKET).moments == pytest.approx(effect_of(strip(60, 10), RACKET).moments)


@given(pieces)
def test_total_mass_is_the_moments_mass(piece):
    assert piece.total_mass_g == pytest.approx(effect_of(piece, RACKET).moments.mass)


@given(st.floats(0, 340), st.booleans())
def test_paddle_edge_is_laid_like_a_hoop(minutes, mirrored):
    laid = strip(minutes, 1.0, face=Face.OUTER, mirrored=mirrored)
    m = effect_of(laid, PADDLE).moments
    assert 13.0 <= m.balance_cm <= 41.9 + 1e-9
    assert m.mass == pytest.approx(0.1 * (1 + mirrored))


@pytest.mark.parametrize(
    "make",
    [
        lambda: point(-1, 10),
        lambda: point(1e4, 10),
        lambda: strip(0, 0),
        lambda: strip(0, 5, g_per_cm=Estimate(0)),
        lambda: strip(0, 5, mass_g=Estimate(1)),
        lambda: strip(0, 5, gap_cm=-1),
        lambda: Sleeve(mass_g=Estimate(5), from_cm=8, to_cm=8),
        lambda: Plug(mass_g=Estimate(5), from_cm=1, to_cm=8, radius_cm=9),
    ],
)
def test_impossible_pieces_say_what_is_wrong(make):
    with pytest.raises(PieceError) as refused:
        make()
    assert refused.value.field
    assert refused.value.message.endswith(".")


def test_strip_needs_an_outline_and_room():
    with pytest.raises(PieceError, match="outline"):
        effect_of(strip(0), None)
    with pytest.raises(OutlineError, match="longer than the rim"):
        effect_of(strip(0, 150), RACKET)
