"""Ways to make a set alike: each holds what it says, against sums that do not share the solver's code."""

from dataclasses import replace
from itertools import combinations

import numpy as np
import pytest

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.target import Alike, Target
from kentrobar.core.editing.plan import Baseline
from kentrobar.core.frame.circumstances import Circumstances, HandleBuild
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate
from kentrobar.core.solving.allowed import Allowed
from kentrobar.core.solving.candidates import candidates
from kentrobar.core.solving.chance import chance_alike
from kentrobar.core.solving.concessions import Giving, concessions
from kentrobar.core.solving.relaxation import least_weights, prospect
from kentrobar.core.solving.set_plans import SetFrame, Status, most_worth_reading, plan_set
from kentrobar.core.solving.set_targets import alike_already, heaviest, middle_of, values_of
from kentrobar.core.solving.set_ways import SetWay, SetWork, plan_by, plan_fewest
from kentrobar.core.solving.supply import SOME_PUTTY, SOME_TAPE, Supply, Workpiece
from kentrobar.core.weight.prediction import predict
from tests.core.frames import RACKET

AXIS = 10.0
TOLERANCES = {"mass_g": 1.0, "balance_cm": 0.1, "swingweight_kgcm2": 1.0}
HOLLOW = Circumstances(handle=HandleBuild.HOLLOW)


def work(mass, balance, swing, twist=13.5, **known):
    read = MeasuredSpecs(
        Estimate(mass, 0.1),
        Estimate(balance, 0.05),
        Estimate(swing, 1.0),
        AXIS,
        NOT_MEASURED if twist is None else Estimate(twist, 0.2),
    )
    supply = Supply(tape=SOME_TAPE, putty=SOME_PUTTY)
    return SetWork(Workpiece(Baseline(RACKET, read, HOLLOW), supply), **known)


def three():
    return [work(308.6, 31.8, 305.0), work(304.9, 32.1, 301.2), work(306.3, 31.5, 297.8)]


def after(works, plan):
    """Specs of each frame after its plan, by sums of the pieces' moments."""
    found = []
    for each, laid in zip(works, plan.frames, strict=True):
        frame = each.work.measured
        specs = predict(frame, laid.pieces, length_cm=RACKET.length_cm, axis_cm=AXIS, outline=RACKET).after
        found.append({name: getattr(specs, name).value for name in TOLERANCES})
    return found


def spread(specs):
    return {name: np.ptp([each[name] for each in specs]) for name in TOLERANCES}


@pytest.mark.parametrize("way", SetWay)
def test_every_way_makes_the_set_alike(way):
    works, aim = three(), Target.about({}, TOLERANCES, AXIS)
    plan = plan_by(way, works, aim, seconds=20).plan
    assert plan.status.has_plan
    for each in after(works, plan):
        for name, tolerance in TOLERANCES.items():
            assert abs(each[name] - plan.target[name]) <= tolerance + 1e-6
    assert plan.bound_g <= plan.added_g + 1e-9
    assert plan.added_g == pytest.approx(
        sum(piece.total_mass_g for laid in plan.frames for piece in laid.pieces), abs=1e-6
    )


def test_a_proven_plan_is_not_beaten_by_any_other_way_at_its_places():
    """What is narrower never needs less than the proven bound of what is wider."""
    works, aim = three(), Target.about({}, TOLERANCES, AXIS)
    least = plan_by(SetWay.LEAST, works, aim, seconds=20).plan
    assert least.status is Status.OPTIMAL
    assert least.added_g - least.bound_g <= 0.1 * 3 + 1e-9
    for way in (SetWay.SAME_PLACES, SetWay.SAME_LOOK):
        assert plan_by(way, works, aim, seconds=20).plan.added_g >= least.bound_g - 1e-9


def test_the_same_look_differs_in_length_only():
    works, aim = three(), Target.about({}, TOLERANCES, AXIS)
    plan = plan_by(SetWay.SAME_LOOK, works, aim, seconds=20).plan
    places = {}
    for laid in plan.frames:
        for piece in laid.pieces:
            strip = piece.as_strip
            if strip is None:
                continue
            line = RACKET.rim(strip.face)
            start, end = strip.stretch(line)
            middle = 0.0 if min(abs(start), abs(end)) < 1e-6 else (start + end) / 2
            places.setdefault(piece.label, set()).add(round(middle, 3))
    assert places
    assert all(len(middles) == 1 for middles in places.values())
    assert len({piece.label for laid in plan.frames for piece in laid.pieces}) <= 3


