"""The board's actions, history, conflicts, numbers and sheet, as the page asks for them."""

import io

import pytest
from pypdf import PdfReader

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.frame.clock import clock_text
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.services import fit_accessories
from kentrobar.web.kit.numbers import Units
from kentrobar.web.materials.models import Accessory, Material
from kentrobar.web.measuring.services import Taking, as_readings, record
from kentrobar.web.planning.board import views
from kentrobar.web.planning.board.actions import ACTIONS
from kentrobar.web.planning.models import Plan, PlanRevision
from kentrobar.web.planning.services import create_plan
from kentrobar.web.planning.stored import plan_state
from kentrobar.web.shops.models import User
from kentrobar.web.welcome.demo import PLANS
from tests.addresses import at
from tests.web.conftest import words


def test_laying_at_a_site_is_saved_and_answered(hand, plan):
    response = hand.lay()
    assert response.status_code == 200
    assert hand.pieces[0]["piece"]["at"] == {"minutes": 180.0}
    assert "+2.0" in response.json()["html"]["specs"]
    assert PlanRevision.objects.get(plan=plan, number=2).summary.startswith("placed Lead tape")


@pytest.mark.parametrize(
    ("material", "amount", "place", "kind"),
    [
        ("Lead tape, half inch", "4 in", {"x": "12", "y": "52"}, "rim"),
        ("Lead tape, half inch", "4 cm", {"x": "0.5", "y": "12"}, "sleeve"),
        ("Lead tape, quarter inch", "6 cm", {"x": "4", "y": "28"}, "point"),
        ("Tungsten putty", "3 g", {"x": "0", "y": "5"}, "plug"),
        ("Removable putty", "0,1 oz", {"x": "12.5", "y": "50"}, "point"),
        ("Grip sleeve", "16 g", {"site": "handle_middle"}, "sleeve"),
    ],
)
def test_every_material_finds_its_shape(hand, material, amount, place, kind):
    assert hand.lay(material, amount, **place).status_code == 200
    assert hand.pieces[0]["piece"]["kind"] == kind


@pytest.mark.parametrize(
    ("material", "amount", "place", "sentence"),
    [
        ("Lead tape, quarter inch", "abc", {"site": "twelve"}, "not a number"),
        ("Lead tape, quarter inch", "-4", {"site": "twelve"}, "above 0"),
        ("Lead tape, quarter inch", "200 cm", {"site": "twelve"}, "longer than the rim"),
        ("Lead tape, quarter inch", "30 cm", {"site": "handle_middle"}, "longer than the handle"),
        ("Tungsten putty", "900 g", {"site": "cavity"}, "at most 200 g"),
        ("Grip sleeve", "16 g", {"site": "twelve"}, "goes round the handle"),
        ("Tungsten putty", "3 g", {"x": "0", "y": "50"}, "Nothing can be placed there. Click the rim"),
        ("Tungsten putty", "3 g", {"x": "nan", "y": "50"}, "out of date"),
        ("Tungsten putty", "3 g", {"site": "moon"}, "This frame has no such position. Choose one"),
        ("Tungsten putty", "9" * 10_000, {"site": "cavity"}, "10000 characters"),
    ],
)
def test_what_cannot_be_laid_says_why_and_saves_nothing(hand, plan, material, amount, place, sentence):
    response = hand.lay(material, amount, **place)
    assert response.status_code == 422
    assert sentence in response.json()["message"]
    assert hand.pieces == []
    assert plan.version == 1


