"""What there is to lay, and where on a frame it can lie: the sites that the solver chooses from."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise
from typing import Final, NamedTuple

from kentrobar.core.candidates import Choice, PointSite, RimSite, Site
from kentrobar.core.circumstances import (
    CAP_DEPTH_CM,
    Circumstances,
    HandleBuild,
    both_sides,
    bumper_reach_s,
    free_stretches,
    keep_outs,
)
from kentrobar.core.estimates import Estimate
from kentrobar.core.outline import Face, Outline, Sport
from kentrobar.core.pieces import Plug, Sleeve
from kentrobar.core.placing import clock_place
from kentrobar.core.sites import Site as Place
from kentrobar.core.sites import Zone, shaft_ends, sites_of
from kentrobar.core.specs import MeasuredSpecs

MOST_PARTS: Final = 2  # of one site, where keep-outs part it
ANYWHERE: Final = Circumstances()
NOTHING_READ: Final = MeasuredSpecs()
BRIDGE_CLOCK_MIN: Final = 300.0  # below it a racket's shafts run into the hoop
LEAST_STRIP_CM: Final = 2.0  # shorter ones hardly stick
LEAST_PIECE_G: Final = 0.5
SHORT_STRIP_CM: Final = 6.0  # on a flat bevel, or across the balance point
MOST_MODULES: Final = 2  # at one place


class Supply(NamedTuple):
    """What there is to lay: a tape for rim, throat and bevels, a putty for cavity and cap, and more.

    ``swaps`` exchange what is fitted for something heavier, ``removals`` take it off; ``module`` is
    the name and weight of a clip-on module, ``clean`` what comes off clean where the putty does not.
    """

    tape: str
    g_per_cm: Estimate
    putty: str
    step_cm: float = 0.5
    step_g: float = 0.1
    most_g: float = 20.0
    most_layers: int = 1
    is_lead: bool = False  # of the tape: not under a grip
    putty_g_cm3: float = 2.0
    swaps: tuple[Choice, ...] = ()
    removals: tuple[Choice, ...] = ()
    module: tuple[str, float] | None = None
    clean: tuple[str, float] | None = None  # name and g/cm³

    def removable(self) -> Supply:
        """The same with a putty that comes off clean."""
        name, density = self.clean or (self.putty, self.putty_g_cm3)
        return self._replace(putty=name, putty_g_cm3=density)


@dataclass(frozen=True)
class Workpiece:
    """One frame that is planned for: its outline, what there is to lay, what was read and is known of it.

    ``keeps_grip`` leaves the handle free under the hand.
    """

    outline: Outline
    supply: Supply
    measured: MeasuredSpecs = NOTHING_READ
    circumstances: Circumstances = ANYWHERE
    keeps_grip: bool = False

    @property
    def places(self) -> dict[str, Place]:
        """The named places by key; the balance point where it is known."""
        balance = self.measured.balance_cm
        known = balance.value if isinstance(balance, Estimate) else None
        return {place.key: place for place in sites_of(self.outline, known)}


def sites_to_use(work: Workpiece, *, layers: int = 1, is_hidden: bool = False) -> dict[str, Site]:
    """The frame's named places as sites of the solver, by key: stretches of rim, bodies else.

    Stretches that must stay clear are left out on both sides, so that pairs stay even; a site that is
    parted by them has keys such as "twelve" and "twelve.2".
    """
    places, supply = work.places, work.supply
    found: dict[str, Site] = {}
    for border in _rim_borders(work.outline):
        found |= _rim_sites(work, border, layers, is_hidden)
    for key in ("throat", "balance_point"):
        if key in places:
            found[key] = _beside_shaft(places[key], work, layers)
    if not supply.is_lead:
        found["handle_top"] = _on_bevels(places["handle_top"], work, layers)
        if not work.keeps_grip:
            found["handle_middle"] = _on_bevels(places["handle_middle"], work, layers)
    if work.circumstances.handle in (HandleBuild.HOLLOW, HandleBuild.TRAP_DOOR):
        in_cavity = (CAP_DEPTH_CM + 0.1, 2 * places["cavity"].y_cm - CAP_DEPTH_CM - 0.1)
        found["cavity"] = _filled(places["cavity"], supply, in_cavity, radius_cm=1.0)
    in_cap = (CAP_DEPTH_CM / 4, 3 * CAP_DEPTH_CM / 4)
    found["butt_cap"] = _filled(places["butt_cap"], supply, in_cap, radius_cm=1.3)
    return found


def _beside_shaft(place: Place, work: Workpiece, layers: int) -> PointSite:
    """Tape along both shafts (or a paddle's sides), told as compact: it lies about one place."""
    room = SHORT_STRIP_CM
    if place.key == "throat":
        (_, top), (_, bottom) = shaft_ends(work.outline)
        room = 0.8 * (top - bottom)
    density = work.supply.g_per_cm.value
    return PointSite(
        label=place.label, y_cm=round(place.y_cm, 2), x_cm=round(place.x_cm, 2), mirrored=True,
        material=work.supply.tape, step_g=work.supply.step_cm * density,
        max_g=room * density * layers, least_g=LEAST_STRIP_CM * density,
    )  # fmt: skip


def _on_bevels(place: Place, work: Workpiece, layers: int) -> PointSite:
    """Strips on the two flat bevels, in pairs."""
    density = work.supply.g_per_cm
    pair_g = 2 * SHORT_STRIP_CM * density.value
    highest = work.outline.handle_length_cm - SHORT_STRIP_CM
    start = min(max(place.y_cm - SHORT_STRIP_CM / 2, 0.0), highest)
    body = Sleeve(mass_g=density, from_cm=start, to_cm=start + SHORT_STRIP_CM)
    return PointSite(
        label=place.label, y_cm=place.y_cm, material=work.supply.tape, like=body, step_g=pair_g,
        max_g=pair_g * layers,
    )  # fmt: skip


def _filled(place: Place, supply: Supply, span: tuple[float, float], radius_cm: float) -> PointSite:
    """Putty that fills part of the cavity or of the butt cap."""
    holds_g = math.pi * radius_cm**2 * (span[1] - span[0]) * supply.putty_g_cm3
    body = Plug(mass_g=Estimate(1.0), from_cm=span[0], to_cm=span[1], radius_cm=radius_cm)
    return PointSite(
        label=place.label, y_cm=place.y_cm, material=supply.putty, like=body, step_g=supply.step_g,
        max_g=min(supply.most_g, holds_g), least_g=LEAST_PIECE_G,
    )  # fmt: skip


def clipped_on(work: Workpiece) -> Iterator[Site]:
    """Modules on the rim at its named places."""
    if work.supply.module:
        name, each_g = work.supply.module
        for place in sites_of(work.outline):
            if place.zone is Zone.RIM:
                yield PointSite(
                    label=place.label, y_cm=round(place.y_cm, 2), x_cm=round(place.x_cm, 2),
                    mirrored=place.mirrored, material=name, step_g=each_g,
                    max_g=MOST_MODULES * each_g,
                )  # fmt: skip


class _Border(NamedTuple):
    """A rim site's name, and between which clock minutes it lies."""

    key: str
    label: str
    start_min: float
    end_min: float


def _rim_borders(outline: Outline) -> Iterator[_Border]:
    """The rim's sites on the right side: each ends half way to the next."""
    rim = [s for s in sites_of(outline) if s.zone is Zone.RIM and s.clock is not None]
    hours = [s.clock.minutes for s in rim if s.clock is not None]
    if outline.sport is Sport.TENNIS:
        hours = [min(hour, BRIDGE_CLOCK_MIN) for hour in hours]
    borders = [0.0, *((a + b) / 2 for a, b in pairwise(hours)), hours[-1]]
    for site, start, end in zip(rim, borders, borders[1:], strict=False):
        if site.clock is not None and end - start >= 10 and site.clock.minutes <= BRIDGE_CLOCK_MIN:
            yield _Border(site.key, site.label, start, end)


def _rim_sites(
    work: Workpiece, border: _Border, layers: int, is_hidden: bool
) -> Iterator[tuple[str, Site]]:
    outline, supply = work.outline, work.supply
    if is_hidden and outline.sport is not Sport.TENNIS:
        return
    face = Face.BUMPER if is_hidden else outline.usual_face
    line = outline.rim(face)
    last = line.at_clock(border.end_min)
    if is_hidden:
        last = min(last, bumper_reach_s(work.circumstances, outline))
    outs = both_sides(keep_outs(work.circumstances, outline, face))
    turn = line.length if line.closed else 0.0
    free = free_stretches(line.at_clock(border.start_min), last, outs, turn)
    longest = sorted(free, key=lambda part: part.start - part.end)[:MOST_PARTS]
    for count, part in enumerate(longest, 1):
        if part.end - part.start < LEAST_STRIP_CM:
            continue
        yield f"{border.key}.{count}" if count > 1 else border.key, RimSite(
            label=border.label, start=clock_place(line, part.start),
            end=clock_place(line, part.end), mirrored=True, g_per_cm=supply.g_per_cm.value,
            face=face, step_cm=supply.step_cm, least_cm=LEAST_STRIP_CM, layers=layers,
            material=supply.tape,
        )  # fmt: skip
