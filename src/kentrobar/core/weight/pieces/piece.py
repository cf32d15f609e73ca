"""What every kind of piece answers: what it adds, where it lies, how it looks, what a hand may do with it."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Hashable, Iterable
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import lru_cache
from typing import TYPE_CHECKING, ClassVar, Final, NamedTuple, Self

from kentrobar.core.body.limits import WIDEST_CM
from kentrobar.core.frame.anatomy import HANDLE_SHARE, THICKEST_CM
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.places import RimStretch, Toward
from kentrobar.core.frame.rim import RimPoint
from kentrobar.core.frame.silhouette import Path
from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate, Quantity
from kentrobar.core.quantities.units import Ruler
from kentrobar.core.weight.pieces.effects import Effect

if TYPE_CHECKING:
    from kentrobar.core.weight.pieces.strip import RimStrip

# Standard uncertainties of careful bench work, taken where none is stated.
CUT_LENGTH_U_CM: Final = 0.1
DENSITY_U_RELATIVE: Final = 0.02
PLACE_U_CM: Final = 0.2
WEIGHED_U_G: Final = 0.05

HEAVIEST_PIECE_G: Final = 200.0
LIGHTEST_G: Final = 0.1  # what a hand makes smaller stops there
MASS_STEP_G: Final = 0.1


class Cover(StrEnum):
    """What must come off the frame to reach a piece's place."""

    NONE = ""
    BUMPER = "bumper"
    STRINGS = "strings"
    GRIP = "grip"
    CAP = "cap"


class RemovalKind(StrEnum):
    """What is done to a fitting that a piece changes."""

    NONE = ""
    OFF = "off"
    TRIM = "trim"
    CUT = "cut"
    EXCHANGE = "exchange"

    @property
    def is_cut(self) -> bool:
        """Whether a part of the fitting is cut off, while the rest stays."""
        return self in (RemovalKind.TRIM, RemovalKind.CUT)


class Source(NamedTuple):
    """What a piece comes from, by key: a material of the shelf, or a fitting it is the taking away of.

    Where that makes way for another, ``accessory`` is the other one's key, 0 where it is none of the shop's.
    """

    stock: int = 0
    fitting: int = 0
    accessory: int = 0
    deed: RemovalKind = RemovalKind.NONE


NO_SOURCE: Final = Source()
SLACK_CM: Final = 1.0  # by which a piece may reach beyond what was measured of a frame


class Room(NamedTuple):
    """How far a piece can reach on a frame, cm: its length, width, depth and the top of its handle."""

    length_cm: float
    width_cm: float
    depth_cm: float
    handle_cm: float

    @classmethod
    def of(cls, length_cm: float, outline: Outline | None) -> Room:
        """The room on a frame; where nobody gave its outline, that of the largest of its length."""
        if outline is None:
            return cls(length_cm, WIDEST_CM, THICKEST_CM, HANDLE_SHARE * length_cm)
        d = outline.dimensions
        return cls(length_cm, d.width_cm, d.depth_cm, outline.handle_length_cm)

    def require(self, field: str, value: float, low: float, high: float, what: str) -> None:
        """Refuse a value beyond ``low`` to ``high``, with some slack. Raises PieceError."""
        if not low - SLACK_CM <= value <= high + SLACK_CM:
            raise PieceError(
                f"{value:g} cm lies off the frame; {what} reaches from {low:.1f} to {high:.1f} cm.",
                code="off_frame",
                field=field,
            )


