"""Protective tape round the full edge of a paddle, as each tape of the shop's stock would be."""

from __future__ import annotations

from collections.abc import Iterator

from kentrobar.core.body.sport import Sport
from kentrobar.core.editing.shelf import Shelf, Stock
from kentrobar.core.frame.outline import Outline
from kentrobar.core.weight.builds import Fitting, FittingKind, full_edge_cm
from kentrobar.core.weight.materials import MaterialKind
from kentrobar.core.weight.pieces import CUT_LENGTH_U_CM

LONGEST_NAME = 48  # so that the label has room for the rest


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
