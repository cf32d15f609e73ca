"""Whoever counts in ounces and inches is told nothing in grams and centimetres, on any page."""

import re
from collections import Counter
from html import unescape
from itertools import chain

import pytest
from django.test import Client

from kentrobar.core.body.specs import BALANCE, STATIC_WEIGHT, SWING_WEIGHT, TWIST_WEIGHT
from kentrobar.web.kit.numbers import Units
from kentrobar.web.materials.models import Accessory
from kentrobar.web.measuring.models import Instrument
from kentrobar.web.orders.models import Job
from kentrobar.web.shops.models import User
from tests.addresses import at
from tests.web.conftest import words

pytestmark = pytest.mark.django_db

# Sentences that tell both, formats of paper, a gauge as strings are sold, an axis round in these alone.
TOLD_SO = re.compile(r"57-59 cm or 22 1/2-23 in|2 mm \(1/16 in\)|\d+ × \d+ mm|1\.25 mm|\b(?:10|5) cm\b")
NOT_READ = re.compile(r"<(script|datalist|style)\b.*?</\1>|<g class=\"rule\".*?</g>", re.S)
AS_TYPED = re.compile(r'<small class="as-typed">[^<]*</small>|<span class="input-group-text">[^<]*</span>')
TOLD_IN_ATTRIBUTES = re.compile(r'(?:placeholder|aria-label|aria-valuetext|title)="([^"]*)"')
UNITS_OF_OTHERS = re.compile(r".{0,40}\d ?(?:kg·cm²|g|cm|mm)\b(?!/).{0,20}")
LINKS = re.compile(r'(?:href|hx-get)="(/[^"#]*)')
TWO_OF_A_KIND = 2
TWICE = re.compile(r".{0,40}\b(?:in in|oz oz|cm cm|g g)\b")
CHARTED = re.compile(r'"unit": "(?:g|mm|cm|kg)\b')


@pytest.fixture(scope="module")
def technician(season):
    """One of the demo's shop with its season, who counts in ounces and inches."""
    season.mass_unit, season.length_unit, season.balance_unit = "oz", "in", "in"
    season.inertia_unit = "oz·in²"
    season.save()
    return season


def names_given(technician):
    """What people wrote themselves, in whatever unit they liked."""
    shop = technician.shop_id
    return list(
        chain(
            Instrument.objects.filter(shop=shop).values_list("name", flat=True),
            Accessory.objects.filter(shop=shop).values_list("name", flat=True),
            Job.objects.filter(shop=shop).values_list("brief", flat=True),
            Job.objects.filter(shop=shop).values_list("waiting_for", flat=True),
        )
    )


def crawled(client):
    """Every page that links lead to from the first one, two of a kind: address and content."""
    waiting, of_kind = [at("orders:today")], Counter()
    for address in waiting:
        kind = re.sub(r"\d+", "0", address.partition("?")[0])
        of_kind[kind] += 1
        if of_kind[kind] > TWO_OF_A_KIND:
            continue
        answer = client.get(address)
        assert answer.status_code in (200, 204, 302), address
        if answer.headers.get("Content-Type", "").startswith("text/html"):
            page = answer.content.decode()
            waiting += [
                unescape(link)
                for link in LINKS.findall(page)
                if link not in waiting and not link.startswith(("/static", "/accounts"))
            ]
            yield address, page


def read_by_a_person(page, names):
    """A page's words, with what is told in its attributes, but for what people wrote themselves."""
    page = AS_TYPED.sub(" ", NOT_READ.sub(" ", page))
    told = " ".join(TOLD_IN_ATTRIBUTES.findall(page))
    text = unescape(" ".join(f"{re.sub(r'<[^>]+>', ' ', page)} {told}".split()))
    for name in filter(None, names):
        text = text.replace(name, "…")
    return TOLD_SO.sub("…", text)


def test_no_page_tells_ounce_and_inch_people_grams_and_centimetres(technician):
    client = Client()
    client.force_login(technician, backend="django.contrib.auth.backends.ModelBackend")
    names, leaks, seen = names_given(technician), {}, 0
    for address, page in crawled(client):
        text = read_by_a_person(page, names)
        found = [*UNITS_OF_OTHERS.findall(text), *TWICE.findall(text), *CHARTED.findall(page)]
        seen += 1
        if found:
            leaks[address] = found
    assert leaks == {}
    assert seen > 50


def test_paddles_are_told_no_points_and_always_percent(technician, paddle, racket, client):
    """Points head-light are a racket's custom; a person who counts in them reads a paddle's balance as a length."""
    pointed = Units(balance="pt")
    assert pointed.of_sport(racket.sport) == pointed
    assert pointed.of_sport(paddle.sport).balance == "mm"
    assert Units(length="in", balance="pt").of_sport(paddle.sport).balance == "in"
    page = words(client.get(at("frames:detail", paddle.pk)))
    assert " pt " not in page
    assert " pt " in words(client.get(at("frames:detail", racket.pk)))
    User.objects.filter(pk=technician.pk).update(balance_unit="pt")
    for address in ("frames:detail", "planning:target", "frames:fittings", "planning:sensitivity"):
        assert " pt" not in words(client.get(at(address, paddle.pk))).replace(">pt<", "")


@pytest.mark.parametrize(
    ("spec", "units", "give", "text"),
    [
        (BALANCE, Units(balance="in"), 0.2, "0.08"),
        (BALANCE, Units(balance="mm"), 0.2, "2"),
        (BALANCE, Units(balance="pt"), 0.2, "0.6"),
        (STATIC_WEIGHT, Units(mass="oz"), 0.5, "0.018"),
        (TWIST_WEIGHT, Units(), 0.15, "0.15"),
        (SWING_WEIGHT, Units(inertia="oz·in²"), 0.7, "4"),
    ],
)
def test_a_tolerance_to_start_from_is_a_short_number(spec, units, give, text):
    assert units.tolerance_text(spec, give) == text


def test_an_axis_is_told_in_the_persons_unit_and_typed_exactly():
    inches, centimetres = Units(length="in"), Units()
    assert (inches.axis_text(5.0), inches.axis_typed(5.0)) == ("1.97 in", ("5", "cm"))
    assert (inches.axis_text(10.16), inches.axis_typed(10.16)) == ("4 in", ("4", "in"))
    assert (centimetres.axis_text(10.0), centimetres.axis_text(10.16)) == ("10 cm", "10.16 cm")
