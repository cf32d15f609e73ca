"""Every write of the practice bench."""

from __future__ import annotations

import secrets
from dataclasses import asdict
from typing import Any

from django.db import transaction
from django.utils import timezone

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.kit.records import ChangedError, Json, locked, write
from kentrobar.web.practice.exercises import score_of
from kentrobar.web.practice.models import PracticeRun
from kentrobar.web.shops.models import User

MOST_MOVES = 80


@transaction.atomic
def begin(by: User, *, task: str, level: int, sport: str) -> PracticeRun:
    """A new exercise."""
    return PracticeRun.objects.create(
        shop=by.own_shop, user=by, task=task, level=level, sport=sport, seed=secrets.randbelow(2**31)
    )


@transaction.atomic
def move(run: PracticeRun, seen: int, **done: Any) -> None:
    """Do something on top of the ``seen`` first moves.

    Raises:
        KentrobarError: it is over, something was done on another page, or too much was done.
    """
    _lock(run, seen)
    if len(run.moves) >= MOST_MOVES:
        raise KentrobarError("That is enough of it; finish.", code="too_many")
    write(run, moves=[*run.moves, done])


@transaction.atomic
def finish(run: PracticeRun, seen: int, answer: Json) -> None:
    """State the answer and have it scored, once. Raises KentrobarError as :func:`move`."""
    _lock(run, seen)
    score = score_of(run, answer)
    write(
        run,
        answer=answer,
        parts=[asdict(part) for part in score.parts],
        points=score.points,
        finished_at=timezone.now(),
    )


def _lock(run: PracticeRun, seen: int) -> None:
    kept = locked(run)
    run.moves, run.finished_at = kept.moves, kept.finished_at
    if kept.finished_at:
        raise KentrobarError("This exercise is over; begin another.", code="over")
    if kept.change_count != seen:
        raise ChangedError(kept)