@dataclass(frozen=True, kw_only=True)
class Piece(ABC):
    """A piece of weight on a frame, or taken off it. Immutable; every change is a new piece.

    ``source`` tells by key what it comes from. Pieces of one roll, or cut off one fitting, err together;
    where neither is named the material's name stands for it.
    """

    is_strip: ClassVar[bool] = False  # cut to length and stuck along the rim
    can_be_pair: ClassVar[bool] = False  # whether it may lie on both sides
    is_line: ClassVar[bool] = False  # drawn as an open line rather than a closed shape
    has_place: ClassVar[bool] = True  # whether a hand may choose where it lies

    label: str = ""
    material: str = ""
    removed: bool = False
    source: Source = NO_SOURCE

    # -- what it adds -------------------------------------------------------------------

    @abstractmethod
    def body(self, outline: Outline | None) -> Effect:
        """What one of its bodies adds, on the right side. Raises PieceError, OutlineError."""

    def sure_but_for_place(self) -> Self:
        """The same with its weight and length told surely: what is left unsure is where it lies.

        A kind that cannot tell them apart counts all of it as its place.
        """
        return self

    def effect(self, outline: Outline | None) -> Effect:
        """What all of it adds; computed anew. Raises as :meth:`body`."""
        effect = self.body(outline)
        if self.at_each_side > 1:
            effect = effect.several(self.at_each_side)
        if self.sides > 1:
            effect = effect.with_image()
        effect = effect.settled()
        return effect.taken_away() if self.removed else effect

    @property
    @abstractmethod
    def one_mass_g(self) -> float:
        """Mass of one strip or body, g."""

    @property
    def total_mass_g(self) -> float:
        """Mass of all strips or bodies together, g, whether added or removed."""
        return self.one_mass_g * self.count

    @property
    def sides(self) -> int:
        """On how many sides of the long axis it lies: 2 for a mirrored pair."""
        return 1

    @property
    def at_each_side(self) -> int:
        """How many strips lie on each other or on both faces at one place."""
        return 1

    @property
    def count(self) -> int:
        """How many strips or bodies it is made of: both sides, both faces, layers."""
        return self.sides * self.at_each_side

    @property
    def shared_key(self) -> Hashable:
        """Under which its density's error is shared; empty: with nothing."""
        whole = self.source._replace(deed=RemovalKind.NONE)
        return whole if any(whole) else self.material

    @property
    def name(self) -> str:
        """What it is called in a sentence about it."""
        return self.label or self.material or "A piece"

    def one_product_gcm2(self, outline: Outline | None) -> float:
        """∫xy dm of one of its bodies, g·cm²; 0 for what lies on the long axis or evenly about it."""
        return 0.0

    # -- where it lies ------------------------------------------------------------------

    @property
    def as_strip(self) -> RimStrip | None:
        """Itself where it is a strip along the rim, whose rules are its own."""
        return None

    @property
    def extent_cm(self) -> float:
        """Its length along its line, cm; 0 for what is compact."""
        return 0.0

    def longest_cm(self, outline: Outline) -> float:
        """How long it could be at most, cm; 0 for what is compact."""
        return 0.0

    @property
    def bevels(self) -> str:
        """On which bevels of the handle its strips lie; empty for what lies on none."""
        return ""

    @property
    def is_by_length(self) -> bool:
        """Whether it is made heavier and lighter by cutting it: its weight per length is known."""
        return False

    @property
    def face_name(self) -> str:
        """The key of the rim's face that it is on; empty for what is not on the rim."""
        return ""

    def stretches_on_rim(self, outline: Outline) -> list[RimStretch]:
        """Where on its face's line it is, a stretch a strip, by arc length; none off the rim."""
        return []

    @property
    def fills_cavity(self) -> bool:
        """Whether it reaches into the handle's cavity, above the butt cap."""
        return False

    def inside_cap(self) -> Piece:
        """The same weight inside the butt cap; itself where it does not go there."""
        return self

    @property
    def goes_round_handle(self) -> bool:
        """Whether it lies round the handle, under the grip or as one."""
        return False

    @abstractmethod
    def ends(self, outline: Outline) -> tuple[float, float]:
        """Distances from the butt at which it starts and ends, cm; the same for what is compact."""

    def require_within(self, room: Room) -> None:  # noqa: B027 - most kinds have no say in it
        """Refuse a place off the frame, as a file may claim one; a hand is kept on it anyway.

        What follows the rim or fills the head cannot be off it.

        Raises:
            PieceError: ``field`` names what to fix.
        """

    @abstractmethod
    def anchor(self, outline: Outline) -> RimPoint:
        """The point that a hand holds it by, on the frame's own axes, cm."""

    @abstractmethod
    def shape(self, outline: Outline) -> Path:
        """Where its right-hand body is drawn: an open line along the rim, a closed box elsewhere, cm."""

    def paths(self, outline: Outline) -> list[Path]:
        """All of its shapes, one a body side, cm."""
        right = self.shape(outline)
        return [right, [RimPoint(-x, y) for x, y in right]] if self.sides > 1 else [right]

    @abstractmethod
    def where(self, outline: Outline, ruler: Ruler) -> str:
        """Where it lies, in the field's words."""

    def along_rim(self, outline: Outline, ruler: Ruler) -> str:
        """Where it is by a ruler laid along its face of the rim from 12, or a paddle's centre line; else empty."""
        return ""

    @abstractmethod
    def place(self, outline: Outline, ruler: Ruler) -> str:
        """Where it lies in numbers: 2:31 · 56.30 cm, or 1.80 cm, from the butt."""

    @abstractmethod
    def cover(self, outline: Outline) -> Cover:
        """What must come off to reach it."""

    def shows(self, outline: Outline, *, at_skin: bool) -> bool:
        """Whether it is in sight on the finished frame; ``at_skin``: it is made to be touched."""
        return at_skin

    def tape_lengths(self, g_per_cm: float) -> list[float]:
        """The strips it is cut as where it is of tape of this density, each length in cm."""
        return [round(self.total_mass_g / g_per_cm / self.count, 3)] * self.count

    # -- what a hand does -----------------------------------------------------------------

    @abstractmethod
    def dragged(self, outline: Outline, x_cm: float, y_cm: float) -> Piece:
        """The piece where a hand at (x, y) puts it: the nearest place it can lie at."""

    @abstractmethod
    def nudged(self, outline: Outline, toward: Toward, by_cm: float) -> Piece:
        """The piece ``by_cm`` (≥ 0) farther toward one side, along its line; stops at the frame's end.

        A direction that lies across that line moves nothing.
        """

    def grown(self, outline: Outline, steps: int) -> Piece:
        """The piece larger by so many of its steps: 1 mm of a strip, 0.1 g of the rest."""
        heavier = max(self.one_mass_g + steps * MASS_STEP_G, LIGHTEST_G)
        return self.with_mass(round(heavier, 2))

    def alone(self) -> Self:
        """The piece on one side only."""
        return self.mirror_toggled() if self.sides > 1 else self

    def mirror_toggled(self) -> Self:
        """The piece on both sides instead of one, or the other way round; itself where it cannot."""
        return self

    @abstractmethod
    def at_height(self, outline: Outline, y_cm: float) -> Piece:
        """The piece with its middle at this distance from the butt. Raises PieceError, OutlineError."""

    @abstractmethod
    def with_mass(self, mass_g: float) -> Piece:
        """One body of it made so heavy, g. Raises PieceError for what cannot weigh so much."""

    def with_length(self, length_cm: float) -> Piece:
        """The piece so long, cm. Raises PieceError for what has no length."""
        raise PieceError("A compact piece has no length; change its weight.", code="no_length")

    def with_density(self, g_per_cm: Estimate) -> Piece:
        """The piece of tape of another density; itself where it is not told by one."""
        return self

    def rounded(self, step_cm: float) -> Piece:
        """The piece with its length on the cutting step; itself where it is not cut to length."""
        return self

    def with_field(self, field: str, value: object) -> Self:
        """The piece with one more of its own fields changed (layers, a face, a side).

        Raises:
            PieceError: it has no such field.
        """
        if field not in self.__dataclass_fields__:
            raise PieceError("This piece has nothing of the kind; reload the page.", code="no_field")
        changes: dict[str, object] = {field: value}
        return replace(self, **changes)  # type: ignore[arg-type]

    def overlap_sentence(self) -> str:
        """What is wrong with a pair whose strips lie on each other."""
        return (
            f"{self.name}: the left and the right strip overlap on the centre line; shorten "
            "them or move them apart."
        )

    @property
    def density(self) -> Quantity:
        """Weight per length, g/cm, where it is told by that."""
        return NOT_MEASURED


