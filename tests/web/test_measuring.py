"""At the bench: the reading grid, devices, the swing timer, calibration, comparing."""

import json
import re
from datetime import timedelta

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils import timezone

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.quantities.errors import SpecError
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate
from kentrobar.core.reading.pendulum import PendulumReading, swing_period_s
from kentrobar.web.bench.models import BenchWork
from kentrobar.web.frames.builds import fittings_in, in_build
from kentrobar.web.frames.models import Frame, SpecSheet
from kentrobar.web.frames.services import fit_accessories, model_named, state_figures
from kentrobar.web.measuring.models import Calibration, Instrument, Reading
from kentrobar.web.measuring.queries import scatter_learnt_of
from kentrobar.web.measuring.services import Taking, record
from kentrobar.web.planning.stored import plan_state
from tests.addresses import at
from tests.instruments.test_taking import speaking
from tests.web.conftest import new_frame, new_person, words

# The racket of the fixture reads 308.6 g, 31.8 cm, 287 kg·cm² at 10 cm, 13.6.


@pytest.fixture
def racket(technician):
    frame = new_frame(technician)
    frame.mains, frame.crosses = 16, 19
    frame.save()
    kinds = ("strings", "bumper", "butt_cap", "grip", "overgrip")
    fit_accessories(frame, technician.shop.accessories.filter(kind__in=kinds))
    return frame


@pytest.fixture
def bench(client, racket, technician):
    """Types readings into the grid as the page does."""

    class Bench:
        scale, board, machine = (
            Instrument.objects.filter(shop=technician.shop, kind=kind).first()
            for kind in ("scale", "board", "machine")
        )

        def data(self, build="playing", axis="10", **rows):
            typed = {"build": build, "axis": axis, "axis_unit": "cm"}
            for spec, texts in rows.items():
                typed |= {f"{spec}_{i}": text for i, text in enumerate(texts, 1)}
            return typed

        def look(self, more=(), **rows):
            data = self.data(**rows) | dict(more)
            return client.post(at("measuring:summary", racket.pk), data).content.decode()

        def save(self, more=(), **rows):
            return client.post(at("measuring:measure", racket.pk), self.data(**rows) | dict(more))

        def fixes(self, page):
            orders = re.findall(r'data-fix="([^"]+)"', page)
            return [json.loads(order.replace("&quot;", '"')) for order in orders]

    return Bench()


RIGHT = {
    "mass": ["308.6", "308.7", "308.5"],
    "balance": ["318", "31.85 cm", "31.75 cm"],
    "swingweight": ["287", "288", "286"],
}


def test_three_by_three_readings_become_specs(bench, racket):
    """Means with ±, single readings kept as typed, twist weight stays as read before."""
    before = racket.specs
    assert bench.save(**RIGHT).status_code == 302
    racket.refresh_from_db()
    sheet = racket.specs
    assert sheet.replaces == before
    assert sheet.mass_g == pytest.approx(308.6)
    assert 0.04 < sheet.mass_u_g < 0.15
    assert sheet.balance_cm == pytest.approx(31.8)
    assert sheet.swingweight_kgcm2 == pytest.approx(287)
    assert sheet.twistweight_kgcm2 == 13.6
    assert len(sheet.fitting_ids) == 5
    assert [r.text for r in sheet.readings.filter(spec="balance")] == RIGHT["balance"]
    assert not sheet.readings.filter(spec="twistweight").exists()
    with pytest.raises(SpecError, match="never overwritten"):
        sheet.readings.first().save()


def test_looking_saves_nothing_and_says_what_helps(bench):
    page = bench.look(mass=["308.6"], swingweight=["280", "290"])
    assert "A second reading would catch a slip." in page
    assert "The two differ by more than this instrument" in page
    assert 'hx-swap-oob="true"' in page
    assert SpecSheet.objects.count() == 1
    assert "Not read" not in bench.look(mass=["12 stone"])
    assert "not a unit" in bench.look(mass=["12 stone"])


