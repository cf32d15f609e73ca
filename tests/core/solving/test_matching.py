"""The least weight that meets a target: met, never beaten by a known plan, refused with a true reason."""

from itertools import product

import numpy as np
import pytest

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.target import Target
from kentrobar.core.frame.places import ClockPlace
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.solving.candidates import Choice, PointSlot, RimSlot
from kentrobar.core.solving.matching import match
from tests.core.aiming import (
    SETTING,
    SITES,
    TOLERANCES,
    added_g,
    impossible_aim,
    is_met,
    random_aim,
    random_plan,
    specs_with,
)
from tests.core.frames import REED, point


def solve(aim, sites=SITES, measured=REED):
    return match(measured, sites, aim, **SETTING)


def test_feasible_targets_are_met_with_no_more_than_the_known_plan():
    random = np.random.default_rng(12)
    for _ in range(30):
        plan = random_plan(random)
        aim = random_aim(random, plan)
        found = solve(aim)
        assert found.is_feasible
        assert found.is_proven
        assert is_met(aim, found.pieces)
        assert found.added_g <= added_g(plan) + 1e-6
        assert found.added_g - 1e-4 <= found.lower_bound_g <= found.added_g


def test_impossible_targets_are_refused_with_the_clash():
    random = np.random.default_rng(13)
    for _ in range(10):
        aim = impossible_aim(random)
        found = solve(aim)
        assert not found.is_feasible
        assert found.reason
        # The clash is true: those demands alone cannot be met, any fewer can.
        alone = Target({n: aim.bands[n] for n in found.reason.names}, 10.0)
        assert not solve(alone).is_feasible
        for name in found.reason.names if len(found.reason.names) > 1 else ():
            fewer = Target({n: b for n, b in alone.bands.items() if n != name}, 10.0)
            assert solve(fewer).is_feasible


def test_nothing_lighter_exists_by_trying_everything():
    sites = [
        PointSlot(label="tip", y_cm=66, step_g=0.5, max_g=3),
        PointSlot(label="sides", y_cm=52, x_cm=12, mirrored=True, step_g=0.5, max_g=2),
        PointSlot(label="cap", y_cm=1, step_g=0.5, max_g=4),
    ]
    steps = [range(7), range(5), range(9)]
    for swing, balance in ((321.0, 32.4), (324.0, 32.2), (320.0, 32.9)):
        aim = Target.about({"swingweight_kgcm2": swing, "balance_cm": balance}, TOLERANCES, 10.0)
        tried = []
        for a, b, c in product(*steps):
            pieces = [
                *([point(0.5 * a, 66)] if a else []),
                *([point(0.5 * b, 52, 12, mirrored=True)] if b else []),
                *([point(0.5 * c, 1)] if c else []),
            ]
            if is_met(aim, tuple(pieces)):
                tried.append(added_g(pieces))
        found = solve(aim, sites)
        assert found.is_feasible == bool(tried)
        if tried:
            assert found.added_g == pytest.approx(min(tried), abs=1e-6)


