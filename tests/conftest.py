"""What holds for all tests; environment and database come from ``script/test``."""

import gc

import pytest
from django.db import connection
from hypothesis import HealthCheck, settings

from tests import samples
from tests.databases import database, filled
from tests.sharing import once_in_a_run

# Speed is the bench's business; a loaded machine must not fail a test.
settings.register_profile(
    "full", deadline=None, print_blob=True, suppress_health_check=[HealthCheck.function_scoped_fixture]
)
settings.register_profile("quarter", settings.get_profile("full"), max_examples=25)


def pytest_addoption(parser):
    parser.addoption("--full", action="store_true", help="statistical and property tests with all examples")


def pytest_configure(config):
    samples.full = config.getoption("--full")
    settings.load_profile("full" if samples.full else "quarter")


def pytest_collection_finish():
    """What is loaded by now stays: the collector need not look through it again and again."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(50_000, 20, 50)


@pytest.fixture
def queue():
    """What is put in the queue, kept in memory: no worker takes it."""
    from procrastinate.contrib.django import procrastinate_app
    from procrastinate.testing import InMemoryConnector

    with procrastinate_app.current_app.replace_connector(InMemoryConnector()) as app:
        yield app.connector


QUICK_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
DEMO, SEASON = "test_template_demo", "test_template_season"


@pytest.fixture(scope="session")
def demo_template(django_db_setup, django_db_blocker, tmp_path_factory):
    """The name of a database with the demo in it, to be copied."""
    from kentrobar.web.welcome.demo import load_demo

    with django_db_blocker.unblock():
        if not connection.settings_dict["NAME"].startswith("test_"):
            # Nobody in this run asked for the plain test database, so it was not made.
            connection.creation.create_test_db(verbosity=0, autoclobber=True, serialize=False)
        empty = connection.settings_dict["NAME"]
        once_in_a_run(tmp_path_factory, DEMO, lambda _: filled(DEMO, empty, load_demo))
    return DEMO


@pytest.fixture(scope="session")
def season_template(demo_template, django_db_blocker, tmp_path_factory):
    """The name of a database with the demo, its season and what was found in play."""
    from kentrobar.web.welcome.on_court import load_court
    from kentrobar.web.welcome.season import load_season

    def fill():
        load_season(demo_technician())
        load_court(demo_technician())

    with django_db_blocker.unblock():
        once_in_a_run(tmp_path_factory, SEASON, lambda _: filled(SEASON, DEMO, fill))
    return SEASON


def own_name(what):
    """The name of a database of this process alone."""
    return f"{connection.settings_dict['NAME']}_{what}"


def demo_technician():
    """The technician of the demo in the database that is used now."""
    from kentrobar.web.shops.models import User

    return User.objects.earliest("pk")


@pytest.fixture
def demo(demo_template, django_db_blocker):
    """A copy of the demo for one test, with transactions that end; answers its technician."""
    with django_db_blocker.unblock(), database(own_name("demo"), demo_template):
        yield demo_technician()


@pytest.fixture(scope="module")
def season(season_template, django_db_blocker):
    """A copy of the demo with its season for the tests of a file; answers its technician."""
    with django_db_blocker.unblock(), database(own_name("season"), season_template):
        yield demo_technician()


@pytest.fixture(autouse=True)
def _quick_settings(settings, monkeypatch):
    """Good hashing takes time by design, files are looked up when asked for, plans are polished briefly."""
    settings.PASSWORD_HASHERS = QUICK_HASHERS
    settings.WHITENOISE_AUTOREFRESH = True
    if not samples.full:
        monkeypatch.setattr("kentrobar.web.matching.searching.POLISH_S", 0.5)