@pytest.mark.parametrize(
    ("rows", "fix"),
    [
        ({"mass": ["31.8"], "balance": ["308.6"]}, {"mass_1": "308.6", "balance_1": "31.8"}),
        ({"mass": ["380.6"]}, {"mass_1": "308.6"}),
        ({"swingweight": ["387"]}, {"swingweight_1": "287"}),
    ],
)
def test_a_slip_is_named_with_its_fix_and_may_be_kept(bench, racket, rows, fix):
    typed = {"mass": ["308.6"], "balance": ["31.8 cm"], "swingweight": ["287"]} | rows
    unit = {"balance_unit": "cm"}
    typed["balance"] = [text.removesuffix(" cm") for text in typed["balance"]]
    offered = bench.fixes(bench.look(unit, **typed))
    assert any(fix.items() <= each.items() for each in offered)
    refused = bench.save(unit, **typed)
    assert refused.status_code == 422
    assert typed["mass"][0] in refused.content.decode()
    if "balance" not in rows:
        assert bench.save(unit | {"keep": "1"}, **typed).status_code == 302


def test_another_build_is_offered(bench, racket):
    """Read without strings and overgrip, called ready to play: the unstrung frame would fit."""
    bare = {"mass": ["286.6"], "balance": ["310.7"], "swingweight": ["256.8"]}
    offered = bench.fixes(bench.look(**bare))
    assert "bare" in [each.get("build") for each in offered]
    assert bench.save({"build": "bare"}, **bare).status_code == 302


def test_a_reading_that_stands_out_is_fixed_or_left_out(bench, racket):
    odd = {"mass": ["308.6", "380.6", "308.5"]}
    page = bench.look(**odd)
    assert "stands out" in page
    assert {"mass_2": "308.6"} in bench.fixes(page)
    assert bench.save(**odd).status_code == 422
    assert bench.save({"mass_out": ["2"]}, **odd).status_code == 302
    racket.refresh_from_db()
    assert racket.specs.mass_g == pytest.approx(308.55)
    assert [r.left_out for r in racket.specs.readings.all()] == [False, True, False]


def test_the_board_adds_its_offset_and_notices_when_it_should_not(bench, racket):
    bench.board.offset_cm = 5.0
    bench.board.save()
    board = {"balance_instrument": bench.board.pk, "balance_unit": "cm"}
    assert f"26.8 cm + 5 cm of {bench.board}" in bench.look(board, mass=["308.6"], balance=["26.8"])
    odd = bench.look(board, balance=["26.85", "28.6", "26.75"])
    assert {"balance_2": "26.8"} in bench.fixes(odd)
    offered = bench.fixes(bench.look(board, mass=["308.6"], balance=["31.8"], swingweight=["287"]))
    assert offered[0] == {"balance_instrument": ""}
    assert bench.save(board, mass=["308.6"], balance=["26.8"]).status_code == 302
    racket.refresh_from_db()
    assert racket.specs.balance_cm == pytest.approx(31.8)
    assert racket.specs.swingweight_kgcm2 == 287, "not read anew, so it stays"


def test_before_and_after_are_cross_checked(bench, racket):
    changed = {"was_changed": "1"}
    honest = {"mass": ["312.6"], "balance": ["321.6"], "swingweight": ["297"]}
    assert "were added" in bench.look(changed, **honest)
    wrong = honest | {"swingweight": ["317"]}
    assert "together fit no weight added or removed" in bench.look(changed, **wrong)
    assert bench.save(changed, **wrong).status_code == 422
    assert bench.save(changed, **honest).status_code == 302


def test_what_is_not_read_anew_is_carried_by_the_plan_that_was_laid(
    bench, racket, plan, hand, client, technician
):
    """A swing weight alone, after weight was laid by a plan, forgets neither weight nor balance."""
    hand.lay(amount="10 cm", site="twelve")
    plan.refresh_from_db()
    predicted = plan_state(plan).prediction.after
    changed = {"was_changed": "1", "applied": plan.pk}
    page = bench.look(changed, swingweight=["296"])
    assert f"{predicted.mass_g.value:.2f} ±" in page
    assert "as “First” predicts" in page
    assert bench.save(changed, swingweight=["296"]).status_code == 302
    racket.refresh_from_db()
    sheet = racket.specs
    assert sheet.swingweight_kgcm2 == 296
    assert sheet.measured.mass_g == pytest.approx(predicted.mass_g)
    assert sheet.measured.balance_cm == pytest.approx(predicted.balance_cm)
    assert [reading.spec for reading in sheet.readings.all()] == ["swingweight"]
    shown = words(client.get(at("measuring:readings", racket.pk)))
    assert shown.count("predicted, not measured") == 3
    # Where nobody noted what was laid, weight and balance have to be read again.
    unknown = {"was_changed": "1", "applied": ""}
    assert bench.save(unknown, swingweight=["301"]).status_code == 302
    racket.refresh_from_db()
    assert racket.specs.mass_g is None


