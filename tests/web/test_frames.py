"""Taking frames in: typed in any unit, refused at the field, never overwritten, never seen by others."""

import json

import pytest
from django.test import Client

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.frame.outline import RacketDimensions
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.errors import SpecError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.web.frames.builds import fitted_at, fittings_in
from kentrobar.web.frames.models import Frame, FrameFitting, SpecSheet
from kentrobar.web.frames.reference_strips import among, strips_of
from kentrobar.web.frames.services import fit_accessories, restring
from kentrobar.web.history.expecting import expected_of
from kentrobar.web.kit.numbers import Units
from kentrobar.web.materials.models import Accessory
from kentrobar.web.measuring.services import Taking, as_readings, record
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.services import create_plan
from tests.addresses import at
from tests.web.conftest import new_frame, new_person, words

RACKET = {
    "label": "Sedge 98",
    "player": "Tobias",
    "mark": "",
    "notes": "",
    "build": "playing",
    "length_0": "27",
    "length_1": "in",
    "head_size_0": "98",
    "head_size_1": "in²",
    "head_length_0": "",
    "head_length_1": "cm",
    "head_width_0": "",
    "head_width_1": "cm",
    "beam_0": "22",
    "beam_1": "mm",
    "handle_length_0": "18",
    "handle_length_1": "cm",
    "mass_1": "10 7/8 oz",
    "mass_unit": "g",
    "mass_spread": "",
    "balance_1": "6,5 HL",
    "balance_unit": "mm",
    "balance_spread": "",
    "swingweight_1": "",
    "swingweight_unit": "kg·cm²",
    "swingweight_spread": "",
    "axis": "4",
    "axis_unit": "in",
    "twistweight_1": "",
    "twistweight_unit": "kg·cm²",
    "twistweight_spread": "",
}
SPECS = {"mass_1": "308.6", "balance_1": "31.8 cm", "swingweight_1": "287"}


def errors_of(response):
    form = response.context["form"]
    at_fields = {field: list(map(str, errors)) for field, errors in form.errors.items()}
    rows = form.boxes.rows if hasattr(form, "boxes") else []
    return at_fields | {row.name: row.errors for row in rows if row.errors}


def test_specs_are_typed_in_any_unit(client):
    response = client.post(at("taking_in:create", "tennis"), RACKET)
    assert response.status_code == 302
    frame = Frame.objects.get()
    assert frame.length_cm == pytest.approx(68.58)
    assert frame.outline.head_area_cm2 == pytest.approx(98 * 6.4516, rel=0.002)
    assert frame.specs.mass_g == pytest.approx(308.301, abs=1e-3)
    assert frame.specs.balance_cm == pytest.approx(68.58 / 2 - 6.5 * 0.3175)
    assert frame.specs.axis_cm == pytest.approx(10.16)
    assert frame.specs.swingweight_kgcm2 is None
    assert [(r.spec, r.text, r.unit) for r in frame.specs.readings.all()] == [
        ("balance", "6,5 HL", "pt"),
        ("mass", "10 7/8 oz", "oz"),
    ]
    page = words(client.get(at("measuring:readings", frame.pk)))
    assert "10 7/8 oz" in page
    assert "6,5 HL" in page


@pytest.mark.parametrize(
    ("typed", "field", "sentence"),
    [
        ({"mass_1": "abc"}, "mass", "not a number"),
        ({"mass_1": "-3"}, "mass", "above 0"),
        ({"mass_1": "9" * 10_000}, "mass", "10000 characters"),
        ({"balance_1": "72 cm"}, "balance", "beyond the frame"),
        ({"swingweight_1": "1318"}, "swingweight", "above what"),
        ({"swingweight_1": "120"}, "swingweight", "below what"),
        ({"axis": ""}, "swingweight", "A swing weight needs its axis. Enter it"),
        ({"mass_spread": "x"}, "mass", "not a number"),
        ({"length_0": ""}, "length", "Type the length"),
        ({"length_0": "27 stone"}, "length", "not a unit"),
        ({"head_size_0": "", "head_width_0": "26"}, "head_length", "length and its width"),
        (
            {"head_length_0": "34.2", "head_width_0": "26", "head_size_0": "140"},
            "head_size",
            "check head size",
        ),
        ({"label": "x" * 10_000}, "label", "80 characters"),
        ({"notes": "x" * 10_000}, "notes", "2000 characters"),
    ],
)
def test_bad_input_is_refused_at_its_field_and_kept(client, typed, field, sentence):
    response = client.post(at("taking_in:create", "tennis"), RACKET | SPECS | typed)
    assert response.status_code == 422
    assert sentence in errors_of(response)[field][0]
    text = next(iter(typed.values()))
    assert text in response.content.decode() or not text
    assert not Frame.objects.exists()


