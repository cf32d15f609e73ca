"""Making a piece of a material at a place: at a named site, at a typed one, or where a hand points."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Any, Final, NamedTuple

from kentrobar.core.body.sport import Sport
from kentrobar.core.editing.shelf import Stock
from kentrobar.core.frame.anatomy import (
    CAP_LENGTH_CM,
    CAVITY_RADIUS_CM,
    DAMPENER_CM,
    HANDLE_RADIUS_CM,
    ON_AXIS_CM,
)
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.places import ClockPlace, clock_place, nearest_on_rim
from kentrobar.core.frame.rim import Face
from kentrobar.core.frame.sites import FULL_EDGE, SITE_GROUPS, Site, Zone, shaft_at, sites_of
from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate, Quantity
from kentrobar.core.weight.materials import Form, MaterialKind
from kentrobar.core.weight.pieces import (
    CUT_LENGTH_U_CM,
    WEIGHED_U_G,
    Piece,
    Plug,
    PointPiece,
    RimStrip,
    Sleeve,
)
from kentrobar.core.weight.pieces.piece import HEAVIEST_PIECE_G

REACH_CM: Final = 3.5  # how far beside the rim a hand may point and still mean it
BESIDE_SHAFT_CM: Final = 1.5
PUSHED_CM: Final = 1.0  # so far a strip may be pushed along the rim from where it was meant
BELOW_CAP_CM: Final = 0.3  # putty in the cavity starts no nearer to the butt


class Share(StrEnum):
    """Of what an amount is told: of one strip or body, of all on one side, or of all of a piece."""

    ONE = "one"
    SIDE = "side"
    ALL = "all"

    def one(self, amount: float, sides: int, at_each_side: int) -> float:
        """How much one of so many strips or bodies is, in the amount's own unit."""
        return amount / {Share.ALL: sides * at_each_side, Share.SIDE: at_each_side}.get(self, 1)


@dataclass(frozen=True)
class Order:
    """What a person asks to lay: of which material, how much, and how.

    ``amount`` is in cm for a tape and in g for the rest, told of what ``share`` says. ``count`` is how many
    strips or bodies of that amount it is together, 0 where nobody counted them.
    """

    stock: Stock
    amount: float
    face: Face
    mirrored: bool
    removed: bool = False
    both_faces: bool = False
    layers: int = 1
    share: Share = Share.ONE
    count: int = 0

    @property
    def at_each_side(self) -> int:
        """How many strips lie at one place: in layers, on both faces; of all but tape one body."""
        return max(self.layers, 1) * self._faces if self.stock.is_tape else 1

    def for_one(self) -> Order:
        """The same told of one strip or body."""
        amount = self.share.one(self.amount, 2 if self.mirrored else 1, self.at_each_side)
        return replace(self, amount=amount, share=Share.ONE)

    def spread(self, sides: int) -> Order:
        """What lies at one of so many places: of tape the layers, of the rest the weight, that make the count.

        Tape on both faces has two places on each side.

        Raises:
            PieceError: the count does not come out even, or not with the layers that were chosen.
        """
        if not self.count:
            return self
        places = sides * self._faces
        each, over = divmod(self.count, places)
        if over or not each:
            raise PieceError(
                f"{self.count} cannot be shared evenly by {places} places; use {places * (each + 1)}"
                + (f" or {places * each}." if each else "."),
                code="uneven_count",
                field="amount",
            )
        if not self.stock.is_tape:
            return replace(self, amount=each * self.amount, count=0)
        if self.layers not in (1, each):
            raise PieceError(
                f"{self.count} strips make {each} layers there, not {self.layers}. Leave the layers at 1.",
                code="uneven_count",
                field="layers",
            )
        return replace(self, layers=each, count=0)

    @property
    def _faces(self) -> int:
        return 2 if self.both_faces and self.stock.is_tape else 1

    @property
    def names(self) -> dict[str, Any]:
        """What every piece made of it carries."""
        return {"material": self.stock.name, "source": self.stock.source, "removed": self.removed}

    @property
    def mass(self) -> Estimate:
        """Mass of one body, g."""
        return Estimate(self.amount, WEIGHED_U_G)


# -- where --------------------------------------------------------------------------------


class AtSite(NamedTuple):
    """A named site, or a group of them, by key."""

    key: str


class ClockPosition(NamedTuple):
    """A typed place on the rim by clock minutes, with what was typed."""

    minutes: float
    typed: str


class HeightPosition(NamedTuple):
    """A typed distance from the butt on the right side, cm, with what was typed."""

    y_cm: float
    typed: str


class AtPoint(NamedTuple):
    """A place on the frame's own axes that a hand shows, cm."""

    x_cm: float
    y_cm: float


Spot = AtSite | ClockPosition | HeightPosition | AtPoint


