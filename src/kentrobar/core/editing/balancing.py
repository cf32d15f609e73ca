"""One piece that completes a plan: hold the balance, shift it at a kept swing weight, add plain heft.

With the frame and its pieces at mass M and first moment S, a piece of mass m at y brings the balance to
b* where S + m·y = b*·(M + m), hence m = (S - b*·M)/(b* - y). On the swing axis a piece adds no swing
weight at all, near the balance point it leaves the balance where it is.
"""

from __future__ import annotations

import math
from typing import Final, NamedTuple

from kentrobar.core.body.moments import Moments
from kentrobar.core.body.specs import BALANCE, SWING_WEIGHT
from kentrobar.core.body.sport import Sport
from kentrobar.core.editing.placing import Order, lay, site_at_height
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.editing.shelf import Shelf, Stock
from kentrobar.core.frame.anatomy import ON_AXIS_CM
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.rim import Face
from kentrobar.core.frame.sites import Zone, shaft_ends, sites_of
from kentrobar.core.quantities.errors import PieceError, SpecError
from kentrobar.core.quantities.units import GCM2_PER_KGCM2
from kentrobar.core.weight.materials import Form
from kentrobar.core.weight.pieces import Piece, effect_of

COUNTERWEIGHT: Final = "counterweight"  # by which a piece that holds the balance is known again
MASS_STEP_G: Final = 0.1
LEAST_G: Final = 0.05  # less is not worth laying
MOST_G: Final = 60.0  # more than that is no completion but another frame
HEFT_STEP_CM: Final = 0.5
BELOW_TIP_CM: Final = 0.5  # where a counterweight at the tip lies
HANDLE_STRIP_CM: Final = 8.0  # of tape along the handle: longer ones are cut in several


class Completion(NamedTuple):
    """A mass to lay at a distance from the butt, in steps of a scale, and where that is in words."""

    mass_g: float
    y_cm: float
    where: str
    is_counterweight: bool = False


def _whole(plan: PlanState) -> Moments:
    measured = plan.measured
    if not measured.knows_balance:
        raise SpecError(
            "Static weight and balance of this frame are not measured. Measure them first.",
            code="not_measured",
            field="balance_cm",
        )
    moments = [measured.moments(), *(effect_of(piece, plan.outline).moments for piece in plan.pieces)]
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


def without_counterweight(plan: PlanState) -> PlanState:
    """The plan without what was laid to hold its balance."""
    return plan.only(each.number for each in plan.placed if each.piece.label != COUNTERWEIGHT)


def is_held(plan: PlanState) -> bool:
    """Whether the balance is where it was, so that nothing is to be counterweighed."""
    try:
        hold_balance(plan)
    except PieceError as error:
        return error.code == "held"
    return False


def hold_balance(plan: PlanState) -> Completion:
    """The counterweight that brings the balance back to where it was before the plan.

    It goes into the butt cap where the balance moved toward the tip, to the tip where it moved
    toward the butt.

    Raises:
        SpecError: weight or balance were never read.
        PieceError: the balance is where it was, or the counterweight would be absurd.
    """
    whole = _whole(plan)
    before = plan.measured.moments().balance_cm
    ends = [
        ("inside the butt cap", _height(plan.outline, "butt_cap")),
        ("at the tip", plan.outline.length_cm - BELOW_TIP_CM),
    ]
    for where, y in ends:
        mass = _mass_for(whole, before, y)
        if mass >= LEAST_G:
            return Completion(_stepped(mass), y, where, is_counterweight=True)
    raise PieceError("The balance has not moved: nothing to counterbalance.", code="held")


def shift_balance(plan: PlanState, by_cm: float) -> Completion:
    """The piece on the swing axis that shifts the balance and leaves the swing weight as it is.

    ``by_cm`` is positive toward the tip. Raises as :func:`hold_balance`; toward the tip nothing that
    is added keeps the swing weight.
    """
    whole, axis_cm = _whole(plan), plan.axis_cm
    if not 0 <= axis_cm <= plan.outline.handle_length_cm:
        raise PieceError(
            "The swing axis does not cross the handle, so nothing can go there.", code="no_handle_there"
        )
    mass = _mass_for(whole, whole.balance_cm + by_cm, axis_cm)
    if mass < LEAST_G:
        raise PieceError(
            "Weight on the axis moves the balance toward the butt only. To move it the other way, "
            "remove weight near the butt.",
            code="wrong_way",
            field="amount",
        )
    return Completion(_stepped(mass), axis_cm, "on the swing axis")


def plain_heft(plan: PlanState, mass_g: float) -> Completion:
    """Where so much weight moves the rest least: balance and swing weight in parts of a good match.

    Raises as :func:`hold_balance`.
    """
    if not mass_g > 0:
        raise PieceError("Enter a weight above 0.", code="no_mass", field="amount")
    whole, axis_cm = _whole(plan), plan.axis_cm

    def moved(y: float) -> float:
        balance = (whole.first_y + mass_g * y) / (whole.mass + mass_g) - whole.balance_cm
        swing = mass_g * (y - axis_cm) ** 2 / GCM2_PER_KGCM2
        return (balance / BALANCE.tolerance) ** 2 + (swing / SWING_WEIGHT.tolerance) ** 2

    y = min(_layable(plan.outline), key=moved)
    where = "in the handle" if y <= plan.outline.handle_length_cm else "near the balance point"
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


def counterbalanced(found: Completion, stock: Stock, outline: Outline) -> list[Piece]:
    """The pieces of this material that make a completion; tape along the handle lies side by side.

    Raises:
        PieceError, OutlineError: the material cannot lie there.
    """
    site = site_at_height(outline, found.y_cm)
    mirrored = abs(site.x_cm) > ON_AXIS_CM
    amount, count = found.mass_g / (1 + mirrored), 1
    if stock.form is Form.TAPE:
        amount /= stock.density.value
        count = math.ceil(amount / HANDLE_STRIP_CM)
    order = Order(stock, amount / count, outline.usual_face, mirrored)
    return [lay(order, site, outline) for _ in range(count)]


def usual_stock(found: Completion, shelf: Shelf, outline: Outline) -> Stock:
    """What a completion is usually made of: putty that comes off clean in the handle, tape elsewhere.

    Raises:
        PieceError: the shelf has nothing for it.
    """
    site = site_at_height(outline, found.y_cm)
    form = Form.PUTTY if site.zone in (Zone.HANDLE, Zone.CAVITY) else Form.TAPE
    stock = shelf.usual(form, is_clean=True)
    if stock:
        return stock
    raise PieceError("Your stock has nothing for it. Add a tape and a putty first.", code="no_material")
