"""The one way in which something is searched for: asked once, solved by a worker, shown as it goes, stopped.

An app has a :class:`SearchKind` for what it searches for, and hands it in when the application starts. A
search is known by the fingerprint of everything that goes into it: asked again it is found, and once
anything changed it is another one.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Final, NamedTuple, Protocol

from django.db import transaction
from django.db.models import F, QuerySet
from django.utils import timezone
from procrastinate.contrib.django import app

from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.web.kit.models import Search
from kentrobar.web.kit.records import Json

REPORTS_EVERY_S: Final = 0.5
State = Search.State
Watch = Callable[[float, float], bool]  # given the best weight so far and its bound, g; False stops


class Prepared(NamedTuple):
    """A search put together: the fingerprint of what goes in, and what solves it.

    The answer is what JSON can hold; its ``status`` is ``undecided`` where time ran out with nothing.
    """

    fingerprint: str
    solve: Callable[[Watch], Json]


@dataclass
class SearchCard:
    """One search as a page shows it; a finished one by its kind's template.

    Cards are in the order of ``order``; of those with the same ``same`` the first is shown. A kind may
    leave one out that has nothing to say.
    """

    search: Search
    title: str
    reason: str = ""
    template: str = ""
    view: object = None  # what the template reads
    order: float = 0.0
    same: str = ""
    best: str = ""
    bound: str = ""
    is_shown: bool = True
    leads_to: str = ""  # where whoever waits for it is led once it is over


class SearchKind(Protocol):
    """What an app searches for."""

    name: str

    def prepare(self, search: Search) -> Prepared:
        """Put together what goes in. Raises KentrobarError where that cannot be."""

    def cards(self, searches: Sequence[Search], user: Any) -> list[SearchCard]:
        """Searches about one subject as its page shows them."""


class SearchRequest(NamedTuple):
    """One search to ask for: which part, by which fingerprint, and what puts it together again."""

    part: str
    fingerprint: str
    request: Mapping[str, Any]


_KINDS: dict[str, SearchKind] = {}


def offer_kind(kind: SearchKind) -> None:
    """Let workers solve, and pages show, searches of this kind."""
    _KINDS[kind.name] = kind


def kind_of(search: Search) -> SearchKind:
    """Who solves and shows a search."""
    return _KINDS[search.kind]


# -- asking ----------------------------------------------------------------------------------


@transaction.atomic
def ask(kind: str, subject: int, requests: Iterable[SearchRequest], by: Any) -> list[Search]:
    """Ask for searches about a subject; one that was asked for this state already is not asked again.

    One that failed, or was stopped before it found anything, is. Those of earlier states that are over are
    cleared away.
    """
    requested = list(requests)
    about = _about(kind, subject, by)
    earlier = about.exclude(fingerprint__in=[each.fingerprint for each in requested])
    earlier.exclude(state__in=(State.WAITING, State.RUNNING)).delete()
    return [_ask(kind, subject, each, by) for each in requested]


def _ask(kind: str, subject: int, request: SearchRequest, by: Any) -> Search:
    found, is_new = Search.objects.select_for_update().get_or_create(
        kind=kind,
        subject=subject,
        part=request.part,
        fingerprint=request.fingerprint,
        defaults={"asked_by": by, "shop_id": by.shop_id, "request": dict(request.request)},
    )
    if is_new or found.is_in_vain:
        found.state, found.is_stopped, found.problem = State.WAITING, False, ""
        found.result = found.best_g = found.bound_g = None
        found.job_id = solve_search.defer(search_pk=found.pk)
        found.save()
    return found


def stop(search: Search) -> None:
    """End a search with what it has; one that waits is taken off the queue."""
    mine = Search.objects.filter(pk=search.pk)
    mine.update(is_stopped=True)
    if search.job_id is not None:
        app.job_manager.cancel_job_by_id(search.job_id, abort=True)
    mine.filter(state=State.WAITING).update(state=State.STOPPED, ended_at=timezone.now())


# -- solving ---------------------------------------------------------------------------------


def solve_now(search_pk: int, is_aborted: Callable[[], bool] = lambda: False) -> None:
    """Solve one search, unless it is over."""
    free = Search.objects.filter(pk=search_pk, state__in=(State.WAITING, State.RUNNING))
    claim = {"state": State.RUNNING, "attempt": F("attempt") + 1, "started_at": timezone.now()}
    if not free.update(**claim):
        return
    search = Search.objects.select_related("asked_by").get(pk=search_pk)
    try:
        ending = {"state": State.DONE, "result": _solved(search, is_aborted)}
    except KentrobarError as error:
        ending = {"state": State.FAILED, "problem": error.message[:300], "problem_field": error.field}
    except Exception:
        _write(search, state=State.FAILED, problem="Something went wrong. Search again.")
        raise
    _write(search, ended_at=timezone.now(), **ending)


def _solved(search: Search, is_aborted: Callable[[], bool]) -> Json:
    prepared = kind_of(search).prepare(search)
    if prepared.fingerprint != search.fingerprint:
        raise KentrobarError("Something this depends on has changed. Search again.", code="outdated")
    return prepared.solve(_reporting(search, is_aborted))


def _write(search: Search, **values: Any) -> bool:
    """Write how far a search has come, as long as nobody took it over."""
    mine = Search.objects.filter(pk=search.pk, attempt=search.attempt, state=State.RUNNING)
    return bool(mine.update(**values))


def _reporting(search: Search, is_aborted: Callable[[], bool]) -> Watch:
    """A watch that writes how far the search has come now and then, and asks whether it goes on."""
    following = 0.0

    def watch(best_g: float, bound_g: float) -> bool:
        nonlocal following
        if time.monotonic() < following:
            return True
        following = time.monotonic() + REPORTS_EVERY_S
        best = best_g if best_g < 1e6 else None
        is_mine = _write(search, best_g=best, bound_g=bound_g)
        stopped = Search.objects.filter(pk=search.pk, is_stopped=True)
        return is_mine and not is_aborted() and not stopped.exists()

    return watch


@app.task(queue="searches", pass_context=True)
def solve_search(context: Any, search_pk: int) -> None:
    """Solve one search, for the queue."""
    solve_now(search_pk, context.should_abort)


# A worker says this often that it is alive; one that is silent so long is gone, and its work another's.
HEARTBEAT_S: Final = 2.0
SILENT_S: Final = 10.0


@app.periodic(cron="* * * * * */5")
@app.task(queue="upkeep", queueing_lock="take over searches")
async def take_over(timestamp: int) -> None:
    """Give to another worker what a killed one left."""
    stalled = await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=SILENT_S)
    for job in stalled:
        await app.job_manager.retry_job(job)


# -- showing ---------------------------------------------------------------------------------


def cards_of(searches: Sequence[Search], user: Any) -> list[SearchCard]:
    """The cards of searches of one kind about one subject, in their order, each answer once."""
    return in_order(kind_of(searches[0]).cards(searches, user)) if searches else []


def in_order(cards: Iterable[SearchCard]) -> list[SearchCard]:
    """Cards in their order, those that go on last; of the same answer the first."""
    shown, seen = [], set()
    for card in sorted(cards, key=lambda each: (not each.search.is_over, each.order)):
        if card.is_shown and (not card.same or card.same not in seen):
            seen.add(card.same)
            shown.append(card)
    return shown


@dataclass(frozen=True, slots=True)
class SearchList:
    """The searches about one subject as a page lists them (``kit/_searches.html``)."""

    searches: Sequence[Search]
    cards: Sequence[SearchCard]

    @property
    def done(self) -> int:
        """How many are over."""
        return sum(each.is_over for each in self.searches)

    @property
    def is_searching(self) -> bool:
        """Whether any goes on."""
        return self.done < len(self.searches)


def listed(searches: Sequence[Search], user: Any) -> SearchList:
    """Searches of one kind about one subject with their cards."""
    return SearchList(searches, cards_of(searches, user))


def found_for(kind: str, subject: int, requests: Iterable[SearchRequest], user: Any) -> SearchList:
    """What was searched for this state already."""
    return listed(known(kind, subject, requests, user), user)


def known(kind: str, subject: int, requests: Iterable[SearchRequest], by: Any) -> list[Search]:
    """The searches that were asked for this state already."""
    requested = list(requests)
    states = {(each.part, each.fingerprint) for each in requested}
    found = _about(kind, subject, by).filter(fingerprint__in={each.fingerprint for each in requested})
    return [each for each in found if (each.part, each.fingerprint) in states]


def unfinished(kind: str, subject: int, by: Any) -> list[Search]:
    """The searches about a subject that go on, or came to nothing."""
    return list(_about(kind, subject, by).exclude(state=State.DONE))


def _about(kind: str, subject: int, by: Any) -> QuerySet[Search]:
    return Search.objects.filter(kind=kind, subject=subject, shop_id=by.shop_id)
