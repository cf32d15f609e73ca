"""Searches for plans of a set: asked once, done by a worker, told as they go, taken over where it ends."""

from __future__ import annotations

import hashlib
import threading
import time
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from datetime import timedelta
from typing import Any, Final

from django.db import connection, transaction
from django.db.models import F, Q
from django.utils import timezone

from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.solving.concessions import Concession, concessions
from kentrobar.core.solving.set_plans import Status
from kentrobar.core.solving.set_ways import SetWay, WayResult, plan_by, plan_fewest
from kentrobar.web.matching.models import FrameSet, SetSearch
from kentrobar.web.matching.prepared import PreparedFrame, prepared_frames, require_plannable, works
from kentrobar.web.matching.queries import sets_in_full
from kentrobar.web.matching.targets import target_of
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.planning.stored import numbered, stored_pieces
from kentrobar.web.shops.models import User

LONGEST_S: Final = 60.0  # that a search may take
POLISH_S: Final = 8.0  # nobody waits at a page that stands still meanwhile
BEAT_S: Final = 2.0
GIVEN_UP: Final = timedelta(seconds=12)  # without a beat, whoever searches is gone
TOLD_EVERY_S: Final = 0.5
State = SetSearch.State


def mark_of(of: FrameSet, frames: Sequence[PreparedFrame], shelf: Shelf) -> str:
    """What a search rests on: what is asked, what was read of the frames, what there is to lay."""
    told = [
        f"set {of.pk} {of.version}",
        *(
            f"{e.frame.pk} {e.frame.specs_id} {e.frame.changed_at} {e.member.is_out}"
            for e in frames
        ),
        *(f"{s.key} {s.kind} {s.density} {s.g_cm3} {s.each_g}" for s in shelf),
    ]
    return hashlib.sha256("\n".join(told).encode()).hexdigest()


@transaction.atomic
def ask_for(of: FrameSet, ways: Sequence[SetWay], mark: str, by: User) -> None:
    """Ask for plans in these ways; what was asked for this state of the set already is not asked again.

    A search that failed, or was stopped before it found a plan, is. Those of earlier states are cleared away:
    what was laid of them keeps its plans.
    """
    from kentrobar.web.matching.tasks import search

    of.searches.exclude(mark=mark).filter(state__in=(State.DONE, State.FAILED)).delete()
    for way in ways:
        found, is_new = SetSearch.objects.get_or_create(
            set=of, way=way.value, mark=mark, defaults={"asked_by": by}
        )
        if not is_new and found.is_in_vain:
            SetSearch.objects.filter(pk=found.pk).update(
                state=State.WAITING,
                is_stopped=False,
                problem="",
                result=None,
                best_g=None,
                bound_g=None,
            )
            is_new = True
        if is_new:
            search.defer(search_pk=found.pk)


def stop(found: SetSearch) -> None:
    """Tell a search to end with what it has."""
    SetSearch.objects.filter(pk=found.pk).update(is_stopped=True)


def take_over_left() -> int:
    """Ask again for searches whose worker no longer beats; how many there were."""
    from kentrobar.web.matching.tasks import search

    left = SetSearch.objects.filter(state=State.RUNNING, beat_at__lt=timezone.now() - GIVEN_UP)
    with transaction.atomic():
        keys = list(left.select_for_update(skip_locked=True).values_list("pk", flat=True))
        SetSearch.objects.filter(pk__in=keys).update(state=State.WAITING)
        for key in keys:
            search.defer(search_pk=key)
    return len(keys)


def run(search_pk: int) -> None:
    """Do one search, unless somebody else does it or has done it."""
    found = _claim(search_pk)
    if found is None:
        return
    with _beating(found):
        try:
            ending = {"state": State.DONE, "result": _solve(found)}
        except KentrobarError as error:
            ending = {"state": State.FAILED, "problem": error.message[:300]}
        except Exception:
            _write(found, state=State.FAILED, problem="Something went wrong; search again.")
            raise
    _write(found, ended_at=timezone.now(), **ending)


def _claim(search_pk: int) -> SetSearch | None:
    now = timezone.now()
    free = Q(state=State.WAITING) | Q(state=State.RUNNING, beat_at__lt=now - GIVEN_UP)
    claimed = SetSearch.objects.filter(free, pk=search_pk).update(
        state=State.RUNNING, attempt=F("attempt") + 1, started_at=now, beat_at=now
    )
    if not claimed:
        return None
    return SetSearch.objects.select_related("asked_by").get(pk=search_pk)


