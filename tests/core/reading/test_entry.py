"""What was typed becomes specs in one way, whatever page it was typed on."""

import math
import statistics

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.body.specs import BALANCE, READ, STATIC_WEIGHT, SWING_WEIGHT
from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.units import CM_PER_IN, G_PER_OZ
from kentrobar.core.reading.calibration import Correction
from kentrobar.core.reading.entry import Cell, TypedAxis, TypedSpec, read_entry, taken_as
from kentrobar.core.reading.series import Precision, usual_precision
from kentrobar.core.reading.slips import expect_earlier

LENGTH_CM = 68.58


class Board:
    """A board whose stop lies 50 mm before its scale's zero."""

    correction = Correction(zero=5.0)

    def precision_at(self, reading):
        del reading
        return Precision(0.1, 0.05)


def entered(axis=("10", "cm"), sport=Sport.TENNIS, **typed):
    """An entry of texts by spec; a text alone is one reading in the base unit."""
    specs = {
        name: TypedSpec((each,), next(s.unit for s in READ if s.field == name))
        if isinstance(each, str)
        else each
        for name, each in typed.items()
    }
    return read_entry(specs, sport=sport, length_cm=LENGTH_CM, axis=TypedAxis(*axis))


@given(grams=st.floats(150, 420), unit=st.sampled_from(["g", "oz", "kg"]))
def test_a_unit_behind_the_number_wins_over_that_of_the_box(grams, unit):
    factor = {"g": 1, "oz": G_PER_OZ, "kg": 1000}[unit]
    entry = entered(mass=TypedSpec((f"{grams / factor:.9f} {unit}",), "oz"))
    assert entry.measured.mass_g.value == pytest.approx(grams, rel=1e-6)
    assert entry.specs["mass"].cells[0].unit == unit


@given(points=st.floats(-12, 12))
def test_points_are_no_reading_of_a_board(points):
    """They count from half of the length, and no board's offset goes on top."""
    entry = entered(balance=TypedSpec((f"{points:.6f}",), "pt", reader=Board()))
    expected = LENGTH_CM / 2 - points * CM_PER_IN / 8
    assert entry.measured.balance_cm.value == pytest.approx(expected, abs=1e-5)


def test_what_a_corrected_instrument_shows_stays_beside_what_it_is_taken_for():
    entry = entered(balance=TypedSpec(("314", "31.5 cm"), "mm", reader=Board()))
    row = entry.specs["balance"]
    assert row.values == pytest.approx([36.4, 36.5])
    assert [taken_as(BALANCE, cell, "the board") for cell in row.cells] == [
        "314 mm + 50 mm of the board",
        "31.5 cm + 5 cm of the board",
    ]
    assert taken_as(STATIC_WEIGHT, Cell("305", "g", 305.0), "the scale") == "305 g"


@given(
    readings=st.lists(st.integers(3000, 3100), min_size=1, max_size=9),
    out=st.sets(st.integers(0, 8), max_size=3),
)
def test_readings_are_averaged_without_those_left_out(readings, out):
    grams = [n / 10 for n in readings]
    typed = TypedSpec([str(g) for g in grams], "g", left_out=frozenset(out))
    entry = entered(mass=typed)
    standing = [g for i, g in enumerate(grams) if i not in out]
    if not standing:
        assert entry.is_empty
        return
    assert entry.measured.mass_g.value == pytest.approx(statistics.fmean(standing))


def test_more_readings_that_agree_are_surer_and_a_typed_spread_wins():
    once = entered(mass="305.0").measured.mass_g
    assert once.u == pytest.approx(usual_precision(STATIC_WEIGHT).one_reading_u)
    thrice = entered(mass=TypedSpec(["305.0"] * 3, "g")).measured.mass_g
    assert thrice.u < once.u
    typed = entered(mass=TypedSpec(("305.0",), "g", "±0.5")).measured.mass_g
    assert typed.u == 0.5
    of_points = entered(balance=TypedSpec(("6",), "pt", "0.5")).measured.balance_cm
    assert of_points.u == pytest.approx(0.5 * CM_PER_IN / 8)


@pytest.mark.parametrize(
    ("typed", "sentence"),
    [
        (TypedSpec(("abc",), "g"), "“abc” is not a number"),
        (TypedSpec(("-3",), "g"), "is above 0"),
        (TypedSpec(("305", "3 stone"), "g"), "Reading 2: “stone” is not a unit"),
        (TypedSpec(("305",), "g", "much"), "“much” is not a number"),
        (TypedSpec(("305",), "g", "-1"), "0 or more"),
    ],
)
def test_what_cannot_be_read_has_its_sentence_and_counts_as_not_read(typed, sentence):
    entry = entered(mass=typed)
    assert entry.has_errors
    assert any(sentence in error for error in entry.specs["mass"].errors)
    assert entry.specs["mass"].cells[-1].text == typed.texts[-1]


