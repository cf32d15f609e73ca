"""Blocked stretches of a rim, named as a stringer names them."""

import pytest

from kentrobar.core.frame.blocked import parse_blocked
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.errors import OutlineError
from tests.core.frames import PADDLE, RACKET

LINE = RACKET.rim(Face.INNER)


def test_holes_heights_and_hours_are_read():
    sixth, other, hour, low, high = parse_blocked("6T, 1:15-1:45, 57-59 cm", RACKET, 16)
    assert sixth.name == other.name == "6T"
    assert LINE.point(LINE.at_clock((sixth.from_min + sixth.to_min) / 2)).y < RACKET.centre_y_cm
    assert sixth.from_min == pytest.approx(720 - other.to_min)
    assert (hour.from_min, hour.to_min) == (75, 105)
    assert LINE.point(LINE.at_clock(low.from_min)).y == pytest.approx(59)
    assert high.to_min == pytest.approx(720 - low.from_min)
    (top, _) = parse_blocked("7H", RACKET, 16)
    assert 0 < top.from_min < top.to_min < 180
    assert parse_blocked("", RACKET) == []
    assert len(parse_blocked("30", PADDLE)) == 2


@pytest.mark.parametrize("text", ["hole six", "99T", "6T", "13:99", "200 cm", "1-2-3"])
def test_what_is_no_place_is_quoted(text):
    outline = PADDLE if text == "6T" else RACKET
    with pytest.raises(OutlineError, match="no place on this rim") as refused:
        parse_blocked(f"1:30, {text}", outline, 16)
    assert text in refused.value.message
