"""What no body can have, whatever it is made of: the one judge of impossible specs, read or predicted.

All of its mass lies between its ends and its sides. With all mass between 0 and L, k² ≤ b·(L - b) (the
Bhatia-Davis inequality); with all of it within half the width of the long axis, the twist weight is at most
M·(W/2)². Readings (:func:`require_possible`) are told about the axis that they were taken about, a prediction
(:func:`require_body`) by its moments; both rest on the same bounds.
"""

from __future__ import annotations

from typing import Final

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.moments import Moments
from kentrobar.core.body.ranges import PLAUSIBLE
from kentrobar.core.body.specs import READ, STATIC_WEIGHT, SWING_WEIGHT, TWIST_WEIGHT, ReadSpec
from kentrobar.core.quantities.errors import SpecError
from kentrobar.core.quantities.estimates import Quantity
from kentrobar.core.quantities.units import GCM2_PER_KGCM2

WIDEST_CM: Final = 30.0  # of any frame, where nobody measured its width
TENFOLD: Final = 10.0  # so far beyond what is plausible in any sport, no frame is


def most_recoil_kgcm2(mass_g: float, balance_cm: float, length_cm: float) -> float:
    """The greatest recoil weight of a body so heavy, so balanced and so long, kg·cm²."""
    return mass_g * balance_cm * (length_cm - balance_cm) / GCM2_PER_KGCM2


def most_twist_kgcm2(mass_g: float, width_cm: float) -> float:
    """The greatest twist weight of a body so heavy and so wide, kg·cm²."""
    return mass_g * (width_cm / 2) ** 2 / GCM2_PER_KGCM2


def require_body(
    moments: Moments,
    *,
    length_cm: float,
    width_cm: float,
    knows_balance: bool,
    knows_recoil: bool,
    knows_twist: bool,
) -> None:
    """Refuse moments that no body of this length and width has; only what is known is looked at.

    Raises:
        SpecError: ``field`` names the spec at fault.
    """
    if not knows_balance:
        return
    mass = moments.mass
    if mass <= 0:
        raise SpecError(
            f"Nothing would be left of the frame: {mass:.1f} g.", code="nothing_left", field="mass_g"
        )
    b = moments.balance_cm
    if not 0 <= b <= length_cm:
        raise SpecError(
            f"It would balance at {b:.1f} cm, off the frame, which reaches from 0 to {length_cm:.1f} cm.",
            code="balance_beyond_frame",
            field="balance_cm",
        )
    most = most_recoil_kgcm2(mass, b, length_cm)
    if knows_recoil and not 0 < moments.recoil_kgcm2 <= most:
        raise SpecError(
            f"Its recoil weight would be {moments.recoil_kgcm2:.1f} kg·cm²; a frame so heavy, so long and so "
            f"balanced has between 0 and {most:.1f}.",
            code="impossible_swingweight",
            field="swingweight_kgcm2",
        )
    most = most_twist_kgcm2(mass, width_cm)
    if knows_twist and not 0 < moments.twistweight_kgcm2 <= most:
        raise SpecError(
            f"Its twist weight would be {moments.twistweight_kgcm2:.1f} kg·cm²; a frame so heavy and so "
            f"wide has between 0 and {most:.1f}.",
            code="impossible_twistweight",
            field="twistweight_kgcm2",
        )


def require_possible(measured: MeasuredSpecs, length_cm: float, width_cm: float = WIDEST_CM) -> None:
    """Refuse specs that no real frame of this length and width can have.

    Raises:
        SpecError: ``field`` names the quantity at fault.
    """
    for spec in (STATIC_WEIGHT, SWING_WEIGHT, TWIST_WEIGHT):
        quantity = measured.of(spec)
        if quantity and not quantity.value > 0:
            raise SpecError(f"A {spec.noun} is above 0.", code="not_positive", field=spec.key)
    for spec in READ:
        require_conceivable(spec, measured.of(spec))
    balance = measured.balance_cm
    if balance and not 0 < balance.value < length_cm:
        raise SpecError(
            f"A balance of {balance.value:.1f} cm is beyond the frame, which is {length_cm:.1f} cm "
            "long; balance is measured from the butt end.",
            code="balance_beyond_frame",
            field="balance_cm",
        )
    if not (-20 <= measured.axis_cm < length_cm):
        raise SpecError(
            "The swing axis lies across the handle; give its distance from the butt, such as 10 cm.",
            code="axis_beyond_frame",
            field="axis_cm",
        )
    if measured.knows_recoil:
        _require_possible_spread(measured, length_cm)
    _require_possible_twist(measured, width_cm)


def require_conceivable(spec: ReadSpec, quantity: Quantity) -> None:
    """Refuse what is outside ten times of what any racket or paddle is, and a ± that says nothing.

    Raises:
        SpecError: ``field`` is the spec's key.
    """
    if not quantity:
        return
    bands = [plausible[spec.key] for plausible in PLAUSIBLE.values()]
    low, high = min(b.low for b in bands) / TENFOLD, max(b.high for b in bands) * TENFOLD
    if not low <= quantity.value <= high:
        raise SpecError(
            f"No frame has a {spec.noun} of {quantity.value:g} {spec.unit}; check the number and its unit.",
            code="inconceivable",
            field=spec.key,
        )
    if quantity.u > quantity.value:
        raise SpecError(
            f"A ± of {quantity.u:g} {spec.unit} on a {spec.noun} of {quantity.value:g} {spec.unit} says "
            "nothing; check it, or leave the reading out.",
            code="says_nothing",
            field=spec.key,
        )


def _require_possible_spread(measured: MeasuredSpecs, length_cm: float) -> None:
    moments = measured.moments()
    b, recoil = moments.balance_cm, moments.recoil_kgcm2
    lever = moments.mass * (b - measured.axis_cm) ** 2 / GCM2_PER_KGCM2
    most = lever + most_recoil_kgcm2(moments.mass, b, length_cm)
    shown = moments.swingweight_kgcm2(measured.axis_cm)
    if lever < shown <= most:
        return
    side, limit = ("above", most) if recoil > 0 else ("below", lever)
    raise SpecError(
        f"A swing weight of {shown:.1f} at {measured.axis_cm:g} cm is {side} what {moments.mass:.1f}"
        f" g balanced at {b:.2f} cm can have ({limit:.1f}); check weight, balance, swing weight "
        "and its axis.",
        code="impossible_swingweight",
        field="swingweight_kgcm2",
    )


def _require_possible_twist(measured: MeasuredSpecs, width_cm: float) -> None:
    mass, twist = measured.mass_g, measured.twistweight_kgcm2
    if not (mass and twist):
        return
    most = most_twist_kgcm2(mass.value, width_cm)
    if twist.value > most:
        raise SpecError(
            f"A twist weight of {twist.value:.1f} is above what {mass.value:.1f} g within {width_cm:.1f} cm "
            f"of width can have ({most:.1f}); check it and its unit.",
            code="impossible_twistweight",
            field="twistweight_kgcm2",
        )
