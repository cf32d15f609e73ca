"""What people say of weight, tried on one frame: what it does to this very one answers it.

Each saying is tried by laying something; the specs before and after are those of the frame at hand. What a
hand feels of a frame held level is the torque about it, M·g·(b - p): it is told beside them.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.body.specs import Specs
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.frame.anatomy import GRIP_STARTS_CM, IN_CAP_CM
from kentrobar.core.frame.outline import Outline
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.weight.builds import USUAL_FITTINGS, FittingKind
from kentrobar.core.weight.pieces import WEIGHED_U_G, Piece, PointPiece, Sleeve
from kentrobar.core.weight.prediction import Prediction, predict

IN_HANDLE_G: Final = 5.0  # a usual dose in the butt cap
SHIFTED_G: Final = 5.0  # taken from the butt and laid at the tip: the weight stays
BELOW_TIP_CM: Final = 1.0


class Saying(NamedTuple):
    """What is said, and what is laid on a frame to try it."""

    said: str
    tried: Callable[[Outline], list[Piece]]


def _body(mass_g: float, y_cm: float, *, removed: bool = False) -> PointPiece:
    return PointPiece(mass_g=Estimate(mass_g, WEIGHED_U_G), y_cm=y_cm, removed=removed)


def _in_handle(_: Outline) -> list[Piece]:
    return [_body(IN_HANDLE_G, IN_CAP_CM)]


def _shifted(outline: Outline) -> list[Piece]:
    return [_body(SHIFTED_G, outline.length_cm - BELOW_TIP_CM), _body(SHIFTED_G, IN_CAP_CM, removed=True)]


def _round_handle(mass_g: float) -> Callable[[Outline], list[Piece]]:
    return lambda outline: [
        Sleeve(mass_g=Estimate(mass_g, WEIGHED_U_G), from_cm=GRIP_STARTS_CM, to_cm=outline.handle_length_cm)
    ]


OVERGRIP_G: Final = USUAL_FITTINGS[FittingKind.OVERGRIP].mass_g
LEATHER_MORE_G: Final = USUAL_FITTINGS[FittingKind.LEATHER].mass_g - USUAL_FITTINGS[FittingKind.GRIP].mass_g

SAYINGS: Final[Mapping[str, Saying]] = MappingProxyType(
    {
        "handle": Saying("Weight in the handle lowers the swing weight.", _in_handle),
        "lighter": Saying("Five grams in the handle, and it feels lighter.", _in_handle),
        "overgrip": Saying("An overgrip does not count.", _round_handle(OVERGRIP_G)),
        "leather": Saying("A leather grip only makes it head-light.", _round_handle(LEATHER_MORE_G)),
        "same": Saying("The same weight, so the same frame.", _shifted),
    }
)


def tried(key: str, plan: PlanState) -> Prediction:
    """What comes of trying a saying on a frame with what is laid on it."""
    outline = plan.outline
    return predict(
        plan.measured,
        [*plan.pieces, *SAYINGS[key].tried(outline)],
        length_cm=outline.length_cm,
        axis_cm=plan.axis_cm,
        outline=outline,
    )


def level_torque_gcm(specs: Specs, hand_cm: float) -> float | None:
    """What holding a frame level takes about a hand, g·cm; times g it is a torque. None where not known."""
    mass, balance = specs.mass_g, specs.balance_cm
    if not (mass and balance):
        return None
    return mass.value * (balance.value - hand_cm)