def ordered(
    order: Order, spot: Spot, outline: Outline, balance_cm: Quantity = NOT_MEASURED
) -> tuple[list[Piece], str]:
    """The pieces that an order makes at a spot, and what the spot is called.

    Raises:
        PieceError, OutlineError: the material cannot lie there, or the amount is impossible.
    """
    match spot:
        case ClockPosition(minutes, typed):
            return [lay(order, site_on_rim(outline, minutes), outline)], typed[:20]
        case HeightPosition(y_cm, typed):
            piece = lay(order, site_at_height(outline, y_cm), outline)
            # The site is of the outer edge; on another face the same height is elsewhere along the rim.
            return [piece.at_height(outline, y_cm) if piece.is_strip else piece], typed[:20]
        case AtPoint(x_cm, y_cm):
            site = site_at(outline, x_cm, y_cm)
            return [lay(order, site, outline)], site.label
    sites = sites_named(outline, spot.key, balance_cm)
    label = SITE_GROUPS[spot.key].label if spot.key in SITE_GROUPS else sites[0].label
    if spot.key == FULL_EDGE:
        return [lay_all_round(order, outline)], label
    if order.share is Share.ALL:
        order = replace(order, amount=order.amount / len(sites))
    order = order.spread(sum(2 if order.mirrored and site.mirrored else 1 for site in sites))
    alike = [replace(order, mirrored=order.mirrored and site.mirrored) for site in sites]
    return [lay(each, site, outline) for each, site in zip(alike, sites, strict=True)], label


def sites_named(outline: Outline, key: str, balance_cm: Quantity = NOT_MEASURED) -> list[Site]:
    """The site of this key, or the several of a group; raises PieceError for an unknown one."""
    keys = SITE_GROUPS[key].sites if key in SITE_GROUPS else (key,)
    found = {site.key: site for site in sites_of(outline, balance_cm)}
    if not all(each in found for each in keys):
        raise PieceError("This frame has no such position. Choose one from the list.", code="no_such_site")
    return [found[each] for each in keys]


def site_at(outline: Outline, x_cm: float, y_cm: float) -> Site:
    """The nameless site where a hand points.

    Raises:
        PieceError: neither rim nor handle is near.
    """
    if y_cm <= outline.handle_length_cm + 0.5 and abs(x_cm) <= REACH_CM:
        return Site("", "handle", Zone.HANDLE, 0.0, max(y_cm, 0.0))
    shaft = shaft_at(outline, y_cm)
    if shaft is not None and abs(abs(x_cm) - shaft) <= BESIDE_SHAFT_CM:
        return Site("", "throat", Zone.SHAFT, math.copysign(shaft, x_cm), y_cm)
    s, distance = nearest_on_rim(outline, Face.OUTER, x_cm, y_cm)
    if distance > REACH_CM:
        raise PieceError("Nothing can be placed there. Click the rim or the handle.", code="off_frame")
    line = outline.rim(Face.OUTER)
    x, y = line.point(s)
    return Site("", "rim", Zone.RIM, x, y, clock_place(line, s))


def site_on_rim(outline: Outline, minutes: float) -> Site:
    """The nameless site at a clock position; raises OutlineError where there is no rim."""
    line = outline.rim(Face.OUTER)
    x, y = line.point(line.at_clock(minutes))
    return Site("", "rim", Zone.RIM, x, y, ClockPlace(minutes))


def site_at_height(outline: Outline, y_cm: float) -> Site:
    """The nameless site at a distance from the butt: handle, shafts or rim."""
    shaft = shaft_at(outline, y_cm)
    if shaft is None and y_cm > outline.handle_length_cm:
        line = outline.rim(Face.OUTER)
        return site_at(outline, *line.point(line.at_y(y_cm)))
    return site_at(outline, shaft or 0.0, y_cm)


# -- what ---------------------------------------------------------------------------------


def lay(order: Order, site: Site, outline: Outline) -> Piece:
    """The piece that this order makes at this site.

    Raises:
        PieceError, OutlineError: the material cannot lie there, or the amount is impossible.
    """
    if not order.amount > 0:
        raise PieceError("Enter an amount above 0.", code="no_amount", field="amount")
    # On the long axis there is one place only: its mirror image is itself.
    order = replace(order, mirrored=_can_be_mirrored(order, site))
    order = order.spread(2 if order.mirrored else 1).for_one()
    match order.stock.form:
        case Form.TAPE:
            return _tape(order, site, outline)
        case Form.PUTTY:
            return _putty(order, site, outline)
        case Form.ITEM:
            return _item(order, site, outline)
        case _:
            return _sleeve(order, site, outline)


def _can_be_mirrored(order: Order, site: Site) -> bool:
    return order.mirrored and abs(site.x_cm) > ON_AXIS_CM


def lay_all_round(order: Order, outline: Outline) -> Piece:
    """Tape along the full edge of a paddle: a pair from the middle of the top to the handle."""
    if order.stock.form is not Form.TAPE:
        raise PieceError(
            f"{order.stock.name} does not go round an edge. Choose a tape.", code="not_a_tape", field="site"
        )
    order = replace(order, mirrored=True).spread(2)
    length = math.floor(10 * outline.rim(order.face).half_length) / 10
    strip = _strip(order, ClockPlace(0.0), length)
    asked = order.for_one().amount
    if order.share is not Share.ONE and abs(asked - length) > 0.02 * length:
        raise PieceError(
            f"The full edge takes {strip.total_mass_g:.1f} g of {order.stock.name} in all; choose a place for "
            "another amount.",
            code="not_full_edge",
            field="amount",
        )
    return strip


