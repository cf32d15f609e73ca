"""Laying what a shop has: refusals with a way out, parts of a strip, groups of sites, the shelf."""

import pytest

from kentrobar.core.frame.clock import clock_text
from kentrobar.core.weight.materials import STARTING_SHELF
from kentrobar.web.materials.models import Material, StockChange
from kentrobar.web.planning.stored import plan_state
from tests.addresses import at
from tests.web.conftest import new_person, words
from tests.web.typing_in import form_of


@pytest.fixture
def foam(racket):
    racket.handle_build, racket.is_used, racket.blocked = "foam", True, "3:00"
    racket.save()
    return racket


def test_a_refused_piece_offers_its_fixes(hand, foam):
    asked = {"material": "Silicone", "amount": "4 g", "site": "cavity"}
    refused = hand.lay(**asked)
    assert refused.status_code == 422
    assert refused.json()["fixes"] == ["Put it inside the butt cap"]
    assert hand.pieces == []
    assert hand.lay(**asked, fix="0").status_code == 200
    assert hand.pieces[0]["piece"]["to_cm"] < 2.4
    assert hand.lay(**asked, overrule="foam_handle").status_code == 200
    assert hand.pieces[1]["overruled"] == ["foam_handle"]
    assert hand.lay(**asked, fix="7").status_code == 422


def test_an_objection_is_fixed_set_aside_and_heeded_again(hand, foam, client, plan):
    hand.lay(site="three_nine", overrule="blocked", amount="6 cm", mirrored="1")
    shown = client.get(at("planning:board", plan.pk)).context["plan_warnings"]
    assert [(o.code, o.is_overruled) for o in shown] == [("blocked", True)]
    hand.do("overrule", piece=1, code="blocked", value="0")
    page = client.get(at("planning:board", plan.pk)).content.decode()
    assert "It covers 3:00" in page
    assert hand.do("fix", piece=1, code="blocked", fix="0").status_code == 200
    assert [piece["id"] for piece in hand.pieces] == [1, 2]
    assert client.get(at("planning:board", plan.pk)).context["plan_warnings"] == []
    assert hand.do("fix", piece=1, code="blocked", fix="0").status_code == 422
    hand.edit("face", "bumper")
    codes = {o.code for o in client.get(at("planning:board", plan.pk)).context["plan_warnings"]}
    assert codes == {"worn_bumper"}


@pytest.mark.parametrize(
    ("amount", "length_cm"),
    [("8 in / 4", 5.08), ("8in/4", 5.08), ("strip / 4", 5.08), ("12 cm", 12.0), ("1/2 in", 1.27)],
)
def test_a_sold_strip_is_divided_as_it_is_typed(hand, amount, length_cm):
    assert hand.lay("Lead tape, half inch", amount).status_code == 200
    assert hand.pieces[0]["piece"]["length_cm"]["value"] == pytest.approx(length_cm)


def test_a_strip_as_sold_needs_its_length(hand, technician):
    Material.objects.filter(name="Copper tape").update(sold_amount=None)
    refused = hand.lay("Copper tape", "strip/2")
    assert (refused.status_code, refused.json()["field"]) == (422, "amount")


def test_layers_faces_and_division(hand, plan):
    assert hand.lay(site="three_nine", both_faces="1", layers="2").status_code == 200
    assert hand.edit("layers", "9").status_code == 422
    assert hand.edit("layers", "3").status_code == 200
    mass = 2 * 2 * 3 * 1.0
    shown = hand.do("axis", value="10 cm").json()["html"]["specs"]
    assert f"+{mass:.1f}" in shown
    assert hand.do("divide", piece=1, amount="4").status_code == 200
    assert [p["piece"]["length_cm"]["value"] for p in hand.pieces] == [2.5] * 4
    assert hand.do("divide", piece=1, amount="0").status_code == 422


