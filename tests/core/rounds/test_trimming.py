"""The next trim: the least that does it, against all trims tried; and what is said where none helps."""

from itertools import product

import numpy as np
import pytest

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.rounds.estimation import estimate_state
from kentrobar.core.rounds.trimming import Advice, Trim, after, next_step
from kentrobar.core.solving.chance import chance_within
from tests.core.frames import RACKET, point, strip

AXIS, WANTED_CHANCE = 10.0, 0.95
NOISE = {"mass_g": 0.05, "balance_cm": 0.02, "swingweight_kgcm2": 0.2}
WELL = MeasuredSpecs(Estimate(310.0, 0.05), Estimate(32.4, 0.02), Estimate(318.0, 0.2), AXIS)
A = strip(15.0, 4.0, mirrored=True, g_per_cm=Estimate(0.2, 0.001), material="tape")
C = point(3.0, 1.8)


def laid(measured=WELL):
    belief = estimate_state(measured, length_cm=68.58, outline=RACKET)
    return belief.with_applied("a", A).with_applied("c", C)


def bands_about(belief, shifts, widths):
    """Bands so far from what the frame is now."""
    now = belief.now(AXIS).after
    return {
        name: (getattr(now, name).value + shift - width, getattr(now, name).value + shift + width)
        for (name, shift), width in zip(shifts.items(), widths, strict=True)
    }


def grams(trims):
    """What trims cut off or put on, and how many pieces they touch."""
    were = {"a": A, "c": C}
    changed = [abs((t.piece.total_mass_g if t.piece else 0.0) - were[t.key].total_mass_g) for t in trims]
    return sum(changed), len(changed)


@pytest.mark.parametrize(
    "shifts",
    [
        {"mass_g": 0.9, "swingweight_kgcm2": 1.6},
        {"mass_g": -1.2, "swingweight_kgcm2": -1.0},
        {"mass_g": -0.9, "balance_cm": 0.05},
        {"mass_g": 1.6, "balance_cm": -0.1, "swingweight_kgcm2": 0.5},
    ],
)
def test_no_smaller_trim_of_all_reaches_the_chance(shifts):
    belief = laid()
    widths = {"mass_g": 0.5, "balance_cm": 0.1, "swingweight_kgcm2": 0.9}
    bands = bands_about(belief, shifts, [widths[name] for name in shifts])
    step = next_step(belief, bands, AXIS, WANTED_CHANCE, NOISE)
    assert step.advice is Advice.TRIM
    assert step.chance >= WANTED_CHANCE > step.chance_now
    told = after(belief, step.trims).now(AXIS)
    assert chance_within(told, bands) == pytest.approx(step.chance)
    least = np.inf
    for cm, tenths in product(np.arange(1.0, 8.01, 0.2), range(0, 61, 2)):
        trims = []
        if abs(cm - 4.0) > 1e-6:
            trims.append(Trim("a", A.with_length(float(cm))))
        if tenths != 30:
            trims.append(Trim("c", C.with_mass(tenths / 10) if tenths else None))
        if chance_within(after(belief, tuple(trims)).now(AXIS), bands) >= WANTED_CHANCE:
            weight, touched = grams(trims)
            least = min(least, weight + 0.4 * touched)
    weight, touched = grams(step.trims)
    assert weight + 0.4 * touched <= least + 0.15  # guards draw all bands in together


def test_what_lies_surely_within_is_left():
    belief = laid()
    bands = bands_about(belief, {"mass_g": 0.0, "swingweight_kgcm2": 0.1}, (1.0, 2.0))
    step = next_step(belief, bands, AXIS, WANTED_CHANCE, NOISE)
    assert (step.advice, step.trims) == (Advice.DONE, ())


def test_where_readings_are_too_coarse_one_more_of_them_is_advised():
    """In the middle of its bands no trim helps; the swing weight is what is known least for its tolerance."""
    coarse = MeasuredSpecs(Estimate(310.0, 0.05), Estimate(32.4, 0.02), Estimate(318.0, 1.0), AXIS)
    belief = laid(coarse)
    bands = bands_about(belief, {"mass_g": 0.0, "swingweight_kgcm2": 0.0}, (1.0, 1.0))
    step = next_step(belief, bands, AXIS, WANTED_CHANCE, NOISE)
    assert (step.advice, step.spec) == (Advice.READ, "swingweight_kgcm2")
    assert step.chance > step.chance_now + 0.1
    nothing_to_read = next_step(belief, bands, AXIS, WANTED_CHANCE, {"mass_g": 0.05})
    assert nothing_to_read.advice is Advice.NOISE


def test_what_cannot_be_reached_comes_as_near_as_it_can():
    """Far more swing weight than the strips can be lengthened for: no trim is offered that tells of none."""
    belief = laid()
    bands = bands_about(belief, {"mass_g": 0.0, "swingweight_kgcm2": 60.0}, (0.5, 0.5))
    step = next_step(belief, bands, AXIS, WANTED_CHANCE, NOISE)
    assert step.advice is Advice.OUT_OF_REACH
    assert step.chance_now == 0.0


def test_nothing_laid_is_nothing_to_trim():
    bare = estimate_state(WELL, length_cm=68.58, outline=RACKET)
    bands = bands_about(bare, {"mass_g": 2.0}, (0.5,))
    step = next_step(bare, bands, AXIS, WANTED_CHANCE, NOISE)
    assert (step.advice, step.trims) == (Advice.OUT_OF_REACH, ())


@pytest.mark.parametrize(
    ("read", "wanted", "spec"),
    [
        (("mass_g",), "balance_cm", "balance_cm"),
        (("balance_cm", "swingweight_kgcm2"), "balance_cm", "mass_g"),  # a piece was added since
        (("mass_g", "balance_cm"), "swingweight_kgcm2", "swingweight_kgcm2"),
        (("mass_g", "swingweight_kgcm2"), "recoil_kgcm2", "balance_cm"),
    ],
)
def test_what_the_target_needs_and_nothing_tells_is_read_first(read, wanted, spec):
    known = MeasuredSpecs.read_apart({key: getattr(WELL, key) for key in read}, AXIS)
    belief = estimate_state(known, length_cm=68.58, outline=RACKET).with_applied("c", C)
    step = next_step(belief, {wanted: (0.0, 1000.0)}, AXIS, WANTED_CHANCE, NOISE)
    assert (step.advice, step.spec, step.trims) == (Advice.MEASURE, spec, ())