def test_a_partial_reading_in_another_build_keeps_the_rest_converted(bench, racket):
    """Static weight alone, read bare: the balance is what the fittings taken off leave of it."""
    bare = in_build(racket, "bare", fittings_in(racket, "bare"), 10.0).measured
    mass = f"{bare.mass_g.value:.1f}"
    assert "converted from “ready to play”" in bench.look(build="bare", mass=[mass])
    assert bench.save(build="bare", mass=[mass]).status_code == 302
    racket.refresh_from_db()
    assert racket.specs.mass_g == float(mass)
    assert racket.specs.measured.balance_cm == pytest.approx(bare.balance_cm)
    assert racket.specs.measured.swingweight_kgcm2 == pytest.approx(bare.swingweight_kgcm2)


def test_bare_and_strung_are_told_apart_only_where_strings_are_noted(bench, racket, client):
    """Nobody noted strings: no equal numbers for bare and strung, no doubt of a right bare reading."""
    racket.fittings.filter(kind="strings").delete()
    address = f"{at('frames:fittings', racket.pk)}?build=bare"
    page = client.get(address)
    assert "The strings of this racket are unknown, so" in words(page)
    assert not page.context["converted"]
    compared = client.get(f"{at('measuring:compare')}?frame={racket.pk}&frame={racket.pk}&build=bare")
    assert "The strings of this racket are unknown, so" in words(compared)
    looked = bench.look(build="bare", mass=["270"])
    assert "does not fit" not in looked
    assert "Carried over" not in looked, "with the overgrip off, strings would still be missing"
    strings = racket.shop.accessories.get(kind="strings").pk
    typed = {"accessory": strings, "material": "polyester", "gauge_0": "1.25", "gauge_1": "mm"}
    assert client.post(at("frames:fittings", racket.pk), typed).status_code == 302
    converted = client.get(address).context["converted"]
    assert converted[0].cell.before.value != converted[0].cell.now.value


def test_the_instrument_used_last_stays_chosen_and_none_is_imposed(client, bench, racket, hand, plan):
    hand.lay()
    client.post(at("bench:plan", plan.pk))
    work = BenchWork.objects.get()
    pages = [
        at("measuring:measure", racket.pk),
        at("taking_in:create", "tennis"),
        at("taking_in:take_in", "tennis"),
        at("bench:work", work.pk),
        at("welcome:first"),
    ]

    def chosen(page):
        (offered,) = re.findall(
            r'name="mass_instrument".*?</select>', client.get(page).content.decode(), re.DOTALL
        )
        return re.findall(r'value="(\d*)"\s+selected', offered)

    assert not any("".join(chosen(page)) for page in pages)
    bench.save({"mass_instrument": bench.scale.pk}, mass=["308.6"], balance=["318"])
    assert [chosen(page) for page in pages] == [[str(bench.scale.pk)]] * len(pages)
    bench.save(mass=["308.7"])
    assert not any("".join(chosen(page)) for page in pages)


def test_every_page_that_is_typed_into_averages_readings_and_takes_their_instrument(client, bench):
    """The same texts on two pages come to the same specs, reading by reading."""
    bench.scale.repeatability = 0.4
    bench.scale.save()
    typed = {
        "mass_1": "308.4",
        "mass_2": "308.6",
        "mass_3": "308.9",
        "mass_unit": "g",
        "mass_instrument": bench.scale.pk,
        "balance_1": "318",
        "balance_unit": "mm",
    }
    client.post(at("welcome:first"), {"sport": "tennis", "label": "First"} | typed)
    outline = {
        "length_0": "68.58",
        "length_1": "cm",
        "beam_0": "23",
        "beam_1": "mm",
        "handle_length_0": "18",
        "handle_length_1": "cm",
    }
    more = {"label": "New", "build": "playing", "axis": "10", "axis_unit": "cm"}
    assert client.post(at("taking_in:create", "tennis"), outline | more | typed).status_code == 302
    first, new = (Frame.objects.get(label=label).specs for label in ("First", "New"))
    assert first.measured == new.measured
    assert first.measured.mass_g.u > 0.2
    kept = [[(r.text, r.instrument) for r in s.readings.filter(spec="mass")] for s in (first, new)]
    assert kept[0] == kept[1] == [(t, bench.scale) for t in ("308.4", "308.6", "308.9")]


