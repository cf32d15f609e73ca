"""How hard work is told, strips that meet, small weights, and cautions by what a plan does."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.bench.cautions import Hazard, Strain, hazards_of, strain_sentence
from kentrobar.core.bench.cut_list import cut_groups
from kentrobar.core.bench.instructions import dosing, head_hole_cm, procedures_of
from kentrobar.core.bench.joining import joined
from kentrobar.core.bench.procedures import NumberWriter
from kentrobar.core.editing.plan import PlanPiece
from kentrobar.core.editing.removal import CutAmount, cut_out, trim_bumper
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.frame.circumstances import Circumstances, HandleBuild
from kentrobar.core.frame.places import ClockPlace
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.weight.builds import USUAL_FITTINGS, Fitting, FittingKind
from kentrobar.core.weight.materials import MaterialKind
from kentrobar.core.weight.pieces import Plug, Sleeve, effect_of
from kentrobar.core.weight.pieces.piece import Source
from tests.core.frames import RACKET, plan, point, stock, strip

TOLD = NumberWriter(lambda cm: f"{10 * cm:.0f} mm", lambda grams: f"{grams:.2f} g")
TAPE, PUTTY = stock(MaterialKind.TUNGSTEN_TAPE), stock(MaterialKind.TUNGSTEN_PUTTY, 2)
SHELF = Shelf([TAPE, PUTTY])


def fitting(kind, **more):
    usual = USUAL_FITTINGS[kind]
    return Fitting(key=3, kind=kind, label=usual.label, mass_g=Estimate(usual.mass_g, usual.u_g), **more)


def of_tape(minutes, length, **options):
    return strip(minutes, length, source=Source(stock=1), material="Tape", **options)


def moments(pieces):
    whole = [effect_of(piece, RACKET).moments for piece in pieces]
    return [sum(each) for each in zip(*whole, strict=True)]


# -- strips that meet ------------------------------------------------------------------------------

LINE = RACKET.rim(Face.INNER)


@given(st.floats(2, 8), st.floats(2, 8), st.floats(0, 12), st.booleans(), st.booleans())
def test_what_is_joined_weighs_and_lies_as_its_pieces_do(first, second, start, mirrored, gap):
    """Two strips end to end are one where they meet and two where they do not; the moments stay."""
    between = 1.0 if gap else 0.0
    a = of_tape(0, first, mirrored=mirrored).part(RACKET, start, start + first)
    b = of_tape(0, second, mirrored=mirrored).part(
        RACKET, start + first + between, start + first + between + second
    )
    pieces = [a, b, point(4, 1.8)]
    found = joined([PlanPiece(n, piece) for n, piece in enumerate(pieces, 1)], RACKET)
    assert moments([each.piece for each in found]) == pytest.approx(moments(pieces), rel=8e-3, abs=0.3)
    assert len(found) == (3 if gap else 2)
    if not gap:
        assert found[0].name == "1+2"


def test_a_pair_that_meets_over_the_tip_is_one_strip():
    pair = of_tape(0, 5, mirrored=True)
    (one,) = joined([PlanPiece(1, pair)], RACKET)
    assert one.piece.length_cm.value == pytest.approx(10.0)
    assert not one.piece.mirrored
    apart = of_tape(60, 5, mirrored=True)
    assert joined([PlanPiece(1, apart)], RACKET)[0].piece is apart
    (group,) = cut_groups(plan([pair]), SHELF)
    assert [cut.length_cm for sold in group.strips for cut in sold.cuts] == [pytest.approx(10.0)]


def test_other_tape_other_face_and_what_is_taken_away_stay_apart():
    base = of_tape(0, 5, mirrored=False).part(RACKET, 5, 10)
    others = [
        replace(base, source=Source(stock=9)),
        replace(base, face=Face.OUTER),
        replace(base, layers=2),
        replace(base, removed=True),
    ]
    for other in others:
        neighbour = other.part(RACKET, 10, 15)
        assert len(joined([PlanPiece(1, base), PlanPiece(2, neighbour)], RACKET)) == 2


# -- hard work ------------------------------------------------------------------------------------------


@pytest.mark.parametrize("strung", [True, False])
def test_hidden_work_is_told_whole(strung):
    fitted = (fitting(FittingKind.STRINGS, mains=16, crosses=19),) if strung else ()
    hidden = plan([of_tape(20, 4, mirrored=True, face=Face.BUMPER)], fitted=fitted)
    (told,) = procedures_of(hidden, SHELF, TOLD)
    text = " ".join(told.steps)
    assert ("Cut the strings out" in text) == strung
    for word in (
        "Lift bumper",
        "main hole",
        "alcohol",
        "Bend each strip",
        "Press",
        "cross over every",
        "Put grommets",
        "String the frame",
    ):
        assert word in text
    holes = [head_hole_cm(RACKET, n, 16) for n in range(1, 9)]
    assert holes == sorted(holes)
    open_ = plan([of_tape(60, 6, mirrored=True)])
    assert procedures_of(open_, SHELF, TOLD) == []


@pytest.mark.parametrize(
    ("handle", "opened"),
    [(HandleBuild.HOLLOW, "staple remover"), (HandleBuild.TRAP_DOOR, "flat screwdriver")],
)
@pytest.mark.parametrize("depth", [0.3, 4.0])
def test_a_handle_is_opened_filled_and_closed_as_it_is_built(handle, opened, depth):
    putty = Plug(mass_g=Estimate(3.0), from_cm=depth, to_cm=depth + 1, source=Source(stock=2))
    laid = plan([putty])
    laid = replace(laid, baseline=replace(laid.baseline, circumstances=Circumstances(handle=handle)))
    (told,) = procedures_of(laid, SHELF, TOLD)
    text = " ".join(told.steps)
    for word in (opened, "3.00 g", "cotton", "rattle", "Measure the frame again"):
        assert word in text
    assert ("rod marked" in text) == (depth > 2.4)
    assert ("staples" in text.split("Measure the frame")[0]) == (handle is HandleBuild.HOLLOW)


@pytest.mark.parametrize("on_corners", [False, True])
def test_strips_under_a_grip_and_the_grip_itself_are_told_in_the_order_of_the_hand(on_corners):
    g_per_cm = TAPE.density.value
    four = Sleeve(
        mass_g=Estimate(4 * 10 * g_per_cm), from_cm=7, to_cm=17, source=Source(stock=1), on_corners=on_corners
    )
    (told,) = procedures_of(plan([four]), SHELF, TOLD)
    text = " ".join(told.steps)
    order = [
        "Mark on",
        "unwind",
        "4 × 100 mm",
        "below the edge of the cap",
        "even pull",
        "finish line",
        "tape, pulled",
    ]
    assert [text.index(word) for word in order] == sorted(text.index(word) for word in order)
    assert ("corner bevels" if on_corners else "flat bevels") in text
    assert "70 mm to 170 mm" in text


@pytest.mark.parametrize(("width_mm", "face", "wide"), [(12.7, Face.BUMPER, True), (12.7, Face.INNER, False)])
def test_tape_wider_than_its_place_is_slit(width_mm, face, wide):
    shelf = Shelf([replace(TAPE, width_mm=width_mm)])
    laid = plan([of_tape(20, 4, mirrored=True, face=face)])
    assert ("Slitting tape" in [told.title for told in procedures_of(laid, shelf, TOLD)]) == wide
    assert ("too_wide" in [each.warning.code for each in laid.warnings(shelf)]) == wide


def test_cutting_a_bumper_is_told_whole_with_its_places_and_weight():
    bumper = fitting(FittingKind.BUMPER)
    piece = cut_out(bumper, RACKET, ClockPlace(0.0), CutAmount(6.0, Estimate(0.9, 0.05)))
    trims = trim_bumper(bumper, RACKET, 2.0)
    (told,) = procedures_of(plan([piece, trims], fitted=(bumper,)), SHELF, TOLD)
    text = " ".join(told.steps)
    for word in (
        "masking tape",
        "11:40 and 12:20",
        "60 mm",
        "other side",
        "shallow passes",
        "away from your body",
        "bevel",
        "0.90 g",
        "Touch up",
        "Measure the frame",
        "warranty may end",
    ):
        assert word in text


def test_a_gram_and_a_bit_is_dosed_with_a_scale_of_whole_grams():
    putty = Plug(mass_g=Estimate(1.2), from_cm=2.5, to_cm=3.5, source=Source(stock=2))
    assert dosing(putty, SHELF, TOLD) == (
        "With a scale of whole grams: weigh ten times as much, 12.00 g, roll it evenly to 200 mm, and cut "
        "off 20 mm."
    )
    assert dosing(of_tape(0, 5), SHELF, TOLD) == ""
    assert dosing(replace(putty, mass_g=Estimate(15.0)), SHELF, TOLD) == ""


# -- cautions by what is done -----------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("grams", "strains", "heavier", "asks"),
    [
        (1.5, (), False, False),
        (1.5, {Strain.ELBOW}, True, False),
        (3.0, (), True, True),
        (0.3, {Strain.WRIST}, False, False),
    ],
)
def test_a_caution_stands_where_the_plan_calls_for_it(grams, strains, heavier, asks):
    """Silent for a gram and a half at the tip, unless the player told of strain."""
    laid = plan([point(grams, 68.0)])
    hazards = hazards_of(laid, SHELF, strains)
    assert (Hazard.HEAVIER_HEAD in hazards) == heavier
    assert (Hazard.ADDED_WEIGHT in hazards) == asks
    sentence = strain_sentence(laid, strains)
    assert bool(sentence) == (heavier and bool(strains))
    if sentence:
        assert "elbow" in sentence
        assert "swing weight by 1.6 %" in sentence
        assert strain_sentence(laid, strains, to_player=True).startswith("You reported pain")


def test_weight_in_the_handle_alone_strains_nobody():
    assert Hazard.HEAVIER_HEAD not in hazards_of(plan([point(12.0, 8.0)]), SHELF, {Strain.ARM})
