"""Every write of handing over."""

from __future__ import annotations

from django.db import transaction

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.bench.models import BenchWork
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.records import locked, write
from kentrobar.web.orders.handover.verifying import Outcome
from kentrobar.web.orders.models import FramePage, JobFrame, SignOff
from kentrobar.web.shops.models import User, secret_address


@transaction.atomic
def sign_off(
    row: JobFrame, work: BenchWork | None, outcome: Outcome, by: User, *, signed_as: str, remark: str
) -> SignOff:
    """Sign a frame off as it reads now, which is kept with what it was to be.

    Raises:
        KentrobarError: it was not read, a spec lies outside and no remark says why, or its work goes on.
    """
    locked(row.job)
    if outcome.sheet is None:
        raise KentrobarError("Measure it first.", code="not_measured")
    if work is not None and work.ended_at is None:
        raise KentrobarError("Finish its work at the bench first.", code="at_the_bench")
    if not outcome.is_all_within and not remark:
        raise KentrobarError(
            "A spec is outside its tolerance. Say why it goes home like this.", code="no_remark"
        )
    return SignOff.objects.create(
        member=row,
        work=work,
        before=outcome.before,
        sheet=outcome.sheet,
        target=outcome.target,
        chance=outcome.chance,
        applied=outcome.applied,
        remark=remark,
        signed_as=signed_as,
        made_by=by,
    )


def page_of(frame: Frame) -> FramePage:
    """The page that a frame's label leads to, made at its first label."""
    found, _ = FramePage.objects.get_or_create(frame=frame, defaults={"token": secret_address()})
    return found


def renew_page(frame: Frame) -> None:
    """Let the labels printed so far lead nowhere."""
    write(page_of(frame), token=secret_address())
