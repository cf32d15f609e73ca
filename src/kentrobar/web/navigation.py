"""Which place of the navigation a page belongs to: exactly one, or none."""

from __future__ import annotations

from typing import NamedTuple

from django.http import HttpRequest
from django.urls import reverse


class Place(NamedTuple):
    """One place: its name, the page it leads to, the pages that belong to it by app or by view name."""

    name: str
    view: str
    belongs: frozenset[str]


PLACES = (
    Place("Frames", "frames:list", frozenset({"frames", "taking_in", "welcome", "measuring"})),
    Place("Plans", "planning:list", frozenset({"planning"})),
    Place(
        "Instruments",
        "measuring:instruments",
        frozenset(
            f"measuring:{view}"
            for view in ("instruments", "new_instrument", "edit_instrument", "calibrate")
        ),
    ),
    Place("Materials", "materials:shelf", frozenset({"materials"})),
)


def navigation(request: HttpRequest) -> dict[str, object]:
    """The places with their addresses, and which of them this page belongs to."""
    match = request.resolver_match
    names = [match.view_name, match.app_name] if match else []
    here = next((p for name in names for p in PLACES if name in p.belongs), None)
    return {"navigation": [(p.name, reverse(p.view), p is here) for p in PLACES]}
