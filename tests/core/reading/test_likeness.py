"""What differs among frames that are to be alike, and whether weight fixes it."""

from dataclasses import replace

import pytest

from kentrobar.core.frame.outline import RacketDimensions
from kentrobar.core.reading.likeness import Candidate, differences

RACKET = RacketDimensions(68.58, 34.2, 26.1, 23.0)
LIKE = Candidate("A", RACKET, "Reed 100", "16 × 19", "polyester 1.25", "hollow", 63.0)


def told(*frames):
    return differences(frames, lambda cm: f"{cm:.2f} cm")


def test_frames_alike_have_no_difference():
    assert told(LIKE, LIKE._replace(label="B"), LIKE._replace(label="C")) == []


@pytest.mark.parametrize(
    ("changed", "noun", "is_lasting"),
    [
        ({"dimensions": replace(RACKET, length_cm=69.85)}, "length", True),
        ({"dimensions": replace(RACKET, head_width_cm=25.1)}, "head", True),
        ({"dimensions": replace(RACKET, beam_mm=26.0)}, "beam or core", True),
        ({"stiffness": 68.0}, "stiffness", True),
        ({"model": "Sedge 98"}, "model", True),
        ({"pattern": "18 × 20"}, "string pattern", True),
        ({"strings": "gut 1.30"}, "strings", False),
        ({"handle": "foam-filled"}, "handle", False),
    ],
)
def test_each_difference_is_told_with_whose_it_is(changed, noun, is_lasting):
    (found,) = told(LIKE, LIKE._replace(label="B", **changed))
    assert (found.noun, found.is_lasting) == (noun, is_lasting)
    assert [labels for _, labels in found.values] == [("A",), ("B",)]


def test_what_was_not_noted_or_is_how_one_reads_is_no_difference():
    unknown = Candidate("B", RACKET)
    near = LIKE._replace(label="C", dimensions=replace(RACKET, length_cm=68.7), stiffness=64.5)
    assert told(LIKE, unknown, near) == []


def test_what_lasts_comes_first():
    found = told(LIKE, LIKE._replace(label="B", strings="gut", pattern="18 × 20"))
    assert [each.is_lasting for each in found] == [True, False]
