"""What there is to lay with: the materials of a shelf as the rules know them."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from functools import cached_property

from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.quantities.estimates import NOT_MEASURED, Amount, Estimate, Quantity
from kentrobar.core.weight.builds import Fitting
from kentrobar.core.weight.grip import USUAL_MM
from kentrobar.core.weight.materials import Form, KindFacts, MaterialKind, Undo
from kentrobar.core.weight.piece_of_material import PieceOfMaterial
from kentrobar.core.weight.pieces import Piece
from kentrobar.core.weight.pieces.piece import Source

NO_DENSITY = Estimate(0.0, 0.0)
NO_LAYER = Estimate(0.0, 0.0)  # of what does not lie in a layer


@dataclass(frozen=True, kw_only=True)
class Stock:
    """One material as it lies on a shelf, told from the others by ``key``.

    ``density`` is g/cm of a tape, ``g_cm3`` that of a putty, ``each_g`` the weight of one of the rest.
    ``sold`` (in one package), ``left`` and ``unit_price`` count cm of tape, g of putty, pieces of the rest;
    ``NotMeasured`` where nobody said. ``look`` is its colour and shine, in the shop's words.
    """

    key: int
    name: str
    kind: MaterialKind
    facts: KindFacts
    density: Estimate = NO_DENSITY
    g_cm3: float = 1.0
    each_g: float = 0.0
    width_mm: Amount = NOT_MEASURED
    thickness_mm: Quantity = NOT_MEASURED
    sold: Amount = NOT_MEASURED
    left: Amount = NOT_MEASURED
    unit_price: Amount = NOT_MEASURED
    is_archived: bool = False
    look: str = ""

    @property
    def form(self) -> Form:
        """In which form it comes: tape, putty, sleeve or item."""
        return self.facts.form

    @property
    def is_tape(self) -> bool:
        """Whether it is cut from a roll or a strip."""
        return self.form is Form.TAPE

    @property
    def layer_mm(self) -> Estimate:
        """How thick one layer of it is, mm: as measured, else as usual of its kind."""
        if self.thickness_mm:
            return self.thickness_mm
        return USUAL_MM.get(self.kind, NO_LAYER)

    @property
    def source(self) -> Source:
        """What pieces of it carry, whatever it is called: they err together."""
        return Source(stock=self.key)

    def weight_of(self, length_cm: float, length_u_cm: float) -> Estimate:
        """What a length of this tape weighs, g, with the ± of its weight per length and of the cut."""
        density, u = self.density
        return Estimate(density * length_cm, math.hypot(u * length_cm, density * length_u_cm))

    def placed(self, piece: Piece) -> PieceOfMaterial:
        """A piece that was cut from it, for the rules."""
        return PieceOfMaterial(piece, self.kind, self.facts, self.width_mm)

    def amount_of(self, piece: Piece) -> float:
        """How much of it a piece uses: cm of tape, g of putty, pieces of the rest."""
        if self.form is Form.TAPE:
            if piece.is_strip:
                return piece.extent_cm * piece.count
            return piece.total_mass_g / self.density.value if self.density.value else 0.0
        return piece.total_mass_g if self.form is Form.PUTTY else float(piece.count)


class Shelf:
    """The materials of one shop, in its order, and what it fits."""

    def __init__(
        self, stock: Iterable[Stock], know_fittings: Callable[[], Iterable[Fitting]] = tuple
    ) -> None:
        self._by_key = {each.key: each for each in stock}
        self._know_fittings = know_fittings

    @cached_property
    def fittings(self) -> tuple[Fitting, ...]:
        """Strings, grips, caps and tapes that the shop fits now; asked for once they are needed."""
        return tuple(self._know_fittings())

    def __iter__(self) -> Iterator[Stock]:
        return iter(self._by_key.values())

    @property
    def offered(self) -> list[Stock]:
        """What is laid with now: what is archived stays known to the pieces that were cut from it."""
        return [stock for stock in self if not stock.is_archived]

    def find(self, key: int) -> Stock:
        """The material of this key. Raises PieceError where it is not on the shelf."""
        if key not in self._by_key:
            raise PieceError("This material is not in your stock. Choose another.", code="no_material")
        return self._by_key[key]

    def of(self, piece: Piece) -> Stock | None:
        """What a piece was cut from, none where it is of nothing on the shelf."""
        return self._by_key.get(piece.source.stock)

    def usual(self, form: Form, *, is_clean: bool = False) -> Stock | None:
        """The first that is measured out so; with ``is_clean``, that comes off clean too."""
        fitting = (
            s for s in self.offered if s.form is form and not (is_clean and s.facts.undo is not Undo.CLEAN)
        )
        return next(fitting, None)

    def placed(self, piece: Piece) -> PieceOfMaterial:
        """A piece with what holds of its material, where it is of one."""
        stock = self.of(piece)
        return stock.placed(piece) if stock else PieceOfMaterial(piece)