@pytest.mark.parametrize(
    ("material", "amount", "place", "grams"),
    [
        ("Lead tape, quarter inch", "4 × 10 cm", {"site": "handle_top"}, 4.0),
        ("Lead tape, quarter inch", "4 x 10 cm", {"site": "three_nine", "mirrored": "1"}, 4.0),
        ("Lead tape, quarter inch", "2 strips of 4 in", {"site": "throat", "mirrored": "1"}, 2.032),
        ("Lead tape, half inch", "2 strips", {"site": "handle_middle", "layers": "1"}, 2 * 8 * 2.54 * 0.2),
        ("Clip-on module", "2 pieces", {"site": "ten_two", "mirrored": "1"}, 6.0),
        ("Tungsten putty", "2 × 3 g", {"site": "butt_cap"}, 6.0),
    ],
)
def test_what_is_counted_is_all_there(hand, plan, material, amount, place, grams):
    answer = hand.do("add", material=hand.material[material], amount=amount, **place)
    if amount == "2 strips":  # eight inches are longer than the handle
        assert (answer.status_code, answer.json()["field"]) == (422, "amount")
        return
    assert answer.status_code == 200
    plan.refresh_from_db()
    assert plan_state(plan).pieces[0].total_mass_g == pytest.approx(grams, abs=2e-3)


def test_a_count_beside_a_share_and_pieces_of_putty_are_asked_about(hand):
    tape, putty = hand.material["Lead tape, quarter inch"], hand.material["Tungsten putty"]
    for material, amount in (
        (tape, "4 × 2 g in all"),
        (putty, "2 pieces"),
        (tape, "3 × 2 cm"),
        (tape, "0 × 2 cm"),
        (tape, "0 strips"),
    ):
        answer = hand.do("add", material=material, amount=amount, site="three_nine", mirrored="1")
        assert (answer.status_code, answer.json()["field"]) == (422, "amount")


def test_what_lies_on_the_centre_line_is_told_to_have_one_place(hand, plan):
    hand.lay(site="twelve", mirrored="1")
    plan.refresh_from_db()
    assert PlanRevision.objects.filter(plan=plan).latest("pk").summary.endswith("at 12 (one place)")


@pytest.mark.parametrize(
    ("field", "value", "expected"),
    [
        ("place", "2:30", {"at": {"minutes": 150.0}}),
        ("length", "120 mm", {"length_cm": {"value": 12.0, "u": 0.1}}),
        ("length", "5,5", {"length_cm": {"value": 5.5, "u": 0.1}}),
        ("mass", "0.8 g", {"length_cm": {"value": 8.0, "u": 0.1}}),
        ("density", "0.254 g/in", {"g_per_cm": {"value": 0.1, "u": 0.002}}),
        ("face", "bumper", {"face": "bumper"}),
        ("mirrored", "0", {"mirrored": False}),
        ("both_faces", "1", {"both_faces": True}),
        ("removed", "1", {"removed": True}),
    ],
)
def test_the_table_changes_every_field(hand, field, value, expected):
    hand.lay()
    assert hand.edit(field, value).status_code == 200
    piece = hand.pieces[0]["piece"]
    for name, value in expected.items():
        assert piece[name] == (pytest.approx(value) if name.endswith("_cm") else value)


def test_place_by_distance_keeps_the_side(hand):
    hand.lay(x="-12", y="50", mirrored="")
    assert hand.edit("place", "56 cm").status_code == 200
    clock = clock_text(hand.pieces[0]["piece"]["at"]["minutes"], 4)
    assert int(clock.split(":")[0]) >= 9


@pytest.mark.parametrize(
    ("field", "value", "sentence"),
    [
        ("length", "abc", "not a number"),
        ("length", "-2", "above 0"),
        ("length", "500", "longer than the rim"),
        ("place", "25:00", "clock position"),
        ("place", "20 cm", "not on this rim"),
        ("mass", "0", "more than 0"),
        ("density", "0", "above 0"),
        ("face", "top", "Choose a face"),
    ],
)
def test_the_table_refuses_at_its_field(hand, field, value, sentence):
    hand.lay()
    before = hand.pieces
    response = hand.edit(field, value)
    assert response.status_code == 422
    assert sentence in response.json()["message"]
    assert response.json()["field"] == field
    assert hand.pieces == before


