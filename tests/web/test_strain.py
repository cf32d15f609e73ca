"""What a player told of strain changes: which wish and plan come first, steps over weeks; rules of play."""

import re

import pytest

from kentrobar.web.frames.baselines import strains_of
from kentrobar.web.kit.numbers import Units
from kentrobar.web.planning.stored import plan_state
from kentrobar.web.shops.models import Shop
from kentrobar.web.showing.strain import strain_text
from tests.addresses import at
from tests.web.conftest import searched, words


@pytest.fixture
def sore(racket):
    racket.client.strain = ["elbow"]
    racket.client.save()
    return racket


def target_page(client, frame, **typed):
    return client.get(at("planning:target", frame.pk), typed)


def test_the_gentler_goal_comes_first_and_is_filled_in(client, sore):
    page = target_page(client, sore)
    assert next(iter(page.context["goals"])).key == "gentler"
    assert page.context["goal"].key == "gentler"
    assert float(page.context["form"].initial["mass"][0]) == pytest.approx(312.6)
    assert "Ines reported pain (elbow)" in words(page)
    assert "Pain is for a clinician" in words(page)


def test_without_strain_it_is_one_goal_among_others(client, racket):
    page = target_page(client, racket)
    assert page.context["goal"] is None
    assert [goal.key for goal in page.context["goals"]][-1] == "gentler"
    assert "reported pain" not in words(page)


def test_a_jump_is_told_in_steps_over_weeks(client, sore):
    typed = {"search": "plans", "swingweight_0": "296", "swingweight_1": "kg·cm²", "swingweight_2": "1"}
    form = target_page(client, sore).context["form"]
    typed |= {name: form.fields[name].choices[0][0] for name in ("tape", "putty")}
    typed |= {"step_0": "0.5", "step_1": "cm"}
    text = words(target_page(client, sore, **typed))
    assert "more than one step" in text
    told = re.search(r"Swing weight in steps: ([\d.]+) kg·cm² first", text)
    assert 287 < float(told[1]) < 290
    assert "296.0 kg·cm² after 6 weeks" in text
    small = words(target_page(client, sore, **typed | {"swingweight_0": "289"}))
    assert "more than one step" not in small


def test_plans_that_raise_the_swing_weight_least_stand_first(client, sore):
    typed = {
        "search": "plans",
        "mass_0": "314",
        "mass_1": "g",
        "mass_2": "0.5",
        "step_0": "0.5",
        "step_1": "cm",
        "swingweight_1": "kg·cm²",
    }
    form = target_page(client, sore).context["form"]
    typed |= {name: form.fields[name].choices[0][0] for name in ("tape", "putty")}
    page = searched(client, at("planning:target", sore.pk), typed)
    rises = []
    for card in page.context["found"].cards:
        if card.search.part in ("least", "hoop", "handle"):
            swing = next(s for s in card.view.specs if s.name == "Swing weight")
            rises.append(float(swing.cell.change.value.replace("−", "-")))
    assert len(rises) > 1
    assert rises == sorted(rises)


def test_the_board_and_the_card_tell_the_steps(client, sore, hand, plan, technician):
    hand.lay(site="twelve", amount="10 cm")
    text = words(client.get(at("planning:board", plan.pk)))
    assert "The player reported pain (elbow)" in text
    assert "Swing weight in steps" in text
    plan.refresh_from_db()
    in_ounces = Units("oz", "in", "in", inertia="oz·in²")
    on_card = strain_text(plan_state(plan), strains_of(sore), in_ounces, to_player=True)
    assert on_card.startswith("You reported pain (elbow)")
    assert "oz·in² first" in on_card
    assert "kg·cm²" not in on_card


def test_the_day_the_rules_were_looked_at_stands_beside_added_weight(client, racket, hand, plan, technician):
    hand.lay(site="three_nine", amount="12 cm")
    board = at("planning:board", plan.pk)
    assert "The rules for rackets have not been checked here" in words(client.get(board))
    form = client.get(at("shops:shop")).context["form"]
    sent = {name: form[name].value() for name in form.fields}
    sent = {name: value for name, value in sent.items() if value is not None}
    rules = {"rules_tennis_on": "2026-03-04", "rules_tennis_note": "Ask the referee about the throat."}
    slip = client.post(at("shops:shop"), sent | rules | {"rules_tennis_on": "2999-01-01"})
    assert slip.status_code == 422
    assert "still to come" in words(slip)
    assert "Ask the referee about the throat." in slip.content.decode()
    assert client.post(at("shops:shop"), sent | rules).status_code == 302
    text = words(client.get(board))
    assert "looked at here on 4 March 2026" in text
    assert "Ask the referee about the throat." in text
    assert Shop.objects.get(pk=technician.shop_id).rules_of_play["pickleball"]["seen_on"] == ""


def test_a_trial_reaches_less_far_for_a_sore_arm(client, sore):
    page = client.get(at("play:frame_trials", sore.pk))
    assert "the range reaches less far" in words(page)
    high = page.context["form"].fields["swingweight_high"].widget.attrs["placeholder"]
    assert 290 < float(high) < 294
