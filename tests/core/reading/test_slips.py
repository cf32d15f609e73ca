"""Slips in typed specs are questioned, right entries are let alone, the fix is the right one."""

from dataclasses import replace

import numpy as np
import pytest

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import READ
from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.estimates import Estimate, NotMeasured
from kentrobar.core.quantities.units import MASS
from kentrobar.core.reading.calibration import Correction
from kentrobar.core.reading.crosscheck import cross_check
from kentrobar.core.reading.series import Precision, summarize
from kentrobar.core.reading.slips import (
    TypedNumber,
    TypedSpecs,
    expect_earlier,
    expect_model,
    find_fixes,
    fix_outlier,
    judge,
    mean_of_siblings,
    questions,
)
from kentrobar.core.weight.prediction import predict
from tests.core.frames import RACKET, REED, point
from tests.core.population import junior, old_heavy, oversize, paddle, racket, tail_weighted
from tests.core.slipping import Bench, rates, usual_axis_cm
from tests.samples import margin, sample

UNITS = {"length": "cm", "mass": "g", "balance": "cm", "swingweight": "kg·cm²", "axis": "cm"}
RIGHT = {"length": "68.58", "mass": "310.0", "balance": "32.4", "swingweight": "318", "axis": "10"}
EARLIER = expect_earlier("the reading of 3 March", REED)


def entry(sport=Sport.TENNIS, **texts):
    typed = {n: TypedNumber(t, UNITS[n]) for n, t in (RIGHT | texts).items() if t}
    return TypedSpecs(sport, typed, "playing")


def test_slips_are_caught_and_right_entries_let_alone():
    """Of frames at large, one in five of a rare kind."""
    found = rates(seed=17, slips=300, correct=1000)
    assert found["an earlier reading"][0] >= 0.97
    assert found["a stated spec"][0] >= 0.95
    assert found["nothing"][0] >= 0.75
    assert all(alarms <= 0.01 for _, alarms in found.values())


def test_a_right_entry_asks_nothing():
    assert questions(entry()) == []
    assert questions(entry(), EARLIER) == []


