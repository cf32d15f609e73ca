"""Different plans for one aim: the least weight, and what each school of placing would do."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.estimates import Estimate
from kentrobar.core.matching import Aim, Match, PointSite, RimSite, Site, match
from kentrobar.core.outline import Face, Outline, Sport
from kentrobar.core.pieces import ClockPlace, Piece, RimStrip
from kentrobar.core.plans import Prediction, predict
from kentrobar.core.sites import Zone, sites_of
from kentrobar.core.specs import MeasuredSpecs

MOST_PROPOSALS: Final = 3
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
    """A way of placing weight: its name, its reason, the sites it uses (none named: all)."""

    title: str
    reason: str
    sites: frozenset[str] = frozenset()


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
    "hoop": School(
        "Hoop only", "No counterbalance: nothing at the handle, the balance may drift.",
        frozenset({"twelve", "ten_two", "three_nine", "top_edge", "top_corners", "sides", "shoulders"}),
    ),
    "handle": School(
        "Handle only", "Out of sight and easily undone; it moves the swing weight hardly at all.",
        frozenset({"handle_top", "handle_middle", "butt_cap"}),
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
    def visible(self) -> int:
        """How many strips and pieces lie where they are seen."""
        return sum(
            1 + piece.mirrored for piece in self.pieces if isinstance(piece, RimStrip)
        )  # fmt: skip


def sites_to_use(outline: Outline, supply: Supply) -> dict[str, Site]:
    """The frame's named places as sites of the solver, by key: stretches of rim, points else."""
    found: dict[str, Site] = {}
    rim = [s for s in sites_of(outline) if s.zone is Zone.RIM and s.clock is not None]
    hours = [s.clock.minutes for s in rim if s.clock is not None]
    if outline.sport is Sport.TENNIS:
        hours = [min(hour, BRIDGE_CLOCK_MIN) for hour in hours]
    borders = [0.0, *((a + b) / 2 for a, b in pairwise(hours)), hours[-1]]
    face = Face.INNER if outline.sport is Sport.TENNIS else Face.OUTER
    for site, start, end in zip(rim, borders, borders[1:], strict=False):
        if site.clock is None or end - start < 10 or site.clock.minutes > BRIDGE_CLOCK_MIN:
            continue
        found[site.key] = RimSite(
            label=site.label, start=ClockPlace(start), end=ClockPlace(end), mirrored=True,
            g_per_cm=supply.g_per_cm.value, face=face, step_cm=supply.step_cm, least_cm=LEAST_STRIP_CM,
        )  # fmt: skip
    for site in sites_of(outline):
        if site.zone is not Zone.RIM and site.key != "cavity":
            found[site.key] = PointSite(
                label=site.label, y_cm=round(site.y_cm, 2), x_cm=round(site.x_cm, 2),
                mirrored=site.mirrored, step_g=supply.step_g, max_g=supply.most_g,
                least_g=LEAST_PIECE_G,
            )  # fmt: skip
    return found


def propose(
    measured: MeasuredSpecs, outline: Outline, aim: Aim, supply: Supply
) -> tuple[list[Proposal], Match]:
    """Up to three different plans for an aim, the lightest first, and the answer of the lightest.

    Where the aim cannot be met at all the list is empty, and the answer says why.

    Raises:
        SpecError: a spec that is aimed at but was never measured.
    """
    sites = sites_to_use(outline, supply)
    proposals: list[Proposal] = []
    first: Match | None = None
    for key, school in SCHOOLS.items():
        used = [site for name, site in sites.items() if not school.sites or name in school.sites]
        found = match(
            measured, used, aim, length_cm=outline.length_cm, outline=outline,
            seconds=SOLVE_SECONDS, explain=first is None,
        )  # fmt: skip
        first = first or found
        if not first.is_feasible:
            break
        pieces = tuple(_of_supply(piece, supply) for piece in found.pieces)
        if found.is_feasible and all(_differ(pieces, p.pieces) for p in proposals):
            prediction = predict(
                measured, pieces, length_cm=outline.length_cm, axis_cm=aim.axis_cm, outline=outline
            )
            proposals.append(Proposal(key, school, found, pieces, prediction))
    assert first is not None  # noqa: S101 - there is a school
    others = sorted(proposals[1:], key=lambda proposal: proposal.found.added_g)
    return [*proposals[:1], *others][:MOST_PROPOSALS], first


def _of_supply(piece: Piece, supply: Supply) -> Piece:
    if isinstance(piece, RimStrip):
        return replace(piece, material=supply.tape, g_per_cm=supply.g_per_cm)
    return replace(piece, material=supply.putty)


def _differ(one: Sequence[Piece], other: Sequence[Piece]) -> bool:
    """Whether two plans use other places, or other amounts at the same ones."""
    return sorted(_places(one)) != sorted(_places(other))


def _places(pieces: Sequence[Piece]) -> list[tuple[str, float]]:
    return [
        (p.label, p.length_cm.value if isinstance(p, RimStrip) else p.mass_g.value) for p in pieces
    ]
