"""A database of version 0.1.0, stored as a dump, comes over with every number; an older one is refused."""

import json
import subprocess
from contextlib import contextmanager
from pathlib import Path

import pytest
from django.core.management import CommandError, call_command
from django.db import connection
from django.test import override_settings

from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.solving.allowed import Allowed, Hoop
from kentrobar.ops.cluster import binary, libpq
from kentrobar.web.bench.models import BenchWork
from kentrobar.web.bench.queries import works
from kentrobar.web.bench.rounds import work_state
from kentrobar.web.matching.models import FrameSet, SetLaying
from kentrobar.web.orders.models import SignOff
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.paper.files import export_plan
from kentrobar.web.planning.stored import plan_state
from tests.databases import database

DUMPS = Path(__file__).parent / "dumps"
BEFORE = json.loads((DUMPS / "version_0_1_0.json").read_text())
RENAMED = {
    "jobs_benchwork": "bench_benchwork",
    "jobs_benchevent": "bench_benchevent",
    "jobs_rollfinding": "bench_rollfinding",
    "jobs_shiftfinding": "bench_shiftfinding",
    "jobs_placefinding": "bench_placefinding",
    "jobs_placecorrection": "bench_placecorrection",
    "jobs_correction": "bench_densitycorrection",
    "jobs_job": "orders_job",
    "jobs_historicaljob": "orders_historicaljob",
    "jobs_jobframe": "orders_jobframe",
    "jobs_signoff": "orders_signoff",
    "jobs_framepage": "orders_framepage",
    "jobs_jobphoto": "orders_jobphoto",
    "jobs_playtest": "orders_playtest",
    "court_hitmap": "play_hitmap",
    "court_trial": "play_trial",
    "court_trialsetup": "play_trialsetup",
    "court_trialask": "play_trialask",
    "court_shoprule": "play_shoprule",
}
OTHER_NAME = {
    "bench_benchwork": {"told": "next_step"},
    "orders_job": {"wish": "brief", "told_at": "notified_at"},
    "orders_historicaljob": {"wish": "brief", "told_at": "notified_at"},
    "orders_signoff": {"laid": "applied"},
}
GONE = "matching_setsearch"  # what was found, which can be searched again
# Columns whose content has another form since; what they say is compared by what it means, below.
OTHER_FORM = {
    "frames_frame": {"places", "hoop"},
    "frames_historicalframe": {"places", "hoop"},
    "matching_setmember": {"places"},
    "matching_frameset": {
        "places",
        "target",
        "tolerances",
        "alike",
        "axis_cm",
        "build",
        "ceiling_g",
        "chance",
        "typed",
    },
    "matching_setlaying": {"target", "tolerances", "alike"},
    "bench_benchevent": {"data"},
    "bench_benchwork": {"target", "tolerances", "axis_cm", "chance"},
    "orders_signoff": {"target", "tolerances"},
    "planning_plan": {"wanted"},
}


@contextmanager
def restored(dump):
    """The connection, moved to a database made from a dump."""
    with database(f"{connection.settings_dict['NAME']}_{dump}") as name:
        _restore(DUMPS / f"{dump}.dump", name)
        with override_settings(MIGRATION_MODULES={}):  # other tests make their tables without
            yield


def _restore(dump, name):
    where = connection.settings_dict
    url = f"postgresql://{where['USER']}:{where['PASSWORD']}@{where['HOST']}:{where['PORT']}/{name}"
    command = [binary("pg_restore"), "--no-owner", "--exit-on-error", f"--dbname={name}", dump]
    subprocess.run(command, check=True, env=libpq(url))


def query(sql):
    with connection.cursor() as cursor:
        cursor.execute(sql)
        return cursor.fetchall()


def columns():
    """Every column with its type and whether it may be empty, and every index by what it is on."""
    found = set(
        query(
            "SELECT table_name, column_name, data_type, character_maximum_length, is_nullable "
            "FROM information_schema.columns WHERE table_schema = 'public'"
        )
    )
    indexes = query("SELECT tablename, indexdef FROM pg_indexes WHERE schemaname = 'public'")
    found |= {(table, text.partition(" USING ")[2]) for table, text in indexes}
    # Django's own and the queue's are made otherwise without migrations, as for other tests, or not at all.
    others = ("django_", "auth_", "shared_cache", "procrastinate_")
    return {each for each in found if not each[0].startswith(others)}


def contents():
    """Every row of every table of the application by its key, each with its columns by name."""
    tables = sorted({each[0] for each in columns()})
    rows = {name: query(f'SELECT to_jsonb(t)::text FROM "{name}" t') for name in tables}  # noqa: S608
    read = {name: [json.loads(text) for (text,) in found] for name, found in rows.items()}
    return {
        name: {row.get("history_id", row["id"]): row for row in found if "id" in row}
        for name, found in read.items()
    }


def tick_places():
    """Places are ticked on a frame, a set and a frame of one: nobody did so in the dump."""
    ticked = {
        "frames_frame": """places = '["twelve", "three_nine"]', hoop = 'hidden'""",
        "frames_historicalframe": "hoop = 'open'",
        "matching_frameset": """places = '["butt_cap"]'""",
        "matching_setmember": """places = '["twelve"]'""",
    }
    with connection.cursor() as cursor:
        for table, columns in ticked.items():
            cursor.execute(f"UPDATE {table} SET {columns} WHERE id = (SELECT min(id) FROM {table})")  # noqa: S608


class CameOver:
    """What a database of version 0.1.0 held, what it holds now, and the columns of one that is made anew."""