def test_impossible_and_empty_are_refused_at_their_place(bench, racket):
    page = bench.save(mass=["308.6"], balance=["318"], swingweight=["1287"]).content.decode()
    assert "is above what" in page
    assert bench.save().status_code == 422
    assert "swing axis" in bench.save(axis="x", mass=["308.6"]).content.decode().lower()
    racket.refresh_from_db()
    assert racket.spec_sheets.count() == 1


def test_the_maker_and_siblings_tell_what_to_expect(client, technician):
    shop = technician.shop
    model = model_named(shop, "tennis", "Reed 100")
    frame = new_frame(technician, "Reed 100 B", measured=MeasuredSpecs())
    frame.model = model
    frame.save()
    data = {"build": "playing", "axis": "10", "axis_unit": "cm", "mass_1": "335", "balance_1": "318"}
    address = at("measuring:summary", frame.pk)
    assert "fit" not in client.post(address, data).content.decode()
    figures = MeasuredSpecs(Estimate(300), Estimate(32.0), NOT_MEASURED)
    state_figures(model, figures, "playing", {})
    assert "maker&#x27;s figures" in words(client.post(address, data))
    sibling = new_frame(technician, "Reed 100 C")
    sibling.model = model
    sibling.save()
    assert "the other frames of Reed 100" in client.post(address, data).content.decode()


# -- devices ----------------------------------------------------------------------------------


def test_a_device_types_its_reading_or_says_why_not(client, bench, settings):
    scale, address = bench.scale, at("measuring:take", bench.scale.pk)
    with speaking(b"W +301.2 g moving", b"W +308.6 g settled") as device:
        settings.DEVICE_ADDRESSES = [device.address]
        scale.address = device.address
        scale.save()
        assert client.post(address).json() == {"text": "308.6", "unit": "g"}
    refused = client.post(address)
    assert (refused.status_code, refused.json()["code"]) == (503, "unplugged")
    with speaking(b"secret of another service %%%") as device:
        Instrument.objects.filter(pk=scale.pk).update(address=device.address)
        settings.DEVICE_ADDRESSES = ["socket://*:*"]
        assert client.post(address).json()["code"] == "own_service"
        settings.DEVICE_ADDRESSES = []
        assert client.post(address).json()["code"] == "not_allowed"
        settings.DEVICE_ADDRESSES = [device.address]
        told = client.post(address).json()
        assert told["code"] == "garbled"
        assert "secret" not in told["message"]
    assert client.get(address).status_code == 405
    assert not Reading.objects.filter(instrument=scale).exists()


# -- the swing timer ----------------------------------------------------------------------------

HANGING = {
    "way": "face",
    "hang_0": "65",
    "hang_1": "cm",
    "hang_2": "0.05",
    "amplitude": "0",
    "axis_0": "10",
    "axis_1": "cm",
    "passes": "1",
}
PERIOD = swing_period_s(  # of the racket of the fixture
    287 - 308.6 * 21.8**2 / 1000,
    PendulumReading(Estimate(308.6), Estimate(31.8), Estimate(65.0), Estimate(1.0)),
)


def taps(period=PERIOD, count=17):
    return json.dumps([round(2 + i * period, 6) for i in range(count)])


def test_taps_become_a_swing_weight(client, racket):
    address = at("measuring:swing", racket.pk, "pendulum")
    said = client.post(f"{address}/summary", HANGING | {"times": taps()}).content.decode()
    assert f"{PERIOD:.4f}" in said
    assert "<strong>287.0 kg·cm²</strong>" in said
    assert client.post(address, HANGING | {"times": taps()}).status_code == 302
    racket.refresh_from_db()
    assert racket.specs.swingweight_kgcm2 == pytest.approx(287, abs=1)
    assert racket.specs.mass_g == 308.6
    reading = racket.specs.readings.get()
    assert (reading.unit, reading.spec) == ("s", "swingweight")
    assert len(reading.detail["times_s"]) == 17


