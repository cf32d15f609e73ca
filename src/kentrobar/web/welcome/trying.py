"""A first answer: a frame of usual dimensions with a plan."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from django.db import transaction

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.outline import Dimensions, PaddleDimensions, RacketDimensions, head_from_size
from kentrobar.web.frames.forms import USUAL_HEAD_CM2
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.services import create_frame
from kentrobar.web.measuring.services import TakenReading, Taking, record
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.services import create_plan
from kentrobar.web.shops.models import User

USUAL_DIMENSIONS: Final[dict[Sport, Dimensions]] = {
    Sport.TENNIS: RacketDimensions(
        68.58, *head_from_size(USUAL_HEAD_CM2), beam_mm=23.0, handle_length_cm=18.0
    ),
    Sport.PICKLEBALL: PaddleDimensions(41.0, 19.5),
}


@transaction.atomic
def begin(
    user: User, label: str, dimensions: Dimensions, measured: MeasuredSpecs, readings: Sequence[TakenReading]
) -> Plan:
    """A frame of usual dimensions with what was read of it, and a plan to lay something on."""
    typed = {Frame.USUAL_HEAD: True} if isinstance(dimensions, RacketDimensions) else {}
    frame = create_frame(user.own_shop, about={"label": label}, dimensions=dimensions, typed=typed)
    if readings:
        record(frame, Taking(measured, "playing", list(readings)), user)
    return create_plan(frame, user, name=f"First plan for {label}"[:80])
