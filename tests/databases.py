"""Databases that tests make once and copy: copying a template is much faster than loading the demo."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager

from django.db import connection


@contextmanager
def database(name: str, template: str = "template0", *, keep: bool = False) -> Iterator[str]:
    """The connection, moved to a new database copied from a template; dropped in the end unless kept."""
    usual = connection.settings_dict["NAME"]
    with connection.cursor() as cursor:
        cursor.execute(f'DROP DATABASE IF EXISTS "{name}" WITH (FORCE)')
    connection.close()  # a template has no other connection while it is copied
    _on_the_side(f'CREATE DATABASE "{name}" TEMPLATE "{template}"')
    connection.settings_dict["NAME"] = name
    try:
        yield name
    finally:
        connection.close()
        connection.settings_dict["NAME"] = usual
        if not keep:
            _on_the_side(f'DROP DATABASE "{name}" WITH (FORCE)')


def filled(name: str, start: str, fill: Callable[[], object]) -> str:
    """A database copied from ``start`` and filled, to be copied itself; its name."""
    with database(name, start, keep=True):
        fill()
    return name


def _on_the_side(statement: str) -> None:
    """Run a statement on the server's own database, which nobody copies."""
    usual = connection.settings_dict["NAME"]
    connection.settings_dict["NAME"] = "postgres"
    try:
        with connection.cursor() as cursor:
            cursor.execute(statement)
    finally:
        connection.close()
        connection.settings_dict["NAME"] = usual
