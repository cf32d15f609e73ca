"""Rims: area, clock, height, arc length, and integrals against fine quadrature."""

import itertools
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import quad

from kentrobar.core.frame.clock import CLOCK_MINUTES, clock_text, parse_clock
from kentrobar.core.frame.outline import PaddleDimensions, RacketDimensions, head_from_size, outline_of
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.errors import OutlineError
from tests.core.frames import PADDLE, RACKET

LINES = [
    pytest.param(outline.rim(face), id=f"{outline.sport.value} {face.value}")
    for outline in (RACKET, PADDLE)
    for face in outline.faces
]


@pytest.mark.parametrize("size_in2", [85, 95, 98, 100, 104, 110])
def test_head_area_is_the_given_head_size(size_in2):
    size = size_in2 * 6.4516
    length, width = head_from_size(size)
    for wider in (0.97, 1.0, 1.03):
        dimensions = RacketDimensions(68.58, length, width * wider, 23, 18, size)
        assert outline_of(dimensions).head_area_cm2 == pytest.approx(size, rel=0.002)


def test_paddle_area_by_elementary_geometry():
    """Rectangle less two rounded corners, and half an ellipse's quarter under each shoulder."""
    r, shoulder, half, flat = 4.0, 5.0, 9.5, 41.9 - 13.0
    upper = 2 * half * (flat - shoulder) - (2 - math.pi / 2) * r**2
    lower = 2 * 1.6 * shoulder + math.pi / 2 * (half - 1.6) * shoulder
    assert PADDLE.head_area_cm2 == pytest.approx(upper + lower, rel=1e-5)


@pytest.mark.parametrize("line", LINES)
@pytest.mark.parametrize(("start", "end"), [(-0.9, -0.2), (-0.31, 0.45), (0.1, 0.12), (0.4, 0.99)])
def test_integrals_agree_with_fine_quadrature(line, start, end):
    start, end = start * line.half_length, end * line.half_length
    sums = line.sums(start, end)
    for name, integrand in {
        "y": lambda s: line.point(s).y,
        "yy": lambda s: line.point(s).y ** 2,
        "xx": lambda s: line.point(s).x ** 2,
        "x": lambda s: line.point(s).x,
    }.items():
        fine, _ = quad(integrand, start, end, epsabs=0, epsrel=1e-11, limit=400)
        assert getattr(sums, name) == pytest.approx(fine, rel=1e-9, abs=1e-9)


@pytest.mark.parametrize("line", LINES)
def test_arc_length_is_the_length_of_the_curve(line):
    points = line.polyline(-line.half_length, line.half_length, spacing=0.002)
    pairs = itertools.pairwise(points)
    assert sum(math.dist(a, b) for a, b in pairs) == pytest.approx(line.length, rel=1e-6)


def test_hoop_matches_an_ellipse_by_its_own_formula():
    """With the size of an ellipse the mid-line is one: Steiner's area gives it back."""
    a, b, d = 12.5, 16.55, 0.55
    perimeter = 4 * b * quad(lambda t: math.sqrt(1 - (1 - a**2 / b**2) * math.sin(t) ** 2), 0, math.pi / 2)[0]
    size = math.pi * a * b - perimeter * d + math.pi * d**2
    outline = outline_of(RacketDimensions(68.58, 2 * b + 1.1, 2 * a + 1.1, 23, 18, size))
    mid_length = (outline.rim(Face.INNER).length + outline.rim(Face.OUTER).length) / 2
    assert mid_length == pytest.approx(perimeter, rel=1e-5)


@given(st.floats(0, CLOCK_MINUTES - 1e-6), st.sampled_from(list(Face)))
def test_clock_maps_to_the_rim_and_back(minutes, face):
    line = RACKET.rim(face)
    found = line.clock_at(line.at_clock(minutes))
    assert math.cos((found - minutes) * 2 * math.pi / CLOCK_MINUTES) == pytest.approx(1, abs=1e-14)


@pytest.mark.parametrize("line", LINES)
@given(part=st.floats(0.02, 0.98))
def test_height_maps_to_the_rim_and_back(line, part):
    top, bottom = line.point(0).y, line.point(line.half_length).y
    y = bottom + part * (top - bottom)
    assert line.point(line.at_y(y)).y == pytest.approx(y, abs=1e-9)
    assert line.point(line.at_y(y)).x > 0


def test_clock_faces_read_as_on_a_clock():
    line = RACKET.rim(Face.OUTER)
    twelve, three, six, nine = (line.point(line.at_clock(m)) for m in (0, 180, 360, 540))
    assert twelve.y > three.y > six.y
    assert three.x == pytest.approx(-nine.x)
    assert three.x > 12
    assert twelve.y == pytest.approx(68.58)


def test_stretch_may_run_over_the_bridge():
    """6:00 lies where the two ends of the line meet."""
    line = RACKET.rim(Face.INNER)
    half = line.half_length
    over = line.sums(half - 3, half + 2)
    apart = [line.sums(half - 3, half), line.sums(-half, -half + 2)]
    assert over == pytest.approx(tuple(map(sum, zip(*apart, strict=True))))


@pytest.mark.parametrize("text", ["3:00", "12:00", "10:30", "2:31.25", "0:15", "7"])
def test_clock_text_reads_back(text):
    minutes = parse_clock(text)
    assert parse_clock(clock_text(minutes, 4)) == pytest.approx(minutes)


@pytest.mark.parametrize("text", ["13:00", "3:60", "noon", "", "3:-1", "1:2:3"])
def test_what_is_no_clock_is_refused(text):
    with pytest.raises(OutlineError, match="not a clock position"):
        parse_clock(text)


@pytest.mark.parametrize(
    ("dimensions", "field"),
    [
        (RacketDimensions(68.58, 60, 26), "head_length_cm"),
        (RacketDimensions(168, 34, 26), "length_cm"),
        (RacketDimensions(68.58, 34, 40), "head_width_cm"),
        (RacketDimensions(68.58, 34.2, 26.1, head_size_cm2=900), "head_size_cm2"),
        (RacketDimensions(68.58, 34, 26, handle_length_cm=50), "handle_length_cm"),
        (PaddleDimensions(41.9, 19, corner_radius_cm=12), "corner_radius_cm"),
        (PaddleDimensions(41.9, 19, shoulder_cm=27), "shoulder_cm"),
        (PaddleDimensions(41.9, 50), "width_cm"),
    ],
)
def test_impossible_dimensions_name_their_field(dimensions, field):
    with pytest.raises(OutlineError) as refused:
        outline_of(dimensions)
    assert refused.value.field == field


def test_places_off_the_rim_are_refused():
    racket, paddle = RACKET.rim(Face.OUTER), PADDLE.rim(Face.OUTER)
    with pytest.raises(OutlineError, match="not on this rim"):
        racket.at_y(10)
    with pytest.raises(OutlineError, match="handle"):
        paddle.at_clock(360)
    with pytest.raises(OutlineError, match="longer than the rim"):
        racket.sums(0, racket.length + 1)
    with pytest.raises(OutlineError, match="past the end"):
        paddle.sums(paddle.half_length - 1, paddle.half_length + 1)
    with pytest.raises(OutlineError, match="no bumper"):
        PADDLE.rim(Face.BUMPER)
