"""Different plans for one aim: the least weight, and what each school of placing would do."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import pairwise
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.estimates import Estimate
from kentrobar.core.matching import Aim, Match, PointSite, RimSite, Site, match
from kentrobar.core.objections import (
    Circumstances,
    both_sides,
    bumper_reach_s,
    free_stretches,
    keep_outs,
)
from kentrobar.core.outline import Face, Outline, Sport
from kentrobar.core.pieces import Piece, RimStrip, total_mass_g
from kentrobar.core.placing import clock_place
from kentrobar.core.plans import Prediction, predict
from kentrobar.core.sites import Zone, sites_of
from kentrobar.core.specs import MeasuredSpecs

MOST_PROPOSALS: Final = 3
MOST_PARTS: Final = 2  # of one site, where keep-outs part it
LEAST: Final = "least"  # the key of the school that uses every site
ANYWHERE: Final = Circumstances()
BRIDGE_CLOCK_MIN: Final = 300.0  # below it a racket's shafts run into the hoop
LEAST_STRIP_CM: Final = 2.0  # shorter ones hardly stick
LEAST_PIECE_G: Final = 0.5
SOLVE_SECONDS: Final = 3.0  # for each school


class Supply(NamedTuple):
    """What there is to lay: a tape for the rim, a putty for throat and handle."""

    tape: str
    g_per_cm: Estimate
    putty: str
    step_cm: float = 0.5
    step_g: float = 0.1
    most_g: float = 20.0


class School(NamedTuple):
    """A way of placing weight: its name, its reason, the sites it uses (none named: all).

    ``is_hidden`` lays the rim's strips under bumper and grommet strip.
    """

    title: str
    reason: str
    sites: frozenset[str] = frozenset()
    is_hidden: bool = False


_HOOP = frozenset(
    {"twelve", "ten_two", "three_nine", "top_edge", "top_corners", "sides", "shoulders"}
)
_HANDLE = frozenset({"handle_top", "handle_middle", "butt_cap"})

SCHOOLS: Final = MappingProxyType({
    "least": School("Least weight", "Nothing lighter at these sites reaches the target."),
    "polarized": School(
        "Polarized", "Weight at both ends: most swing weight for each gram, balance held by the butt.",
        frozenset({"twelve", "top_edge", "butt_cap"}),
    ),
    "depolarized": School(
        "Depolarized", "Weight in the middle and at the sides: steadier, the swing changes less.",
        frozenset({"three_nine", "sides", "throat", "handle_top"}),
    ),
    "counter": School(
        "Counterbalanced", "Weight in the hoop, held in balance from inside the butt cap.",
        _HOOP | {"butt_cap"},
    ),
    "hoop": School(
        "Hoop only", "No counterbalance: nothing at the handle, the balance may drift.", _HOOP,
    ),
    "handle": School(
        "Handle only", "Out of sight and easily undone; it moves the swing weight hardly at all.",
        _HANDLE,
    ),
    "hidden": School(
        "Hidden", "Strips under bumper and grommet strip, the rest in the handle: nothing shows, and "
        "the strings come out for it.", _HOOP | _HANDLE, is_hidden=True,
    ),
})  # fmt: skip


@dataclass(frozen=True)
class Proposal:
    """One plan with what it comes to."""

    key: str
    school: School
    found: Match
    pieces: tuple[Piece, ...]
    prediction: Prediction

    @property
    def places(self) -> tuple[tuple[str, float], ...]:
        """Where it lays how much: plans that agree in this are the same."""
        return tuple(sorted(
            (f"{p.label} {p.face}", p.length_cm.value) if isinstance(p, RimStrip)
            else (p.label, total_mass_g(p))
            for p in self.pieces
        ))  # fmt: skip


def sites_to_use(
    outline: Outline,
    supply: Supply,
    circumstances: Circumstances = ANYWHERE,
    *,
    is_hidden: bool = False,
    keeps_grip: bool = False,
) -> dict[str, Site]:
    """The frame's named places as sites of the solver, by key: stretches of rim, points else.

    Stretches that must stay clear are left out on both sides, so that pairs stay even; a site that is
    parted by them has keys such as "twelve" and "twelve.2".
    """
    found: dict[str, Site] = {}
    for key, label, start, end in _rim_borders(outline):
        found |= _rim_sites(outline, supply, circumstances, is_hidden, key, label, start, end)
    for site in sites_of(outline):
        skipped = ("cavity", "handle_middle") if keeps_grip else ("cavity",)
        if site.zone is not Zone.RIM and site.key not in skipped:
            found[site.key] = PointSite(
                label=site.label, y_cm=round(site.y_cm, 2), x_cm=round(site.x_cm, 2),
                mirrored=site.mirrored, step_g=supply.step_g, max_g=supply.most_g,
                least_g=LEAST_PIECE_G,
            )  # fmt: skip
    return found


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
    outline: Outline, supply: Supply, circumstances: Circumstances, is_hidden: bool,
    key: str, label: str, start: float, end: float,
) -> Iterator[tuple[str, Site]]:  # fmt: skip
    face = Face.INNER if outline.sport is Sport.TENNIS else Face.OUTER
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
            least_cm=LEAST_STRIP_CM,
        )  # fmt: skip


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
    """The lightest plan of one school for an aim, or None, and the solver's answer.

    The answer of ``least`` says why where there is none.

    Raises:
        SpecError: a spec that is aimed at but was never measured.
    """
    school = SCHOOLS[key]
    sites = sites_to_use(
        outline, supply, circumstances, is_hidden=school.is_hidden, keeps_grip=keeps_grip
    )
    used = [
        site for name, site in sites.items()
        if not school.sites or name.partition(".")[0] in school.sites
    ]  # fmt: skip
    found = match(
        measured, used, aim, length_cm=outline.length_cm, outline=outline,
        seconds=SOLVE_SECONDS, explain=key == LEAST,
    )  # fmt: skip
    if not found.is_feasible:
        return None, found
    pieces = tuple(_of_supply(piece, supply) for piece in found.pieces)
    prediction = predict(
        measured, pieces, length_cm=outline.length_cm, axis_cm=aim.axis_cm, outline=outline
    )
    return Proposal(key, school, found, pieces, prediction), found


def propose(
    measured: MeasuredSpecs,
    outline: Outline,
    aim: Aim,
    supply: Supply,
    circumstances: Circumstances = ANYWHERE,
) -> tuple[list[Proposal], Match]:
    """Up to three different plans for an aim, the lightest first, and the answer of the lightest.

    Where the aim cannot be met at all the list is empty, and the answer says why.

    Raises:
        SpecError: a spec that is aimed at but was never measured.
    """
    lightest, first = propose_by(LEAST, measured, outline, aim, supply, circumstances)
    if lightest is None:
        return [], first
    others: list[Proposal] = []
    for key in SCHOOLS:
        other = None
        if key != LEAST:
            other, _ = propose_by(key, measured, outline, aim, supply, circumstances)
        if other and all(other.places != p.places for p in (lightest, *others)):
            others.append(other)
    others.sort(key=lambda proposal: proposal.found.added_g)
    return [lightest, *others][:MOST_PROPOSALS], first


def _of_supply(piece: Piece, supply: Supply) -> Piece:
    if isinstance(piece, RimStrip):
        return replace(piece, material=supply.tape, g_per_cm=supply.g_per_cm)
    return replace(piece, material=supply.putty)
