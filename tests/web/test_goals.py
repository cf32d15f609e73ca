"""Targets by goal or number, proposals, and laying one of them."""

import re
from html import unescape
from io import BytesIO
from urllib.parse import urlencode

import pytest
from django.http import QueryDict
from django.test import Client
from django.urls import reverse
from pypdf import PdfReader

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import READ_BY_FIELD
from kentrobar.core.frame.outline import PaddleDimensions
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.solving.proposals import SCHOOLS
from kentrobar.web.frames.services import fit_accessories
from kentrobar.web.kit.models import Search
from kentrobar.web.kit.numbers import Units
from kentrobar.web.materials.models import Accessory, Material
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.measuring.services import Taking, as_readings, record
from kentrobar.web.planning.board.view_models import spec_rows
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.services import take_new_start
from kentrobar.web.planning.stored import plan_state
from kentrobar.web.planning.targets.forms import TargetForm
from tests.addresses import at
from tests.web.conftest import answers, new_frame, new_person, searched, words


def typed(client, racket, goal="hold", **changes):
    """What the page of a goal would send."""
    form = client.get(f"{at('planning:target', racket.pk)}?goal={goal}").context["form"]
    data = {"step_0": "0.5", "step_1": "cm"}
    for name in ("tape", "putty"):
        data[name] = form.fields[name].choices[0][0]
    for name, (text, unit, *spread) in (
        (n, v) for n, v in form.initial.items() if isinstance(v, tuple) and n != "step"
    ):
        data |= {f"{name}_0": text, f"{name}_1": unit, f"{name}_2": spread[0] if spread else ""}
    return data | changes


def propose(client, racket, data, search="plans"):
    """Ask for plans; the page that shows them."""
    return searched(client, at("planning:target", racket.pk), data, search)


def lay(client, racket, card):
    """Press the button of a card."""
    carried = re.search(r'name="signed" value="([^"]+)"', card)[1]
    return client.post(at("planning:lay", racket.pk), {"signed": unescape(carried)})


def test_a_goal_is_proposed_school_by_school_and_laid(client, racket):
    data = typed(client, racket)
    page = propose(client, racket, data)
    assert page.status_code == 200
    found = answers(client)
    assert set(found) == set(SCHOOLS)
    assert "proven least" in found["least"]
    assert "proven least" not in found["polarized"]
    assert "0 visible" in found["hidden"]
    assert found["removable"] == ""  # the putty chosen comes off clean: that is the lightest plan again
    silicone = Material.objects.get(shop=racket.shop_id, name="Silicone")
    propose(client, racket, data | {"putty": silicone.pk})
    lasting = answers(client)["removable"]
    assert "comes off again and leaves nothing" in lasting
    assert "Silicone" not in lasting
    assert not Plan.objects.exists()
    laid = lay(client, racket, found["polarized"])
    plan = Plan.objects.get()
    assert laid.url == at("planning:board", plan.pk)
    board = client.get(laid.url)
    assert board.status_code == 200
    change = plan.pieces
    assert {piece["piece"]["label"] for piece in change} <= {"12", "inside the butt cap"}
    assert all(piece["material"] for piece in change)


def test_a_clash_is_named_with_the_nearest(client, racket):
    tight = typed(client, racket, "power", ceiling_0="308.6", ceiling_1="g")
    propose(client, racket, tight)
    found = answers(client)
    assert "No plan comes nearer than the frame as it" in found["least"]
    data = typed(client, racket, "power", ceiling_0="310", ceiling_1="g")
    propose(client, racket, data)
    found = answers(client)
    assert "Static weight and swing weight cannot both be met" in found["least"]
    assert "The nearest plan" in found["least"]
    assert found["polarized"] == ""
    lay(client, racket, found["least"])
    assert plan_state(Plan.objects.get()).prediction.after.mass_g.value <= 310.0


