"""What the frames of a set are to become: the target that was chosen, as numbers."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from kentrobar.core.body.target import Target
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.solving.set_targets import Values, heaviest, middle_of
from kentrobar.web.matching.models import FrameSet, SetLaying
from kentrobar.web.matching.prepared import PreparedFrame, as_planned, prepare
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.stored import plan_state

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
            "No spec is left to match. Enter a tolerance, or measure what the target needs.",
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
            "The target's frame is not measured, or is left out. Choose another target.", code="no_target"
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


def target_as_read(laying: SetLaying, plan: Plan) -> Target:
    """What plans of a set were laid for, as it reads in the setup that a plan's frame was read in.

    What a fitting makes of a frame hardly depends on the weight beside it: the bands move by what it makes of
    the plan's outcome.
    """
    target = laying.target
    member = laying.set.members.filter(frame=plan.frame_id).first()
    if member is None or plan.specs is None:
        return target
    (each,) = prepare([member], target)
    there = as_planned(laying.set, each, plan)
    if not there.turned.converted:
        return target
    state = replace(plan_state(plan), axis_cm=target.axis_cm)
    read, turned = state.prediction.after, there.predict(state.pieces).after
    bands = {}
    for name, (low, high) in target.bands.items():
        here, other = getattr(read, name), getattr(turned, name)
        if here and other:
            bands[name] = (low + here.value - other.value, high + here.value - other.value)
    return replace(target, bands=bands, setup="")
