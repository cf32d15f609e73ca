"""What a plan does to the size of the grip: every layer round the handle where the hand lies."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from types import MappingProxyType
from typing import Final

from kentrobar.core.editing.plan import PlanState
from kentrobar.core.editing.shelf import Shelf, Stock
from kentrobar.core.frame.anatomy import GRIP_TOP_CM, HANDLE_RADIUS_CM
from kentrobar.core.frame.outline import Outline
from kentrobar.core.quantities.estimates import Estimate, NotMeasured
from kentrobar.core.quantities.units import MM_PER_CM
from kentrobar.core.weight.builds import Fitting
from kentrobar.core.weight.grip import HARDLY_FELT_MM, Layer, circumference_change_mm
from kentrobar.core.weight.pieces import Piece
from kentrobar.core.weight.pieces.piece import RemovalKind

CIRCUMFERENCE_CM: Final = 2 * math.pi * HANDLE_RADIUS_CM
BEVEL_CM: Final = CIRCUMFERENCE_CM / 8
NO_ACCESSORIES: Mapping[int, Fitting] = MappingProxyType({})


def grip_change_mm(
    plan: PlanState, shelf: Shelf, accessories: Mapping[int, Fitting] = NO_ACCESSORIES
) -> Estimate | None:
    """By how much the circumference under the hand changes, mm, with ±; None where the plan leaves it alone.

    ``accessories`` are what the shop has to fit, by key: what takes the place of what is on.
    """
    layers = [
        layer
        for piece in plan.pieces
        if piece.goes_round_handle and is_under_hand(piece, plan.outline)
        for layer in _layers(piece, plan, shelf, accessories)
    ]
    return circumference_change_mm(layers) if layers else None


def is_under_hand(piece: Piece, outline: Outline) -> bool:
    """Whether it lies where the hand holds the frame, rather than above it at the top of the handle."""
    return piece.ends(outline)[0] < outline.handle_length_cm - GRIP_TOP_CM


def keeps_size(*layers: Layer) -> bool:
    """Whether what comes and goes leaves the grip the same size, as a hand tells it."""
    return abs(circumference_change_mm(layers).value) <= HARDLY_FELT_MM


def _layers(
    piece: Piece, plan: PlanState, shelf: Shelf, accessories: Mapping[int, Fitting]
) -> Iterator[Layer]:
    source, stock = piece.source, shelf.of(piece)
    if source.fitting:
        old = plan.baseline.find_fitting(source.fitting)
        if not old.goes_round_handle:
            return
        yield Layer(old.layer_mm, -1)
        if source.deed is RemovalKind.EXCHANGE:
            yield Layer(accessories.get(source.accessory, old).layer_mm, 1)
    elif stock is not None:
        sign = -1 if piece.removed else 1
        yield Layer(stock.layer_mm, sign, _covered(piece, stock))


def _covered(piece: Piece, stock: Stock) -> float:
    """The part of the circumference that a piece covers; of strips along the handle each its width.

    More than 1 where they lie on each other. A tape whose width nobody gave is as wide as a bevel.
    """
    if not stock.is_tape or not stock.density.value:
        return 1.0
    strips = len(piece.tape_lengths(stock.density.value))
    width_cm = stock.width_mm / MM_PER_CM if not isinstance(stock.width_mm, NotMeasured) else BEVEL_CM
    return strips * min(width_cm / CIRCUMFERENCE_CM, 1.0)
