"""Taking weight away: what is fitted comes off, is trimmed, or makes way for something lighter."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.editing.plan import PlanState
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.places import RimPlace
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.quantities.estimates import NOT_MEASURED, Amount, Estimate, NotMeasured, Quantity
from kentrobar.core.weight.builds import Fitting, FittingKind
from kentrobar.core.weight.pieces import CUT_LENGTH_U_CM, Piece, RimStrip
from kentrobar.core.weight.pieces.piece import RemovalKind, Source

LONGEST_TRIM_CM: Final = 15.0
LEAST_CHANGE_G: Final = 0.05  # less makes no difference that a scale shows
_TOUCHING_CM: Final = 0.05  # by so little cuts side by side may overlap

# What it costs, shown beside the button that does it.
COSTS: Final[Mapping[FittingKind, str]] = MappingProxyType(
    {
        FittingKind.STRINGS: "Thinner strings play livelier and break sooner; it needs a restring.",
        FittingKind.BUMPER: "The bare head wears on the court, and a warranty may be void.",
        FittingKind.GUARD: "The bare head wears on the court, and a warranty may be void.",
        FittingKind.GROMMETS: "Strings run over bare edges of the holes and break; the strings come out for it.",
        FittingKind.BUTT_CAP: "Pull staples away from your hand; the cap holds the grip’s end.",
        FittingKind.GRIP: "Another grip is often thinner or thicker: feel the size before you cut it.",
        FittingKind.LEATHER: "Another grip is often thicker and softer: feel the size first.",
        FittingKind.OVERGRIP: "The handle becomes thinner and less tacky.",
        FittingKind.DAMPENER: "The strings ring more; nothing else changes.",
        FittingKind.EDGE_TAPE: "The edge takes every knock itself.",
        FittingKind.HEAD_TAPE: "The head scuffs more.",
        FittingKind.FINISHING_TAPE: "The grip’s upper end needs another hold.",
        FittingKind.FACTORY: "The maker put it there: the frame leaves its series, a warranty may be void.",
        FittingKind.FILM: "None: it is packing.",
        FittingKind.EARLIER: "Whoever put it there had a reason; ask the player.",
    }
)


def take_off(fitting: Fitting, outline: Outline) -> Piece:
    """The whole fitting, taken away."""
    return _taken(fitting.body(outline), fitting, RemovalKind.OFF)


def trim_bumper(fitting: Fitting, outline: Outline, each_end_cm: float) -> Piece:
    """Both lower ends of a bumper and grommet strip cut off by so much.

    Raises:
        PieceError: it is no strip, or not so much of it can go.
    """
    whole = _bumper_strip(fitting, outline, "Only a bumper strip can be trimmed.")
    start, end = whole.stretch(outline.rim(Face.BUMPER))
    longest = min(LONGEST_TRIM_CM, (end - start) / 2 - 1.0)
    if not 0.1 <= each_end_cm <= longest:
        raise PieceError(f"Trim 0.1 to {longest:.0f} cm at each end.", code="bad_trim", field="amount")
    per_cm = _per_cm(whole, fitting)
    named = replace(whole, label=f"{fitting.label}, trimmed", mass_g=NOT_MEASURED, g_per_cm=per_cm)
    part = named.part(outline, end - each_end_cm, end)
    length = part.length_cm._replace(u=CUT_LENGTH_U_CM)
    return _taken(replace(part, length_cm=length, mirrored=True), fitting, RemovalKind.TRIM)


def _bumper_strip(fitting: Fitting, outline: Outline, refusal: str) -> RimStrip:
    """The whole strip that a fitting is under the bumper. Raises PieceError for what is none."""
    whole = fitting.body(outline).as_strip
    if whole is None or whole.face is not Face.BUMPER:
        raise PieceError(refusal, code="no_bumper", field="amount")
    return whole


class CutAmount(NamedTuple):
    """How much is cut out: its length, its weight, or both where the piece was weighed."""

    length_cm: Amount = NOT_MEASURED
    mass_g: Quantity = NOT_MEASURED


def cut_out(
    fitting: Fitting, outline: Outline, at: RimPlace, amount: CutAmount, *, mirrored: bool = False
) -> Piece:
    """A length of a bumper or grommet strip cut out anywhere, told by its length, its weight, or both.

    Raises:
        PieceError: it is no strip along the rim, or it does not reach so far.
    """
    whole = _bumper_strip(fitting, outline, "Only what runs along the rim can be cut out.")
    per_cm, (length_cm, mass_g) = _per_cm(whole, fitting), amount
    if isinstance(length_cm, NotMeasured):
        if not mass_g:
            raise PieceError("Type its length or its weight.", code="no_amount", field="amount")
        length_cm = mass_g.value / per_cm.value
    named = replace(whole, label=f"{fitting.label}, a length of it", mass_g=NOT_MEASURED, g_per_cm=per_cm)
    line = outline.rim(Face.BUMPER)
    centre = at.arc_length(line)
    part = named.part(outline, centre - length_cm / 2, centre + length_cm / 2)
    _require_on(whole, part, outline, fitting)
    part = replace(part, length_cm=part.length_cm._replace(u=CUT_LENGTH_U_CM), mirrored=mirrored)
    if mass_g:
        part = replace(part, g_per_cm=NOT_MEASURED, mass_g=mass_g)
    return _taken(part, fitting, RemovalKind.CUT)


def _per_cm(whole: RimStrip, fitting: Fitting) -> Estimate:
    """What is cut off is a part of the whole, and as little sure as that part is large."""
    length = whole.length_cm.value
    return Estimate(whole.one_mass_g / length, fitting.mass_g.u / length)


def _require_on(whole: RimStrip, part: RimStrip, outline: Outline, fitting: Fitting) -> None:
    line = outline.rim(Face.BUMPER)
    (start, end), (first, last) = whole.stretch(line), part.stretch(line)
    if not (start - 0.1 <= first < last <= end + 0.1):
        raise PieceError(
            f"{fitting.label} reaches {end:.0f} cm to either side of the tip; cut within that.",
            code="beyond_fitting",
            field="amount",
        )


def in_place_of(old: Fitting, new: Fitting) -> Fitting:
    """What a shop knows of something, at the place of the fitting that it is to replace."""
    return replace(
        old, key=new.key, kind=new.kind, label=new.label, mass_g=new.mass_g, thickness_mm=new.thickness_mm
    )


def exchange(old: Fitting, new: Fitting, outline: Outline) -> tuple[Piece, ...]:
    """What changes where ``new`` takes the place of ``old``: one piece of what is more or less of it.

    Where they lie otherwise, as strings of another pattern do, the old one comes off and the new one goes on.

    Raises:
        PieceError: both weigh the same and lie alike, so that nothing changes.
    """
    source = Source(fitting=old.key, accessory=new.key, deed=RemovalKind.EXCHANGE)
    off, on = old.body(outline), new.body(outline)
    name = f"{new.label} for {old.label}"
    if _with(on, old.mass_g, "") != _with(off, old.mass_g, ""):
        return (replace(off, removed=True, source=source), replace(on, label=name, source=source))
    more = new.mass_g.value - old.mass_g.value
    if abs(more) < LEAST_CHANGE_G:
        raise PieceError(
            f"{new.label} weighs the same as {old.label}: nothing changes.",
            code="same_weight",
            field="amount",
        )
    change = Estimate(abs(more), math.hypot(old.mass_g.u, new.mass_g.u))
    return (replace(_with(on, change, name), removed=more < 0, source=source),)


def _with(piece: Piece, mass_g: Estimate, label: str) -> Piece:
    """The piece so heavy altogether; of a pair each is half of it."""
    one = Estimate(mass_g.value / piece.sides, mass_g.u / math.sqrt(piece.sides))
    return piece.with_field("mass_g", one).with_field("label", label)


def _taken(piece: Piece, fitting: Fitting, deed: RemovalKind) -> Piece:
    return replace(piece, removed=True, source=Source(fitting=fitting.key, deed=deed))


def require_left(plan: PlanState, fitting: Fitting, taken: Piece) -> None:
    """Refuse to take more of a fitting than there is of it; it is told from others by its key."""
    of_it = [each.piece for each in plan.placed if each.piece.source.fitting == fitting.key]
    deeds = {each.source.deed for each in of_it}
    already = sum(each.total_mass_g for each in of_it if each.removed)
    is_gone = taken.removed and already + taken.total_mass_g > fitting.mass_g.value + 0.01
    is_twice = bool(of_it) and RemovalKind.EXCHANGE in {taken.source.deed, *deeds}
    if is_gone or is_twice:
        raise PieceError(
            f"This plan already removes {fitting.label}. Remove that piece first.",
            code="gone_already",
            field="amount",
        )
    if any(_overlap(each, taken, plan.outline) for each in of_it):
        raise PieceError(
            f"This plan already removes that part of {fitting.label}.", code="gone_already", field="amount"
        )


def _overlap(one: Piece, other: Piece, outline: Outline) -> bool:
    """Whether two lengths cut out of one strip share a stretch of it."""
    return any(
        a.start < b.end - _TOUCHING_CM and b.start < a.end - _TOUCHING_CM
        for a in one.stretches_on_rim(outline)
        for b in other.stretches_on_rim(outline)
    )


# Off and on again in a minute, and nothing of the frame is opened for it.
EASILY_OFF: Final = frozenset(
    {
        FittingKind.OVERGRIP,
        FittingKind.DAMPENER,
        FittingKind.FACTORY,
        FittingKind.EARLIER,
        FittingKind.HEAD_TAPE,
    }
)


_GRIPS: Final = frozenset({FittingKind.GRIP, FittingKind.LEATHER})
EXCHANGED: Final = _GRIPS | {
    FittingKind.STRINGS,
    FittingKind.OVERGRIP,
    FittingKind.BUTT_CAP,
    FittingKind.DAMPENER,
}


def takes_place_of(new: FittingKind, old: FittingKind) -> bool:
    """Whether one kind can be where the other is: a grip and a leather grip for each other."""
    return new is old or {new, old} <= _GRIPS


def can_come_off(fitting: Fitting) -> bool:
    """Strings are never simply left off."""
    return fitting.kind is not FittingKind.STRINGS
