"""Blocked stretches of a rim, named as a stringer names them."""

import pytest

from kentrobar.core.frame.blocked import parse_blocked, with_unit
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


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("hole six", "write a hole such as"),
        ("99T", "numbered 1 to 8"),
        ("6T", "no string holes"),
        ("13:99", "clock"),
        ("200 cm", "reaches from"),
        ("80 in", "from 13"),
        ("1-2-3", "write a hole"),
        ("57 kg", "not a unit"),
    ],
)
def test_what_is_no_place_is_quoted_with_its_reason(text, why):
    outline = PADDLE if text == "6T" else RACKET
    with pytest.raises(OutlineError, match=why) as refused:
        parse_blocked(f"1:30, {text}", outline, 16)
    assert text in refused.value.message


@pytest.mark.parametrize("text", ["57-59 cm", "570-590 mm", "57 cm - 59 cm", "22.44-23.228 in"])
def test_heights_in_any_unit_are_the_same_stretch(text):
    (right, _), (in_cm, _) = parse_blocked(text, RACKET), parse_blocked("57-59", RACKET)
    assert right.from_min == pytest.approx(in_cm.from_min, abs=0.05)
    assert right.to_min == pytest.approx(in_cm.to_min, abs=0.05)


def test_a_fraction_and_a_bare_number_are_read_in_the_persons_unit():
    (fraction, _), (plain, _) = (parse_blocked("22 1/2 in", RACKET), parse_blocked("22.5", RACKET, unit="in"))
    assert fraction.from_min == pytest.approx(plain.from_min)
    kept = with_unit("6T, 22 1/2-23, 1:30, 57 cm", "in")
    assert kept == "6T, 22 1/2-23 in, 1:30, 57 cm"


def test_what_reaches_beyond_the_tip_ends_there():
    right, left = parse_blocked("66-70 cm", RACKET)
    assert right.from_min == pytest.approx(0.0, abs=0.01)
    assert left.to_min % 720 == pytest.approx(0.0, abs=0.01)
