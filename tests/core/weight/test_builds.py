"""Fittings and builds: typical masses, strings by pattern, and turning one build into another."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate
from kentrobar.core.reading.comparing import FeltRule, Verdict, gap
from kentrobar.core.weight.builds import (
    USUAL_FITTINGS,
    Build,
    Fitting,
    FittingKind,
    change_build,
    fitted_in,
    weighed,
)
from kentrobar.core.weight.pieces import StringBed, effect_of
from kentrobar.core.weight.strings import installed_mass_g, string_length_cm, string_moments
from tests.core.frames import PADDLE, RACKET, REED


def fittings_of(sport):
    return [
        Fitting(key=i, kind=kind, label=usual.label, mass_g=Estimate(usual.mass_g, usual.u_g))
        for i, (kind, usual) in enumerate(USUAL_FITTINGS.items())
        if sport in usual.sports
    ]


RACKETS = fittings_of(Sport.TENNIS)
subsets = st.sets(st.sampled_from(range(len(RACKETS))))


def test_strings_weigh_what_is_usual():
    """A 100 in² hoop with 16 x 19 takes about 10 m; 1.25 mm polyester weighs 16 to 18 g in it."""
    assert 900 < string_length_cm(RACKET, 16, 19) < 1100
    assert 16 < installed_mass_g(RACKET, 16, 19, 1.25, 1.38).value < 18
    assert string_length_cm(RACKET, 18, 20) > string_length_cm(RACKET, 16, 19)
    with pytest.raises(PieceError, match="no tennis string"):
        installed_mass_g(RACKET, 16, 19, 12.5, 1.38)
    with pytest.raises(PieceError, match="16 x 19 is usual"):
        string_length_cm(RACKET, 160, 19)


def test_a_pattern_and_an_even_bed_lie_nearly_alike():
    """The contract's even ellipse: A = m(c² + a²/4), T = m·b²/4."""
    true, even = string_moments(RACKET, 16, 19), string_moments(RACKET)
    assert true[1] == pytest.approx(even[1], abs=0.2)
    assert true[2] == pytest.approx(even[2], rel=0.01)
    bed = effect_of(StringBed(mass_g=Estimate(17.1, 0.2)), RACKET).moments
    centre = bed.first_y / bed.mass
    half = (RACKET.dimensions.head_length_cm - 2.2) / 2
    assert bed.second_yz == pytest.approx(17.1 * (centre**2 + half**2 / 4), rel=5e-3)
    # Nearly the worth of a point at its middle: 17.1 g make some thirty units.
    assert bed.swingweight_kgcm2(10.0) == pytest.approx(30.4, abs=0.6)


@given(subsets, subsets)
def test_turning_there_and_back_changes_nothing(worn, wanted):
    """Whatever is fitted, a build turned into another and back is itself again."""
    one, other = ([RACKETS[i] for i in sorted(chosen)] for chosen in (worn, wanted))
    there = change_build(REED, one, other, outline=RACKET, axis_cm=10.0)
    back = change_build(there.measured, other, one, outline=RACKET, axis_cm=10.0).prediction.after
    assert back.mass_g.value == pytest.approx(310.0, abs=1e-9)
    assert back.balance_cm.value == pytest.approx(32.4, abs=1e-9)
    assert back.swingweight_kgcm2.value == pytest.approx(318.0, abs=1e-8)
    assert back.twistweight_kgcm2.value == pytest.approx(13.6, abs=1e-9)
    assert len(there.ledger) == len(worn ^ wanted)


def test_the_ledger_adds_up_and_the_spread_grows():
    bare, playing = fitted_in(Build.BARE, RACKETS), fitted_in(Build.PLAYING, RACKETS)
    turned = change_build(REED, bare, playing, outline=RACKET, axis_cm=10.0)
    after = turned.prediction.after
    changes = [line.change for line in turned.ledger]
    assert sum(c.mass_g.value for c in changes) == pytest.approx(after.mass_g.value - 310.0)
    swing = sum(c.swingweight_kgcm2.value for c in changes)
    assert swing == pytest.approx(after.swingweight_kgcm2.value - 318.0)
    assert after.swingweight_kgcm2.u > 1.0
    strings = next(line for line in turned.ledger if line.fitting.kind is FittingKind.STRINGS)
    assert not strings.removed
    film = next(line for line in turned.ledger if line.fitting.kind is FittingKind.FILM)
    assert film.removed
    assert film.change.mass_g.value < 0


def test_unknown_stays_unknown_in_any_build():
    scale_only = MeasuredSpecs(Estimate(300, 0.1))
    turned = change_build(scale_only, [], RACKETS[:1], outline=RACKET, axis_cm=10.0)
    assert turned.measured.mass_g.value == pytest.approx(316.5)
    assert not turned.measured.swingweight_kgcm2


def test_paddles_have_their_own_fittings():
    turned = change_build(REED, [], fittings_of(Sport.PICKLEBALL), outline=PADDLE, axis_cm=5.0)
    assert {line.fitting.kind for line in turned.ledger} >= {FittingKind.EDGE_TAPE, FittingKind.GRIP}
    with pytest.raises(PieceError, match="no strings"):
        RACKETS[0].body(PADDLE)


def test_weighings_of_several_tell_how_much_they_differ():
    assert weighed([5.2]).u == pytest.approx(0.1)
    several = weighed([5.0, 5.4, 5.8])
    assert several.value == pytest.approx(5.4)
    assert several.u > 0.4
    with pytest.raises(PieceError, match="above 0"):
        weighed([5.0, 0.0])


@pytest.mark.parametrize(
    ("one", "other", "verdict", "felt"),
    [
        (Estimate(305, 1), Estimate(318, 1), Verdict.REAL, True),
        (Estimate(305, 1), Estimate(309, 1), Verdict.REAL, False),
        (Estimate(305, 5), Estimate(317, 5), Verdict.NOISE, False),
        (NOT_MEASURED, Estimate(317, 5), Verdict.UNKNOWN, False),
    ],
)
def test_a_gap_is_real_beyond_twice_its_spread(one, other, verdict, felt):
    found = gap("swingweight_kgcm2", one, other, FeltRule())
    assert (found.verdict, found.likely_felt) == (verdict, felt)
