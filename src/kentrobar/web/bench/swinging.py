"""A swing timed at the bench: of the frame as it is believed to be, told so that nothing counts twice."""

from __future__ import annotations

from dataclasses import replace

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import READ
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.web.bench.rounds import WorkState, stored_reading
from kentrobar.web.kit.records import Json
from kentrobar.web.measuring.timing.swing import TimedFrame, TimedSwing


def frame_as_now(state: WorkState) -> TimedFrame:
    """The frame with the specs that it is believed to have now, in the build it was read in."""
    now = state.belief.measured(state.target.axis_cm)
    return TimedFrame(state.work.plan.frame, now, state.work.specs)


def swing_record(swung: TimedSwing) -> Json:
    """What is kept of a swing: what it comes to, as surely as it was timed, and what that follows from.

    Weight and balance are known from the readings before; that they err too is told by the slopes.
    """
    assert swung.period is not None  # noqa: S101 - there is an answer
    rig, spec = swung.rig, swung.rig.spec
    alone = replace(rig, measured=_exact(rig.measured)).answer(swung.period)
    return {
        "specs": {spec.key: alone._asdict()},
        "readings": [stored_reading(swung.reading(alone))],
        "slopes": {spec.key: dict(rig.slopes(swung.period))},
    }


def _exact(measured: MeasuredSpecs) -> MeasuredSpecs:
    """The same specs as if nothing of them were unsure."""
    known = {spec.key: Estimate(quantity.value, 0.0) for spec in READ if (quantity := measured.of(spec))}
    return MeasuredSpecs.read_apart(known, measured.axis_cm)
