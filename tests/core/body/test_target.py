"""What is wanted: bands, what misses them, and the stored form that gives them back."""

import math
from itertools import pairwise

from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.body.specs import AIMED_BY_KEY
from kentrobar.core.body.target import NOTHING_WANTED, Alike, Target
from kentrobar.core.quantities.estimates import NOT_MEASURED
from tests.core.frames import plan

KEYS = sorted(AIMED_BY_KEY)
widths = st.dictionaries(st.sampled_from(KEYS), st.floats(0.01, 20), min_size=1)
alikes = st.sampled_from(Alike)


@st.composite
def targets(draw):
    tolerances = draw(widths)
    centres = draw(st.fixed_dictionaries({key: st.floats(50, 400) for key in tolerances}))
    return Target.about(
        centres if draw(st.booleans()) else {},
        tolerances,
        draw(st.floats(0, 20)),
        alike=draw(alikes),
        chance=draw(st.floats(0.5, 0.999)),
        setup=draw(st.sampled_from(["", "bare"])),
        ceiling_g=draw(st.sampled_from([math.inf, 320.0])),
        kept=frozenset(draw(st.sets(st.sampled_from(KEYS)))),
    )


@given(targets())
def test_what_is_stored_comes_back_as_it_was(target):
    assert Target.decoded(target.encoded()) == target


def test_nothing_stored_wants_nothing():
    assert Target.decoded({}) is NOTHING_WANTED
    assert not NOTHING_WANTED
    assert NOTHING_WANTED.contains(plan().prediction.after)


@given(widths, alikes)
def test_tolerances_are_told_as_they_were_asked_for(tolerances, alike):
    """Within t of each other is half of it to either side of a centre."""
    rounded = {key: round(t, 6) for key, t in tolerances.items()}
    free = Target.about({}, rounded, alike=alike)
    assert free.tolerances == rounded
    assert free.is_free
    assert free.centres == {}
    placed = free.placed(dict.fromkeys(rounded, 300.0))
    assert placed.tolerances == rounded
    assert placed.freed == free


def test_a_spec_misses_by_what_it_is_outside_and_an_edge_is_within():
    specs = plan().prediction.after
    value = specs.mass_g.value
    for low, high, missed in (
        (value - 1, value + 1, 0.0),
        (value, value + 1, 0.0),
        (value - 1, value, 0.0),
        (value + 2, value + 3, -2.0),
        (value - 5, value - 4, 4.0),
    ):
        target = Target({"mass_g": (low, high)})
        assert math.isclose(target.miss(specs)["mass_g"], missed, abs_tol=1e-9)
        assert target.contains(specs) == (missed == 0.0)


def test_what_is_not_known_is_not_within():
    specs = plan().prediction.after._replace(twistweight_kgcm2=NOT_MEASURED)
    target = Target({"twistweight_kgcm2": (0.0, 100.0)})
    assert target.miss(specs) == {}
    assert not target.contains(specs)


@given(st.floats(290, 330), st.floats(0.1, 5))
def test_a_ceiling_ends_the_band_of_the_weight(ceiling_g, tolerance):
    target = Target.about({"mass_g": 310.0}, {"mass_g": tolerance}, ceiling_g=ceiling_g)
    low, high = target.under_ceiling.bands["mass_g"]
    assert (low, high) == (310.0 - tolerance, min(310.0 + tolerance, ceiling_g))
    alone = Target(ceiling_g=ceiling_g).under_ceiling
    assert alone.bands == {"mass_g": (0.0, ceiling_g)}
    assert not alone.two_sided


def test_wider_tolerances_keep_the_centres():
    target = Target.about({"mass_g": 310.0, "balance_cm": 32.0}, {"mass_g": 1.0, "balance_cm": 0.1})
    for wider, wide in pairwise([target.with_tolerances({"mass_g": t}) for t in (3.0, 2.0, 1.0)]):
        assert wider.centres == wide.centres == {"mass_g": 310.0}
        assert wider.bands["mass_g"][1] > wide.bands["mass_g"][1]
