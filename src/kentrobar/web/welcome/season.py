"""A season at the invented club: jobs in every stage, half a year of readings, a roll that runs heavy.

What is read is made up from what is laid, with the scatter of its instruments: the true weight of each piece
is what its roll truly weighs, which nobody is told.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date, timedelta
from typing import Any, Final, NamedTuple

import numpy as np
from django.db import transaction
from django.db.models import F, QuerySet
from django.utils import timezone

from kentrobar.core.bench.stages import Stage
from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import READ
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.rounds.trimming import Advice
from kentrobar.core.weight.materials import MaterialKind
from kentrobar.core.weight.pieces import Piece
from kentrobar.core.weight.prediction import predict
from kentrobar.web.bench import services as bench
from kentrobar.web.bench.evidence import all_findings_of, expected_shifts
from kentrobar.web.bench.models import BenchEvent, BenchWork
from kentrobar.web.bench.queries import works_of
from kentrobar.web.bench.rounds import Action, WorkState, stored_reading, stored_trim, taking_of, work_state
from kentrobar.web.frames.models import Frame, FrameFitting, SpecSheet
from kentrobar.web.kit.records import write
from kentrobar.web.materials.services import add_material
from kentrobar.web.measuring.models import Instrument
from kentrobar.web.measuring.services import TakenReading, Taking, record
from kentrobar.web.orders.followup.services import note_play
from kentrobar.web.orders.handover.services import sign_off
from kentrobar.web.orders.handover.verifying import outcome_of
from kentrobar.web.orders.job_state import job_state
from kentrobar.web.orders.jobs import services as orders
from kentrobar.web.orders.models import Job
from kentrobar.web.orders.queries import jobs_in_full
from kentrobar.web.planning.models import Plan
from kentrobar.web.shops.models import Client, User
from kentrobar.web.welcome.demo import Racket, Step, lay_plan, take_racket

HEAVY_ROLL: Final = "Lead tape, quarter inch, roll of March"
RUNS_HEAVY: Final = 1.05  # times what it is taken for
SEED: Final = 20260314
SCATTER: Final = {"mass_g": 0.08, "balance_cm": 0.04, "swingweight_kgcm2": 0.5}
KIND = BenchEvent.EventKind

# Frames of the club's coaches, done one after the other with the heavy roll; days ago, and what was said.
HERONS: Final = [
    (Racket(f"Heron 98 H{i}", "coaches", f"H{i}", 98, 22, specs), days, words, alike)
    for i, (specs, days, words, alike) in enumerate(
        [
            ((301.2, 32.1, 299.4, 13.1), 168, "Much calmer on returns.", "different"),
            ((302.8, 32.3, 301.0, 13.2), 141, "I notice nothing at all.", "same"),
            ((300.4, 31.9, 297.2, 13.0), 113, "Steadier, a touch slower at the net.", "different"),
            ((303.1, 32.2, 302.5, 13.3), 84, "Feels like the other one now.", "same"),
            ((301.9, 32.0, 300.1, 13.1), 52, "Heavier than I thought, but I like it.", "different"),
            ((300.9, 32.2, 298.8, 13.2), 12, "", ""),
        ],
        1,
    )
]
HERON_PLAN: Final[list[Step]] = [
    (HEAVY_ROLL, "13 cm", "three_nine", True),
    (HEAVY_ROLL, "9 cm", "twelve", True),
    ("Removable putty", "3 g", "butt_cap", False),
]
# Frames that were read month by month, each reading a little off the last.
READ_FOR_MONTHS: Final = (
    "Reed 100 A1",
    "Reed 100 A2",
    "Reed 100 A3",
    "Reed 100 A4",
    "Sedge 98 Tour",
    "Sedge 98 Tour spare",
)
MONTHS: Final = 6
SHOWS_MORE: Final = 1.6  # kg·cm², the second machine than the first


class _Going(NamedTuple):
    """A job that goes on: how far it is, by when, and what is said of it."""

    client: str
    brief: str
    frames: tuple[str, ...]
    until: Stage
    promised_in: int | None
    bench_in: int | None = None
    waiting_for: str = ""
    notes: str = ""


GOING: Final = [
    _Going(
        "Wanda", "Quicker at the net, no heavier than 290 g", ("Teasel 104 Light",), Stage.PERMANENT, -3, 0
    ),
    _Going(
        "Tobias",
        "Steadier off centre",
        ("Sedge 98 Tour",),
        Stage.READ,
        0,
        0,
        notes="Keep the grip size. He plays on Saturday.",
    ),
    _Going(
        "Ines", "Make the second play like the favourite", ("Reed 100 A2", "Reed 100 A3"), Stage.FIT, 2, 1
    ),
    _Going("Rosa", "A wider sweet spot", ("Mudlark 16",), Stage.VERIFY, 1, 0),
    _Going("club", "Read the new one", ("Reed 100 A5",), Stage.MEASURE, 4, 2),
    _Going("Lena", "As light in the head as can be", ("Samphire Wide",), Stage.PLAN, 6),
    _Going(
        "Gus",
        "A little less head",
        ("Plover 14 Elongated",),
        Stage.FIT,
        9,
        waiting_for="a grip sleeve of 16 g",
    ),
    _Going("Bram", "Changes only, no machine", ("Glasswort 100",), Stage.CALL, 0),
    _Going("Odile", "Check after restringing", ("Marram 97 Players",), Stage.HAND_OVER, 1),
    _Going("Matthis", "A first check", ("Oyster Control",), Stage.FOLLOW_UP, -16),
]


@transaction.atomic
def load_season(technician: User) -> None:
    """Fill the club's half year."""
    worker = _Worker(technician)
    _read_for_months(worker)
    tape = add_material(technician.own_shop, MaterialKind.LEAD_TAPE, HEAVY_ROLL, 0.0977)
    worker.true_factor[tape.pk] = RUNS_HEAVY
    for racket, days, words, alike in HERONS:
        _heron(worker, racket, days, words, alike)
    for going in GOING:
        worker.bring(going)
    Client.objects.filter(shop=technician.shop_id, name__in=("Rosa", "Gus")).update(reads_in="inches")