def test_which_way_it_swings_is_asked_and_heeded(client, racket):
    """Edge on the twist weight is taken off; told the wrong way, the slip is named and nothing is saved."""
    address = at("measuring:swing", racket.pk, "pendulum")
    page = client.get(address).content.decode()
    assert 'name="way" value="face"' in page
    hanging = PendulumReading(Estimate(308.6), Estimate(31.8), Estimate(65.0), Estimate(1.0))
    edge_on = taps(swing_period_s(287 + 13.6 - 308.6 * 21.8**2 / 1000, hanging))
    wrong = client.post(address, HANGING | {"times": edge_on})
    assert wrong.status_code == 422
    assert "swung edge on" in wrong.content.decode()
    right = HANGING | {"way": "edge", "times": edge_on}
    assert client.post(address, right).status_code == 302
    racket.refresh_from_db()
    assert racket.specs.swingweight_kgcm2 == pytest.approx(287, abs=1)
    assert racket.specs.readings.get().detail["way"] == "edge"
    assert client.post(address, right | {"way": "sideways"}).status_code == 422


def test_a_phone_tied_on_is_asked_for_with_its_place(client, racket):
    address = at("measuring:swing", racket.pk, "pendulum")
    phone = HANGING | {"times": taps(), "phone_mass_0": "190", "phone_mass_1": "g"}
    assert "how far from the butt its middle is" in client.post(address, phone).content.decode()
    placed = phone | {"phone_at_0": "9", "phone_at_1": "cm"}
    answer = client.post(f"{address}/summary", placed).content.decode()
    assert "<strong>287.0 kg·cm²</strong>" not in answer


def test_half_swings_are_noticed_and_named(client, racket):
    address = at("measuring:swing", racket.pk, "pendulum")
    said = client.post(f"{address}/summary", HANGING | {"times": taps(PERIOD / 2)}).content.decode()
    assert "choose “at every pass”" in said
    both = HANGING | {"times": taps(PERIOD / 2), "passes": "2"}
    assert client.post(address, both).status_code == 302


def test_the_timer_asks_for_weight_and_balance_first(client, technician):
    frame = new_frame(technician, "Unread", measured=MeasuredSpecs())
    page = client.get(at("measuring:swing", frame.pk, "pendulum")).content.decode()
    assert "The weight and the balance of this frame are required first" in page
    refused = client.post(at("measuring:swing", frame.pk, "pendulum"), HANGING | {"times": taps()})
    assert refused.status_code == 422


@pytest.mark.parametrize(
    ("change", "sentence"),
    [
        ({"hang_0": "31.9"}, "hardly swings"),
        ({"hang_0": ""}, "Type the axle"),
        ({"amplitude": "wide"}, "not a number"),
        ({"times": "[1, 2]"}, "too few"),
        ({"times": "x"}, "The taps could not be read. Tap again"),
        ({}, "No swing timed yet"),
    ],
)
def test_what_cannot_be_timed_says_why(client, racket, change, sentence):
    data = HANGING | {"times": taps() if change else ""} | change
    page = client.post(at("measuring:swing", racket.pk, "pendulum"), data)
    assert page.status_code == 422
    assert sentence in page.content.decode()
    assert racket.spec_sheets.count() == 1


def csv_of(period=PERIOD):
    t = np.arange(0, 20, 0.02)
    wave = np.exp(-0.02 * t) * np.cos(2 * np.pi / period * t)
    rows = "\n".join(f"{a:.3f},{b:.5f}" for a, b in zip(t, wave, strict=True))
    return SimpleUploadedFile("swing.csv", f"time (s),rate\n{rows}".encode())


def test_a_recording_is_read_drawn_and_taken_over(client, racket):
    address = at("measuring:swing", racket.pk, "pendulum")
    said = client.post(f"{address}/summary", HANGING | {"recording": csv_of()}).content.decode()
    assert 'id="drawn"' in said
    assert "in “rate”" in said
    assert client.post(address, HANGING | {"recording": csv_of()}).status_code == 302
    racket.refresh_from_db()
    assert racket.specs.swingweight_kgcm2 == pytest.approx(287, abs=1)
    noise = SimpleUploadedFile("x.csv", b"hello\nworld\n")
    said = client.post(f"{address}/summary", HANGING | {"recording": noise}).content.decode()
    assert "No rows of numbers" in said


