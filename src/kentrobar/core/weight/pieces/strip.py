"""A strip along the rim: on the inner or outer face, or under the bumper; on one side or both."""

from __future__ import annotations

from collections.abc import Hashable, Iterable, Iterator
from dataclasses import dataclass, replace
from typing import ClassVar, Final, Self

import numpy as np

from kentrobar.core.body.moments import Moments
from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.clock import CLOCK_MINUTES, clock_text
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.places import (
    ClockPlace,
    RimPlace,
    RimStretch,
    Toward,
    along_rim,
    clock_place,
    nearest_on_rim,
)
from kentrobar.core.frame.rim import Face, RimLine, RimPoint
from kentrobar.core.frame.silhouette import Path
from kentrobar.core.frame.sites import region_at
from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate, Quantity, Vector, covariance_of
from kentrobar.core.quantities.units import Ruler
from kentrobar.core.weight.pieces.effects import OF_ITSELF, Effect, combined, scaled
from kentrobar.core.weight.pieces.piece import PLACE_U_CM, Cover, Piece, require_mass

MOST_LAYERS: Final = 6
PRODUCT_STEP_CM: Final = 0.2  # of the points that a product of inertia is summed over
SHORTEST_STRIP_CM: Final = 0.5
LENGTH_STEP_CM: Final = 0.1
GAP_AT_TIP_CM: Final = 3.0  # a pair nearer to tip or bridge is told by its gap from the centre line
ON_TOP_CM: Final = 0.1  # so near to the tip an end lies on a paddle's top edge
_TIP, _BRIDGE = 0.0, CLOCK_MINUTES / 2
_ON_CENTRE_LINE_MIN = 0.01
_HAIR_CM = 0.01