def _read_for_months(worker: _Worker) -> None:
    """By turns with the club's machine, and with one that shows a little more than it."""
    of_shop = Instrument.objects.filter(shop=worker.by.shop_id, kind=Instrument.InstrumentKind.MACHINE)
    machines = list(zip(of_shop.order_by("pk")[:2], (0.0, SHOWS_MORE), strict=True))
    for frame in Frame.objects.filter(shop=worker.by.shop_id, label__in=READ_FOR_MONTHS):
        counts_now = frame.specs
        assert counts_now is not None  # noqa: S101 - the demo read them
        for months_ago in range(MONTHS, 0, -1):
            machine, shows_more = machines[months_ago % 2]
            sheet = worker.read_frame(frame, counts_now.measured, 0.1 * months_ago, machine, shows_more)
            when = timezone.now() - timedelta(days=30 * months_ago)
            SpecSheet.objects.filter(pk=sheet.pk).update(taken_at=when, replaces=None)
        write(frame, specs=counts_now)
        _move(frame.fittings.all(), 30 * MONTHS + 1, "fitted_at")


def _heron(worker: _Worker, racket: Racket, days: int, words: str, alike: str) -> None:
    frame = take_racket(worker.by.own_shop, racket, worker.by)
    job = orders.take_job(
        worker.by,
        client=racket.player,
        frames=[frame],
        brief="Up to the coaches' spec",
        promised_on=timezone.localdate() + timedelta(days=3),
    )
    plan = lay_plan(frame, "Coaches' spec", HERON_PLAN, worker.by)
    worker.until(plan, Stage.VERIFY)
    worker.sign_off(job)
    orders.tell_client(job)
    follow_up_on = timezone.localdate() + timedelta(days=14)
    orders.hand_over(job, worker.by, follow_up_on)
    if words:
        row = job.members.get()
        note_play(job, [(row, {"words": words, "alike": alike, "ratings": {"stability": 1}})], worker.by)
    _shift(job, days)


def _shift(job: Job, days: int) -> None:
    """Let a job have been done so many days ago."""
    frames = job.members.values("frame")
    _move(
        Job.objects.filter(pk=job.pk), days, "created_at", "notified_at", "handed_over_at", "followed_up_at"
    )
    dates = Job.objects.get(pk=job.pk)
    ago = timedelta(days=days)
    Job.objects.filter(pk=job.pk).update(
        promised_on=dates.promised_on and dates.promised_on - ago,
        follow_up_on=dates.follow_up_on and dates.follow_up_on - ago,
    )
    job.history.update(history_date=F("history_date") - ago)
    plans = Plan.objects.filter(frame__in=frames)
    _move(plans, days, "created_at", "changed_at")
    works = BenchWork.objects.filter(plan__in=plans)
    _move(works, days, "started_at", "ended_at")
    for each in (BenchEvent.objects.filter(work__in=works), job.play_tests.all()):
        _move(each, days, "made_at")
    for work in works:
        _move(work.findings.all(), days, "made_at")
    _move(SpecSheet.objects.filter(frame__in=frames), days, "taken_at")
    _move(FrameFitting.objects.filter(frame__in=frames), days, "fitted_at")
    for row in job.members.all():
        _move(row.sign_offs.all(), days, "made_at")


def _move(rows: QuerySet[Any], days: int, *names: str) -> None:
    rows.update(**{name: F(name) - timedelta(days=days) for name in names})


