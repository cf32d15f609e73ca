"""From an empty shop to a first answer; stiffness; balance over an edge."""

import json

import pytest

from kentrobar.web.frames.models import Frame
from kentrobar.web.measuring.models import Instrument, Stiffness
from kentrobar.web.planning.models import Plan
from tests.addresses import at
from tests.web.conftest import new_frame, new_person, words

FIRST = {
    "sport": "tennis",
    "label": "Mine",
    "mass_1": "305",
    "mass_unit": "g",
    "balance_1": "32.4",
    "balance_unit": "cm",
}


class TestFirstSteps:
    def test_an_empty_shop_is_offered_three_steps_and_one_with_frames_is_not(self, client, technician):
        assert "Three steps to a first number" in words(client.get(at("orders:today")))
        new_frame(technician)
        assert "Three steps" not in words(client.get(at("orders:today")))

    def test_a_name_a_weight_and_a_balance_come_to_a_board(self, client):
        plan = _plan_of(client.post(at("welcome:first"), FIRST))
        measured = plan.frame.specs.measured
        assert (measured.mass_g.value, measured.balance_cm.value) == (305.0, pytest.approx(32.4))
        assert plan.frame.specs.readings.count() == 2
        assert "usual" in words(client.get(at("frames:detail", plan.frame.pk)))

    def test_nothing_but_a_name_still_comes_to_a_board(self, client):
        only_named = {"sport": "pickleball", "label": "Paddle"}
        plan = _plan_of(client.post(at("welcome:first"), only_named))
        assert plan.frame.specs is None
        assert not plan.frame.is_racket

    def test_balance_in_points_counts_from_the_middle(self, client):
        plan = _plan_of(client.post(at("welcome:first"), FIRST | {"balance_1": "8 HL", "balance_unit": "pt"}))
        assert plan.frame.specs.measured.balance_cm.value == pytest.approx(68.58 / 2 - 8 * 2.54 / 8)

    @pytest.mark.parametrize(
        ("slip", "sentence"),
        [
            ({"mass_1": "heavy"}, "heavy"),
            ({"label": ""}, "required"),
            ({"balance_1": "80"}, "Fix the marked fields"),
        ],
    )
    def test_a_slip_is_told_and_nothing_is_kept(self, client, slip, sentence):
        answer = client.post(at("welcome:first"), FIRST | slip)
        assert answer.status_code == 422
        assert sentence in words(answer)
        assert answer.context["form"]["label"].value() == (FIRST | slip)["label"]
        assert not Frame.objects.exists()

    def test_the_made_up_racket_is_said_to_be_made_up_and_fully_read(self, client):
        answer = client.post(at("welcome:try_out"), follow=True)
        assert "sample racket" in words(answer)
        plan = Plan.objects.get()
        assert plan.frame.specs.measured.swingweight_kgcm2.value == 312.0
        assert plan.frame.specs.measured.twistweight_kgcm2.value == 13.4


def _plan_of(answer):
    assert answer.status_code == 302, words(answer)
    plan = Plan.objects.get()
    assert answer["Location"] == at("planning:board", plan.pk)
    return plan


class TestStiffness:
    def test_it_is_read_again_kept_and_compared(self, client, technician, racket):
        other = new_frame(technician, "Reed 100 B")
        for value in ("63", "64.5"):
            sent = {"of": "frame", "value": value, "scale": "bench tester"}
            client.post(at("measuring:stiffness", racket.pk), sent)
        client.post(at("measuring:stiffness", racket.pk), {"of": "strings", "value": "55"})
        assert Stiffness.objects.count() == 3
        racket.refresh_from_db()
        assert racket.stiffness == 64.5
        page = words(client.get(at("measuring:readings", racket.pk)))
        assert "<strong>63</strong> bench tester" in page
        compared = words(client.get(f"{at('measuring:compare')}?frame={racket.pk}&frame={other.pk}"))
        row = compared.split("Stiffness of the frame", 1)[1].split("</tr>")[0]
        assert "64.5" in row
        assert "63<" not in row
        assert "not measured" in row
        assert "Stiffness of the string bed" in compared

    @pytest.mark.parametrize("value", ["", "-3", "0", "soft", "1e9"])
    def test_no_reading_is_refused_with_a_sentence(self, client, racket, value):
        sent = {"of": "frame", "value": value}
        answer = client.post(at("measuring:stiffness", racket.pk), sent, follow=True)
        assert "Nothing is saved" in words(answer)
        assert not Stiffness.objects.exists()

    def test_a_paddle_has_no_string_bed(self, client, paddle):
        client.post(at("measuring:stiffness", paddle.pk), {"of": "strings", "value": "55"})
        assert not Stiffness.objects.exists()

    def test_anothers_frame_is_not_found(self, client, other_racket):
        sent = {"of": "frame", "value": "60"}
        assert client.post(at("measuring:stiffness", other_racket.pk), sent).status_code == 404


@pytest.fixture
def other_racket(db):
    return new_frame(new_person("other"))


def test_balance_over_an_edge_is_known_less_well_than_on_a_board(client, racket):
    edge, board = (
        Instrument.objects.filter(shop=racket.shop, kind=kind).first() for kind in ("edge", "board")
    )
    page = words(client.get(at("measuring:measure", racket.pk)))
    assert "Over a table’s edge or a pencil" in page
    assert edge.name in page
    u = {}
    for instrument in (board, edge):
        sent = {
            "build": "playing",
            "balance_1": "318",
            "balance_unit": "mm",
            "balance_instrument": instrument.pk,
            "keep": "1",
        }
        client.post(at("measuring:measure", racket.pk), sent)
        racket.refresh_from_db()
        u[instrument] = racket.specs.measured.balance_cm.u
    assert u[edge] > 1.4 * u[board]
    assert 0.1 <= u[edge] <= 0.3


@pytest.mark.parametrize(
    ("typed", "fixed"),
    [
        ({"balance_1": "32.5", "balance_unit": "mm"}, {"balance_1": "325"}),
        ({"mass_1": "30.8", "mass_unit": "g"}, None),
    ],
)
def test_a_first_number_that_is_unusual_is_asked_about(client, typed, fixed):
    """Nothing is saved before it is put right, in one click, or kept on purpose."""
    sent = {"sport": "tennis", "label": "Mine", "mass_1": "308", "mass_unit": "g"} | typed
    asked = client.post(at("welcome:first"), sent)
    assert asked.status_code == 422
    assert not Frame.objects.exists()
    form = asked.context["form"]
    assert form.questions or form.fixes
    if fixed:
        orders = [json.loads(fix.order) for question in form.questions for fix in question.fixes]
        orders += [json.loads(fix.order) for fix in form.fixes]
        assert any(order.get("balance_unit") == "cm" or order.get("balance_1") == "325" for order in orders)
        right = next(o for o in orders if o.get("balance_unit") == "cm" or o.get("balance_1") == "325")
        assert client.post(at("welcome:first"), sent | right).status_code == 302
        assert Frame.objects.get().measured.balance_cm.value == pytest.approx(32.5)
    if form.only_asks:
        assert client.post(at("welcome:first"), sent | {"keep": "1", "label": "Odd"}).status_code == 302
