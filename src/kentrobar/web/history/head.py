"""What stands over every page of a frame: what is on it now, and the next step of its work."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime
from typing import Final

from django.db.models import Exists, Max, OuterRef, Q, QuerySet, Subquery
from django.urls import reverse

from kentrobar.core.bench.stages import FrameFacts, Stage, stage_of_frame
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.bench.models import BenchWork
from kentrobar.web.frames.hooks import FrameHead, NextStep
from kentrobar.web.frames.models import Frame
from kentrobar.web.history.applied import applied_pieces
from kentrobar.web.history.queries import steps_of
from kentrobar.web.matching.models import SetLaying
from kentrobar.web.orders.models import Job, JobFrame
from kentrobar.web.orders.queries import OPEN
from kentrobar.web.planning.models import Plan
from kentrobar.web.shops.models import User
from kentrobar.web.showing.drawing import SmallDrawing, small_drawing

AT_BENCH: Final = (Stage.FIT, Stage.READ, Stage.TRIM, Stage.PERMANENT)


def frame_head(frame: Frame, user: User) -> FrameHead:
    """The drawing of a frame with what is on it, and its next step; two queries, three where it was worked on."""
    member = _open_member(frame, user)
    plans = list(_plans(frame))
    has_works = any(plan.work_key for plan in plans)  # type: ignore[attr-defined]
    return FrameHead(_drawing(frame, has_works), _next_step(frame, member, plans))


def _drawing(frame: Frame, has_works: bool) -> SmallDrawing | None:
    pieces = [each.piece for each in applied_pieces(steps_of(frame))] if has_works else []
    label = f"{frame.label} with the weight applied to it" if pieces else f"{frame.label}, no weight applied"
    for shown in (pieces, []):  # where the outline was changed since, pieces may have no place any more
        try:
            return small_drawing(shown, frame.outline, frame.measured.balance_cm, label)
        except KentrobarError:
            continue
    return None


def _open_member(frame: Frame, user: User) -> JobFrame | None:
    """The frame's row in the open job it is in, with when it was signed off last."""
    rows = JobFrame.objects.filter(frame=frame, job__in=Job.objects.filter(OPEN, shop=user.shop_id))
    return (
        rows.select_related("job").annotate(signed_off_at=Max("sign_offs__made_at")).order_by("-pk").first()
    )


def _plans(frame: Frame) -> QuerySet[Plan]:
    """The frame's plans that apply something, the latest first, each with what its last work stands at."""
    works = BenchWork.objects.filter(plan=OuterRef("pk")).order_by("-started_at", "-pk")
    of_a_set = Exists(SetLaying.objects.filter(plans=OuterRef("pk")))
    return frame.plans.filter(~Q(pieces=[]) | of_a_set).annotate(
        work_key=Subquery(works.values("pk")[:1]),
        work_stage=Subquery(works.values("stage")[:1]),
        work_started_at=Subquery(works.values("started_at")[:1]),
        work_ended_at=Subquery(works.values("ended_at")[:1]),
    )


def _next_step(frame: Frame, member: JobFrame | None, plans: Iterable[Plan]) -> NextStep | None:
    if frame.is_archived:
        return None
    plan = _plan_meant(frame, member, plans)
    match _stage(frame, member, plan):
        case Stage.MEASURE:
            return NextStep("Measure", reverse("measuring:measure", args=[frame.pk]), "Measure")
        case Stage.PLAN if member and member.job.set_id:
            return NextStep("Match the set", reverse("matching:set", args=[member.job.set_id]))
        case Stage.PLAN:
            return _to_plan(frame)
        case Stage.VERIFY if member:
            return NextStep("Verify and sign off", reverse("orders:verify", args=[member.job_id, member.pk]))
        case stage if stage in AT_BENCH and plan:
            text = "Continue at the bench" if plan.work_key else f"Apply “{plan.name}”"  # type: ignore[attr-defined]
            return NextStep(text, reverse("bench:plan", args=[plan.pk]), "Bench")
    if member:
        return NextStep(f"Open {member.job}", reverse("orders:job", args=[member.job_id]))
    return _to_plan(frame)


def _to_plan(frame: Frame) -> NextStep:
    return NextStep("Plan from a target", reverse("planning:target", args=[frame.pk]), "Plan")


def _plan_meant(frame: Frame, member: JobFrame | None, plans: Iterable[Plan]) -> Plan | None:
    """The plan meant in its job; without a job the one on the bench, else one from these readings not begun."""
    if member and member.plan_id:
        return next((plan for plan in plans if plan.pk == member.plan_id), None)
    in_use = [plan for plan in plans if not plan.is_archived]
    if member:
        return next((plan for plan in in_use if plan.changed_at >= member.job.created_at), None)
    open_ones = (p for p in in_use if p.work_key and not p.work_ended_at)  # type: ignore[attr-defined]
    new_ones = (p for p in in_use if p.pieces and not p.work_key and p.specs_id == frame.specs_id)  # type: ignore[attr-defined]
    return next(open_ones, None) or next(new_ones, None)


def _stage(frame: Frame, member: JobFrame | None, plan: Plan | None) -> Stage:
    """What the frame needs next, by the rules of jobs."""
    started_at, ended_at = (getattr(plan, name, None) for name in ("work_started_at", "work_ended_at"))
    signed_off_at = getattr(member, "signed_off_at", None)
    bench = _bench_stage(frame, plan, ended_at)
    facts = FrameFacts(
        is_read=frame.specs is not None,
        has_plan=plan is not None,
        bench=bench,
        is_signed_off=bool(signed_off_at and not (started_at and started_at > signed_off_at)),
    )
    return stage_of_frame(facts)


def _bench_stage(frame: Frame, plan: Plan | None, ended_at: datetime | None) -> Stage | None:
    if plan is None or not plan.work_key:  # type: ignore[attr-defined]
        return Stage.VERIFY if plan and not plan.pieces else None  # its set needs nothing of it
    if ended_at and frame.specs and frame.specs.taken_at > ended_at:
        return Stage.VERIFY  # it was read since
    return Stage(plan.work_stage or Stage.FIT)  # type: ignore[attr-defined]
