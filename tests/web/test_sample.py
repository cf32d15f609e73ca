"""The sample before sign-in: bounded, stateless, the same numbers as the board, and kept with an account."""

from itertools import combinations

import pytest
from django.test import Client

from kentrobar.core.body.sport import Sport
from kentrobar.web.frames.models import Frame
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.stored import plan_state
from kentrobar.web.shops.models import User
from kentrobar.web.welcome.sample import CHIPS, asked_for, sample_view
from tests.addresses import at
from tests.web.conftest import words

NEW = {"username": "newcomer", "password1": "Xkq8-pl2z-7", "password2": "Xkq8-pl2z-7", "shop_name": "Mine"}


def numbers(rows):
    return {row.key: (row.cell.before.value, row.cell.now.value, row.cell.change.value) for row in rows}


@pytest.mark.parametrize("sport", list(Sport))
def test_every_choice_of_chips_is_shown_and_only_those(sport):
    keys = [chip.key for chip in CHIPS[sport]]
    for count in range(len(keys) + 1):
        for on in combinations(keys, count):
            view = sample_view(sport, on)
            assert [chip.text for chip, of in zip(view.chips, CHIPS[sport], strict=True) if chip.is_on] == [
                of.text for of in CHIPS[sport] if of.key in on
            ]
            assert len(view.drawing.pieces) == count
    assert asked_for("chess", ["sides", "sides", "moon"]) == (Sport.TENNIS, ("sides",))


def test_a_chip_weighs_what_it_says():
    for chip in CHIPS[Sport.TENNIS]:
        view = sample_view(Sport.TENNIS, (chip.key,))
        assert numbers(view.rows)["mass_g"][2] == f"+{float(chip.text.split(' ')[0]):.1f}"


def test_the_page_before_sign_in_shows_it_and_says_what_it_does():
    page = words(Client().get(at("account_login"), {"sport": "tennis", "on": "sides"}))
    assert "Sample racket" in page
    assert "steadier off centre" in page
    assert 'name="password"' in page


def test_a_wrong_password_keeps_the_sample(db):
    page = words(Client().post(at("account_login"), {"login": "nobody", "password": "wrong"}))
    assert "Sample racket" in page


def test_what_is_kept_comes_along_with_the_same_numbers(db):
    stranger = Client()
    form = words(stranger.get(at("account_signup"), {"sport": "pickleball", "on": ["sides", "butt"]}))
    assert 'name="on" value="sides"' in form
    answer = stranger.post(at("account_signup"), NEW | {"sport": "pickleball", "on": ["sides", "butt"]})
    plan = Plan.objects.get()
    assert answer["Location"] == at("planning:board", plan.pk)
    assert plan.frame.shop == User.objects.get(username="newcomer").shop
    seen = numbers(sample_view(Sport.PICKLEBALL, ("sides", "butt")).rows)
    change = plan_state(plan).prediction.change
    assert f"{change.mass_g.value / 28.349523125:+.2f}" == seen["mass_g"][2]
    assert f"{change.swingweight_kgcm2.value:+.1f}" == seen["swingweight_kgcm2"][2]


def test_an_account_without_a_sample_starts_empty(db):
    Client().post(at("account_signup"), NEW)
    assert User.objects.filter(username="newcomer").exists()
    assert not Frame.objects.exists()
