"""Pieces of weight: each kind knows its moments, extent, shape, words, limits and how a hand moves it.

- ``effects``: what a body adds, and how surely; ``piece``: what every kind answers.
- ``strip`` · ``compact`` · ``spans`` (sleeve, plug) · ``string_bed``: the kinds, one class each.

A further kind is one more class here and its model in ``exchange``.
"""

from kentrobar.core.weight.pieces.compact import PointPiece
from kentrobar.core.weight.pieces.effects import Effect
from kentrobar.core.weight.pieces.piece import (
    CUT_LENGTH_U_CM,
    DENSITY_U_RELATIVE,
    NO_SOURCE,
    PLACE_U_CM,
    WEIGHED_U_G,
    Cover,
    Piece,
    Room,
    Source,
    effect_of,
    product_of_inertia_gcm2,
)
from kentrobar.core.weight.pieces.spans import Plug, Sleeve
from kentrobar.core.weight.pieces.string_bed import StringBed
from kentrobar.core.weight.pieces.strip import RimStrip, strips_among

__all__ = [
    "CUT_LENGTH_U_CM",
    "DENSITY_U_RELATIVE",
    "NO_SOURCE",
    "PLACE_U_CM",
    "WEIGHED_U_G",
    "Cover",
    "Effect",
    "Piece",
    "Plug",
    "PointPiece",
    "RimStrip",
    "Room",
    "Sleeve",
    "Source",
    "StringBed",
    "effect_of",
    "product_of_inertia_gcm2",
    "strips_among",
]
