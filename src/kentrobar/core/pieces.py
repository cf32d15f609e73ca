"""Pieces of weight: what they add to the moments of a frame, and how surely.

Each piece answers with an ``Effect``: its moments, and their covariance from what is unknown about
it alone (mass, length, place). Unknowns that several pieces share (the density of one roll) stand
apart under a key, as what one standard deviation does, so that they add up before they are squared.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from operator import mul
from typing import ClassVar, Final, NamedTuple

from kentrobar.core.errors import PieceError
from kentrobar.core.estimates import NOT_MEASURED, Estimate, Quantity
from kentrobar.core.moments import Moments
from kentrobar.core.outline import CLOCK_MINUTES, Face, Outline, RimLine, Sport, clock_text
from kentrobar.core.specs import PAIRS, Covariance, Vector, covariance_of
from kentrobar.core.strings import string_moments

# Standard uncertainties of careful bench work, taken where none is stated.
CUT_LENGTH_U_CM: Final = 0.1
DENSITY_U_RELATIVE: Final = 0.02
PLACE_U_CM: Final = 0.2
WEIGHED_U_G: Final = 0.05

HEAVIEST_PIECE_G: Final = 200.0
MOST_LAYERS: Final = 6
_TIP, _BRIDGE = 0.0, CLOCK_MINUTES / 2
_ON_CENTRE_LINE_MIN = 0.01
# Factors of the covariances of a body with its mirror image: those of X with the rest cancel.
_WITH_IMAGE: Final = tuple(0.0 if (i == 4) != (j == 4) else 2.0 for i, j in PAIRS)


class Effect(NamedTuple):
    """What a body adds: moments, their covariance, and the deviations shared by key."""

    moments: Moments
    covariance: Covariance
    shared: dict[str, Vector]
    overlaps: bool = False  # the two strips of a mirrored pair lie on each other


class Stretch(NamedTuple):
    """A stretch of a rim line by arc length, ``start`` ≤ ``end``, cm."""

    start: float
    end: float


class ClockPlace(NamedTuple):
    """A place on the rim by clock position, in minutes of the 12-hour face."""

    minutes: float

    def arc_length(self, line: RimLine) -> float:
        return line.at_clock(self.minutes)

    def __str__(self) -> str:
        return clock_text(self.minutes)


class HeightPlace(NamedTuple):
    """A place on the right side of the rim by its distance from the butt."""

    y_cm: float

    def arc_length(self, line: RimLine) -> float:
        return line.at_y(self.y_cm)

    def __str__(self) -> str:
        return f"{self.y_cm:.1f} cm"


RimPlace = ClockPlace | HeightPlace


@dataclass(frozen=True, kw_only=True)
class _Piece:
    label: str = ""
    material: str = ""
    removed: bool = False


@dataclass(frozen=True, kw_only=True)
class PointPiece(_Piece):
    """A compact piece. Mirrored means one at +x and one at -x, ``mass_g`` each."""

    mass_g: Estimate
    y_cm: float
    x_cm: float = 0.0
    z_cm: float = 0.0
    mirrored: bool = False

    def __post_init__(self) -> None:
        _require_mass(self.mass_g)

    def body(self, outline: Outline | None) -> Effect:
        m, u = self.mass_g.value, self.mass_g.u
        x, y, z = self.x_cm, self.y_cm, self.z_cm
        per_gram = (1.0, y, y * y + z * z, x * x + z * z, x)
        along = (0.0, m * PLACE_U_CM, 2 * m * y * PLACE_U_CM, 0.0, 0.0)
        own = [_scaled(per_gram, u), along]
        if x:
            own.append((0.0, 0.0, 0.0, 2 * m * x * PLACE_U_CM, m * PLACE_U_CM))
        return Effect(Moments(*_scaled(per_gram, m)), covariance_of(own), {})


@dataclass(frozen=True, kw_only=True)
class RimStrip(_Piece):
    """A strip along the rim, centred on its place; length and mass are of *one* strip.

    Give either ``g_per_cm`` or ``mass_g``. ``both_faces`` lays a second strip on the other side of
    the string row (z < 0); ``layers`` lie on each other, cut and laid apart. Mirrored strips at
    12:00 or 6:00 start at the centre line, or ``gap_cm`` from it, instead of being centred there.
    """

    at: RimPlace
    length_cm: Estimate
    g_per_cm: Quantity = NOT_MEASURED
    mass_g: Quantity = NOT_MEASURED
    face: Face = Face.INNER
    mirrored: bool = False
    both_faces: bool = False
    gap_cm: float = 0.0
    layers: int = 1

    def __post_init__(self) -> None:
        if not 1 <= self.layers <= MOST_LAYERS:
            raise PieceError(
                f"A strip has 1 to {MOST_LAYERS} layers; more no longer hold on each other.",
                code="too_many_layers",
                field="layers",
            )
        if not self.length_cm.value > 0:
            raise PieceError("A strip needs a length above 0.", code="no_length", field="length_cm")
        if isinstance(self.g_per_cm, Estimate) == isinstance(self.mass_g, Estimate):
            raise PieceError(
                "Give a strip either its weight per length or its weight, not both.",
                code="weight_twice",
                field="g_per_cm",
            )
        if isinstance(self.g_per_cm, Estimate) and not self.g_per_cm.value > 0:
            raise PieceError(
                "Weight per length must be above 0.", code="no_density", field="g_per_cm"
            )
        if self.gap_cm < 0:
            raise PieceError("A gap cannot be negative.", code="negative_gap", field="gap_cm")
        _require_mass(Estimate(self.strip_mass_g))

    @property
    def at_each_side(self) -> int:
        """How many strips lie at one place: layers, on one face or both."""
        return self.layers * (1 + self.both_faces)

    @property
    def strip_mass_g(self) -> float:
        """Mass of one strip, g."""
        if isinstance(self.mass_g, Estimate):
            return self.mass_g.value
        assert isinstance(self.g_per_cm, Estimate)  # noqa: S101 - held by __post_init__
        return self.g_per_cm.value * self.length_cm.value

    def stretch(self, line: RimLine) -> Stretch:
        """Where the strip lies on its line (the right one of a mirrored pair)."""
        length = self.length_cm.value
        if self.mirrored and isinstance(self.at, ClockPlace):
            minutes = self.at.minutes % CLOCK_MINUTES
            if min(minutes, CLOCK_MINUTES - minutes) < _ON_CENTRE_LINE_MIN:
                return Stretch(self.gap_cm, self.gap_cm + length)
            if abs(minutes - _BRIDGE) < _ON_CENTRE_LINE_MIN and line.closed:
                end = line.half_length - self.gap_cm
                return Stretch(end - length, end)
        centre = self.at.arc_length(line)
        return Stretch(centre - length / 2, centre + length / 2)

    def _overlaps_its_image(self, line: RimLine, stretch: Stretch) -> bool:
        """Whether the two strips of a mirrored pair would lie on each other."""
        if not self.mirrored:
            return False
        start, end = stretch
        over_tip = start < -1e-9 < 1e-9 < end
        farthest = max(-start, end)
        return over_tip or (line.closed and farthest > line.half_length + 1e-9)

    def body(self, outline: Outline | None) -> Effect:
        line, z = self._line_and_height(outline)
        stretch = self.stretch(line)
        start, end = stretch
        length, y, yy, xx, x = line.sums(start, end)
        zz = z * z
        m = self.strip_mass_g
        density = m / length
        moments = Moments(m, density * y, density * yy + m * zz, density * xx + m * zz, density * x)
        first, last = _per_gram(line, start, zz), _per_gram(line, end, zz)
        own = [_combined(first, -density * PLACE_U_CM, last, density * PLACE_U_CM)]
        shared: dict[str, Vector] = {}
        half = 0.5 * density * self.length_cm.u
        longer = _combined(first, half, last, half)
        if isinstance(self.g_per_cm, Estimate):
            own.append(longer)
            spread = _scaled(moments, self.g_per_cm.u / self.g_per_cm.value)
            if self.material:
                shared[self.material] = spread
            else:
                own.append(spread)
        else:
            assert isinstance(self.mass_g, Estimate)  # noqa: S101 - held by __post_init__
            thinner = -self.length_cm.u / length  # the same mass over a greater length
            own.append(_combined(longer, 1.0, moments, thinner))
            own.append(_scaled(moments, self.mass_g.u / m))
        overlaps = self._overlaps_its_image(line, stretch)
        return Effect(moments, covariance_of(own), shared, overlaps)

    def _line_and_height(self, outline: Outline | None) -> tuple[RimLine, float]:
        if outline is None:
            raise PieceError(
                "A strip on the rim needs the frame's outline; give the outline, or lay the "
                "piece as a point with its own x and y.",
                code="no_outline",
                field="outline",
            )
        line = outline.rim(self.face)
        return line, outline.face_heights_cm[self.face]


@dataclass(frozen=True, kw_only=True)
class _Span(_Piece):
    """A body of even density along the handle, between two distances from the butt."""

    # Mean z² and mean x² + z² of the cross-section, in units of the radius squared.
    mean_zz: ClassVar[float]
    mean_xz: ClassVar[float]

    mass_g: Estimate
    from_cm: float
    to_cm: float
    radius_cm: float

    def __post_init__(self) -> None:
        _require_mass(self.mass_g)
        _require_span(self.from_cm, self.to_cm, self.radius_cm)

    def body(self, outline: Outline | None) -> Effect:
        m, rr = self.mass_g.value, self.radius_cm**2
        centre, length = (self.from_cm + self.to_cm) / 2, self.to_cm - self.from_cm
        yz = centre**2 + length**2 / 12 + self.mean_zz * rr
        per_gram = (1.0, centre, yz, self.mean_xz * rr, 0.0)
        along = (0.0, m * PLACE_U_CM, 2 * m * centre * PLACE_U_CM, 0.0, 0.0)
        own = [_scaled(per_gram, self.mass_g.u), along]
        return Effect(Moments(*_scaled(per_gram, m)), covariance_of(own), {})


@dataclass(frozen=True, kw_only=True)
class Sleeve(_Span):
    """A thin layer round the handle, at ``radius_cm``."""

    mean_zz = 1 / 2
    mean_xz = 1.0
    radius_cm: float = 1.6


@dataclass(frozen=True, kw_only=True)
class Plug(_Span):
    """A full cylinder in the handle's cavity."""

    mean_zz = 1 / 4
    mean_xz = 1 / 2
    radius_cm: float = 1.0


