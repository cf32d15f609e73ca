"""Databases of earlier editions, brought to where today's migrations can take over.

A migration that has landed is never edited or renamed since. A few were, early on; a database that ran one
of those editions is told by what it holds, and is given what it lacks.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any, Final, NamedTuple

from django.db import connection
from django.db.migrations.recorder import MigrationRecorder


class _Edition(NamedTuple):
    """A migration as it once was: its name then and now, the next one, and what it did not do yet."""

    app: str
    then: str
    now: str
    following: str
    lacks: tuple[str, ...]


_ADD_CHANGED_AT: Final = (
    "ALTER TABLE {table} ADD COLUMN IF NOT EXISTS changed_at timestamptz NOT NULL DEFAULT now()",
    "ALTER TABLE {table} ALTER COLUMN changed_at DROP DEFAULT",
)
EDITIONS: Final = (
    _Edition(
        "frames", "0001_start", "0001_start", "0002_intake",
        tuple(
            each.format(table=table)
            for table in ("frames_frame", "frames_historicalframe") for each in _ADD_CHANGED_AT
        ),
    ),
    _Edition(
        "frames", "0002_intake", "0002_intake", "0003_shelf_and_order",
        ("CREATE INDEX IF NOT EXISTS frame_by_shop_and_label ON frames_frame (shop_id, label)",),
    ),
    _Edition(
        "planning", "0001_start", "0001_start", "0002_order_and_archive",
        (
            "ALTER TABLE planning_plan ADD COLUMN IF NOT EXISTS last_change varchar(40) NOT NULL DEFAULT ''",
            "ALTER TABLE planning_plan ALTER COLUMN last_change DROP DEFAULT",
        ),
    ),
    _Edition(
        "planning", "0002_shelf_and_order", "0002_order_and_archive", "0003_taken_away_by_key",
        (
            "ALTER TABLE planning_plan ADD COLUMN IF NOT EXISTS cut_revision integer NULL "
            "CHECK (cut_revision >= 0)",
        ),
    ),
)  # fmt: skip


def bring_along() -> None:
    """Give a database of an earlier edition what it lacks; cheap where it lacks nothing."""
    recorder = MigrationRecorder(connection)
    if not recorder.has_table():
        return
    for edition in EDITIONS:
        ran = recorder.migration_qs.filter(app=edition.app)
        if (
            not ran.filter(name=edition.then).exists()
            or ran.filter(name=edition.following).exists()
        ):
            continue
        with connection.cursor() as cursor:
            for statement in edition.lacks:
                cursor.execute(statement)
        ran.filter(name=edition.then).update(name=edition.now)


@contextmanager
def checking_at_once() -> Iterator[None]:
    """Let foreign keys be checked before a table is altered, not at the end.

    A migration that writes rows and alters their table afterwards fails on a database with rows otherwise:
    PostgreSQL alters no table whose checks are still to come.
    """

    def check_first(execute: Callable[..., Any], sql: Any, *about: Any) -> Any:
        if str(sql).startswith("ALTER TABLE") and connection.in_atomic_block:
            execute("SET CONSTRAINTS ALL IMMEDIATE", None, *about[1:])
            execute("SET CONSTRAINTS ALL DEFERRED", None, *about[1:])
        return execute(sql, *about)

    with connection.execute_wrapper(check_first):
        yield