def test_preview_shows_without_saving(hand, plan):
    hand.lay()
    shown = hand.preview("drag", piece=1, x="9", y="63").json()
    assert shown["numbers"]["place-1"].startswith("1:")
    assert shown["paths"]["1"][0].startswith("M")
    assert hand.pieces[0]["piece"]["at"] == {"minutes": 180.0}
    plan.refresh_from_db()
    assert plan.version == 2


def test_preview_says_what_saving_then_says(hand, client, plan):
    hand.lay()
    previewed = hand.preview("nudge", piece=1, toward="tip", by_cm="1.3").json()["numbers"]
    saved = hand.do("nudge", piece=1, toward="tip", by_cm="1.3").json()
    for key in ("swingweight_kgcm2-after", "balance_cm-change", "twistweight_kgcm2-after-u"):
        assert f'data-n="{key}">{previewed[key]}<' in saved["html"]["specs"]


def test_undo_and_redo_walk_through_the_states(hand):
    states = [hand.pieces]
    for amount in ("4 cm", "5 cm", "6 cm"):
        hand.lay(amount=amount)
        states.append(hand.pieces)
    for expected in reversed(states[:-1]):
        answer = hand.do("undo").json()
        assert hand.pieces == expected
    assert not answer["undo"]
    hand.do("undo")
    for expected in states[1:]:
        hand.do("redo")
        assert hand.pieces == expected
    hand.do("undo")
    hand.lay(amount="9 cm")
    assert not hand.do("redo").json()["redo"], "a new change ends what could be redone"
    hand.do("undo")
    assert hand.pieces == states[2]


def test_a_page_that_fell_behind_is_told_and_overwrites_nothing(hand, client, plan, technician):
    hand.lay()
    behind = hand.do("mirror", base=1, piece=1)
    assert behind.status_code == 409
    assert behind.json()["theirs"] == "technician placed Lead tape, quarter inch at 3 and 9"
    assert hand.pieces[0]["piece"]["mirrored"] is True
    for base in ("", "abc", "99"):
        assert hand.do("undo", base=base).status_code == 409
    copy = client.post(at("planning:copy", plan.pk), {"revision": "1"}).json()
    assert Plan.objects.get(pk=int(copy["url"].split("/")[2])).pieces == []
    assert client.get(f"{at('planning:parts', plan.pk)}?version=1").json()["version"] == 2
    assert "html" not in client.get(f"{at('planning:parts', plan.pk)}?version=2").json()


@pytest.mark.parametrize("action", ["add", "undo"])
def test_a_change_sent_twice_is_taken_once(hand, plan, action):
    """The answer to the first sending was lost on the way."""
    hand.lay(site="twelve")
    sent = {"base": hand.version, "mark": "1-2-3", "material": hand.material["Tungsten putty"]}
    sent |= {"amount": "2 g", "site": "cavity"}
    first, second = hand.do(action, **sent), hand.do(action, **sent)
    assert first.json()["version"] == second.json()["version"]
    assert len(hand.pieces) == (2 if action == "add" else 0)


def test_a_change_sent_twice_at_once_is_taken_once(hand, monkeypatch):
    """As when the page is reloaded while it saves: the second waits for the first, and is no conflict."""
    hand.lay(site="twelve")
    base, make = hand.version, views._change
    sent = {"base": base, "mark": "1-2-3", "material": hand.material["Tungsten putty"], "amount": "2 g"}

    def make_twice(request, plan, mark):
        make(request, Plan.objects.get(pk=plan.pk), mark)
        make(request, plan, mark)

    monkeypatch.setattr(views, "_change", make_twice)
    answer = hand.do("add", **sent, site="cavity")
    assert (answer.status_code, answer.json()["version"], len(hand.pieces)) == (200, base + 1, 2)


def test_removed_pieces_stay_removed(hand):
    hand.lay()
    hand.lay(site="twelve")
    hand.do("delete", piece=1)
    response = hand.do("nudge", piece=1, toward="tip", by_cm="0.1")
    assert "no longer on this plan" in response.json()["message"]
    assert [item["id"] for item in hand.pieces] == [2]


