"""Trials on court: planned, answered on a phone without a sign-in, told, and made a target."""

import random
import re
from datetime import timedelta

import pytest
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.web.kit.models import Search
from kentrobar.web.matching.services import create_set
from kentrobar.web.planning.models import Plan
from kentrobar.web.play.models import Trial, TrialAsk
from kentrobar.web.play.trials import services
from kentrobar.web.play.trials.trial_state import trial_state
from tests.addresses import at
from tests.web.conftest import new_frame, new_person, solve_searches, words

ASKED = {"search": "swingweight", "way": "compare", "is_blind": "on"}


def planned(client, frame, **asked):
    """A trial asked for, and planned as a worker does; the page that is then shown."""
    page = client.post(at("play:frame_trials", frame.pk), ASKED | asked)
    if page.status_code == 302:
        solve_searches()
        page = client.get(page.url)
    return page, Trial.objects.first()


@pytest.fixture
def trial(client, racket):
    _, found = planned(client, racket)
    card = client.get(reverse("kit:search", args=[Search.objects.get().pk]))
    assert card.headers["HX-Redirect"] == at("play:trial", found.pk)
    return found


@pytest.fixture
def phone(trial):
    """The player's: signed in nowhere."""
    return Client(), at("play:play", trial.secret)


def prefers(trial, best):
    """What a player says who feels everything and likes ``best``."""
    ask = trial_state(trial).open
    values = {setup.number: setup.values[0] for setup in trial.setups.all()}
    off = abs(values[ask.first] - best) - abs(values[ask.second] - best)
    return {"number": ask.number, "said": "same" if abs(off) < 1 else "a" if off < 0 else "b"}


def test_a_trial_lays_out_setups_that_can_be_read_and_asks_the_first(client, trial, racket):
    text = words(client.get(at("play:trial", trial.pk)))
    values = [setup.values[0] for setup in trial.setups.all()]
    assert values == sorted(values)
    assert values[0] == pytest.approx(287.0)
    assert "0: 287.0 kg·cm² (as it is)" in text
    assert "0 of at most 21 answered" in text
    assert "Now: number 1" in text
    for setup in trial.setups.exclude(number=0):
        client.post(at("play:lay_setup", trial.pk, setup.number))
        setup.refresh_from_db()
        board = words(client.get(at("planning:board", setup.plan.pk)))
        assert f"{setup.values[0]:.1f}" in board  # the board predicts what the trial counts with
        break
    client.post(at("play:lay_setup", trial.pk, setup.number))
    assert Plan.objects.filter(frame=racket).count() == 1  # made once


def test_the_phone_needs_no_sign_in_and_tells_nothing_of_the_setups(trial, phone):
    device, address = phone
    page = device.get(address)
    text = words(page)
    assert "Which suits you better?" in text
    assert "kg·cm²" not in page.content.decode()
    assert not re.search(r"\d{3}\.\d", page.content.decode())
    assert page.headers["X-Robots-Tag"] == "noindex"
    assert "no-store" in page.headers["Cache-Control"]
    assert device.get(at("play:play", "guessed")).status_code == 404
    assert device.get(at("play:trial", trial.pk)).status_code == 302


def test_an_answer_is_taken_once_and_the_next_is_asked(trial, phone):
    device, address = phone
    sent = {"number": 1, "said": "a"}
    for _ in range(3):  # the phone lost the answer and sent it again
        assert device.post(address, sent).status_code == 302
    assert [(each.number, each.said) for each in trial.asks.all()] == [(1, "a"), (2, "")]
    late = device.post(address, {"number": 1, "said": "b"})
    assert late.status_code == 422
    assert "answered already" in words(late)
    assert trial.asks.get(number=1).said == "a"


@pytest.mark.parametrize("sent", [{}, {"said": "c"}, {"said": "a", "number": 7}, {"rated": 3}, {"rated": 12}])
def test_what_is_no_answer_is_refused(trial, phone, sent):
    device, address = phone
    page = device.post(address, {"number": 1} | sent)
    assert page.status_code == 422
    assert "alert" in page.content.decode()
    assert trial.asks.count() == 1