def test_unusual_specs_are_asked_about_then_kept(client):
    odd = RACKET | SPECS | {"swingweight_1": "360"}
    response = client.post(at("taking_in:create", "tennis"), odd)
    assert response.context["form"].only_asks
    assert "Keep these values and save" in words(response)
    assert client.post(at("taking_in:create", "tennis"), odd | {"keep": "1"}).status_code == 302
    assert Frame.objects.get().specs.swingweight_kgcm2 == 360


def typed_as_shown(client, frame):
    """What the edit page of a frame would send if nothing were touched."""
    typed = {}
    for bound in client.get(at("frames:edit", frame.pk)).context["form"]:
        value = bound.value()
        if isinstance(value, tuple):
            typed |= {f"{bound.name}_{i}": part for i, part in enumerate(value)}
        else:
            typed[bound.name] = value or ([] if isinstance(value, list) else "")
    return typed


def test_a_frame_never_shrinks_under_its_plans(client, technician, paddle):
    """A strip at the edge's end would hang in the air; the plan is named and nothing changes."""
    plan = create_plan(paddle, technician, name="Long edge")
    tape = technician.shop.materials.get(name="Tungsten tape")
    order = {"action": "add", "base": 1, "material": tape.pk, "amount": "83 cm", "site": "top_edge"}
    assert client.post(at("planning:change", plan.pk), order).status_code == 200
    typed = typed_as_shown(client, paddle) | {"width_0": "17"}
    response = client.post(at("frames:edit", paddle.pk), typed)
    assert response.status_code == 422
    assert "“Long edge” would no longer fit" in response.content.decode()
    paddle.refresh_from_db()
    assert paddle.width_cm == 19.0


def test_correcting_a_frame_touches_no_reading(client, racket):
    before = racket.specs
    typed = typed_as_shown(client, racket) | {"label": "Reed 100, red", "mass_1": "309,1"}
    assert client.post(at("frames:edit", racket.pk), typed).status_code == 302
    racket.refresh_from_db()
    assert (racket.label, racket.specs) == ("Reed 100, red", before)
    assert SpecSheet.objects.get().mass_g == 308.6
    with pytest.raises(SpecError, match="never overwritten"):
        before.save()


def test_search_finds_by_label_player_and_mark(client, racket, paddle):
    for asked, found in {"reed ines": 1, "IN-1": 2, "mudlark": 1, "nobody": 0, "": 2}.items():
        page = client.get(at("frames:list"), {"q": asked}, headers={"HX-Request": "true"}).content.decode()
        assert page.count('<a href="/frames/') - page.count("sort=") == found or (
            page.count("Reed 100<") + page.count("Mudlark 16<") == found
        )
    assert "Mudlark" not in client.get(at("frames:list"), {"sport": "tennis"}).content.decode()


def test_other_shops_see_nothing(racket, plan):
    stranger = Client()
    stranger.force_login(new_person("stranger"), backend="django.contrib.auth.backends.ModelBackend")
    for address in (
        at("frames:detail", racket.pk),
        at("frames:edit", racket.pk),
        at("planning:board", plan.pk),
        at("planning:sheet", plan.pk),
        at("planning:export", plan.pk),
        at("planning:parts", plan.pk),
    ):
        assert stranger.get(address).status_code == 404, address
    for address in ("change", "preview", "copy", "duplicate"):
        assert stranger.post(f"/plans/{plan.pk}/{address}").status_code == 404
    assert "Reed 100" not in stranger.get(at("frames:list")).content.decode()
    assert stranger.post(at("planning:create"), {"frame": racket.pk}).status_code == 404


