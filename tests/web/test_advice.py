"""Rules of thumb: in everybody's units, with what they do to the frame at hand, in the shop's own words."""

import re

import pytest

from kentrobar.core.body.sport import Sport
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.play.advice import ADVICE, tried_on
from kentrobar.web.frames.baselines import baseline_of
from kentrobar.web.kit.numbers import Units
from kentrobar.web.play.advice.view_models import in_units
from kentrobar.web.play.models import ShopRule
from tests.addresses import at
from tests.core.frames import PADDLE
from tests.core.frames import plan as core_plan
from tests.web.conftest import new_person, words


@pytest.mark.parametrize("rule", ADVICE.values(), ids=ADVICE)
def test_every_rule_has_a_reason_and_limits_and_no_bare_gram(rule):
    assert rule.says
    assert rule.reason
    assert rule.not_where
    for text in (*rule.says, rule.reason, rule.not_where):
        assert not re.search(r"\d (g|oz|cm|mm|kg)\b", re.sub(r"\[.*?\]", "", text))
        assert "[" not in in_units(text, Units())


@pytest.mark.parametrize("rule", [rule for rule in ADVICE.values() if rule.tried], ids=lambda rule: rule.key)
def test_every_dose_can_be_tried_on_a_racket_and_on_a_paddle(rule):
    starts = (core_plan(), core_plan(outline=PADDLE, axis_cm=5.0))
    for start in (each for each in starts if rule.sport in (None, each.outline.sport)):
        tried = tried_on(rule, start)
        sport = start.outline.sport
        added = tried.prediction.change.mass_g.value
        assert added == pytest.approx(sum(dose.grams for dose in rule.tried[sport]))


def test_quantities_are_told_in_ounces_too():
    text = in_units(
        "[3 to 4 g] at 3 and 9, up to [320 g], some feel [5 kg·cm²].",
        Units("oz", "in", "in", inertia="oz·in²"),
    )
    assert text == "0.11 to 0.14 oz at 3 and 9, up to 11.3 oz, some feel 27 oz·in²."


def test_what_stands_beside_a_rule_is_what_the_board_predicts(client, racket):
    page = client.get(at("play:frame_advice", racket.pk))
    rules = {rule.key: rule for _, topic in page.context["topics"] for rule in topic}
    start = PlanState(baseline_of(racket, racket.specs), "", 10.0)
    by = tried_on(ADVICE["power"], start).prediction.change.swingweight_kgcm2.value
    assert f"swing weight +{by:.2f} kg·cm²" in rules["power"].effects[0]
    assert "As heavy".lower() in " ".join(rules["throat"].effects).lower()
    assert any("308.6" in text for text in rules["ceiling"].specs)
    text = words(page)
    assert "Useful:" in text
    assert "Wasted:" in text  # where schools differ, both stand there


def test_a_frame_without_readings_gets_the_rules_without_numbers(client, racket):
    racket.specs = None
    racket.save()
    page = client.get(at("play:frame_advice", racket.pk))
    assert page.status_code == 200
    assert "Ceilings of static weight" in words(page)


def test_a_paddle_gets_the_rules_of_its_sport(client, paddle):
    text = words(client.get(at("play:frame_advice", paddle.pk)))
    assert "How head-light, by weight" not in text
    assert "Ceilings of static weight" in text
    assert ADVICE["headlight"].sport is Sport.TENNIS


def test_the_shops_words_stand_in_place_and_can_be_taken_back(client, racket):
    edit = client.get(at("play:edit_rule", "power"))
    assert "1 to 2 g at the tip" in edit.context["form"].initial["says"]
    sent = {
        "title": "More punch",
        "says": "Two grams, no more.\n\nOr none.",
        "reason": "We say so.",
        "not_where": "",
    }
    client.post(at("play:edit_rule", "power"), sent)
    text = words(client.get(at("play:frame_advice", racket.pk)))
    assert "More punch" in text
    assert "<li>Or none.</li>" in text
    assert "1 to 2 g at the tip, and half" not in text
    shop = words(client.get(at("play:advice")))
    assert "Your words, by technician" in shop
    client.post(at("play:drop_rule", "power"))
    assert "1 to 2 g at the tip, and half" in words(client.get(at("play:frame_advice", racket.pk)))


def test_a_rule_is_hidden_and_an_own_one_added(client, racket):
    client.post(at("play:hide_rule", "throat"))
    client.post(at("play:new_rule"), {"title": "Ours", "says": "Sleep over it."})
    text = words(client.get(at("play:frame_advice", racket.pk)))
    assert "Weight at the throat" not in text
    assert "Sleep over it." in text
    assert "Weight at the throat" in words(client.get(at("play:advice")))  # to be brought back
    own = ShopRule.objects.get(title="Ours")
    client.post(at("play:drop_rule", own.key))
    assert not ShopRule.objects.filter(title="Ours").exists()


def test_a_slip_keeps_what_was_typed(client):
    page = client.post(at("play:new_rule"), {"title": "", "says": "Much weight."})
    assert page.status_code == 422
    assert "Much weight." in page.content.decode()
    many = client.post(at("play:new_rule"), {"title": "A", "says": "\n\n".join("abcdef")})
    assert "Up to 5 schools" in words(many)
    assert client.get(at("play:edit_rule", "nothing")).status_code == 404


def test_other_shops_keep_their_own(client, racket):
    client.post(at("play:hide_rule", "power"))
    client.force_login(new_person("other"))
    assert "More weight behind the ball" in words(client.get(at("play:advice")))
    assert "Hidden" not in words(client.get(at("play:advice")))
