"""Which place of the navigation a page belongs to: exactly one, or none."""

from __future__ import annotations

from functools import partial
from typing import NamedTuple

from django.http import HttpRequest
from django.urls import reverse


class Tab(NamedTuple):
    """One place of the navigation: its name, the page it leads to, and its pages by app or by view."""

    name: str
    view: str
    belongs: frozenset[str]


JOB_PAGES = ("list", "new", "job", "edit", "verify")
TABS = (
    Tab("Today", "orders:today", frozenset({"orders", "bench"})),
    Tab("Jobs", "orders:list", frozenset(f"orders:{view}" for view in JOB_PAGES)),
    Tab("Frames", "frames:list", frozenset({"frames", "taking_in", "welcome", "measuring", "history"})),
    Tab("Plans", "planning:list", frozenset({"planning"})),
    Tab("Sets", "matching:list", frozenset({"matching"})),
    Tab("Court", "play:home", frozenset({"play"})),
    Tab("Practice", "practice:home", frozenset({"practice"})),
    Tab(
        "Instruments",
        "measuring:instruments",
        frozenset(
            f"measuring:{view}"
            for view in ("instruments", "new_instrument", "edit_instrument", "calibrate", "build_board")
        ),
    ),
    Tab("Materials", "materials:shelf", frozenset({"materials"})),
)


def navigation(request: HttpRequest) -> dict[str, object]:
    """The places for a template that shows them; the parts of a page that htmx swaps do not."""
    return {"navigation": partial(_places, request)}


def _places(request: HttpRequest) -> list[tuple[str, str, bool]]:
    """The places with their addresses, and whether the page belongs to them."""
    match = request.resolver_match
    names = [match.view_name, match.app_name] if match else []
    here = next((tab for name in names for tab in TABS if name in tab.belongs), None)
    return [(tab.name, reverse(tab.view), tab is here) for tab in TABS]