def test_within_of_each_other_is_a_spread_and_within_of_a_target_is_not():
    works = three()
    close = plan_by(
        SetWay.LEAST, works, Target.about({}, TOLERANCES, AXIS, alike=Alike.TO_EACH_OTHER), seconds=20
    )
    for name, width in spread(after(works, close.plan)).items():
        assert width <= TOLERANCES[name] + 1e-6
    loose = plan_by(SetWay.LEAST, works, Target.about({}, TOLERANCES, AXIS), seconds=20)
    assert loose.plan.added_g <= close.plan.added_g
    assert max(spread(after(works, loose.plan)).values()) > 1.0


def test_a_spec_that_was_not_read_of_one_frame_is_left_out_for_it_alone():
    works = three()
    works[1] = work(304.9, 32.1, 301.2, None, left_out=frozenset({"twistweight_kgcm2"}))
    four = TOLERANCES | {"twistweight_kgcm2": 0.2}
    for target in (
        {},
        {"mass_g": 309, "balance_cm": 31.8, "swingweight_kgcm2": 305, "twistweight_kgcm2": 13.6},
    ):
        plan = plan_by(SetWay.LEAST, works, Target.about(target, four, AXIS), seconds=20).plan
        assert plan.status.has_plan


def test_no_frame_comes_above_the_ceiling():
    works = three()
    free = plan_by(SetWay.MOST_RELIABLE, works, Target.about({}, TOLERANCES, AXIS), seconds=20).plan
    bare_g = max(each.work.measured.mass_g.value for each in works)
    heaviest_g = max(each["mass_g"] for each in after(works, free))
    ceiling_g = (bare_g + heaviest_g) / 2
    assert ceiling_g < heaviest_g  # the ceiling is in the way of the free plan
    under = Target.about({}, TOLERANCES, AXIS, ceiling_g=ceiling_g)
    plan = plan_by(SetWay.MOST_RELIABLE, works, under, seconds=20).plan
    assert plan.status.has_plan
    assert max(each["mass_g"] for each in after(works, plan)) <= ceiling_g + 1e-6


def test_only_the_places_that_are_named_are_used():
    named = frozenset({"twelve", "three_nine", "butt_cap"})
    works = [replace(each, work=replace(each.work, allowed=Allowed(named))) for each in three()]
    plan = plan_by(SetWay.LEAST, works, Target.about({}, TOLERANCES, AXIS), seconds=20).plan
    assert plan.status.has_plan
    labels = {piece.label for laid in plan.frames for piece in laid.pieces}
    assert labels <= {"12", "3 and 9", "inside the butt cap"}


# -- targets ---------------------------------------------------------------------------


def test_groups_that_are_alike_are_those_that_trying_all_finds():
    random = np.random.default_rng(3)
    for _ in range(20):
        frames = [
            {"mass_g": m, "swingweight_kgcm2": s}
            for m, s in random.normal([305, 310], [1.5, 2.0], size=(7, 2))
        ]
        apart = {"mass_g": 2.0, "swingweight_kgcm2": 2.0}

        def is_alike(group, frames=frames, apart=apart):
            return all(np.ptp([frames[i][name] for i in group]) <= t + 1e-9 for name, t in apart.items())

        best = max(size for size in range(1, 8) if any(is_alike(g) for g in combinations(range(7), size)))
        found = list(alike_already(frames, apart))
        assert len(found[0]) == best
        assert all(is_alike(group) for group in found)


def test_the_most_frames_stay_as_they_are():
    works = [*three()[:2], work(308.4, 31.82, 304.6), work(308.9, 31.79, 305.3)]
    plan = plan_fewest(works, Target.about({}, TOLERANCES, AXIS), seconds=20).plan
    assert plan.status.has_plan
    assert sum(not laid.pieces for laid in plan.frames) == 3


def test_heaviest_and_middle_leave_out_what_was_not_read():
    frames = [
        {"mass_g": 305.0, "balance_cm": 32.0},
        {"balance_cm": 32.2},
        {"mass_g": 309.0, "balance_cm": 31.8},
    ]
    assert heaviest(frames) == 2
    assert middle_of(frames) == {"balance_cm": pytest.approx(32.0)}
    assert heaviest([{}]) is None
    read = MeasuredSpecs(Estimate(310.0), NOT_MEASURED, Estimate(318.0), 10.0)
    assert "swingweight_kgcm2" not in values_of(read, 5.0)
    assert values_of(read, 10.0)["swingweight_kgcm2"] == pytest.approx(318.0)


# -- the target in the hand ---------------------------------------------------------------