def test_what_is_fitted_can_come_off_or_make_way(client, racket, technician):
    """The dampener goes for a lower swing weight; a heavier cap is taken from the shelf."""
    dampener = Accessory.objects.filter(shop=technician.shop_id, kind="dampener")
    fit_accessories(racket, dampener)
    racket.refresh_from_db()
    now = racket.measured.swingweight_kgcm2.value
    lower = typed(
        client, racket, "", swingweight_0=f"{now - 1.4:.1f}", swingweight_1="kg·cm²", swingweight_2="0.5"
    )
    propose(client, racket, lower)
    found = answers(client)
    assert "already" in found["least"]
    assert "Dampener off: 2.00 g less" in found["removes"]
    lay(client, racket, found["removes"])
    (laid,) = Plan.objects.get().pieces
    assert laid["material"] is None
    assert laid["piece"]["removed"]
    heavier = typed(
        client, racket, "", mass_0=f"{racket.measured.mass_g.value + 6:.1f}", mass_1="g", mass_2="0.2"
    )
    propose(client, racket, heavier)
    found = answers(client)
    assert "Heavier butt cap" in found["swaps"]


def test_targets_start_in_the_units_of_the_person(client, racket, technician):
    technician.mass_unit, technician.length_unit, technician.balance_unit = "oz", "in", "pt"
    technician.save()
    form = client.get(f"{at('planning:target', racket.pk)}?goal=quicker").context["form"]
    assert form.initial["step"] == ("0.25", "in")
    assert form.initial["ceiling"][1] == "oz"
    points, unit, give = form.initial["balance"]
    assert unit == "pt"
    data = typed(client, racket, "quicker")
    propose(client, racket, data)
    found = answers(client)
    assert "oz" in found["least"]
    lay(client, racket, found["least"])
    after = plan_state(Plan.objects.get()).prediction.after.points_headlight.value
    assert abs(after - float(points)) <= float(give) + 0.005


def test_what_is_kept_stays_and_the_grip_keeps_its_size(client, racket):
    data = typed(
        client,
        racket,
        "",
        twistweight_0="14.2",
        twistweight_1="kg·cm²",
        twistweight_2="0.15",
        keep_balance="on",
        keep_swingweight="on",
        swingweight_2="",
        keep_grip="on",
    )
    propose(client, racket, data)
    found = answers(client)
    assert "swing weight" in found["least"]  # nothing added keeps it while twist weight rises so far
    del data["keep_swingweight"]
    propose(client, racket, data)
    lay(client, racket, answers(client)["least"])
    change = plan_state(Plan.objects.get()).prediction.change
    assert abs(change.balance_cm.value) <= 0.1 + 1e-9
    assert all("under the grip" not in p["piece"]["label"] for p in Plan.objects.get().pieces)


def test_blocked_stretches_of_the_frame_stay_clear(client, racket):
    racket.blocked, racket.post_hold = "11:30-12:30, 3:00", "offset"
    racket.save()
    power = typed(client, racket, "power")
    propose(client, racket, power)
    lay(client, racket, answers(client)["hoop"])
    plan = Plan.objects.get()
    assert plan.pieces
    board = client.get(at("planning:board", plan.pk))
    assert board.context["plan_warnings"] == []


