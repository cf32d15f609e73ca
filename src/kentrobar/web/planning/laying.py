"""Making a piece of a material at a place: by site or where the hand points."""

from __future__ import annotations

import math
from dataclasses import dataclass

from kentrobar.core.builds import DAMPENER_CM
from kentrobar.core.circumstances import CAP_DEPTH_CM
from kentrobar.core.errors import PieceError
from kentrobar.core.estimates import Estimate
from kentrobar.core.materials import Form, MaterialKind
from kentrobar.core.outline import Face, Outline, Sport
from kentrobar.core.pieces import (
    CUT_LENGTH_U_CM,
    WEIGHED_U_G,
    ClockPlace,
    Piece,
    Plug,
    PointPiece,
    RimStrip,
    Sleeve,
)
from kentrobar.core.placing import clock_place, laid_at, nearest_on_rim
from kentrobar.core.sites import SITE_GROUPS, Site, Zone, shaft_at, sites_of
from kentrobar.web.materials.models import Material

REACH_CM = 3.5  # how far beside the rim a hand may point and still mean it
CAVITY_RADIUS_CM = 1.0
ON_AXIS_CM = 0.05


@dataclass(frozen=True)
class Order:
    """What a person asks to lay: of which material, how much, and how.

    ``amount`` is in cm for a tape and in g for putty and sleeves.
    """

    material: Material
    amount: float
    face: Face
    mirrored: bool
    removed: bool = False
    both_faces: bool = False
    layers: int = 1


def sites_named(outline: Outline, key: str, balance_cm: float | None = None) -> list[Site]:
    """The site of this key, or the several of a group; raises PieceError for an unknown one."""
    _, keys = SITE_GROUPS.get(key, ("", (key,)))
    found = {site.key: site for site in sites_of(outline, balance_cm)}
    if not all(each in found for each in keys):
        raise PieceError(
            "This frame has no such site; choose one of the list.", code="no_such_site"
        )
    return [found[each] for each in keys]


def site_at(outline: Outline, x_cm: float, y_cm: float) -> Site:
    """The nameless site where a hand points.

    Raises:
        PieceError: neither rim nor handle is near.
    """
    if y_cm <= outline.handle_length_cm + 0.5 and abs(x_cm) <= REACH_CM:
        y = max(y_cm, 0.0)
        return Site("", "handle", Zone.HANDLE, 0.0, y)
    half_distance = shaft_at(outline, y_cm)
    if half_distance is not None and abs(abs(x_cm) - half_distance) <= 1.5:
        return Site("", "throat", Zone.SHAFT, math.copysign(half_distance, x_cm), y_cm)
    s, distance = nearest_on_rim(outline, Face.OUTER, x_cm, y_cm)
    if distance > REACH_CM:
        raise PieceError(
            "Nothing can be laid there; click on the rim or on the handle.", code="off_frame"
        )
    line = outline.rim(Face.OUTER)
    x, y = line.point(s)
    return Site("", "rim", Zone.RIM, x, y, clock_place(line, s))


def site_on_rim(outline: Outline, minutes: float) -> Site:
    """The nameless site at a clock position; raises OutlineError where there is no rim."""
    line = outline.rim(Face.OUTER)
    x, y = line.point(line.at_clock(minutes))
    return Site("", "rim", Zone.RIM, x, y, ClockPlace(minutes))


def lay(order: Order, site: Site, outline: Outline) -> Piece:
    """The piece that this order makes at this site.

    Raises:
        PieceError, OutlineError: the material cannot lie there, or the amount is impossible.
    """
    if not order.amount > 0:
        raise PieceError("Type an amount above 0.", code="no_amount", field="amount")
    # On the long axis there is one place only: its mirror image is itself.
    mirrored = order.mirrored and abs(site.x_cm) > ON_AXIS_CM
    match order.material.form:
        case Form.TAPE:
            return _tape(order, site, outline, mirrored)
        case Form.PUTTY:
            return _putty(order, site, mirrored)
        case Form.ITEM:
            return _item(order, site, outline, mirrored)
        case _:
            return _sleeve(order, site, outline)