@pytest.mark.parametrize(
    ("data", "sentence"),
    [
        (b"{", "not valid JSON"),
        (b"[" * 200_000, "not valid JSON"),
        (b" " * 2_000_001, "MB"),
        (b'{"format": "other/1"}', "must be"),
        (b'{"format":"kentrobar/1","frame":{"sport":"tennis","length_cm":NaN}}', "NaN"),
        (b'{"format":"kentrobar/1","frame":{"sport":"tennis","length_cm":68.58}}', "outline"),
    ],
)
def test_hostile_files_are_refused_and_leave_nothing(client, data, sentence, tmp_path):
    path = tmp_path / "plan.json"
    path.write_bytes(data)
    with path.open("rb") as file:
        response = client.post(at("welcome:import"), {"file": file})
    assert response.status_code == 422
    assert sentence in errors_of(response)["file"][0]
    assert not Frame.objects.exists()


def test_exported_plan_comes_back_and_predicts_the_same(client, hand, plan, tmp_path, capsys):
    from kentrobar import cli

    hand.lay()
    hand.lay("Tungsten putty", "2 g", site="butt_cap")
    hand.lay(site="twelve")
    exported = client.get(at("planning:export", plan.pk))
    path = tmp_path / "plan.json"
    path.write_bytes(exported.content)
    assert cli.main(["predict", str(path)]) == 0
    answer = json.loads(capsys.readouterr().out)
    cells = {
        card.row.key: card.row.cell for card in client.get(at("planning:board", plan.pk)).context["cards"]
    }
    for key, (factor, decimals) in {
        "mass_g": (1, 1),
        "balance_cm": (10, 1),
        "swingweight_kgcm2": (1, 1),
        "twistweight_kgcm2": (1, 2),
        "recoil_kgcm2": (1, 1),
    }.items():
        for moment, text in (("before", cells[key].before), ("after", cells[key].now)):
            printed = answer[moment][key]["value"] * factor
            assert text.value == f"{printed:.{decimals}f}"
    with path.open("rb") as file:
        response = client.post(at("welcome:import"), {"file": file})
    again = Plan.objects.latest("pk")
    assert response.url == at("planning:board", again.pk)
    assert again.pieces == hand.pieces


def test_no_page_is_longer_than_it_is(client, technician):
    """However many rows are asked for; a page that there is not is the nearest there is."""
    for number in range(55):
        new_frame(technician, f"Reed {number}")
    assert len(client.get(f"{at('frames:list')}?per_page=10000").context["table"].page) == 50
    assert len(client.get(f"{at('frames:list')}?page=2").context["table"].page) == 5
    assert len(client.get(f"{at('frames:list')}?page=999999").context["table"].page) == 5


def test_each_spec_says_where_it_stands_among_the_shops_frames(client, racket, technician, plan, hand):
    """On the frame, the board before and after, the comparison; by the shop's own range once that is set."""
    other = new_frame(technician, "Reed 100 B")
    text = words(client.get(at("frames:detail", racket.pk)))
    assert "low</strong>, usual 300.0 to 340.0 kg·cm²" in text
    assert "1 of your frames" in text
    hand.lay("Lead tape, half inch", "8 cm", site="twelve", mirrored="1")
    board = words(client.get(at("planning:board", plan.pk)))
    assert board.count('class="was"') == 5
    compared = words(client.get(f"{at('measuring:compare')}?frame={racket.pk}&frame={other.pk}"))
    assert "usual 300.0 to 340.0" in compared
    shop = client.get(at("shops:shop")).context["form"]
    typed = {f.html_name: f.value() if f.value() is not None else "" for f in shop}
    wrong = client.post(at("shops:shop"), typed | {"range_tennis_swingweight": "290"})
    assert wrong.status_code == 422
    assert "both ends" in words(wrong)
    assert (
        client.post(at("shops:shop"), typed | {"range_tennis_swingweight": "270 to 300"}).status_code == 302
    )
    assert "usual</strong> 270.0 to 300.0" in words(client.get(at("frames:detail", racket.pk)))


def test_the_list_is_sorted_by_a_click_what_is_not_read_last(client, technician, racket, paddle):
    unread = new_frame(technician, "Unread", measured=MeasuredSpecs())
    for sort, first in (("mass", paddle), ("-mass", racket)):
        table = client.get(at("frames:list"), {"sort": sort}).context["table"]
        shown = [line.frame for line in table.lines]
        assert (shown[0], shown[-1]) == (first, unread)
    headings = {each.column.name: each for each in table.headings}
    assert (headings["mass"].direction, headings["mass"].sort) == ("descending", "mass")
    assert (headings["label"].direction, headings["label"].sort) == ("none", "label")
    assert client.get(at("frames:list"), {"sort": "password"}).status_code == 200


