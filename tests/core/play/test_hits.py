"""Hits: centre and spread of simulated players, the density against their numbers, a straightened photo."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.play.hits import (
    LEAST_HITS,
    Hit,
    density,
    hit_centre,
    hits_still_needed,
    is_on_face,
    part_within,
)
from kentrobar.core.play.straightening import PlanePoint, corners_of, straighten
from kentrobar.core.play.sweet_zone import SweetZone, ZoneEdge, hitting_face
from kentrobar.core.quantities.errors import SpecError
from tests.core.frames import PADDLE, RACKET

FACE = hitting_face(RACKET)


def played(rng, count, middle=(0.8, 53.0), spread=(2.5, 3.0)):
    """Hits of a player who aims at ``middle``; those beside the face leave no mark."""
    found = []
    while len(found) < count:
        hit = Hit(*rng.normal(middle, spread))
        if is_on_face(hit, FACE):
            found.append(hit)
    return found


def test_of_200_hits_the_centre_is_found_within_5_mm():
    """By nineteen in twenty players, whose hits scatter by 2.5 by 3 cm; on average within half of that."""
    rng = np.random.default_rng(5)
    off = []
    for _ in range(400):
        middle = rng.uniform((-2, 48), (2, 56))
        centre = hit_centre(played(rng, 200, middle))
        off.append(math.dist((centre.x_cm.value, centre.y_cm.value), middle))
    assert np.mean(np.array(off) < 0.5) > 0.95
    assert np.mean(off) < 0.25


@pytest.mark.parametrize("count", [6, 12, 40, 200])
def test_the_spread_told_of_a_centre_holds(count):
    rng = np.random.default_rng(count)
    held = 0
    for _ in range(600):
        spread = rng.uniform(2, 5, 2)
        centre = hit_centre([Hit(*rng.normal((0, 52), spread)) for _ in range(count)])
        held += abs(centre.x_cm.value) < 1.96 * centre.x_cm.u
        held += abs(centre.y_cm.value - 52) < 1.96 * centre.y_cm.u
    assert 0.92 < held / 1200 < 0.985


def test_few_hits_have_no_centre():
    hits = [Hit(0.0, 50.0 + i) for i in range(LEAST_HITS)]
    assert hit_centre(hits[1:]) is None
    assert hit_centre(hits).y_cm.value == pytest.approx(52.0)


def test_as_many_more_hits_as_are_told_make_the_centre_well_known():
    rng = np.random.default_rng(2)
    hits = played(rng, 20)
    more = hits_still_needed(hit_centre(hits), len(hits))
    centre = hit_centre([*hits, *played(rng, more)])
    assert max(centre.x_cm.u, centre.y_cm.u) == pytest.approx(0.5, rel=0.25)
    assert hits_still_needed(centre, 10_000) == 0


@pytest.mark.parametrize("count", [1, 3, 30, 300])
def test_the_lines_of_the_density_hold_the_parts_they_say(count):
    hits = played(np.random.default_rng(count), count)
    found = density(hits, FACE)
    grid, on = found.map, found.map.on_face
    cell = (grid.x_cm[1] - grid.x_cm[0]) * (grid.y_cm[1] - grid.y_cm[0])
    whole = grid.values[on].sum() * cell
    assert 0.85 < whole < 1.01  # one hit, of which a little lies beside the face
    for level, part in zip(found.levels, (0.9, 0.5), strict=True):
        inside = grid.values[on & (grid.values >= level)].sum() * cell
        assert inside / whole == pytest.approx(part, abs=0.02)


def test_the_density_is_highest_where_most_hits_lie():
    hits = [Hit(4.0, 48.0)] * 9 + [Hit(-6.0, 58.0)]
    grid = density(hits, FACE).map
    row, column = np.unravel_index(np.argmax(grid.values), grid.values.shape)
    assert grid.x_cm[column] == pytest.approx(4.0, abs=0.5)
    assert grid.y_cm[row] == pytest.approx(48.0, abs=0.6)


def test_hits_are_counted_within_a_zone():
    y = np.arange(45.0, 55.0, 0.02)
    zone = SweetZone(50.0, 10.0, 8.0, 80.0, ZoneEdge(y, np.full_like(y, -4.0), np.full_like(y, 4.0)))
    hits = [Hit(0, 50), Hit(3.9, 46), Hit(-4.1, 50), Hit(0, 56), Hit(0, 44)]
    assert part_within(hits, zone) == pytest.approx(2 / 5)
    assert part_within(hits, None) == part_within([], zone) == 0.0


# -- a photo under the drawing -------------------------------------------------------------------


def seen(points, *, tilt_deg, round_deg, away_cm=60.0, pixels=2400.0, roll_deg=0.0, middle_y=52.0):
    """Where a camera sees places of the face: tilted about x and y, turned in its own plane, y down."""
    a, b, c = (math.radians(d) for d in (tilt_deg, round_deg, roll_deg))
    about_x = np.array([[1, 0, 0], [0, math.cos(a), -math.sin(a)], [0, math.sin(a), math.cos(a)]])
    about_y = np.array([[math.cos(b), 0, math.sin(b)], [0, 1, 0], [-math.sin(b), 0, math.cos(b)]])
    about_z = np.array([[math.cos(c), -math.sin(c), 0], [math.sin(c), math.cos(c), 0], [0, 0, 1]])
    at = (about_z @ about_y @ about_x @ np.array([[x, y - middle_y, 0.0] for x, y in points]).T).T
    depth = away_cm + at[:, 2]
    return [
        PlanePoint(1500 + pixels * x / d, 2000 - pixels * y / d)
        for (x, y, _), d in zip(at.tolist(), depth.tolist(), strict=True)
    ]


@pytest.mark.parametrize("outline", [RACKET, PADDLE])
@pytest.mark.parametrize(("tilt", "round_"), [(0, 0), (30, 0), (0, 30), (-30, 0), (21, -21)])
def test_a_photo_at_an_angle_is_straightened_within_5_mm(outline, tilt, round_):
    """With taps that miss by a millimetre and a half, over the whole face."""
    rng = np.random.default_rng(abs(tilt) + 2 * abs(round_))
    face = hitting_face(outline)
    corners = corners_of(face)
    view = {"tilt_deg": tilt, "round_deg": round_, "roll_deg": 12.0, "middle_y": outline.centre_y_cm}
    worst = 0.0
    for _ in range(20):
        missed = [PlanePoint(x + rng.normal(0, 0.1), y + rng.normal(0, 0.1)) for x, y in corners]
        found = straighten(seen(missed, **view), corners)
        for part in np.linspace(0.05, 0.95, 7):
            y = float(face.y_cm[int(part * len(face.y_cm))])
            half = float(np.interp(y, face.y_cm, face.half_width_cm))
            for x in (-half, 0.0, half):
                told = found.of(seen([(x, y)], **view)[0])
                worst = max(worst, math.dist(told, (x, y)))
    assert worst < 0.5


spots = st.floats(-1000, 1000)


@given(st.lists(st.tuples(spots, spots).map(lambda p: PlanePoint(*p)), min_size=4, max_size=4))
def test_four_taps_either_are_straightened_exactly_or_refused(taps):
    plane = corners_of(FACE)
    try:
        found = straighten(taps, plane)
    except SpecError:
        return  # which ones are refused is told below
    for tap, corner in zip(taps, plane, strict=True):
        assert found.of(tap) == pytest.approx(corner, abs=1e-6)


def test_the_transformation_of_a_page_moves_places_as_the_map_does():
    plane = [PlanePoint(10, 20), PlanePoint(200, 30), PlanePoint(190, 260), PlanePoint(15, 240)]
    found = straighten(
        [PlanePoint(0, 0), PlanePoint(300, 40), PlanePoint(280, 400), PlanePoint(20, 380)], plane
    )
    columns = np.array(found.css).reshape(4, 4).T
    x, y, _, w = columns @ np.array([150.0, 200.0, 0.0, 1.0])
    assert (x / w, y / w) == pytest.approx(found.of(PlanePoint(150.0, 200.0)))


@pytest.mark.parametrize(
    ("taps", "code"),
    [
        ([(0, 0), (100, 100), (200, 200), (0, 200)], "on_a_line"),
        ([(100, 0), (100, 200), (200, 100), (0, 100)], "crosswise"),
        ([(100, 0), (100, 0), (100, 200), (0, 100)], "on_a_line"),
        ([(100, 0), (0, 100), (100, 200), (200, 100)], "mirrored"),
    ],
)
def test_taps_that_tell_nothing_are_refused(taps, code):
    with pytest.raises(SpecError) as caught:
        straighten([PlanePoint(*tap) for tap in taps], corners_of(FACE))
    assert caught.value.code == code