@pytest.mark.parametrize(
    ("method", "fields", "period"),
    [
        ("sideways", {"drop_0": "6", "drop_1": "cm"}, 0.7326),
        ("cords", {"cord_0": "80", "cord_1": "cm", "apart_0": "10", "apart_1": "cm"}, 2.382),
    ],
)
def test_twist_weight_by_either_method(client, racket, method, fields, period):
    data = fields | {"passes": "1", "times": taps(period, 25)}
    saved = client.post(at("measuring:swing", racket.pk, method), data | {"keep": "1"})
    assert saved.status_code == 302
    racket.refresh_from_db()
    assert racket.specs.twistweight_kgcm2 == pytest.approx(13.6, abs=0.4)
    assert racket.specs.swingweight_kgcm2 == 287


# -- instruments ----------------------------------------------------------------------------------


def test_calibration_is_kept_used_and_falls_due(client, bench, racket):
    """A rod of 400 g and 80 cm has 213.33; the machine shows 2 % too little."""
    address = at("measuring:calibrate", bench.machine.pk)
    rod = {"mass_1": "400", "length_1": "80", "reading_1": "209.15"}
    assert client.post(address, rod).status_code == 302
    found = Calibration.objects.get()
    assert found.scale == pytest.approx(1.02, abs=1e-4)
    with pytest.raises(SpecError, match="never overwritten"):
        found.save()
    machine = {"swingweight_instrument": bench.machine.pk}
    assert bench.save(machine, swingweight=["281.4"]).status_code == 302
    racket.refresh_from_db()
    assert racket.specs.swingweight_kgcm2 == pytest.approx(281.4 * found.scale)
    assert racket.specs.readings.get().text == "281.4"
    long_ago = timezone.now() - timedelta(days=400)
    Calibration.objects.update(taken_at=long_ago)
    assert "due" in client.get(at("measuring:instruments")).content.decode()


@pytest.mark.parametrize(
    ("typed", "sentence"),
    [
        ({"mass_1": ""}, "at least one known value"),
        ({"mass_1": "400", "length_1": "80", "reading_1": "20"}, "another unit"),
        ({"mass_1": "x", "length_1": "80", "reading_1": "213"}, "not a number"),
        ({"length_1": "80", "reading_1": "213"}, "above 0"),
    ],
)
def test_a_wrong_calibration_is_refused_and_kept(client, bench, typed, sentence):
    page = client.post(at("measuring:calibrate", bench.machine.pk), typed)
    assert page.status_code == 422
    assert sentence in page.content.decode()
    assert not Calibration.objects.exists()


@pytest.mark.parametrize(
    ("change", "sentence"),
    [
        ({"address": "spy://x"}, "socket://"),
        ({"pattern": "("}, "no line pattern"),
        ({"repeatability": "0"}, "above 0"),
        ({"name": "Scale, 0.1 g"}, "has this name"),
    ],
)
def test_an_instrument_is_checked_before_it_is_kept(client, technician, change, sentence):
    typed = {
        "name": "Lab scale",
        "resolution": "0.01",
        "repeatability": "0.02",
        "due_after_days": "90",
        "address": "",
        "pattern": r"(?P<value>\d+)",
        "baud": "9600",
    }
    page = client.post(at("measuring:new_instrument", "scale"), typed | change)
    assert page.status_code == 422
    assert sentence in page.content.decode()
    assert client.post(at("measuring:new_instrument", "scale"), typed).status_code == 302
    assert technician.shop.instruments.get(name="Lab scale").resolution == 0.01


# -- comparing ------------------------------------------------------------------------------------


def test_different_builds_are_never_compared_silently(client, technician, racket):
    other = new_frame(technician, "Other")
    bare = MeasuredSpecs(Estimate(288, 0.1), Estimate(31.1, 0.05), Estimate(258, 1.0), 10.0)
    record(other, Taking(bare, "bare"), technician)
    address = f"{at('measuring:compare')}?frame={racket.pk}&frame={other.pk}"
    page = client.get(address).content.decode()
    assert "These are in different setups" in page
    page = client.get(f"{address}&build=playing").content.decode()
    assert "Its fittings are unknown" in page
    fit_accessories(other, technician.shop.accessories.filter(kind="strings"))
    page = client.get(f"{address}&build=playing").content.decode()
    assert "converted" in page
    assert "within the noise" in page
    assert "Select two or more frames in the" in client.get(at("measuring:compare")).content.decode()