@dataclass(frozen=True, kw_only=True)
class RimStrip(Piece):
    """A strip along the rim, centred on its place; length and mass are of *one* strip.

    Give either ``g_per_cm`` or ``mass_g``. ``both_faces`` lays a second strip on the other side of
    the string row (z < 0); ``layers`` lie on each other, cut and laid apart. Mirrored strips at
    12:00 or 6:00 start at the centre line, or ``gap_cm`` from it, instead of being centred there.
    """

    can_be_pair: ClassVar[bool] = True
    is_line: ClassVar[bool] = True

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
        _require_sound(self)
        require_mass(self.one_mass_g)

    is_strip = True

    @property
    def as_strip(self) -> RimStrip:
        return self

    @property
    def is_by_length(self) -> bool:
        return bool(self.g_per_cm)

    @property
    def face_name(self) -> str:
        return self.face.value

    def longest_cm(self, outline: Outline) -> float:
        return outline.rim(self.face).length

    def stretches_on_rim(self, outline: Outline) -> list[RimStretch]:
        return self.stretches(outline.rim(self.face))

    @property
    def sides(self) -> int:
        return 2 if self.mirrored else 1

    @property
    def at_each_side(self) -> int:
        return self.layers * (2 if self.both_faces else 1)

    @property
    def extent_cm(self) -> float:
        return self.length_cm.value

    @property
    def one_mass_g(self) -> float:
        if self.mass_g:
            return self.mass_g.value
        assert self.g_per_cm  # noqa: S101 - held by __post_init__
        return self.g_per_cm.value * self.length_cm.value

    @property
    def density(self) -> Quantity:
        return self.g_per_cm

    # -- what it adds -------------------------------------------------------------------

    def body(self, outline: Outline | None) -> Effect:
        line, z = self._line_and_height(outline)
        stretch = self.stretch(line)
        start, end = stretch
        (length, y, yy, xx, x), first_point, last_point = line.over(start, end)
        zz = z * z
        m = self.one_mass_g
        density = m / length
        moments = Moments(m, density * y, density * yy + m * zz, density * xx + m * zz, density * x)
        first, last = _per_gram(first_point, zz), _per_gram(last_point, zz)
        own = [combined(first, -density * PLACE_U_CM, last, density * PLACE_U_CM)]
        shared: dict[Hashable, Vector] = {}
        half = 0.5 * density * self.length_cm.u
        longer = combined(first, half, last, half)
        if self.g_per_cm:
            own.append(longer)
            spread = scaled(moments, self.g_per_cm.u / self.g_per_cm.value)
            shared[self.shared_key or OF_ITSELF] = spread
        else:
            assert self.mass_g  # noqa: S101 - held by __post_init__
            thinner = -self.length_cm.u / length  # the same mass over a greater length
            own.append(combined(longer, 1.0, moments, thinner))
            own.append(scaled(moments, self.mass_g.u / m))
        overlaps = self._overlaps_its_image(line, stretch)
        return Effect(moments, covariance_of(own), shared, overlaps)

    def sure_but_for_place(self) -> RimStrip:
        def surely(quantity: Quantity) -> Quantity:
            return quantity._replace(u=0.0) if quantity else quantity

        return replace(
            self,
            length_cm=self.length_cm._replace(u=0.0),
            g_per_cm=surely(self.g_per_cm),
            mass_g=surely(self.mass_g),
        )

    def _line_and_height(self, outline: Outline | None) -> tuple[RimLine, float]:
        if outline is None:
            raise PieceError(
                "A strip on the rim needs the frame's outline; give the outline, or lay the "
                "piece as a point with its own x and y.",
                code="no_outline",
                field="outline",
            )
        return outline.rim(self.face), outline.face_heights_cm[self.face]

    def one_product_gcm2(self, outline: Outline | None) -> float:
        line, _ = self._line_and_height(outline)
        start, end = self.stretch(line)
        points = np.array(line.polyline(start, end, spacing=PRODUCT_STEP_CM))
        middles, lengths = (points[1:] + points[:-1]) / 2, np.hypot(*(points[1:] - points[:-1]).T)
        return float(self.one_mass_g * (middles.prod(axis=1) @ lengths) / lengths.sum())

    # -- where it lies ------------------------------------------------------------------

    def stretch(self, line: RimLine) -> RimStretch:
        """Where the strip lies on its line (the right one of a mirrored pair), by arc length, cm."""
        length = self.length_cm.value
        if self.mirrored and isinstance(self.at, ClockPlace):
            minutes = self.at.minutes % CLOCK_MINUTES
            if min(minutes, CLOCK_MINUTES - minutes) < _ON_CENTRE_LINE_MIN:
                return RimStretch(self.gap_cm, self.gap_cm + length)
            if abs(minutes - _BRIDGE) < _ON_CENTRE_LINE_MIN and line.closed:
                end = line.half_length - self.gap_cm
                return RimStretch(end - length, end)
        centre = self.at.arc_length(line)
        return RimStretch(centre - length / 2, centre + length / 2)

    def stretches(self, line: RimLine) -> list[RimStretch]:
        """Where all of its strips on one face lie: the pair's image too."""
        start, end = self.stretch(line)
        return (
            [RimStretch(start, end), RimStretch(-end, -start)] if self.mirrored else [RimStretch(start, end)]
        )

    def starts_at_centre_line(self, outline: Outline) -> bool:
        """Whether it is a pair told by its gap from the centre line."""
        return self.mirrored and self.stretch(outline.rim(self.face)).start in (0.0, self.gap_cm)

    def _overlaps_its_image(self, line: RimLine, stretch: RimStretch) -> bool:
        """Whether the two strips of a mirrored pair would lie on each other."""
        if not self.mirrored:
            return False
        start, end = stretch
        over_tip = start < -1e-9 < 1e-9 < end
        farthest = max(-start, end)
        return over_tip or (line.closed and farthest > line.half_length + 1e-9)

    def ends(self, outline: Outline) -> tuple[float, float]:
        line = outline.rim(self.face)
        start, end = self.stretch(line)
        return line.point(start).y, line.point(end).y

    def anchor(self, outline: Outline) -> RimPoint:
        line = outline.rim(self.face)
        start, end = self.stretch(line)
        return line.point((start + end) / 2)

    def shape(self, outline: Outline) -> Path:
        line = outline.rim(self.face)
        return line.polyline(*self.stretch(line))

    def where(self, outline: Outline, ruler: Ruler) -> str:
        layers = f", {self.layers} layers" if self.layers > 1 else ""
        both = ", both faces" if self.both_faces else ""
        in_words = self._by_clock if outline.sport is Sport.TENNIS else self._by_region
        return f"{in_words(outline, ruler)}, {outline.face_name(self.face)}{both}{layers}"

    def _by_clock(self, outline: Outline, _ruler: Ruler) -> str:
        line = outline.rim(self.face)
        start, end = (clock_text(line.clock_at(s)) for s in self.stretch(line))
        reach = f"at {start}" if start == end else f"{start} to {end}"
        return f"{reach}{', both sides' if self.mirrored else ''}"

    def _by_region(self, outline: Outline, ruler: Ruler) -> str:
        """On a paddle: the part of the edge, and how far from the butt or, on the top edge, its middle."""
        line = outline.rim(self.face)
        start, end = self.stretch(line)
        ends = [line.point(s) for s in (start, end)]
        side = "both sides" if self.mirrored else "right" if start + end > 0 else "left"
        side = "across" if start < 0 < end and not self.mirrored else side
        is_on_top = min(point.y for point in ends) > line.point(0.0).y - ON_TOP_CM
        first, last = [abs(point.x) if is_on_top else point.y for point in ends]
        since = "its middle" if is_on_top else "the butt"
        region = region_at(outline, (start + end) / 2)
        return f"{region}, {side}, {ruler.span(first, last)} from {since}"

    def along_rim(self, outline: Outline, ruler: Ruler) -> str:
        start, end = self.stretch(outline.rim(self.face))
        zero = "12" if outline.sport is Sport.TENNIS else "the centre line"
        if start < -_HAIR_CM and end > _HAIR_CM:
            if abs(start + end) < _HAIR_CM:
                return f"{ruler.text(end)} either side of {zero}"
            return f"{ruler.text(-start)} left to {ruler.text(end)} right of {zero}"
        first, last = sorted((abs(start), abs(end)))
        return f"{ruler.number(first)} to {ruler.text(last)} from {zero}"

    def place(self, outline: Outline, ruler: Ruler) -> str:
        line = outline.rim(self.face)
        start, end = self.stretch(line)
        centre = (start + end) / 2
        is_racket = outline.sport is Sport.TENNIS
        part = clock_text(line.clock_at(centre)) if is_racket else region_at(outline, centre)
        return f"{part} · {ruler.text(line.point(centre).y)}"

    def cover(self, outline: Outline) -> Cover:
        return Cover.BUMPER if self.face is Face.BUMPER else Cover.NONE

    def shows(self, outline: Outline, *, at_skin: bool) -> bool:
        return self.face is not Face.BUMPER

    def tape_lengths(self, g_per_cm: float) -> list[float]:
        return [self.length_cm.value] * self.count

    # -- what a hand does -----------------------------------------------------------------

    def dragged(self, outline: Outline, x_cm: float, y_cm: float) -> RimStrip:
        s, _ = nearest_on_rim(outline, self.face, x_cm, y_cm)
        return self.placed_at(outline, s)

    def nudged(self, outline: Outline, toward: Toward, by_cm: float) -> RimStrip:
        line = outline.rim(self.face)
        s = line.wrap(self.at.arc_length(line))
        return self.placed_at(outline, along_rim(line, s, toward, by_cm))

    def placed_at(self, outline: Outline, s: float) -> RimStrip:
        """The strip centred at arc length ``s``, pushed back where an open rim would end."""
        line = outline.rim(self.face)
        if line.closed:
            return replace(self, at=clock_place(line, s))
        room = line.half_length - self.length_cm.value / 2
        if room < 0:
            return replace(self, at=clock_place(line, 0.0))
        # A hair's breadth inside, so that rounding the clock never leaves the rim.
        return replace(self, at=clock_place(line, min(max(s, -room + 1e-4), room - 1e-4)))

    def part(self, outline: Outline, start: float, end: float) -> RimStrip:
        """The part of the strip, or the strip moved, from arc length ``start`` to ``end`` (mm steps)."""
        length = round(end - start, 2)
        sized = replace(self, length_cm=self.length_cm._replace(value=length), gap_cm=0.0)
        if self.mass_g:
            share = length / self.length_cm.value
            mass_g = Estimate(self.mass_g.value * share, self.mass_g.u * share)
            sized = replace(sized, mass_g=mass_g)
        line = outline.rim(self.face)
        if self.mirrored and 0 <= start < GAP_AT_TIP_CM:
            return replace(sized, at=ClockPlace(_TIP), gap_cm=round(start, 2))
        if self.mirrored and line.closed and 0 <= line.half_length - end < GAP_AT_TIP_CM:
            gap = round(line.half_length - end, 2)
            return replace(sized, at=ClockPlace(_BRIDGE), gap_cm=gap)
        return sized.placed_at(outline, (start + end) / 2)

    def divided(self, outline: Outline, parts: int) -> list[RimStrip]:
        """The strip cut into equal parts that lie side by side where it lay.

        Raises:
            PieceError: no whole number of parts, or parts too short to hold.
        """
        length = self.length_cm.value / max(parts, 1)
        if parts < 2 or length < SHORTEST_STRIP_CM:
            raise PieceError(
                f"A strip is divided into 2 or more parts of at least {SHORTEST_STRIP_CM:g} cm each.",
                code="bad_division",
                field="parts",
            )
        start, _ = self.stretch(outline.rim(self.face))
        return [self.part(outline, start + i * length, start + (i + 1) * length) for i in range(parts)]

    def split(self, outline: Outline, first_cm: float) -> list[RimStrip]:
        """The strip cut in two where it lies, the first part, clockwise, so long.

        Raises:
            PieceError: a part would be too short to hold.
        """
        start, end = self.stretch(outline.rim(self.face))
        if not SHORTEST_STRIP_CM <= first_cm <= end - start - SHORTEST_STRIP_CM:
            raise PieceError(
                "Both parts must hold: leave each long enough, and shorter than the whole.",
                code="bad_division",
                field="first",
            )
        middle = start + first_cm
        return [self.part(outline, start, middle), self.part(outline, middle, end)]

    def parted(self, outline: Outline, gap_cm: float) -> RimStrip:
        """A pair whose two strips start ``gap_cm`` from the centre line, at the end they are nearest to.

        Raises:
            PieceError: it is no pair, or its strips would leave the rim.
        """
        if not self.mirrored:
            raise PieceError("Only a pair is moved apart; mirror the piece first.", code="no_pair")
        if gap_cm < 0:
            raise PieceError("A gap cannot be negative.", code="negative_gap", field="gap_cm")
        line = outline.rim(self.face)
        length = self.length_cm.value
        is_at_bridge = line.closed and sum(self.stretch(line)) > line.half_length
        start = line.half_length - gap_cm - length if is_at_bridge else gap_cm
        if not 0 <= start <= line.half_length - length:
            raise PieceError("That far apart they would leave the rim.", code="off_rim", field="gap_cm")
        return self.part(outline, start, start + length)

    def grown(self, outline: Outline, steps: int) -> RimStrip:
        if not self.g_per_cm:
            grown = super().grown(outline, steps)
            assert isinstance(grown, RimStrip)  # noqa: S101 - a strip stays one
            return grown
        longest = outline.rim(self.face).length / self.sides
        longer = self.length_cm.value + steps * LENGTH_STEP_CM
        return self.with_length(round(min(max(longer, SHORTEST_STRIP_CM), longest), 2))

    def mirror_toggled(self) -> Self:
        return replace(self, mirrored=not self.mirrored)

    def at_height(self, outline: Outline, y_cm: float) -> RimStrip:
        line = outline.rim(self.face)
        s = line.at_y(y_cm)
        on_left = line.wrap(self.at.arc_length(line)) < 0
        return replace(self, at=clock_place(line, -s if on_left else s))

    def with_length(self, length_cm: float) -> RimStrip:
        return replace(self, length_cm=self.length_cm._replace(value=length_cm))

    def with_mass(self, mass_g: float) -> RimStrip:
        """One strip made so heavy: longer of the same tape, or thicker where its density is not known."""
        if self.mass_g:
            return replace(self, mass_g=self.mass_g._replace(value=mass_g))
        assert self.g_per_cm  # noqa: S101 - held by __post_init__
        if not mass_g > 0:
            raise PieceError(
                "A piece weighs more than 0; to take weight away, tick “taken away”.", code="impossible_mass"
            )
        return self.with_length(mass_g / self.g_per_cm.value)

    def with_density(self, g_per_cm: Estimate) -> RimStrip:
        return replace(self, g_per_cm=g_per_cm)

    def rounded(self, step_cm: float) -> RimStrip:
        steps = max(round(self.length_cm.value / step_cm), 1)
        return self.with_length(round(max(steps * step_cm, SHORTEST_STRIP_CM), 3))


def strips_among(pieces: Iterable[Piece]) -> Iterator[RimStrip]:
    """The pieces that are strips along the rim."""
    return (piece for piece in pieces if isinstance(piece, RimStrip))


def _require_sound(strip: RimStrip) -> None:
    if not 1 <= strip.layers <= MOST_LAYERS:
        raise PieceError(
            f"A strip has 1 to {MOST_LAYERS} layers; more no longer hold on each other.",
            code="too_many_layers",
            field="layers",
        )
    if not strip.length_cm.value > 0:
        raise PieceError("A strip needs a length above 0.", code="no_length", field="length_cm")
    if bool(strip.g_per_cm) == bool(strip.mass_g):
        raise PieceError(
            "Give a strip its weight per length or its weight, not both.",
            code="weight_twice",
            field="g_per_cm",
        )
    if strip.g_per_cm and not strip.g_per_cm.value > 0:
        raise PieceError("Weight per length must be above 0.", code="no_density", field="g_per_cm")
    if strip.gap_cm < 0:
        raise PieceError("A gap cannot be negative.", code="negative_gap", field="gap_cm")


def _per_gram(point: tuple[float, float], zz: float) -> Vector:
    x, y = point
    return (1.0, y, y * y + zz, x * x + zz, x)
