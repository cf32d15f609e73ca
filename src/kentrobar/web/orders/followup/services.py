"""Every write of what players say."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from django.db import transaction
from django.utils import timezone

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.kit.records import locked, write
from kentrobar.web.orders.models import Job, JobFrame, PlayTest
from kentrobar.web.shops.models import User


@transaction.atomic
def note_play(job: Job, said: Iterable[tuple[JobFrame, dict[str, Any]]], by: User) -> None:
    """Note what a player said of the frames of a job, which ends its follow-up.

    Raises:
        KentrobarError: nothing was said, or the job was not handed over.
    """
    kept = locked(job)
    if kept.handed_over_at is None:
        raise KentrobarError(
            "It was not collected yet, so nobody has played with it.", code="not_handed_over"
        )
    tests = [_play_test(kept, row, about, by) for row, about in said]
    if not tests:
        raise KentrobarError("Enter at least one answer.", code="nothing_said")
    PlayTest.objects.bulk_create(tests)
    write(kept, followed_up_at=timezone.now())


def _play_test(job: Job, row: JobFrame, about: dict[str, Any], by: User) -> PlayTest:
    signed = next(iter(row.sign_offs.all()), None)
    sheet = signed.sheet if signed else row.frame.specs
    before, other = signed.before if signed else None, about.get("other")
    return PlayTest(
        job=job,
        frame=row.frame,
        sheet=sheet,
        before=before,
        made_by=by,
        other_sheet=other.specs if other else None,
        **about,
    )


@transaction.atomic
def ask_no_more(job: Job) -> None:
    """Let a follow-up be."""
    write(job, follow_up_on=None)