@pytest.mark.parametrize("was_on", [False, True])
def test_what_is_noted_late_was_on_when_it_was_read(client, racket, was_on):
    """An overgrip noted after the reading changes what is expected only where it came on since."""
    racket.specs.__class__.objects.filter(pk=racket.specs_id).update(fitting_ids=[])
    overgrip = Accessory.objects.get(shop=racket.shop_id, kind="overgrip")
    sent = {"accessory": overgrip.pk} | ({"was_on": "on"} if was_on else {})
    assert client.post(at("frames:fittings", racket.pk), sent).status_code == 302
    frame = Frame.objects.get(pk=racket.pk)
    now = fittings_in(frame, "playing")
    assert (now == fitted_at(frame, frame.specs)) == was_on
    assert (expected_of(frame) is None) == was_on


def test_strings_noted_late_take_the_place_of_those_noted_before(client, racket):
    """A racket has one bed of strings: the reading is of the one that was on already."""
    old = restring(racket, label="old", mass_g=16.0, mass_u_g=0.5)
    racket.specs.__class__.objects.filter(pk=racket.specs_id).update(fitting_ids=[old.pk])
    strings = Accessory.objects.filter(shop=racket.shop_id, kind="strings").first()
    client.post(at("frames:fittings", racket.pk), {"accessory": strings.pk, "was_on": "on"})
    frame = Frame.objects.get(pk=racket.pk)
    assert [each.label for each in fitted_at(frame, frame.specs)] == [strings.name]


def test_a_frame_read_in_another_setup_stands_where_it_will_ready_to_play(client, racket):
    """Strung, it is not called low; what its overgrip adds is part of it, on the frame page and the board."""
    grip = Accessory.objects.get(shop=racket.shop_id, kind="overgrip")
    strings = restring(racket, label="strings", mass_g=16.0, mass_u_g=0.5)
    (overgrip,) = fit_accessories(racket, [grip])
    strung = MeasuredSpecs(Estimate(290.0, 0.1), Estimate(32.5, 0.05), Estimate(301.0, 1.0))
    record(racket, Taking(strung, "strung", as_readings(strung), [strings.pk]), racket.shop.people.first())
    frame = Frame.objects.get(pk=racket.pk)
    shown = strips_of(frame, among(frame.shop, frame.sport), Units())
    assert f"ready to play {290.0 + overgrip.mass_g:.1f}" in shown["mass_g"].range
    assert shown["mass_g"].standing == "usual"
    assert "ready to play" in words(client.get(at("frames:detail", racket.pk)))
    FrameFitting.objects.filter(frame=racket).delete()
    bare = MeasuredSpecs(Estimate(280.0, 0.1))
    record(racket, Taking(bare, "bare", as_readings(bare)), racket.shop.people.first())
    assert not strips_of(Frame.objects.get(pk=racket.pk), among(frame.shop, frame.sport), Units())


def test_a_junior_frame_has_no_usual_range_and_is_none_of_the_others(client, technician, racket):
    small = MeasuredSpecs(Estimate(240.0, 0.1), Estimate(31.0, 0.05), Estimate(200.0, 1.0))
    junior = new_frame(technician, "Reed 25", RacketDimensions(63.5, 31.0, 24.0, 22.0, 15.0), small)
    others = among(junior.shop, junior.sport)
    assert not strips_of(junior, others, Units())
    assert 240.0 not in others.values["mass_g"]
    assert strips_of(racket, others, Units())


def test_grip_pallet_and_ceiling_are_kept_as_typed_and_shown(client):
    typed = RACKET | {"grip_size": "L3", "pallet": "square, size 2", "ceiling_0": "11.5", "ceiling_1": "oz"}
    assert client.post(at("taking_in:create", "tennis"), typed).status_code == 302
    frame = Frame.objects.get()
    assert (frame.grip_mm, frame.pallet) == (pytest.approx(111.125), "square, size 2")
    assert frame.ceiling_g == pytest.approx(11.5 * 28.349523)
    page = words(client.get(at("frames:detail", frame.pk)))
    assert "4 3/8 in" in page
    assert "square, size 2" in page
    form = client.get(at("frames:edit", frame.pk)).context["form"]
    assert form.initial["ceiling"] == ("11.5", "oz")
    assert form["grip_size"].value() == "4 3/8 in"


