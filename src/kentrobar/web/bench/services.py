"""Every write of the bench."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.db import transaction
from django.utils import timezone

from kentrobar.core.bench.stages import Stage
from kentrobar.core.body.specs import READ, TWIST_WEIGHT
from kentrobar.core.body.target import Target
from kentrobar.core.editing.plan import PlanPiece
from kentrobar.core.editing.stored import stored_pieces
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.bench.models import BenchEvent, BenchWork, PlaceFinding, RollFinding, ShiftFinding
from kentrobar.web.bench.queries import works
from kentrobar.web.bench.rounds import work_state
from kentrobar.web.kit.records import ChangedError, Json, locked, locked_as_seen, write
from kentrobar.web.matching.targets import target_as_read
from kentrobar.web.materials.models import Material
from kentrobar.web.measuring.services import Taking, record
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.stored import plan_state
from kentrobar.web.shops.models import User

Kind = BenchEvent.EventKind
Finding = RollFinding | ShiftFinding | PlaceFinding


@transaction.atomic
def start(plan: Plan, by: User) -> BenchWork:
    """Begin the work of a plan, or go on with the one that is begun.

    Raises:
        KentrobarError: nothing is laid in the plan, or its frame's weight was never read.
    """
    plan = locked(plan)
    begun = plan.works.filter(ended_at=None).first()
    if begun is not None:
        return begun
    return BenchWork.objects.create(
        plan=plan,
        pieces=plan.pieces,
        specs=plan.specs,
        target=_target_of(plan),
        started_by=by,
        stage=Stage.FIT,
    )


def _target_of(plan: Plan) -> Target:
    """What the frame is to become: what its set was planned to, else what the plan says it comes to."""
    if not plan.pieces:
        raise KentrobarError("Add weight to the plan first.", code="nothing_laid")
    laying = plan.set_layings.first()
    if laying is not None:
        return target_as_read(laying, plan)
    state = plan_state(plan)
    if state.target.two_sided.bands:
        return state.target.two_sided
    after = state.prediction.after
    known = [s for s in READ if s is not TWIST_WEIGHT and after.of(s)]
    if not known:
        raise KentrobarError(
            "Measure the frame's static weight first: nothing can be predicted without it.",
            code="not_measured",
        )
    centres = {s.key: q.value for s in known if (q := after.of(s))}
    return Target.about(centres, {spec.key: spec.tolerance for spec in known}, plan.axis_cm)


@transaction.atomic
def note(
    work: BenchWork, base: int, by: User, kind: Kind, piece: int | None = None, data: Any = None
) -> BenchEvent:
    """Note what was done or read, on top of event number ``base``.

    Raises:
        ChangedError: something was noted since, or the work is ended.
    """
    kept = _open_as_seen(work, base)
    event = BenchEvent.objects.create(
        work=kept, number=base + 1, kind=kind, piece=piece, data=data or {}, made_by=by
    )
    settle(kept)
    return event


@transaction.atomic
def settle(work: BenchWork) -> None:
    """Keep where a work stands after its last event, and what is then told to do next."""
    found = works().get(pk=work.pk)
    state = work_state(found)
    next_step = state.stored_next()
    write(work, stage=state.stage, next_step=next_step, events_seen=len(found.events.all()))


def settle_older() -> None:
    """The same for works of earlier versions, which did not keep it."""
    for work in BenchWork.objects.filter(stage=""):
        try:
            settle(work)
        except KentrobarError:  # its outline was changed since: it is to be read anew
            write(work, stage=Stage.MEASURE)


def _open_as_seen(work: BenchWork, base: int) -> BenchWork:
    """The work, locked, while it goes on and event ``base`` is its last."""
    kept = locked_as_seen(work, base)
    if kept.ended_at is not None:
        raise ChangedError(kept)
    return kept


@transaction.atomic
def note_trims(work: BenchWork, base: int, by: User, trims: list[tuple[int, Json | None]]) -> None:
    """Note pieces that were cut anew, each with what then lies; None: taken off. Raises as :func:`note`."""
    for i, (piece, applied) in enumerate(trims):
        kind = Kind.TAKEN_OFF if applied is None else Kind.TRIMMED
        note(work, base + i, by, kind, piece, applied)


@transaction.atomic
def note_split(work: BenchWork, base: int, by: User, parts: Sequence[PlanPiece]) -> None:
    """Note that an applied piece was cut in two: the first part keeps its number. Raises as :func:`note`."""
    first, *rest = parts
    note(work, base, by, Kind.TRIMMED, first.number, stored_pieces([first])[0])
    for i, part in enumerate(rest, 1):
        note(work, base + i, by, Kind.ADDED, part.number, stored_pieces([part])[0])


@transaction.atomic
def take_off_later(work: BenchWork, number: int, by: User) -> BenchEvent:
    """Note that a piece that a work left on its frame came off since.

    Raises:
        KentrobarError: the work still goes on, so that it is taken off there; or it does not lie any more.
    """
    kept = locked(work)
    if kept.ended_at is None:
        raise KentrobarError("Remove it at the bench, where this work is under way.", code="at_the_bench")
    events = list(kept.events.filter(piece=number))
    if not events or events[-1].kind not in (Kind.LAID, Kind.ADDED, Kind.TRIMMED, Kind.MOVED):
        raise KentrobarError("It is no longer on the frame.", code="not_laid")
    return BenchEvent.objects.create(
        work=kept, number=kept.events.count() + 1, kind=Kind.TAKEN_OFF, piece=number, made_by=by
    )


@transaction.atomic
def end(
    work: BenchWork, base: int, by: User, reading: Taking | None = None, findings: Sequence[Finding] = ()
) -> None:
    """End the work: what lies is left. A ``reading`` of what is permanent counts for the frame from now on.

    ``findings`` are what it knows of its rolls, of how they shifted and of places. Raises as :func:`note`.
    """
    _open_as_seen(work, base)
    if reading is not None:
        record(work.plan.frame, reading, by)
    mine = set(Material.objects.filter(shop=work.plan.shop_id).values_list("pk", flat=True))
    once = {
        (type(each), each.material_id): each
        for each in findings
        if not isinstance(each, PlaceFinding) and each.material_id in mine
    }
    for each in (*once.values(), *(each for each in findings if isinstance(each, PlaceFinding))):
        each.save()
    write(work, ended_at=timezone.now(), stage=Stage.VERIFY if reading else Stage.MEASURE)
