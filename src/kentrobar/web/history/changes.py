"""Kept versions of a frame, told field by field."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise
from typing import Any, Final

from kentrobar.web.frames.models import Frame
from kentrobar.web.history.queries import MOST, HistoryEvent, HistoryKind

# What has an event of its own, and what nobody types.
_NOT_SHOWN: Final = frozenset({"specs", "changed_at", "created_at", "typed"})


def changes_of(frame: Frame) -> list[HistoryEvent]:
    """What was corrected of a frame, version by version."""
    versions = list(frame.history.select_related("history_user")[:MOST])
    return [
        HistoryEvent(HistoryKind.CHANGED, new.history_date, str(new.history_user or ""), text, new.pk)
        for new, old in pairwise(versions)
        if (text := "; ".join(_changes(new, old)))
    ]


def _changes(new: Any, old: Any) -> Iterator[str]:
    for field in new.tracked_fields:
        if field.name in _NOT_SHOWN:
            continue
        before, after = getattr(old, field.attname), getattr(new, field.attname)
        if before != after:
            if field.is_relation:
                yield f"{field.verbose_name} changed"
            else:
                yield f"{field.verbose_name}: {_shown(before)} → {_shown(after)}"


def _shown(value: Any) -> str:
    if value in (None, ""):
        return "nothing"
    if isinstance(value, bool):
        return "yes" if value else "no"
    text = f"{value:g}" if isinstance(value, float) else str(value)
    return text if len(text) <= 60 else f"{text[:60]}…"