def test_what_is_felt_is_the_shops_own_rule(client, technician, racket):
    near = MeasuredSpecs(Estimate(308.6, 0.1), Estimate(31.8, 0.05), Estimate(294, 1.0), 10.0)
    other = new_frame(technician, "Near", measured=near)
    address = f"{at('measuring:compare')}?frame={racket.pk}&frame={other.pk}"
    assert "real, likely felt" not in words(client.get(address))
    shop = {
        "name": "Bench",
        "latitude_deg": "53.4",
        "altitude_m": "4",
        "felt_mass_g": "5",
        "felt_balance_cm": "0.5",
        "felt_swingweight_kgcm2": "5",
        "felt_twistweight_kgcm2": "1",
        "opens_at": "10:00",
        "closes_at": "16:00",
        "work_days": ["0", "2"],
        "currency": "€",
        "follow_up_after_days": "7",
    }
    assert client.post(at("shops:shop"), shop | {"latitude_deg": "95"}).status_code == 422
    assert client.post(at("shops:shop"), shop | {"closes_at": "09:00"}).status_code == 422
    assert client.post(at("shops:shop"), shop).status_code == 302
    assert "real, likely felt" in words(client.get(address))
    technician.shop.refresh_from_db()
    assert technician.shop.gravity_cms2.value == pytest.approx(981.37, abs=0.02)
    assert technician.shop.work_days == [0, 2]


# -- whose, and how many queries --------------------------------------------------------------------


def addresses(frame, instrument):
    pk = frame.pk
    return [
        at("frames:detail", pk),
        at("frames:fittings", pk),
        at("measuring:measure", pk),
        at("measuring:swing", pk, "pendulum"),
        at("measuring:swing", pk, "cords"),
        at("measuring:edit_instrument", instrument.pk),
        at("measuring:calibrate", instrument.pk),
    ]


def test_nothing_is_seen_from_another_shop(client, bench):
    stranger = new_person("stranger")
    frame = new_frame(stranger, "Not yours")
    for address in addresses(frame, stranger.shop.instruments.first()):
        assert client.get(address).status_code == 404, address
    take = at("measuring:take", stranger.shop.instruments.first().pk)
    assert client.post(take).status_code == 404
    assert "Not yours" not in client.get(f"{at('measuring:compare')}?frame={frame.pk}").content.decode()


def test_pages_ask_ten_queries_at_most(client, bench, racket, technician, django_assert_max_num_queries):
    """However many frames, sheets and readings there are."""
    for number in range(12):
        frame = new_frame(technician, f"Frame {number}")
        frame.client = racket.client
        frame.save()
    for _ in range(3):
        bench.save(**RIGHT)
        rod = {"mass_1": "400", "length_1": "80", "reading_1": "213.3"}
        client.post(at("measuring:calibrate", bench.machine.pk), rod)
    pages = addresses(racket, bench.machine)
    pages += [
        at("frames:list"),
        at("measuring:instruments"),
        f"{at('measuring:compare')}?frame={racket.pk}&frame={frame.pk}",
        at("materials:fittings"),
        at("planning:list"),
        at("taking_in:take_in", "tennis"),
    ]
    for address in pages:
        with django_assert_max_num_queries(10, info=address):
            assert client.get(address).status_code == 200
    with django_assert_max_num_queries(7):
        bench.look(**RIGHT)


def test_builds_of_one_frame_differ_by_their_fittings_alone(client, racket):
    """The frame's own ± is in both builds and does not count in their gap."""
    page = client.get(f"{at('measuring:compare')}?frame={racket.pk}&build=all").content.decode()
    assert page.count("converted</small>") == 2
    assert "within the noise" not in page.split("Balance")[0].split("Static weight")[1]


def test_nothing_is_strung_on_a_paddle(client, paddle):
    assert "strung" not in client.get(at("measuring:measure", paddle.pk)).content.decode()
    assert "strung" not in client.get(at("frames:fittings", paddle.pk)).content.decode()
    compared = client.get(f"{at('measuring:compare')}?frame={paddle.pk}&build=all").content.decode()
    assert "strung" not in compared.split("<thead>")[1]


