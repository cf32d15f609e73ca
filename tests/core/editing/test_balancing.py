"""The one piece that completes a plan, and what is taken away."""

from dataclasses import replace

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.sport import Sport
from kentrobar.core.editing import actions
from kentrobar.core.editing.actions import round_strips
from kentrobar.core.editing.balancing import hold_balance, plain_heft, shift_balance
from kentrobar.core.editing.removal import (
    CutAmount,
    can_come_off,
    cut_out,
    exchange,
    require_left,
    take_off,
    trim_bumper,
)
from kentrobar.core.frame.places import ClockPlace
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.errors import PieceError, SpecError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.weight.builds import USUAL_FITTINGS, Fitting, FittingKind
from kentrobar.core.weight.pieces import RimStrip, effect_of
from kentrobar.core.weight.prediction import predict
from tests.core.frames import PADDLE, RACKET, REED, plan, point, strip

SETTING = {"length_cm": 68.58, "axis_cm": 10.0, "outline": RACKET}
MATE = MeasuredSpecs(Estimate(225), Estimate(23.8), Estimate(112), 5.0, Estimate(6.1))


def after(pieces, found=None):
    """Specs with the pieces, and with the completion laid where it says."""
    more = [] if found is None else [point(found.mass_g, found.y_cm)]
    return predict(REED, [*pieces, *more], **SETTING)


@given(st.lists(st.builds(point, st.floats(0.2, 6), st.floats(0, 68)), max_size=4))
def test_a_counterweight_holds_the_balance_to_a_scale_step(pieces):
    try:
        found = hold_balance(plan(pieces))
    except PieceError:
        assert abs(after(pieces).change.balance_cm.value) < 0.02 or sum(p.mass_g.value for p in pieces) > 9
        return
    # Half a step of 0.1 g at the far end moves the balance by 0.006 cm at most.
    assert after(pieces, found).change.balance_cm.value == pytest.approx(0.0, abs=0.007)


@given(st.floats(0.5, 6), st.floats(40, 68), st.floats(-1.0, -0.05))
def test_on_the_axis_the_balance_shifts_and_the_swing_weight_stays(mass, height, by):
    pieces = [point(mass, height)]
    found = shift_balance(plan(pieces), by)
    one, both = after(pieces).after, after(pieces, found).after
    assert both.swingweight_kgcm2.value == pytest.approx(one.swingweight_kgcm2.value, abs=1e-6)
    assert both.balance_cm.value - one.balance_cm.value == pytest.approx(by, abs=0.006)


def test_toward_the_tip_nothing_added_keeps_the_swing_weight():
    with pytest.raises(PieceError, match="remove weight"):
        shift_balance(plan(), 0.3)
    with pytest.raises(PieceError, match="plan less"):
        shift_balance(plan(), -8.0)
    with pytest.raises(PieceError, match="does not cross"):
        shift_balance(plan(axis_cm=-5.0), -0.3)


@pytest.mark.parametrize(("measured", "outline", "axis"), [(REED, RACKET, 10.0), (MATE, PADDLE, 5.0)])
def test_heft_lies_where_nothing_else_moves_most(measured, outline, axis):
    """No place half a centimetre away moves balance and swing weight less."""
    found = plain_heft(plan([], measured, outline, axis), 5.0)

    def moved(y):
        change = predict(measured, [point(5.0, y)], length_cm=outline.length_cm, axis_cm=axis).change
        return (change.balance_cm.value / 0.1) ** 2 + change.swingweight_kgcm2.value**2

    assert moved(found.y_cm) <= min(moved(found.y_cm - 0.5), moved(found.y_cm + 0.5)) + 1e-9


def test_what_was_never_read_is_asked_for():
    with pytest.raises(SpecError, match="Measure them first"):
        hold_balance(plan([point(3, 60)], MeasuredSpecs(Estimate(300))))
    with pytest.raises(PieceError, match="The balance has not moved: nothing to"):
        hold_balance(plan())


@given(st.floats(0.6, 30), st.sampled_from([0.1, 0.25, 0.5, 1.0, 0.635]))
def test_rounding_is_to_the_nearest_step_and_even(length, step):
    (piece,) = round_strips(plan([strip(180, length, mirrored=True)]), step).plan.pieces
    new = piece.length_cm.value
    assert new == pytest.approx(round(new / step) * step, abs=1e-3) or new == 0.5
    assert abs(new - length) <= max(step / 2, 0.5) + 1e-3
    assert effect_of(piece, RACKET).moments.first_x == 0


