"""What to expect of a frame whose fittings changed since it was read, and whether its set still holds."""

from __future__ import annotations

from typing import NamedTuple

from kentrobar.core.body.specs import READ_BY_KEY, Specs
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.weight.builds import Build
from kentrobar.web.frames.builds import all_fittings, fitted_at, fittings_in, in_build, same_build
from kentrobar.web.frames.models import Frame
from kentrobar.web.matching.models import FrameSet, SetLaying


class SetStanding(NamedTuple):
    """A set that a frame was laid for, and the specs that would lie outside of it now."""

    set: FrameSet
    outside: list[str]


class Expected(NamedTuple):
    """What changed since the reading that counts, the specs to expect, and how each set stands then."""

    on: list[str]
    off: list[str]
    before: Specs | None
    after: Specs | None
    cannot: str
    sets: list[SetStanding]


def expected_of(frame: Frame) -> Expected | None:
    """What to expect now; None where nothing was changed since it was read."""
    sheet = frame.specs
    if sheet is None or sheet.fitting_ids is None or sheet.build == Build.MIX:
        return None
    now = fittings_in(frame, sheet.build)
    if same_build(frame, sheet, now):
        return None
    then = {fitting.key for fitting in fitted_at(frame, sheet)}
    here = {fitting.key for fitting in now}
    on = [fitting.label for fitting in now if fitting.key not in then]
    off = [fitting.label for fitting in all_fittings(frame) if fitting.key in then - here]
    try:
        prediction = in_build(frame, sheet.build, now, sheet.axis_cm).prediction
    except KentrobarError as error:
        return Expected(on, off, None, None, error.message, [])
    after = prediction.after
    return Expected(on, off, prediction.before, after, "", list(_sets(frame, after)))


def _sets(frame: Frame, after: Specs) -> list[SetStanding]:
    """The sets it was laid for, and what of it would lie outside of them now."""
    layings = SetLaying.objects.filter(plans__frame=frame).select_related("set").order_by("set", "-made_at")
    latest = {laying.set_id: laying for laying in reversed(layings)}
    return [SetStanding(laying.set, _outside(laying, after)) for laying in latest.values()]


def _outside(laying: SetLaying, after: Specs) -> list[str]:
    missed = laying.target.miss(after)
    return [READ_BY_KEY[key].noun for key, miss in missed.items() if miss and key in READ_BY_KEY]
