"""What stands over every page of a frame: what is on it now, and the next step of its work.

All of it comes in one query, since it is asked for with every page.
"""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime
from typing import Any, Final, NamedTuple

from django.contrib.postgres.expressions import ArraySubquery
from django.db.models import Exists, Max, OuterRef, Q, Subquery
from django.db.models.functions import JSONObject
from django.urls import reverse

from kentrobar.core.bench.stages import (
    FrameFacts,
    Stage,
    WorkFacts,
    bench_stage,
    counts_as_signed_off,
    plan_meant,
    stage_of_frame,
)
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.bench.models import BenchEvent, BenchWork
from kentrobar.web.frames.hooks import FrameHead, NextStep
from kentrobar.web.frames.models import Frame
from kentrobar.web.history.applied import applied_pieces
from kentrobar.web.matching.models import SetLaying
from kentrobar.web.orders.models import Job, JobFrame
from kentrobar.web.orders.queries import OPEN
from kentrobar.web.planning.models import Plan
from kentrobar.web.shops.models import User
from kentrobar.web.showing.drawing import SmallDrawing, small_drawing

AT_BENCH: Final = (Stage.FIT, Stage.READ, Stage.TRIM, Stage.PERMANENT)


class JobFacts(NamedTuple):
    """The open job a frame is in, and when the frame was signed off last."""

    member: int
    job: int
    number: int
    set: int | None
    plan: int | None
    since: datetime
    signed_off_at: datetime | None


class PlanFacts(NamedTuple):
    """A plan of the frame that applies something, and where its last work stands."""

    pk: int
    name: str
    specs: int | None
    changed_at: datetime
    is_archived: bool
    has_pieces: bool
    work: int | None
    stage: str | None
    started_at: datetime | None
    ended_at: datetime | None

    @property
    def work_facts(self) -> WorkFacts | None:
        """Where its last work stands; None where none was begun."""
        return WorkFacts.of(self.stage, self.started_at, self.ended_at) if self.started_at else None


class Facts(NamedTuple):
    """What the head of a frame's pages is made from."""

    job: JobFacts | None
    plans: list[PlanFacts]
    steps: list[BenchEvent]


def frame_head(frame: Frame, user: User) -> FrameHead:
    """The drawing of a frame with what is on it, and its next step."""
    facts = _facts(frame, user)
    return FrameHead(_drawing(frame, facts.steps), _next_step(frame, facts))


def _drawing(frame: Frame, steps: list[BenchEvent]) -> SmallDrawing | None:
    pieces = [each.piece for each in applied_pieces(steps)]
    label = f"{frame.label} with the weight applied to it" if pieces else f"{frame.label}, no weight applied"
    for shown in (pieces, []):  # where the outline was changed since, pieces may have no place any more
        try:
            return small_drawing(shown, frame.outline, frame.measured.balance_cm, label)
        except KentrobarError:
            continue
    return None


# -- the one query ---------------------------------------------------------------------------------


def _facts(frame: Frame, user: User) -> Facts:
    jobs = Job.objects.filter(OPEN, shop=user.shop_id)
    rows = JobFrame.objects.filter(frame=OuterRef("pk"), job__in=jobs).order_by("-pk")
    works = BenchWork.objects.filter(plan__frame=OuterRef("pk")).order_by("pk")
    events = BenchEvent.objects.filter(work__plan__frame=OuterRef("pk")).order_by("work_id", "number")
    job, plans, pieces, steps = (
        Frame.objects.filter(pk=frame.pk)
        .values_list(
            Subquery(rows.annotate(signed_off_at=Max("sign_offs__made_at")).values(told=_JOB)[:1]),
            ArraySubquery(_plans().values(told=_PLAN)),
            ArraySubquery(works.values(told=JSONObject(pk="pk", pieces="pieces"))),
            ArraySubquery(events.values(told=_EVENT)),
        )
        .get()
    )
    pieces_of = {work["pk"]: BenchWork(**work) for work in pieces}
    return Facts(
        JobFacts(**_with_moments(job)) if job else None,
        [PlanFacts(**_with_moments(plan)) for plan in plans],
        _events(steps, pieces_of),
    )


