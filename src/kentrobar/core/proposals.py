"""Different plans for one aim: the least weight, and what each school of placing would do."""

from __future__ import annotations

from dataclasses import dataclass, replace
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.candidates import Site
from kentrobar.core.circumstances import Circumstances
from kentrobar.core.estimates import Estimate
from kentrobar.core.matching import Aim, Match, match
from kentrobar.core.outline import Outline
from kentrobar.core.pieces import Piece, RimStrip, total_mass_g
from kentrobar.core.plans import Prediction, predict
from kentrobar.core.specs import MeasuredSpecs
from kentrobar.core.supply import ANYWHERE, Supply, clipped_on, sites_to_use

MOST_PROPOSALS: Final = 3
LEAST: Final = "least"  # the key of the school that uses every site
SOLVE_SECONDS: Final = 3.0  # for each school


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
    "removable": School(
        "Removable", "All of it comes off again and leaves nothing.", is_clean=True,
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
    "fewest": School(
        "Fewest pieces", "Quickest to cut and lay; among such plans the lightest.", fewest=True,
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


def _sites_of_school(
    school: School,
    measured: MeasuredSpecs,
    outline: Outline,
    supply: Supply,
    circumstances: Circumstances,
    layers: int,
    keeps_grip: bool,
) -> list[Site]:
    """What one school lays, clips on, exchanges and takes off; nothing where it has no means of its own."""
    if school.is_trial:
        return list(clipped_on(outline, supply))
    if (
        (school.is_clean and not supply.clean)
        or (school.swaps and not supply.swaps)
        or (school.removes and not supply.removals)
    ):
        return []
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
