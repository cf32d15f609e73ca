"""The next trim: the least that does it, against all trims tried; and what is said where none helps."""

from itertools import pairwise, product

import numpy as np
import pytest

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.frame.circumstances import OFFSET_POSTS_CM, POST_HALF_CM, Circumstances, PostHold
from kentrobar.core.frame.rim import Face
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


def _from_to(start, end, *, mirrored=False, from_bridge=False):
    """A strip of the inner face from one arc length to another, from the tip or from the bridge."""
    line = RACKET.rim(Face.INNER)
    whole = line.half_length if from_bridge else 0.0
    return (
        A.mirror_toggled().part(RACKET, whole + start, whole + end)
        if not mirrored
        else A.part(RACKET, whole + start, whole + end)
    )


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


POSTS = Circumstances(post=PostHold.OFFSET)


def stretches(pieces):
    """All stretches of strips on the inner face, by where they begin."""
    line = RACKET.rim(Face.INNER)
    return sorted(each for piece in pieces for each in piece.stretches(line))


@pytest.mark.parametrize(
    "more", [{"mass_g": 0.6}, {"mass_g": 0.4, "swingweight_kgcm2": 1.0}, {"mass_g": 1.5}]
)
@pytest.mark.parametrize(
    "pieces",
    [
        # Up to the gap of the post on one side, to a neighbour on the other.
        (_from_to(4.7, 8.0), _from_to(8.0, 11.5)),
        # A pair that meets at the tip, and its neighbour.
        (_from_to(0.0, 4.0, mirrored=True), _from_to(4.0, 8.0, mirrored=True)),
        # All round the bridge: the pair has no room but at its upper ends.
        (_from_to(-4.0, 0.0, from_bridge=True, mirrored=True), C),
    ],
)
def test_what_is_added_lies_clear_of_posts_neighbours_and_itself(pieces, more):
    """Checked by the stretches themselves, not by the rule that the search asks."""
    belief = estimate_state(WELL, length_cm=68.58, outline=RACKET)
    for i, piece in enumerate(pieces):
        belief = belief.with_applied(str(i), piece)
    bands = bands_about(belief, more, [0.15] * len(more))
    step = next_step(belief, bands, AXIS, WANTED_CHANCE, NOISE, circumstances=POSTS)
    then = after(belief, step.trims)
    lying = stretches([applied.piece for applied in then.on.values() if applied.piece.is_strip])
    line = RACKET.rim(Face.INNER)
    if pieces[0].stretch(line).start > 4.0:
        posts = [
            (side * OFFSET_POSTS_CM - POST_HALF_CM, side * OFFSET_POSTS_CM + POST_HALF_CM) for side in (-1, 1)
        ]
        assert all(end <= low + 0.02 or start >= high - 0.02 for start, end in lying for low, high in posts)
    assert all(after_.start >= before.end - 0.02 for before, after_ in pairwise(lying))
    assert lying[-1].end - lying[0].start <= line.length + 0.02


def test_a_trim_for_a_small_part_of_a_chance_is_not_proposed():
    """It would be within 3 % where nothing is reached: no cut is worth that."""
    belief = laid()
    bands = bands_about(belief, {"mass_g": 5.0, "swingweight_kgcm2": 40.0}, (0.6, 0.6))
    step = next_step(belief, bands, AXIS, WANTED_CHANCE, NOISE)
    assert step.advice is not Advice.TRIM or step.chance >= step.chance_now + 0.1


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
