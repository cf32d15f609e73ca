"""What a request brings, read with its type, and the page that answers a form."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields
from datetime import date
from enum import Enum
from typing import Any, TypeVar

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils.dateparse import parse_date

Sent = Mapping[str, Any] | None  # what a form was sent, None where it is shown first

Choice = TypeVar("Choice", bound=Enum)

LARGEST_KEY = 2**63 - 1  # what a database column holds


def is_part(request: HttpRequest) -> bool:
    """Whether a script asks for a part of the page only; a page that htmx swaps in is asked for whole."""
    return bool(request.htmx) and not request.htmx.boosted  # type: ignore[attr-defined]


def read_count(text: str, without: int = 0) -> int:
    """A whole number of ordinary digits that fits a database key; ``without`` where it is none."""
    plain = text.strip()
    if not (plain.isascii() and plain.isdigit() and len(plain) < 20):
        return without
    value = int(plain)
    return value if value <= LARGEST_KEY else without


def read_day(text: str) -> date | None:
    """A day as pages send it, None for none. Raises Http404 for one that no page of ours sends."""
    try:
        return parse_date(text) if text else None
    except ValueError:
        raise Http404 from None


def handed_out(made: bytes | str, content_type: str, name: str, *, inline: bool = False) -> HttpResponse:
    """A file that a page hands out, under a name of its own; ``inline``: shown rather than kept."""
    answer = HttpResponse(made, content_type=content_type)
    kept = "inline" if inline else "attachment"
    answer["Content-Disposition"] = f'{kept}; filename="{name}"'
    return answer


def one_of(kind: type[Choice], text: str) -> Choice:
    """The member of ``kind`` that ``text`` names. Raises Http404 for one that no page of ours sends."""
    try:
        return kind(text)
    except ValueError:
        raise Http404 from None


def page(request: HttpRequest, template: str, context: Mapping[str, Any]) -> HttpResponse:
    """A page; where it answers a form that could not be taken, its status says so."""
    status = 422 if request.method == "POST" else 200
    return render(request, template, context, status=status)


def context_of(*views: Any, **more: object) -> dict[str, object]:
    """What view models (dataclasses) hold, by the names that a template reads, and ``more`` beside it."""
    return {each.name: getattr(view, each.name) for view in views for each in fields(view)} | more
