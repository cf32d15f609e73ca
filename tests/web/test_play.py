"""Response map: the map beside the board, on its own page and side by side."""

import re
from dataclasses import replace

import pytest
from django.test import Client

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.sport import Sport
from kentrobar.core.play.strokes import HOLD_CM, STROKES
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate
from kentrobar.core.weight.prediction import predict
from kentrobar.web.frames.services import restring
from kentrobar.web.measuring.services import Taking, as_readings, record
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.services import create_plan
from tests.addresses import at
from tests.web.conftest import new_frame, new_person, words


def rows_of(page):
    """The numbers told, by the first word of their row."""
    return {row.name: row.cell for row in page.context["rows"]}


def hit(client, plan, **asked):
    page = client.get(at("play:plan", plan.pk), asked)
    assert page.status_code == 200
    return page


def test_a_plan_is_told_before_and_after(client, plan, hand):
    hand.lay(amount="15 cm", site="three_nine", mirrored="1", layers="3")
    page = hit(client, plan)
    rows = rows_of(page)
    mass = rows["Effective mass there"]
    assert float(mass.now.value) > float(mass.before.value)
    assert re.fullmatch(r"±\d+\.\d+", mass.now.u)
    twist = rows["Twist after a miss of 3 cm"]
    assert float(twist.now.value) < float(twist.before.value)
    text = words(page)
    assert "The sweet spot grows" in text
    assert "twists it" in text
    # What stands in the table as a change is what the sentence rounds.
    assert twist.change.value.startswith("−")


def test_nothing_laid_is_the_frame_as_it_is(client, racket):
    page = client.get(at("play:frame", racket.pk))
    text = words(page)
    assert "As it is" in text
    assert "With the plan" not in text
    assert page.context["sentences"] == []
    assert "shown" not in page.context["form"].fields


@pytest.mark.parametrize("measure", ["ball_speed", "rebound", "effective_mass"])
@pytest.mark.parametrize("shown", ["after", "before", "change"])
def test_each_map_is_drawn_with_numbers_that_lie_in_its_range(client, plan, hand, measure, shown):
    hand.lay(site="twelve")
    page = hit(client, plan, measure=measure, shown=shown)
    m = page.context["map"]
    low, high = (float(getattr(m, end).replace("−", "-")) for end in ("low", "high"))
    levels = [float(line.text.replace("−", "-")) for line in m.lines]
    assert levels == sorted(levels)
    assert all(low <= level <= high for level in levels)
    assert sum(line.x is not None for line in m.lines) >= 2
    assert m.bands
    assert all(band.d for band in m.bands)
    assert m.is_difference is (shown == "change")
    assert bool(m.pieces) is (shown != "before")


def test_typed_speeds_count_in_the_persons_units(client, plan, technician):
    usual = rows_of(hit(client, plan, stroke="ground"))["Ball off the middle of the face"]
    fast = rows_of(hit(client, plan, stroke="ground", face="108"))  # km/h
    assert float(fast["Ball off the middle of the face"].now.value) > float(usual.now.value) + 15
    assert hit(client, plan, face="30 m/s").context["stroke"] == fast_told(hit(client, plan, face="108"))
    technician.length_unit = "in"
    technician.save()
    in_miles = hit(client, plan, face="67.1 mph")
    assert "mph" in in_miles.context["stroke"]
    assert "km/h" not in words(in_miles)


def fast_told(page):
    return page.context["stroke"]


@pytest.mark.parametrize(
    ("field", "typed"), [("face", "fast"), ("face", "900"), ("ball", "-3"), ("face", "0")]
)
def test_a_slip_is_told_at_its_field_and_the_usual_is_shown(client, plan, field, typed):
    page = hit(client, plan, **{field: typed})
    assert page.context["form"].errors[field]
    assert f'value="{typed}"' in page.content.decode()
    assert page.context["stroke"] == hit(client, plan).context["stroke"]


def test_a_missing_reading_is_asked_for_and_a_twist_weight_is_taken(client, plan, racket, technician):
    def read(swing, twist):
        measured = MeasuredSpecs(Estimate(305, 0.1), Estimate(32, 0.05), swing, 10.0, twist)
        record(racket, Taking(measured, "playing", as_readings(measured)), technician)
        return words(client.get(at("play:frame", racket.pk)))

    assert "needs the swing weight" in read(NOT_MEASURED, Estimate(13.6, 0.2))
    text = read(Estimate(310, 1.0), NOT_MEASURED)
    assert "the middle of the usual range" in text
    assert "13.5 kg·cm²" in text


def test_the_map_follows_the_hand_without_saving(client, plan, hand):
    hand.lay(site="twelve")
    before = Plan.objects.get(pk=plan.pk).pieces
    address = at("play:follow", plan.pk)
    told = [
        rows_of(client.post(address, {"action": "drag", "piece": 1, "x": x, "y": y}))
        for x, y in ((0, 67), (12.5, 51))
    ]
    twist = [float(rows["Twist after a miss of 3 cm"].now.value) for rows in told]
    assert twist[1] < twist[0]
    assert Plan.objects.get(pk=plan.pk).pieces == before
    assert client.post(address, {"action": "nonsense"}).status_code == 204


