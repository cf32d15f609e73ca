"""Where a strip is by a ruler along the rim, held against arc lengths measured on a fine polyline."""

import math
import re
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.frame.outline import PaddleDimensions, RacketDimensions, head_from_size, outline_of
from kentrobar.core.frame.places import ClockPlace
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.weight.pieces import RimStrip
from kentrobar.web.kit.numbers import Units

RACKET = outline_of(RacketDimensions(68.58, *head_from_size(645.0), beam_mm=23.0, handle_length_cm=18.0))
PADDLE = outline_of(PaddleDimensions(41.0, 19.5))
RULER = Units().lengths


def strip(minutes, length_cm, **more):
    return RimStrip(
        at=ClockPlace(minutes), length_cm=Estimate(length_cm, 0.05), g_per_cm=Estimate(0.1, 0.002), **more
    )


def arc_to(outline, face, clock_minutes):
    """The way from the middle of the tip to a clock position, added up in small steps."""
    line = outline.rim(face)
    end = line.at_clock(clock_minutes)
    points = line.polyline(0.0, end, 0.02)
    return sum(math.dist(a, b) for a, b in pairwise(points))


@given(st.floats(75, 300), st.floats(2, 12))
def test_a_strip_on_the_right_is_where_the_ruler_says(minutes, length_cm):
    told = strip(minutes, length_cm, mirrored=True).along_rim(RACKET, RULER)
    start, end = map(float, re.fullmatch(r"([\d.]+) to ([\d.]+) cm from 12", told).groups())
    middle = arc_to(RACKET, Face.INNER, minutes)
    assert (start + end) / 2 == pytest.approx(middle, abs=0.03)
    assert end - start == pytest.approx(length_cm, abs=0.02)


@pytest.mark.parametrize(
    ("piece", "outline", "said"),
    [
        (strip(0, 10), RACKET, "5.00 cm either side of 12"),
        (strip(0, 10, mirrored=True), RACKET, "0.00 to 10.00 cm from 12"),
        (strip(0, 6), PADDLE, "3.00 cm either side of the centre line"),
    ],
)
def test_a_strip_at_the_middle_is_told_by_both_its_ends(piece, outline, said):
    assert piece.along_rim(outline, RULER) == said


def test_the_left_is_measured_from_12_too():
    right, left = (strip(minutes, 8).along_rim(RACKET, RULER) for minutes in (180, 540))
    assert right == left
