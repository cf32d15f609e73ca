"""The events of a frame, from all apps below, in one line.

What needs no more than a name, a time and a person comes in one query over all their tables; readings, steps
at the bench and kept versions are fetched with what they hold.
"""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime
from enum import StrEnum
from typing import Any, Final, NamedTuple

from django.db.models import CharField, F, OuterRef, QuerySet, Subquery, Value
from django.db.models.functions import Cast

from kentrobar.web.bench.models import BenchEvent, BenchWork
from kentrobar.web.frames.models import Frame, FrameFitting, SetAside, SpecSheet
from kentrobar.web.orders.models import JobFrame, PlayTest, SignOff
from kentrobar.web.planning.models import Plan

MOST: Final = 400  # events of one kind; a frame that has more shows its newest


class HistoryKind(StrEnum):
    """What kind of event it is; also its mark on the page."""

    READING = "reading"
    FITTED = "fitted"
    TAKEN_OFF = "taken_off"
    PLAN = "plan"
    STARTED = "started"
    STEP = "step"
    ENDED = "ended"
    JOB = "job"
    SIGNED_OFF = "signed_off"
    HANDED_OVER = "handed_over"
    PLAYED = "played"
    CHANGED = "changed"


class HistoryEvent(NamedTuple):
    """One event: when, by whom, what it is of, and what its kind holds beside."""

    kind: HistoryKind
    at: datetime
    by: str
    text: str
    key: int
    of: Any = None


def simple_events(frame: Frame) -> Iterator[HistoryEvent]:
    """All that needs no more than a name, in one query."""
    plans = Plan.objects.filter(frame=frame)
    works = BenchWork.objects.filter(plan__frame=frame)
    rows = JobFrame.objects.filter(frame=frame)
    fittings = FrameFitting.objects.filter(frame=frame)
    parts = [
        _part(plans, HistoryKind.PLAN, "created_at", None, "name"),
        _part(works, HistoryKind.STARTED, "started_at", "started_by__username", "plan__name"),
        _part(works, HistoryKind.ENDED, "ended_at", None, "plan__name"),
        _part(rows, HistoryKind.JOB, "job__created_at", "job__created_by__username", "job__brief", "job"),
        _part(
            rows,
            HistoryKind.HANDED_OVER,
            "job__handed_over_at",
            "job__handed_over_by__username",
            "job__brief",
            "job",
        ),
        _part(
            SignOff.objects.filter(member__frame=frame),
            HistoryKind.SIGNED_OFF,
            "made_at",
            "made_by__username",
            "signed_as",
            "member__job",
        ),
        _part(fittings, HistoryKind.FITTED, "fitted_at", None, "label"),
        _part(fittings, HistoryKind.TAKEN_OFF, "taken_off_at", None, "label"),
        _part(
            PlayTest.objects.filter(frame=frame),
            HistoryKind.PLAYED,
            "made_at",
            "made_by__username",
            "words",
            "job",
        ),
    ]
    first, *others = parts
    for kind, at, by, text, key in first.union(*others, all=True):
        yield HistoryEvent(HistoryKind(kind), at, by, text, key)


def _part(
    rows: QuerySet[Any], kind: HistoryKind, at: str, by: str | None, text: str, key: str = "pk"
) -> QuerySet[Any, Any]:
    who = F(by) if by else Value("", CharField())
    return (
        rows.filter(**{f"{at}__isnull": False})
        .order_by()
        .values_list(
            Value(kind.value, CharField()), F(at), Cast(who, CharField()), Cast(F(text), CharField()), F(key)
        )
    )


def sheets_of(frame: Frame) -> list[SpecSheet]:
    """Its readings, the newest first, each with who took it and why it was set aside."""
    why = SetAside.objects.filter(sheet=OuterRef("pk"), lifted_at=None).values("reason")
    sheets = frame.spec_sheets.annotate(by=F("taken_by__username"), set_aside=Subquery(why[:1]))
    return list(sheets[:MOST])


def steps_of(frame: Frame) -> list[BenchEvent]:
    """What was done and read at the bench, in order."""
    of_frame = BenchEvent.objects.filter(work__plan__frame=frame)
    together = of_frame.select_related("work", "made_by").order_by("work_id", "number")
    return list(together)


def time_line(
    frame: Frame, sheets: list[SpecSheet], steps: list[BenchEvent], changes: list[HistoryEvent]
) -> list[HistoryEvent]:
    """All events of a frame, the newest first."""
    events = [*simple_events(frame), *changes]
    events += [
        HistoryEvent(HistoryKind.READING, sheet.taken_at, sheet.by or "", "", sheet.pk, sheet)  # type: ignore[attr-defined]
        for sheet in sheets
    ]
    events += [
        HistoryEvent(
            HistoryKind.STEP, s.made_at, s.made_by.username if s.made_by else "", s.kind, s.work_id, s
        )
        for s in steps
    ]
    # Of one moment, what was noted later comes first.
    return sorted(events, key=lambda event: (event.at, _LATER[event.kind]), reverse=True)


_LATER: Final = {kind: i for i, kind in enumerate(HistoryKind)}
