"""Reads of the practice bench: a person's own record, nobody else's."""

from __future__ import annotations

from collections.abc import Iterable
from statistics import fmean
from typing import NamedTuple

from django.db.models import QuerySet

from kentrobar.web.practice.models import PracticeRun
from kentrobar.web.shops.models import User

LATELY = 5
CHARTED = 30


class Record(NamedTuple):
    """How somebody did at one kind of exercise: points in order of time, the best, the mean of the last."""

    points: list[int]
    best: int
    lately: float


def runs_of(user: User) -> QuerySet[PracticeRun]:
    """All exercises of a person."""
    return PracticeRun.objects.filter(user=user)


def records_of(user: User) -> dict[str, Record]:
    """The record of a person by kind of exercise; none for what was never finished."""
    done = runs_of(user).exclude(finished_at=None).order_by("finished_at")
    by_task: dict[str, list[int]] = {}
    for task, points in done.values_list("task", "points"):
        by_task.setdefault(task, []).append(points or 0)
    return {task: _record(points) for task, points in by_task.items()}


def _record(points: Iterable[int]) -> Record:
    values = list(points)
    return Record(values[-CHARTED:], max(values), fmean(values[-LATELY:]))
