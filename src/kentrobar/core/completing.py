"""One piece that completes a plan: hold the balance, shift it at a kept swing weight, add plain heft.

With the frame and its pieces at mass M and first moment S, a piece of mass m at y brings the balance to
b* where S + m·y = b*·(M + m), hence m = (S - b*·M)/(b* - y). On the swing axis a piece adds no swing
weight at all, near the balance point it leaves the balance where it is.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import Final, NamedTuple

from kentrobar.core.errors import PieceError, SpecError
from kentrobar.core.matching import USUAL_TOLERANCE
from kentrobar.core.moments import Moments
from kentrobar.core.outline import Face, Outline, Sport
from kentrobar.core.pieces import Piece, RimStrip, effect_of
from kentrobar.core.placing import SHORTEST_STRIP_CM
from kentrobar.core.sites import shaft_ends, sites_of
from kentrobar.core.specs import MeasuredSpecs

MASS_STEP_G: Final = 0.1
LEAST_G: Final = 0.05  # less is not worth laying
MOST_G: Final = 60.0  # more than that is no completion but another frame
HEFT_STEP_CM: Final = 0.5


class Completion(NamedTuple):
    """A mass to lay at a distance from the butt, in steps of a scale, and where that is in words."""

    mass_g: float
    y_cm: float
    where: str


def _whole(measured: MeasuredSpecs, pieces: Iterable[Piece], outline: Outline) -> Moments:
    if not measured.knows_balance:
        raise SpecError(
            "Static weight and balance of this frame are not known; read them first.",
            code="not_measured",
            field="balance_cm",
        )
    moments = [measured.moments(), *(effect_of(piece, outline).moments for piece in pieces)]
    return Moments(*map(sum, zip(*moments, strict=True)))


def _mass_for(whole: Moments, balance_cm: float, y_cm: float) -> float:
    """The mass at ``y_cm`` that brings the balance to ``balance_cm``; below 0 where none can."""
    return (whole.first_y - balance_cm * whole.mass) / (balance_cm - y_cm)


def _stepped(mass_g: float) -> float:
    if mass_g > MOST_G:
        raise PieceError(
            f"That would take {mass_g:.0f} g; a completion adds at most {MOST_G:.0f} g. Take weight away "
            "at the other end, or plan less.",
            code="too_much",
        )
    return round(round(mass_g / MASS_STEP_G) * MASS_STEP_G, 2)


def hold_balance(measured: MeasuredSpecs, pieces: Sequence[Piece], outline: Outline) -> Completion:
    """The counterweight that brings the balance back to where it was before the plan.

    It goes into the butt cap where the balance moved toward the tip, to the tip where it moved
    toward the butt.

    Raises:
        SpecError: weight or balance were never read.
        PieceError: the balance is where it was, or the counterweight would be absurd.
    """
    whole = _whole(measured, pieces, outline)
    before = measured.moments().balance_cm
    ends = [
        ("inside the butt cap", _height(outline, "butt_cap")),
        ("at the tip", outline.length_cm - 0.5),
    ]
    for where, y in ends:
        mass = _mass_for(whole, before, y)
        if mass >= LEAST_G:
            return Completion(_stepped(mass), y, where)
    raise PieceError("The balance is where it was; there is nothing to counterweigh.", code="held")


def shift_balance(
    measured: MeasuredSpecs,
    pieces: Sequence[Piece],
    outline: Outline,
    *,
    by_cm: float,
    axis_cm: float,
) -> Completion:
    """The piece on the swing axis that shifts the balance and leaves the swing weight as it is.

    ``by_cm`` is positive toward the tip. Raises as :func:`hold_balance`; toward the tip nothing that
    is added keeps the swing weight.
    """
    whole = _whole(measured, pieces, outline)
    if not 0 <= axis_cm <= outline.handle_length_cm:
        raise PieceError(
            "The swing axis does not cross the handle, so nothing can lie on it.",
            code="no_handle_there",
        )
    mass = _mass_for(whole, whole.balance_cm + by_cm, axis_cm)
    if mass < LEAST_G:
        raise PieceError(
            "On the axis weight only draws the balance toward the butt. Toward the tip all that is added "
            "raises the swing weight: take weight away near the butt instead.",
            code="wrong_way",
            field="amount",
        )
    return Completion(_stepped(mass), axis_cm, "on the swing axis")


def plain_heft(
    measured: MeasuredSpecs,
    pieces: Sequence[Piece],
    outline: Outline,
    *,
    mass_g: float,
    axis_cm: float,
) -> Completion:
    """Where so much weight moves the rest least: balance and swing weight in parts of a good match.

    Raises as :func:`hold_balance`.
    """
    whole = _whole(measured, pieces, outline)

    def moved(y: float) -> float:
        balance = (whole.first_y + mass_g * y) / (whole.mass + mass_g) - whole.balance_cm
        swing = mass_g * (y - axis_cm) ** 2 / 1000
        return (balance / USUAL_TOLERANCE["balance_cm"]) ** 2 + (
            swing / USUAL_TOLERANCE["swingweight_kgcm2"]
        ) ** 2

    y = min(_layable(outline), key=moved)
    where = "in the handle" if y <= outline.handle_length_cm else "near the balance point"
    return Completion(_stepped(mass_g), y, where)


def _height(outline: Outline, key: str) -> float:
    return next(site.y_cm for site in sites_of(outline) if site.key == key)


def _layable(outline: Outline) -> list[float]:
    """Distances from the butt at which weight can lie near the middle of a frame."""
    if outline.sport is Sport.TENNIS:
        (_, top), _ = shaft_ends(outline)
    else:
        top = outline.rim(Face.OUTER).point(0.0).y
    first = _height(outline, "butt_cap")
    count = int((top - first) / HEFT_STEP_CM)
    return [round(first + i * HEFT_STEP_CM, 2) for i in range(count + 1)]


def rounded(pieces: Sequence[Piece], step_cm: float) -> list[Piece]:
    """The pieces with every strip's length on the cutting step; pairs stay equal to the left and right.

    Raises:
        PieceError: no step.
    """
    if not 0.05 <= step_cm <= 10:
        raise PieceError("A cutting step is 0.5 mm to 10 cm.", code="bad_step", field="amount")
    return [_rounded(piece, step_cm) if isinstance(piece, RimStrip) else piece for piece in pieces]


def _rounded(strip: RimStrip, step_cm: float) -> RimStrip:
    steps = max(round(strip.length_cm.value / step_cm), 1)
    length = max(steps * step_cm, SHORTEST_STRIP_CM)
    return replace(strip, length_cm=strip.length_cm._replace(value=round(length, 3)))