def lay_all_round(order: Order, outline: Outline) -> Piece:
    """Tape along the full edge of a paddle: a pair from the middle of the top to the handle."""
    if order.material.form is not Form.TAPE:
        raise PieceError(
            f"{order.material.name} does not go round an edge; choose a tape.",
            code="not_a_tape",
            field="site",
        )
    length = math.floor(10 * outline.rim(order.face).half_length) / 10
    return RimStrip(
        at=ClockPlace(0.0),
        length_cm=Estimate(length, CUT_LENGTH_U_CM),
        g_per_cm=order.material.density,
        face=order.face,
        mirrored=True,
        **_names(order),
    )


def _names(order: Order) -> dict[str, str | bool]:
    return {"material": order.material.name, "removed": order.removed}


def _mass(order: Order) -> Estimate:
    return Estimate(order.amount, WEIGHED_U_G)


def _tape(order: Order, site: Site, outline: Outline, mirrored: bool) -> Piece:
    density, length = order.material.density, order.amount
    if site.zone is Zone.RIM and site.clock is not None:
        strip = RimStrip(
            at=site.clock,
            length_cm=Estimate(length, CUT_LENGTH_U_CM),
            g_per_cm=density,
            face=order.face,
            mirrored=mirrored,
            both_faces=order.both_faces,
            layers=order.layers,
            **_names(order),
        )
        line = outline.rim(order.face)
        return laid_at(strip, outline, site.clock.arc_length(line))
    mass = Estimate(
        density.value * length, math.hypot(density.u * length, density.value * CUT_LENGTH_U_CM)
    )
    if site.zone is Zone.HANDLE:
        if length > outline.handle_length_cm:
            raise PieceError(
                f"{length:.1f} cm of tape is longer than the handle "
                f"({outline.handle_length_cm:.1f} cm); shorten it or lay several strips.",
                code="longer_than_handle",
                field="amount",
            )
        start = round(min(max(site.y_cm - length / 2, 0), outline.handle_length_cm - length), 2)
        return Sleeve(mass_g=mass, from_cm=start, to_cm=round(start + length, 2), **_names(order))
    return PointPiece(
        mass_g=mass,
        x_cm=round(site.x_cm, 2),
        y_cm=round(site.y_cm, 2),
        mirrored=mirrored,
        **_names(order),
    )


def _putty(order: Order, site: Site, mirrored: bool) -> Piece:
    if site.zone in (Zone.HANDLE, Zone.CAVITY):
        density = order.material.density_g_cm3 or 1.0
        length = order.amount / (density * math.pi * CAVITY_RADIUS_CM**2)
        start = round(max(site.y_cm - length / 2, 0.3), 2)
        return Plug(
            mass_g=_mass(order),
            from_cm=start,
            to_cm=round(start + max(length, 0.05), 2),
            radius_cm=CAVITY_RADIUS_CM,
            **_names(order),
        )
    return _compact(order, site, mirrored)


def _compact(order: Order, site: Site, mirrored: bool) -> PointPiece:
    return PointPiece(
        mass_g=_mass(order),
        x_cm=round(site.x_cm, 2),
        y_cm=round(site.y_cm, 2),
        mirrored=mirrored,
        **_names(order),
    )


def _item(order: Order, site: Site, outline: Outline, mirrored: bool) -> Piece:
    """A compact thing; some kinds have one place only."""
    mass = _mass(order)
    match MaterialKind(order.material.kind):
        case MaterialKind.BUTT_CAP:
            return Plug(
                mass_g=mass, from_cm=0.0, to_cm=CAP_DEPTH_CM - 0.2, radius_cm=1.6, **_names(order)
            )
        case MaterialKind.DAMPENER if outline.sport is Sport.TENNIS:
            line = outline.rim(Face.INNER)
            y = round(line.point(line.half_length).y + DAMPENER_CM, 2)
            return PointPiece(mass_g=mass, y_cm=y, **_names(order))
        case _:
            return _compact(order, site, mirrored)


def _sleeve(order: Order, site: Site, outline: Outline) -> Piece:
    if site.zone not in (Zone.HANDLE, Zone.CAVITY):
        raise PieceError(
            f"{order.material.name} goes round the handle; choose the handle as its place.",
            code="not_on_handle",
            field="site",
        )
    return Sleeve(mass_g=_mass(order), from_cm=0.0, to_cm=outline.handle_length_cm, **_names(order))
