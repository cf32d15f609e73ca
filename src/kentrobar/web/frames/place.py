"""A frame as a place: what stands over each of its pages."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from kentrobar.core.weight.prediction import predict
from kentrobar.web.frames import hooks, reference_strips
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.numbers import shown_specs
from kentrobar.web.kit.spec_rows import SpecRow, cell_of, row_of
from kentrobar.web.shops.models import User


class FramePlace(NamedTuple):
    """The head of a frame's pages: its specs as they count now, what apps above know of it."""

    rows: Sequence[SpecRow]
    head: hooks.FrameHead


def frame_place_of(frame: Frame, user: User) -> FramePlace:
    """What stands over each page of a frame."""
    return FramePlace(spec_rows_of(frame, user), hooks.head_of(frame, user))


def spec_rows_of(frame: Frame, user: User, *, has_strips: bool = False) -> list[SpecRow]:
    """The specs that count now in the person's units; with strips, among the shop's frames."""
    units = user.units.of_sport(frame.sport)
    axis_cm = frame.measured.axis_cm
    specs = predict(frame.measured, [], length_cm=frame.length_cm, axis_cm=axis_cm).before
    strips = {}
    if has_strips:
        others = reference_strips.among(user.own_shop, frame.sport, but=frame)
        strips = reference_strips.strips_of(frame, others, units)
    return [
        row_of(
            spec,
            cell_of(spec, None, specs, None, units, strip=strips.get(spec.key)),
            axis=units.axis_text(axis_cm),
        )
        for spec in shown_specs(units)
    ]
