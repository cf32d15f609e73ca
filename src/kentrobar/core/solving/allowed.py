"""Which places a plan may use on a frame: the sites that are ticked, and where strips of the hoop may lie.

A person ticks places because of what stands there already, what shows, or what the hand feels. Every search
of a plan heeds it: proposals, what is possible, sets.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Any, Final, NamedTuple

from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.sites import sites_of
from kentrobar.core.quantities.estimates import NOT_MEASURED, Quantity

HOOP_SITES: Final = frozenset(
    {"twelve", "ten_two", "three_nine", "top_edge", "top_corners", "sides", "bottom_corners", "throat_edge"}
)
HANDLE_SITES: Final = frozenset({"handle_top", "handle_middle", "cavity", "butt_cap"})
USUAL_SITES: Final = HOOP_SITES | HANDLE_SITES | {"throat"}
# Heft lies there where a plan adds nothing but weight; no other school goes there.
BALANCE_SITE: Final = "balance_point"


class Hoop(StrEnum):
    """Where the strips of a racket's hoop may lie."""

    EITHER = "either"
    OPEN = "open"
    HIDDEN = "hidden"


@dataclass(frozen=True)
class Allowed:
    """The keys of the sites that may be used (None: all), and where strips of the hoop may lie."""

    sites: frozenset[str] | None = None
    hoop: Hoop = Hoop.EITHER

    def __str__(self) -> str:
        if self.is_anywhere:
            return "everywhere"
        named = "everywhere" if self.sites is None else ", ".join(sorted(self.sites))
        return named if self.hoop is Hoop.EITHER else f"{named}; strips of the hoop {self.hoop}"

    def lets_use(self, site: str) -> bool:
        """Whether weight may lie at a site; parts of one, such as "twelve.2", count as the site."""
        return self.sites is None or site.partition(".")[0] in self.sites

    def lets_lie(self, *, is_hidden: bool) -> bool:
        """Whether strips of the hoop may lie open, or hidden."""
        return self.hoop is not (Hoop.OPEN if is_hidden else Hoop.HIDDEN)

    def only(self, sites: frozenset[str] | None) -> Allowed:
        """The same at no others than these sites (None: no fewer)."""
        if sites is None:
            return self
        return replace(self, sites=sites if self.sites is None else self.sites & sites)

    @property
    def is_anywhere(self) -> bool:
        """Whether nothing is ruled out."""
        return self.sites is None and self.hoop is Hoop.EITHER

    # -- as it is stored ----------------------------------------------------------------

    def encoded(self) -> dict[str, Any]:
        """What databases keep; :meth:`decoded` reads it."""
        return {"sites": None if self.sites is None else sorted(self.sites), "hoop": self.hoop.value}

    @classmethod
    def decoded(cls, stored: Mapping[str, Any]) -> Allowed:
        """What was stored; an empty mapping allows everything."""
        if not stored:
            return ANYWHERE_ALLOWED
        sites = stored["sites"]
        return cls(None if sites is None else frozenset(sites), Hoop(stored["hoop"]))


ANYWHERE_ALLOWED: Final = Allowed()


class AllowedPreset(NamedTuple):
    """Places that are often wanted together, by a name."""

    label: str
    allowed: Allowed


def site_names(outline: Outline, balance_cm: Quantity = NOT_MEASURED) -> list[tuple[str, str]]:
    """Key and label of the sites that plans are searched at, from the tip to the butt."""
    usual = USUAL_SITES | {BALANCE_SITE}
    return [(s.key, s.label) for s in sites_of(outline, balance_cm) if s.key in usual]


def presets(outline: Outline) -> list[AllowedPreset]:
    """Choices of places that are often wanted on such a frame."""
    keys = frozenset(key for key, _ in site_names(outline))
    no_handle = AllowedPreset("No handle", Allowed(_kept(keys, keys - HANDLE_SITES)))
    if outline.sport is Sport.TENNIS:
        out_of_sight = HOOP_SITES | HANDLE_SITES
        return [
            AllowedPreset("Hidden only", Allowed(_kept(keys, out_of_sight), Hoop.HIDDEN)),
            AllowedPreset("3 and 9 only", Allowed(frozenset({"three_nine"}))),
            no_handle,
        ]
    return [
        AllowedPreset("Sides only", Allowed(frozenset({"sides"}))),
        AllowedPreset("Corners only", Allowed(frozenset({"top_corners", "bottom_corners"}))),
        no_handle,
    ]


def _kept(keys: frozenset[str], wanted: Iterable[str]) -> frozenset[str]:
    return keys & frozenset(wanted)