@pytest.mark.parametrize(
    ("material", "site", "kinds"),
    [
        ("Lead tape, half inch", "all_corners", ["rim", "rim"]),
        ("Lead tape, half inch", "full_edge", ["rim"]),
        ("Protective edge tape", "full_edge", ["rim"]),
        ("Clip-on module", "balance_point", ["point"]),
        ("Cotton plug", "butt_cap", ["point"]),
        ("Heavier butt cap, what it adds", "sides", ["plug"]),
        ("Overgrip", "handle_middle", ["sleeve"]),
    ],
)
def test_every_material_and_group_of_sites_of_a_paddle(hand, paddle, plan, material, site, kinds):
    type(plan).objects.filter(pk=plan.pk).update(frame=paddle)
    amount = "5 cm" if "tape" in material else "3 g"
    assert hand.lay(material, amount, site=site, face="outer").status_code == 200
    assert [piece["piece"]["kind"] for piece in hand.pieces] == kinds


@pytest.mark.parametrize(
    ("typed", "clock"), [("2:30", "2:30"), ("10:15", "10:15"), ("52 cm", "2:55"), ("20.5 in", "2:54")]
)
def test_any_clock_position_or_height_can_be_typed(hand, typed, clock):
    assert hand.lay(at=typed, mirrored="").status_code == 200
    assert clock_text(hand.pieces[0]["piece"]["at"]["minutes"], 4)[:4].rstrip(".") == clock[:4]


@pytest.mark.parametrize("typed", ["25:00", "moon", "90 cm"])
def test_a_place_that_is_none_is_refused(hand, typed):
    assert hand.lay(at=typed).status_code == 422


def test_only_tape_goes_round_an_edge(hand, paddle, plan):
    type(plan).objects.filter(pk=plan.pk).update(frame=paddle)
    assert hand.lay("Silicone", "3 g", site="full_edge", face="outer").status_code == 422


def test_the_shelf_shows_what_matters(client, technician):
    page = client.get(at("materials:shelf")).content.decode()
    for material in STARTING_SHELF:
        assert material.name in page
    assert "for trials only" in page
    assert "stays for good" in page


def test_a_new_material_and_its_figures(client, technician):
    assert client.get(f"{at('materials:add')}?kind=nonsense").status_code == 302
    typed = {
        "name": "Tungsten tape, thin",
        "weight_0": "0.3",
        "weight_1": "oz/in",
        "hardness": "bends",
        "undo": "clean",
        "sold_0": "1",
        "sold_1": "m",
        "price": "4.50",
        "width_0": "1/4",
        "width_1": "in",
    }
    assert client.post(f"{at('materials:add')}?kind=tungsten_tape", typed).status_code == 302
    made = Material.objects.get(name="Tungsten tape, thin")
    assert made.g_per_cm == pytest.approx(0.3 * 28.349523 / 2.54)
    assert (made.sold_amount, made.width_mm) == (100.0, pytest.approx(6.35))
    assert made.stock.unit_price == pytest.approx(0.045)
    again = client.post(f"{at('materials:add')}?kind=tungsten_tape", typed)
    assert again.status_code == 422
    assert "taken" in again.content.decode()
    changed = typed | {"weight_0": "0.3", "note": "Mind the corners."}
    assert client.post(at("materials:material", made.pk), changed).status_code == 302
    made.refresh_from_db()
    assert made.caution == "Mind the corners."


@pytest.mark.parametrize(
    ("rule", "sold", "g_per_cm"),
    [("4 strips weigh half an ounce", "8", 0.5 * 28.349523 / (32 * 2.54)), ("2 in a gram", "", 1 / 5.08)],
)
def test_a_tape_is_told_before_it_is_weighed(client, rule, sold, g_per_cm):
    typed = {
        "name": "Pier tape",
        "rule": rule,
        "hardness": "soft",
        "undo": "clean",
        "sold_0": sold,
        "sold_1": "in",
    }
    address = f"{at('materials:add')}?kind=lead_tape"
    assert client.post(address, typed).status_code == 302
    made = Material.objects.get(name="Pier tape")
    assert made.density == (pytest.approx(g_per_cm, rel=1e-3), pytest.approx(g_per_cm / 10, rel=1e-3))
    page = client.get(at("materials:material", made.pk)).context["form"]
    kept = {"weight_0": f"{made.g_per_cm:.4g}", "weight_1": "g/cm", "weight_2": page.initial["weight"][2]}
    assert client.post(at("materials:material", made.pk), typed | kept | {"rule": ""}).status_code == 302
    made.refresh_from_db()
    assert made.g_per_cm_u == pytest.approx(g_per_cm / 10, rel=0.02)  # saved again without a change


