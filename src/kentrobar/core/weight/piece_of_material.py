"""A piece with the kind of material it was cut from: what rules of laying and of the bench ask about."""

from __future__ import annotations

from typing import NamedTuple

from kentrobar.core.quantities.estimates import NOT_MEASURED, Amount
from kentrobar.core.weight.materials import KINDS, KindFacts, MaterialKind
from kentrobar.core.weight.pieces import Piece


class PieceOfMaterial(NamedTuple):
    """A piece with the kind of material it was cut from; no kind where it is of none.

    ``own`` is what a shop says of its material where that differs from the kind, ``width_mm`` how wide its
    tape is.
    """

    piece: Piece
    kind: MaterialKind | None = None
    own: KindFacts | None = None
    width_mm: Amount = NOT_MEASURED

    @property
    def facts(self) -> KindFacts | None:
        """What holds of its material; none where it is of none."""
        return self.own or (KINDS[self.kind] if self.kind else None)
