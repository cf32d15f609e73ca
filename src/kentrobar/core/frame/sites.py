"""The named places of a frame where weight is laid."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache
from types import MappingProxyType
from typing import Any, Final, NamedTuple

from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.anatomy import (
    ABOVE_SHOULDER_CM,
    BEVELS_BELOW_TOP_CM,
    IN_CAP_CM,
    IN_CAVITY_CM,
    ON_AXIS_CM,
    SHAFT_AT_HANDLE_CM,
    SHAFT_CLOCK_MIN,
    SHAFT_SPREAD_POWER,
)
from kentrobar.core.frame.outline import Outline, PaddleDimensions, RacketDimensions
from kentrobar.core.frame.places import ClockPlace
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.estimates import NOT_MEASURED, Quantity


class Zone(StrEnum):
    """Which part of the frame a site belongs to, hence what can lie there."""

    RIM = "rim"
    SHAFT = "shaft"
    HANDLE = "handle"
    CAVITY = "cavity"


@dataclass(frozen=True)
class Site:
    """A named place. Rim sites have a clock position, the others x and y (cm).

    ``mirrored`` is whether weight is usually laid there on both sides.
    """

    key: str
    label: str
    zone: Zone
    x_cm: float
    y_cm: float
    clock: ClockPlace | None = None
    mirrored: bool = False


def sites_of(outline: Outline, balance_cm: Quantity = NOT_MEASURED) -> list[Site]:
    """The named sites of a frame, from the tip to the butt; the balance point where it is known."""
    if isinstance(outline.dimensions, RacketDimensions):
        head = _racket_sites(outline)
    else:
        head = _paddle_sites(outline, outline.dimensions)
    return head + _balance_site(outline, balance_cm) + _handle_sites(outline)


def find_site(outline: Outline, name: str) -> Site | None:
    """The site that goes by a name, as its label tells it or a part of that; None where none does."""
    plain = " ".join(name.casefold().split())
    for site in sites_of(outline):
        if plain in (site.label.casefold(), *(part.strip() for part in site.label.casefold().split(","))):
            return site
    return None


def region_at(outline: Outline, s: float) -> str:
    """What a paddle tuner calls the part of the edge at arc length ``s``: its nearest named site."""
    return min(_regions(outline), key=lambda region: abs(region[0] - abs(s)))[1]


@lru_cache(maxsize=256)
def _regions(outline: Outline) -> tuple[tuple[float, str], ...]:
    line = outline.rim(Face.OUTER)
    return tuple(
        (line.at_clock(site.clock.minutes), site.label)
        for site in sites_of(outline)
        if site.clock is not None
    )


class SiteGroup(NamedTuple):
    """What a paddle is laid at in one go: a label, and the keys of the sites it is made of."""

    label: str
    sites: tuple[str, ...]


FULL_EDGE: Final = "full_edge"
SITE_GROUPS: Final = MappingProxyType(
    {
        "all_corners": SiteGroup("all four corners", ("top_corners", "bottom_corners")),
        FULL_EDGE: SiteGroup("full edge", ("top_edge",)),
    }
)


class SiteChoice(NamedTuple):
    """A place to choose from a list; ``has_sides`` unless it lies on the long axis, where there is one only."""

    key: str
    label: str
    has_sides: bool = True


def site_choices(outline: Outline, balance_cm: Quantity = NOT_MEASURED) -> list[SiteChoice]:
    """All that can be chosen as a place, from the tip to the butt."""
    single = [
        SiteChoice(site.key, site.label, abs(site.x_cm) > ON_AXIS_CM)
        for site in sites_of(outline, balance_cm)
    ]
    if not isinstance(outline.dimensions, PaddleDimensions):
        return single
    groups = [SiteChoice(key, group.label) for key, group in SITE_GROUPS.items()]
    rim = sum(site.zone is Zone.RIM for site in _paddle_sites(outline, outline.dimensions))
    return single[:rim] + groups + single[rim:]


def _balance_site(outline: Outline, balance_cm: Quantity) -> list[Site]:
    """Where weight moves the balance not at all: on the shafts, or a paddle's sides."""
    if not balance_cm:
        return []
    y_cm = balance_cm.value
    name: Any = {"key": "balance_point", "label": "balance point", "mirrored": True}
    shaft = shaft_at(outline, y_cm)
    if shaft is not None:
        return [Site(zone=Zone.SHAFT, x_cm=shaft, y_cm=y_cm, **name)]
    line = outline.rim(Face.OUTER)
    if outline.sport is Sport.TENNIS or y_cm <= line.point(line.half_length).y:
        return []
    return [_rim_site(outline, minutes=line.clock_at(line.at_y(y_cm)), **name)]