def _write(found: SetSearch, **values: Any) -> bool:
    """Write how far a search has come, as long as it is still ours."""
    mine = SetSearch.objects.filter(pk=found.pk, attempt=found.attempt, state=State.RUNNING)
    return bool(mine.update(**values))


@contextmanager
def _beating(found: SetSearch) -> Iterator[None]:
    """Beat while a search goes on: HiGHS may say nothing for long."""
    over = threading.Event()

    def beat() -> None:
        try:
            while not over.wait(BEAT_S):
                _write(found, beat_at=timezone.now())
        finally:
            connection.close()

    thread = threading.Thread(target=beat, daemon=True)
    thread.start()
    try:
        yield
    finally:
        over.set()
        thread.join()


def _solve(found: SetSearch) -> dict[str, Any]:
    """The plans of a set as they are kept. Raises KentrobarError where they cannot be looked for."""
    by = found.asked_by
    assert by is not None  # noqa: S101 - only somebody signed in asks
    of = sets_in_full(by).get(pk=found.set_id)
    frames, shelf = prepared_frames(of), shelf_of(by)
    if mark_of(of, frames, shelf) != found.mark:
        raise KentrobarError("The set was changed since; search again.", code="outdated")
    ready = require_plannable(frames)
    target, way = target_of(of, ready), SetWay(found.way)
    planned = works(of, ready, shelf)
    watch = _Watch(found)
    if of.kind == FrameSet.Kind.FEWEST and way is SetWay.LEAST:
        answer = plan_fewest(planned, target, seconds=LONGEST_S, watch=watch)
    else:
        answer = plan_by(
            way, planned, target, chance=of.target.chance, seconds=LONGEST_S, watch=watch,
            polish_s=POLISH_S if way is SetWay.LEAST else 0.0,
        )  # fmt: skip
    kept = _kept(answer, ready)
    if way is SetWay.LEAST and answer.plan.status is Status.INFEASIBLE:
        kept["ways_out"] = [
            _concession_kept(each, ready) for each in concessions(planned, target, LONGEST_S)
        ]
    return kept


class _Watch:
    """Tells how far a search has come, and whether it is to go on."""

    def __init__(self, found: SetSearch) -> None:
        self.found, self.next = found, 0.0

    def __call__(self, best_g: float, bound_g: float) -> bool:
        if time.monotonic() < self.next:
            return True
        self.next = time.monotonic() + TOLD_EVERY_S
        best = best_g if best_g < 1e6 else None
        is_mine = _write(self.found, best_g=best, bound_g=bound_g, beat_at=timezone.now())
        return is_mine and not SetSearch.objects.filter(pk=self.found.pk, is_stopped=True).exists()


def _concession_kept(out: Concession, frames: Sequence[PreparedFrame]) -> dict[str, Any]:
    return {
        "giving": out.giving.value,
        "frame": frames[out.frame].frame.pk if out.frame >= 0 else None,
        "name": out.name,
        "value": out.value,
        "added_g": out.plan.added_g,
        "chance": out.plan.chance,
        "target": dict(out.plan.target),
    }


def _kept(answer: WayResult, frames: Sequence[PreparedFrame]) -> dict[str, Any]:
    plan = answer.plan
    return {
        "status": plan.status.value,
        "target": dict(plan.target),
        "added_g": plan.added_g,
        "bound_g": plan.bound_g,
        "chance": plan.chance,
        "obstacle": None if answer.obstacle is None else list(answer.obstacle),
        "worth": None if answer.worth is None else [
            frames[answer.worth.frame].frame.pk, answer.worth.name, answer.worth.chance,
        ],
        "frames": [
            {
                "frame": each.frame.pk,
                "added_g": laid.found.added_g,
                "chance": laid.chance,
                "pieces": stored_pieces(numbered(laid.pieces)),
                "reason": None if laid.found.reason is None else [
                    list(laid.found.reason.names), laid.found.reason.now, laid.found.reason.low,
                    laid.found.reason.high,
                ],
            }
            for each, laid in zip(frames, plan.frames, strict=True)
        ],
    }  # fmt: skip
