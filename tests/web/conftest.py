"""A shop with its shelf, a technician signed in, a racket, a paddle and a plan."""

import pytest
from django.conf import settings
from django.contrib.sessions.models import Session
from django.test import Client, override_settings
from django.urls import reverse

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.frame.outline import PaddleDimensions, RacketDimensions
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate
from kentrobar.web.frames.services import create_frame
from kentrobar.web.kit.models import Search
from kentrobar.web.kit.searches import solve_now
from kentrobar.web.measuring.services import Taking, as_readings, record
from kentrobar.web.planning.services import create_plan
from kentrobar.web.shops.models import User
from kentrobar.web.welcome.opening import open_shop
from tests.addresses import at
from tests.conftest import QUICK_HASHERS


def new_person(name):
    person = User.objects.create_user(name, password="a-long-password")
    open_shop(f"Bench of {name}", person)
    return person


def new_frame(person, label="Reed 100", dimensions=None, measured=None):
    about = {"label": label, "player": "Ines", "mark": "IN-1", "notes": ""}
    dimensions = dimensions or RacketDimensions(68.58, 34.2, 26.1, 23.0, 18.0, 645.16)
    measured = measured or MeasuredSpecs(
        Estimate(308.6, 0.1), Estimate(31.8, 0.05), Estimate(287, 1.0), 10.0, Estimate(13.6, 0.2)
    )
    frame = create_frame(person.shop, about=about, dimensions=dimensions, typed={})
    record(frame, Taking(measured, "playing", as_readings(measured)), person)
    return frame


def words(response):
    """The text of a page with its line breaks gone."""
    return " ".join(response.content.decode().split())


def solve_searches():
    """What a worker would do meanwhile: solve whatever waits for one."""
    for search in Search.objects.filter(state=Search.State.WAITING):
        solve_now(search.pk)


def searched(client, address, asked, search="plans"):
    """The page of a form that asks for a search, once it is solved; the form's where it is refused."""
    answer = client.post(address, {"search": search} | asked)
    solve_searches()
    return client.get(answer.url) if answer.status_code == 302 else answer


def answers(client, kind="plans"):
    """The cards of what was searched last, by part; empty where one has nothing to say."""
    found = {}
    for search in Search.objects.filter(kind=kind):
        card = words(client.get(reverse("kit:search", args=[search.pk])))
        found[search.part] = card if "<article" in card else ""
    return found


def signed_in(person):
    """A browser in which a person is signed in."""
    client = Client()
    client.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
    return client


@pytest.fixture(scope="session")
def opened(demo_template, django_db_blocker):
    """A technician whose shop is open, and the session of a browser that is signed in.

    Made once for all tests of a process: each finds them as they were, since what it does is rolled back. The
    template of the demo is copied from the database before.
    """
    with django_db_blocker.unblock(), override_settings(PASSWORD_HASHERS=QUICK_HASHERS):
        return signed_in(new_person("technician")).cookies[settings.SESSION_COOKIE_NAME].value


@pytest.fixture
def technician(db, queue, opened):
    # Tests that commit empty the database after them.
    return User.objects.filter(username="technician").first() or new_person("technician")


@pytest.fixture
def client(technician, opened):
    if not Session.objects.filter(pk=opened).exists():
        return signed_in(technician)
    client = Client()
    client.cookies[settings.SESSION_COOKIE_NAME] = opened
    return client


@pytest.fixture
def racket(technician):
    return new_frame(technician)


@pytest.fixture
def paddle(technician):
    measured = MeasuredSpecs(Estimate(225, 0.1), Estimate(23.8, 0.05), NOT_MEASURED, 5.0)
    return new_frame(technician, "Mudlark 16", PaddleDimensions(41.9, 19.0), measured)


@pytest.fixture
def plan(racket, technician):
    return create_plan(racket, technician, name="First")


@pytest.fixture
def hand(client, plan, technician):
    """Acts on the plan as the page does; answers the response."""

    class Hand:
        def __init__(self):
            self.version = plan.version
            self.material = {m.name: m.pk for m in technician.shop.materials.all()}

        def preview(self, action, **parameters):
            return client.post(at("planning:preview", plan.pk), {"action": action, **parameters})

        def do(self, action, base=None, **parameters):
            base = self.version if base is None else base
            data = {"action": action, "base": base, **parameters}
            response = client.post(at("planning:change", plan.pk), data)
            if response.status_code == 200:
                self.version = response.json()["version"]
            return response

        def lay(self, material="Lead tape, quarter inch", amount="10 cm", **place):
            options = {"mirrored": "1"} | (place or {"site": "three_nine"})
            return self.do("add", material=self.material[material], amount=amount, **options)

        def edit(self, field, value, piece=1):
            return self.do("edit", piece=piece, field=field, value=value)

        @property
        def pieces(self):
            plan.refresh_from_db()
            return plan.pieces

    return Hand()
