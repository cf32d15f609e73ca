"""The named places of a frame lie where its tuners look for them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.editing.placing import sites_named
from kentrobar.core.frame.outline import PaddleDimensions, outline_of
from kentrobar.core.frame.sites import Zone, site_choices, sites_of
from tests.core.frames import PADDLE, RACKET

paddles = st.builds(
    PaddleDimensions,
    st.floats(39, 43),
    st.floats(18, 21),
    st.floats(2.5, 5),
    st.floats(3, 7),
    st.floats(11, 15),
)


@given(paddles)
def test_bottom_corners_lie_where_the_face_reaches_its_width(dimensions):
    """And the edge of the throat below them, so that weight meant for the corners is not laid at the neck."""
    outline = outline_of(dimensions)
    found = {site.key: site for site in sites_of(outline)}
    corner, throat = found["bottom_corners"], found["throat_edge"]
    shoulder_y = dimensions.handle_length_cm + dimensions.shoulder_cm
    assert shoulder_y < corner.y_cm <= shoulder_y + 2.001
    assert corner.x_cm == pytest.approx(dimensions.width_cm / 2, abs=1e-3)
    assert throat.y_cm < shoulder_y
    assert throat.x_cm < corner.x_cm
    rim = [site for site in sites_of(outline) if site.zone is Zone.RIM]
    assert [site.y_cm for site in rim] == sorted((site.y_cm for site in rim), reverse=True)


def test_a_usual_paddle_has_its_bottom_corners_some_twenty_centimetres_up():
    (corner,) = sites_named(PADDLE, "bottom_corners")
    assert 19 <= corner.y_cm <= 23


def test_bottom_corners_raise_the_twist_weight_most_for_the_least_swing_weight():
    """Per gram: as much twist weight as anywhere on the rim, at half the swing weight of the sides."""
    twist, swing = {}, {}
    for site in sites_of(PADDLE):
        if site.zone is Zone.RIM:
            twist[site.key], swing[site.key] = site.x_cm**2, (site.y_cm - 5) ** 2
    assert twist["bottom_corners"] == pytest.approx(max(twist.values()), rel=0.01)
    assert swing["bottom_corners"] < swing["sides"] / 2 < swing["top_corners"] / 4


def test_every_choice_names_sites_of_the_frame():
    for outline in (RACKET, PADDLE):
        for choice in site_choices(outline):
            assert choice.label
            sites = sites_named(outline, choice.key)
            assert choice.has_sides == (
                len(sites) > 1 or abs(sites[0].x_cm) > 0.05 or choice.key == "full_edge"
            )
    assert [site.key for site in sites_named(PADDLE, "all_corners")] == ["top_corners", "bottom_corners"]
