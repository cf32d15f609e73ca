"""Slips in typed specs are questioned, right entries are let alone, the mend is the right one."""

from dataclasses import replace

import pytest

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.frame.outline import Sport
from kentrobar.core.quantities.estimates import Estimate, NotMeasured
from kentrobar.core.quantities.units import MASS
from kentrobar.core.reading.crosscheck import cross_check
from kentrobar.core.reading.series import Precision, summarize
from kentrobar.core.reading.slips import (
    Entry,
    TypedNumber,
    expect_earlier,
    expect_model,
    find_mends,
    mean_of_siblings,
    mend_outlier,
    questions,
)
from kentrobar.core.weight.prediction import predict
from tests.core.frames import RACKET, REED, point
from tests.core.slipping import Bench, rates

UNITS = {"length": "cm", "mass": "g", "balance": "cm", "swingweight": "kg·cm²", "axis": "cm"}
RIGHT = {"length": "68.58", "mass": "310.0", "balance": "32.4", "swingweight": "318", "axis": "10"}
EARLIER = expect_earlier("the reading of 3 March", REED)


def entry(sport=Sport.TENNIS, **texts):
    typed = {n: TypedNumber(t, UNITS[n]) for n, t in (RIGHT | texts).items() if t}
    return Entry(sport, typed, "playing")


def test_slips_are_caught_and_right_entries_let_alone():
    found = rates(seed=17, slips=300, correct=1000)
    for known in ("an earlier reading", "a stated spec"):
        assert found[known][0] >= 0.95
    assert found["nothing"][0] >= 0.75
    assert all(alarms <= 0.01 for _, alarms in found.values())


def test_a_right_entry_asks_nothing():
    assert questions(entry()) == []
    assert questions(entry(), EARLIER) == []


@pytest.mark.parametrize(
    ("slip", "mended", "known"),
    [
        ({"mass": "32.4", "balance": "310.0"}, {"mass": "310.0", "balance": "32.4"}, None),
        ({"mass": "10.93"}, {"mass": "10.93"}, None),
        ({"balance": "12.75"}, {"balance": "12.75"}, None),
        ({"swingweight": "3118"}, {"swingweight": "318"}, None),
        ({"axis": "5"}, {"axis": "10"}, EARLIER),
        ({"mass": "30.0"}, {"mass": "310.0"}, EARLIER),
        ({"balance": "23.4"}, {"balance": "32.4"}, EARLIER),
        ({"balance": "324"}, {"balance": "324"}, EARLIER),
    ],
)
def test_the_likely_slip_is_named_with_its_mend(slip, mended, known):
    asked = questions(entry(**slip), known)
    assert asked
    texts = [{n: t.text for n, t in mend.changes.items()} for mend in asked[0].mends]
    assert mended in texts


def test_mends_put_right_what_slipped():
    """Of slips with an earlier reading, the first mend gives back nearly what was meant."""
    bench, right, offered = Bench(4), 0, 0
    for _ in range(80):
        frame = bench.frame()
        read = bench.reading(frame)
        meant = bench.entry(frame, read)
        wrong = bench.slipped(meant, read)
        mends = find_mends(wrong, expect_earlier("the last reading", bench.reading(frame)))
        if not mends or mends[0].build:
            continue
        offered += 1
        mended = replace(wrong, typed={**wrong.typed, **mends[0].changes})
        right += all(
            isinstance(a, NotMeasured) or isinstance(b, NotMeasured) or abs(a - b) <= 0.05 * abs(a)
            for a, b in zip(meant.values(), mended.values(), strict=True)
        )
    assert offered > 48
    assert right / offered > 0.85


def test_another_build_is_recognised():
    bare = MeasuredSpecs(Estimate(288, 1), Estimate(31.1, 0.1), Estimate(287, 2), 10.0)
    known = expect_earlier("the reading of 3 March", REED)
    known = type(known)(**{**vars(known), "builds": {"bare": expect_earlier("it", bare)}})
    asked = questions(entry(mass="288.2", balance="31.08", swingweight="286.4"), known)
    assert [m.build for m in asked[0].mends] == ["bare"]


def test_siblings_tell_what_to_expect():
    mean = mean_of_siblings([REED, MeasuredSpecs(Estimate(314), Estimate(32.0))], 10.16)
    assert mean.mass_g.value == 312
    assert mean.swingweight_kgcm2.value == pytest.approx(315.7859)
    known = expect_model("its siblings", mean)
    assert questions(entry(), known) == []
    assert questions(entry(mass="340"), known)
    assert expect_model("nothing", MeasuredSpecs()).deviations(entry().values()) == {}


def test_an_outlying_reading_is_mended_by_its_neighbours():
    texts = ["308.6", "380.6", "308.5"]
    series = summarize([float(t) for t in texts], Precision(0.1, 0.1))
    assert series.outliers == (1,)
    assert mend_outlier(texts, 1, "g", MASS, series, 0.2) == "308.6"
    odd = ["308.6", "271.3", "308.5"]
    series = summarize([float(t) for t in odd], Precision(0.1, 0.1))
    assert mend_outlier(odd, 1, "g", MASS, series, 0.2) is None


# -- before and after --------------------------------------------------------------------------


def after(pieces, **wrong):
    specs = predict(REED, pieces, length_cm=68.58, axis_cm=10.0, outline=RACKET).after
    values = {n: getattr(specs, n) for n in ("mass_g", "balance_cm", "swingweight_kgcm2")}
    values = {n: Estimate(q.value + wrong.get(n, 0.0), 0.05) for n, q in values.items()}
    return MeasuredSpecs(**values, axis_cm=10.0)


SURE = MeasuredSpecs(Estimate(310, 0.05), Estimate(32.4, 0.02), Estimate(318, 0.3), 10.0)


def test_honest_readings_name_the_piece():
    found = cross_check(SURE, after([point(4, 60)]), 68.58)
    assert found.message == ""
    assert found.added.mass_g.value == pytest.approx(4)
    assert found.added.place_cm.value == pytest.approx(60, abs=0.01)
    taken = cross_check(after([point(4, 60)]), SURE, 68.58)
    assert (taken.message, taken.added.mass_g.value) == ("", pytest.approx(-4))


@pytest.mark.parametrize(
    ("wrong", "culprit"),
    [
        ({"swingweight_kgcm2": 12}, "swingweight"),
        ({"swingweight_kgcm2": -12}, "swingweight"),
        ({"balance_cm": 0.6}, "balance"),
        ({"mass_g": -3.0}, "mass"),
    ],
)
def test_contradicting_readings_name_the_culprit(wrong, culprit):
    found = cross_check(SURE, after([point(4, 60)], **wrong), 68.58)
    assert found.culprit == culprit
    assert found.message


def test_nothing_added_moves_nothing():
    assert cross_check(SURE, SURE, 68.58).message == ""
    moved = MeasuredSpecs(SURE.mass_g, SURE.balance_cm, Estimate(330, 0.3), 10.0)
    assert "0.0 g only" in cross_check(SURE, moved, 68.58).message
    assert cross_check(MeasuredSpecs(), SURE, 68.58).message == ""
