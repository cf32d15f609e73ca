"""Whoever counts in ounces and inches is told nothing in grams and centimetres, on any page."""

import re
from collections import Counter
from html import unescape
from itertools import chain

import pytest
from django.test import Client

from kentrobar.web.materials.models import Accessory
from kentrobar.web.measuring.models import Instrument
from kentrobar.web.orders.models import Job
from tests.addresses import at

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
