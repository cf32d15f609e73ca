"""What another one in a fitting's place would do: strings by gauge, edge tapes, grips, side by side."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import Final, NamedTuple

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import Specs
from kentrobar.core.editing.removal import in_place_of
from kentrobar.core.frame.outline import Outline
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.weight.builds import Fitting, change_build
from kentrobar.core.weight.grip import Layer, circumference_change_mm

_NEW: Final = -1  # key of what is not on the frame


class Alternative(NamedTuple):
    """A fitting in the place of another: what the frame's specs change by, and the grip round, mm."""

    fitting: Fitting
    change: Specs
    grip_mm: Estimate | None


def alternatives(
    measured: MeasuredSpecs,
    fitted: Sequence[Fitting],
    old: Fitting,
    offered: Iterable[Fitting],
    *,
    outline: Outline,
    axis_cm: float,
) -> list[Alternative]:
    """What each that is offered would do in the place of ``old``, lightest first.

    Raises:
        PieceError, OutlineError: a fitting that cannot be on this frame.
    """
    rest = [each for each in fitted if each.key != old.key]
    found = []
    for new in offered:
        placed = replace(in_place_of(old, new), key=_NEW)
        change = change_build(
            measured, [*rest, old], [*rest, placed], outline=outline, axis_cm=axis_cm
        ).prediction.change
        found.append(Alternative(new, change, _grip_change(old, new)))
    return sorted(found, key=lambda each: each.fitting.mass_g.value)


def _grip_change(old: Fitting, new: Fitting) -> Estimate | None:
    if not old.goes_round_handle:
        return None
    return circumference_change_mm([Layer(old.layer_mm, -1), Layer(new.layer_mm, 1)])
