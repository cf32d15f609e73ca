"""Bodies of even density along the handle: a sleeve round it, a plug in its cavity."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import ClassVar, Final, Self

from kentrobar.core.body.moments import Moments
from kentrobar.core.frame.anatomy import CAP_DEPTH_CM, CAP_RADIUS_CM, CAVITY_RADIUS_CM, HANDLE_RADIUS_CM
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.places import Toward
from kentrobar.core.frame.rim import RimPoint
from kentrobar.core.frame.silhouette import Path, box
from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.quantities.estimates import Estimate, covariance_of
from kentrobar.core.quantities.units import Ruler
from kentrobar.core.weight.pieces.effects import Effect, scaled
from kentrobar.core.weight.pieces.piece import PLACE_U_CM, Cover, Piece, Room, require_mass

LARGEST_RADIUS_CM: Final = 5.0
_FITS_CM: Final = 1e-6  # so much longer a strip counts as fitting


@dataclass(frozen=True, kw_only=True)
class _Span(Piece):
    """A body of even density along the handle, between two distances from the butt."""

    # Mean z² and mean x² + z² of the cross-section, in units of the radius squared.
    mean_zz: ClassVar[float]
    mean_xz: ClassVar[float]

    mass_g: Estimate
    from_cm: float
    to_cm: float
    radius_cm: float

    def __post_init__(self) -> None:
        require_mass(self.mass_g.value)
        _require_span(self.from_cm, self.to_cm, self.radius_cm)

    @property
    def one_mass_g(self) -> float:
        return self.mass_g.value

    @property
    def extent_cm(self) -> float:
        return self.to_cm - self.from_cm

    def sure_but_for_place(self) -> Self:
        return replace(self, mass_g=self.mass_g._replace(u=0.0))

    def body(self, outline: Outline | None) -> Effect:
        m, rr = self.mass_g.value, self.radius_cm**2
        centre, length = (self.from_cm + self.to_cm) / 2, self.to_cm - self.from_cm
        yz = centre**2 + length**2 / 12 + self.mean_zz * rr
        per_gram = (1.0, centre, yz, self.mean_xz * rr, 0.0)
        along = (0.0, m * PLACE_U_CM, 2 * m * centre * PLACE_U_CM, 0.0, 0.0)
        own = [scaled(per_gram, self.mass_g.u), along]
        return Effect(Moments(*scaled(per_gram, m)), covariance_of(own), {})

    def ends(self, outline: Outline) -> tuple[float, float]:
        return self.from_cm, self.to_cm

    def require_within(self, room: Room) -> None:
        for field, value in (("from_cm", self.from_cm), ("to_cm", self.to_cm)):
            room.require(field, value, 0.0, room.handle_cm, "the handle")
        room.require("radius_cm", self.radius_cm, 0.0, HANDLE_RADIUS_CM, "the handle's radius")

    def anchor(self, outline: Outline) -> RimPoint:
        return RimPoint(0.0, (self.from_cm + self.to_cm) / 2)

    def shape(self, outline: Outline) -> Path:
        return box(0.0, self.from_cm, self.to_cm, self.radius_cm)

    def place(self, outline: Outline, ruler: Ruler) -> str:
        return ruler.span(self.from_cm, self.to_cm)

    def dragged(self, outline: Outline, x_cm: float, y_cm: float) -> Self:
        return self._slid(outline, y_cm)

    def nudged(self, outline: Outline, toward: Toward, by_cm: float) -> Self:
        return self._slid(outline, (self.from_cm + self.to_cm) / 2 + by_cm * toward.along)

    def _slid(self, outline: Outline, centre_cm: float) -> Self:
        half = (self.to_cm - self.from_cm) / 2
        centre = min(max(centre_cm, half), max(outline.handle_length_cm - half, half))
        start = round(centre - half, 2)
        return replace(self, from_cm=start, to_cm=round(start + 2 * half, 2))

    def at_height(self, outline: Outline, y_cm: float) -> Self:
        half = (self.to_cm - self.from_cm) / 2
        start = y_cm - half
        return replace(self, from_cm=round(start, 3), to_cm=round(start + 2 * half, 3))

    def with_length(self, length_cm: float) -> Self:
        middle = (self.from_cm + self.to_cm) / 2
        return replace(self, from_cm=middle - length_cm / 2, to_cm=middle + length_cm / 2)

    def with_mass(self, mass_g: float) -> Self:
        return replace(self, mass_g=self.mass_g._replace(value=mass_g))


@dataclass(frozen=True, kw_only=True)
class Sleeve(_Span):
    """A thin layer round the handle, at ``radius_cm``; strips of tape lie on its flat or its corner bevels."""

    mean_zz = 1 / 2
    mean_xz = 1.0
    radius_cm: float = HANDLE_RADIUS_CM
    on_corners: bool = False

    @property
    def goes_round_handle(self) -> bool:
        return True

    def where(self, outline: Outline, ruler: Ruler) -> str:
        is_whole = self.from_cm == 0 and self.to_cm >= outline.handle_length_cm
        return "round the handle" if is_whole else f"along the handle, on its {self.bevels}"

    @property
    def bevels(self) -> str:
        return "corner bevels" if self.on_corners else "flat bevels"

    def cover(self, outline: Outline) -> Cover:
        return Cover.GRIP

    def tape_lengths(self, g_per_cm: float) -> list[float]:
        """Strips side by side along the handle, as many as it takes, each length in cm."""
        total = self.total_mass_g / g_per_cm
        count = max(math.ceil(total / self.extent_cm - _FITS_CM), 1)
        return [round(total / count, 3)] * count


@dataclass(frozen=True, kw_only=True)
class Plug(_Span):
    """A full cylinder in the handle's cavity."""

    mean_zz = 1 / 4
    mean_xz = 1 / 2
    radius_cm: float = CAVITY_RADIUS_CM

    @property
    def fills_cavity(self) -> bool:
        return self.to_cm > CAP_DEPTH_CM

    def where(self, outline: Outline, ruler: Ruler) -> str:
        return "in the cavity" if self.fills_cavity else "inside the butt cap"

    def cover(self, outline: Outline) -> Cover:
        return Cover.CAP

    def grown(self, outline: Outline, steps: int) -> Piece:
        """Heavier by so many steps; of the same stuff, so it grows in length from where it starts."""
        heavier = super().grown(outline, steps)
        length = self.extent_cm * (heavier.one_mass_g / self.one_mass_g)
        return heavier.with_field("to_cm", round(self.from_cm + length, 2))

    def inside_cap(self) -> Plug:
        """The same weight inside the butt cap."""
        return replace(self, from_cm=0.3, to_cm=CAP_DEPTH_CM - 0.2, radius_cm=CAP_RADIUS_CM)


def _require_span(from_cm: float, to_cm: float, radius_cm: float) -> None:
    if not to_cm > from_cm:
        raise PieceError(
            f"The piece must end farther from the butt than it starts, not from {from_cm:g} to {to_cm:g} cm.",
            code="empty_span",
            field="to_cm",
        )
    if not 0 < radius_cm <= LARGEST_RADIUS_CM:
        raise PieceError(
            f"The radius must be above 0 and at most {LARGEST_RADIUS_CM:g} cm.",
            code="impossible_radius",
            field="radius_cm",
        )