def _strip(order: Order, at: ClockPlace, length_cm: float) -> RimStrip:
    return RimStrip(
        at=at,
        length_cm=Estimate(length_cm, CUT_LENGTH_U_CM),
        g_per_cm=order.stock.density,
        face=order.face,
        mirrored=order.mirrored,
        both_faces=order.both_faces,
        layers=order.layers,
        **order.names,
    )


def _tape(order: Order, site: Site, outline: Outline) -> Piece:
    if site.clock is not None:
        placed = _strip(order, site.clock, order.amount).placed_at(
            outline, site.clock.arc_length(outline.rim(order.face))
        )
        if site.key:
            _require_at(placed, site, outline)
        return placed
    mass = _mass_of_tape(order)
    if site.zone is Zone.HANDLE:
        return _along_handle(order, mass, site, outline)
    return _compact(order, mass, site)


def _require_at(strip: RimStrip, site: Site, outline: Outline) -> None:
    """Refuse a strip that is too long for its place: where the rim ends it would lie elsewhere."""
    line = outline.rim(strip.face)
    assert site.clock is not None  # noqa: S101 - asked before
    meant = abs(line.wrap(site.clock.arc_length(line)))
    start, end = strip.stretch(line)
    if line.closed or abs(abs(start + end) / 2 - meant) <= PUSHED_CM or strip.starts_at_centre_line(outline):
        return
    longest = 2 * (line.half_length - meant + PUSHED_CM)
    raise PieceError(
        f"A strip at the {site.label} is at most {longest:.1f} cm long: the edge ends below it. Shorten it, or "
        "choose another place.",
        code="too_long_there",
        field="amount",
    )


def _mass_of_tape(order: Order) -> Estimate:
    """What all of the tape at one place weighs, where it is not along the rim."""
    return order.stock.weight_of(order.amount * order.at_each_side, CUT_LENGTH_U_CM)


def _along_handle(order: Order, mass: Estimate, site: Site, outline: Outline) -> Piece:
    length = order.amount
    if length > outline.handle_length_cm:
        raise PieceError(
            f"{length:.1f} cm of tape is longer than the handle "
            f"({outline.handle_length_cm:.1f} cm); shorten it or lay several strips.",
            code="longer_than_handle",
            field="amount",
        )
    start = round(min(max(site.y_cm - length / 2, 0), outline.handle_length_cm - length), 2)
    return Sleeve(mass_g=mass, from_cm=start, to_cm=round(start + length, 2), **order.names)


def _putty(order: Order, site: Site, outline: Outline) -> Piece:
    if site.zone not in (Zone.HANDLE, Zone.CAVITY):
        return _compact(order, order.mass, site)
    per_cm = order.stock.g_cm3 * math.pi * CAVITY_RADIUS_CM**2
    length, room = order.amount / per_cm, outline.handle_length_cm - BELOW_CAP_CM
    if room < length and order.amount <= HEAVIEST_PIECE_G:
        raise PieceError(
            f"The handle’s cavity takes {per_cm * room:.0f} g of {order.stock.name}; put the rest elsewhere.",
            code="longer_than_handle",
            field="amount",
        )
    start = round(min(max(site.y_cm - length / 2, BELOW_CAP_CM), outline.handle_length_cm - length), 2)
    end = round(start + max(length, 0.05), 2)
    return Plug(mass_g=order.mass, from_cm=start, to_cm=end, radius_cm=CAVITY_RADIUS_CM, **order.names)


def _compact(order: Order, mass: Estimate, site: Site) -> PointPiece:
    return PointPiece(
        mass_g=mass,
        x_cm=round(site.x_cm, 2),
        y_cm=round(site.y_cm, 2),
        mirrored=order.mirrored,
        **order.names,
    )


def _item(order: Order, site: Site, outline: Outline) -> Piece:
    """A compact thing; some kinds have one place only."""
    match order.stock.kind:
        case MaterialKind.BUTT_CAP:
            cap: dict[str, Any] = {"from_cm": 0.0, "to_cm": CAP_LENGTH_CM, "radius_cm": HANDLE_RADIUS_CM}
            return Plug(mass_g=order.mass, **cap, **order.names)
        case MaterialKind.DAMPENER if outline.sport is Sport.TENNIS:
            line = outline.rim(Face.INNER)
            y = round(line.point(line.half_length).y + DAMPENER_CM, 2)
            return PointPiece(mass_g=order.mass, y_cm=y, **order.names)
        case _:
            return _compact(order, order.mass, site)


def _sleeve(order: Order, site: Site, outline: Outline) -> Piece:
    if site.zone not in (Zone.HANDLE, Zone.CAVITY):
        raise PieceError(
            f"{order.stock.name} goes round the handle. Choose a position on the handle.",
            code="not_on_handle",
            field="site",
        )
    return Sleeve(mass_g=order.mass, from_cm=0.0, to_cm=outline.handle_length_cm, **order.names)
