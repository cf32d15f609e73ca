"""What a plan does to the size of the grip: 2πt for every layer under the hand."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.editing.actions import exchange, take_off
from kentrobar.core.editing.grip_size import grip_change_mm
from kentrobar.core.editing.placing import AtSite, Order, ordered
from kentrobar.core.editing.plan import Baseline
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.quantities.errors import PieceError, UnitError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.solving.supply import Workpiece, slots_to_use, supply_for
from kentrobar.core.weight.builds import USUAL_FITTINGS, Fitting, FittingKind
from kentrobar.core.weight.grip import SIZE_MM, grip_size_text, in_sizes, parse_grip_size, sold_size_text
from kentrobar.core.weight.materials import MaterialKind
from kentrobar.core.weight.pieces import Sleeve
from kentrobar.core.weight.pieces.piece import Source
from tests.core.frames import RACKET, REED, plan, stock, strip


def fitting(key, kind, thickness=None):
    usual = USUAL_FITTINGS[kind]
    known = {} if thickness is None else {"thickness_mm": Estimate(thickness, 0.1)}
    return Fitting(key=key, kind=kind, label=usual.label, mass_g=Estimate(usual.mass_g, 0.5), **known)


GRIP, OVERGRIP = fitting(1, FittingKind.GRIP, 1.8), fitting(2, FittingKind.OVERGRIP, 0.6)
TAPE = stock(MaterialKind.TUNGSTEN_TAPE, 7, thickness_mm=Estimate(0.4, 0.05))
SHELF = Shelf([TAPE])
START = plan([], fitted=(GRIP, OVERGRIP))


def test_an_overgrip_off_is_two_pi_times_its_thickness():
    change = grip_change_mm(take_off(START, 2).plan, SHELF)
    assert change.value == pytest.approx(-2 * math.pi * 0.6)
    assert change.u == pytest.approx(2 * math.pi * 0.1)


@pytest.mark.parametrize("thickness", [0.4, 0.9])
def test_another_overgrip_counts_by_the_difference(thickness):
    other = fitting(50, FittingKind.OVERGRIP, thickness)
    other = replace(other, mass_g=Estimate(7.0, 0.1))
    done = exchange(START, 2, other)
    change = grip_change_mm(done.plan, SHELF, {50: other})
    assert change.value == pytest.approx(2 * math.pi * (thickness - 0.6))


def raised(thickness_mm, bevels):
    """The circumference of an octagon about as thick as a handle with these bevels raised, less that without."""
    angles = np.linspace(0, 2 * np.pi, 8, endpoint=False)
    apothem = 16.0 + np.array([thickness_mm * (i in bevels) for i in range(8)])
    corners = []
    for i in range(8):
        normals = np.array([[np.cos(angles[j]), np.sin(angles[j])] for j in (i, (i + 1) % 8)])
        corners.append(np.linalg.solve(normals, apothem[[i, (i + 1) % 8]]))
    around = sum(np.linalg.norm(corners[i] - corners[i - 1]) for i in range(8))
    return around - 8 * 2 * 16.0 * np.tan(np.pi / 8)


@pytest.mark.parametrize("bevels", [(0, 4), (1, 3, 5, 7), tuple(range(8))])
def test_strips_on_bevels_add_what_a_tape_measure_finds(bevels):
    """By the corners of an octagon: each bevel counts for its part, not each strip as a wrap."""
    wide = replace(TAPE, width_mm=2 * math.pi * 16.0 / 8)
    strips = Sleeve(mass_g=Estimate(len(bevels) * 0.2 * 6.0), from_cm=3, to_cm=9, source=Source(stock=7))
    change = grip_change_mm(plan([strips]), Shelf([wide]))
    assert change.value == pytest.approx(raised(0.4, bevels), rel=0.06)


def test_putty_is_no_longer_than_the_handle():
    putty = stock(MaterialKind.TUNGSTEN_PUTTY, 9, g_cm3=2.0)
    for site in ("cavity", "handle_top"):
        (most,), _ = ordered(Order(putty, 60.0, RACKET.usual_face, False), AtSite(site), RACKET)
        assert 0 < most.from_cm < most.to_cm <= RACKET.handle_length_cm
    with pytest.raises(PieceError, match="takes 111 g"):
        ordered(Order(putty, 200.0, RACKET.usual_face, False), AtSite("cavity"), RACKET)


def test_strips_count_by_their_width_and_not_above_the_hand():
    low = Sleeve(mass_g=Estimate(2 * 0.2 * 6.0), from_cm=3, to_cm=9, source=Source(stock=7))
    double = replace(low, mass_g=Estimate(4 * 0.2 * 6.0))
    top = RACKET.handle_length_cm
    high = replace(low, from_cm=top - 6, to_cm=top)
    one, two = (grip_change_mm(plan([piece]), SHELF) for piece in (low, double))
    assert one.value == pytest.approx(2 * math.pi * 0.4 * 2 / 8)
    assert two.value == pytest.approx(2 * one.value)
    assert grip_change_mm(plan([high, strip(0)]), SHELF) is None


def test_sizes_are_told_to_the_quarter():
    assert in_sizes(SIZE_MM) == "about 1 size larger"
    assert in_sizes(-1.25 * SIZE_MM) == "about 1 1/4 sizes smaller"
    assert in_sizes(0.5 * SIZE_MM) == "about 1/2 of a size larger"
    assert in_sizes(0.3) == "hardly a difference in size"


def test_keeping_the_grip_leaves_out_what_a_hand_would_feel():
    """Leather as thick as the grip may take its place; a thinner one, the overgrip and thick strips not."""
    baseline = Baseline(RACKET, REED, fitted=(GRIP, OVERGRIP))
    alike, thin = (
        stock(MaterialKind.LEATHER, key, name=name, each_g=24.0, thickness_mm=Estimate(mm, 0.1))
        for key, name, mm in ((8, "Alike", 1.75), (9, "Thin", 1.2))
    )
    shelf = Shelf([TAPE, alike, thin])
    kept, free = (supply_for(shelf, baseline, keeps_grip=keeps) for keeps in (True, False))
    assert [choice.label for choice in kept.swaps] == ["Alike"]
    assert [choice.label for choice in free.swaps] == ["Alike", "Thin"]
    assert not kept.removals
    assert free.removals
    assert "handle_middle" not in slots_to_use(Workpiece(baseline, kept, keeps_grip=True))
    film = replace(kept, tape=replace(TAPE, thickness_mm=Estimate(0.1, 0.02)))
    assert "handle_middle" in slots_to_use(Workpiece(baseline, film, keeps_grip=True))


@pytest.mark.parametrize(
    ("typed", "mm"),
    [("4 3/8", 111.1), ("4 3/8 in", 111.1), ("L3", 111.1), ("3", 111.1), ("#2", 107.95), ("111 mm", 111.0)],
)
def test_a_grip_size_is_read_as_people_write_it(typed, mm):
    assert parse_grip_size(typed) == pytest.approx(mm, abs=0.05)


@pytest.mark.parametrize("typed", ["8", "4 3/8 cm", "large", "60 mm", ""])
def test_what_is_no_grip_size_is_refused(typed):
    with pytest.raises(UnitError):
        parse_grip_size(typed)


@given(st.floats(90, 140))
def test_a_size_that_is_written_is_read_as_itself(mm):
    assert parse_grip_size(grip_size_text(mm)) == pytest.approx(mm, abs=0.41)


def test_an_overgrip_is_about_an_eighth_of_an_inch():
    """Twice π times 0.6 mm is 3.8 mm: a size more, to the nearest."""
    assert sold_size_text(111.1 + 2 * math.pi * 0.6) == "about 4 1/2 in"
