"""Steps that migrations of several apps share.

A migration that has landed never changes, so what stands here for it does not either.
"""

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


def target_1(
    centres: Mapping[str, float], tolerances: Mapping[str, float], axis_cm: float, **more: Any
) -> dict[str, Any]:
    """A target in the first form of its codec, of what used to stand in columns of its own.

    Without centres it is free; a spec with a centre alone, or a tolerance alone beside others with centres,
    was never held against anything and is left out.
    """
    alike = more.pop("alike", "target")
    part = 0.5 if alike == "each_other" else 1.0
    bands = {
        key: [centres.get(key, 0.0) - part * t, centres.get(key, 0.0) + part * t]
        for key, t in tolerances.items()
        if not centres or key in centres
    }
    usual = {"setup": "", "chance": 0.95, "ceiling_g": None, "kept": []}
    return usual | {"v": 1, "bands": bands, "axis_cm": axis_cm, "alike": alike, "is_free": not centres} | more
