"""Taking weight away: what is fitted comes off, is trimmed, or makes way for something lighter."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace
from types import MappingProxyType
from typing import Final

from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.rim import Face
from kentrobar.core.laying.plan import LaidPlan
from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate
from kentrobar.core.weight.builds import Fitting, FittingKind
from kentrobar.core.weight.pieces import CUT_LENGTH_U_CM, Piece
from kentrobar.core.weight.pieces.piece import Source

LONGEST_TRIM_CM: Final = 15.0

# What it costs, shown beside the button that does it.
COSTS: Final[Mapping[FittingKind, str]] = MappingProxyType({
    FittingKind.STRINGS: "Thinner strings break sooner and play livelier; string anew for it.",
    FittingKind.BUMPER: "The bare head wears on the court, and a warranty may be void.",
    FittingKind.BUTT_CAP: "Pull staples away from your hand; the cap holds the grip’s end.",
    FittingKind.GRIP: "A lighter grip is often thinner: feel the size before you cut it.",
    FittingKind.LEATHER: "A lighter grip is often thicker and softer: feel the size first.",
    FittingKind.OVERGRIP: "The handle becomes about half a size thinner and less tacky.",
    FittingKind.DAMPENER: "The strings ring more; nothing else changes.",
    FittingKind.EDGE_TAPE: "The edge takes every knock itself.",
    FittingKind.HEAD_TAPE: "The head scuffs more.",
    FittingKind.FINISHING_TAPE: "The grip’s upper end needs another hold.",
    FittingKind.FACTORY: "The maker put it there: the frame leaves its series, a warranty may be void.",
    FittingKind.FILM: "None: it is packing.",
    FittingKind.EARLIER: "Whoever put it there had a reason; ask the player.",
})  # fmt: skip


def take_off(fitting: Fitting, outline: Outline) -> Piece:
    """The whole fitting, taken away."""
    return _taken(fitting.body(outline), fitting)


def trim_bumper(fitting: Fitting, outline: Outline, each_end_cm: float) -> Piece:
    """Both lower ends of a bumper and grommet strip cut off by so much.

    Raises:
        PieceError: it is no strip, or not so much of it can go.
    """
    whole = fitting.body(outline).as_strip
    if whole is None or whole.face is not Face.BUMPER:
        raise PieceError("Only a bumper strip is trimmed.", code="no_bumper", field="amount")
    start, end = whole.stretch(outline.rim(Face.BUMPER))
    longest = min(LONGEST_TRIM_CM, (end - start) / 2 - 1.0)
    if not 0.1 <= each_end_cm <= longest:
        raise PieceError(
            f"Trim 0.1 to {longest:.0f} cm at each end.", code="bad_trim", field="amount"
        )
    # Told by its density: what is cut off is a part of it, and as little sure as that part is large.
    per_cm = Estimate(
        whole.one_mass_g / whole.length_cm.value, fitting.mass_g.u / whole.length_cm.value
    )
    named = replace(whole, label=f"{fitting.label}, trimmed", mass_g=NOT_MEASURED, g_per_cm=per_cm)
    part = named.part(outline, end - each_end_cm, end)
    length = part.length_cm._replace(u=CUT_LENGTH_U_CM)
    return _taken(replace(part, length_cm=length, mirrored=True), fitting)


def make_lighter(fitting: Fitting, outline: Outline, mass_g: Estimate) -> Piece:
    """What is gained where something lighter of the same kind takes a fitting's place.

    Raises:
        PieceError: the new one is not lighter.
    """
    less = fitting.mass_g.value - mass_g.value
    if not 0 < less < fitting.mass_g.value:
        raise PieceError(
            f"{fitting.label} weighs {fitting.mass_g.value:.1f} g; type the weight of a lighter one.",
            code="not_lighter",
            field="amount",
        )
    gain = Estimate(less, math.hypot(fitting.mass_g.u, mass_g.u))
    lighter = replace(fitting, label=f"{fitting.label}, lighter", mass_g=gain)
    return _taken(lighter.body(outline), fitting)


def _taken(piece: Piece, fitting: Fitting) -> Piece:
    return replace(piece, removed=True, source=Source(fitting=fitting.key))


def require_left(plan: LaidPlan, fitting: Fitting, taken: Piece) -> None:
    """Refuse to take more of a fitting than there is of it; it is told from others by its key."""
    already = sum(
        each.piece.total_mass_g for each in plan.laid if each.piece.source.fitting == fitting.key
    )
    if already + taken.total_mass_g > fitting.mass_g.value + 0.01:
        raise PieceError(
            f"This plan takes {fitting.label} away already.", code="gone_already", field="amount"
        )


# Off and on again in a minute, and nothing of the frame is opened for it.
EASILY_OFF: Final = frozenset(
    {FittingKind.OVERGRIP, FittingKind.DAMPENER, FittingKind.FACTORY, FittingKind.EARLIER,
     FittingKind.HEAD_TAPE}
)  # fmt: skip


def can_be_lighter(fitting: Fitting) -> bool:
    """Whether another of the kind takes its place, rather than nothing."""
    kinds = (FittingKind.STRINGS, FittingKind.GRIP, FittingKind.LEATHER, FittingKind.OVERGRIP)
    return fitting.kind in kinds


def can_come_off(fitting: Fitting) -> bool:
    """Strings are never simply left off."""
    return fitting.kind is not FittingKind.STRINGS