def test_an_edge_of_the_band_belongs_to_it():
    """60 aims with an edge on a plan's very specs: the optimum is that of all plans, tried one by one."""
    random, steps = np.random.default_rng(60), np.array([0.5, 0.5, 0.5])
    sites = [
        PointSlot(label="tip", y_cm=66, step_g=0.5, max_g=3),
        PointSlot(label="sides", y_cm=52, x_cm=12, mirrored=True, step_g=0.5, max_g=2),
        PointSlot(label="cap", y_cm=1, step_g=0.5, max_g=4),
    ]
    counts = np.array(list(product(range(7), range(5), range(9))))
    grams = counts * steps * np.array([1, 2, 1])  # a pair weighs twice
    y = np.array([66.0, 52.0, 1.0])
    mass = REED.mass_g.value + grams.sum(axis=1)
    first = REED.mass_g.value * REED.balance_cm.value + grams @ y
    specs = {
        "mass_g": mass,
        "balance_cm": first / mass,
        "swingweight_kgcm2": REED.swingweight_kgcm2.value + grams @ (y - 10.0) ** 2 / 1000,
    }
    for _ in range(60):
        plan = random.integers(len(counts))
        names = random.choice(list(specs), size=random.integers(1, 4), replace=False)
        bounds, is_met = {}, np.ones(len(counts), bool)
        for name in names:
            edge, width = specs[name][plan], random.choice([0.0, 0.2, 1.0, 2.0])
            low, high = (edge, edge + width) if random.random() < 0.5 else (edge - width, edge)
            bounds[name] = (low, high)
            is_met &= (specs[name] >= low - 1e-9) & (specs[name] <= high + 1e-9)
        found = solve(Target(bounds, 10.0), sites)
        least = grams.sum(axis=1)[is_met].min()
        assert found.is_feasible, bounds
        assert found.is_proven
        assert found.added_g == pytest.approx(least, abs=1e-9)
        assert least - 1e-3 <= found.lower_bound_g <= least + 1e-9


@pytest.mark.parametrize(("mass", "is_there"), [(310.5, True), (316.0, False)])
def test_without_a_site_a_frame_is_there_already_or_never(mass, is_there):
    found = solve(Target.about({"mass_g": mass}, TOLERANCES, 10.0), [])
    assert (found.is_feasible, found.added_g) == (is_there, 0.0)
    assert is_there or found.reason.sentence()


def test_reasons_say_what_is_beyond_and_the_nearest_comes_near():
    found = solve(Target.about({"mass_g": 300.0}, TOLERANCES, 10.0))
    assert "310.00 g already" in found.reason.sentence()
    far = solve(Target.about({"swingweight_kgcm2": 900.0}, TOLERANCES, 10.0))
    assert "No weight at these sites" in far.reason.sentence()
    assert specs_with(far.nearest)["swingweight_kgcm2"] > 340
    clash = solve(Target.about({"mass_g": 311.0, "swingweight_kgcm2": 330.0}, TOLERANCES, 10.0))
    assert clash.reason.names == ("mass_g", "swingweight_kgcm2")
    assert "cannot both be met" in clash.reason.sentence()
    assert 0.4 <= added_g(list(clash.nearest)) <= 8


def test_any_weight_without_steps_is_exact():
    fine = [PointSlot(label="tip", y_cm=66, step_g=0), PointSlot(label="cap", y_cm=1, step_g=0)]
    none = dict.fromkeys(TOLERANCES, 1e-4)
    found = solve(Target.about({"swingweight_kgcm2": 325.0, "balance_cm": 32.4}, none, 10.0), fine)
    assert specs_with(found.pieces)["swingweight_kgcm2"] == pytest.approx(325.0, abs=2e-4)


@pytest.mark.parametrize(
    ("site", "aim", "field"),
    [
        (PointSlot(label="x", y_cm=1, max_g=0), {"mass_g": 315.0}, "max_g"),
        (
            RimSlot(label="x", start=ClockPlace(60), end=ClockPlace(60.1), g_per_cm=Estimate(0.1)),
            {"mass_g": 315.0},
            "step_cm",
        ),
        (
            RimSlot(label="x", start=ClockPlace(60), end=ClockPlace(90), g_per_cm=Estimate(0)),
            {"mass_g": 315.0},
            "step_cm",
        ),
        (PointSlot(label="x", y_cm=1), {"swingweight_kgcm2": 300.0}, "swingweight_kgcm2"),
    ],
)
def test_what_cannot_be_asked_is_refused(site, aim, field):
    scale_only = MeasuredSpecs(Estimate(310), Estimate(32.4))
    with pytest.raises(KentrobarError) as refused:
        solve(Target.about(aim, TOLERANCES, 10.0), [site], scale_only)
    assert refused.value.field == field


