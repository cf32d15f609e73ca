"""The five places and the tabs of a frame, the pages of each, and to which one an address belongs."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import partial
from typing import Final, NamedTuple

from django import template
from django.http import HttpRequest
from django.urls import ResolverMatch, reverse

register = template.Library()


class Page(NamedTuple):
    """A page that its place leads to; ``belongs`` names the apps and views that are found under it."""

    name: str
    view: str
    belongs: frozenset[str] = frozenset()
    args: tuple[str, ...] = ()

    def address(self, *of: int) -> str:
        """Where it is; the page of a frame by the key of the frame."""
        return reverse(self.view, args=[*of, *self.args])


class Place(NamedTuple):
    """A place, or a tab of a frame: its name, its icon, and its pages, the front page first."""

    name: str
    icon: str
    pages: Sequence[Page]


def _names(app: str, *views: str) -> frozenset[str]:
    return frozenset(f"{app}:{view}" for view in views)


PLACES: Final = (
    Place(
        "Today",
        "calendar-day",
        (
            Page("Next up", "orders:today", frozenset({"orders"})),
            Page("Jobs", "orders:list", _names("orders", "new", "job", "edit", "verify", "follow_up")),
            Page("Calendar", "orders:calendar_address"),
        ),
    ),
    Place(
        "Frames",
        "frame",
        (
            Page("All frames", "frames:list", frozenset({"frames", "history", "bench", "measuring"})),
            Page("Check in", "taking_in:take_in", frozenset({"taking_in", "welcome:first"}), ("tennis",)),
            Page("Plans", "planning:list", frozenset({"planning"})),
            Page("Play tests", "play:home", frozenset({"play"})),
        ),
    ),
    Place("Sets", "symmetry-horizontal", (Page("Sets", "matching:list", frozenset({"matching"})),)),
    Place("Practice", "mortarboard", (Page("Practice", "practice:home", frozenset({"practice"})),)),
    Place(
        "Shop",
        "shop",
        (
            Page("Stock", "materials:shelf", frozenset({"materials"})),
            Page("Fittings", "materials:fittings"),
            Page(
                "Instruments",
                "measuring:instruments",
                _names("measuring", "new_instrument", "edit_instrument", "calibrate", "build_board"),
            ),
            Page("People", "frames:people"),
            Page("Insights", "orders:insights"),
            Page("Felt gaps", "orders:felt"),
            Page("Rules of thumb", "play:advice", _names("play", "new_rule", "edit_rule")),
            Page("Settings", "shops:shop"),
            Page("Import and export", "finding:files", frozenset({"welcome:import", "finding:read_in"})),
        ),
    ),
)


# The tabs of a frame; their pages take the frame's key.
FRAME_TABS: Final = (
    Place("Overview", "", (Page("Overview", "frames:detail", frozenset({"frames"})),)),
    Place(
        "Measure",
        "",
        (
            Page("New readings", "measuring:measure"),
            Page("Readings so far", "measuring:readings"),
            Page("Time its swings", "measuring:swing", args=("pendulum",)),
            Page("Fittings", "frames:fittings", _names("frames", "edit_fitting", "alternatives")),
        ),
    ),
    Place(
        "Plan",
        "",
        (
            Page("Plans", "planning:frame", frozenset({"planning"})),
            Page("From a target", "planning:target"),
            Page("What is possible", "planning:possible"),
            Page("Effect of weight", "planning:sensitivity"),
        ),
    ),
    Place("Bench", "", (Page("Bench", "bench:frame", frozenset({"bench"})),)),
    Place(
        "Play",
        "",
        (
            Page("Response map", "play:frame", _names("play", "plan")),
            Page("Impacts", "play:frame_hits", _names("play", "hits", "mark", "take_back", "zone_plans")),
            Page("Play tests", "play:frame_trials", _names("play", "trial")),
            Page("Rules of thumb", "play:frame_advice"),
        ),
    ),
    Place("History", "", (Page("History", "history:time_line"),)),
)


class ShownPlace(NamedTuple):
    """A place, or a page of one, as a link: whether the page that is read belongs to it."""

    name: str
    address: str
    is_here: bool
    icon: str = ""


class Navigation(NamedTuple):
    """The places, and the pages of the one that is read, where it has several."""

    places: Sequence[ShownPlace]
    pages: Sequence[ShownPlace]
    here: str = ""


def navigation(request: HttpRequest) -> dict[str, object]:
    """The five places for a template that shows them; the parts of a page that htmx swaps do not."""
    return {"navigation": partial(_shown, PLACES, request.resolver_match)}


@register.simple_tag(takes_context=True)
def frame_tabs(context: template.Context, frame_key: int) -> Navigation:
    """The tabs of a frame."""
    return _shown(FRAME_TABS, context["request"].resolver_match, frame_key)


def _shown(places: Sequence[Place], match: ResolverMatch | None, *of: int) -> Navigation:
    """Places with their addresses, and where among them the page is."""
    here, page = where(places, match)
    pages = here.pages if here and len(here.pages) > 1 else ()
    return Navigation(
        [ShownPlace(each.name, each.pages[0].address(*of), each is here, each.icon) for each in places],
        [ShownPlace(each.name, each.address(*of), each is page) for each in pages],
        here.name if here else "",
    )


def where(places: Iterable[Place], match: ResolverMatch | None) -> tuple[Place | None, Page | None]:
    """The place and the page an address belongs to: by its view first, then by its app."""
    if match is None:
        return None, None
    for name in (match.view_name, match.app_name):
        for place in places:
            for page in place.pages:
                if name == page.view or name in page.belongs:
                    return place, page
    return None, None
