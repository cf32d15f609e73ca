"""Texts of jobs."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import date
from typing import Final, NamedTuple

from django.urls import reverse

from kentrobar.core.bench.stages import STEP_OF, Stage, Step
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.quantities.estimates import NotMeasured
from kentrobar.web.bench.models import BenchWork
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.numbers import price_text
from kentrobar.web.orders.job_state import JobMember, JobState
from kentrobar.web.orders.models import Job, JobFrame, SignOff
from kentrobar.web.planning.models import Plan
from kentrobar.web.shops.models import Shop

# Brief next, as one tells somebody at the bench.
NEXT: Final = {
    Stage.TAKE_IN: "check in",
    Stage.MEASURE: "measure",
    Stage.PLAN: "plan",
    Stage.FIT: "apply",
    Stage.READ: "measure at the bench",
    Stage.TRIM: "trim",
    Stage.PERMANENT: "secure",
    Stage.VERIFY: "sign off",
    Stage.CALL: "tell the client",
    Stage.HAND_OVER: "wait for collection",
    Stage.FOLLOW_UP: "ask how it plays",
    Stage.DONE: "done",
}


def next_text(state: JobState) -> str:
    """Next up, and of which frames where it is not all of them."""
    text = NEXT[state.stage]
    ones = state.next_ones
    if not ones or len(state.members) == 1:
        return text
    if len(ones) == len(state.members):
        return f"{text} {'both' if len(ones) == 2 else f'all {len(ones)}'}"
    return f"{text} {ones[0].frame.label}" + (f" and {len(ones) - 1} more" if ones[1:] else "")


def next_address(state: JobState) -> str:
    """Where that is done."""
    ones = state.next_ones
    return member_address(state.job, ones[0]) if ones else reverse("orders:job", args=[state.job.pk])


def member_address(job: Job, member: JobMember) -> str:
    """Where what a frame needs next is done."""
    match member.stage:
        case Stage.MEASURE:
            return reverse("measuring:measure", args=[member.frame.pk])
        case Stage.PLAN if job.set_id:
            return reverse("matching:set", args=[job.set_id])
        case Stage.PLAN:
            return reverse("planning:target", args=[member.frame.pk])
        case Stage.FIT | Stage.READ | Stage.TRIM | Stage.PERMANENT if member.plan:
            return reverse("bench:plan", args=[member.plan.pk])
        case Stage.VERIFY:
            return reverse("orders:verify", args=[job.pk, member.row.pk])
    return reverse("orders:job", args=[job.pk])


@dataclass(frozen=True, slots=True)
class JobLine:
    """A job as one line of a list."""

    job: Job
    next: str
    address: str
    stage: str
    frames: str
    is_overdue: bool
    promised: str


def line(state: JobState, today: date) -> JobLine:
    """A job as a list tells it."""
    job = state.job
    return JobLine(
        job=job,
        next=next_text(state),
        address=next_address(state),
        stage=state.stage.value,
        frames=frames_text(state),
        is_overdue=job.is_overdue(today),
        promised=day_text(job.promised_on, today),
    )


def frames_text(state: JobState) -> str:
    """The frames of a job by their names."""
    return ", ".join(member.frame.label for member in state.members)


def day_text(day: date | None, today: date) -> str:
    """A day as one speaks of it: today, tomorrow, 3 days ago, else its date."""
    if day is None:
        return ""
    days = (day - today).days
    near = {0: "today", 1: "tomorrow", -1: "yesterday"}
    if days in near:
        return near[days]
    if -7 < days < 0:
        return f"{-days} days ago"
    if 0 < days < 7:
        return f"{day:%A}"
    return f"{day:%-d %b %Y}" if day.year != today.year else f"{day:%-d %b}"


def in_fives(minutes: float) -> int:
    """A time at the bench as it is planned with: in whole five minutes, rather more than less."""
    return 5 * math.ceil(minutes / 5 - 1e-9)


def minutes_text(minutes: float) -> str:
    """A time at the bench: 45 min, 1 h 20 min."""
    hours, rest = divmod(in_fives(minutes), 60)
    if not hours:
        return f"{rest} min"
    return f"{hours} h {rest} min" if rest else f"{hours} h"


STEP_NAMES: Final = {
    Step.CHECK_IN: "Check in",
    Step.MEASURE: "Measure",
    Step.PLAN: "Plan",
    Step.APPLY: "Apply",
    Step.SIGN_OFF: "Sign off",
    Step.COLLECT: "Collect",
}


class StepView(NamedTuple):
    """A step of a job: its name, whether it is done, or what is to be done now."""

    name: str
    is_done: bool
    is_now: bool
    done: str = ""


def _steps(stage: Stage) -> list[StepView]:
    """The steps of a frame that stands at a stage; all are done once it was collected."""
    now = STEP_OF.get(stage)
    return [
        StepView(name, now is None or step.is_before(now), step is now) for step, name in STEP_NAMES.items()
    ]


def _job_steps(state: JobState) -> list[StepView]:
    """The steps of a whole job, each with how many of its frames are past it."""
    of_frames = [_steps(member.stage) for member in state.members]
    count = len(of_frames)
    last = _steps(state.stage)
    return [
        step._replace(done=f"{sum(steps[i].is_done for steps in of_frames)} of {count}" if 0 < i < 5 else "")
        for i, step in enumerate(last)
    ]


def _step_button(state: JobState) -> str:
    """What the button does that leads on: of several frames it opens the first."""
    text, ones = NEXT[state.stage].capitalize(), state.next_ones
    return f"{text}: {ones[0].frame.label}" if ones and len(state.members) > 1 else text


@dataclass(frozen=True, slots=True)
class MemberView:
    """A frame of a job: where it stands, what it needs next and where that is done."""

    row: JobFrame
    frame: Frame
    plan: Plan | None
    work: BenchWork | None
    sign_off: SignOff | None
    next: str
    steps: list[StepView]
    plans: list[Plan]
    address: str

    @property
    def is_signed_off(self) -> bool:
        """Whether it is finished."""
        return self.sign_off is not None

    @property
    def is_chosen(self) -> bool:
        """Whether somebody chose its plan."""
        return self.row.plan_id is not None


def member_shown(job: Job, member: JobMember) -> MemberView:
    """A frame of a job as its page tells it."""
    plans: list[Plan] = [p for p in member.frame.plans.all() if not p.is_archived]
    return MemberView(
        row=member.row,
        frame=member.frame,
        plan=member.plan,
        work=member.work,
        sign_off=member.sign_off,
        next=NEXT[member.stage],
        steps=_steps(member.stage if not job.handed_over_at else Stage.DONE),
        plans=plans,
        address=member_address(job, member),
    )


@dataclass(frozen=True, slots=True)
class JobView:
    """The page of a job."""

    line: JobLine
    steps: list[StepView]
    step_button: str
    members: list[MemberView]
    minutes: str
    currency: str
    material: str
    work: str
    prices: list[tuple[str, str]]
    total: str
    today: date
    is_closed: bool
    bench_day: str
    follow_up: str


def job_view(state: JobState, shelf: Shelf, today: date) -> JobView:
    """A job as its page shows it."""
    job, shop = state.job, state.job.shop
    material, minutes = state.material(shelf), state.minutes(shelf)
    is_priced = not isinstance(material, NotMeasured)
    return JobView(
        line=line(state, today),
        steps=_job_steps(state),
        step_button=_step_button(state),
        members=[member_shown(job, member) for member in state.members],
        minutes=minutes_text(minutes),
        currency=shop.currency,
        material=f"{material:.2f}" if is_priced else "",
        work=_work_price(shop, state, shelf),
        prices=[
            (name, f"{price:.2f}")
            for name, price in (("material", job.price_material), ("work", job.price_time))
            if price is not None
        ],
        total=_total(job),
        today=today,
        is_closed=bool(job.handed_over_at or job.called_off_at),
        bench_day=_on(day_text(job.bench_on, today)),
        follow_up=day_text(job.follow_up_on, today),
    )


def _work_price(shop: Shop, state: JobState, shelf: Shelf) -> str:
    """What the whole work at the bench comes to at the shop's hour; "" where nobody said what that costs."""
    if shop.price_of_an_hour is None:
        return ""
    whole = in_fives(state.whole_minutes(shelf))
    price = price_text(float(shop.price_of_an_hour) * whole / 60, shop.currency)
    return f"{price} for {minutes_text(whole)}"


def _on(day: str) -> str:
    return day if not day or day in ("today", "tomorrow", "yesterday") or "ago" in day else f"on {day}"


def _total(job: Job) -> str:
    prices = [price for price in (job.price_material, job.price_time) if price is not None]
    return f"{sum(prices):.2f}" if prices else ""