def test_a_wrong_tap_is_asked_again(trial, phone):
    device, address = phone
    device.post(address, {"number": 1, "said": "a"})
    pair = trial.asks.get(number=1).first
    device.post(address, {"take_back": 1})
    open_ask = trial.asks.get(withdrawn_at=None)
    assert (open_ask.number, open_ask.said, open_ask.first) == (1, "", pair)
    assert device.post(address, {"take_back": 1}).status_code == 422
    device.post(address, {"number": 1, "said": "b"})
    assert [each.said for each in trial.asks.filter(number=1).order_by("pk")] == ["a", "b"]  # both are kept


def test_a_phone_changes_nothing_of_a_trial_that_is_over(client, trial, phone):
    device, address = phone
    for number in (1, 2):
        device.post(address, {"number": number, "said": "a"})
    client.post(at("play:end_trial", trial.pk))
    kept = list(trial.asks.values())
    for sent in ({"take_back": 2}, {"take_back": 1}, {"number": 2, "said": "b"}, {"number": 3, "said": "a"}):
        refused = device.post(address, sent)
        assert refused.status_code == 422
        assert refused.context["error"]
    trial.refresh_from_db()
    assert trial.ended_at
    assert list(trial.asks.values()) == kept
    assert "take_back" not in device.get(address).content.decode()
    client.post(at("play:ask_again", trial.pk), {"number": 2})  # the shop may go on with it
    trial.refresh_from_db()
    assert trial.ended_at is None
    assert set(trial.asks.values_list("pk", flat=True)) > {each["id"] for each in kept}


def test_an_address_is_renewed_and_expires(client, trial, phone):
    device, address = phone
    client.post(at("play:renew_address", trial.pk))
    assert device.get(address).status_code == 404
    trial.refresh_from_db()
    renewed = at("play:play", trial.secret)
    assert device.get(renewed).status_code == 200
    Trial.objects.update(address_until=timezone.now() - timedelta(minutes=1))
    for answer in (device.get(renewed), device.post(renewed, {"number": 1, "said": "a"})):
        assert answer.status_code == 410
        assert "ask" not in answer.context
    assert not trial.asks.filter(answered_at__isnull=False).exists()


def test_a_player_is_led_to_their_best_which_becomes_the_target(client, trial, phone, racket, technician):
    device, address = phone
    trial.refresh_from_db()
    while not trial.ended_at:
        device.post(address, prefers(trial, 295.0))
        trial.refresh_from_db()
    assert "Done. Thank you!" in words(device.get(address))
    page = client.get(at("play:trial", trial.pk))
    best = trial_state(trial).found.best()[0]
    assert best.low < 295.0 < best.high
    assert best.half_width < 8  # of a range of 16
    text = words(page)
    assert f"Best swing weight <strong>{best.value:.1f} kg·cm²</strong>" in text
    assert "Enough" in text
    wish = client.get(page.context["shown"].target_address)
    assert wish.context["form"].initial["swingweight"][0] == f"{best.value:.1f}"
    found = create_set([racket, new_frame(technician, "Reed 100 B")], technician)
    client.post(at("play:aim_set", trial.pk), {"set": found.pk})
    found.refresh_from_db()
    assert found.target.centres["swingweight_kgcm2"] == pytest.approx(best.value, abs=1e-3)
    assert found.kind == found.TargetKind.WRITTEN


def test_who_guesses_is_told_so(client, trial):
    # Of the heavier, the lighter and none, whichever is played first.
    guesses = random.Random(8)  # noqa: S311 - no secret
    while ask := trial_state(trial).open:
        guess = guesses.choice([True, False, None])
        said = "same" if guess is None else "a" if (ask.first > ask.second) == guess else "b"
        services.answer(trial, ask.number, said=said)
        trial.refresh_from_db()
    text = words(client.get(at("play:trial", trial.pk)))
    assert "The answers are hardly better than guesses" in text
    assert re.search(r"said the same \d+ of \d+ times", text)