def test_totals_of_a_stopwatch_become_a_swing_weight(client, racket):
    """As people say them, several at once; a miscount is named, and what was typed stays."""
    address = at("measuring:swing", racket.pk, "pendulum")
    total = 16 * PERIOD
    typed = f"16 in {total:.1f} s\n16 in {total + 0.04:.2f}"
    said = words(client.post(f"{address}/summary", HANGING | {"totals": typed}))
    assert f"{PERIOD:.2f}" in said
    wrong = client.post(
        address, HANGING | {"totals": f"16 in {total:.1f}; 15 in {total:.1f}; 16 in {total:.1f}"}
    )
    assert wrong.status_code == 422
    assert "does not fit the others: at their rate that" in wrong.content.decode()
    assert f"15 in {total:.1f}" in wrong.content.decode()
    assert "is no total" in words(client.post(address, HANGING | {"totals": "long"}))
    assert client.post(address, HANGING | {"totals": typed}).status_code == 302
    racket.refresh_from_db()
    assert racket.specs.swingweight_kgcm2 == pytest.approx(287, abs=2)
    assert racket.specs.readings.get().detail["totals"][0][0] == 16


def test_a_persons_own_scatter_is_learnt_or_typed(client, racket, technician):
    """From the taps of swings timed before; what is typed wins, and a wild one is refused."""
    address = at("measuring:swing", racket.pk, "pendulum")
    assert scatter_learnt_of(technician) is None
    client.post(address, HANGING | {"times": taps()})
    learnt = scatter_learnt_of(technician)
    assert learnt.u < learnt.value
    assert f'placeholder="{learnt.value:.3f}, learnt"' in client.get(address).content.decode()
    one = {"totals": f"16 in {16 * PERIOD:.2f}"}
    us = []
    for scatter in ("", "0.2"):
        page = client.post(f"{address}/summary", HANGING | one | {"scatter": scatter})
        us.append(page.context["found"].period.u)
    assert us[0] < us[1] / 3
    assert "0.001 to 0.5 s" in words(client.post(address, HANGING | one | {"scatter": "3"}))


# -- what a workshop builds itself ------------------------------------------------------------------


def test_a_balance_board_is_planned_and_checked_with_a_rod(client):
    page = words(client.get(at("measuring:build_board")))
    assert "a plain rod of 600 mm must show 150 mm" in page
    asked = {"offset_0": "10", "offset_1": "cm", "rod_0": "60", "rod_1": "cm"}
    told = client.get(at("measuring:build_board"), asked | {"reading_0": "20.2", "turned_0": "19.8"})
    assert "The ruler’s zero lies 100 mm from the pivot" in words(told)
    assert "The rod is uneven" in words(told)
    for typed, field in (
        ({"reading_0": "20.2"}, "turned"),
        ({"offset_0": "30"}, "offset"),
        ({"rod_0": "20", "reading_0": "5", "turned_0": "5"}, "rod"),
    ):
        refused = client.get(at("measuring:build_board"), asked | typed)
        assert list(refused.context["form"].errors) == [field]


def test_an_instrument_is_set_up_in_words_and_its_cable_is_folded(client, technician):
    page = words(client.get(at("measuring:new_instrument", "machine")))
    assert "318.4 on its display: steps of 0.1. 318" in page
    assert "<details > <summary>Cable and line pattern" in page
    typed = {"name": "Own", "resolution": "1", "repeatability": "1", "axis_cm": "10", "due_after_days": "90"}
    wrong = {"address": "nowhere", "pattern": "x", "baud": "9600"}
    refused = client.post(at("measuring:new_instrument", "machine"), typed | wrong)
    assert "<details open> <summary>Cable and line pattern" in words(refused)


def test_a_balance_on_a_finger_is_told_with_a_fingers_width(client, racket, technician):
    finger = technician.shop.instruments.get(kind="finger")
    sent = {"build": "playing", "axis": "10", "axis_unit": "cm", "balance_1": "32.0", "balance_unit": "cm"}
    client.post(at("measuring:measure", racket.pk), sent | {"balance_instrument": finger.pk, "keep": "1"})
    racket.refresh_from_db()
    assert racket.specs.balance_cm == pytest.approx(32.0)
    assert 0.25 < racket.specs.balance_u_cm < 0.45