def shaft_at(outline: Outline, y_cm: float) -> float | None:
    """Half the distance of a racket's two shafts at ``y_cm``, or None where there are none."""
    if outline.sport is not Sport.TENNIS:
        return None
    top, bottom = shaft_ends(outline)
    if not bottom[1] <= y_cm <= top[1]:
        return None
    part = (y_cm - bottom[1]) / (top[1] - bottom[1])
    return bottom[0] + (top[0] - bottom[0]) * math.pow(part, SHAFT_SPREAD_POWER)


def shaft_ends(outline: Outline) -> tuple[tuple[float, float], tuple[float, float]]:
    """Upper and lower end (x, y) of the right shaft's middle line, cm."""
    hoop = outline.rim(Face.INNER)
    upper = hoop.point(hoop.at_clock(SHAFT_CLOCK_MIN))
    return upper, (SHAFT_AT_HANDLE_CM, outline.handle_length_cm)


def _rim_site(outline: Outline, key: str, label: str, minutes: float, mirrored: bool) -> Site:
    line = outline.rim(Face.OUTER)
    point = line.point(line.at_clock(minutes))
    return Site(key, label, Zone.RIM, point.x, point.y, ClockPlace(minutes), mirrored)


def _racket_sites(outline: Outline) -> list[Site]:
    (_, top_y), (_, bottom_y) = shaft_ends(outline)
    throat_y = (top_y + bottom_y) / 2
    throat = Site("throat", "throat", Zone.SHAFT, shaft_at(outline, throat_y) or 0.0, throat_y, mirrored=True)
    return [
        _rim_site(outline, "twelve", "12", 0.0, False),
        _rim_site(outline, "ten_two", "10 and 2", 120.0, True),
        _rim_site(outline, "three_nine", "3 and 9", 180.0, True),
        _rim_site(outline, "six", "6, bridge", 360.0, False),
        throat,
    ]


def _paddle_sites(outline: Outline, d: PaddleDimensions) -> list[Site]:
    line = outline.rim(Face.OUTER)
    corner_s = d.width_cm / 2 - d.corner_radius_cm + d.corner_radius_cm * math.pi / 4
    side_y = (d.length_cm - d.corner_radius_cm + d.handle_length_cm + d.shoulder_cm) / 2
    full_width_y = d.handle_length_cm + d.shoulder_cm
    bottom_y = min(full_width_y + ABOVE_SHOULDER_CM, (full_width_y + side_y) / 2)
    throat_y = d.handle_length_cm + 0.3 * d.shoulder_cm
    return [
        _rim_site(outline, "top_edge", "top edge", 0.0, False),
        _rim_site(outline, "top_corners", "top corners", line.clock_at(corner_s), True),
        _rim_site(outline, "sides", "sides", line.clock_at(line.at_y(side_y)), True),
        _rim_site(outline, "bottom_corners", "bottom corners", line.clock_at(line.at_y(bottom_y)), True),
        _rim_site(outline, "throat_edge", "throat edge", line.clock_at(line.at_y(throat_y)), True),
    ]


def _handle_sites(outline: Outline) -> list[Site]:
    top = outline.handle_length_cm
    return [
        Site("handle_top", "handle top, flat bevels", Zone.HANDLE, 0.0, top - BEVELS_BELOW_TOP_CM),
        Site("handle_middle", "under the grip, along the handle", Zone.HANDLE, 0.0, top / 2),
        Site("cavity", "cavity", Zone.CAVITY, 0.0, IN_CAVITY_CM),
        Site("butt_cap", "inside the butt cap", Zone.CAVITY, 0.0, IN_CAP_CM),
    ]
