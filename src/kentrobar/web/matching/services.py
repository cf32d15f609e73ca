"""Every write of sets."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from django.db import transaction
from django.db.models import F

from kentrobar.core.bench.steps import OrderOfWork
from kentrobar.core.body.target import Target
from kentrobar.core.editing.plan import PlanPiece
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.units import LENGTH
from kentrobar.core.solving.allowed import Allowed
from kentrobar.core.solving.set_targets import PRESETS, USUAL_PRESET
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.services import fit_accessories, string_with, take_off
from kentrobar.web.kit.quantities import Typed
from kentrobar.web.kit.records import locked, locked_as_seen, write
from kentrobar.web.matching.models import FrameSet, SetLaying, SetMember
from kentrobar.web.materials.models import Accessory
from kentrobar.web.planning.board.view_models import CUTTING_STEPS
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.services import create_plan, set_order_of_work
from kentrobar.web.shops.models import User

MOST_FRAMES = 60


@transaction.atomic
def create_set(frames: Sequence[Frame], by: User, name: str = "") -> FrameSet:
    """A set of these frames, to be made alike with the least weight within the usual tolerances.

    Raises:
        KentrobarError: fewer than two frames, too many, or of both sports.
    """
    _require_of_one_sport(frames)
    _require_count(len(frames))
    first, (step, unit) = frames[0], CUTTING_STEPS[by.units.length]
    read = [frame.specs.build for frame in frames if frame.specs]
    builds = [b for b in read if b in FrameSet.BuildChoice.values]
    made = FrameSet.objects.create(
        shop=by.own_shop,
        name=(name or _name_for(frames))[:80],
        target=Target.about(
            {},
            PRESETS[USUAL_PRESET].tolerances,
            first.measured.axis_cm,
            setup=max(set(builds), key=builds.count) if builds else FrameSet.BuildChoice.PLAYING,
        ),
        step_cm=LENGTH.to_base(float(step), unit),
    )
    SetMember.objects.bulk_create(SetMember(set=made, frame=frame) for frame in frames)
    return made


def _require_count(count: int) -> None:
    if count < 2:
        raise KentrobarError(
            "Select at least two frames, then choose “Match selected”.", code="too_few_frames"
        )
    if count > MOST_FRAMES:
        raise KentrobarError(f"A set holds at most {MOST_FRAMES} frames.", code="too_many_frames")


def _require_of_one_sport(frames: Iterable[Frame]) -> None:
    if len({frame.sport for frame in frames}) > 1:
        raise KentrobarError(
            "Rackets match rackets and paddles match paddles. Select frames of one kind.", code="two_sports"
        )


def _name_for(frames: Sequence[Frame]) -> str:
    players = {frame.player for frame in frames}
    models = {frame.model.name for frame in frames if frame.model}
    whose = players.pop() if len(players) == 1 else ""
    what = models.pop() if len(models) == 1 else "set"
    count = f"{len(frames)} × {what}"
    return f"{whose}: {count}" if whose else count


@transaction.atomic
def add_frames(of: FrameSet, frames: Sequence[Frame]) -> int:
    """Take more frames into a set; those that are in it stay as they are. How many were new.

    Raises:
        KentrobarError: of another sport, or too many.
    """
    kept = locked(of)
    here = Frame.objects.filter(sets=kept)
    _require_of_one_sport([*here, *frames])
    known = set(here.values_list("pk", flat=True))
    new = [frame for frame in frames if frame.pk not in known]
    _require_count(len(known) + len(new))
    SetMember.objects.bulk_create(SetMember(set=kept, frame=frame) for frame in new)
    write(of, version=F("version") + 1)
    return len(new)


@transaction.atomic
def leave_out(of: FrameSet, frame_pk: int, is_out: bool) -> None:
    """Leave a frame out of what is planned, or take it back in."""
    SetMember.objects.filter(set=of, frame=frame_pk).update(is_out=is_out)
    write(of, version=F("version") + 1)


@transaction.atomic
def allow(of: FrameSet, frame_pk: int, allowed: Allowed) -> None:
    """Use only these places on one frame of a set; everywhere: those of the set."""
    SetMember.objects.filter(set=of, frame=frame_pk).update(allowed=allowed)
    write(of, version=F("version") + 1)


@transaction.atomic
def ask(of: FrameSet, base: int, **values: Any) -> None:
    """Change what is asked of a set, on top of version ``base``.

    Raises:
        ChangedError: the set is no longer at ``base``.
    """
    locked_as_seen(of, base)
    write(of, version=base + 1, **values)


@transaction.atomic
def aim_at(of: FrameSet, target: Mapping[str, float]) -> None:
    """Take these specs as the written target: what a hand dragged the box to, or what plans were laid for.

    Plans that were laid keep it so: a reading of a fitted frame moves the target of the others no more.
    """
    now = locked(of)
    kept = {name: round(value, 4) for name, value in target.items() if name in now.target.bands}
    typed = {name: value for name, value in now.typed.items() if not name.startswith("target_")}
    written, placed = FrameSet.TargetKind.WRITTEN, now.target.placed(kept)
    write(of, kind=written, target=placed, typed=typed, version=F("version") + 1)


@transaction.atomic
def widen(of: FrameSet, wider: Mapping[str, float]) -> None:
    """Allow specs that have a tolerance a wider one."""
    now = locked(of)
    known = {name: t for name, t in wider.items() if name in now.target.bands and t > 0}
    typed = {name: value for name, value in now.typed.items() if not name.startswith("within_")}
    target = now.target.with_tolerances(now.target.tolerances | known)
    write(of, target=target, typed=typed, version=F("version") + 1)


def rename(of: FrameSet, name: str) -> None:
    """Call a set something else."""
    write(of, name=" ".join(name.split())[:80] or of.name)


@transaction.atomic
def change_all(
    frames: Sequence[Frame],
    *,
    known: Mapping[str, Any],
    off: str = "",
    on: Accessory | None = None,
    strings: tuple[str, Typed] | None = None,
) -> None:
    """Change what is known of all frames of a set, and what is fitted on them: on all, or on none of them."""
    for frame in frames:
        if known:
            write(frame, **known)
        for fitting in frame.fittings.filter(kind=off, is_on=True) if off else ():
            take_off(fitting)
        if on is not None:
            fit_accessories(frame, [on])
        if strings is not None:
            string_with(frame, *strings)


@transaction.atomic
def lay(
    of: FrameSet,
    by: User,
    *,
    way: str,
    title: str,
    target: Mapping[str, float],
    pieces: Sequence[tuple[Frame, tuple[PlanPiece, ...]]],
) -> SetLaying:
    """Lay a plan on the board of every frame of a set; a frame that needs nothing gets an empty one."""
    plans = [
        create_plan(
            frame,
            by,
            name=f"{of.name[:40]}: {title} for {frame.label}"[:80],
            axis_cm=of.target.axis_cm,
            pieces=stored,
        )
        for frame, stored in pieces
    ]
    for plan in plans:
        set_order_of_work(plan, OrderOfWork(of.order_of_work))
    made = SetLaying.objects.create(set=of, way=way, target=of.target.placed(target), made_by=by)
    made.plans.set(plans)
    aim_at(of, target)
    return made


def plans_applied(of: FrameSet) -> list[Plan]:
    """The plans that were laid for a set last, in the order of its frames; none where none were."""
    last = next(iter(of.layings.all()), None)
    if last is None:
        return []
    order = {member.frame_id: i for i, member in enumerate(of.members.all())}
    return sorted(last.plans.all(), key=lambda plan: order.get(plan.frame_id, len(order)))
