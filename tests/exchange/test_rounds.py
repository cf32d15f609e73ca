"""``rounds``: what lies is known from all that was done and read, and the next trim does what it says."""

import copy

import pytest

from kentrobar.exchange import models
from kentrobar.exchange.reading import DocumentError
from kentrobar.exchange.rounds import answer_rounds
from tests.exchange.test_absurd import DOCUMENTS

BLOB = {"kind": "point", "mass_g": 2.0, "y_cm": 2.0}


def answered(events, **changes):
    document = copy.deepcopy(DOCUMENTS["rounds"]) | changes | {"events": events}
    return answer_rounds(models.RoundsRequest.model_validate(document))


def laid(density=0.2):
    strip = {
        "kind": "rim",
        "at": {"clock": "3:00"},
        "length_cm": 8.0,
        "g_per_cm": density,
        "mirrored": True,
        "material": "tape",
    }
    return {"laid": [{"id": "a", "piece": strip}, {"id": "b", "piece": BLOB}]}


def read(mass_g, swing, balance_cm=None):
    block = {
        "mass_g": {"value": mass_g, "u": 0.05},
        "swingweight_kgcm2": {"value": swing, "u": 0.3, "axis_cm": 10.0},
    }
    if balance_cm is not None:
        block["balance_cm"] = {"value": balance_cm, "u": 0.03}
    return {"read": block}


def test_a_heavy_roll_is_found_by_two_readings():
    before = answered([laid()])
    assert before.now.mass_g.value == pytest.approx(315.2)
    found = answered([laid(), read(315.5, 323.9), read(315.5, 323.9)])
    (roll,) = found.rolls
    assert roll.material == "tape"
    assert roll.factor.value > 1.02
    assert found.now.mass_g.u < 0.06


def test_a_trim_is_accepted_as_it_is_told_and_does_what_it_says():
    target = {"mass_g": 313.0, "swingweight_kgcm2": {"value": 320.5, "axis_cm": 10}}
    events = [laid(), read(315.2, 323.4), read(315.2, 323.4)]
    found = answered(events, target=target)
    assert found.next is not None
    assert found.next.chance >= 0.95 > found.chance
    assert "Trim" in found.advice
    trims = [{"trimmed": change.model_dump()} for change in found.next.changes]
    again = answered([*events, *trims], target=target)
    assert again.chance == pytest.approx(found.next.chance, abs=1e-3)
    assert again.next is None
    assert "leave it" in again.advice


def test_what_cannot_be_is_questioned_and_not_believed():
    """The weight slipped; the swing weight that was read beside it counts."""
    events = [laid(), read(315.2, 323.4)]
    plain, slipped = answered(events), answered([*events, read(305.2, 323.4)])
    assert slipped.questioned == [2]
    assert slipped.now.mass_g.value == pytest.approx(plain.now.mass_g.value, abs=0.02)
    assert slipped.now.swingweight_kgcm2.u < plain.now.swingweight_kgcm2.u
    assert "does not fit" in slipped.advice


def test_what_is_taken_off_is_off():
    off = answered([laid(), {"taken_off": "a"}, {"trimmed": {"id": "b", "mass_g": 0}}])
    assert off.now.mass_g.value == pytest.approx(310.0)


def test_the_errors_of_the_work_count():
    """A careless hand knows less of what it laid; what a piece states itself stands."""
    sure, careless = (
        answered([laid()], errors={"density_rel": d, "place_cm": p, "length_cm": 0.1})
        for d, p in ((0.01, 0.1), (0.05, 1.0))
    )
    assert careless.now.mass_g.u > 1.5 * sure.now.mass_g.u
    assert careless.now.swingweight_kgcm2.u > sure.now.swingweight_kgcm2.u
    stated = laid({"value": 0.2, "u": 0.002})
    one, other = (
        answered([stated], errors={"density_rel": d, "place_cm": 0.2, "length_cm": 0.1}) for d in (0.01, 0.2)
    )
    assert one.now == other.now


def test_a_document_says_what_is_not_known():
    frame = copy.deepcopy(DOCUMENTS["rounds"]["frame"])
    del frame["measured"]["twistweight_kgcm2"]
    asked = {"target": {"twistweight_kgcm2": 14.0}, "tolerance": {"twistweight_kgcm2": 0.2}}
    with pytest.raises(DocumentError, match="not known") as refused:
        answered([], frame=frame, **asked)
    assert refused.value.field == "target.twistweight_kgcm2"


def test_changes_name_only_what_they_change():
    found = answered([laid(), read(315.5, 321.5)])
    assert found.next is not None
    for change in found.next.changes:
        assert set(change.model_dump()) in ({"id", "length_cm"}, {"id", "mass_g"})


def test_nothing_is_to_be_cut_while_the_last_reading_is_questioned():
    """One thing at a time: read again, and only then the trim."""
    asked = answered([laid(), read(317.0, 321.5)])
    assert asked.questioned == [1]
    assert asked.next is None
    assert "read again" in asked.advice
    assert "Trim" not in asked.advice
    again = answered([laid(), read(317.0, 321.5), read(315.5, 321.5)])
    assert again.questioned == [1]
    assert again.next is not None
    assert "read again before" not in again.advice
