"""Reading what people type, and asking about what is odd."""

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.bench.cautions import CAUTIONS, Hazard, cautions_for
from kentrobar.core.body.limits import require_possible
from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.errors import SpecError, UnitError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import (
    INERTIA,
    KGCM2_PER_OZIN2,
    LENGTH,
    MASS,
    balance_from_points,
    parse_balance,
    parse_quantity,
    parse_range,
    points_headlight,
)
from kentrobar.core.reading.checks import band_questions
from tests.core.frames import REED


@pytest.mark.parametrize(
    ("text", "dimension", "unit", "base"),
    [
        ("308.6", MASS, "g", 308.6),
        ("308,6 g", MASS, "oz", 308.6),
        ("8 3/8 oz", MASS, "g", 237.427),
        ("3/8", MASS, "oz", 10.631),
        ("10.9", MASS, "oz", 309.010),
        (" 12.5 in", LENGTH, "cm", 31.75),
        ('12.5"', LENGTH, "cm", 31.75),
        ("318 mm", LENGTH, "in", 31.8),
        (".5", LENGTH, "cm", 0.5),
        ("287 kgcm2", INERTIA, "kg·cm²", 287.0),
        ("1569.2 oz·in²", INERTIA, "kg·cm²", 1569.2 * KGCM2_PER_OZIN2),
        ("−3", LENGTH, "cm", -3),
    ],
)
def test_typed_quantities_are_read(text, dimension, unit, base):
    value, read_unit = parse_quantity(text, dimension, unit)
    assert dimension.to_base(value, read_unit) == pytest.approx(base, abs=1e-3)


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        ("abc", "not a number"),
        ("", "not a number"),
        ("12 pounds", "not a unit of weight"),
        ("1,000.5", "not a unit"),
        ("1/0", "below its line"),
        ("9" * 10_000, "10000 characters"),
        ("9" * 40, "far too large"),
        ("nan", "not a number"),
        ("1e5", "not a unit"),
    ],
)
def test_what_cannot_be_read_says_why(text, sentence):
    with pytest.raises(UnitError, match=sentence):
        parse_quantity(text, MASS, "g")


@pytest.mark.parametrize(
    ("text", "unit", "points"),
    [
        ("6 HL", "mm", 6),
        ("2 pts HH", "cm", -2),
        ("4", "pt", 4),
        ("-3", "pt", -3),
        ("1.5 head-light", "cm", 1.5),
    ],
)
def test_balance_in_points(text, unit, points):
    *_, balance_cm = parse_balance(text, unit, 68.58)
    assert points_headlight(balance_cm, 68.58) == pytest.approx(points)


@given(st.floats(20, 40), st.floats(60, 75))
def test_points_are_reversible(balance_cm, length_cm):
    points = points_headlight(balance_cm, length_cm)
    assert balance_from_points(points, length_cm) == pytest.approx(balance_cm)


@pytest.mark.parametrize(
    ("changed", "field"),
    [
        ({"mass_g": Estimate(-5)}, "mass_g"),
        ({"balance_cm": Estimate(70)}, "balance_cm"),
        ({"swingweight_kgcm2": Estimate(1318)}, "swingweight_kgcm2"),
        ({"swingweight_kgcm2": Estimate(100)}, "swingweight_kgcm2"),
        ({"axis_cm": 500.0}, "axis_cm"),
        ({"twistweight_kgcm2": Estimate(0)}, "twistweight_kgcm2"),
    ],
)
def test_impossible_specs_are_refused_at_their_field(changed, field):
    with pytest.raises(SpecError) as refused:
        require_possible(replace(REED, **changed), 68.58)
    assert refused.value.field == field


@given(st.lists(st.tuples(st.floats(0.1, 100), st.floats(0.5, 68)), min_size=2, max_size=8))
def test_no_real_frame_is_called_impossible(masses):
    """Any masses between butt and tip obey the hard limit."""
    whole = sum(m for m, _ in masses)
    masses = [(300 * m / whole, y) for m, y in masses]
    mass = sum(m for m, _ in masses)
    balance = sum(m * y for m, y in masses) / mass
    swing = sum(m * (y - 10) ** 2 for m, y in masses) / 1000
    recoil = sum(m * (y - balance) ** 2 for m, y in masses) / 1000
    if recoil > 1e-6 and 2 < balance < 68.58 and swing > 10:
        require_possible(MeasuredSpecs(Estimate(mass), Estimate(balance), Estimate(swing), 10.0), 68.58)


def test_values_outside_their_band_are_asked_about():
    assert band_questions(REED, Sport.TENNIS, 68.58) == []
    light = replace(REED, mass_g=Estimate(31))
    assert [q.field for q in band_questions(light, Sport.TENNIS, 68.58)] == ["mass_g"]


def test_cautions_come_gravest_first_and_once():
    assert cautions_for([Hazard.ADDED_WEIGHT, Hazard.LEAD, Hazard.LEAD]) == [
        CAUTIONS[Hazard.LEAD],
        CAUTIONS[Hazard.ADDED_WEIGHT],
    ]
    assert set(CAUTIONS) == set(Hazard)


class TestRanges:
    @given(st.floats(1, 900), st.floats(0, 90), st.sampled_from(["-", "–", " to ", "..", " - "]))
    def test_both_ends_are_read_in_any_way_they_are_written(self, low, width, between):
        low, high = round(low, 2), round(low + width, 2)
        assert parse_range(f"{low}{between}{high}", MASS, "g") == (low, high)
        in_g = parse_range(f"{low}{between}{high} oz", MASS, "g")[1]
        assert in_g == pytest.approx(MASS.to_base(high, "oz"))

    @pytest.mark.parametrize(
        ("text", "ends"),
        [
            ("305", (304.5, 305.5)),
            ("305.2", (305.15, 305.25)),
            ("305,2", (305.15, 305.25)),
            ("over 320", (320, math.inf)),
            (">= 320", (320, math.inf)),
            ("under 11", (-math.inf, 11)),
            ("up to 300", (-math.inf, 300)),
        ],
    )
    def test_one_number_is_what_rounds_to_it_and_an_end_may_be_open(self, text, ends):
        assert parse_range(text, MASS, "g") == pytest.approx(ends)

    @pytest.mark.parametrize("text", ["310-300", "heavy", "300-", "-", "1e999-2", "300 pt"])
    def test_what_is_no_range_is_refused(self, text):
        with pytest.raises(UnitError):
            parse_range(text, MASS, "g")
