"""Every write of the bench."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from django.db import transaction
from django.utils import timezone

from kentrobar.core.body.specs import READ, TWIST_WEIGHT
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.web.jobs.models import BenchEvent, BenchWork, Correction, RollFinding
from kentrobar.web.kit.records import write
from kentrobar.web.materials.models import Material
from kentrobar.web.measuring.services import Taking, record
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.stored import laid_plan
from kentrobar.web.shops.models import User

Kind = BenchEvent.Kind


class DoneElsewhereError(KentrobarError):
    """Something was done at this bench since the page was made."""

    def __init__(self) -> None:
        super().__init__(
            "Something was done here in the meantime, in another tab or by another person; look again.",
            code="conflict",
        )


@transaction.atomic
def start(plan: Plan, by: User) -> BenchWork:
    """Begin the work of a plan, or go on with the one that is begun.

    Raises:
        KentrobarError: nothing is laid in the plan, or its frame's weight was never read.
    """
    plan = (
        Plan.objects.select_for_update(of=("self",))
        .select_related("frame", "specs")
        .get(pk=plan.pk)
    )
    begun = plan.works.filter(ended_at=None).first()
    if begun is not None:
        return begun
    target, tolerances, chance = _aim_of(plan)
    return BenchWork.objects.create(
        plan=plan, pieces=plan.pieces, specs=plan.specs, axis_cm=plan.axis_cm, target=target,
        tolerances=tolerances, chance=chance, started_by=by,
    )  # fmt: skip


def _aim_of(plan: Plan) -> tuple[dict[str, float], dict[str, float], float]:
    """What the frame is to become: what its set was laid to, else what the plan says it comes to."""
    if not plan.pieces:
        raise KentrobarError("Lay something in the plan first.", code="nothing_laid")
    laying = plan.set_layings.select_related("set").first()
    if laying is not None:
        target = {n: v for n, v in laying.target.items() if n in laying.tolerances}
        part = 0.5 if laying.alike == "each_other" else 1.0
        within = {name: part * laying.tolerances[name] for name in target}
        return target, within, laying.set.chance
    after = laid_plan(plan).prediction.after
    known = [s for s in READ if s is not TWIST_WEIGHT and isinstance(after.of(s), Estimate)]
    if not known:
        raise KentrobarError(
            "Read the frame's weight first: without it nothing can be expected.",
            code="not_measured",
        )
    target = {s.key: q.value for s in known if isinstance(q := after.of(s), Estimate)}
    return target, {spec.key: spec.tolerance for spec in known}, 0.95


@transaction.atomic
def note(
    work: BenchWork, base: int, by: User, kind: Kind, piece: int | None = None, data: Any = None
) -> BenchEvent:
    """Note what was done or read, on top of event number ``base``.

    Raises:
        DoneElsewhereError: something was noted since, or the work is ended.
    """
    return BenchEvent.objects.create(
        work=_locked(work, base),
        number=base + 1,
        kind=kind,
        piece=piece,
        data=data or {},
        made_by=by,
    )


def _locked(work: BenchWork, base: int) -> BenchWork:
    """The work, locked, while it goes on and event ``base`` is its last."""
    locked = BenchWork.objects.select_for_update().get(pk=work.pk)
    if locked.ended_at is not None or locked.events.count() != base:
        raise DoneElsewhereError
    return locked


@transaction.atomic
def note_trims(
    work: BenchWork, base: int, by: User, trims: list[tuple[int, dict[str, Any] | None]]
) -> None:
    """Note pieces that were cut anew, each with what then lies; None: taken off. Raises as :func:`note`."""
    for i, (piece, laid) in enumerate(trims):
        kind = Kind.TAKEN_OFF if laid is None else Kind.TRIMMED
        note(work, base + i, by, kind, piece, laid)


@transaction.atomic
def end(
    work: BenchWork, base: int, by: User, reading: Taking | None = None,
    findings: Iterable[RollFinding] = (),
) -> None:  # fmt: skip
    """End the work: what lies is left. A ``reading`` of what is permanent counts for the frame from now on.

    ``findings`` are what it knows of its rolls. Raises as :func:`note`.
    """
    _locked(work, base)
    if reading is not None:
        record(work.plan.frame, reading, by)
    mine = Material.objects.filter(shop=work.plan.shop_id).values_list("pk", flat=True)
    of_roll = {each.material_id: each for each in findings if each.material_id in set(mine)}
    RollFinding.objects.bulk_create(of_roll.values())
    write(work, ended_at=timezone.now())


@transaction.atomic
def take_over(material: Material, found: Estimate, jobs: int, by: User) -> Correction:
    """Take a tape for what the bench found it to weigh; plans that are laid keep what they were laid with."""
    kept = Material.objects.select_for_update().get(pk=material.pk)
    made = Correction.objects.create(
        material=kept, before_g_per_cm=kept.g_per_cm or 0.0, before_u=kept.g_per_cm_u or 0.0,
        g_per_cm=found.value, u=found.u, jobs=jobs, made_by=by,
    )  # fmt: skip
    _take_for(kept, found.value, found.u)
    return made


@transaction.atomic
def take_back(correction: Correction) -> None:
    """Take a tape for what it was taken for before, unless its weight was changed since."""
    kept = Correction.objects.select_for_update().get(pk=correction.pk)
    material = Material.objects.select_for_update().get(pk=kept.material_id)
    if kept.taken_back_at is None and material.g_per_cm == kept.g_per_cm:
        write(kept, taken_back_at=timezone.now())
        _take_for(material, kept.before_g_per_cm, kept.before_u)


def _take_for(material: Material, g_per_cm: float, u: float) -> None:
    write(material, g_per_cm=g_per_cm, g_per_cm_u=u, typed_density={}, cuts=[])