def test_a_tape_told_twice_or_not_at_all_is_asked_about(client):
    typed = {"name": "Pier tape", "hardness": "soft", "undo": "clean"}
    address = f"{at('materials:add')}?kind=lead_tape"
    for more, field in (
        ({}, "weight"),
        ({"rule": "heavy"}, "rule"),
        ({"rule": "4 strips 0.5 oz"}, "sold"),
        ({"rule": "1 in 90 g"}, "rule"),
        ({"rule": "2 in a gram", "weight_0": "0.1", "weight_1": "g/cm"}, "rule"),
    ):
        answer = client.post(address, typed | more)
        assert (answer.status_code, [*answer.context["form"].errors]) == (422, [field])
    assert not Material.objects.filter(name="Pier tape").exists()


def test_a_roll_keeps_what_is_left(client, technician):
    tape = technician.shop.materials.get(name="Copper tape")

    def note(why, amount, unit="cm"):
        typed = {"why": why, "amount_0": amount, "amount_1": unit, "note": "Reed 100"}
        return client.post(at("materials:change_stock", tape.pk), typed)

    assert note("counted", "2", "m").status_code == 302
    assert note("cut", "32").status_code == 302
    refused = note("cut", "300")
    assert refused.status_code == 422
    assert "Only 168.0 cm" in refused.content.decode()
    assert 'value="300"' in refused.content.decode()
    assert note("cut", "-3").status_code == 422
    assert note("bought", "5", "m").status_code == 302
    tape.refresh_from_db()
    assert tape.left_amount == 668
    assert list(StockChange.objects.values_list("left_after", flat=True)) == [668, 168, 200]


def test_the_shelf_speaks_inches_and_ounces(client, technician):
    """Tape by the gram per inch, as packages tell it; a cut typed without units is in inches and ounces."""
    technician.mass_unit, technician.length_unit = "oz", "in"
    technician.save()
    tape = technician.shop.materials.get(name="Lead tape, half inch")
    shelf = client.get(at("materials:shelf")).content.decode()
    assert "0.508 ±0.01 g/in" in shelf
    assert "8 in" in shelf
    assert "1 piece<" in shelf
    client.post(at("materials:weigh_cuts", tape.pk), {"cuts": "8 0.15"})
    tape.refresh_from_db()
    assert tape.g_per_cm == pytest.approx(0.15 * 28.3495 / 20.32)
    page = client.post(
        at("materials:change_stock", tape.pk),
        {"why": "counted", "amount_0": "40", "amount_1": "in"},
        follow=True,
    )
    assert "40 in of Lead tape" in page.content.decode()


def test_weighing_an_overgrip_serves_both_shelves(client, technician):
    grip = technician.shop.accessories.get(kind="overgrip")
    client.post(at("materials:weigh", grip.pk), {f"a{grip.pk}-weighings": "5.2 5.4 g"})
    assert technician.shop.materials.get(name="Overgrip").each_g == pytest.approx(5.3)


def test_anothers_shelf_is_out_of_reach(client, technician):
    theirs = new_person("stranger").shop.materials.first()
    for address in ("", "cuts", "stock"):
        assert client.post(f"/materials/{theirs.pk}/{address}").status_code == 404


def test_what_is_archived_is_offered_no_more_and_forgotten_by_nothing(client, hand, plan, technician):
    """A roll and a kind of grip: gone from every list to choose from, known to the plan, and back again."""
    hand.lay()
    before = words(client.get(at("planning:board", plan.pk)))
    tape = technician.shop.materials.get(name="Lead tape, quarter inch")
    assert f'name="material" value="{tape.pk}" data-form' in before
    assert client.post(at("materials:archive", tape.pk)).status_code == 302
    assert "Lead tape, quarter inch" not in words(client.get(at("materials:shelf"))).partition("</thead>")[2]
    assert "Lead tape, quarter inch" in words(client.get(f"{at('materials:shelf')}?archived"))
    after = words(client.get(at("planning:board", plan.pk)))
    assert f'name="material" value="{tape.pk}" data-form' not in after
    assert "Lead tape, quarter inch" in after
    assert "Lead: wear gloves" in after
    aim = client.get(at("planning:target", plan.frame_id)).context["form"]
    assert str(tape.pk) not in dict(aim.fields["tape"].choices)
    overgrip = technician.shop.accessories.get(kind="overgrip")
    client.post(at("materials:archive_fitting", overgrip.pk))
    assert "Archived" in words(client.get(at("materials:fittings")))
    client.post(at("materials:archive", tape.pk), {"archived": "0"})
    assert f'name="material" value="{tape.pk}" data-form' in words(client.get(at("planning:board", plan.pk)))


