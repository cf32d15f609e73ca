"""A piece in words, as a racket's bench and a paddle's bench call its place."""

import pytest

from kentrobar.core.frame.outline import FACE_NAMES
from kentrobar.core.frame.places import ClockPlace
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import Ruler
from kentrobar.core.weight.pieces import Plug, Sleeve
from tests.core.frames import PADDLE, RACKET, point, strip

MILLIMETRES = Ruler(lambda cm: f"{10 * cm:.0f}", "mm")
IN_CAP = Plug(mass_g=Estimate(4), from_cm=0.6, to_cm=1.8)
IN_CAVITY = Plug(mass_g=Estimate(4), from_cm=3, to_cm=6)
GRIP = Sleeve(mass_g=Estimate(16), from_cm=0, to_cm=18)
BEVELS = Sleeve(mass_g=Estimate(2), from_cm=12, to_cm=18)


@pytest.mark.parametrize(
    ("piece", "words"),
    [
        (strip(180, 10, mirrored=True), "2:14 to 3:46, both sides, inner face"),
        (strip(0, 10, both_faces=True, layers=2), "11:24 to 12:36, inner face, both faces, 2 layers"),
        (strip(60, 4, face=Face.BUMPER), ", under the bumper"),
        (IN_CAP, "inside the butt cap"),
        (IN_CAVITY, "in the cavity"),
        (GRIP, "round the handle"),
        (BEVELS, "along the handle, on its flat bevels"),
        (point(2, 28.6, 3.1, mirrored=True), "on both shafts"),
        (point(2, 28.6, -3.1), "on the left shaft"),
        (point(1, 4.5), "in the handle"),
        (point(1, 51.6, 13.0, mirrored=True), "on the rim at 2:59, both sides"),
        (point(1, 37.5), "on the long axis"),
        (point(1, 45.0, 4.0), "on the right"),
    ],
)
def test_a_racket_is_told_by_the_clock(piece, words):
    assert words in piece.where(RACKET, MILLIMETRES)


@pytest.mark.parametrize(
    ("piece", "words"),
    [
        (
            strip(174, 6, mirrored=True, face=Face.OUTER),
            "sides, both sides, 309 to 249 mm from the butt, edge guard",
        ),
        (strip(0, 8, face=Face.OUTER), "top edge, across, 40 mm from its middle"),
        (strip(0, 4, mirrored=True, face=Face.OUTER), "top edge, both sides, 0 to 40 mm from its middle"),
        (strip(546, 6, face=Face.INNER), "sides, left, "),
        (point(3, 27.6, 9.5, mirrored=True), "sides, both sides"),
        (IN_CAP, "inside the butt cap"),
    ],
)
def test_a_paddle_is_told_by_its_corners_and_sides(piece, words):
    assert words in piece.where(PADDLE, MILLIMETRES)


def test_every_face_of_a_frame_has_its_word():
    for outline in (RACKET, PADDLE):
        names = FACE_NAMES[outline.sport]
        assert set(names) == set(outline.faces)
        assert next(iter(names)) == outline.usual_face
        for face in outline.faces:
            piece = strip(ClockPlace(150).minutes, 4, face=face)
            assert names[face] in piece.where(outline, MILLIMETRES)
