"""The strings of a racket as one body: their weight is changed, their place is the frame's."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import ClassVar, Self

from kentrobar.core.body.moments import Moments
from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.places import Toward
from kentrobar.core.frame.rim import Face, RimPoint
from kentrobar.core.frame.silhouette import Path
from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.quantities.estimates import Estimate, covariance_of
from kentrobar.core.quantities.units import Ruler
from kentrobar.core.weight.pieces.effects import Effect, scaled
from kentrobar.core.weight.pieces.piece import PLACE_U_CM, Cover, Piece, require_mass
from kentrobar.core.weight.strings import string_moments


@dataclass(frozen=True, kw_only=True)
class StringBed(Piece):
    """Strings over a racket's opening, of even mass per length.

    With ``mains`` and ``crosses`` each string is summed for itself; without, the strings are an
    even ellipse: A = m(c² + a²/4), T = m·b²/4 for half axes a along and b across.
    """

    has_place: ClassVar[bool] = False

    mass_g: Estimate
    mains: int = 0
    crosses: int = 0

    def __post_init__(self) -> None:
        require_mass(self.mass_g.value)

    @property
    def one_mass_g(self) -> float:
        return self.mass_g.value

    def sure_but_for_place(self) -> Self:
        return replace(self, mass_g=self.mass_g._replace(u=0.0))

    def body(self, outline: Outline | None) -> Effect:
        if outline is None or outline.sport is not Sport.TENNIS:
            raise PieceError("Strings need the outline of a racket.", code="no_outline", field="outline")
        per_gram = string_moments(outline, self.mains, self.crosses)
        m = self.mass_g.value
        along = (0.0, m * PLACE_U_CM, 2 * m * per_gram[1] * PLACE_U_CM, 0.0, 0.0)
        own = [scaled(per_gram, self.mass_g.u), along]
        return Effect(Moments(*scaled(per_gram, m)), covariance_of(own), {})

    def ends(self, outline: Outline) -> tuple[float, float]:
        return outline.centre_y_cm, outline.centre_y_cm

    def anchor(self, outline: Outline) -> RimPoint:
        return RimPoint(0.0, outline.centre_y_cm)

    def shape(self, outline: Outline) -> Path:
        inner = outline.rim(Face.INNER)
        return inner.polyline(-inner.half_length, inner.half_length)

    def where(self, outline: Outline, ruler: Ruler) -> str:
        return "strings"

    def place(self, outline: Outline, ruler: Ruler) -> str:
        return ruler.text(outline.centre_y_cm)

    def cover(self, outline: Outline) -> Cover:
        return Cover.STRINGS

    def shows(self, outline: Outline, *, at_skin: bool) -> bool:
        return False

    def dragged(self, outline: Outline, x_cm: float, y_cm: float) -> StringBed:
        return self

    def nudged(self, outline: Outline, toward: Toward, by_cm: float) -> StringBed:
        return self

    def at_height(self, outline: Outline, y_cm: float) -> StringBed:
        raise PieceError("Strings lie where they are strung; change their weight.", code="no_place")

    def with_mass(self, mass_g: float) -> StringBed:
        return replace(self, mass_g=self.mass_g._replace(value=mass_g))
