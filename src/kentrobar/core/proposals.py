"""Different plans for one aim: the least weight, and what each school of placing would do."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import pairwise
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.candidates import Choice, PointSite, RimSite, Site
from kentrobar.core.estimates import Estimate
from kentrobar.core.matching import Aim, Match, match
from kentrobar.core.objections import (
    CAP_DEPTH_CM,
    Circumstances,
    HandleBuild,
    both_sides,
    bumper_reach_s,
    free_stretches,
    keep_outs,
)
from kentrobar.core.outline import Face, Outline, Sport
from kentrobar.core.pieces import Piece, Plug, RimStrip, Sleeve, total_mass_g
from kentrobar.core.placing import clock_place
from kentrobar.core.plans import Prediction, predict
from kentrobar.core.sites import Site as Place
from kentrobar.core.sites import Zone, shaft_ends, sites_of
from kentrobar.core.specs import MeasuredSpecs

MOST_PROPOSALS: Final = 3
MOST_PARTS: Final = 2  # of one site, where keep-outs part it
LEAST: Final = "least"  # the key of the school that uses every site
ANYWHERE: Final = Circumstances()
BRIDGE_CLOCK_MIN: Final = 300.0  # below it a racket's shafts run into the hoop
LEAST_STRIP_CM: Final = 2.0  # shorter ones hardly stick
LEAST_PIECE_G: Final = 0.5
SHORT_STRIP_CM: Final = 6.0  # on a flat bevel, or across the balance point
MOST_MODULES: Final = 2  # at one place
SOLVE_SECONDS: Final = 3.0  # for each school


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


class School(NamedTuple):
    """A way of placing weight: its name, its reason, the sites it uses (none named: all usual ones).

    ``is_hidden`` lays the rim's strips under bumper and grommet strip, ``fewest`` asks for few pieces
    rather than little weight, ``is_clean`` only what comes off clean; ``swaps`` and ``removes`` touch
    what is fitted, ``is_trial`` clips on.
    """

    title: str
    reason: str
    sites: frozenset[str] = frozenset()
    is_hidden: bool = False
    fewest: bool = False
    is_clean: bool = False
    swaps: bool = False
    removes: bool = False
    is_trial: bool = False


_HOOP = frozenset(
    {"twelve", "ten_two", "three_nine", "top_edge", "top_corners", "sides", "shoulders"}
)
_HANDLE = frozenset({"handle_top", "handle_middle", "cavity", "butt_cap"})
_USUAL = _HOOP | _HANDLE | {"throat"}

SCHOOLS: Final = MappingProxyType({
    LEAST: School("Least weight", "Nothing lighter at these sites reaches the target."),
    "fewest": School(
        "Fewest pieces", "Quickest to cut and lay; among such plans the lightest.", fewest=True,
    ),
    "removable": School(
        "Removable", "All of it comes off again and leaves nothing.", is_clean=True,
    ),
    "counter": School(
        "Counterbalanced", "Weight in the hoop, held in balance from inside the butt cap.",
        _HOOP | {"butt_cap"},
    ),
    "hoop": School(
        "Hoop only", "No counterbalance: nothing at the handle, the balance may drift.", _HOOP,
    ),
    "polarized": School(
        "Polarized", "Weight at both ends: most swing weight for each gram, balance held by the butt.",
        frozenset({"twelve", "top_edge", "butt_cap"}),
    ),
    "depolarized": School(
        "Depolarized", "Weight in the middle and at the sides: steadier, the swing changes less.",
        frozenset({"three_nine", "sides", "throat", "handle_top"}),
    ),
    "hidden": School(
        "Hidden", "Strips under bumper and grommet strip, the rest in the handle: nothing shows, and "
        "the strings come out for it.", _HOOP | _HANDLE, is_hidden=True,
    ),
    "handle": School(
        "Handle only", "Out of sight and easily undone; it moves the swing weight hardly at all.",
        _HANDLE,
    ),
    "heft": School(
        "At the balance point", "Plain heft where it changes least; some say it works nowhere.",
        frozenset({"balance_point"}),
    ),
    "swaps": School(
        "Grip and cap first", "Another grip or a heavier cap does what it can, tape in the hoop the rest.",
        _HOOP, swaps=True,
    ),
    "removes": School(
        "Take off first", "What is fitted makes room: the only way to a lower swing weight.",
        removes=True,
    ),
    "trial": School(
        "Trial with modules", "Clipped on for a hit before anything is cut; they slide and catch the "
        "air, so lay it in tape after.", is_trial=True,
    ),
})  # fmt: skip


@dataclass(frozen=True)
class Proposal:
    """One plan with what it comes to."""

    key: str
    school: School
    found: Match
    prediction: Prediction

    @property
    def pieces(self) -> tuple[Piece, ...]:
        return self.found.pieces

    @property
    def places(self) -> tuple[tuple[str, str, bool, float], ...]:
        """What it lays or takes away where, and how much: plans that agree in this are the same."""
        return tuple(sorted(
            (piece.label, f"{piece.material} {getattr(piece, 'face', '')}", piece.removed,
             round(total_mass_g(piece), 6))
            for piece in self.pieces
        ))  # fmt: skip


def sites_to_use(
    outline: Outline,
    supply: Supply,
    circumstances: Circumstances = ANYWHERE,
    *,
    layers: int = 1,
    is_hidden: bool = False,
    keeps_grip: bool = False,
    balance_cm: float | None = None,
) -> dict[str, Site]:
    """The frame's named places as sites of the solver, by key: stretches of rim, bodies else.

    Stretches that must stay clear are left out on both sides, so that pairs stay even; a site that is
    parted by them has keys such as "twelve" and "twelve.2".
    """
    found: dict[str, Site] = {}
    for key, label, start, end in _rim_borders(outline):
        found |= _rim_sites(
            outline, supply, circumstances, layers, is_hidden, key, label, start, end
        )
    places = {place.key: place for place in sites_of(outline, balance_cm)}
    for key in ("throat", "balance_point"):
        if key in places:
            found[key] = _beside_shaft(places[key], outline, supply, layers)
    if not supply.is_lead:
        found["handle_top"] = _on_bevels(places["handle_top"], supply, layers)
        if not keeps_grip:
            found["handle_middle"] = _on_bevels(places["handle_middle"], supply, layers)
    if circumstances.handle in (HandleBuild.HOLLOW, HandleBuild.TRAP_DOOR):
        in_cavity = (CAP_DEPTH_CM + 0.1, 2 * places["cavity"].y_cm - CAP_DEPTH_CM - 0.1)
        found["cavity"] = _filled(places["cavity"], supply, in_cavity, radius_cm=1.0)
    in_cap = (CAP_DEPTH_CM / 4, 3 * CAP_DEPTH_CM / 4)
    found["butt_cap"] = _filled(places["butt_cap"], supply, in_cap, radius_cm=1.3)
    return found


def _beside_shaft(place: Place, outline: Outline, supply: Supply, layers: int) -> PointSite:
    """Tape along both shafts (or a paddle's sides), told as compact: it lies about one place."""
    room = SHORT_STRIP_CM
    if place.key == "throat":
        (_, top), (_, bottom) = shaft_ends(outline)
        room = 0.8 * (top - bottom)
    density = supply.g_per_cm.value
    return PointSite(
        label=place.label, y_cm=round(place.y_cm, 2), x_cm=round(place.x_cm, 2), mirrored=True,
        material=supply.tape, step_g=supply.step_cm * density, max_g=room * density * layers,
        least_g=LEAST_STRIP_CM * density,
    )  # fmt: skip


def _on_bevels(place: Place, supply: Supply, layers: int) -> PointSite:
    """Strips on the two flat bevels, in pairs."""
    pair_g = 2 * SHORT_STRIP_CM * supply.g_per_cm.value
    start = max(place.y_cm - SHORT_STRIP_CM / 2, 0.0)
    body = Sleeve(mass_g=supply.g_per_cm, from_cm=start, to_cm=start + SHORT_STRIP_CM)
    return PointSite(
        label=place.label, y_cm=place.y_cm, material=supply.tape, like=body, step_g=pair_g,
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


def _clipped(outline: Outline, supply: Supply) -> Iterator[Site]:
    """Modules on the rim at its named places."""
    if supply.module:
        name, each_g = supply.module
        for place in sites_of(outline):
            if place.zone is Zone.RIM:
                yield PointSite(
                    label=place.label, y_cm=round(place.y_cm, 2), x_cm=round(place.x_cm, 2),
                    mirrored=place.mirrored, material=name, step_g=each_g,
                    max_g=MOST_MODULES * each_g,
                )  # fmt: skip


def _rim_borders(outline: Outline) -> Iterator[tuple[str, str, float, float]]:
    """Key, label, first and last clock minute of the rim's sites: each ends half way to the next."""
    rim = [s for s in sites_of(outline) if s.zone is Zone.RIM and s.clock is not None]
    hours = [s.clock.minutes for s in rim if s.clock is not None]
    if outline.sport is Sport.TENNIS:
        hours = [min(hour, BRIDGE_CLOCK_MIN) for hour in hours]
    borders = [0.0, *((a + b) / 2 for a, b in pairwise(hours)), hours[-1]]
    for site, start, end in zip(rim, borders, borders[1:], strict=False):
        if site.clock is not None and end - start >= 10 and site.clock.minutes <= BRIDGE_CLOCK_MIN:
            yield site.key, site.label, start, end


def _rim_sites(
    outline: Outline, supply: Supply, circumstances: Circumstances, layers: int, is_hidden: bool,
    key: str, label: str, start: float, end: float,
) -> Iterator[tuple[str, Site]]:  # fmt: skip
    face = outline.usual_face
    if is_hidden:
        if outline.sport is not Sport.TENNIS:
            return
        face = Face.BUMPER
    line = outline.rim(face)
    last = (
        min(line.at_clock(end), bumper_reach_s(circumstances, outline))
        if is_hidden
        else line.at_clock(end)
    )
    outs = both_sides(keep_outs(circumstances, outline, face))
    free = free_stretches(line.at_clock(start), last, outs, line.length if line.closed else 0.0)
    longest = sorted(free, key=lambda part: part.start - part.end)[:MOST_PARTS]
    for count, part in enumerate(longest, 1):
        if part.end - part.start < LEAST_STRIP_CM:
            continue
        yield f"{key}.{count}" if count > 1 else key, RimSite(
            label=label, start=clock_place(line, part.start), end=clock_place(line, part.end),
            mirrored=True, g_per_cm=supply.g_per_cm.value, face=face, step_cm=supply.step_cm,
            least_cm=LEAST_STRIP_CM, layers=layers, material=supply.tape,
        )  # fmt: skip


def _sites_of_school(
    school: School,
    measured: MeasuredSpecs,
    outline: Outline,
    supply: Supply,
    circumstances: Circumstances,
    layers: int,
    keeps_grip: bool,
) -> list[Site]:
    """What one school lays, clips on, exchanges and takes off."""
    if school.is_trial:
        return list(_clipped(outline, supply))
    if school.is_clean:
        supply = supply.removable()
    balance = measured.balance_cm
    sites = sites_to_use(
        outline, supply, circumstances, layers=layers, is_hidden=school.is_hidden,
        keeps_grip=keeps_grip, balance_cm=balance.value if isinstance(balance, Estimate) else None,
    )  # fmt: skip
    wanted = school.sites or _USUAL
    used = [site for key, site in sites.items() if key.partition(".")[0] in wanted]
    return [*used, *(supply.swaps * school.swaps), *(supply.removals * school.removes)]


def propose_by(
    key: str,
    measured: MeasuredSpecs,
    outline: Outline,
    aim: Aim,
    supply: Supply,
    circumstances: Circumstances = ANYWHERE,
    *,
    keeps_grip: bool = False,
) -> tuple[Proposal | None, Match]:
    """The plan of one school for an aim, or None, and the solver's answer.

    Strips lie in as few layers as will do. The answer of ``least`` says why where there is no plan.

    Raises:
        SpecError: a spec that is aimed at but was never measured.
    """
    school = SCHOOLS[key]
    found = Match(False)
    for layers in range(1, supply.most_layers + 1):
        sites = _sites_of_school(
            school, measured, outline, supply, circumstances, layers, keeps_grip
        )
        if sites:
            found = match(
                measured, sites, aim, length_cm=outline.length_cm, outline=outline,
                seconds=SOLVE_SECONDS, explain=key == LEAST and layers == supply.most_layers,
                fewest=school.fewest,
            )  # fmt: skip
        if found.is_feasible:
            break
    found = replace(
        found, pieces=_of_roll(found.pieces, supply), nearest=_of_roll(found.nearest, supply)
    )
    if not found.is_feasible:
        return None, found
    prediction = predict(
        measured, found.pieces, length_cm=outline.length_cm, axis_cm=aim.axis_cm, outline=outline
    )
    return Proposal(key, school, found, prediction), found


def propose(
    measured: MeasuredSpecs,
    outline: Outline,
    aim: Aim,
    supply: Supply,
    circumstances: Circumstances = ANYWHERE,
) -> tuple[list[Proposal], Match]:
    """The first three different plans for an aim, the lightest first, and the answer of the lightest.

    Where the aim cannot be met at all the list is empty, and the answer says why.

    Raises:
        SpecError: a spec that is aimed at but was never measured.
    """
    lightest, first = propose_by(LEAST, measured, outline, aim, supply, circumstances)
    if lightest is None:
        return [], first
    found = [lightest]
    for key in SCHOOLS:
        other, _ = propose_by(key, measured, outline, aim, supply, circumstances)
        if other and all(other.places != each.places for each in found):
            found.append(other)
        if len(found) == MOST_PROPOSALS:
            break
    return sorted(found, key=lambda proposal: proposal.found.added_g), first


def _of_roll(pieces: tuple[Piece, ...], supply: Supply) -> tuple[Piece, ...]:
    """Strips with the ± of the roll they are cut from."""
    return tuple(
        replace(piece, g_per_cm=supply.g_per_cm) if isinstance(piece, RimStrip) else piece
        for piece in pieces
    )