@pytest.mark.parametrize("step", [0, -1, 50])
def test_an_absurd_step_is_refused(step):
    with pytest.raises(PieceError, match="cutting step"):
        round_strips(plan([strip(180)]), step)


# -- taking away --------------------------------------------------------------------------


def fitted(kind, mass=None, **places):
    usual = USUAL_FITTINGS[kind]
    mass = Estimate(mass or usual.mass_g, usual.u_g)
    return Fitting(key=1, kind=kind, label=usual.label, mass_g=mass, **places)


@pytest.mark.parametrize("kind", FittingKind)
def test_taking_off_gives_the_frame_without_it(kind):
    """What comes off weighs what was fitted, and putting it on again changes nothing."""
    for outline, sport, measured in ((RACKET, Sport.TENNIS, REED), (PADDLE, Sport.PICKLEBALL, MATE)):
        if sport not in USUAL_FITTINGS[kind].sports:
            continue
        fitting = fitted(kind)
        off = take_off(fitting, outline)
        both = predict(
            measured, [off, fitting.body(outline)], length_cm=outline.length_cm, axis_cm=5.0, outline=outline
        )
        assert off.total_mass_g == pytest.approx(fitting.mass_g.value)
        for change in (both.change.mass_g, both.change.swingweight_kgcm2, both.change.twistweight_kgcm2):
            assert change.value == pytest.approx(0.0, abs=1e-9)
        with pytest.raises(PieceError, match="This plan already removes"):
            require_left(plan([off], measured, outline), fitting, off)
    assert can_come_off(fitted(kind)) == (kind is not FittingKind.STRINGS)


@given(st.floats(0.5, 12))
def test_a_trimmed_bumper_loses_its_share_at_its_ends(each_end):
    bumper = fitted(FittingKind.BUMPER)
    part = trim_bumper(bumper, RACKET, each_end)
    whole = bumper.body(RACKET)
    assert isinstance(whole, RimStrip)
    share = 2 * each_end / whole.length_cm.value
    assert part.total_mass_g == pytest.approx(share * bumper.mass_g.value, rel=0.02)
    ends = part.stretch(RACKET.rim(part.face))
    assert ends.end == pytest.approx(whole.stretch(RACKET.rim(part.face)).end, abs=0.01)


@pytest.mark.parametrize("length", [0, -2, 40])
def test_no_more_is_trimmed_than_there_is(length):
    with pytest.raises(PieceError, match="at each end"):
        trim_bumper(fitted(FittingKind.BUMPER), RACKET, length)
    with pytest.raises(PieceError, match="Only a bumper"):
        trim_bumper(fitted(FittingKind.GRIP), RACKET, 2)


@given(st.sampled_from([FittingKind.GRIP, FittingKind.STRINGS, FittingKind.OVERGRIP]), st.floats(0.1, 60))
def test_what_takes_a_fittings_place_is_told_by_what_is_more_or_less(kind, mass):
    """Lighter as well as heavier: as if the old one came off and the new one went on."""
    old = fitted(kind)
    assume(abs(mass - old.mass_g.value) > 0.06)
    new = replace(old, key=0, label="another", mass_g=Estimate(mass, 0.1))
    (piece,) = exchange(old, new, RACKET)
    assert piece.removed == (mass < old.mass_g.value)
    one = predict(REED, [piece], **SETTING).change
    off = replace(old.body(RACKET), removed=True)
    both = predict(REED, [off, new.body(RACKET)], **SETTING).change
    for spec in ("mass_g", "balance_cm", "swingweight_kgcm2", "twistweight_kgcm2"):
        assert getattr(one, spec).value == pytest.approx(getattr(both, spec).value, abs=1e-9)
    with pytest.raises(PieceError, match="nothing changes"):
        exchange(old, replace(old, label="the like"), RACKET)


def test_strings_of_another_pattern_lie_otherwise():
    old = replace(fitted(FittingKind.STRINGS), mains=16, crosses=19)
    off, on = exchange(old, replace(old, label="18 × 20", mains=18, crosses=20), RACKET)
    assert off.removed
    assert not on.removed
    assert on.total_mass_g == pytest.approx(off.total_mass_g)
    assert effect_of(off, RACKET).moments != effect_of(on, RACKET).moments