@dataclass(frozen=True, kw_only=True)
class StringBed(_Piece):
    """Strings over a racket's opening, of even mass per length.

    With ``mains`` and ``crosses`` each string is summed for itself; without, the strings are an
    even ellipse: A = m(c² + a²/4), T = m·b²/4 for half axes a along and b across.
    """

    mass_g: Estimate
    mains: int = 0
    crosses: int = 0

    def __post_init__(self) -> None:
        _require_mass(self.mass_g)

    def body(self, outline: Outline | None) -> Effect:
        if outline is None or outline.sport is not Sport.TENNIS:
            raise PieceError(
                "Strings need the outline of a racket.", code="no_outline", field="outline"
            )
        per_gram = string_moments(outline, self.mains, self.crosses)
        m = self.mass_g.value
        along = (0.0, m * PLACE_U_CM, 2 * m * per_gram[1] * PLACE_U_CM, 0.0, 0.0)
        own = [_scaled(per_gram, self.mass_g.u), along]
        return Effect(Moments(*_scaled(per_gram, m)), covariance_of(own), {})


Piece = PointPiece | RimStrip | Sleeve | Plug | StringBed


@lru_cache(maxsize=8192)  # while one piece is dragged, the others stay as they were
def effect_of(piece: Piece, outline: Outline | None) -> Effect:
    """What a piece adds to a frame; a removed piece takes the same away.

    Raises:
        PieceError: a rim strip without an outline.
        OutlineError: a place that is not on the rim, a strip longer than the rim.
    """
    effect = piece.body(outline)
    if isinstance(piece, RimStrip) and piece.at_each_side > 1:
        effect = _several(effect, piece.at_each_side)
    if isinstance(piece, RimStrip | PointPiece) and piece.mirrored:
        effect = _with_image(effect)
    return _taken_away(effect) if piece.removed else effect