def test_the_best_platform_is_found_frame_by_frame(client, racket, technician, paddle):
    heavy = new_frame(
        technician,
        "Heavy",
        measured=MeasuredSpecs(
            Estimate(330, 0.1), Estimate(31.8, 0.05), Estimate(320, 1.0), 10.0, Estimate(13.6, 0.2)
        ),
    )
    near = new_frame(
        technician,
        "Near",
        measured=MeasuredSpecs(
            Estimate(311, 0.1), Estimate(31.9, 0.05), Estimate(292, 1.0), 10.0, Estimate(13.6, 0.2)
        ),
    )
    data = typed(
        client,
        racket,
        "",
        swingweight_0="294",
        swingweight_1="kg·cm²",
        swingweight_2="1",
        mass_0="313",
        mass_1="g",
        mass_2="1",
    )
    propose(client, racket, data, "platform")
    cards = answers(client, "platform")
    rows = {frame: cards[str(frame.pk)] for frame in (racket, heavy, near)}
    assert len(cards) == len(rows)  # no paddle among rackets
    order = {frame: float(re.search(r'data-order="([\d.]+)"', row)[1]) for frame, row in rows.items()}
    assert order[near] < order[racket] < order[heavy]
    assert "already" in rows[heavy]
    fields = re.findall(r'name="(\w+)" value="([^"]*)"', rows[near])
    there = searched(client, at("planning:target", near.pk), {n: unescape(v) for n, v in fields})
    assert there.context["form"].cleaned_data["mass"].text == "313"  # the same target on that frame
    technician.mass_unit, technician.balance_unit = "oz", "pt"
    technician.save()
    low = typed(client, racket, "", balance_0="-2", balance_1="pt", balance_2="0.2")
    propose(client, racket, low)
    assert "balance from 7.8 pt HL to between" in answers(client)["least"]


def test_the_search_for_a_platform_goes_through_all_frames(
    client, racket, technician, django_assert_max_num_queries, monkeypatch
):
    monkeypatch.setattr("kentrobar.web.planning.targets.views.PLATFORMS_AT_ONCE", 8)
    for number in range(10):
        new_frame(technician, f"Reed {number}")
    page = propose(client, racket, typed(client, racket), "platform")
    assert len(page.context["found"].cards) == 8
    with django_assert_max_num_queries(14):
        client.get(page.wsgi_request.get_full_path())
    assert "Frames 1 to 8 of 11." in words(page)
    rest = searched(client, at("planning:target", racket.pk), dict(page.context["further"]), "platform")
    assert len(rest.context["found"].cards) == 3
    assert not rest.context["further"]


@pytest.mark.parametrize(
    "query", ["", "most=5+g", "most=0.5+oz&second=twistweight_kgcm2", "most=lots", "most=900", "second=moon"]
)
def test_what_is_possible_is_drawn_with_target_and_others(client, racket, technician, query):
    new_frame(technician, "Other")
    page = client.get(f"{at('planning:possible', racket.pk)}?{query}")
    assert page.status_code == 200
    drawn = page.context["region"].drawn
    assert [other["name"] for other in drawn["others"]] == ["Other"]
    assert drawn["others"][0]["within"]
    assert bool(page.context["problem"]) == (query in ("most=lots", "most=900"))
    assert drawn["target"] is None


def test_what_is_possible_names_the_chosen_tape_and_uses_it_without_a_target(client, racket, technician):
    """A heavier tape reaches farther at the same places; no target has to be typed for that."""
    stock = {m.name: m.pk for m in technician.shop.materials.all()}
    highest = {}
    for name in ("Lead tape, quarter inch", "Lead tape, half inch"):
        asked = {"tape": stock[name], "layers": "1", "most": "60 g"}
        page = client.get(at("planning:possible", racket.pk), asked)
        assert f"With {name} in 1 layer and" in words(page)
        highest[name] = max(point["y"] for point in page.context["region"].drawn["high"])
    assert highest["Lead tape, half inch"] > highest["Lead tape, quarter inch"] + 1


@pytest.mark.parametrize(("swing", "is_within"), [("292", True), ("360", False)])
def test_a_target_lies_within_or_without(client, racket, swing, is_within):
    data = typed(client, racket, "hold", swingweight_0=swing)
    page = client.get(at("planning:possible", racket.pk), data)
    assert page.context["region"].is_target_within is is_within
    sentence = (
        "Plans show whether whole cutting steps" if is_within else "no weight at these positions gets there"
    )
    assert sentence in words(page)


