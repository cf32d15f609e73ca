"""A compact piece: it lies at one place, on the rim, a shaft or the long axis; alone or as a pair."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import ClassVar, Final, Self

from kentrobar.core.body.moments import Moments
from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.anatomy import ON_AXIS_CM, ON_RIM_CM, SHAFT_WIDTH_CM
from kentrobar.core.frame.clock import clock_text
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.places import Toward, along_rim, nearest_on_rim
from kentrobar.core.frame.rim import Face, RimPoint
from kentrobar.core.frame.silhouette import Path, box
from kentrobar.core.frame.sites import region_at, shaft_at
from kentrobar.core.quantities.estimates import Estimate, covariance_of
from kentrobar.core.quantities.units import Ruler
from kentrobar.core.weight.pieces.effects import Effect, scaled
from kentrobar.core.weight.pieces.piece import PLACE_U_CM, Cover, Piece, Room, require_mass

DRAWN_WIDTH_CM: Final = 0.64
DRAWN_HALF_LENGTH_CM: Final = 0.5


@dataclass(frozen=True, kw_only=True)
class PointPiece(Piece):
    """A compact piece. Mirrored means one at +x and one at -x, ``mass_g`` each."""

    can_be_pair: ClassVar[bool] = True

    mass_g: Estimate
    y_cm: float
    x_cm: float = 0.0
    z_cm: float = 0.0
    mirrored: bool = False

    def __post_init__(self) -> None:
        require_mass(self.mass_g.value)

    @property
    def sides(self) -> int:
        return 2 if self.mirrored else 1

    @property
    def one_mass_g(self) -> float:
        return self.mass_g.value

    def sure_but_for_place(self) -> Self:
        return replace(self, mass_g=self.mass_g._replace(u=0.0))

    def body(self, outline: Outline | None) -> Effect:
        m, u = self.mass_g.value, self.mass_g.u
        x, y, z = self.x_cm, self.y_cm, self.z_cm
        per_gram = (1.0, y, y * y + z * z, x * x + z * z, x)
        along = (0.0, m * PLACE_U_CM, 2 * m * y * PLACE_U_CM, 0.0, 0.0)
        own = [scaled(per_gram, u), along]
        if x:
            own.append((0.0, 0.0, 0.0, 2 * m * x * PLACE_U_CM, m * PLACE_U_CM))
        return Effect(Moments(*scaled(per_gram, m)), covariance_of(own), {})

    def one_product_gcm2(self, outline: Outline | None) -> float:
        return self.mass_g.value * self.x_cm * self.y_cm

    # -- where it lies ------------------------------------------------------------------

    def ends(self, outline: Outline) -> tuple[float, float]:
        return self.y_cm, self.y_cm

    def require_within(self, room: Room) -> None:
        half, deep = room.width_cm / 2, room.depth_cm / 2
        room.require("y_cm", self.y_cm, 0.0, room.length_cm, "it")
        room.require("x_cm", self.x_cm, -half, half, "its width")
        room.require("z_cm", self.z_cm, -deep, deep, "its depth")

    def anchor(self, outline: Outline) -> RimPoint:
        return RimPoint(self.x_cm, self.y_cm)

    def shape(self, outline: Outline) -> Path:
        low, high = self.y_cm - DRAWN_HALF_LENGTH_CM, self.y_cm + DRAWN_HALF_LENGTH_CM
        return box(self.x_cm, low, high, DRAWN_WIDTH_CM / 2)

    def where(self, outline: Outline, ruler: Ruler) -> str:
        side = "left" if self.x_cm < 0 else "right"
        shaft = shaft_at(outline, self.y_cm)
        if shaft is not None and abs(abs(self.x_cm) - shaft) < SHAFT_WIDTH_CM:
            return "on both shafts" if self.mirrored else f"on the {side} shaft"
        s, distance = nearest_on_rim(outline, Face.OUTER, self.x_cm, self.y_cm)
        if distance <= ON_RIM_CM:
            return self._on_rim(outline, s, side)
        if abs(self.x_cm) >= ON_AXIS_CM:
            return "on both sides" if self.mirrored else f"on the {side}"
        return "in the handle" if self.is_on_handle(outline) else "on the long axis"

    def _on_rim(self, outline: Outline, s: float, side: str) -> str:
        if outline.sport is Sport.TENNIS:
            sides = ", both sides" if self.mirrored else ""
            return f"on the rim at {clock_text(outline.rim(Face.OUTER).clock_at(s))}{sides}"
        return f"{region_at(outline, s)}, {'both sides' if self.mirrored else side}"

    def is_on_handle(self, outline: Outline) -> bool:
        """Whether it lies where the hand holds the frame."""
        return self.y_cm <= outline.handle_length_cm

    def place(self, outline: Outline, ruler: Ruler) -> str:
        return ruler.text(self.y_cm)

    def cover(self, outline: Outline) -> Cover:
        return Cover.GRIP if self.is_on_handle(outline) else Cover.NONE

    def shows(self, outline: Outline, *, at_skin: bool) -> bool:
        return not self.is_on_handle(outline)

    # -- what a hand does -----------------------------------------------------------------

    def dragged(self, outline: Outline, x_cm: float, y_cm: float) -> PointPiece:
        shaft = shaft_at(outline, y_cm)
        beside_shaft = math.inf if shaft is None else abs(abs(x_cm) - shaft)
        s, beside_rim = nearest_on_rim(outline, Face.OUTER, x_cm, y_cm)
        if y_cm > outline.handle_length_cm and beside_rim <= beside_shaft:
            return self._at_rim_point(outline.rim(Face.OUTER).point(s))
        x = self.x_cm if shaft is None else math.copysign(shaft, x_cm)
        return replace(self, x_cm=x)._on_shaft_or_axis(outline, y_cm)

    def nudged(self, outline: Outline, toward: Toward, by_cm: float) -> PointPiece:
        line = outline.rim(Face.OUTER)
        s, distance = nearest_on_rim(outline, Face.OUTER, self.x_cm, self.y_cm)
        if distance <= ON_RIM_CM:
            return self._at_rim_point(line.point(along_rim(line, s, toward, by_cm)))
        return self._on_shaft_or_axis(outline, self.y_cm + by_cm * toward.along)

    def _at_rim_point(self, point: RimPoint) -> PointPiece:
        return replace(self, x_cm=round(point.x, 2), y_cm=round(point.y, 2))

    def _on_shaft_or_axis(self, outline: Outline, y_cm: float) -> PointPiece:
        """A piece on the shafts follows them; in the handle it lies on the long axis."""
        y = round(min(max(y_cm, 0.0), outline.length_cm), 2)
        shaft = shaft_at(outline, y)
        if y <= outline.handle_length_cm:
            return replace(self, y_cm=y, x_cm=0.0)
        if shaft is None or not self.x_cm:
            return replace(self, y_cm=y)
        return replace(self, y_cm=y, x_cm=round(math.copysign(shaft, self.x_cm), 2))

    def mirror_toggled(self) -> Self:
        return replace(self, mirrored=not self.mirrored)

    def at_height(self, outline: Outline, y_cm: float) -> PointPiece:
        return replace(self, y_cm=y_cm)

    def with_mass(self, mass_g: float) -> PointPiece:
        return replace(self, mass_g=self.mass_g._replace(value=mass_g))
