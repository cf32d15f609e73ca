"""What holds for all tests; environment and database come from ``script/test``."""

import pytest
from hypothesis import HealthCheck, settings

# Speed is the bench's business; a loaded machine must not fail a test.
settings.register_profile(
    "kentrobar",
    deadline=None,
    print_blob=True,
    suppress_health_check=[HealthCheck.function_scoped_fixture],
)
settings.load_profile("kentrobar")


@pytest.fixture
def queue():
    """What is put in the queue, kept in memory: no worker takes it."""
    from procrastinate.contrib.django import procrastinate_app
    from procrastinate.testing import InMemoryConnector

    with procrastinate_app.current_app.replace_connector(InMemoryConnector()) as app:
        yield app.connector


@pytest.fixture(autouse=True)
def _quick_settings(settings):
    """Hashing well takes its time by design, and files are looked up only when they are asked for."""
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
    settings.WHITENOISE_AUTOREFRESH = True
