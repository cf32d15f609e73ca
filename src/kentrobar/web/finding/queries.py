"""What a search finds, kind by kind, each through the shop."""

from __future__ import annotations

from datetime import date
from typing import Any, Final, NamedTuple

from django.db.models import Q, QuerySet
from django.urls import reverse

from kentrobar.web.finding.search_form import SearchForm
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.queries import MOST_WORDS, listed, with_words
from kentrobar.web.frames.tables import line_of
from kentrobar.web.kit.numbers import Units
from kentrobar.web.matching.queries import sets_of
from kentrobar.web.materials.queries import materials_of
from kentrobar.web.orders.models import Job
from kentrobar.web.orders.queries import jobs_of
from kentrobar.web.planning.queries import plans_of
from kentrobar.web.shops.models import Client, User

MOST: Final = 20  # of one kind on the page


class Group(NamedTuple):
    """What was found of one kind: its name, the first of them as text, address and remark, how many more."""

    name: str
    hits: list[tuple[str, str, str]]
    has_more: bool


def found_frames(user: User, form: SearchForm) -> QuerySet[Frame]:
    """The frames that answer a search."""
    criteria = form.cleaned_data
    frames = with_words(listed(user), criteria["q"])
    for key, (low, high) in form.ranges.items():
        if low > float("-inf"):
            frames = frames.filter(**{f"specs__{key}__gte": low})
        if high < float("inf"):
            frames = frames.filter(**{f"specs__{key}__lte": high})
    if criteria["material"]:
        of_it = materials_of(user).filter(name__icontains=criteria["material"]).values_list("pk", flat=True)
        uses_it = Q()
        for material in of_it:
            uses_it |= Q(works__pieces__contains=[{"material": material}])
        frames_with_it = plans_of(user).filter(uses_it) if of_it else plans_of(user).none()
        frames = frames.filter(pk__in=frames_with_it.order_by().values("frame"))
    return _in_days(frames, "specs__taken_at", criteria["since"], criteria["until"])


def found(user: User, form: SearchForm, units: Units) -> list[Group]:
    """All that answers a search; ranges and material ask for frames alone."""
    criteria = form.cleaned_data
    groups = [_frames(user, form)]
    if form.ranges or criteria["material"]:
        return groups
    words = criteria["q"]
    since, until = criteria["since"], criteria["until"]
    clients = _with(Client.objects.filter(shop=user.shop_id), words, "name", "notes")
    jobs = _with(jobs_of(user), words, "brief", "notes", "client__name")
    plans = _with(plans_of(user), words, "name").order_by("-changed_at")
    sets = _with(sets_of(user), words, "name")
    materials = _with(materials_of(user), words, "name", "note")
    groups += [
        _group(
            "Jobs",
            _in_days(jobs, "created_at", since, until),
            lambda each: (f"{each}: {each.brief}", reverse("orders:job", args=[each.pk]), _job_remark(each)),
        ),
        _group(
            "Plans",
            _in_days(plans, "changed_at", since, until),
            lambda each: (each.name, reverse("planning:board", args=[each.pk]), each.frame.label),
        ),
        _group(
            "Sets",
            _in_days(sets, "changed_at", since, until),
            lambda each: (each.name, reverse("matching:set", args=[each.pk]), ""),
        ),
    ]
    if since or until:
        return groups
    return [
        _group(
            "Clients",
            clients,
            lambda each: (each.name, f"{reverse('frames:list')}?q={each.name}", each.notes[:80]),
        ),
        *groups,
        _group(
            "Materials",
            materials,
            lambda each: (each.name, reverse("materials:material", args=[each.pk]), ""),
        ),
    ]


def _frames(user: User, form: SearchForm) -> Group:
    return _group(
        "Frames",
        found_frames(user, form),
        lambda each: (each.label, reverse("frames:detail", args=[each.pk]), _frame_remark(each, user.units)),
    )


def _group(name: str, rows: QuerySet[Any], shown: Any) -> Group:
    first = list(rows[: MOST + 1])
    return Group(name, [shown(each) for each in first[:MOST]], len(first) > MOST)


def _with(rows: QuerySet[Any], words: str, *fields: str) -> QuerySet[Any]:
    for word in words.split()[:MOST_WORDS]:
        fits = Q()
        for field in fields:
            fits |= Q(**{f"{field}__icontains": word})
        rows = rows.filter(fits)
    return rows


def _in_days(rows: QuerySet[Any], field: str, since: date | None, until: date | None) -> QuerySet[Any]:
    if since:
        rows = rows.filter(**{f"{field}__date__gte": since})
    return rows.filter(**{f"{field}__date__lte": until}) if until else rows


def _job_remark(job: Job) -> str:
    return str(job.client or "")


def _frame_remark(frame: Frame, units: Units) -> str:
    line = line_of(frame, units)
    swing = f"swing weight {line.swing} {units.inertia} at {line.axis}" if line.swing else ""
    return " · ".join(filter(None, (frame.player, ", ".join(filter(None, (line.mass, line.balance, swing))))))