@dataclass
class _Worker:
    """Works at the bench as a technician would, with readings that scatter and rolls that differ."""

    by: User
    random: np.random.Generator = field(default_factory=lambda: np.random.default_rng(SEED))
    true_factor: dict[int, float] = field(default_factory=dict)

    def bring(self, going: _Going) -> None:
        """Take a job on and bring it as far as it is."""
        today = timezone.localdate()
        frames = Frame.objects.filter(shop=self.by.shop_id, label__in=going.frames)
        job = orders.take_job(
            self.by,
            client=going.client,
            frames=frames,
            brief=going.brief,
            notes=going.notes,
            waiting_for=going.waiting_for,
            promised_on=_in(today, going.promised_in),
            bench_on=_in(today, going.bench_in),
        )
        has_plan = going.until not in (Stage.MEASURE, Stage.PLAN, Stage.HAND_OVER, Stage.FOLLOW_UP)
        for row in job.members.all():
            plan = row.frame.plans.first() if has_plan else None
            if plan is not None:
                orders.mean_plan(row, plan)
                self.until(plan, min(going.until, Stage.VERIFY, key=list(Stage).index))
        self._finish(job, going.until)

    def _finish(self, job: Job, until: Stage) -> None:
        if until in (Stage.CALL, Stage.HAND_OVER, Stage.FOLLOW_UP):
            self.sign_off(job)
        if until in (Stage.HAND_OVER, Stage.FOLLOW_UP):
            orders.tell_client(job)
        if until is Stage.FOLLOW_UP:
            orders.hand_over(job, self.by, timezone.localdate() + timedelta(days=14))
            _shift(job, 16)

    def until(self, plan: Plan, stage: Stage) -> None:
        """Do a plan at the bench up to where this stage is next; to the end where it is verified next."""
        if stage is Stage.FIT and not plan.name.startswith("Up to"):
            return
        work = bench.start(plan, self.by)
        while (state := self._state(work)).stage is not stage or stage is Stage.VERIFY:
            if not self._step(work, state):
                return

    def _step(self, work: BenchWork, state: WorkState) -> bool:
        base = len(state.work.events.all())
        match state.action:
            case Action.LAY:
                bench.note(work, base, self.by, KIND.LAID, state.to_apply[0])
            case Action.READ | Action.QUESTION:
                self._read(work, base, state)
            case Action.NEXT if state.is_read_for_good:
                bench.end(work, base, self.by, taking_of(state), all_findings_of(state))
                return False
            case Action.NEXT if state.next.advice is Advice.TRIM and len(state.rounds) < 3:
                trims = [(int(trim.key), stored_trim(trim)) for trim in state.next.trims]
                bench.note_trims(work, base, self.by, trims)
            case Action.NEXT:
                data = {"shifts": expected_shifts(self.by)}
                bench.note(work, base, self.by, KIND.PERMANENT, data=data)
        return True

    def _state(self, work: BenchWork) -> WorkState:
        return work_state(works_of(self.by).get(pk=work.pk))

    def _read(self, work: BenchWork, base: int, state: WorkState) -> None:
        true = [self._true(piece) for _, piece in state.done_pieces()]
        outline = state.plan.outline
        specs = predict(
            state.plan.measured,
            true,
            length_cm=outline.length_cm,
            axis_cm=work.target.axis_cm,
            outline=outline,
        ).after
        data: dict[str, Any] = {"specs": {}, "readings": []}
        for spec in READ:
            quantity = getattr(specs, spec.key)
            if spec.key in SCATTER and quantity:
                value = quantity.value + self.random.normal(0, SCATTER[spec.key] / 3**0.5)
                data["specs"][spec.key] = {"value": value, "u": SCATTER[spec.key] / 3**0.5}
                typed = TakenReading(spec.field, f"{value:.2f}", spec.unit, value, detail={"mean_of": 3})
                data["readings"].append(stored_reading(typed))
        bench.note(work, base, self.by, KIND.READ, data=data)

    def _true(self, piece: Piece) -> Piece:
        factor = self.true_factor.get(piece.source.stock, 1.0)
        density = piece.density
        if factor == 1.0 or not density:
            return piece
        return piece.with_density(Estimate(density.value * factor, 0.0))

    def read_frame(
        self, frame: Frame, measured: MeasuredSpecs, drift: float, machine: Instrument, more: float
    ) -> SpecSheet:
        """Read a frame as it was: lighter by ``drift`` g, by a machine that shows so much more, kg·cm²."""
        known, readings = {}, []
        for spec in READ:
            quantity = measured.of(spec)
            if quantity:
                off = {"mass_g": -drift, "swingweight_kgcm2": more}.get(spec.key, 0.0)
                used = machine if spec.key == "swingweight_kgcm2" else None
                value = quantity.value + off + self.random.normal(0, SCATTER.get(spec.key, 0.05))
                known[spec.key] = Estimate(value, quantity.u)
                text = f"{value:.2f}"
                readings.append(TakenReading(spec.field, text, spec.unit, value, instrument=used))
        assert frame.specs is not None  # noqa: S101 - it was read
        taking = Taking(
            MeasuredSpecs.read_apart(known, measured.axis_cm),
            frame.specs.build,
            readings,
            frame.specs.fitting_ids,
        )
        return record(frame, taking, self.by)

    def sign_off(self, job: Job) -> None:
        """Sign all frames of a job off as they are."""
        found = job_state(jobs_in_full(self.by).get(pk=job.pk))
        for member in found.members:
            outcome = outcome_of(member)
            remark = "" if outcome.is_all_within else "Near enough, says the player."
            sign_off(member.row, member.work, outcome, self.by, signed_as="Saltmarsh bench", remark=remark)


def _in(today: date, days: int | None) -> date | None:
    return None if days is None else today + timedelta(days=days)
