"""Taking frames in, what is fitted on them, and one build turned into another."""

import pytest

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.web.frames.models import Frame, FrameFitting
from kentrobar.web.materials.models import Accessory
from kentrobar.web.measuring.models import Instrument
from kentrobar.web.measuring.services import Taking, record
from kentrobar.web.shops.models import Client
from tests.addresses import at
from tests.web.conftest import new_frame, words

SHARED = {
    "player": "Ines",
    "model_name": "Reed 100",
    "build": "playing",
    "axis_0": "10",
    "axis_1": "cm",
    "length_0": "68.58",
    "length_1": "cm",
    "head_size_0": "100",
    "head_size_1": "in²",
    "beam_0": "23",
    "beam_1": "mm",
    "handle_length_0": "18",
    "handle_length_1": "cm",
    "pattern": "16x19",
    "string_material": "polyester",
    "gauge_0": "1.25",
    "gauge_1": "mm",
    "fitted": ["bumper", "butt_cap", "grip", "overgrip"],
    "handle_build": "hollow",
    "post_hold": "offset",
    "blocked": "6T, 8T",
    "complaint": "Late on volleys.",
    "must_keep": "Grip size.",
    "stated_build": "bare",
}
SIX = [
    ("417", "308.6", "31.8 cm", "305"),
    ("418", "304.9", "32.1 cm", "301"),
    ("419", "306.3", "31.5 cm", "298"),
    ("420", "10.8 oz", "7 HL", ""),
    ("421", "305", "", ""),
    ("422", "", "", ""),
]


def rows(*frames):
    names = ("mark", "mass", "balance", "swingweight")
    return {
        f"{name}_{i}": text
        for i, frame in enumerate(frames, 1)
        for name, text in zip(names, frame, strict=True)
    }


def take_in(client, *frames, **changes):
    ticked = {"fitted": [shelf.pk for shelf in Accessory.objects.filter(kind__in=SHARED["fitted"])]}
    return client.post(at("taking_in:take_in", "tennis"), SHARED | ticked | rows(*frames) | changes)


def test_six_spares_in_one_table(client, technician):
    assert take_in(client, *SIX).status_code == 302
    frames = list(Frame.objects.order_by("pk"))
    assert [f.label for f in frames] == [f"Reed 100 {mark}" for mark, *_ in SIX]
    assert {f.client.name for f in frames} == {"Ines"}
    assert len({f.model_id for f in frames}) == 1
    assert frames[0].specs.mass_g == 308.6
    assert frames[3].specs.mass_g == pytest.approx(306.175, abs=1e-3)
    assert frames[3].specs.balance_cm == pytest.approx(68.58 / 2 - 7 * 0.3175)
    assert frames[5].specs is None
    strings = frames[0].fittings.get(kind="strings")
    assert strings.source == "computed"
    assert 16 < strings.mass_g < 18
    assert frames[0].specs.fitting_ids == [f.pk for f in frames[0].fittings.all()]
    assert (frames[0].mains, frames[0].handle_build, frames[0].post_hold) == (16, "hollow", "offset")


def test_a_known_client_and_model_need_little(client, technician):
    """The client is found whatever the case; the model brings its outline along."""
    take_in(client, SIX[0])
    page = words(client.get("/frames/take-in/tennis?model_name=reed 100"))
    assert "as of Reed 100 417" in page
    assert 'value="100"' in page
    assert '<option value="Ines">' in page
    take_in(client, SIX[1], player="ines ")
    assert Client.objects.count() == 1
    assert Frame.objects.count() == 2


@pytest.mark.parametrize(
    ("frame", "changes", "sentence"),
    [
        (("417", "heavy", "", ""), {}, "not a number"),
        (("417", "308.6", "72 cm", ""), {}, "beyond the frame"),
        (("417", "308.6", "31.8 cm", "1305"), {}, "is above what"),
        (("417", "31.8", "308.6", "305"), {}, "Exchange static weight and balance"),
        (("417", "", "", ""), {"model_name": ""}, "required"),
        (("417", "", "", ""), {"pattern": "160"}, "such as 16 x 19"),
        (("417", "", "", ""), {"blocked": "nowhere"}, "write a hole such as 6T"),
        (
            ("417", "", "", ""),
            {"head_size_0": "", "head_width_0": "26", "head_width_1": "cm"},
            "length and its width",
        ),
    ],
)
def test_mistakes_are_shown_where_they_are_and_kept(client, frame, changes, sentence):
    response = take_in(client, frame, ("418", "304.9", "", ""), **changes)
    page = response.content.decode()
    assert response.status_code == 422
    assert sentence in page
    assert 'value="304.9"' in page
    assert not Frame.objects.exists()