def test_the_region_speaks_points_and_asks_for_readings(client, racket, technician, paddle):
    technician.balance_unit = "pt"
    technician.save()
    page = client.get(at("planning:possible", racket.pk))
    assert page.context["region"].drawn["across"] == "Balance, pt HL"
    assert page.context["region"].drawn["now"]["x"] == pytest.approx(7.84, abs=0.01)
    assert "read them first" in client.get(at("planning:possible", paddle.pk)).content.decode()


@pytest.mark.parametrize(
    ("changes", "sentence"),
    [
        ({"swingweight_0": "", "balance_0": ""}, "Choose a goal, or enter at least one target"),
        ({"swingweight_0": "fast"}, "not a number"),
        ({"step_0": "0"}, "above 0"),
        ({"tape": "999999"}, "valid choice"),
    ],
)
def test_bad_targets_are_refused_and_kept(client, racket, changes, sentence):
    asked = {"search": "plans"} | typed(client, racket) | changes
    page = client.get(at("planning:target", racket.pk), asked)
    assert page.status_code == 422
    assert sentence in page.content.decode()


@pytest.mark.parametrize("spec", ["swingweight_kgcm2", "balance_cm", "twistweight_kgcm2", "nonsense"])
def test_the_map_of_a_gram(client, racket, paddle, spec):
    for frame in (racket, paddle):
        page = client.get(f"{at('planning:sensitivity', frame.pk)}?spec={spec}")
        assert page.status_code == 200
        assert 'class="shade-5' in page.content.decode()


def test_a_gram_on_a_paddle_is_told_in_percent_too(client, technician, racket):
    read = MeasuredSpecs(Estimate(225, 0.1), Estimate(23.8, 0.05), Estimate(112, 1.0), 5.0)
    paddle = new_frame(technician, "Mudlark 16", PaddleDimensions(41.9, 19.0), read)
    page = words(client.get(at("planning:sensitivity", paddle.pk)))
    by, percent = re.search(r"<td class=\"number\">(\+\d\.\d+) <small>(\+\d\.\d) %", page).groups()
    assert float(percent) == pytest.approx(100 * float(by) / 112, abs=0.06)
    assert " %" not in words(client.get(at("planning:sensitivity", racket.pk))).split("<tbody>")[1]


def test_the_card_of_a_gram(client, racket):
    card = client.get(f"{at('planning:sensitivity_card', racket.pk)}?spec=balance_cm&paper=letter")
    assert card.content.startswith(b"%PDF")
    (sheet,) = PdfReader(BytesIO(card.content)).pages
    assert "Effect of 1 g" in sheet.extract_text()


def test_anothers_frame_is_not_aimed_at(client):
    frame = new_frame(new_person("stranger"), "Not yours")
    for address in ("aim", "gram", "possible"):
        assert client.get(f"/plans/{address}/{frame.pk}").status_code == 404
    assert client.get(at("planning:sensitivity_card", frame.pk)).status_code == 404
    assert client.post(at("planning:lay", frame.pk)).status_code == 404


def test_a_search_of_another_shop_is_neither_shown_nor_stopped(client, racket):
    propose(client, racket, typed(client, racket))
    search = Search.objects.first()
    other = Client()
    other.force_login(new_person("other"))
    assert other.get(reverse("kit:search", args=[search.pk])).status_code == 404
    other.post(reverse("kit:stop"), {"search": search.pk, "back": "https://elsewhere.example"})
    search.refresh_from_db()
    assert not search.is_stopped