def test_ratings_are_asked_one_by_one(client, racket):
    _, trial = planned(client, racket, way="rate")
    device, address = Client(), at("play:play", trial.secret)
    assert "How well does it suit you?" in words(device.get(address))
    for number in range(1, 17):
        setup = trial.setups.get(number=trial.asks.get(number=number).first)
        rated = max(1, round(7 - abs(setup.values[0] - 295) / 2))
        assert device.post(address, {"number": number, "rated": rated}).status_code == 302
    trial.refresh_from_db()
    assert trial.ended_at
    best = trial_state(trial).found.best()[0]
    assert best.low < 295 < best.high
    assert "All questions are answered. The best is" in words(client.get(at("play:trial", trial.pk)))


def test_a_player_alone_sees_what_to_fit_and_is_asked_no_blank(client, racket):
    _, trial = planned(client, racket, is_blind="", search="swingweight", swingweight_step="4")
    assert not trial.is_blind
    page = client.get(at("play:trial", trial.pk))
    assert "The first suits better" in words(page)
    assert page.context["shown"].progress.of == 18
    client.post(at("play:answer", trial.pk), {"number": 1, "said": "same"})
    assert trial.asks.count() == 2
    client.post(at("play:end_trial", trial.pk))
    trial.refresh_from_db()
    assert trial.ended_at
    assert "ended before the best was known" in words(client.get(at("play:trial", trial.pk)))


def test_twins_are_played_one_after_the_other(client, racket, technician):
    twin = new_frame(technician, "Reed 100 A5")  # of the same player
    _, trial = planned(client, racket, twin=twin.pk)
    assert trial.twin == twin
    assert "Reed 100 A5" in words(client.get(at("play:trial", trial.pk)))
    assert "then ten with Reed 100 A5" in words(Client().get(at("play:play", trial.secret)))
    heavier = MeasuredSpecs(
        Estimate(308.6, 0.1), Estimate(31.8, 0.05), Estimate(293, 1), 10.0, Estimate(13.6, 0.2)
    )
    unlike = new_frame(technician, "Reed 100 A6", measured=heavier)
    page, _ = planned(client, racket, twin=unlike.pk)
    assert Trial.objects.get() == trial
    assert "The two frames do not reach the same" in words(page)
    assert page.context["form"]["twin"].value() == str(unlike.pk)


@pytest.mark.parametrize(
    ("asked", "field", "sentence"),
    [
        ({"swingweight_low": "much"}, "swingweight_low", ""),
        ({"swingweight_low": "300", "swingweight_high": "290"}, "swingweight_low", "Enter a rising range of"),
        ({"swingweight_step": "0.2"}, "swingweight_low", "more than an evening has"),
        ({"search": "weight"}, "search", ""),
    ],
)
def test_a_slip_stands_at_its_field_and_what_was_typed_is_kept(client, racket, asked, field, sentence):
    page, trial = planned(client, racket, **asked)
    assert page.status_code == 422
    assert trial is None
    assert page.context["form"].errors[field]
    assert sentence in words(page)
    for name, text in asked.items():
        if name != "search":
            assert f'value="{text}"' in page.content.decode()


def test_a_spec_that_was_not_read_cannot_be_sought(client, paddle):
    page, trial = planned(client, paddle)
    assert trial is None
    assert "swing weight of this frame is not measured" in words(page)


def test_ounces_and_inches_are_asked_and_told_in_them(client, racket, technician):
    technician.length_unit, technician.mass_unit, technician.inertia_unit = "in", "oz", "oz·in²"
    technician.save()
    _, trial = planned(
        client, racket, search="swingweight_balance", swingweight_step="27", balance_step="0.2"
    )
    page = client.get(at("play:trial", trial.pk))
    text = words(page)
    assert "oz·in²" in text
    assert "kg·cm²" not in text
    assert not re.search(r"\d g\b|\d cm\b", text)
    assert TrialAsk.objects.count() == 1


def test_another_shop_sees_nothing_of_it(client, trial):
    client.force_login(new_person("other"))
    assert client.get(at("play:trial", trial.pk)).status_code == 404
    for what in ("answer", "take-back", "end", "aim-set", "setups/1/lay"):
        assert client.post(f"/play/trials/{trial.pk}/{what}", {"number": 1, "said": "a"}).status_code == 404
    assert trial.asks.get().said == ""