def test_an_odd_row_is_asked_about_and_may_be_kept(client):
    take_in(client, *SIX[:3])
    odd = ("423", "336.0", "31.8 cm", "305")
    page = take_in(client, odd)
    assert page.status_code == 422
    assert "Keep these values and check in" in words(page)
    assert take_in(client, odd, keep="1").status_code == 302


def test_a_paddle_comes_in_with_ounces(client, technician):
    technician.mass_unit = "oz"
    technician.save()
    data = {
        "player": "Rosa",
        "model_name": "Mudlark 16",
        "build": "playing",
        "axis_0": "5",
        "axis_1": "cm",
        "length_0": "16.5",
        "length_1": "in",
        "width_0": "7.5",
        "width_1": "in",
        "corner_radius_0": "4",
        "corner_radius_1": "cm",
        "shoulder_0": "5",
        "shoulder_1": "cm",
        "handle_length_0": "5.25",
        "handle_length_1": "in",
        "thickness_0": "16",
        "thickness_1": "mm",
        "fitted": [technician.shop.accessories.get(kind=kind).pk for kind in ("grip", "edge_tape")],
        "stated_build": "bare",
    }
    saved = client.post(
        at("taking_in:take_in", "pickleball"), data | rows(("R1", "7 15/16", "23.8 cm", "112"))
    )
    assert saved.status_code == 302
    paddle = Frame.objects.get()
    assert paddle.specs.mass_g == pytest.approx(225.02, abs=0.01)
    assert {f.kind for f in paddle.fittings.all()} == {"grip", "edge_tape"}


# -- fittings and builds -----------------------------------------------------------------------


@pytest.fixture
def strung(client, technician):
    take_in(client, SIX[0])
    return Frame.objects.get()


def put_on(client, frame, kind, **typed):
    shelf = frame.shop.accessories
    accessory = shelf.get(kind=kind).pk if shelf.filter(kind=kind).exists() else kind
    return client.post(at("frames:fittings", frame.pk), {"accessory": accessory} | typed)


def test_the_ledger_turns_one_build_into_another(client, strung):
    page = client.get(f"{at('frames:fittings', strung.pk)}?build=bare").content.decode()
    assert "Strings, polyester 1.25 mm" in page
    assert "−30" in page
    assert "Bumper guard" not in page.split("On this frame")[0]
    at_inch = client.get(f"{at('frames:fittings', strung.pk)}?build=bare&axis=4 in").content.decode()
    assert "Swing weights at 10.16 cm" in at_inch
    assert "not a number" in client.get(f"{at('frames:fittings', strung.pk)}?axis=x").content.decode()


@pytest.mark.parametrize(
    ("typed", "mass", "source"),
    [
        ({"mass_0": "17.3", "mass_1": "g"}, 17.3, "weighed"),
        ({"package_0": "19.8", "package_1": "g", "offcuts_0": "2.9", "offcuts_1": "g"}, 16.9, "package"),
        ({"material": "natural gut", "gauge_0": "1.30", "gauge_1": "mm"}, 17.0, "computed"),
        ({}, 16.5, "usual"),
    ],
)
def test_strings_weigh_what_is_known_of_them(client, strung, typed, mass, source):
    """New strings take the old ones off; the reading made with those still knows them."""
    old = strung.fittings.get(kind="strings")
    assert put_on(client, strung, "strings", **typed).status_code == 302
    new = strung.fittings.get(kind="strings", is_on=True)
    assert (new.mass_g, new.source) == (pytest.approx(mass, abs=0.4), source)
    old.refresh_from_db()
    assert not old.is_on
    assert old.pk in strung.specs.fitting_ids
    page = client.get(f"{at('frames:fittings', strung.pk)}?build=playing").content.decode()
    assert page.count('class="sign off"') == 1
    assert page.count('class="sign on"') == 1


