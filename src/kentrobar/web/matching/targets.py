"""What the frames of a set are to become: the target that was chosen, as numbers."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from kentrobar.core.body.target import Target
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.solving.set_targets import Values, heaviest, middle_of
from kentrobar.web.matching.models import FrameSet
from kentrobar.web.matching.prepared import PreparedFrame, prepare

Kind = FrameSet.TargetKind


def target_of(of: FrameSet, frames: Sequence[PreparedFrame]) -> Target:
    """The target of a set for the frames that are planned.

    Specs that were read of fewer than two of the frames, or that the target does not tell, are left out.

    Raises:
        KentrobarError: nothing is left to be alike in; the target's frame was not read.
    """
    given = given_target(of, frames)
    tolerances = {
        name: t
        for name, t in of.target.tolerances.items()
        if sum(name in each.values for each in frames) > 1 and (given is None or name in given)
    }
    if not tolerances:
        raise KentrobarError(
            "No spec is left to be alike in: type a tolerance, or read what the target needs.",
            code="nothing_alike",
        )
    about = Target.about(given or {}, tolerances, of.target.axis_cm, alike=of.target.alike)
    return replace(of.target, bands=about.bands, is_free=about.is_free)


def given_target(of: FrameSet, frames: Sequence[PreparedFrame]) -> Mapping[str, float] | None:
    """The target's specs where it is given, None where it is chosen with the plan.

    Raises:
        KentrobarError: the frame or the set that is the target was not read.
    """
    match of.kind:
        case Kind.LEAST | Kind.FEWEST:
            return None
        case Kind.WRITTEN:
            return of.target.centres
        case Kind.HEAVIEST:
            index = heaviest([each.values for each in frames])
            found: Values | None = None if index is None else frames[index].values
        case Kind.FRAME:
            found = next((e.values for e in frames if e.frame.pk == of.favourite_id), None)
        case _:
            found = _other(of)
    if not found:
        raise KentrobarError(
            "What the set is to be made like was not read, or is left out; choose another target.",
            code="no_target",
        )
    return found


def _other(of: FrameSet) -> Values | None:
    """What another set is like: the means of its frames, in this set's build and about its axis."""
    if of.other is None:
        return None
    there = prepare(of.other.members.all(), replace(of.target, bands={}))
    return middle_of([each.values for each in there])


def start_of_drag(of: FrameSet, frames: Sequence[PreparedFrame]) -> dict[str, float]:
    """Where the box of a target lies before anybody dragged it: the given one, or what most may come up to.

    What is added raises weight, swing weight and twist weight, so their greatest values are a start.
    """
    try:
        given = given_target(of, frames)
    except KentrobarError:
        given = None
    if given:
        return {name: given[name] for name in of.target.bands if name in given}
    found = {}
    for name in of.target.bands:
        values = [each.values[name] for each in frames if name in each.values]
        if values:
            found[name] = sum(values) / len(values) if name == "balance_cm" else max(values)
    return found