def test_a_wide_bound_is_not_cheap_to_miss():
    """A ceiling on the weight has no middle; the nearest plan keeps near it all the same."""
    aim = Target({"mass_g": (0.0, 311.0), "swingweight_kgcm2": (329.0, 331.0)}, 10.0)
    nearest = specs_with(solve(aim).nearest)
    assert nearest["mass_g"] < 314.2
    assert nearest["swingweight_kgcm2"] > 319


def test_pieces_too_small_to_lay_are_not_proposed():
    sites = [
        PointSlot(label="tip", y_cm=66, step_g=0.1, least_g=1.0),
        RimSlot(
            label="12",
            start=ClockPlace(0),
            end=ClockPlace(60),
            g_per_cm=Estimate(0.1),
            mirrored=True,
            least_cm=3.0,
        ),
    ]
    for swing in (318.9, 320.0, 323.0):
        found = solve(Target.about({"swingweight_kgcm2": swing}, TOLERANCES, 10.0), sites)
        for piece in found.pieces:
            size = getattr(piece, "length_cm", None) or piece.mass_g
            assert size.value >= (3.0 if hasattr(piece, "length_cm") else 1.0)


def test_what_is_kept_gives_way_last():
    """A kept ceiling holds in the nearest plan; where it cannot, the nearest is found without it."""
    bounds = {"mass_g": (0.0, 311.0), "swingweight_kgcm2": (329.0, 331.0)}
    nearest = specs_with(solve(Target(bounds, 10.0, kept=frozenset({"mass_g"}))).nearest)
    assert nearest["mass_g"] <= 311.0 + 1e-6
    assert nearest["swingweight_kgcm2"] > 320
    beyond = Target(bounds | {"mass_g": (0.0, 300.0)}, 10.0, kept=frozenset({"mass_g"}))
    assert specs_with(solve(beyond).nearest)["swingweight_kgcm2"] >= 318.0


def test_a_choice_is_taken_wholly_or_left():
    cap = Choice("cap", (point(6.0, 1.2), point(2.0, 30, removed=True)))
    sites = [cap, PointSlot(label="tip", y_cm=66, step_g=0.5)]
    for mass, laid in ((314.0, 2), (312.5, 1), (316.0, 3)):
        aim = Target.about({"mass_g": mass}, TOLERANCES | {"mass_g": 0.1}, 10.0)
        found = solve(aim, sites)
        assert found.is_feasible
        assert len(found.pieces) == laid or specs_with(found.pieces)["mass_g"] == pytest.approx(mass)
        assert set(cap.pieces) <= set(found.pieces) or not set(cap.pieces) & set(found.pieces)


def test_what_lies_aside_still_meets_its_twist_weight():
    """On one side alone the centre of mass moves, and X²/M is lost of the twist weight."""
    aside = [PointSlot(label="right", y_cm=52, x_cm=12.5, step_g=0, max_g=15)]
    for more in (0.5, 1.2, 1.6):
        tight = {"twistweight_kgcm2": 1e-3}
        found = solve(Target.about({"twistweight_kgcm2": 13.6 + more}, tight, 10.0), aside)
        assert found.is_feasible
        after = specs_with(found.pieces)["twistweight_kgcm2"]
        assert after == pytest.approx(13.6 + more, abs=1e-3 + 1e-7)
        # The least mass m at x: m·x² - (m·x)²/(M + m) is what is wanted, in kg·cm².
        masses = np.linspace(0, 15, 150_001)
        gained = (masses * 12.5**2 - (masses * 12.5) ** 2 / (310 + masses)) / 1000
        least = masses[np.argmax(gained >= more - 1e-3)]
        assert found.lower_bound_g <= least + 1e-9
        assert found.added_g >= least - 2e-4


def test_a_search_without_time_claims_nothing():
    random = np.random.default_rng(12)
    aim = random_aim(random, random_plan(random))
    found = match(REED, SITES, aim, seconds=1e-9, **SETTING)
    assert not found.is_proven or found.is_feasible
    if not found.is_feasible:
        assert "Time ran out" in found.reason.sentence()
