"""How thick what lies round a handle is, and what that does to the size of the grip.

A layer of thickness t all round the handle adds about 2πt to the circumference, a strip along it the part of
that which it covers: on one of eight bevels 2t·tan(π/8) of an octagon, 0.83t against 2πt/8 = 0.79t. One grip
size is an eighth of an inch. Usual thicknesses are the project's own rule of thumb; a shop measures its own.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterable
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.quantities.errors import UnitError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import CM_PER_IN, LENGTH, MM_PER_CM, parse_quantity

SIZE_MM: Final = CM_PER_IN * MM_PER_CM / 8
THICKNESS_U_MM: Final = 0.1  # of one that a ruler or a gauge told
HARDLY_FELT_MM: Final = SIZE_MM / 4  # of circumference: so much less or more counts as the same size

# Thickness in mm with its ±, by the names of kinds of fittings and of materials.
USUAL_MM: Final = MappingProxyType(
    {
        "grip": Estimate(1.8, 0.3),
        "leather": Estimate(1.4, 0.2),
        "overgrip": Estimate(0.6, 0.15),
        "factory_tape": Estimate(0.3, 0.1),
        "lead_tape": Estimate(0.25, 0.08),
        "tungsten_tape": Estimate(0.5, 0.15),
        "copper_tape": Estimate(0.12, 0.04),
        "edge_tape": Estimate(0.2, 0.07),
        "silicone": Estimate(0.5, 0.2),
    }
)


SMALLEST_MM: Final = 90.0  # of the circumference of a grip
LARGEST_MM: Final = 140.0
SIZE_0_MM: Final = 4 * CM_PER_IN * MM_PER_CM
_NUMBERED = re.compile(r"^(?:l|#|no\.?|size)?\s*(?P<number>[0-7])$", re.IGNORECASE)
_EIGHTHS: Final = ("", "1/8", "1/4", "3/8", "1/2", "5/8", "3/4", "7/8")
_NEAR_MM: Final = 0.4  # so near to an eighth of an inch a circumference is given as one


def parse_grip_size(text: str) -> float:
    """The circumference of a grip, mm: "4 3/8", "L3" or "3" (eighths above 4 in), "111 mm".

    Raises:
        UnitError: it is none of these, or no grip is so thick or so thin.
    """
    numbered = _NUMBERED.match(text.strip())
    if numbered:
        return SIZE_0_MM + int(numbered["number"]) * SIZE_MM
    value, unit = parse_quantity(text, LENGTH, "in")
    mm = MM_PER_CM * LENGTH.to_base(value, unit)
    if not SMALLEST_MM <= mm <= LARGEST_MM:
        raise UnitError(
            f"“{text.strip()[:20]}” is no grip size; type one such as 4 3/8 in, L3 or 111 mm.",
            code="no_grip_size",
        )
    return mm


def grip_size_text(mm: float) -> str:
    """A circumference, mm, as grips are sold: in eighths of an inch, else in millimetres."""
    eighths = round(mm / SIZE_MM)
    if abs(mm - eighths * SIZE_MM) > _NEAR_MM:
        return f"{mm:.1f} mm"
    whole, part = divmod(eighths, 8)
    return f"{whole} {_EIGHTHS[part]}".strip() + " in"


def sold_size_text(mm: float) -> str:
    """The size that a circumference, mm, is nearest to: "about 4 1/2 in"."""
    return f"about {grip_size_text(round(mm / SIZE_MM) * SIZE_MM)}"


class Layer(NamedTuple):
    """What lies round the handle or comes off it: so many mm thick, ``sign`` +1 laid or −1 taken away.

    ``covers`` is the part of the circumference that it covers: 1 all round, 1/8 a strip on one bevel.
    """

    thickness_mm: Estimate
    sign: int
    covers: float = 1.0


def circumference_change_mm(layers: Iterable[Layer]) -> Estimate:
    """By how much these layers change the circumference of the grip, mm, with ±."""
    value = variance = 0.0
    for (thickness, u), sign, covers in layers:
        value += sign * 2 * math.pi * covers * thickness
        variance += (2 * math.pi * covers * u) ** 2
    return Estimate(value, math.sqrt(variance))


def in_sizes(change_mm: float) -> str:
    """A change of circumference in grip sizes, to the nearest quarter: "about 1 1/4 sizes larger"."""
    quarters = round(abs(change_mm) / (SIZE_MM / 4))
    if not quarters:
        return "hardly a difference in size"
    whole, part = divmod(quarters, 4)
    fraction = {0: "", 1: "1/4", 2: "1/2", 3: "3/4"}[part]
    number = " ".join(each for each in (str(whole) if whole else "", fraction) if each)
    noun = "sizes" if quarters > 4 else "size"
    return f"about {number} {noun if whole else 'of a size'} {'larger' if change_mm > 0 else 'smaller'}"
