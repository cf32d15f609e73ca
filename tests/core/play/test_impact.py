"""A hit: against a collision of rigid bodies solved as vectors, closed forms and a fine grid."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.outline import PaddleDimensions, outline_of
from kentrobar.core.frame.rim import Face
from kentrobar.core.play.impact import Ball, Fall, FreeBody, StrokeSwing, hit_frame, require_swing
from kentrobar.core.play.maps import Measure, contours, face_map, round_levels
from kentrobar.core.play.strokes import FALLS, STROKES, ball_of, falling_off, strokes_of, swing_of
from kentrobar.core.play.sweet_zone import hitting_face, zone_of_rebound, zone_of_speed
from kentrobar.core.quantities.errors import SpecError
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate
from kentrobar.core.weight.pieces import product_of_inertia_gcm2
from kentrobar.core.weight.prediction import predict
from tests.core.frames import RACKET, REED, point, strip

PADDLE = outline_of(PaddleDimensions(41.9, 19.0))
REED_BODY = FreeBody(310.0, 32.4, 162.454, 13.6)
SOUTH = FreeBody(225.0, 23.8, 32.476, 6.1)

bodies = st.builds(
    FreeBody,
    st.floats(200, 380),
    st.floats(20, 36),
    st.floats(30, 200),
    st.floats(4, 20),
    st.floats(-0.5, 0.5),
    st.floats(-3, 3),
)
falls = st.builds(Fall, st.floats(0, 0.2), st.floats(30, 50), st.floats(8, 15), st.floats(12, 20))
balls = st.builds(Ball, st.floats(20, 60), st.floats(0.3, 0.95), st.floats(0, 40), falls)
swings = st.builds(StrokeSwing, st.floats(1, 40), st.floats(3, 12))
x_places, y_places = st.floats(-13, 13), st.floats(15, 68)


def collided(body, ball, swing, x, y):
    """A ball on a free plate as rigid bodies: speeds after, in SI units, by the equations of motion.

    The unknowns are the plate's speed, its two turn rates and the ball's speed after, and the impulse.
    """
    mass, ball_mass = body.mass_g / 1000, ball.mass_g / 1000
    i_x, i_y = body.recoil_kgcm2 * 1e-4, body.twistweight_kgcm2 * 1e-4
    dx, dy = (x - body.offset_cm) / 100, (y - body.balance_cm) / 100
    product = body.product_kgcm2 * 1e-4
    v0, w0 = swing.speed_ms, swing.speed_ms / ((body.balance_cm - swing.axis_cm) / 100)
    u0 = -ball.speed_ms
    # Impulse J on the plate along z (its front faces the ball, which gets -J), restitution at the point.
    equations = np.array(
        [
            [mass, 0, 0, 0, -1],  # plate: M (v - v0) = J
            [0, i_x, product, 0, -dy],  # about x: I (w - w0) and what the other turn adds = J dy
            [0, product, i_y, 0, -dx],  # about y: the point at +x goes back
            [0, 0, 0, ball_mass, 1],
            [1, dy, dx, -1, 0],
        ]
    )
    closing = u0 - (v0 + w0 * dy)
    known = [mass * v0, i_x * w0, product * w0, ball_mass * u0, float(ball.restitution_at(x, y)) * closing]
    v, w_x, w_y, u, impulse = np.linalg.solve(equations, known)
    return v0, w0, u0, v, w_x, w_y, u, impulse


@given(bodies, balls, swings, x_places, y_places)
def test_the_ball_leaves_as_a_collision_of_rigid_bodies_has_it(body, ball, swing, x, y):
    *_, w_y, u, _ = collided(body, ball, swing, x, y)
    assert float(body.ball_speed_ms(ball, swing, x, y)) == pytest.approx(u, rel=1e-9, abs=1e-9)
    told = float(body.twist_rad_s(ball, swing, x, y))
    assert told == pytest.approx(-w_y, rel=1e-9, abs=1e-9)


@given(bodies, balls, swings, x_places, y_places)
def test_momentum_and_energy_are_kept(body, ball, swing, x, y):
    """The plate's motion follows from the ball's: momentum as it was, energy less what restitution takes."""
    out = float(body.ball_speed_ms(ball, swing, x, y))
    m, mass = ball.mass_g / 1000, body.mass_g / 1000
    impulse = m * (out + ball.speed_ms)  # what the ball got, and the plate lost
    arm_x, arm_y = (x - body.offset_cm) / 100, (y - body.balance_cm) / 100
    i_x, i_y, product = (
        1e-4 * each for each in (body.recoil_kgcm2, body.twistweight_kgcm2, body.product_kgcm2)
    )
    turn = swing.speed_ms / ((body.balance_cm - swing.axis_cm) / 100)
    turned, twist = np.linalg.solve([[i_x, product], [product, i_y]], [-impulse * arm_y, -impulse * arm_x])
    v, w = swing.speed_ms - impulse / mass, turn + turned
    before = mass * swing.speed_ms**2 + i_x * turn**2 + m * ball.speed_ms**2
    after = mass * v**2 + i_x * w**2 + i_y * twist**2 + 2 * product * w * twist + m * out**2
    me = float(body.effective_mass_g(x, y)) / 1000
    meeting = float(body.face_speed_ms(swing, y)) + ball.speed_ms
    lost = me * m / (me + m) * (1 - float(ball.restitution_at(x, y)) ** 2) * meeting**2
    assert before - after == pytest.approx(lost, rel=0, abs=1e-12 * before)


@given(bodies, x_places, y_places)
def test_nowhere_is_it_heavier_than_at_the_balance_point(body, x, y):
    at_centre = float(body.effective_mass_g(body.offset_cm, body.balance_cm))
    assert at_centre == pytest.approx(body.mass_g, rel=1e-12)
    assert float(body.effective_mass_g(x, y)) <= body.mass_g * (1 + 1e-12)


@given(bodies, balls, st.floats(3, 12))
def test_a_hit_at_the_centre_of_percussion_leaves_the_hand_alone(body, ball, axis_cm):
    body = replace(body, offset_cm=0.0, product_kgcm2=0.0)
    y = body.percussion_cm(axis_cm)
    v0, w0, _, v, w, *_ = collided(body, ball, StrokeSwing(20.0, axis_cm), 0.0, y)
    at_hand = (axis_cm - body.balance_cm) / 100
    assert v - v0 + (w - w0) * at_hand == pytest.approx(0.0, abs=1e-9)


def test_closed_forms_of_one_racket():
    """Worked by hand: 310 g, balance 32.4 cm, recoil weight 162.454, twist weight 13.6 kg·cm²."""
    per_gram = 1 / 310 + (52 - 32.4) ** 2 / 162454 + 4**2 / 13600
    assert float(REED_BODY.effective_mass_g(4.0, 52.0)) == pytest.approx(1 / per_gram, rel=1e-12)
    ratio = 57.7 * per_gram
    rebound = (0.85 - ratio) / (1 + ratio)
    ball = Ball(57.7, 0.85, 15.0)
    assert float(REED_BODY.apparent_restitution(ball, 4.0, 52.0)) == pytest.approx(rebound)
    assert REED_BODY.percussion_cm(10.0) == pytest.approx(32.4 + 162454 / (310 * 22.4))


@pytest.mark.parametrize(("outline", "body"), [(RACKET, REED_BODY), (PADDLE, SOUTH)])
@pytest.mark.parametrize("kind", ["rebound", "speed"])
@pytest.mark.parametrize("falls", [False, True])
@pytest.mark.parametrize("one_sided", [False, True])
def test_the_sweet_zone_is_what_a_fine_grid_finds(outline, body, kind, falls, one_sided):
    ball, swing = ball_of(outline.sport, 12.0), StrokeSwing(12.0, 8.0)
    face = hitting_face(outline)
    if falls:
        ball = falling_off(ball, outline.sport, face)
    if one_sided:
        body = replace(body, offset_cm=0.3, product_kgcm2=1.5)
    x, y = np.meshgrid(np.linspace(-14, 14, 1401), np.linspace(face.y_cm[0], face.y_cm[-1], 1601))
    inside = np.abs(x) <= np.interp(y, face.y_cm, face.half_width_cm)
    if kind == "rebound":
        zone, values = zone_of_rebound(body, ball, face), body.apparent_restitution(ball, x, y)
    else:
        zone = zone_of_speed(body, ball, swing, face)
        values = body.ball_speed_ms(ball, swing, x, y)
    good = inside & (values >= 0.9 * values[inside].max())
    assert zone.y_cm == pytest.approx(y[good].mean(), abs=0.02)
    assert zone.x_cm == pytest.approx(x[good].mean(), abs=0.02)
    assert zone.width_cm == pytest.approx(np.ptp(x[good]), abs=0.06)
    assert zone.height_cm == pytest.approx(np.ptp(y[good]), abs=0.06)
    cell = (x[0, 1] - x[0, 0]) * (y[1, 0] - y[0, 0])
    assert zone.area_cm2 == pytest.approx(good.sum() * cell, rel=0.005)


def test_no_ball_comes_back_from_a_dead_face():
    face = hitting_face(RACKET)
    assert zone_of_rebound(REED_BODY, Ball(400.0, 0.2, 10.0), face) is None
    assert zone_of_speed(REED_BODY, Ball(400.0, 0.2, 30.0), StrokeSwing(0.0, 10.0), face) is None


@pytest.mark.parametrize("outline", [RACKET, PADDLE])
def test_the_face_has_the_area_that_its_outline_says(outline):
    face = hitting_face(outline)
    area = 2 * np.trapezoid(face.half_width_cm, face.y_cm)
    assert area == pytest.approx(outline.head_area_cm2, rel=0.003)
    rim = outline.rim(Face.INNER if outline.sport is Sport.TENNIS else Face.OUTER)
    middle = float(face.y_cm[len(face.y_cm) // 2])
    assert np.interp(middle, *face) == pytest.approx(rim.point(rim.at_y(middle)).x, abs=1e-3)


@pytest.mark.parametrize("measure", Measure)
def test_contours_run_where_the_measure_has_their_value(measure):
    face, ball, swing = hitting_face(RACKET), ball_of(Sport.TENNIS, 15.0), StrokeSwing(14.0, 10.0)
    found = face_map(measure, REED_BODY, ball, swing, face)
    low, high = found.range
    levels, _ = round_levels(low, high)
    assert 3 <= len(levels) <= 9
    assert low <= levels[0]
    assert levels[-1] <= high
    for contour in contours(found, levels):
        assert contour.lines
        x, y = np.concatenate(contour.lines).T
        exact = {
            Measure.BALL_SPEED: REED_BODY.ball_speed_ms(ball, swing, x, y),
            Measure.REBOUND: 100 * REED_BODY.apparent_restitution(ball, x, y),
            Measure.EFFECTIVE_MASS: REED_BODY.effective_mass_g(x, y),
        }[measure]
        assert np.abs(exact - contour.level).max() < 0.004 * (high - low)


def test_levels_are_round_in_the_unit_they_are_told_in():
    levels, decimals = round_levels(20.0, 32.0, 2.236936)  # m/s, told in miles an hour
    told = [level * 2.236936 for level in levels]
    assert decimals == 0
    assert all(math.isclose(value, round(value)) for value in told)
    assert round_levels(3.0, 3.0) == ([], 0)


def test_more_weight_out_to_the_sides_widens_the_zone():
    ball, face = ball_of(Sport.TENNIS, 15.0), hitting_face(RACKET)
    wider = FreeBody(314.0, 32.6, 164.0, 14.2)
    assert zone_of_rebound(wider, ball, face).width_cm > zone_of_rebound(REED_BODY, ball, face).width_cm


def test_a_swing_about_the_balance_point_is_none():
    with pytest.raises(SpecError):
        require_swing(REED_BODY, StrokeSwing(20.0, 32.4))


@pytest.mark.parametrize("outline", [RACKET, PADDLE])
def test_strokes_bring_the_middle_of_the_face_along_as_told(outline):
    body = REED_BODY if outline is RACKET else SOUTH
    assert strokes_of(outline.sport)
    for stroke in strokes_of(outline.sport).values():
        swing = swing_of(stroke.face_ms, body, outline, 8.0)
        assert float(body.face_speed_ms(swing, outline.centre_y_cm)) == pytest.approx(stroke.face_ms)
    assert set(strokes_of(Sport.TENNIS)) | set(strokes_of(Sport.PICKLEBALL)) == set(STROKES)


def predicted(measured, *pieces):
    return predict(measured, pieces, length_cm=68.58, axis_cm=10.0, outline=RACKET)


def test_what_was_not_read_is_asked_for_and_a_twist_weight_may_be_taken():
    untwisted = replace(REED, twistweight_kgcm2=NOT_MEASURED)
    side = point(2, 52, 12.0)
    with pytest.raises(SpecError) as refused:
        hit_frame(predicted(untwisted))
    assert refused.value.field == "twistweight_kgcm2"
    taken = hit_frame(predicted(untwisted, side), Estimate(13.5, 1.0))
    assert taken.is_twist_taken
    read = hit_frame(predicted(replace(REED, twistweight_kgcm2=Estimate(13.5, 1.0)), side))
    assert not read.is_twist_taken
    assert taken.body.twistweight_kgcm2 == pytest.approx(read.body.twistweight_kgcm2)
    (from_taken,), (from_read,) = (
        frame.estimates(lambda body: [float(body.effective_mass_g(8.0, 50.0))]) for frame in (taken, read)
    )
    assert from_taken.u == pytest.approx(from_read.u, rel=1e-6)
    with pytest.raises(SpecError) as refused:
        hit_frame(predicted(replace(untwisted, swingweight_kgcm2=NOT_MEASURED)), Estimate(13.5, 1.0))
    assert refused.value.field == "swingweight_kgcm2"


def test_the_spread_of_what_is_told_is_that_of_many_draws():
    """Against bodies drawn from the readings themselves: weight, balance, swing weight and twist weight."""
    frame = hit_frame(predicted(REED))
    random = np.random.default_rng(8)
    mass, balance = (
        random.normal(310, REED.mass_g.u, 20_000),
        random.normal(32.4, REED.balance_cm.u, 20_000),
    )
    swing = random.normal(318, REED.swingweight_kgcm2.u, 20_000)
    recoil = swing - mass * (balance - 10) ** 2 / 1000
    drawn = balance + 1000 * recoil / (mass * (balance - 10))
    (found,) = frame.estimates(lambda body: [body.percussion_cm(10.0)])
    assert found.value == pytest.approx(drawn.mean(), abs=0.01)
    assert found.u == pytest.approx(drawn.std(), rel=0.03)


# -- weight on one side alone -------------------------------------------------------------------------


@pytest.mark.parametrize("piece", [point(5, 55, 12), point(5, 55, -12), strip(180, 10), strip(100, 6)])
def test_weight_on_one_side_turns_the_frame_as_its_product_of_inertia_says(piece):
    """Against the moments of many small masses: a frame of point masses with the piece on it."""
    predicted_ = predicted(REED, piece)
    found = hit_frame(predicted_, product_gcm2=product_of_inertia_gcm2([piece], RACKET)).body
    if piece.is_strip:
        line = RACKET.rim(piece.face)
        start, end = piece.stretch(line)
        spots = np.array([line.point(s) for s in np.linspace(start, end, 2001)])
    else:
        spots = np.array([[piece.x_cm, piece.y_cm]])
    each = piece.one_mass_g / len(spots)
    mass = 310.0 + piece.one_mass_g
    offset = each * spots[:, 0].sum() / mass
    balance = (310.0 * 32.4 + each * spots[:, 1].sum()) / mass
    product = -mass * offset * balance + each * (spots[:, 0] * spots[:, 1]).sum()
    assert found.offset_cm == pytest.approx(offset, rel=1e-4)
    assert found.product_kgcm2 == pytest.approx(product / 1000, rel=1e-3)
    right, left = (float(found.effective_mass_g(x, 58.0)) for x in (8.0, -8.0))
    assert (right > left) == (offset > 0)  # heavier on the side of the weight


def test_weight_on_both_sides_or_on_the_axis_leaves_no_product():
    even = [strip(180, 10, mirrored=True), strip(0, 10), point(3, 5)]
    assert product_of_inertia_gcm2(even, RACKET) == pytest.approx(0.0, abs=1e-6)
    one, off = point(4, 50, 10), point(4, 50, 10, removed=True)
    assert product_of_inertia_gcm2([one, off], RACKET) == 0.0


@pytest.mark.parametrize("outline", [RACKET, PADDLE])
def test_restitution_falls_from_the_middle_to_the_frame_by_what_is_said(outline):
    face = hitting_face(outline)
    ball = falling_off(ball_of(outline.sport, 10.0), outline.sport, face)
    middle = (face.y_cm[0] + face.y_cm[-1]) / 2
    assert float(ball.restitution_at(0.0, middle)) == pytest.approx(ball.restitution)
    for x, y in ((face.half_width_cm.max(), middle), (0.0, face.y_cm[-1]), (0.0, face.y_cm[0])):
        assert float(ball.restitution_at(x, y)) == pytest.approx(
            ball.restitution * (1 - FALLS[outline.sport])
        )


def test_five_grams_on_one_side_move_the_zone_aside_by_millimetres():
    """As the page of hits says."""
    piece = point(5, 55, 12)
    ball, face = ball_of(Sport.TENNIS, 15.0), hitting_face(RACKET)
    frame = hit_frame(predicted(REED, piece), product_gcm2=product_of_inertia_gcm2([piece], RACKET))
    zone = zone_of_rebound(frame.body, falling_off(ball, Sport.TENNIS, face), face)
    assert 0.1 < zone.x_cm < 0.6