@pytest.mark.parametrize(
    ("slip", "fixed", "known"),
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
def test_the_likely_slip_is_named_with_its_fix(slip, fixed, known):
    asked = questions(entry(**slip), known)
    assert asked
    texts = [{n: t.text for n, t in fix.changes.items()} for fix in asked[0].fixes]
    assert fixed in texts


def test_fixes_put_right_what_slipped():
    """Of slips that an earlier reading questions, nine in ten are put right by the first fix."""
    bench, right, asked = Bench(4), 0, 0
    for _ in range(sample(120)):
        frame = bench.frame()
        read = bench.reading(frame)
        meant = bench.entry(frame, read)
        wrong = bench.slipped(meant, read)
        known = expect_earlier("the last reading", bench.reading(frame))
        known = replace(known, builds={"bare": expect_earlier("it", bench.bare(frame))})
        if not judge(wrong, known).is_odd:
            continue
        asked += 1
        right += is_put_right(meant, wrong, find_fixes(wrong, known))
    assert asked >= (1 - margin(0.03)) * sample(120)
    assert right / asked >= 1 - margin(0.1)


def is_put_right(meant, wrong, fixes):
    """Whether the first fix gives back nearly what was meant, or names the build it was read in."""
    if not fixes:
        return False
    if fixes[0].build:
        return wrong.typed.keys() == meant.typed.keys() and wrong.typed["axis"] == meant.typed["axis"]
    fixed = replace(wrong, typed={**wrong.typed, **fixes[0].changes})
    return all(
        isinstance(a, NotMeasured) or isinstance(b, NotMeasured) or abs(a - b) <= 0.05 * abs(a)
        for a, b in zip(meant.values(), fixed.values(), strict=True)
    )


def test_another_build_is_recognised():
    bare = MeasuredSpecs(Estimate(288, 1), Estimate(31.1, 0.1), Estimate(287, 2), 10.0)
    known = expect_earlier("the reading of 3 March", REED)
    known = type(known)(**{**vars(known), "builds": {"bare": expect_earlier("it", bare)}})
    asked = questions(entry(mass="288.2", balance="31.08", swingweight="286.4"), known)
    assert [m.build for m in asked[0].fixes] == ["bare"]


def test_siblings_tell_what_to_expect():
    mean = mean_of_siblings([REED, MeasuredSpecs(Estimate(314), Estimate(32.0))], 10.16)
    assert mean.mass_g.value == 312
    assert mean.swingweight_kgcm2.value == pytest.approx(315.7859)
    known = expect_model("its siblings", mean)
    assert questions(entry(), known) == []
    assert questions(entry(mass="340"), known)
    assert expect_model("nothing", MeasuredSpecs()).deviations(entry().values()) == {}


def test_an_outlying_reading_is_fixed_by_its_neighbours():
    texts = ["308.6", "380.6", "308.5"]
    series = summarize([float(t) for t in texts], Precision(0.1, 0.1))
    assert series.outliers == (1,)
    assert fix_outlier(texts, 1, "g", MASS, series, 0.2) == "308.6"
    odd = ["308.6", "271.3", "308.5"]
    series = summarize([float(t) for t in odd], Precision(0.1, 0.1))
    assert fix_outlier(odd, 1, "g", MASS, series, 0.2) is None


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
        ({"swingweight_kgcm2": -40}, "swingweight"),
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
    found = cross_check(SURE, moved, 68.58)
    assert found.culprit == "swingweight"
    assert "Static weight +0.0 g" in found.message
    assert "+12.0 kg·cm²" in found.message
    assert cross_check(MeasuredSpecs(), SURE, 68.58).message == ""


US = (0.1, 0.05, 0.8)  # of weight, balance and swing weight


def read(random, frame):
    axis_cm = usual_axis_cm(frame)
    found = frame.read(axis_cm)
    return [round(random.normal(v, u), d) for v, u, d in zip(found[:3], US, (1, 2, 1), strict=True)]


def told(values, frame):
    return MeasuredSpecs(*map(Estimate, values, US), usual_axis_cm(frame))


def slipped(random, value, position):
    """A digit exchanged with its neighbour, a place read for the next, or a frame laid askew."""
    text = f"{value:.2f}" if position == 1 else f"{value:.1f}"
    match random.integers(3):
        case 0:
            i = random.integers(0, 2)
            return float(text[:i] + text[i + 1] + text[i] + text[i + 2 :])
        case 1:
            return value + (10.0, 1.0, 10.0)[position] * random.choice([-1, 1])
    low, high = ((3, 8), (0.5, 1.5), (8, 25))[position]
    return value + random.uniform(low, high) * random.choice([-1, 1])


def test_the_reading_that_slipped_is_named_by_likelihood():
    """Frames at large, one to three pieces: right readings are let alone, the wrong one of six is named."""
    random, alarms, noticed, named, among = np.random.default_rng(8), 0, 0, 0, 0
    for _ in range(60):
        frame = racket(random, 68.58) if random.uniform() < 0.7 else paddle(random, 41.0)
        part = (random.uniform(0, 0.25), random.uniform(0.7, 1.0))
        pieces = [
            (random.uniform(1, 5), part[i % 2] * frame.length_cm, 0.0) for i in range(random.integers(1, 4))
        ]
        sides = read(random, frame), read(random, frame.with_grains(*pieces))
        alarms += bool(cross_check(*(told(s, frame) for s in sides), frame.length_cm).message)
        position = int(random.integers(3))
        side = sides[random.integers(2)]
        wrong = slipped(random, side[position], position)
        if abs(wrong - side[position]) < 10 * US[position]:
            continue
        side[position] = wrong
        found = cross_check(*(told(s, frame) for s in sides), frame.length_cm)
        if found.message:
            spec = READ[position]
            noticed += 1
            named += found.culprit == spec.field
            among += spec.noun in found.message.partition("removed.")[2]
    assert alarms <= 1
    assert noticed > 30
    assert named / noticed > 0.8
    assert among / noticed > 0.85


BY_HAND = [
    ({"balance": "3214"}, {"balance": "32.14"}, EARLIER),
    ({"balance": "3240"}, {"balance": "32.40"}, EARLIER),
    ({"mass": "3.100"}, {"mass": "310.0"}, EARLIER),
    ({"balance": "36.18"}, {"balance": "32.40"}, EARLIER),  # from the tip
]


@pytest.mark.parametrize(("slip", "fixed", "known"), BY_HAND)
def test_points_gone_astray_and_balances_from_the_tip_are_fixed_first(slip, fixed, known):
    (first, *_) = questions(entry(**slip), known)[0].fixes
    assert {n: t.text for n, t in first.changes.items()} == fixed


def test_a_swing_weight_in_the_field_of_the_balance_is_moved():
    (first, *_) = questions(entry(balance="318", swingweight=""), None)[0].fixes
    assert {n: t.text for n, t in first.changes.items()} == {"balance": "", "swingweight": "318"}
    assert first.sentence == "318 is the swing weight: move it there"


def test_fixes_are_of_what_was_typed_not_of_what_the_board_makes_of_it():
    """A board whose edge lies 1.20 cm beyond its zero: 312 typed in cm was 312 mm, and never points."""
    board = Correction(zero=1.2)
    typed = entry().typed | {"balance": TypedNumber("312", "cm", correction=board)}
    fixes = find_fixes(TypedSpecs(Sport.TENNIS, typed, "playing"), EARLIER)
    assert next(
        (name, each.text, each.unit) for m in fixes for name, each in m.changes.items() if each.unit == "mm"
    ) == ("balance", "312", "mm")
    assert all(each.unit != "pt" for m in fixes for each in m.changes.values())
    assert (
        questions(
            TypedSpecs(
                Sport.TENNIS,
                entry().typed | {"balance": TypedNumber("31.20", "cm", correction=board)},
                "playing",
            ),
            EARLIER,
        )
        == []
    )


UNLIKE = {"junior": junior, "tail-weighted": tail_weighted, "of wood": old_heavy, "large and light": oversize}


@pytest.mark.parametrize("kind", UNLIKE)
def test_right_frames_of_rare_kinds_are_let_alone(kind):
    """At most one in a hundred is asked about, by its specs together or by the band of one of them."""
    bench, asked = Bench(21), 0
    for _ in range(300):
        frame = UNLIKE[kind](bench.random)
        asked += bool(questions(bench.entry(frame, bench.reading(frame))))
    assert asked <= 3


def test_a_racket_for_a_small_child_is_no_question():
    typed = {
        "length": TypedNumber("19", "in"),
        "mass": TypedNumber("185", "g"),
        "balance": TypedNumber("22.8", "cm"),
    }
    assert questions(TypedSpecs(Sport.TENNIS, typed)) == []
