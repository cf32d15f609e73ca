"""What a cut of tape tells of its roll."""

import numpy as np
import pytest

from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.quantities.estimates import NOT_MEASURED
from kentrobar.core.quantities.units import CM_PER_IN, G_PER_OZ
from kentrobar.core.weight.materials import KINDS, STARTING_SHELF, Cut, Form, MaterialKind, density_of_cuts
from kentrobar.core.weight.tape_words import density_by_rule, length_and_mass


def test_every_kind_stands_on_the_starting_shelf_with_a_weight():
    assert {material.kind for material in STARTING_SHELF} == set(MaterialKind) == set(KINDS)
    assert all(material.weight > 0 and material.sold > 0 for material in STARTING_SHELF)
    assert {facts.form for facts in KINDS.values()} == set(Form)


def test_one_cut_gives_its_own_ratio_and_a_longer_one_is_surer():
    short, long = density_of_cuts([Cut(5, 0.52)]), density_of_cuts([Cut(50, 5.2)])
    assert short.value == pytest.approx(long.value) == pytest.approx(0.104)
    assert short.u > 2 * long.u


def test_stated_spread_holds_for_simulated_rolls():
    """Of many rolls weighed by three cuts, the truth lies within 2u in about 95 of 100."""
    random = np.random.default_rng(7)
    hits = 0
    for _ in range(2000):
        truth = random.uniform(0.05, 0.3)
        lengths = random.uniform(8, 40, 3)
        cuts = [
            Cut(length, truth * (length + random.normal(0, 0.1)) + random.normal(0, 0.05))
            for length in lengths
        ]
        found = density_of_cuts(cuts)
        hits += abs(found.value - truth) <= 2 * found.u
    assert 0.93 <= hits / 2000 <= 0.995


def test_cuts_that_disagree_widen_the_spread():
    alike = density_of_cuts([Cut(20, 2.0), Cut(20, 2.0), Cut(20, 2.0)])
    apart = density_of_cuts([Cut(20, 1.8), Cut(20, 2.0), Cut(20, 2.2)])
    assert apart.value == pytest.approx(alike.value)
    assert apart.u > 2 * alike.u


@pytest.mark.parametrize("cuts", [[], [Cut(0, 1)], [Cut(10, 1), Cut(5, -1)]])
def test_no_cut_is_refused(cuts):
    with pytest.raises(PieceError, match="each above 0"):
        density_of_cuts(cuts)


STRIP_CM = 8 * CM_PER_IN


@pytest.mark.parametrize(
    ("words", "length_cm", "mass_g"),
    [
        ("4 strips weigh half an ounce", 4 * STRIP_CM, G_PER_OZ / 2),
        ("four strips of it are 0.5 oz", 4 * STRIP_CM, G_PER_OZ / 2),
        ("2 in a gram", 2 * CM_PER_IN, 1.0),
        ("two inches a gram", 2 * CM_PER_IN, 1.0),
        ("1/8 oz a strip", STRIP_CM, G_PER_OZ / 8),
        ("2 in/g", 2 * CM_PER_IN, 1.0),
        ("8 1/2 in 1,5 g", 8.5 * CM_PER_IN, 1.5),
        ("20cm 2.05g", 20.0, 2.05),
        ("20 2.05", 20.0, 2.05),
    ],
)
def test_a_tape_is_described_as_people_say_it(words, length_cm, mass_g):
    found = length_and_mass(words, length_unit="cm", mass_unit="g", strip_cm=STRIP_CM)
    assert found == (pytest.approx(length_cm), pytest.approx(mass_g))


@pytest.mark.parametrize(
    "words",
    ["", "4 strips", "2 in 3 cm", "a gram", "heavy", "3 g 4 g", "2 in a gram 3 g", "9" * 50 + " in 1 g"],
)
def test_what_is_no_length_with_a_weight_is_refused(words):
    with pytest.raises(PieceError, match="no length with a weight"):
        length_and_mass(words, length_unit="cm", mass_unit="g", strip_cm=STRIP_CM)


def test_strips_of_no_known_length_are_asked_about():
    with pytest.raises(PieceError, match="how long a strip is"):
        length_and_mass("4 strips 0.5 oz", length_unit="cm", mass_unit="g", strip_cm=NOT_MEASURED)


def test_a_figure_that_was_passed_on_is_less_sure_than_a_cut():
    cut = Cut(20.0, 2.0)
    told = density_by_rule(cut)
    assert told.value == pytest.approx(density_of_cuts([cut]).value)
    assert told.u > 2 * density_of_cuts([cut]).u
