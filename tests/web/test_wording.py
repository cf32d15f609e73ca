"""What the hand at the bench reads of a piece, in the units of its ruler."""

import pytest

from kentrobar.web.kit.numbers import Units
from kentrobar.web.showing.pieces import cut_words
from tests.core.frames import RACKET, point, strip


@pytest.mark.parametrize(("length", "cut", "reach"), [("cm", "80 mm", "555"), ("in", "3.15 in", "21.84")])
def test_lengths_are_cut_in_millimetres_or_inches(length, cut, reach):
    piece = strip(180, 8, mirrored=True)
    words = cut_words(piece, RACKET, Units(length=length))
    assert words.cut_length == cut
    assert words.from_butt.startswith(reach)
    assert words.count == 2
    assert cut_words(point(2, 30), RACKET, Units()).cut_length == "–"