def _several(effect: Effect, count: int) -> Effect:
    """So many such bodies, cut and laid apart: variances add up, shared deviations too."""
    return effect._replace(
        moments=effect.moments.times(count),
        covariance=tuple([count * c for c in effect.covariance]),
        shared={key: _scaled(vector, count) for key, vector in effect.shared.items()},
    )


def _with_image(effect: Effect) -> Effect:
    """The body with its mirror image: all doubles but what goes with X, which cancels."""
    moments, covariance, shared, overlaps = effect
    return Effect(
        Moments(2 * moments[0], 2 * moments[1], 2 * moments[2], 2 * moments[3], 0.0),
        tuple(map(mul, covariance, _WITH_IMAGE)),
        {key: (2 * m, 2 * s, 2 * a, 2 * t, 0.0) for key, (m, s, a, t, _) in shared.items()},
        overlaps,
    )


def _taken_away(effect: Effect) -> Effect:
    return effect._replace(
        moments=effect.moments.times(-1.0),
        shared={key: _scaled(vector, -1.0) for key, vector in effect.shared.items()},
    )


def total_mass_g(piece: Piece) -> float:
    """Mass of all strips or bodies of a piece together, g, whether added or removed."""
    if isinstance(piece, RimStrip):
        return piece.strip_mass_g * count_of(piece)
    if isinstance(piece, PointPiece):
        return piece.mass_g.value * (1 + piece.mirrored)
    return piece.mass_g.value