def test_weighings_and_thickness_are_taken_in_the_units_of_the_person(client, technician):
    technician.mass_unit = "oz"
    technician.save()
    overgrip = technician.shop.accessories.get(kind="overgrip")
    page = words(client.get(at("materials:fittings")))
    assert "0.194 oz" in page
    prefix = f"a{overgrip.pk}"
    sent = {f"{prefix}-weighings": "0.18 0.2", f"{prefix}-thickness": "0.03 in"}
    client.post(at("materials:weigh", overgrip.pk), sent)
    overgrip.refresh_from_db()
    assert overgrip.mass_g == pytest.approx(0.19 * 28.3495, rel=1e-3)
    assert overgrip.thickness_mm == pytest.approx(0.762)
    wrong = client.post(at("materials:weigh", overgrip.pk), {f"{prefix}-thickness": "5 cm"})
    assert wrong.status_code == 422
    assert "0.05 mm to 10 mm" in words(wrong)


def test_a_thickness_without_a_unit_is_read_in_the_persons_own(client, technician):
    technician.length_unit = "in"
    technician.save()
    overgrip = technician.shop.accessories.get(kind="overgrip")
    address, field = at("materials:weigh", overgrip.pk), f"a{overgrip.pk}-thickness"
    client.post(address, {field: "0.03"})
    overgrip.refresh_from_db()
    assert overgrip.thickness_mm == pytest.approx(0.762)
    assert 'value="0.030 in"' in words(client.get(at("materials:fittings")))
    assert "0.002 in to 0.394 in" in words(client.post(address, {field: "5"}))


@pytest.mark.parametrize(
    ("amount", "more", "total_oz"),
    [
        ("0.15 oz a side", {}, 0.3),
        ("0.15 oz a side", {"layers": "2"}, 0.3),
        ("0.3 oz in all", {}, 0.3),
        ("0.05 oz", {}, 0.1),
        ("0.1 oz each side", {"mirrored": "0"}, 0.1),
        ("4 in", {}, None),
    ],
)
def test_a_strip_can_be_told_by_its_weight(hand, technician, plan, amount, more, total_oz):
    """By that of a side or of all of it; its length follows from the weight per length."""
    technician.mass_unit, technician.length_unit = "oz", "in"
    technician.save()
    assert hand.lay(amount=amount, site="three_nine", **({"mirrored": "1"} | more)).status_code == 200
    plan.refresh_from_db()
    (piece,) = plan_state(plan).pieces
    if total_oz is None:
        assert piece.length_cm.value == pytest.approx(4 * 2.54)
    else:
        assert piece.total_mass_g == pytest.approx(total_oz * 28.3495, rel=2e-3)
        assert piece.length_cm.value == pytest.approx(piece.one_mass_g / 0.1)
    assert hand.edit("mass", "0.1 oz a side").status_code == 200
    plan.refresh_from_db()
    piece = plan_state(plan).pieces[0]
    assert piece.total_mass_g == pytest.approx(piece.sides * 0.1 * 28.3495, rel=2e-3)


def test_a_weight_in_all_is_shared_by_what_is_there(hand, plan):
    """One body where a place has no other side, though both sides are ticked; all corners together."""
    hand.lay("Removable putty", "4 g in all", site="butt_cap", mirrored="1")
    assert hand.pieces[0]["piece"]["mass_g"]["value"] == pytest.approx(4.0)
    hand.lay("Tungsten putty", "4 g in all", site="throat", mirrored="1")
    assert hand.pieces[1]["piece"]["mass_g"]["value"] == pytest.approx(2.0)


def test_a_tape_heavier_than_any_is_questioned_at_its_field(client, technician):
    tape = Material.objects.filter(shop=technician.shop_id, kind="lead_tape").first()
    sent = form_of(client.get(at("materials:material", tape.pk)), "weight_0")
    page = client.post(at("materials:material", tape.pk), sent | {"weight_0": "19", "weight_1": "g/cm"})
    assert "is too much. The most is" in page.context["form"].errors["weight"][0]
