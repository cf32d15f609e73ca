"""What another one in a fitting's place would do: strings by gauge, edge tapes, grips, side by side."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace
from typing import Final, NamedTuple

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import Specs
from kentrobar.core.body.sport import Sport
from kentrobar.core.editing.removal import in_place_of
from kentrobar.core.editing.shelf import Shelf, Stock
from kentrobar.core.frame.outline import Outline
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.weight.builds import Fitting, FittingKind, change_build, full_edge_cm
from kentrobar.core.weight.grip import Layer, circumference_change_mm
from kentrobar.core.weight.materials import MaterialKind
from kentrobar.core.weight.pieces import CUT_LENGTH_U_CM
from kentrobar.core.weight.strings import STRING_DENSITIES, strings_weight

_NEW: Final = -1  # key of what is not on the frame


GAUGES_MM: Final = (1.15, 1.20, 1.25, 1.30, 1.35)  # of strings, compared by their material too
LONGEST_NAME: Final = 48  # of a tape, so that its label has room for the rest


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


def strings_by_gauge(outline: Outline, old: Fitting) -> Iterator[Fitting]:
    """Strings by material and gauge, worked out for the pattern of those that are in."""
    for material in STRING_DENSITIES:
        for gauge_mm in GAUGES_MM:
            weight = strings_weight(outline, old.mains, old.crosses, gauge_mm, material)
            yield Fitting(key=0, kind=old.kind, label=f"{material} {gauge_mm:.2f} mm", mass_g=weight)


def edge_tapes(outline: Outline, shelf: Shelf) -> Iterator[Fitting]:
    """Each edge tape in stock as a fitting round the full edge, by its own key; none for a racket."""
    if outline.sport is Sport.PICKLEBALL:
        yield from (_round(outline, stock) for stock in shelf.offered if stock.kind is MaterialKind.EDGE_TAPE)


def _round(outline: Outline, stock: Stock) -> Fitting:
    return Fitting(
        key=stock.key,
        kind=FittingKind.EDGE_TAPE,
        label=f"{stock.name[:LONGEST_NAME]}, full edge",
        mass_g=stock.weight_of(full_edge_cm(outline), CUT_LENGTH_U_CM),
        thickness_mm=stock.layer_mm,
    )


def _grip_change(old: Fitting, new: Fitting) -> Estimate | None:
    if not old.goes_round_handle:
        return None
    return circumference_change_mm([Layer(old.layer_mm, -1), Layer(new.layer_mm, 1)])