def test_what_the_hand_is_told_is_never_more_than_whole_steps_take():
    works = three()
    target = {"mass_g": 309.5, "balance_cm": 31.8, "swingweight_kgcm2": 305.0}
    aim = Target.about(target, TOLERANCES, AXIS)
    plan = plan_by(SetWay.LEAST, works, aim, seconds=20).plan
    frames = [each.frame(list(each.sites(SetWay.LEAST).values())) for each in works]
    least = least_weights([prospect(frame) for frame in frames], aim, target)
    for told, laid in zip(least, plan.frames, strict=True):
        assert told is not None
        assert told <= laid.found.added_g + 1e-6
        assert laid.found.added_g - told < 0.6  # the least there is of a piece, and a step
    far = target | {"swingweight_kgcm2": 280.0}
    assert least_weights([prospect(f) for f in frames], aim, far) == [None] * 3


# -- chance --------------------------------------------------------------------------------


def test_the_chance_of_each_other_is_that_of_draws():
    """Two frames of one spec: their difference is normal, and the chance that of its band."""
    from scipy.stats import norm

    frames = [
        SetFrame(MeasuredSpecs(Estimate(m, 0.5), Estimate(32.0, 0.0)), (), 68.58, None)
        for m in (305.0, 305.4)
    ]
    predictions = [frame.predict((), AXIS) for frame in frames]
    found = chance_alike(predictions, [{"mass_g": 1.0}] * 2)
    sigma = 0.5 * np.sqrt(2)
    assert found == pytest.approx(norm.cdf(1.0, 0.4, sigma) - norm.cdf(-1.0, 0.4, sigma), abs=0.01)


def test_the_surest_plan_of_a_set_reads_within_as_often_as_it_says():
    """2,000 remeasurements of the laid frames: weight and swing weight drawn from what is known of them."""
    works = [replace(each, work=_read_well(each.work)) for each in three()]
    found = plan_by(SetWay.MOST_RELIABLE, works, Target.about({}, TOLERANCES, AXIS), chance=0.9, seconds=60)
    plan, random = found.plan, np.random.default_rng(8)
    assert plan.chance >= 0.9
    inside = np.ones(2000, dtype=bool)
    for laid in plan.frames:
        specs = laid.prediction.after
        for name, tolerance in TOLERANCES.items():
            q = getattr(specs, name)
            drawn = random.normal(q.value, q.u, 2000)
            inside &= np.abs(drawn - plan.target[name]) <= tolerance
    assert inside.mean() == pytest.approx(plan.chance, abs=0.02)


def _read_well(workpiece):
    read = workpiece.measured
    surer = replace(
        read,
        swingweight_kgcm2=Estimate(read.swingweight_kgcm2.value, 0.25),
        balance_cm=Estimate(read.balance_cm.value, 0.02),
    )
    return replace(workpiece, baseline=replace(workpiece.baseline, measured=surer))


def test_one_more_reading_is_worth_most_where_least_is_known():
    works = three()
    aim = Target.about({}, TOLERANCES, AXIS)
    frames = [each.frame(list(each.sites(SetWay.LEAST).values())) for each in works]
    plan = plan_set(frames, aim, seconds=20)
    worth = most_worth_reading(frames, aim, plan)
    assert worth.name == "swingweight_kgcm2"  # ± as wide as its tolerance, the others a tenth and a half
    assert worth.chance > plan.chance


# -- ways out ------------------------------------------------------------------------------


def test_every_concession_is_one():
    works = [work(299.2, 31.2, 288.5, is_kept=True), work(297.6, 31.5, 287.1), work(306.0, 31.5, 296.0)]
    read = works[0].work.measured
    aim = Target.about(values_of(read, AXIS), TOLERANCES, AXIS)
    assert plan_by(SetWay.LEAST, works, aim, seconds=20).plan.status is Status.INFEASIBLE
    found = concessions(works, aim, 40)
    assert {each.giving for each in found} >= {Giving.FRAME, Giving.TARGET}
    for out in found:
        assert out.plan.status.has_plan
        if out.giving is Giving.FRAME:
            assert out.frame == 2  # the one that is beyond the target
        if out.giving is Giving.TOLERANCE:
            assert out.value > aim.tolerances[out.name]


# -- strips that grow -----------------------------------------------------------------------


def test_each_step_of_a_strip_that_grows_adds_what_makes_it_whole():
    each = three()[0]
    sites = each.sites(SetWay.LEAST)
    for key in ("twelve", "three_nine"):
        slot = each.sites(SetWay.SAME_LOOK)[key]
        found = candidates([slot], RACKET)
        x = np.zeros(len(found.columns))
        x[:6] = 1
        (strip,) = found.pieces(x)
        whole = sum(c.moments.second_yz for c in found.columns[:6])
        alone = predict(MeasuredSpecs(), [strip], length_cm=68.58, axis_cm=0.0, outline=RACKET).change
        assert whole / 1000 == pytest.approx(alone.swingweight_kgcm2.value, rel=1e-9)
        assert len(found.columns) == len(candidates([sites[key]], RACKET).columns)