@pytest.fixture(scope="module")
def came_over(django_db_setup, django_db_blocker):
    found = CameOver()
    with django_db_blocker.unblock():
        found.made_anew = columns()
        with restored("version_0_1_0"):
            tick_places()
            found.then = contents()
            call_command("migrate", verbosity=0)
            found.now, found.columns = contents(), columns()
            yield found


def test_a_database_that_came_over_is_as_one_that_is_made_anew(came_over):
    assert came_over.columns == came_over.made_anew


def test_no_row_and_no_value_is_lost(came_over):
    assert sum(map(len, came_over.then.values())) > 1000
    for table, rows in came_over.then.items():
        if table == GONE:
            continue
        name = RENAMED.get(table, table)
        assert came_over.now[name].keys() == rows.keys(), name
        for key, row in rows.items():
            now, names = came_over.now[name][key], OTHER_NAME.get(name, {})
            kept = row.keys() - OTHER_FORM.get(name, set())
            assert {column: now[names.get(column, column)] for column in kept} == {c: row[c] for c in kept}, (
                name
            )


def as_kept(value):
    return value if isinstance(value, list) else None


@pytest.mark.django_db
def test_every_plan_predicts_and_exports_what_it_did(came_over):
    plans = {str(plan.pk): plan for plan in Plan.objects.all()}
    assert plans.keys() == BEFORE["plans"].keys()
    for pk, then in BEFORE["plans"].items():
        prediction = plan_state(plans[pk]).prediction
        for moment in ("before", "after", "change"):
            for key, value in then[moment].items():
                quantity = getattr(getattr(prediction, moment), key)
                if as_kept(value) is None:
                    assert not isinstance(quantity, Estimate), (pk, key)
                else:
                    assert list(quantity) == pytest.approx(value, rel=1e-11, abs=1e-12), key
        document = export_plan(plans[pk]).model_dump(mode="json", exclude_none=True)
        assert document == BEFORE["exports"][pk]


@pytest.mark.django_db
def test_every_work_stands_where_it_stood(came_over):
    found = {str(work.pk): work for work in works()}
    assert found.keys() == BEFORE["works"].keys()
    for pk, then in BEFORE["works"].items():
        assert work_state(found[pk]).stage == then["stage"]


def test_every_reading_at_the_bench_is_kept_with_its_text_and_value(came_over):
    then = came_over.then["jobs_benchevent"]
    read = [key for key, row in then.items() if row["kind"] == "read"]
    assert read
    for key in read:
        before, now = then[key]["data"], came_over.now["bench_benchevent"][key]["data"]
        assert now["specs"] == before["specs"]
        kept = {each["spec"]: each for each in now["readings"]}
        assert {name: (e["text"], e["unit"]) for name, e in kept.items()} == {
            name: (typed["text"], typed["unit"]) for name, typed in before["typed"].items()
        }
        values = [value["value"] for value in before["specs"].values()]
        assert sorted(each["value"] for each in kept.values()) == sorted(values)
        assert all(each["detail"] == {"mean_of": before["times"]} for each in kept.values())
    others = [key for key, row in then.items() if row["kind"] != "read"]
    assert all(came_over.now["bench_benchevent"][k]["data"] == then[k]["data"] for k in others)


def test_every_place_that_was_ticked_is_allowed_and_no_other(came_over):
    allowed = 0
    for table in ("frames_frame", "frames_historicalframe", "matching_frameset", "matching_setmember"):
        for key, row in came_over.then[table].items():
            now = Allowed.decoded(came_over.now[table][key]["allowed"])
            assert now == Allowed(frozenset(row["places"]) or None, Hoop(row.get("hoop", "either")))
            allowed += not now.is_anywhere
    assert allowed >= 4


def same_target(target, then, axis_cm):
    assert target.centres == pytest.approx(then["target"])
    assert target.tolerances == pytest.approx(then["tolerances"])
    assert target.axis_cm == axis_cm


@pytest.mark.django_db
def test_every_target_is_what_its_columns_said(came_over):
    raw = came_over.then
    for pk, then in BEFORE["sets"].items():
        target, row = FrameSet.objects.get(pk=pk).target, raw["matching_frameset"][int(pk)]
        written = then["target"] if then["kind"] == "written" else {}
        same_target(target, then | {"target": written}, then["axis_cm"])
        assert (target.alike.value, target.chance, target.setup) == (
            then["alike"],
            then["chance"],
            row["build"],
        )
    for pk, then in BEFORE["layings"].items():
        laying = SetLaying.objects.get(pk=pk)
        same_target(laying.target, then, raw["matching_frameset"][laying.set_id]["axis_cm"])
    for pk, then in BEFORE["works"].items():
        same_target(BenchWork.objects.get(pk=pk).target, then, raw["jobs_benchwork"][int(pk)]["axis_cm"])
        assert BenchWork.objects.get(pk=pk).target.chance == then["chance"]
    for pk, then in BEFORE["sign_offs"].items():
        target = SignOff.objects.get(pk=pk).target
        if not then["target"]:
            assert not target
            continue
        work = raw["jobs_signoff"][int(pk)]["work_id"]
        same_target(target, then, raw["jobs_benchwork"][work]["axis_cm"])
        assert SignOff.objects.get(pk=pk).chance == then["chance"]


def test_an_older_database_is_refused_with_the_version_to_pass_through(django_db_setup, django_db_blocker):
    with (
        django_db_blocker.unblock(),
        restored("before_0_1_0"),
        pytest.raises(CommandError, match=r"Start version 0\.1\.0 .* once, then this version"),
    ):
        call_command("prepare")
