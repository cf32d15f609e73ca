"""A set as a kentrobar/1 document: what ``script/kentrobar match`` reads."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from kentrobar.core.body.specs import AIMED, SWING_WEIGHT
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.solving.candidates import PointSlot, RimSlot
from kentrobar.core.solving.set_ways import SetWay, SetWork
from kentrobar.exchange import convert, models
from kentrobar.web.matching.models import FrameSet
from kentrobar.web.matching.prepared import PreparedFrame, require_plannable, works
from kentrobar.web.matching.set_view import Shown
from kentrobar.web.matching.targets import given_target

LONGEST_S = 60.0


def export_set(shown: Shown) -> models.MatchRequest:
    """The set with its target and the places that may be used on each frame, in the set's build.

    Raises:
        KentrobarError: fewer than two frames were read, or the target was not.
    """
    of, frames = shown.of, require_plannable(shown.frames)
    planned = works(of, frames, shown.shelf)
    wanted = of.target.tolerances
    tolerances = {
        spec.key: wanted.get(spec.key) if all(spec.key in each.values for each in frames) else None
        for spec in AIMED
    }
    return models.MatchRequest(
        format="kentrobar/1",
        frames=[_frame(each, work, of) for each, work in zip(frames, planned, strict=True)],
        target=_target(of, frames, tolerances),
        tolerance=models.Tolerance(**tolerances),
        within=of.target.alike.value,
        chance=of.target.chance,
        axis_cm=of.target.axis_cm,
        seconds=LONGEST_S,
    )


def _frame(each: PreparedFrame, work: SetWork, of: FrameSet) -> models.FrameToMatch:
    frame, sites = each.frame, work.sites(SetWay.LEAST)
    return models.FrameToMatch(
        label=frame.label,
        sport=frame.sport,
        length_cm=frame.length_cm,
        outline=convert.outline_document(frame.dimensions),
        measured=convert.measured_block(each.measured, of.target.setup),
        sites=[
            convert.site_document(site) for site in sites.values() if isinstance(site, PointSlot | RimSlot)
        ],
    )


def _target(
    of: FrameSet, frames: Sequence[PreparedFrame], tolerances: Mapping[str, float | None]
) -> models.TargetFrame | models.TargetSpecs | None:
    if of.kind == FrameSet.TargetKind.FRAME and of.favourite is not None:
        return models.TargetFrame(label=of.favourite.label)
    given = given_target(of, frames)
    if given is None:
        return None
    specs: dict[str, Any] = {n: v for n, v in given.items() if tolerances.get(n) is not None}
    if SWING_WEIGHT.key in specs:
        specs[SWING_WEIGHT.key] = {"value": specs[SWING_WEIGHT.key], "axis_cm": of.target.axis_cm}
    return models.TargetSpecs.model_validate(specs) if specs else None


def require_own_labels(frames: Sequence[PreparedFrame]) -> None:
    """Labels tell the frames of a document apart. Raises KentrobarError where two are the same."""
    labels = [each.frame.label for each in frames]
    twice = next((label for label in labels if labels.count(label) > 1), None)
    if twice is not None:
        raise KentrobarError(
            f"Two frames of this set are called “{twice}”; a file tells frames apart by their names. "
            "Rename one of them.",
            code="label_twice",
        )
