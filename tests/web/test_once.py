"""Every form is taken once, however often it is sent."""

import re
from concurrent.futures import ThreadPoolExecutor

import pytest
from django.apps import apps
from django.db import connection
from django.test import Client
from django.urls import reverse

from kentrobar.web.frames.models import Frame
from kentrobar.web.planning.services import create_plan
from kentrobar.web.shops.models import Submission
from tests.addresses import at
from tests.web.conftest import new_frame, new_person
from tests.web.test_frames import RACKET
from tests.web.test_intake import SHARED, SIX, rows

TOKEN = re.compile(r'name="csrfmiddlewaretoken" value="(\w+)"')


def token_of(client, address):
    found = TOKEN.search(client.get(address).content.decode())
    return {"csrfmiddlewaretoken": found[1]}


def everything():
    """How many rows of everything there are, submissions aside."""
    return {
        model._meta.label: model._base_manager.count()
        for model in apps.get_models()
        if model._meta.app_label in ("frames", "materials", "matching", "measuring", "planning", "shops")
        and model is not Submission
    }


@pytest.fixture
def forms(technician, racket, plan):
    """Page, address and content of every form that creates something."""
    shop = technician.shop
    tape = shop.materials.get(name="Lead tape, quarter inch").pk
    grip = shop.accessories.get(kind="grip").pk
    machine = shop.instruments.filter(kind="machine").first().pk
    fittings = reverse("frames:fittings", args=[racket.pk])
    measure = reverse("measuring:measure", args=[racket.pk])
    calibrate = reverse("measuring:calibrate", args=[machine])
    board, page = (reverse("planning:board", args=[plan.pk]), reverse("frames:detail", args=[racket.pk]))
    other = new_frame(technician, "Reed 100 B").pk
    return {
        "set": (at("frames:list"), at("matching:create"), {"frame": [racket.pk, other]}),
        "frame": (at("taking_in:create", "tennis"), at("taking_in:create", "tennis"), RACKET),
        "take in": (
            at("taking_in:take_in", "tennis"),
            at("taking_in:take_in", "tennis"),
            SHARED | rows(*SIX[:2]) | {"fitted": [grip]},
        ),
        "fitting": (fittings, fittings, {"accessory": grip}),
        "reading": (
            measure,
            measure,
            {
                "build": "playing",
                "mass_1": "308.4",
                "mass_unit": "g",
                "axis": "10",
                "axis_unit": "cm",
                "keep": "1",
            },
        ),
        "plan": (page, at("planning:create"), {"frame": racket.pk}),
        "copy": (board, reverse("planning:duplicate", args=[plan.pk]), {}),
        "move": (board, reverse("planning:move", args=[plan.pk]), {"frame": other}),
        "stock": (
            at("materials:material", tape),
            at("materials:change_stock", tape),
            {"why": "bought", "amount_0": "100", "amount_1": "cm"},
        ),
        "accessory": (at("materials:fittings"), at("materials:fittings"), {"kind": "grip", "name": "Thin"}),
        "calibration": (calibrate, calibrate, {"mass_1": "400", "length_1": "80", "reading_1": "209.15"}),
    }


@pytest.mark.parametrize(
    "form",
    ["frame", "take in", "fitting", "reading", "plan", "copy", "move", "stock", "accessory", "calibration"],
)
def test_what_creates_is_taken_once(client, forms, form):
    page, address, typed = forms[form]
    token = token_of(client, page)
    before = everything()
    first = client.post(address, typed | token)
    assert first.status_code == 302, first.content.decode()
    made = everything()
    assert made != before
    again = client.post(address, typed | token)
    assert (again.status_code, again["Location"]) == (302, first["Location"])
    assert everything() == made
    assert "nothing was done twice" in client.get(first["Location"]).content.decode()


def test_another_page_or_other_words_are_another_submission(client):
    token = token_of(client, at("taking_in:create", "tennis"))
    for typed in (
        RACKET,
        RACKET | {"label": "Another"},
        RACKET | token_of(client, at("taking_in:create", "tennis")),
    ):
        assert client.post(at("taking_in:create", "tennis"), token | typed).status_code == 302
    assert Frame.objects.count() == 3


def test_a_form_that_was_refused_may_be_fixed_and_sent_again(client):
    token = token_of(client, at("taking_in:create", "tennis"))
    bad = RACKET | token | {"label": ""}
    assert client.post(at("taking_in:create", "tennis"), bad).status_code == 422
    assert client.post(at("taking_in:create", "tennis"), bad).status_code == 422
    assert client.post(at("taking_in:create", "tennis"), RACKET | token).status_code == 302
    assert Frame.objects.count() == 1


@pytest.mark.django_db(transaction=True)
def test_at_the_same_time_too():
    technician = new_person("hand")
    racket = new_frame(technician)
    plan = create_plan(racket, technician, name="First")
    client = Client()
    client.force_login(technician, backend="django.contrib.auth.backends.ModelBackend")

    def send(data):
        try:
            return [client.post(address, data).headers.get("Location") for address in addresses]
        finally:
            connection.close()

    addresses = [at("taking_in:create", "tennis"), at("planning:duplicate", plan.pk)]
    before = everything()
    with ThreadPoolExecutor(4) as pool:
        for number in range(1, 6):
            token = {"csrfmiddlewaretoken": f"page{number}"}
            led_to = list(pool.map(send, [RACKET | token] * 4))
            assert led_to == [led_to[0]] * 4
            assert None not in led_to[0]
            made = everything()
            for kind in ("frames.Frame", "planning.Plan"):
                assert made[kind] == before[kind] + number