def count_of(piece: Piece) -> int:
    """How many strips or bodies a piece is made of: both sides, both faces, layers."""
    sides = 1 + getattr(piece, "mirrored", False)
    return sides * piece.at_each_side if isinstance(piece, RimStrip) else sides


# -- helpers --------------------------------------------------------------------------


def _require_mass(mass_g: Estimate) -> None:
    if not 0 < mass_g.value <= HEAVIEST_PIECE_G:
        raise PieceError(
            f"A piece weighs more than 0 and at most {HEAVIEST_PIECE_G:.0f} g, not "
            f"{mass_g.value:g} g; to take weight away, mark the piece as removed.",
            code="impossible_mass",
            field="mass_g",
        )


def _require_span(from_cm: float, to_cm: float, radius_cm: float) -> None:
    if not to_cm > from_cm:
        raise PieceError(
            f"The piece must end farther from the butt than it starts, not from {from_cm:g} to "
            f"{to_cm:g} cm.",
            code="empty_span",
            field="to_cm",
        )
    if not 0 < radius_cm <= 5:
        raise PieceError(
            "The radius must be above 0 and at most 5 cm.",
            code="impossible_radius",
            field="radius_cm",
        )


def _per_gram(line: RimLine, s: float, zz: float) -> Vector:
    x, y = line.point(s)
    return (1.0, y, y * y + zz, x * x + zz, x)


def _scaled(v: Vector | Moments, factor: float) -> Vector:
    a, b, c, d, e = v
    return (a * factor, b * factor, c * factor, d * factor, e * factor)


def _combined(v: Vector | Moments, f: float, w: Vector | Moments, g: float) -> Vector:
    return (
        v[0] * f + w[0] * g,
        v[1] * f + w[1] * g,
        v[2] * f + w[2] * g,
        v[3] * f + w[3] * g,
        v[4] * f + w[4] * g,
    )
