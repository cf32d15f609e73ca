"""Predictions: before, after, change; what is unknown; and their ± against simulation."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.moments import moments_from_specs
from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate, NotMeasured
from kentrobar.core.weight.pieces import PLACE_U_CM, effect_of
from kentrobar.core.weight.prediction import piece_changes, piece_shares, predict
from tests.core.frames import RACKET, REED, pieces, point, strip

SPECS = (
    "mass_g",
    "balance_cm",
    "points_headlight",
    "swingweight_kgcm2",
    "twistweight_kgcm2",
    "recoil_kgcm2",
    "gyration_cm",
)


def lay(measured, laid, axis_cm=10.0):
    return predict(measured, laid, length_cm=68.58, axis_cm=axis_cm, outline=RACKET)


@given(st.lists(pieces, max_size=4), st.floats(0, 15))
def test_change_is_after_less_before(laid, axis_cm):
    prediction = lay(REED, laid, axis_cm)
    for name in SPECS:
        before, after, change = (
            getattr(specs, name) for specs in (prediction.before, prediction.after, prediction.change)
        )
        assert after.value - before.value == pytest.approx(change.value, abs=1e-9)
        assert min(before.u, after.u, change.u) >= 0


def test_nothing_laid_changes_nothing():
    prediction = lay(REED, [])
    assert prediction.before == prediction.after
    assert all(getattr(prediction.change, name) == Estimate(0, 0) for name in SPECS)


@given(st.lists(pieces, min_size=1, max_size=3))
def test_changes_do_not_need_the_unknown(laid):
    """Without swing and twist weight the changes are the same, before and after unknown."""
    full = lay(REED, laid)
    part = lay(replace(REED, swingweight_kgcm2=NOT_MEASURED, twistweight_kgcm2=NOT_MEASURED), laid)
    for name in ("mass_g", "balance_cm", "swingweight_kgcm2", "twistweight_kgcm2", "recoil_kgcm2"):
        mine, whole = getattr(part.change, name), getattr(full.change, name)
        assert mine.value == pytest.approx(whole.value, abs=1e-9)
        assert mine.u == pytest.approx(whole.u, abs=1e-9)
    assert part.after.swingweight_kgcm2 == NotMeasured("swing weight")
    assert part.after.twistweight_kgcm2 == NotMeasured("twist weight")
    assert part.after.gyration_cm == NotMeasured("swing weight")


def test_frame_never_weighed_still_has_true_changes():
    prediction = lay(MeasuredSpecs(), [point(2, 50, 12, mirrored=True)])
    assert prediction.change.mass_g.value == pytest.approx(4)
    assert prediction.change.swingweight_kgcm2.value == pytest.approx(4 * 40**2 / 1000)
    assert prediction.change.twistweight_kgcm2.value == pytest.approx(4 * 12**2 / 1000)
    assert prediction.change.balance_cm == NotMeasured("static weight and balance")
    one_sided = lay(MeasuredSpecs(), [point(2, 50, 12)])
    assert one_sided.change.twistweight_kgcm2 == NotMeasured("static weight")


def test_swing_weight_alone_is_known_at_its_own_axis_only():
    alone = MeasuredSpecs(swingweight_kgcm2=Estimate(318, 1), axis_cm=10)
    assert lay(alone, [point(1, 40)]).after.swingweight_kgcm2.value == pytest.approx(318.9)
    assert not lay(alone, [point(1, 40)], axis_cm=5).after.swingweight_kgcm2


@pytest.mark.parametrize("one_sided", [False, True])
def test_uncertainty_is_that_of_simulated_frames_and_cuts(one_sided):
    """8,000 frames and cuts drawn at random scatter as the stated ± say."""
    random = np.random.default_rng(7)
    tape = [strip(60, 10, mirrored=not one_sided, material="roll"), strip(150, 8, material="roll")]
    laid = [*tape, point(4, 1.8)]
    stated = lay(REED, laid)
    drawn = []
    for _ in range(8_000):
        frame = moments_from_specs(
            random.normal(310, 0.1),
            random.normal(32.4, 0.1),
            random.normal(318, 1),
            10.0,
            random.normal(13.6, 0.2),
        )
        density = random.normal(0.1, 0.002)  # of one roll
        total = frame
        for piece in tape:
            for side in (1, -1) if piece.mirrored else (1,):
                line = RACKET.rim(piece.face)
                centre = line.at_clock(piece.at.minutes) + random.normal(0, PLACE_U_CM)
                half = random.normal(piece.length_cm.value, 0.1) / 2
                sums = line.sums(centre - half, centre + half)
                zz = RACKET.face_heights_cm[piece.face] ** 2
                m = density * sums.length
                total = total.plus(
                    type(frame)(
                        m,
                        density * sums.y,
                        density * sums.yy + m * zz,
                        density * sums.xx + m * zz,
                        side * density * sums.x,
                    )
                )
        total = total.plus(
            effect_of(point(random.normal(4, 0.05), random.normal(1.8, PLACE_U_CM)), None).moments
        )
        drawn.append(
            (
                total.mass,
                total.balance_cm,
                total.swingweight_kgcm2(10),
                total.twistweight_kgcm2,
                total.recoil_kgcm2,
                total.gyration_cm,
            )
        )
    spread = np.std(drawn, axis=0)
    names = [name for name in SPECS if name != "points_headlight"]
    expected = [getattr(stated.after, name).u for name in names]
    assert spread == pytest.approx(expected, rel=0.03)


def test_one_roll_errs_together():
    """Two strips of one roll are less sure than two of different rolls."""
    together = lay(REED, [strip(60, material="roll"), strip(300, material="roll")])
    apart = lay(REED, [strip(60, material="roll"), strip(300, material="other")])
    assert together.change.mass_g.u > apart.change.mass_g.u


def test_shares_and_levers_tell_what_each_piece_does():
    head, butt = piece_shares([point(3, 60), point(3, 5)], axis_cm=10)
    assert (head.lever_cm, butt.lever_cm) == pytest.approx((50, -5))
    assert head.swingweight_kgcm2 == pytest.approx(7.5)
    assert head.share + butt.share == pytest.approx(1)


@given(st.lists(pieces, min_size=1, max_size=4))
def test_swing_weight_changes_of_the_pieces_add_up(laid):
    each = piece_changes(REED, laid, length_cm=68.58, axis_cm=10, outline=RACKET)
    whole = lay(REED, laid).change.swingweight_kgcm2.value
    assert sum(change.swingweight_kgcm2.value for change in each) == pytest.approx(whole)


def test_warnings_and_refusals():
    assert "overlap" in lay(REED, [strip(5, 10, mirrored=True, label="tape")]).warnings[0]
    assert "off the frame" in lay(REED, [point(1, 90)]).warnings[0]
    assert "More swing weight" in lay(REED, [point(190, 60, removed=True), point(190, 32)]).warnings[0]
    with pytest.raises(PieceError, match="more than the frame weighs"):
        lay(REED, [point(199, 20, removed=True), point(199, 30, removed=True)])