@given(st.floats(0.5, 8), st.sampled_from([0.0, 60.0, 120.0, 660.0]), st.booleans())
def test_a_length_is_cut_out_anywhere_by_length_or_weight(length, minutes, mirrored):
    """Told by its length or by the weight that length has, it is the same piece; of the strip's density."""
    bumper, at = fitted(FittingKind.BUMPER), ClockPlace(minutes)
    assume(not (mirrored and minutes == 0.0))
    by_length = cut_out(bumper, RACKET, at, CutAmount(length), mirrored=mirrored)
    whole = bumper.body(RACKET)
    per_cm = bumper.mass_g.value / whole.extent_cm
    by_mass = cut_out(
        bumper, RACKET, at, CutAmount(mass_g=Estimate(length * per_cm, 0.05)), mirrored=mirrored
    )
    weighed = cut_out(bumper, RACKET, at, CutAmount(length, Estimate(1.2, 0.05)), mirrored=mirrored)
    sides = 2 if mirrored else 1
    assert by_length.removed
    # Lengths are kept to a tenth of a millimetre.
    assert by_length.total_mass_g == pytest.approx(sides * length * per_cm, abs=sides * 0.006 * per_cm)
    assert by_mass.total_mass_g == pytest.approx(by_length.total_mass_g, abs=sides * 0.012 * per_cm)
    assert weighed.total_mass_g == pytest.approx(1.2 * sides)
    line = RACKET.rim(Face.BUMPER)
    start, end = by_length.stretch(line)
    assert (start + end) / 2 == pytest.approx(line.wrap(at.arc_length(line)), abs=0.02)


def test_a_strip_that_was_cut_comes_off_whole():
    """What was to be cut off it goes with it: its own weight is taken away, once."""
    guard = fitted(FittingKind.GUARD)
    start = plan([], fitted=(guard,))
    cut = actions.cut_out(start, guard.key, ClockPlace(0.0), CutAmount(6.0), False).plan
    cut = actions.cut_out(cut, guard.key, ClockPlace(60.0), CutAmount(2.0), True).plan
    off = actions.take_off(cut, guard.key).plan
    (piece,) = off.pieces
    assert piece.total_mass_g == pytest.approx(guard.mass_g.value)
    with pytest.raises(PieceError, match="This plan already removes"):
        actions.take_off(off, guard.key)


def test_no_stretch_is_cut_out_twice_nor_beyond_the_strip():
    guard = fitted(FittingKind.GUARD)
    first = cut_out(guard, RACKET, ClockPlace(0.0), CutAmount(6.0))
    start = plan([first])
    with pytest.raises(PieceError, match="already removes that part"):
        require_left(start, guard, cut_out(guard, RACKET, ClockPlace(20.0), CutAmount(3.0)))
    require_left(start, guard, cut_out(guard, RACKET, ClockPlace(60.0), CutAmount(2.0)))
    with pytest.raises(PieceError, match="either side of the tip"):
        cut_out(guard, RACKET, ClockPlace(180.0), CutAmount(6.0))
    with pytest.raises(PieceError, match="along the rim"):
        cut_out(fitted(FittingKind.GRIP), RACKET, ClockPlace(0.0), CutAmount(6.0))
    (other,) = exchange(guard, replace(guard, key=0, mass_g=Estimate(5.0)), RACKET)
    with pytest.raises(PieceError, match="This plan already removes"):
        require_left(start, guard, other)


def test_bumper_guard_and_grommet_strip_are_two_things():
    """Apart they weigh about what both weigh together, and the guard lies nearer to the tip."""
    usual = {kind: USUAL_FITTINGS[kind] for kind in (FittingKind.GUARD, FittingKind.GROMMETS)}
    together = USUAL_FITTINGS[FittingKind.BUMPER]
    assert sum(each.mass_g for each in usual.values()) == pytest.approx(together.mass_g)
    guard, grommets = (fitted(kind).body(RACKET) for kind in usual)
    assert effect_of(guard, RACKET).centre_cm > effect_of(grommets, RACKET).centre_cm