@pytest.mark.parametrize("action", [*ACTIONS, "explode", ""])
def test_no_action_breaks_on_missing_parameters(hand, action):
    assert hand.do(action).status_code == 422


def test_axis_and_name_are_typed_and_undone(hand, plan):
    assert hand.do("axis", value="4 in").status_code == 200
    plan.refresh_from_db()
    assert plan.axis_cm == pytest.approx(10.16)
    assert hand.do("axis", value="90 cm").status_code == 422
    assert hand.do("rename", value="x" * 81).status_code == 422
    hand.do("rename", value="Second")
    hand.do("undo")
    hand.do("undo")
    plan.refresh_from_db()
    assert (plan.name, plan.axis_cm) == ("First", 10.0)


def test_shelf_weight_is_offered_not_forced(hand, client, plan):
    hand.lay()
    tape = Material.objects.get(pk=hand.material["Lead tape, quarter inch"])
    address = at("materials:weigh_cuts", tape.pk)
    assert client.post(address, {"cuts": "20 cm 2.10 g"}).status_code == 302
    assert "use the stock’s 0.105" in words(client.get(at("planning:board", plan.pk)))
    assert hand.pieces[0]["piece"]["g_per_cm"]["value"] == 0.1
    hand.do("use_density", material=tape.pk)
    assert hand.pieces[0]["piece"]["g_per_cm"]["value"] == 0.105
    refused = client.post(address, {"cuts": "20 cm heavy"})
    assert refused.status_code == 422
    assert "20 cm heavy</textarea>" in refused.content.decode()


def test_board_speaks_ounces_inches_and_points(hand, client, technician, plan):
    hand.lay()
    technician.mass_unit, technician.length_unit, technician.balance_unit = "oz", "in", "pt"
    technician.save()
    page = client.get(at("planning:board", plan.pk)).content.decode()
    rows = {c.row.key: c.row for c in client.get(at("planning:board", plan.pk)).context["cards"]}
    assert (rows["mass_g"].cell.before.value, rows["mass_g"].unit) == ("10.89", "oz")
    assert rows["points_headlight"].cell.before.value == "7.8"
    assert 'value="10 cm"' in page  # the axis, in the unit in which it is a round number
    assert "g/in" in page
    assert hand.edit("length", "4").status_code == 200
    assert hand.pieces[0]["piece"]["length_cm"]["value"] == pytest.approx(10.16)


def lay_on_paddle(client, technician, paddle, **options):
    plan = create_plan(paddle, technician, name="Paddle")
    tape = Material.objects.get(shop=technician.shop, name="Tungsten tape")
    order = {"action": "add", "base": 1, "material": tape.pk, "amount": "5 cm", "site": "sides"}
    return client.post(at("planning:change", plan.pk), order | options)


def test_unknown_swing_weight_shows_the_change(client, technician, paddle):
    html = lay_on_paddle(client, technician, paddle, mirrored="1").json()["html"]["specs"]
    assert "The change needs no reading. Measure swing weight to see before and after." in html
    assert "unknown" in html


def test_bench_sheet_has_pieces_places_specs_and_cautions(client, hand, plan):
    hand.lay()
    hand.lay("Tungsten putty", "3 g", site="butt_cap")
    response = client.get(f"{at('planning:sheet', plan.pk)}?paper=letter")
    assert response["Content-Type"] == "application/pdf"
    reader = PdfReader(io.BytesIO(response.content))
    text = " ".join(" ".join(page.extract_text() for page in reader.pages).split())
    box = reader.pages[0].mediabox
    assert (round(box.width), round(box.height)) == (612, 792)
    for expected in ("Lead tape, quarter inch", "100 mm", "565 to 465", "313.6", "gloves", "First"):
        assert expected in text, expected


def test_paddle_has_no_bumper(client, technician, paddle):
    response = lay_on_paddle(client, technician, paddle, face="bumper")
    assert "no bumper" in response.json()["message"]


