"""Different plans for one aim: the least weight, and what each school of placing would do."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass, replace
from enum import StrEnum
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.body.specs import AIMED_BY_KEY
from kentrobar.core.body.target import Bands, Target
from kentrobar.core.solving.allowed import BALANCE_SITE, HANDLE_SITES, HOOP_SITES, USUAL_SITES
from kentrobar.core.solving.candidates import Slot
from kentrobar.core.solving.chance import chance_within
from kentrobar.core.solving.matching import Match
from kentrobar.core.solving.matching import match as solve
from kentrobar.core.solving.most_reliable import drawn_in, most_reliable
from kentrobar.core.solving.supply import Workpiece, clipped_on, sites_in_hand
from kentrobar.core.weight.pieces import Piece
from kentrobar.core.weight.prediction import Prediction

MOST_PROPOSALS: Final = 3
LEAST: Final = "least"  # the key of the school that uses every site
SOLVE_SECONDS: Final = 3.0  # for each school
SURE_ENOUGH: Final = 0.95  # the chance that the surest plan is to reach


class SchoolStyle(StrEnum):
    """What a school does with its sites."""

    AT_USUAL_PLACES = "as_usual"
    HIDDEN = "hidden"  # the rim's strips lie under bumper and grommet strip
    CLEAN = "clean"  # only what comes off clean
    SWAPPED = "swapped"  # grip and cap make way for heavier ones
    TAKEN_OFF = "taken_off"  # what is fitted makes room
    LIGHTENED = "lightened"  # what is fitted makes way for something lighter, or is cut short
    CLIPPED = "clipped"  # modules, for a trial
    FEWEST = "fewest"  # few pieces rather than little weight
    MOST_RELIABLE = "surest"  # bands drawn in until the chance is reached


class School(NamedTuple):
    """A way of placing weight: its name, its reason, the sites it uses (none named: all usual ones).

    ``holds`` are groups of sites of which a plan uses one each, or it is not of that school.
    """

    title: str
    reason: str
    sites: frozenset[str] = frozenset()
    way: SchoolStyle = SchoolStyle.AT_USUAL_PLACES
    holds: tuple[frozenset[str], ...] = ()


_TIP = frozenset({"twelve", "top_edge"})
_BUTT = frozenset({"butt_cap"})
_MIDDLE = frozenset({"three_nine", "sides", "throat"})

SCHOOLS: Final = MappingProxyType(
    {
        LEAST: School(
            "Least weight at open sites",
            "With this tape and putty, in as few layers as will do, at hoop, throat"
            " and handle; nothing is lifted, exchanged or taken off for it.",
        ),
        "counter": School(
            "Counterbalanced",
            "Weight in the hoop, held in balance from inside the butt cap.",
            HOOP_SITES | _BUTT,
            holds=(HOOP_SITES, _BUTT),
        ),
        "hoop": School(
            "Hoop only", "No counterbalance: nothing at the handle, the balance may drift.", HOOP_SITES
        ),
        "polarized": School(
            "Polarized",
            "Weight at both ends: with the balance held, more swing weight for each gram than the sides give.",
            _TIP | _BUTT,
            holds=(_TIP, _BUTT),
        ),
        "depolarized": School(
            "Depolarized",
            "Weight in the middle and at the sides: steadier, the swing changes less.",
            _MIDDLE | {"handle_top"},
            holds=(_MIDDLE,),
        ),
        "hidden": School(
            "Hidden",
            "Strips under bumper and grommet strip, the rest in the handle: nothing shows, and "
            "the strings come out for it.",
            HOOP_SITES | HANDLE_SITES,
            SchoolStyle.HIDDEN,
        ),
        "removable": School(
            "Removable", "All of it comes off again and leaves nothing.", way=SchoolStyle.CLEAN
        ),
        "handle": School(
            "Handle only",
            "Out of sight and easily undone; it moves the swing weight hardly at all.",
            HANDLE_SITES,
        ),
        "heft": School(
            "At the balance point",
            "Plain weight where the balance stays; the swing weight rises far less than from the tip.",
            frozenset({BALANCE_SITE}),
        ),
        "swaps": School(
            "Grip and cap first",
            "Another grip or a heavier cap does what it can, tape in the hoop the rest.",
            HOOP_SITES,
            SchoolStyle.SWAPPED,
        ),
        "removes": School(
            "Remove first",
            "Fittings that come off in a minute make room. Nothing is cut or replaced.",
            way=SchoolStyle.TAKEN_OFF,
        ),
        "lighter": School(
            "Cut and replace",
            "Lighter strings, grip or cap from your stock and bumper ends cut short, for a lower swing weight.",
            way=SchoolStyle.LIGHTENED,
        ),
        "trial": School(
            "Trial with modules",
            "Clipped on for a hit before anything is cut; they slide and catch the "
            "air, so lay it in tape after.",
            way=SchoolStyle.CLIPPED,
        ),
        "fewest": School(
            "Fewest pieces", "Quickest to cut and lay; among such plans the lightest.", way=SchoolStyle.FEWEST
        ),
        "surest": School(
            "Most reliable",
            "A little more weight, so that the next reading is more likely within tolerance.",
            way=SchoolStyle.MOST_RELIABLE,
        ),
    }
)


@dataclass(frozen=True)
class Proposal:
    """One plan with what it comes to.

    ``title`` and ``reason`` are those of its school where the plan holds what that promises. ``chance``, 0 to
    1, is that of all specs that are aimed at to come to lie within their bands.
    """

    key: str
    title: str
    reason: str
    school: School
    found: Match
    prediction: Prediction
    chance: float

    @property
    def pieces(self) -> tuple[Piece, ...]:
        """The pieces to lay."""
        return self.found.pieces

    @property
    def places(self) -> tuple[tuple[str, str, bool, float], ...]:
        """What it lays or takes away where, and how much: plans that agree in this are the same."""
        return tuple(
            sorted(
                (
                    piece.label,
                    f"{piece.material} {piece.face_name}",
                    piece.removed,
                    round(piece.total_mass_g, 6),
                )
                for piece in self.pieces
            )
        )


def _sites_of_school(school: School, work: Workpiece, layers: int) -> list[Slot]:
    """What one school lays, clips on, exchanges and takes off; nothing where it has no means of its own."""
    supply, allowed = work.supply, work.allowed
    more: tuple[Slot, ...] = ()
    match school.way:
        case SchoolStyle.CLIPPED:
            return list(clipped_on(work))
        case SchoolStyle.HIDDEN if not allowed.lets_lie(is_hidden=True):
            return []
        case SchoolStyle.CLEAN if supply.clean and allowed.lets_lie(is_hidden=False):
            work = replace(work, supply=supply.removable())
        case SchoolStyle.SWAPPED if supply.swaps:
            more = supply.swaps
        case SchoolStyle.TAKEN_OFF if supply.removals:
            more = supply.removals
        case SchoolStyle.LIGHTENED if supply.lighter:
            more = supply.removals + supply.lighter
        case SchoolStyle.CLEAN | SchoolStyle.SWAPPED | SchoolStyle.TAKEN_OFF | SchoolStyle.LIGHTENED:
            return []
    is_hidden = school.way is SchoolStyle.HIDDEN or not allowed.lets_lie(is_hidden=False)
    sites = sites_in_hand(work, school.sites or USUAL_SITES, layers=layers, is_hidden=is_hidden)
    return [*sites.values(), *more]


def propose_by(key: str, work: Workpiece, target: Target) -> tuple[Proposal | None, Match]:
    """The plan of one school for a target, or None, and the solver's answer.

    It comes to the middle of each tolerance where it can, else anywhere within. Strips lie in as few layers
    as will do. The answer of ``least`` says why where there is no plan.

    Raises:
        SpecError: a spec that is aimed at but was never measured.
    """
    changes = target.changes
    work, target = _counted_from_zero(work, target)
    lightest = _lightest(key, work, target)
    proposal = _of_school(key, work, target, lightest)
    return proposal, proposal.found if proposal else _as_change(lightest.found, changes)


def _counted_from_zero(work: Workpiece, target: Target) -> tuple[Workpiece, Target]:
    """Both with a change of what was never read as a band of the change itself: it starts from 0."""
    if not target.changes:
        return work, target
    measured = work.measured.counted_from_zero(target.changes, target.axis_cm)
    work = replace(work, baseline=replace(work.baseline, measured=measured))
    return work, replace(target, bands={**target.bands, **target.changes}, changes={})


def _as_change(found: Match, changes: Bands) -> Match:
    """An answer whose reason speaks of a change, where that is what cannot be had."""
    why = found.reason
    if not why or len(why.names) != 1 or why.names[0] not in changes:
        return found
    return replace(found, reason=replace(why, is_change=True))


class _SchoolBest(NamedTuple):
    """The plan of least weight of a school, the sites and the target for which it was found."""

    found: Match
    sites: list[Slot]
    target: Target


def _lightest(key: str, work: Workpiece, target: Target) -> _SchoolBest:
    """The least weight of one school in as few layers as will do: to the middle if that can be, else within."""
    found, sites = Match(False), list[Slot]()
    for layers in range(1, work.supply.most_layers + 1):
        sites = _sites_of_school(SCHOOLS[key], work, layers)
        is_last = layers == work.supply.most_layers
        if not sites:
            continue
        if target.two_sided:  # else the middle is the whole
            found = _solved(work, sites, target.in_the_middle)
            if found.is_feasible:
                return _SchoolBest(found, sites, target.in_the_middle)
        found = _solved(work, sites, target, explain=key == LEAST and is_last)
        if found.is_feasible:
            break
    return _SchoolBest(found, sites, target)


def _of_school(key: str, work: Workpiece, target: Target, lightest: _SchoolBest) -> Proposal | None:
    """What a school makes of its plan of least weight, or None where there is none."""
    found, sites, tried = lightest
    if not found.is_feasible:
        return None
    way = SCHOOLS[key].way
    if way is SchoolStyle.FEWEST:
        fewer = _solved(work, sites, tried, fewer_than=len(found.pieces))
        if not fewer.is_feasible and not fewer.is_proven:
            return None  # time ran out: whether fewer would do is not known
        found = fewer if fewer.is_feasible else found
    proposal = _proposal(key, work, target, found)
    return _most_reliable(proposal, work, sites, target) if way is SchoolStyle.MOST_RELIABLE else proposal


def _solved(
    work: Workpiece,
    sites: Sequence[Slot],
    target: Target,
    *,
    explain: bool = False,
    fewer_than: int | None = None,
) -> Match:
    return solve(
        work.measured,
        sites,
        target,
        length_cm=work.outline.length_cm,
        outline=work.outline,
        seconds=SOLVE_SECONDS,
        explain=explain,
        fewer_than=fewer_than,
        sums=work.sums,
    )


def _proposal(key: str, work: Workpiece, target: Target, found: Match) -> Proposal:
    school = SCHOOLS[key]
    prediction = work.predict(found.pieces, target.axis_cm)
    title, reason = _title_and_reason(key, work, found.pieces)
    chance = chance_within(prediction, target.bands)
    return Proposal(key, title, reason, school, found, prediction, chance)


def _title_and_reason(key: str, work: Workpiece, pieces: Sequence[Piece]) -> tuple[str, str]:
    """Title and reason of a plan: those of its school, unless it lacks what makes it one of that school."""
    school = SCHOOLS[key]
    if key == LEAST and not work.allowed.is_anywhere:
        return "Least weight at your places", "With this tape and putty, only at your positions."
    used = _sites_used(work, pieces)
    if all(group & used for group in school.holds) or not pieces:
        return school.title, school.reason
    where = " and ".join(dict.fromkeys(piece.label for piece in pieces))
    return (f"Only at {where}", "The places of this school that it takes; the others stay as they are.")


def _sites_used(work: Workpiece, pieces: Iterable[Piece]) -> frozenset[str]:
    """The keys of the sites that pieces of a plan lie at: a plan names them by their labels."""
    by_label = {site.label: key for key, site in work.places.items()}
    return frozenset(by_label[p.label] for p in pieces if p.label in by_label)


def _most_reliable(first: Proposal, work: Workpiece, sites: Sequence[Slot], target: Target) -> Proposal:
    """The lightest plan whose chance is as great as is usually wished; the surest where none is."""
    us = unsure_of(first.prediction, target.bands)

    def plan_at(guard: float) -> Proposal | None:
        if guard == 0.0:
            return first
        bounds = drawn_in(target.bands, us, guard)
        if bounds is None:
            return None
        found = _solved(work, sites, replace(target, bands=bounds))
        return _proposal(first.key, work, target, found) if found.is_feasible else None

    return most_reliable(plan_at, lambda plan: plan.chance, SURE_ENOUGH) or first


def unsure_of(prediction: Prediction, names: Iterable[str]) -> dict[str, float]:
    """The ± of specs after a plan, by key, in their base units; what was not read is left out."""
    after = {name: getattr(prediction.after, name) for name in names}
    return {name: q.u for name, q in after.items() if q}


def too_coarse(prediction: Prediction, bounds: Mapping[str, tuple[float, float]]) -> tuple[str, ...]:
    """The specs, by key, whose ± is wider than what they may miss: no plan meets them for sure."""
    us = unsure_of(prediction, bounds)
    return tuple(
        name for name in AIMED_BY_KEY if name in us and us[name] > (bounds[name][1] - bounds[name][0]) / 2
    )


def propose(work: Workpiece, target: Target) -> tuple[list[Proposal], Match]:
    """The first three different plans for a target, the lightest first, and the answer of the lightest.

    Where the aim cannot be met at all the list is empty, and the answer says why.

    Raises:
        SpecError: a spec that is aimed at but was never measured.
    """
    work, target = _counted_from_zero(work, target)
    found: dict[object, Proposal] = {}
    with ThreadPoolExecutor(1) as beside:  # HiGHS lets other threads run meanwhile
        least = beside.submit(_lightest, LEAST, work, target)
        others = _others(work, target, least)
        _take_different(others, found, MOST_PROPOSALS - 1)
        lightest = _of_school(LEAST, work, target, least.result())
    if lightest is None:
        return [], least.result().found
    found[lightest.places] = lightest
    _take_different(others, found, MOST_PROPOSALS)
    return sorted(found.values(), key=lambda p: p.found.added_g), lightest.found


def _others(work: Workpiece, target: Target, least: Future[_SchoolBest]) -> Iterator[Proposal]:
    """The plans of the schools beside that of the least weight; the surest, which takes long, not.

    The fewest pieces are sought at the sites of the least weight: they begin with its answer.
    """
    for key, school in SCHOOLS.items():
        if key == LEAST or school.way is SchoolStyle.MOST_RELIABLE:
            continue
        is_begun = school.way is SchoolStyle.FEWEST
        lightest = least.result() if is_begun else _lightest(key, work, target)
        proposal = _of_school(key, work, target, lightest)
        if proposal:
            yield proposal


def _take_different(others: Iterator[Proposal], found: dict[object, Proposal], most: int) -> None:
    while len(found) < most:
        other = next(others, None)
        if other is None:
            return
        found.setdefault(other.places, other)
