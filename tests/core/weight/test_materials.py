"""What a cut of tape tells of its roll."""

import numpy as np
import pytest

from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.weight.materials import KINDS, STARTING_SHELF, Cut, Form, MaterialKind, density_of_cuts


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
