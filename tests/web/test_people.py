"""Signing in and up, units, and the house's own settings."""

import re

import pytest
from django.core.management import call_command
from django.template import engines
from django.test import Client

from kentrobar.core.weight.materials import STARTING_SHELF
from kentrobar.web.shops.models import User
from tests.addresses import at


@pytest.fixture
def visitor(db):
    return Client()


def test_visitors_are_sent_to_sign_in(visitor):
    for address in (
        at("orders:today"),
        at("frames:list"),
        at("planning:list"),
        at("planning:board", 1),
        at("materials:shelf"),
        at("shops:preferences"),
    ):
        assert "/accounts/login/" in visitor.get(address, follow=True).redirect_chain[-1][0]
    assert visitor.get(at("health")).content == b"ok"


@pytest.mark.parametrize("demo", [True, False])
def test_demo_sign_in_is_shown_in_demo_mode_only(visitor, settings, demo):
    settings.DEMO = demo
    assert ("saltmarsh" in visitor.get("/accounts/login/").content.decode()) is demo


def test_signing_up_opens_a_bench_with_a_shelf(visitor):
    typed = {
        "username": "wanda",
        "password1": "long-and-odd-7",
        "password2": "long-and-odd-7",
        "shop_name": "Kitchen table",
    }
    assert visitor.post("/accounts/signup/", typed).status_code == 302
    wanda = User.objects.get(username="wanda")
    assert wanda.shop.name == "Kitchen table"
    assert wanda.shop.materials.count() == len(STARTING_SHELF)
    assert "Removable putty" in visitor.get(at("materials:shelf")).content.decode()


def test_a_password_is_changed_or_set_anew_in_the_products_own_look(client, technician, visitor, mailoutbox):
    """Linked where a person looks for it; a link by mail works once."""
    assert "/accounts/password/reset/" in visitor.get("/accounts/login/").content.decode()
    assert "/accounts/password/change/" in client.get(at("shops:preferences")).content.decode()
    page = client.get("/accounts/password/change/")
    assert "base.html" in {each.name for each in page.templates}
    assert 'aria-label="Places"' in page.content.decode()
    typed = {"oldpassword": "a-long-password", "password1": "reed-and-mud-7", "password2": "reed-and-mud-7"}
    assert client.post("/accounts/password/change/", typed).status_code == 302
    client.post("/accounts/email/", {"email": "tech@saltmarsh.example", "action_add": ""})
    technician.refresh_from_db()
    assert technician.emailaddress_set.get().email == "tech@saltmarsh.example"
    assert visitor.post("/accounts/password/reset/", {"email": "tech@saltmarsh.example"}).status_code == 302
    (mail,) = [each for each in mailoutbox if "password" in each.body.lower() and "/key/" in each.body]
    link = re.search(r"http://\S+(/accounts/password/reset/key/\S+)", mail.body)[1]
    form = visitor.get(link, follow=True)
    new = {"password1": "silt-and-tide-8", "password2": "silt-and-tide-8"}
    done = visitor.post(form.request["PATH_INFO"], new, follow=True)
    assert "Password changed" in done.content.decode()
    assert "no longer works" in Client().get(link, follow=True).content.decode()
    technician.refresh_from_db()
    assert technician.check_password("silt-and-tide-8")


def test_guessing_passwords_is_locked(visitor, technician, settings):
    wrong = {"login": "technician", "password": "no"}
    for _ in range(settings.AXES_FAILURE_LIMIT):
        answer = visitor.post("/accounts/login/", wrong)
    assert "locked for 15 minutes" in answer.content.decode()
    right = {"login": "technician", "password": "a-long-password"}
    assert visitor.post("/accounts/login/", right).status_code != 302


def test_a_lockout_counts_by_account_whatever_the_spelling(visitor, technician, settings):
    technician.email = "Bench@Saltmarsh.example"
    technician.save()
    names = ["technician", "TECHNICIAN", " Technician ", "bench@saltmarsh.example"]
    for number in range(settings.AXES_FAILURE_LIMIT):
        wrong = {"login": names[number % len(names)], "password": "no"}
        answer = visitor.post("/accounts/login/", wrong)
    assert "locked for 15 minutes" in answer.content.decode()
    for name in names:
        right = {"login": name, "password": "a-long-password"}
        assert visitor.post("/accounts/login/", right).status_code != 302


def test_units_and_theme_are_kept_and_lead_back(client, technician, plan):
    typed = {
        "mass_unit": "oz",
        "length_unit": "in",
        "balance_unit": "pt",
        "inertia_unit": "oz·in²",
        "theme": "dark",
    }
    answer = client.post(at("shops:preferences"), typed | {"next": at("planning:board", plan.pk)})
    assert answer.url == at("planning:board", plan.pk)
    technician.refresh_from_db()
    assert (technician.units.mass, technician.units.balance) == ("oz", "pt")
    assert technician.units.inertia == "oz·in²"
    assert 'data-bs-theme="dark"' in client.get(at("frames:list")).content.decode()
    away = client.post(at("shops:preferences"), typed | {"next": "//elsewhere.example/"})
    assert away.url == at("frames:list")


def test_pages_load_nothing_from_elsewhere(client, plan):
    response = client.get(at("planning:board", plan.pk))
    assert "default-src 'self'" in response["Content-Security-Policy"]
    page = response.content.decode().replace("http://www.w3.org/2000/svg", "")
    assert "http://" not in page
    assert "https://" not in page
    assert " style=" not in page


def test_lost_pages_say_where_to_go(client):
    page = client.get(at("frames:detail", 999999))
    assert page.status_code == 404
    assert "Go to Today" in page.content.decode()


@pytest.mark.django_db
def test_models_and_settings_are_whole(monkeypatch):
    monkeypatch.setattr(engines["django"].engine, "string_if_invalid", "")  # pytest puts its own there
    call_command("makemigrations", check=True, dry_run=True, verbosity=0)
    call_command("check", fail_level="WARNING")