@pytest.mark.parametrize(
    ("kind", "typed", "sentence"),
    [
        ("strings", {"package_0": "3", "package_1": "g", "offcuts_0": "9", "offcuts_1": "g"}, "weigh less"),
        ("strings", {"material": "nylon", "gauge_0": "13", "gauge_1": "mm"}, "no tennis string"),
        ("overgrip", {"mass_0": "-2", "mass_1": "g"}, "above 0"),
        ("overgrip", {"start_0": "9", "start_1": "cm", "end_0": "3", "end_1": "cm"}, "farther from the butt"),
        ("edge_tape", {}, "Select a valid choice"),
    ],
)
def test_a_fitting_that_cannot_be_is_refused(client, strung, kind, typed, sentence):
    before = FrameFitting.objects.count()
    page = put_on(client, strung, kind, **typed)
    assert page.status_code == 422
    assert sentence in page.content.decode()
    assert FrameFitting.objects.count() == before


def test_earlier_weight_is_placed_weighed_and_taken_off(client, strung):
    place = {"y_0": "62", "y_1": "cm", "x_0": "9", "x_1": "cm", "mass_0": "3", "mass_1": "g"}
    assert put_on(client, strung, "earlier_weight", **place).status_code == 302
    lead = strung.fittings.get(kind="earlier_weight")
    assert (lead.mass_g, lead.y_cm, lead.x_cm) == (3, 62, 9)
    address = at("frames:edit_fitting", strung.pk, lead.pk)
    assert client.get(address).status_code == 200
    assert (
        client.post(address, {"mass_0": "3.2", "mass_1": "g"} | place | {"mass_0": "3.2"}).status_code == 302
    )
    lead.refresh_from_db()
    assert lead.mass_g == 3.2
    assert client.post(f"{address}/off").status_code == 302
    assert client.get(f"{address}/off").status_code == 405
    assert "Removed:" in client.get(at("frames:fittings", strung.pk)).content.decode()


def test_the_shops_own_weighings_win(client, technician):
    grip = technician.shop.accessories.get(kind="overgrip")
    address = at("materials:weigh", grip.pk)
    assert client.post(address, {f"a{grip.pk}-weighings": "5.0 5.4, 5.8 g"}).status_code == 302
    grip.refresh_from_db()
    assert (grip.mass_g, grip.weighings_g) == (pytest.approx(5.4), [5.0, 5.4, 5.8])
    take_in(client, SIX[0])
    fitted = FrameFitting.objects.get(kind="overgrip")
    assert (fitted.mass_g, fitted.source) == (pytest.approx(5.4), "shop")
    refused = client.post(address, {f"a{grip.pk}-weighings": "light"})
    assert (refused.status_code, "light" in refused.content.decode()) == (422, True)
    another = {"kind": "overgrip", "name": "Overgrip, thin"}
    assert client.post(at("materials:fittings"), another).status_code == 302
    assert client.post(at("materials:fittings"), another).status_code == 422


def test_a_frame_without_a_reading_still_has_its_fittings(client, technician):
    frame = new_frame(technician, "Unread", measured=MeasuredSpecs())
    record(frame, Taking(MeasuredSpecs(Estimate(300, 0.1)), "strung"), technician)
    page = client.get(f"{at('frames:fittings', frame.pk)}?build=playing").content.decode()
    assert "unknown" in page
    assert "The two setups are the same" in page


def test_a_pasted_table_fills_the_rows_and_its_columns_can_be_changed(client, technician):
    block = (
        "Racket\tStrung\tWeight (oz)\tBalance mm\tTwist\nA1\t308.6\t10.9\t318\t13.6\n"
        "A2\t304.9\t10.8\t321\t13.4\n"
    )
    shared = {"player": "Ines", "model_name": "Reed 100", "axis_0": "4", "axis_1": "in"}
    filled = client.post(at("taking_in:take_in", "tennis"), shared | {"pasted": block, "fill": "1"})
    page = filled.content.decode()
    assert 'name="mass_2" value="10.8 oz"' in " ".join(page.split())
    assert 'name="twistweight_2" value="13.4"' in " ".join(page.split())
    assert 'value="Ines"' in page
    assert 'name="axis_0" value="4"' in " ".join(page.split())
    assert not Frame.objects.exists()
    chosen = shared | {
        "pasted": block,
        "pasted_before": block,
        "fill": "1",
        "column_0": "mark",
        "column_1": "mass",
        "column_2": "",
        "column_3": "balance",
    }
    again = " ".join(client.post(at("taking_in:take_in", "tennis"), chosen).content.decode().split())
    assert 'name="mass_1" value="308.6"' in again
    assert 'name="balance_1" value="318 mm"' in again


