"""Steps that migrations of several apps share."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from django.db.migrations import RunPython


def rename_tables(names: Mapping[str, str]) -> RunPython:
    """Give tables their new names where a database still has the old ones."""
    return RunPython(_renaming(names), RunPython.noop)


def _renaming(names: Mapping[str, str]) -> Callable[[Any, Any], None]:
    def rename(_apps: Any, editor: Any) -> None:
        known = editor.connection.introspection.table_names()
        for old, new in names.items():
            if old in known:
                editor.alter_db_table(None, old, new)

    return rename