def test_places_are_ticked_and_remembered_with_the_frame(client, racket):
    """Ticked for one search, kept by the page for the next ones, and never asked again."""
    data = typed(client, racket, "power")
    only = {"with_places": "1", "places": ["three_nine", "twelve"], "hoop": "open"}
    propose(client, racket, data | only)
    found = answers(client)
    assert "12" in found["least"]
    assert "proven least at these places" in found["least"]
    assert "inside the butt cap" not in found["least"]
    assert found["hidden"] == ""
    kept = client.post(at("planning:places", racket.pk), only)
    assert "3 and 9" in kept.content.decode()
    form = client.get(at("planning:target", racket.pk)).context["form"]
    assert form.initial["places"] == ["three_nine", "twelve"]
    propose(client, racket, data)
    assert "inside the butt cap" not in answers(client)["least"]
    laid = lay(client, racket, found["least"])
    assert laid.url.startswith(
        at("planning:list")
    )  # to tick is no change of the frame: the card still counts


def test_no_place_at_all_is_refused_and_a_refusal_leads_to_the_places(client, racket):
    data = typed(client, racket, "steadier")
    none = propose(client, racket, {"with_places": "1"} | data)
    assert none.status_code == 422
    assert "Tick at least one position." in none.content.decode()
    butt = {"with_places": "1", "places": ["butt_cap"]}
    propose(client, racket, data | butt)
    refused = answers(client)
    assert f'href="/plans/aim/{racket.pk}#places"' in refused["least"]


def test_a_plan_keeps_what_it_was_to_bring_about(client, racket):
    """The board tells the band, whether each spec lies in it, and the chance; the bench works toward it."""
    data = typed(client, racket, "power")
    now = racket.measured.swingweight_kgcm2
    coarse = data | {"swingweight_2": f"{now.u / 2:.2f}"}
    page = propose(client, racket, coarse)
    assert "no plan is surer than the reading" in words(page)
    assert "%" in answers(client)["least"]
    lay(client, racket, answers(client)["least"])
    plan = Plan.objects.get()
    board = words(client.get(at("planning:board", plan.pk)))
    assert "within" in board
    assert 'data-n="chance"' in board
    moved = {"action": "edit_mass", "piece": plan.pieces[0]["id"], "value": "0.2 g"}
    answer = client.post(at("planning:preview", plan.pk), {"action": "delete", "piece": moved["piece"]})
    assert "off" in answer.json()["numbers"]["swingweight_kgcm2-within"]
    assert answer.json()["numbers"]["chance"] == "below 1 %"
    client.post(at("bench:plan", plan.pk))
    work = plan.works.get()
    assert work.target.centres["swingweight_kgcm2"] == pytest.approx(float(data["swingweight_0"]))
    assert work.target.tolerances["swingweight_kgcm2"] == pytest.approx(now.u / 2, abs=0.01)


@pytest.mark.parametrize(
    ("field", "text", "unit", "by"),
    [
        ("mass", "+10", "g", 10.0),
        ("swingweight", "+5", "kg·cm²", 5.0),
        ("swingweight", "−3", "kg·cm²", -3.0),
        ("twistweight", "+ 5", "oz·in²", 5 * 0.182900),
        ("balance", "-4", "mm", -0.4),
        ("balance", "+2", "pt", -2 * 0.3175),
    ],
)
def test_a_number_with_a_sign_is_a_change(client, racket, technician, field, text, unit, by):
    """Ten more, as on the board; without a sign it is the value."""
    data = typed(client, racket, "", **{f"{field}_0": text, f"{field}_1": unit})
    sent = QueryDict(urlencode(data, doseq=True))
    form = TargetForm(sent, frame=racket, shelf=shelf_of(technician), units=technician.units)
    assert form.is_valid(), form.errors
    spec = READ_BY_FIELD[field]
    assert form.target().centres[spec.key] == pytest.approx(racket.measured.of(spec).value + by, abs=1e-3)


@pytest.fixture
def weighed(technician):
    """A frame of which only the static weight was read."""
    return new_frame(technician, "Bare", measured=MeasuredSpecs(Estimate(308.6, 0.1)))


