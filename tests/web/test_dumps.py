"""Databases of earlier versions, stored as dumps, come up to date with every number as it was."""

import json
import subprocess
from contextlib import contextmanager
from pathlib import Path

import pytest
from django.apps import apps
from django.core.management import call_command
from django.db import connection
from django.test import override_settings

from kentrobar.core.quantities.estimates import Estimate
from kentrobar.ops.cluster import binary, libpq
from kentrobar.web.frames.models import Frame, FrameFitting
from kentrobar.web.measuring.history import readings_panel
from kentrobar.web.planning.models import Plan, PlanRevision
from kentrobar.web.planning.paper.files import export_plan
from kentrobar.web.planning.stored import laid_plan
from kentrobar.web.shops.models import User

DUMPS = Path(__file__).parent / "dumps"
BEFORE = json.loads((DUMPS / "before_rooms.json").read_text())


@contextmanager
def brought_up(edition):
    """The connection, moved to a database made from a dump and migrated."""
    usual = connection.settings_dict["NAME"]
    name = f"{usual}_{edition}"
    with connection.cursor() as cursor:
        cursor.execute(f'DROP DATABASE IF EXISTS "{name}"')
        cursor.execute(f'CREATE DATABASE "{name}" TEMPLATE template0')
    _restore(DUMPS / f"{edition}.dump", name)
    connection.close()
    connection.settings_dict["NAME"] = name
    try:
        with override_settings(MIGRATION_MODULES={}):  # other tests make their tables without
            call_command("migrate", verbosity=0)
        yield
    finally:
        connection.close()
        connection.settings_dict["NAME"] = usual
        with connection.cursor() as cursor:
            cursor.execute(f'DROP DATABASE "{name}"')


def _restore(dump, name):
    where = connection.settings_dict
    url = f"postgresql://{where['USER']}:{where['PASSWORD']}@{where['HOST']}:{where['PORT']}/{name}"
    command = [binary("pg_restore"), "--no-owner", "--exit-on-error", f"--dbname={name}", dump]
    subprocess.run(command, check=True, env=libpq(url))


@pytest.fixture(scope="module")
def restored(django_db_setup, django_db_blocker):
    with django_db_blocker.unblock(), brought_up("before_rooms"):
        yield


pytestmark = pytest.mark.django_db
on_the_dump = pytest.mark.usefixtures("restored")


def columns():
    """Every column with its type and whether it may be empty, and every index by what it is on."""
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT table_name, column_name, data_type, character_maximum_length, is_nullable "
            "FROM information_schema.columns WHERE table_schema = 'public'"
        )
        found = set(cursor.fetchall())
        cursor.execute("SELECT tablename, indexdef FROM pg_indexes WHERE schemaname = 'public'")
        found |= {(table, text.partition(" USING ")[2]) for table, text in cursor.fetchall()}
    # Django's own and the queue's are made otherwise without migrations, as for other tests, or not at all.
    others = ("django_", "auth_", "shared_cache", "procrastinate_")
    return {each for each in found if not each[0].startswith(others)}


@pytest.fixture(
    scope="class", params=["first_hour", "first", "intake", "shelf", "sets", "bench", "season"]
)
def made_anew(request, django_db_setup, django_db_blocker):
    """The columns of tables made anew; from here on the connection is to a database of that edition."""
    with django_db_blocker.unblock():
        found = columns()
        with brought_up(request.param):
            yield found


class TestEveryEditionThatEverRan:
    """Whatever was edited or renamed in its migrations since."""

    def test_comes_up_to_date(self, made_anew):
        assert columns() == made_anew

    def test_still_tells_its_plans(self, made_anew):
        assert Frame.objects.count() > 3
        plans = list(Plan.objects.all())
        assert plans
        for plan in plans:
            assert laid_plan(plan).prediction.after is not None


@on_the_dump
def test_no_row_is_lost():
    for label, count in BEFORE["counts"].items():
        rows = apps.get_model(label).objects.count()
        assert rows >= count if label == "measuring.Reading" else rows == count, label


def as_told(value):
    return [float(part) for part in value] if isinstance(value, list) else None


@on_the_dump
def test_every_plan_predicts_what_it_did():
    """To the last digit that is shown and ten digits beyond."""
    plans = {str(plan.pk): laid_plan(plan) for plan in Plan.objects.all()}
    assert plans.keys() == BEFORE["plans"].keys()
    for pk, told in BEFORE["plans"].items():
        for moment in ("before", "after", "change"):
            now = getattr(plans[pk].prediction, moment)
            for key, then in told[moment].items():
                quantity = getattr(now, key)
                if as_told(then) is None:
                    assert not isinstance(quantity, Estimate), (pk, key)
                else:
                    assert list(quantity) == pytest.approx(as_told(then), rel=1e-11, abs=1e-12), key


@on_the_dump
def test_every_plan_exports_what_it_did():
    for plan in Plan.objects.all():
        told = BEFORE["exports"].get(str(plan.pk))
        if told:
            assert export_plan(plan).model_dump(mode="json", exclude_none=True) == told


def meant(text):
    """What a text says: “225 g” and “225.0 g”, “320 mm” and “32 cm” say the same."""
    number, _, unit = text.partition(" at ")[0].partition(" ")
    try:
        value = float(number)
    except ValueError:
        return text
    return (round(value / 10, 6), "cm") if unit == "mm" else (value, unit)


@on_the_dump
def test_what_was_typed_is_told_as_it_was():
    person = User.objects.order_by("pk").first()
    for frame in Frame.objects.all():
        now = {sheet.pk: cells for sheet, cells in readings_panel(frame, person)["sheets"]}
        then = {pk: (texts, several) for pk, texts, several in BEFORE["typed"][str(frame.pk)]}
        assert now.keys() == then.keys()
        for pk, (texts, several) in then.items():
            for cell, text in zip(now[pk], texts, strict=True):
                told = [
                    cell["text"],
                    *cell["several"],
                ]  # where it is told in another unit, as typed too
                assert meant(text) in map(meant, told)
                assert cell["text"].partition(" at ")[2] == text.partition(" at ")[2]
            for cell, singles in zip(now[pk], several, strict=True):
                # Single readings that stood beside the copy unread are told too.
                told = cell["several"] or [cell["text"]]
                assert not singles or [*map(meant, told)] == [*map(meant, singles)]


@on_the_dump
def test_what_a_piece_takes_away_is_known_by_its_key():
    """Whatever its label says: the fitting named weighs what goes, or more where it is trimmed."""
    states = [*Plan.objects.all(), *PlanRevision.objects.select_related("plan")]
    found = 0
    for state in states:
        frame = state.frame_id if isinstance(state, Plan) else state.plan.frame_id
        for item in state.pieces:
            if not item["piece"].get("removed"):
                continue
            fitting = FrameFitting.objects.filter(frame=frame, pk=item.get("fitting")).first()
            named = [f.label for f in FrameFitting.objects.filter(frame=frame)]
            label = item["piece"]["label"].removesuffix(", trimmed").removesuffix(", lighter")
            assert (fitting.label if fitting else None) == (label if label in named else None)
            found += fitting is not None
    assert found
