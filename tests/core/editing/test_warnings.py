"""What speaks against a piece at its place, and that every way out leads out."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.editing.warnings import is_covered, warnings_for
from kentrobar.core.frame.blocked import parse_blocked
from kentrobar.core.frame.circumstances import (
    Circumstances,
    HandleBuild,
    KeepOut,
    PostHold,
    free_stretches,
    keep_outs,
)
from kentrobar.core.frame.places import ClockPlace
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate
from kentrobar.core.weight.materials import KINDS, Hardness, MaterialKind, Undo
from kentrobar.core.weight.piece_of_material import PieceOfMaterial
from kentrobar.core.weight.pieces import Plug, RimStrip, Sleeve, effect_of
from tests.core.frames import PADDLE, RACKET, point, strip

LEAD, EDGE = MaterialKind.LEAD_TAPE, MaterialKind.EDGE_TAPE
BLOCKED = Circumstances(blocked=tuple(parse_blocked("6T, 8H, 1:15-1:45", RACKET, 16)))
PUTTY = Plug(mass_g=Estimate(4.0, 0.05), from_cm=5.0, to_cm=8.0)


def codes(piece, circumstances=Circumstances(), kind=LEAD, outline=RACKET):  # noqa: B008 - frozen
    return {o.code for o in warnings_for([PieceOfMaterial(piece, kind)], outline, circumstances)}


@pytest.mark.parametrize(
    ("piece", "kind", "circumstances", "code"),
    [
        (PUTTY, MaterialKind.SILICONE, Circumstances(handle=HandleBuild.FOAM), "foam_handle"),
        (PUTTY, MaterialKind.SILICONE, Circumstances(handle=HandleBuild.UNKNOWN), "handle_unknown"),
        (strip(30, face=Face.BUMPER), LEAD, Circumstances(is_used=True), "worn_bumper"),
        (strip(30, face=Face.BUMPER), MaterialKind.TUNGSTEN_TAPE, Circumstances(), "stiff_in_channel"),
        (strip(240, face=Face.BUMPER), LEAD, Circumstances(), "beyond_bumper"),
        (strip(90, face=Face.BUMPER), LEAD, Circumstances(bumper_reach_cm=60.0), "beyond_bumper"),
        (strip(5), LEAD, Circumstances(post=PostHold.CENTRE), "post"),
        (strip(45), LEAD, Circumstances(post=PostHold.OFFSET), "post"),
        (strip(90, 12.0), LEAD, BLOCKED, "blocked"),
        (strip(10, 12.0, mirrored=True), LEAD, Circumstances(), "crosses_itself"),
        (point(3, 52, 12), MaterialKind.MODULE, Circumstances(), "trial_only"),
        (point(6, 40), MaterialKind.BUTT_CAP, Circumstances(), "cap_off_butt"),
        (Sleeve(mass_g=Estimate(2.0), from_cm=6, to_cm=9), LEAD, Circumstances(), "lead_at_hand"),
        (Sleeve(mass_g=Estimate(2.0), from_cm=6, to_cm=9), LEAD, Circumstances(), "grip_grows"),
    ],
)
def test_a_rule_objects_and_its_fixes_settle_it(piece, kind, circumstances, code):
    """What is proposed as a way out meets the same rule no more."""
    found = [o for o in warnings_for([PieceOfMaterial(piece, kind)], RACKET, circumstances) if o.code == code]
    assert len(found) == 1
    for fix in found[0].fixes:
        again = warnings_for([PieceOfMaterial(each, kind) for each in fix.pieces], RACKET, circumstances)
        assert code not in {o.code for o in again}, fix.label


def test_what_a_shop_says_of_its_own_tape_counts():
    """A thin tungsten tape that bends may go into the channel; a tape for trials only is told."""
    under, kind = strip(30, face=Face.BUMPER), MaterialKind.TUNGSTEN_TAPE
    thin = KINDS[kind]._replace(hardness=Hardness.SOFT)
    trial = KINDS[LEAD]._replace(undo=Undo.TRIAL)
    about = (RACKET, Circumstances())
    assert warnings_for([PieceOfMaterial(under, kind, thin)], *about) == []
    assert [o.code for o in warnings_for([PieceOfMaterial(strip(180), LEAD, trial)], *about)] == [
        "trial_only"
    ]


@pytest.mark.parametrize(
    ("piece", "circumstances"),
    [
        (strip(180, 8.0, mirrored=True), BLOCKED),
        (strip(45), Circumstances(post=PostHold.CENTRE)),
        (Plug(mass_g=Estimate(4.0), from_cm=0.3, to_cm=2.0), Circumstances(handle=HandleBuild.FOAM)),
        (strip(30, face=Face.BUMPER), Circumstances(bumper_reach_cm=50.0)),
        (replace(strip(90, 12.0), removed=True), BLOCKED),
    ],
)
def test_what_is_in_order_is_let_be(piece, circumstances):
    assert codes(piece, circumstances, kind=None) == set()


@given(
    st.floats(0, 719),
    st.floats(2, 25),
    st.booleans(),
    st.sampled_from([PostHold.CENTRE, PostHold.OFFSET, PostHold.UNKNOWN]),
)
def test_fixes_of_a_blocked_stretch_are_clear_and_add_nothing(minutes, length, mirrored, post):
    """Moved strips keep their weight, cut ones gain none; left stays equal to right."""
    circumstances = replace(BLOCKED, post=post)
    piece = strip(minutes, length, mirrored=mirrored)
    for warning in warnings_for([PieceOfMaterial(piece, LEAD)], RACKET, circumstances):
        for fix in warning.fixes:
            mass = sum(each.total_mass_g for each in fix.pieces)
            assert mass <= piece.total_mass_g + 0.01
            if "Move" in fix.label:
                assert mass == pytest.approx(piece.total_mass_g, abs=0.01)
            if warning.code in ("blocked", "post"):
                for each in fix.pieces:
                    assert codes(each, circumstances) == set()
            if mirrored:
                assert all(each.mirrored for each in fix.pieces)


def test_a_strip_across_the_tip_parts_for_the_post_into_an_even_pair():
    (warning,) = warnings_for(
        [PieceOfMaterial(strip(0, 10.0), LEAD)], RACKET, Circumstances(post=PostHold.CENTRE)
    )
    (pair,) = warning.fixes[0].pieces
    assert (pair.mirrored, pair.length_cm.value) == (True, 5.0)
    assert pair.gap_cm == pytest.approx(1.2)


def test_a_second_strip_on_the_first_is_told_and_tape_over_it_is_not():
    first, second = strip(180, 8.0), strip(190, 8.0)
    (warning,) = warnings_for(
        [PieceOfMaterial(first, LEAD), PieceOfMaterial(second, LEAD)], RACKET, Circumstances()
    )
    assert (warning.code, warning.position) == ("on_another", 1)
    assert (
        warnings_for([PieceOfMaterial(first, LEAD), PieceOfMaterial(second, EDGE)], RACKET, Circumstances())
        == []
    )


def test_a_bare_edge_of_a_paddle_asks_for_tape_over_it():
    bare = RimStrip(
        at=ClockPlace(180.0), length_cm=Estimate(6.0), g_per_cm=Estimate(0.2), face=Face.OUTER, mirrored=True
    )
    over = replace(bare, at=ClockPlace(0.0), length_cm=Estimate(35.0))
    assert codes(bare, outline=PADDLE) == {"bare_edge"}
    assert codes(bare, Circumstances(has_edge_tape=True), outline=PADDLE) == set()
    laid = [PieceOfMaterial(bare, LEAD), PieceOfMaterial(over, EDGE)]
    assert is_covered(bare, laid, PADDLE)
    assert warnings_for(laid, PADDLE, Circumstances()) == []


@given(st.lists(st.tuples(st.floats(-60, 60), st.floats(0.1, 10)), max_size=5))
def test_free_stretches_and_keep_outs_share_the_stretch(outs):
    outs = [KeepOut(start, start + length, "", "") for start, length in outs]
    free = free_stretches(0.0, 40.0, outs, 0.0)
    for start, end in free:
        assert 0 <= start < end <= 40
        assert all(end <= out.start + 1e-9 or start >= out.end - 1e-9 for out in outs)
    covered = 40 - sum(end - start for start, end in free)
    assert covered <= sum(out.end - out.start for out in outs) + 1e-5


def test_posts_and_holes_are_kept_out_on_both_sides():
    outs = keep_outs(replace(BLOCKED, post=PostHold.OFFSET), RACKET, Face.INNER)
    assert sorted(out.code for out in outs) == ["blocked"] * 5 + ["post"] * 2
    under = keep_outs(replace(BLOCKED, post=PostHold.OFFSET), RACKET, Face.BUMPER)
    assert {out.code for out in under} == {"blocked"}


@given(st.floats(0, 719), st.floats(2, 30), st.booleans(), st.integers(2, 4))
def test_dividing_a_strip_changes_nothing_else(minutes, length, mirrored, parts):
    whole = strip(minutes, round(length, 1), mirrored=mirrored)
    if effect_of(whole, RACKET).overlaps:
        return
    cut = whole.divided(RACKET, parts)
    moments = [effect_of(each, RACKET).moments for each in cut]
    together = [sum(values) for values in zip(*moments, strict=True)]
    assert len(cut) == parts
    # Cuts are rounded to 0.1 mm, the clock to below a micrometre.
    assert together == pytest.approx(list(effect_of(whole, RACKET).moments), rel=2e-2, abs=0.5)


@pytest.mark.parametrize(
    ("minutes", "length", "kind", "objects"),
    [
        (60, 5, MaterialKind.TUNGSTEN_TAPE, True),
        (60, 5, LEAD, False),
        (120, 8, MaterialKind.TUNGSTEN_TAPE, False),
        (60, 1.5, MaterialKind.TUNGSTEN_TAPE, False),
    ],
)
def test_stiff_tape_goes_round_a_corner_in_short_strips(minutes, length, kind, objects):
    """On the side it lies flat; round the corner what is proposed holds and weighs the same."""
    piece = strip(minutes, length, mirrored=True, face=Face.OUTER)
    found = [
        o
        for o in warnings_for([PieceOfMaterial(piece, kind)], PADDLE, Circumstances())
        if o.code == "stiff_bend"
    ]
    assert bool(found) == objects
    for fix in (fix for o in found for fix in o.fixes):
        assert sum(each.total_mass_g for each in fix.pieces) == pytest.approx(piece.total_mass_g, rel=0.01)
        laid = [PieceOfMaterial(part, kind) for part in fix.pieces]
        assert "stiff_bend" not in {o.code for o in warnings_for(laid, PADDLE, Circumstances())}
    racket = strip(minutes, length, mirrored=True)
    assert "stiff_bend" not in codes(racket, kind=MaterialKind.TUNGSTEN_TAPE)


@pytest.mark.parametrize(
    ("mass_g", "length_cm", "objects"), [(200.0, 0.1, True), (4.0, 8.0, False), (30.0, 20.0, False)]
)
def test_a_strip_denser_than_any_tape_is_questioned(mass_g, length_cm, objects):
    """200 g on a millimetre: a unit slipped."""
    piece = replace(strip(60.0, length_cm), g_per_cm=NOT_MEASURED, mass_g=Estimate(mass_g, 0.1))
    found = warnings_for([PieceOfMaterial(piece)], RACKET, Circumstances())
    assert ("too_dense" in {each.code for each in found}) == objects
    assert not any(each.is_refusal for each in found if each.code == "too_dense")