def test_a_change_of_what_nobody_measured_is_planned_as_the_board_does(client, weighed, technician):
    """+5 lays what adds 5, says so on card and board, and becomes a value once the spec is read."""
    data = typed(client, weighed, "", swingweight_0="+5", swingweight_1="kg·cm²", swingweight_2="0.5")
    page = propose(client, weighed, data)
    assert "Not measured: balance, swing weight and twist weight." in words(page)
    lay(client, weighed, answers(client)["least"])
    plan = Plan.objects.get()
    state = plan_state(plan)
    assert 4.5 <= state.prediction.change.swingweight_kgcm2.value <= 5.5
    row = next(row for row in spec_rows(state, Units()) if row.key == "swingweight_kgcm2")
    assert str(row.target).startswith("+5.0 kg·cm² ± 0.5")
    assert row.target.is_within
    read = MeasuredSpecs(Estimate(308.6, 0.1), Estimate(32.5, 0.05), Estimate(310.0, 1.0))
    record(weighed, Taking(read, "playing", as_readings(read)), technician)
    plan = Plan.objects.get()
    take_new_start(plan, plan.version, None)
    aim = plan_state(Plan.objects.get()).target
    assert aim.centres["swingweight_kgcm2"] == pytest.approx(315.0)
    assert not aim.changes


def test_a_change_that_cannot_be_had_is_refused_as_a_change(client, weighed):
    """Nobody read from where, so nothing is said of where it is now."""
    propose(client, weighed, typed(client, weighed, "", swingweight_0="-5", swingweight_1="kg·cm²"))
    refused = answers(client)["least"]
    assert "Added weight only raises the swing weight. Remove or replace a fitting." in refused
    assert "already" not in refused


def test_a_goal_begins_with_changes_where_nothing_was_read(client, weighed):
    """What a goal minds beside and nobody read is said once, and is no target."""
    page = client.get(f"{at('planning:target', weighed.pk)}?goal=hold")
    assert page.context["form"].initial["swingweight"][0] == "+6.00"
    assert page.context["form"].initial["balance"][0] == ""
    assert "includes the balance too. Measure it first" in words(page)


@pytest.mark.parametrize("field", ["balance_0", "keep_balance", "ceiling_0", "swingweight_0"])
def test_what_rests_on_a_reading_asks_for_it_at_its_field(client, technician, field):
    bare = new_frame(technician, "Bare", measured=MeasuredSpecs(twistweight_kgcm2=Estimate(13.1, 0.2)))
    page = propose(client, bare, typed(client, bare, "", **{field: "320", "twistweight_0": "+1"}))
    sentence = page.context["form"].errors[field.removesuffix("_0")][0]
    assert sentence.startswith(("Measure", "Weigh"))


def test_plans_come_to_the_middle_of_the_tolerance_where_that_can_be(client, racket):
    """The bench needs the tolerance: a plan does not end on its edge."""
    data = typed(client, racket, "", swingweight_0="+6", swingweight_1="kg·cm²", swingweight_2="1.5")
    propose(client, racket, data)
    found = answers(client)["least"]
    assert "to the middle third of each tolerance" in " ".join(found.split())
    lay(client, racket, found)
    state = plan_state(Plan.objects.get())
    change = state.prediction.change.swingweight_kgcm2.value
    assert abs(change - 6.0) <= 0.5 + 1e-6


def test_a_minus_in_points_is_head_heavy_and_no_change(racket, technician):
    sent = QueryDict(urlencode({"balance_0": "-1", "balance_1": "pt", "search": "plans"}))
    form = TargetForm(sent, frame=racket, shelf=shelf_of(technician), units=technician.units)
    form.is_valid()
    assert not form.cleaned_data["balance"].is_change
    assert form.target().centres["balance_cm"] == pytest.approx(68.58 / 2 + 0.3175)


def test_a_ceiling_takes_no_change(client, racket):
    page = propose(client, racket, typed(client, racket, "power", ceiling_0="+5", ceiling_1="g"))
    assert page.context["form"].errors["ceiling"].as_data()[0].code == "no_change"