def test_nothing_pasted_is_said_and_keeps_what_was_typed(client, technician):
    filled = client.post(
        at("taking_in:take_in", "tennis"), {"pasted": " ", "fill": "1", "player": "Ines", "model_name": ""}
    )
    assert "The pasted text holds no readings" in words(filled)
    assert 'value="Ines"' in filled.content.decode()


def test_frames_that_were_taken_in_are_marked_in_the_list(client, technician):
    answer = take_in(client, *SIX[:3])
    listed = client.get(answer.headers["Location"]).content.decode()
    assert listed.count(" checked>") == 3


def test_no_head_size_is_needed_and_that_is_said(client, technician):
    """A usual head stands in for it, said on the page and the board, and gone once the size is known."""
    assert take_in(client, SIX[0], head_size_0="").status_code == 302
    frame = Frame.objects.get()
    assert frame.has_usual_head
    assert frame.head_size_cm2 is None
    assert "usual, 100 in² (size not given)" in words(client.get(at("frames:detail", frame.pk)))
    client.post(at("planning:create"), {"frame": frame.pk})
    assert "usual head of 100 in²" in words(client.get(at("planning:board", frame.plans.get().pk)))
    form = client.get(at("frames:edit", frame.pk)).context["form"]
    assert "head_length" not in form.initial
    half = take_in(client, SIX[1], head_size_0="", head_length_0="34", head_length_1="cm")
    assert half.status_code == 422
    assert "length and its width" in words(half)


def test_all_slips_are_shown_at_once(client):
    """An outline that cannot be, a blocked place that is none, and two rows: four sentences, nothing lost."""
    page = take_in(
        client,
        ("1", "heavy", "31.8 cm", "305"),
        ("2", "305", "high", ""),
        beam_0="thin",
        blocked="99T",
        length_0="68.58",
    )
    text = words(page)
    assert page.status_code == 422
    for sentence in ("“thin” is not a number", "“heavy” is not a number", "“high” is not a number"):
        assert sentence in text
    assert 'value="99T"' in text
    page = take_in(client, ("1", "heavy", "", ""), blocked="99T")
    assert "numbered 1 to 8" in words(page)
    assert "“heavy” is not a number" in words(page)


def test_blocked_places_bumper_and_strain_are_taken_in(client, technician):
    technician.length_unit = "in"
    technician.save()
    told = {"bumper_reach_0": "20", "bumper_reach_1": "in", "strain": ["elbow", "wrist"]}
    assert take_in(client, SIX[0], blocked="6T, 22 1/2-23", **told).status_code == 302
    frame = Frame.objects.get()
    assert frame.blocked == "6T, 22 1/2-23 in"
    assert frame.bumper_reach_cm == pytest.approx(50.8)
    assert frame.client.strain == ["elbow", "wrist"]
    assert "elbow, wrist" in words(client.get(at("frames:detail", frame.pk)))


def test_an_archived_frame_is_offered_no_more_and_lost_by_nothing(client, racket, plan, technician):
    other = new_frame(technician, "Reed 100 B")
    assert client.post(at("frames:archive", racket.pk)).status_code == 302
    listed = words(client.get(at("frames:list")))
    assert at("frames:detail", racket.pk) not in listed
    assert at("frames:detail", racket.pk) in words(client.get(f"{at('frames:list')}?archived"))
    assert client.get(at("planning:board", plan.pk)).status_code == 200
    assert racket.label in words(client.get(at("planning:list")))
    client.post(at("planning:create"), {"frame": other.pk})
    board = client.get(at("planning:board", other.plans.get().pk))
    assert racket not in board.context["frames"]
    assert racket.label in words(client.get(f"{at('finding:search')}?q=Reed"))
    client.post(at("frames:archive", racket.pk), {"archived": "0"})
    assert at("frames:detail", racket.pk) in words(client.get(at("frames:list")))


