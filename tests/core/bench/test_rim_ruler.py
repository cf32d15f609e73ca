"""The rim as one strip of paper, against lengths summed point by point."""

import math
from itertools import pairwise

import pytest
from hypothesis import assume, given

from kentrobar.core.bench.rim_ruler import blocked_on, hours, on_paper, strips_on
from kentrobar.core.frame.blocked import parse_blocked
from kentrobar.core.frame.circumstances import Circumstances
from kentrobar.core.frame.places import RimStretch
from kentrobar.core.frame.rim import Face
from tests.core.frames import PADDLE, RACKET, strips


def walked(line, s):
    """The distance from the tip to ``s``, summed along a fine polyline."""
    points = line.polyline(0.0, abs(s), spacing=0.002)
    return sum(math.dist(a, b) for a, b in pairwise(points))


@pytest.mark.parametrize("outline", [RACKET, PADDLE])
def test_each_hour_stands_at_its_distance_and_direction(outline):
    line = outline.rim(outline.usual_face)
    found = {mark.text: mark.at for mark in hours(line)}
    for text, turn in (("12:00", 0), ("3:00", 90), ("9:00", -90), ("2:00", 60)):
        point = line.point(found[text])
        assert math.degrees(math.atan2(point.x, point.y - line.centre_y)) == pytest.approx(turn, abs=1e-6)
        assert walked(line, found[text]) == pytest.approx(abs(found[text]), abs=1e-4)
    assert [mark.at for mark in hours(line)] == sorted(mark.at for mark in hours(line))


@given(strips)
def test_strips_on_paper_are_as_long_as_on_the_frame(piece):
    line = RACKET.rim(piece.face)
    start, end = piece.stretch(line)
    assume(not piece.mirrored or 0 <= start < end <= line.half_length)  # not on its own image
    found = strips_on([("1", piece)], RACKET, piece.face)
    assert sum(each.end - each.start for each in found) == pytest.approx(
        piece.length_cm.value * piece.sides, abs=1e-5
    )
    for each in found:
        assert -line.half_length - 1e-6 <= each.start < each.end <= line.half_length + 1e-6
    other = Face.BUMPER if piece.face is not Face.BUMPER else Face.INNER
    assert strips_on([("1", piece)], RACKET, other) == []


def test_what_goes_over_the_throat_is_cut_with_the_paper():
    line = RACKET.rim(Face.INNER)
    half = line.half_length
    left, right = sorted(on_paper(RimStretch(half - 2, half + 3), line))
    assert left == pytest.approx((-half, -half + 3))
    assert right == pytest.approx((half - 2, half))


def test_blocked_stretches_stand_where_they_are_named():
    places = tuple(parse_blocked("1:00-2:00", RACKET))
    (found,) = blocked_on(Circumstances(blocked=places), RACKET, Face.INNER)
    marks = {mark.text: mark.at for mark in hours(RACKET.rim(Face.INNER))}
    assert (found.start, found.end) == pytest.approx((marks["1:00"], marks["2:00"]))
