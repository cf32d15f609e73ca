"""Compare plans, archived, copied and moved to another frame."""

import pytest

from kentrobar.core.frame.outline import RacketDimensions
from kentrobar.web.materials.models import Material
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.services import create_plan
from kentrobar.web.planning.stored import plan_state
from tests.addresses import at
from tests.web.conftest import new_frame, new_person, words


@pytest.fixture
def other(racket, technician):
    return create_plan(racket, technician, name="Second")


def columns(client, *plans):
    page = client.get(f"{at('planning:compare')}?" + "&".join(f"plan={plan.pk}" for plan in plans))
    assert page.status_code == 200
    return page.context["columns"], page.content.decode()


def test_two_plans_stand_side_by_side(hand, client, plan, other):
    Material.objects.filter(name="Lead tape, quarter inch").update(price="10.00", sold_amount=1000)
    hand.lay(amount="10 cm", site="three_nine", mirrored="1")
    hand.lay("Silicone", "3 g", site="butt_cap")
    (first, second), page = columns(client, plan, other)
    assert (first.appraisal.visible, first.appraisal.lasting) == (2, 1)
    assert (first.money, second.money) == ("a price is missing", "0.00 €")
    assert "Partly: something stays for good." in page
    assert "+2.0" not in page.split("Static weight")[0]
    Material.objects.filter(name="Silicone").update(price="8.00", sold_amount=80)
    (first, _), _ = columns(client, plan, other)
    assert first.money == "0.50 €"  # 20 cm of 10 m for 10, 3 g of 80 g for 8


def test_hidden_pieces_do_not_count_as_seen(hand, client, plan, other):
    hand.lay(amount="5 cm", site="twelve", face="bumper")
    hand.lay("Removable putty", "3 g", site="butt_cap")
    (first, _), _ = columns(client, plan, other)
    assert first.appraisal.visible == 0
    assert first.appraisal.minutes > 25  # the bumper comes off for it


def test_what_shows_is_told_with_its_look(hand, client, plan, other, technician):
    technician.shop.materials.filter(name="Lead tape, quarter inch").update(look="matt black")
    hand.lay(site="three_nine")
    page = words(client.get(at("planning:compare"), {"plan": [plan.pk, other.pk]}))
    assert "(matt black)" in page


def test_each_plan_stands_among_the_usual_range(client, technician):
    frame = new_frame(technician)
    plans = [create_plan(frame, technician, name=name) for name in ("Mild", "Strong")]
    page = words(client.get(f"{at('planning:compare')}?" + "&".join(f"plan={plan.pk}" for plan in plans)))
    row = page.split("Swing weight<br>", 1)[1].split("</tr>")[0]
    assert row.count("low</strong>, usual 300.0 to 340.0 kg·cm² · quick to swing</small>") == 2
    Plan.objects.update(axis_cm=12.0)
    page = words(client.get(f"{at('planning:compare')}?" + "&".join(f"plan={plan.pk}" for plan in plans)))
    row = page.split("Swing weight<br>", 1)[1].split("</tr>")[0]
    assert row.count("low</strong>, usual 300.0 to 340.0 kg·cm² about 10 cm") == 2


@pytest.mark.parametrize("query", ["", "plan=1", "plan=x&plan=y", "plan=999999&plan=999998"])
def test_fewer_than_two_are_not_compared(client, technician, query):
    page = client.get(f"{at('planning:compare')}?{query}", follow=True)
    assert "Select two to four plans to compare" in page.content.decode()


def test_of_five_the_first_four_are_shown(client, racket, technician):
    plans = [create_plan(racket, technician, name=f"No. {i}") for i in range(5)]
    shown, page = columns(client, *plans)
    assert [column.plan.name for column in shown] == ["No. 0", "No. 1", "No. 2", "No. 3"]
    assert "Four plans fit" in page


def test_anothers_plans_are_not_compared(client, technician):
    stranger = new_person("stranger")
    theirs = create_plan(new_frame(stranger), stranger, name="Theirs")
    address = f"{at('planning:compare')}?plan={theirs.pk}&plan={theirs.pk + 1}"
    assert client.get(address).status_code == 302
    for action in ("archive", "cut", "move", "order"):
        assert client.post(f"/plans/{theirs.pk}/{action}").status_code == 404


def test_an_archived_plan_is_out_of_sight_and_back(client, plan):
    client.post(at("planning:archive", plan.pk))
    assert client.get(at("planning:list")).context["rows"] == []
    assert client.get(f"{at('planning:list')}?archived").context["rows"][0].plan == plan
    client.post(at("planning:archive", plan.pk), {"archived": "0"})
    assert client.get(at("planning:list")).context["rows"][0].plan == plan


def test_a_plan_is_predicted_on_another_frame(hand, client, plan, technician):
    hand.lay(amount="10 cm", site="three_nine", mirrored="1")
    client.post(at("planning:order", plan.pk), {"order": "at_once"})
    longer = new_frame(technician, "Long", RacketDimensions(69.85, 34.2, 26.1, 23.0, 18.0))
    moved = client.post(at("planning:move", plan.pk), {"frame": longer.pk}, follow=True)
    made = Plan.objects.latest("pk")
    assert "on Long" in moved.content.decode()
    assert (made.frame, made.order_of_work) == (longer, "at_once")
    before, after = (
        plan_state(p).prediction.change.swingweight_kgcm2.value for p in (Plan.objects.get(pk=plan.pk), made)
    )
    assert after > before  # the hoop lies farther from the hand
    assert plan.frame != longer


def test_what_has_no_place_there_stays_where_it_is(hand, client, plan, paddle, technician):
    hand.lay(amount="60 cm", site="twelve")
    refused = client.post(at("planning:move", plan.pk), {"frame": paddle.pk}, follow=True)
    assert "for another sport" in refused.content.decode()
    tiny = new_frame(technician, "Tiny", RacketDimensions(43.0, 16.0, 12.5, 20.0, 12.0))
    refused = client.post(at("planning:move", plan.pk), {"frame": tiny.pk}, follow=True)
    assert "longer than the rim" in refused.content.decode()
    assert Plan.objects.count() == 1