_JOB: Final = JSONObject(
    member="pk",
    job="job_id",
    number="job__number",
    set="job__set_id",
    plan="plan_id",
    since="job__created_at",
    signed_off_at="signed_off_at",
)
_PLAN: Final = JSONObject(
    pk="pk",
    name="name",
    specs="specs_id",
    changed_at="changed_at",
    is_archived=Q(archived_at__isnull=False),
    has_pieces=~Q(pieces=[]),
    work="work",
    stage="stage",
    started_at="started_at",
    ended_at="ended_at",
)
_EVENT: Final = JSONObject(work="work_id", kind="kind", piece="piece", data="data", made_at="made_at")


def _plans() -> Any:
    """The plans of a frame that apply something, the latest first, each with its last work."""
    works = BenchWork.objects.filter(plan=OuterRef("pk")).order_by("-started_at", "-pk")
    of_a_set = Exists(SetLaying.objects.filter(plans=OuterRef("pk")))
    last = {name: Subquery(works.values(name)[:1]) for name in ("stage", "started_at", "ended_at")}
    plans = Plan.objects.filter(frame=OuterRef("pk")).filter(~Q(pieces=[]) | of_a_set)
    return plans.annotate(work=Subquery(works.values("pk")[:1]), **last)


_MOMENTS: Final = ("since", "signed_off_at", "changed_at", "started_at", "ended_at", "made_at")


def _with_moments(row: dict[str, Any]) -> dict[str, Any]:
    """A row that came as JSON, its moments read."""
    read = {name: datetime.fromisoformat(row[name]) for name in _MOMENTS if row.get(name)}
    return row | read


def _events(steps: Iterable[dict[str, Any]], works: dict[int, BenchWork]) -> list[BenchEvent]:
    return [
        BenchEvent(
            work=works[step["work"]],
            kind=step["kind"],
            piece=step["piece"],
            data=step["data"],
            made_at=step["made_at"],
        )
        for step in map(_with_moments, steps)
    ]


# -- the next step ---------------------------------------------------------------------------------


def _next_step(frame: Frame, facts: Facts) -> NextStep | None:
    if frame.is_archived:
        return None
    job, plan = facts.job, _plan_meant(frame, facts)
    match _stage(frame, job, plan):
        case Stage.MEASURE:
            return NextStep("Measure", reverse("measuring:measure", args=[frame.pk]), "Measure")
        case Stage.PLAN if job and job.set:
            return NextStep("Match the set", reverse("matching:set", args=[job.set]))
        case Stage.PLAN:
            return _to_plan(frame)
        case Stage.VERIFY if job:
            return NextStep("Verify and sign off", reverse("orders:verify", args=[job.job, job.member]))
        case stage if stage in AT_BENCH and plan:
            text = "Continue at the bench" if plan.work else f"Apply “{plan.name}”"
            return NextStep(text, reverse("bench:plan", args=[plan.pk]), "Bench")
    if job:
        return NextStep(f"Open job {job.number}", reverse("orders:job", args=[job.job]))
    return _to_plan(frame)


def _to_plan(frame: Frame) -> NextStep:
    return NextStep("Plan from a target", reverse("planning:target", args=[frame.pk]), "Plan")


def _plan_meant(frame: Frame, facts: Facts) -> PlanFacts | None:
    """The plan meant in its job; without a job the one on the bench, else one from these readings not begun."""
    job = facts.job
    if job:
        return plan_meant(facts.plans, job.plan, job.since)
    in_use = [plan for plan in facts.plans if not plan.is_archived]
    under_way = (plan for plan in in_use if plan.work and not plan.ended_at)
    new_ones = (plan for plan in in_use if plan.has_pieces and not plan.work and plan.specs == frame.specs_id)
    return next(under_way, None) or next(new_ones, None)


def _stage(frame: Frame, job: JobFacts | None, plan: PlanFacts | None) -> Stage:
    """What the frame needs next, by the rules of jobs."""
    work, sheet = plan.work_facts if plan else None, frame.specs
    needs_nothing = plan is not None and not plan.has_pieces  # such a plan comes from its set alone
    facts = FrameFacts(
        is_read=sheet is not None,
        has_plan=plan is not None,
        bench=bench_stage(work, sheet.taken_at if sheet else None, needs_nothing=needs_nothing),
        is_signed_off=counts_as_signed_off(job.signed_off_at if job else None, work),
    )
    return stage_of_frame(facts)