def test_a_grip_size_that_is_none_is_refused_at_its_field(client):
    answer = client.post(at("taking_in:create", "tennis"), RACKET | {"grip_size": "6 cm"})
    assert "is no grip size" in errors_of(answer)["grip_size"][0]
    assert not Frame.objects.exists()


# -- others in a fitting's place ----------------------------------------------------------------------


def test_strings_are_compared_by_gauge_material_and_what_tells_them_apart(client, racket, technician):
    strings = Accessory.objects.get(shop=technician.shop_id, kind="strings")
    typed = {f"a{strings.pk}-weighings": "17.9-1.4 g", f"a{strings.pk}-note": "1.25, coated"}
    assert client.post(at("materials:weigh", strings.pk), typed).status_code == 302
    strings.refresh_from_db()
    assert (strings.mass_g, strings.note) == (pytest.approx(16.5), "1.25, coated")
    fit_accessories(racket, [strings])
    on = racket.fittings.get()
    page = client.get(at("frames:alternatives", racket.pk, on.pk))
    rows = {row.name: row for row in page.context["rows"]}
    assert rows[strings.name].note == "1.25, coated"
    assert rows[strings.name].changes[0].value == "0.0"
    masses = [float(row.mass.split()[0]) for row in page.context["rows"]]
    assert masses == sorted(masses)
    assert float(rows["polyester 1.15 mm"].mass.split()[0]) < float(rows["polyester 1.35 mm"].mass.split()[0])


def test_edge_tape_of_the_stock_goes_round_a_paddle_in_one_choice(client, paddle, technician):
    tape = technician.shop.materials.get(kind="edge_tape")
    page = client.get(at("frames:fittings", paddle.pk)).context["form"]
    assert f"tape-{tape.pk}" in dict(page.fields["accessory"].choices)
    sent = {"accessory": f"tape-{tape.pk}", "note": "25 mm, new"}
    assert client.post(at("frames:fittings", paddle.pk), sent).status_code == 302
    on = paddle.fittings.get()
    assert (on.kind, on.source, on.note) == ("edge_tape", "computed", "25 mm, new")
    assert on.mass_g == pytest.approx(0.035 * 0.98 * 2 * paddle.outline.rim(Face.OUTER).half_length)
    assert "25 mm, new" in words(client.get(at("frames:fittings", paddle.pk)))
    others = client.get(at("frames:alternatives", paddle.pk, on.pk)).context["rows"]
    assert {f"{tape.name}, full edge"} < {row.name for row in others}


def test_what_accessories_do_together_is_told_without_a_frame(client):
    tables = client.get(at("materials:fittings")).context["together"]
    assert [table.name for table in tables] == ["racket", "paddle"]
    for table in tables:
        lines = sum(float(changes[0].value) for _, changes in table.lines)
        assert float(table.total[0].value) == pytest.approx(lines, abs=0.3)


def test_a_fitting_of_another_shop_is_not_compared(client, racket):
    stranger = new_person("stranger")
    theirs = new_frame(stranger, "Theirs")
    fit_accessories(theirs, Accessory.objects.filter(shop=stranger.shop_id, kind="grip"))
    address = at("frames:alternatives", theirs.pk, theirs.fittings.get().pk)
    assert client.get(address).status_code == 404


def test_a_tape_with_the_longest_name_goes_round_the_edge_too(client, paddle, technician):
    tape = technician.shop.materials.get(kind="edge_tape")
    tape.name = "x" * 60
    tape.save()
    sent = {"accessory": f"tape-{tape.pk}"}
    assert client.post(at("frames:fittings", paddle.pk), sent).status_code == 302
    assert paddle.fittings.get().label.endswith(", full edge")


def test_where_a_fitting_has_no_place_any_more_its_others_say_so(client, racket, technician):
    (strings,) = fit_accessories(racket, Accessory.objects.filter(shop=technician.shop_id, kind="strings"))
    FrameFitting.objects.filter(pk=strings.pk).update(kind="edge_tape")
    page = client.get(at("frames:alternatives", racket.pk, strings.pk))
    assert page.status_code == 200
    assert "A tennis frame has no protective edge tape" in words(page)
