"""Different plans for one aim: the least weight, and what each school of placing would do."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.solving.candidates import Slot
from kentrobar.core.solving.matching import Aim, Match
from kentrobar.core.solving.matching import match as solve
from kentrobar.core.solving.supply import Workpiece, clipped_on, slots_to_use
from kentrobar.core.weight.pieces import Piece
from kentrobar.core.weight.prediction import Prediction, predict

MOST_PROPOSALS: Final = 3
LEAST: Final = "least"  # the key of the school that uses every site
SOLVE_SECONDS: Final = 3.0  # for each school


class Way(StrEnum):
    """What a school does with its sites."""

    ASUSUAL_PLACES = "as_usual"
    HIDDEN = "hidden"  # the rim's strips lie under bumper and grommet strip
    CLEAN = "clean"  # only what comes off clean
    SWAPPED = "swapped"  # grip and cap make way for heavier ones
    TAKEN_OFF = "taken_off"  # what is fitted makes room
    CLIPPED = "clipped"  # modules, for a trial
    FEWEST = "fewest"  # few pieces rather than little weight


class School(NamedTuple):
    """A way of placing weight: its name, its reason, the sites it uses (none named: all usual ones)."""

    title: str
    reason: str
    sites: frozenset[str] = frozenset()
    way: Way = Way.ASUSUAL_PLACES


_HOOP = frozenset(
    {"twelve", "ten_two", "three_nine", "top_edge", "top_corners", "sides", "bottom_corners",
     "throat_edge"}
)  # fmt: skip
_HANDLE = frozenset({"handle_top", "handle_middle", "cavity", "butt_cap"})
USUAL_PLACES: Final = _HOOP | _HANDLE | {"throat"}

SCHOOLS: Final = MappingProxyType({
    LEAST: School(
        "Least weight at open sites", "With this tape and putty, in as few layers as will do, at hoop, throat"
        " and handle; nothing is lifted, exchanged or taken off for it.",
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
        "the strings come out for it.", _HOOP | _HANDLE, Way.HIDDEN,
    ),
    "removable": School(
        "Removable", "All of it comes off again and leaves nothing.", way=Way.CLEAN,
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
        _HOOP, Way.SWAPPED,
    ),
    "removes": School(
        "Take off first", "What is fitted makes room: the only way to a lower swing weight.",
        way=Way.TAKEN_OFF,
    ),
    "trial": School(
        "Trial with modules", "Clipped on for a hit before anything is cut; they slide and catch the "
        "air, so lay it in tape after.", way=Way.CLIPPED,
    ),
    "fewest": School(
        "Fewest pieces", "Quickest to cut and lay; among such plans the lightest.", way=Way.FEWEST,
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
        """The pieces to lay."""
        return self.found.pieces

    @property
    def places(self) -> tuple[tuple[str, str, bool, float], ...]:
        """What it lays or takes away where, and how much: plans that agree in this are the same."""
        return tuple(sorted(
            (piece.label, f"{piece.material} {_face_of(piece)}", piece.removed,
             round(piece.total_mass_g, 6))
            for piece in self.pieces
        ))  # fmt: skip


def _sites_of_school(school: School, work: Workpiece, layers: int) -> list[Slot]:
    """What one school lays, clips on, exchanges and takes off; nothing where it has no means of its own."""
    supply = work.supply
    more: tuple[Slot, ...] = ()
    match school.way:
        case Way.CLIPPED:
            return list(clipped_on(work))
        case Way.CLEAN if supply.clean:
            work = replace(work, supply=supply.removable())
        case Way.SWAPPED if supply.swaps:
            more = supply.swaps
        case Way.TAKEN_OFF if supply.removals:
            more = supply.removals
        case Way.CLEAN | Way.SWAPPED | Way.TAKEN_OFF:
            return []
    is_hidden = school.way is Way.HIDDEN
    sites = sites_in_hand(work, school.sites or USUAL_PLACES, layers=layers, is_hidden=is_hidden)
    return [*sites.values(), *more]


def sites_in_hand(
    work: Workpiece,
    wanted: frozenset[str] = USUAL_PLACES,
    *,
    layers: int = 0,
    is_hidden: bool = False,
) -> dict[str, Slot]:
    """The named sites of a frame that are wanted, by key; in as many layers as there may be unless told."""
    sites = slots_to_use(work, layers=layers or work.supply.most_layers, is_hidden=is_hidden)
    return {key: site for key, site in sites.items() if key.partition(".")[0] in wanted}


def propose_by(key: str, work: Workpiece, aim: Aim) -> tuple[Proposal | None, Match]:
    """The plan of one school for an aim, or None, and the solver's answer.

    Strips lie in as few layers as will do. The answer of ``least`` says why where there is no plan.

    Raises:
        SpecError: a spec that is aimed at but was never measured.
    """
    school, outline = SCHOOLS[key], work.outline
    found = Match(False)
    for layers in range(1, work.supply.most_layers + 1):
        sites = _sites_of_school(school, work, layers)
        if sites:
            found = solve(
                work.measured, sites, aim, length_cm=outline.length_cm, outline=outline,
                seconds=SOLVE_SECONDS, explain=key == LEAST and layers == work.supply.most_layers,
                fewest=school.way is Way.FEWEST,
            )  # fmt: skip
        if found.is_feasible:
            break
    if not found.is_feasible:
        return None, found
    prediction = predict(
        work.measured,
        found.pieces,
        length_cm=outline.length_cm,
        axis_cm=aim.axis_cm,
        outline=outline,
    )
    return Proposal(key, school, found, prediction), found


def propose(work: Workpiece, aim: Aim) -> tuple[list[Proposal], Match]:
    """The first three different plans for an aim, the lightest first, and the answer of the lightest.

    Where the aim cannot be met at all the list is empty, and the answer says why.

    Raises:
        SpecError: a spec that is aimed at but was never measured.
    """
    lightest, first = propose_by(LEAST, work, aim)
    if lightest is None:
        return [], first
    found = [lightest]
    for key in SCHOOLS:
        if len(found) == MOST_PROPOSALS:
            break
        other = None if key == LEAST else propose_by(key, work, aim)[0]
        if other and all(other.places != each.places for each in found):
            found.append(other)
    return sorted(found, key=lambda proposal: proposal.found.added_g), first


def _face_of(piece: Piece) -> str:
    strip = piece.as_strip
    return strip.face.value if strip else ""
