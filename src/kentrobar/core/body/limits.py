"""What no body can have, whatever it is made of: all of its mass lies between its ends and its sides.

With all mass between 0 and L, k² ≤ b·(L - b) (the Bhatia-Davis inequality); with all of it within half the
width of the long axis, the twist weight is at most M·(W/2)².
"""

from __future__ import annotations

from kentrobar.core.body.moments import Moments
from kentrobar.core.quantities.errors import SpecError
from kentrobar.core.quantities.units import GCM2_PER_KGCM2


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