def test_duplicate_and_list(client, hand, plan):
    hand.lay()
    assert client.post(at("planning:duplicate", plan.pk)).status_code == 302
    page = client.get(at("planning:list")).content.decode()
    assert "First (copy)" in page
    assert "+2.0 g" in page


def test_pages_need_few_queries(client, hand, plan, django_assert_max_num_queries):
    for _ in range(5):
        hand.lay(amount="2 cm")
    with django_assert_max_num_queries(10):
        client.get(at("planning:board", plan.pk))
    hand.preview("drag", piece=1, x="9", y="63")
    with django_assert_max_num_queries(3):  # the frame is in memory from the first on
        hand.preview("drag", piece=1, x="9", y="62")
    with django_assert_max_num_queries(8):
        client.get(at("planning:list"))
    with django_assert_max_num_queries(8):
        client.get(at("frames:list"))
    with django_assert_max_num_queries(11):
        client.get(at("frames:detail", plan.frame_id))


def test_demo_is_reasonable(demo):
    """Every plan of the demo lies on its frame, warns of nothing and stays within small steps."""
    plans = list(Plan.objects.all())
    assert len(plans) == len(PLANS) >= 6
    assert len({plan.frame.sport for plan in plans}) == 2
    for plan in plans:
        prediction = plan_state(plan).prediction
        assert prediction.warnings == ()
        assert 0 < prediction.change.mass_g.value <= 20


def test_units_never_show_a_negative_zero():
    assert Units().mass_text(-0.04) == "0.0"
    assert Units("oz").mass_text(-28.35, signed=True) == "−1.00"


# -- what must not change ---------------------------------------------------------------------------


def test_a_ceiling_is_told_while_one_plans_in_the_setup_that_was_read(client, racket, plan, hand):
    """Ready to play it is heavier by what the reading left off, so the ceiling there is lower."""
    fit_accessories(racket, Accessory.objects.filter(shop=racket.shop_id, kind="overgrip"))
    measured = MeasuredSpecs(Estimate(303.0, 0.1), Estimate(31.8, 0.05), Estimate(287, 1.0), 10.0)
    record(racket, Taking(measured, "strung", as_readings(measured)), None)
    Frame.objects.filter(pk=racket.pk).update(ceiling_g=310.0)
    racket.refresh_from_db()
    strung = create_plan(racket, User.objects.get(), name="Strung")
    address = at("planning:change", strung.pk)
    order = {"action": "add", "material": hand.material["Tungsten putty"], "site": "butt_cap"}
    first = client.post(address, order | {"amount": "1.4 g", "base": 1}).json()
    assert "ceiling of" not in first["html"]["specs"]  # 304.4 g and an overgrip of 5.5 g
    second = client.post(address, order | {"amount": "1 g", "base": first["version"]}).json()
    assert "0.9 g above this frame’s ceiling of 304.5 g" in " ".join(second["html"]["specs"].split())
    tried = client.post(at("planning:preview", strung.pk), order | {"amount": "1 g"}).json()
    assert "1.9 g above" in tried["text"]
    assert "above this frame’s ceiling" in words(client.get(at("planning:board", strung.pk)))
    target = client.get(at("planning:target", racket.pk)).context["form"]
    assert target.initial["ceiling"][0] == "304.50"


def test_the_size_of_the_grip_is_told_from_what_it_was(client, racket, plan, hand):
    Frame.objects.filter(pk=racket.pk).update(grip_mm=111.1)
    hand.do("add", material=hand.material["Overgrip"], amount="5.5 g", site="handle_middle")
    page = words(client.get(at("planning:board", plan.pk)))
    assert "4 3/8 in becomes about 4 1/2 in" in page


def test_strips_move_to_the_corner_bevels_and_back(client, plan, hand):
    hand.lay(amount="4 × 10 cm", site="handle_top")
    assert "flat bevels" in words(client.get(at("planning:board", plan.pk)))
    assert hand.edit("on_corners", "1").status_code == 200
    assert "corner bevels" in words(client.get(at("planning:board", plan.pk)))
    assert hand.pieces[0]["piece"]["on_corners"] is True