def test_plans_stand_under_one_hit_side_by_side(client, plan, hand, paddle, technician, racket):
    hand.lay(site="three_nine")
    other = create_plan(racket, technician, name="Other")
    page = client.get(at("play:compare"), {"plan": [plan.pk, other.pk], "stroke": "serve"})
    assert [plan.pk for plan, _ in page.context["columns"]] == [plan.pk, other.pk]
    text = words(page)
    assert text.count("<svg") == 2
    assert f"map-{plan.pk}-face" in text
    of_paddle = create_plan(paddle, technician, name="Unread")
    mixed = client.get(at("play:compare"), {"plan": [plan.pk, of_paddle.pk], "stroke": "serve"})
    assert "needs the swing weight" in words(mixed)
    for absent in ("x", "999999", "9" * 30):
        assert client.get(at("play:compare"), {"plan": absent}).status_code == 200


def test_another_shop_sees_none_of_it(client, plan, racket):
    new_frame(new_person("stranger"), "Theirs")
    stranger = Client()
    stranger.force_login(new_person("another"), backend="django.contrib.auth.backends.ModelBackend")
    for address in (at("play:plan", plan.pk), at("play:frame", racket.pk)):
        assert stranger.get(address).status_code == 404
    assert stranger.post(at("play:follow", plan.pk), {"action": "drag"}).status_code == 404
    assert not stranger.get(at("play:compare"), {"plan": plan.pk}).context["columns"]


def test_what_people_say_is_answered_with_this_frames_numbers(client, racket, paddle, technician):
    """The racket of 308.6 g at 31.8 cm, its swing weight about 10 cm."""
    page = client.get(at("play:frame", racket.pk))
    told = dict(page.context["sayings"])
    handle = told["Weight in the handle lowers the swing weight."]
    assert f"+{5 * 8.8**2 / 1000:.2f} kg·cm²" in handle
    lighter = told["Five grams in the handle, and it feels lighter."]
    assert f"{308.6 * (31.8 - HOLD_CM[Sport.TENNIS]) * 9.80665e-3:.1f} →" in lighter
    assert "% less" in lighter
    moved = 5 * ((68.58 - 1 - 10) ** 2 - 8.8**2) / 1000
    assert f"from 287.0 to {287 + moved:.1f} kg·cm²" in told["The same weight, so the same frame."]
    # The swing weight of the paddle was not read; changes need none.
    of_paddle = dict(client.get(at("play:frame", paddle.pk)).context["sayings"])
    moved = 5 * ((41.9 - 1 - 5) ** 2 - 3.8**2) / 1000
    assert f"swing weight by +{moved:.2f} kg·cm²" in of_paddle["The same weight, so the same frame."]
    technician.mass_unit, technician.length_unit = "oz", "in"
    technician.save()
    lighter = dict(client.get(at("play:frame", racket.pk)).context["sayings"])[
        "Five grams in the handle, and it feels lighter."
    ]
    assert "oz·in" in lighter


def test_a_frame_read_unstrung_is_hit_ready_to_play(client, racket):
    """Its strings and overgrip count in the hit; where nobody noted its strings, that is asked for."""
    bare = MeasuredSpecs(
        Estimate(290.0, 0.1), Estimate(31.5, 0.05), Estimate(285.0, 1.0), 10.0, Estimate(13.0, 0.2)
    )
    person = racket.shop.people.first()
    record(racket, Taking(bare, "bare", as_readings(bare), ()), person)
    asked = client.get(at("play:frame", racket.pk)).context["problem"]
    assert "The strings of this racket are unknown, so" in asked
    restring(racket, label="strings", mass_g=16.0, mass_u_g=0.5)
    page = client.get(at("play:frame", racket.pk))
    assert page.context["is_turned"]
    body = page.context["impact"].before.body
    assert body.mass_g == pytest.approx(306.0)
    assert "ready to play" in words(page)


def told_of(client, racket, **asked):
    return rows_of(client.get(at("play:frame", racket.pk), asked))


def test_a_stroke_turns_where_it_turns_whatever_axis_swing_weights_are_told_about(client, racket):
    """The same racket, its swing weight typed about another axis: the same hit."""
    about_10 = told_of(client, racket)
    specs = predict(racket.measured, [], length_cm=racket.length_cm, axis_cm=0.0).before
    at_butt = replace(racket.measured, swingweight_kgcm2=specs.swingweight_kgcm2, axis_cm=0.0)
    record(racket, Taking(at_butt, "playing", as_readings(at_butt)), racket.shop.people.first())
    about_0 = told_of(client, racket)
    assert {name: cell.now.value for name, cell in about_0.items()} == {
        name: cell.now.value for name, cell in about_10.items()
    }


def test_how_little_the_axis_of_a_stroke_is_known_is_part_of_what_is_told(client, racket):
    """A typed axis is taken as known; the stroke's own widens the ±, by what its two ends differ."""
    name = "Sweet spot: middle, from the butt"
    usual = STROKES["ground"].axis_cm
    own = told_of(client, racket)[name]
    known, near, far = (
        told_of(client, racket, axis=f"{axis:.2f} cm")[name]
        for axis in (usual.value, usual.value + usual.u, usual.value - usual.u)
    )
    assert own.now.value == known.now.value
    u, u_known = (float(each.now.u.lstrip("±")) for each in (own, known))
    apart = abs(float(far.now.value) - float(near.now.value)) / 2
    assert u == pytest.approx((u_known**2 + apart**2) ** 0.5, abs=0.11)
    assert u > u_known


@pytest.mark.parametrize(
    ("typed", "said"), [("40", "below 0 is behind"), ("-3 m", "below 0 is behind"), ("x", "number")]
)
def test_an_axis_that_cannot_be_is_said_at_its_field(client, racket, typed, said):
    page = client.get(at("play:frame", racket.pk), {"axis": typed})
    assert said in str(page.context["form"].errors["axis"])
    assert page.context["map"]