# -- the next frames of a model -----------------------------------------------------------------


@pytest.fixture
def bare_one(client):
    """One unstrung frame of a model, as its maker states it."""
    take_in(
        client,
        SIX[4],
        build="bare",
        axis_0="12",
        gauge_0="1.20",
        stated_mass_0="295",
        stated_mass_1="g",
        stated_balance_0="320",
        stated_balance_1="mm",
    )
    return Frame.objects.get()


def test_the_next_frame_of_a_model_begins_with_the_setup_of_the_last(client, bare_one):
    """Build, axis, strings, fittings and what the maker states come along; typed again they stay the same."""
    page = client.get(at("taking_in:take_in", "tennis"), {"model_name": "Reed 100"})
    form = page.context["form"]
    assert form.initial["build"] == "bare"
    assert form.initial["axis"] == ("12", "cm")
    assert form.initial["string_material"] == "polyester"
    assert form.initial["gauge"] == ("1.20", "mm")
    assert form.initial["stated_mass"] == ("295", "g")
    assert form.initial["stated_balance"] == ("320", "mm")
    names = {form.accessories[pk].kind for pk in form.initial["fitted"]}
    assert names == set(SHARED["fitted"])
    fragment = page.content.decode().partition('id="of-model"')[2]
    assert 'name="stated_mass_0" value="295"' in fragment
    another = client.get(at("taking_in:take_in", "tennis"), {"model_name": "New"})
    assert another.context["form"].initial["build"] == "bare"


def test_what_a_maker_states_stays_until_it_is_typed_again(client, bare_one):
    take_in(client, SIX[1], stated_mass_0="300", stated_mass_1="g")
    stated = bare_one.model.__class__.objects.get().stated
    assert (stated.mass_g.value, stated.balance_cm.value) == (300.0, 32.0)


def test_instruments_chosen_stay_chosen_when_a_table_is_pasted(client, technician):
    scale = Instrument.objects.create(
        shop=technician.shop, name="Pocket scale", kind="scale", resolution=1.0, repeatability=0.5
    )
    sent = {"fill": "1", "pasted": "mark\tweight\n1\t308 g", "mass_instrument": scale.pk}
    page = client.post(at("taking_in:take_in", "tennis"), sent)
    assert page.context["form"].readers["mass"].chosen == scale


def test_bumper_and_grommets_come_apart_or_together(client):
    both = Accessory.objects.filter(kind__in=("bumper", "bumper_guard"))
    page = take_in(client, SIX[0], fitted=[each.pk for each in both])
    assert "not both" in words(page)
    apart = Accessory.objects.filter(kind__in=("bumper_guard", "grommet_strip"))
    take_in(client, SIX[0], fitted=[each.pk for each in apart], string_material="")
    assert set(FrameFitting.objects.values_list("kind", flat=True)) == {"bumper_guard", "grommet_strip"}


@pytest.mark.parametrize(("sport", "is_offered"), [("tennis", True), ("pickleball", False)])
def test_handles_are_those_of_the_sport(client, sport, is_offered):
    form = client.get(at("taking_in:take_in", sport)).context["form"]
    assert ("foam_trap_door" in dict(form.fields["handle_build"].choices)) == is_offered
    assert "foam" in dict(form.fields["handle_build"].choices)


@pytest.mark.parametrize(("kind", "mass"), [("strings", "200"), ("overgrip", "55"), ("grip", "150")])
def test_a_fitting_heavier_than_any_is_questioned_at_its_field(client, racket, kind, mass):
    shelf = Accessory.objects.filter(shop=racket.shop_id, kind=kind).first()
    sent = {"accessory": shelf.pk, "mass_0": mass, "mass_1": "g"}
    page = client.post(at("frames:fittings", racket.pk), sent)
    assert "far more" in page.context["form"].errors["mass"][0]
    assert not FrameFitting.objects.filter(frame=racket).exists()