def test_a_swing_weight_needs_its_axis_and_nothing_else_does():
    assert "A swing weight needs its axis. Enter it" in entered(axis=("", "cm"), swingweight="301").axis_error
    alone = entered(axis=("", "cm"), mass="305", sport=Sport.PICKLEBALL)
    assert (alone.axis_error, alone.axis_cm) == ("", 5.0)
    assert entered(axis=("4", "in"), swingweight="301").axis_cm == pytest.approx(4 * CM_PER_IN)


def test_an_impossible_spec_names_its_field_also_with_what_is_known_of_the_rest():
    known = entered(mass="305", balance="32.1").measured
    alone = entered(swingweight="1318")
    assert alone.problem() is None
    assert alone.problem(known).field == SWING_WEIGHT.key
    assert entered(balance="72").problem().field == BALANCE.key


RIGHT = {"mass": "305.0", "balance": "32.1", "swingweight": "301"}


@given(
    name=st.sampled_from(["mass", "balance", "swingweight"]),
    slip=st.sampled_from(["doubled", "exchanged", "point", "dropped"]),
    place=st.integers(0, 4),
)
def test_each_fix_that_is_offered_passes(name, slip, place):
    """The fixed entry, typed anew, raises no question about the field that was fixed, and can be."""
    text = RIGHT[name]
    i = min(place, len(text) - 2)
    wrong = {
        "doubled": text[:i] + text[i] + text[i:],
        "exchanged": text[:i] + text[i + 1] + text[i] + text[i + 2 :],
        "point": text.replace(".", ""),
        "dropped": text[:i] + text[i + 1 :],
    }[slip]
    reference = expect_earlier("the reading before", entered(**RIGHT).measured)
    entry = entered(**RIGHT | {name: wrong})
    for fix in entry.fixes(reference):
        typed = {
            field: TypedSpec((t,), next(s.unit for s in READ if s.field == field))
            for field, t in (RIGHT | {name: wrong}).items()
        }
        axis = TypedAxis("10")
        for field, number in fix.changes.items():
            if field == "axis":
                axis = TypedAxis(number.text, number.unit)
            elif number.text:
                typed[field] = TypedSpec((number.text,), number.unit)
            else:
                typed.pop(field)
        again = read_entry(typed, sport=Sport.TENNIS, length_cm=LENGTH_CM, axis=axis)
        assert again.problem() is None
        assert not {q.field for q in again.questions(reference)} & set(fix.changes), fix.sentence


@given(spread=st.floats(0.05, 0.4), slip=st.sampled_from([("305.1", "350.1"), ("304.9", "340.9")]))
def test_an_outlier_is_offered_only_what_then_stands(spread, slip):
    right, wrong = slip
    others = [f"{305 + spread * k:.2f}" for k in (-1, 0, 1)]
    row = entered(mass=TypedSpec((*others, wrong), "g")).specs["mass"]
    for place, _text, meant in row.outlier_fixes():
        if meant:
            texts = [*others, wrong]
            texts[place] = meant
            fixed = entered(mass=TypedSpec(texts, "g")).specs["mass"]
            assert place not in fixed.series.outliers
    assert math.isfinite(float(right))


@pytest.mark.parametrize(
    ("texts", "unit", "step"),
    [
        (("312",), "g", 1.0),
        (("312.4",), "g", 0.1),
        (("312", "312.4"), "g", 0.1),  # a 0 at the end may be left out
        (("11.0 oz",), "g", 2.835),
        (("11",), "oz", 28.35),
    ],
)
def test_digits_tell_the_step_of_a_scale_that_nobody_named(texts, unit, step):
    """A kitchen scale in whole grams is no pocket scale: half a step to either side is as likely."""
    entry = entered(mass=TypedSpec(texts, unit))
    precision = entry.specs["mass"].precision
    assert precision.resolution == pytest.approx(step, rel=1e-3)
    assert precision.one_reading_u == pytest.approx(
        math.hypot(precision.repeatability, step / 12**0.5), rel=1e-3
    )


def test_whole_grams_hold_what_their_interval_claims():
    """95 of 100: weights at random, read off a scale in whole grams."""
    random, held = np.random.default_rng(5), 0
    for truth in random.uniform(295.0, 340.0, 400):
        quantity = (
            entered(mass=TypedSpec((f"{truth + random.normal(0, 0.05):.0f}",), "g")).specs["mass"].quantity
        )
        held += abs(quantity.value - truth) <= 1.96 * quantity.u
    assert held >= 0.93 * 400