def require_mass(mass_g: float) -> None:
    """Refuse what no piece weighs."""
    if not 0 < mass_g <= HEAVIEST_PIECE_G:
        raise PieceError(
            f"A piece weighs more than 0 and at most {HEAVIEST_PIECE_G:.0f} g, not {mass_g:g} g; to take "
            "weight away, mark the piece as removed.",
            code="impossible_mass",
            field="mass_g",
        )


def product_of_inertia_gcm2(pieces: Iterable[Piece], outline: Outline | None) -> float:
    """∫xy dm of all pieces, g·cm²: what lies evenly on both sides adds nothing.

    Raises:
        PieceError, OutlineError: a strip without an outline, or off the rim.
    """
    return sum(
        (-1 if piece.removed else 1) * piece.at_each_side * piece.one_product_gcm2(outline)
        for piece in pieces
        if piece.sides == 1
    )


def effect_of(piece: Piece, outline: Outline | None) -> Effect:
    """What a piece adds to a frame; a removed piece takes the same away.

    Raises:
        PieceError: a rim strip without an outline.
        OutlineError: a place that is not on the rim, a strip longer than the rim.
    """
    # While one piece is dragged the others stay the very same; looking one up by value costs a hash.
    known: tuple[Outline | None, Effect] | None = piece.__dict__.get("_known")
    if known is not None and known[0] is outline:
        return known[1]
    effect = _effect_by_value(piece, outline)
    piece.__dict__["_known"] = (outline, effect)
    return effect


@lru_cache(maxsize=8192)  # a request reads its pieces anew, with the same values
def _effect_by_value(piece: Piece, outline: Outline | None) -> Effect:
    return piece.effect(outline)
