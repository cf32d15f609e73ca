"""Numbers as a person reads them: in the units they chose, with sign and ± where due."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

from kentrobar.core.estimates import Estimate, Quantity
from kentrobar.core.specs import Specs
from kentrobar.core.units import LENGTH, LINE_DENSITY, MASS

UNKNOWN = "unknown"
_MASS_DECIMALS = {"g": 1, "oz": 2}
_LENGTH_DECIMALS = {"mm": 1, "cm": 2, "in": 2}


@dataclass(frozen=True)
class Units:
    """The units one person reads in. ``balance`` may be "pt" for points."""

    mass: str = "g"
    length: str = "cm"
    balance: str = "mm"

    def mass_text(self, grams: float, signed: bool = False) -> str:
        return _number(MASS.from_base(grams, self.mass), _MASS_DECIMALS[self.mass], signed)

    def piece_mass_text(self, grams: float) -> str:
        """The weight of one piece, finer than that of a frame."""
        return _number(MASS.from_base(grams, self.mass), _MASS_DECIMALS[self.mass] + 1)

    def length_text(self, cm: float) -> str:
        return _number(LENGTH.from_base(cm, self.length), _LENGTH_DECIMALS[self.length])

    @property
    def ruler(self) -> str:
        """What is read off a ruler at the bench: millimetres or inches."""
        return "in" if self.length == "in" else "mm"

    def ruler_text(self, cm: float, decimals: int = 0) -> str:
        """A length as it is cut and marked; an inch takes two more digits than a millimetre."""
        decimals += 2 * (self.ruler == "in")
        return _number(LENGTH.from_base(cm, self.ruler), decimals)

    @property
    def tape(self) -> str:
        """What a roll of tape is measured out in."""
        return "in" if self.length == "in" else "cm"

    @property
    def line_density(self) -> str:
        """Tape is told by the gram per length, by whom counts in ounces too."""
        return f"g/{self.tape}"

    def line_density_text(self, g_per_cm: float) -> str:
        return f"{LINE_DENSITY.from_base(g_per_cm, self.line_density):.4g}"

    def axis_text(self, cm: float) -> str:
        """A swing axis with its unit: that of lengths, or the one in which it is a round number."""
        for unit in (self.length, "cm", "in"):
            value = LENGTH.from_base(cm, unit)
            if abs(value - round(value, 1)) < 1e-6:
                return f"{value:.4g} {unit}"
        return f"{self.length_text(cm)} {self.length}"


def _number(value: float, decimals: int, signed: bool = False) -> str:
    """The number with a true minus sign and never a negative zero."""
    rounded = round(value, decimals) + 0.0
    text = f"{abs(rounded):.{decimals}f}"
    if rounded < 0:
        return f"−{text}"
    return f"+{text}" if signed and rounded > 0 else text


def points_text(value: float) -> str:
    """Points of balance with their side: 6.0 pt HL."""
    side = "even" if round(value, 1) == 0 else ("HL" if value > 0 else "HH")
    return f"{abs(value):.1f} pt {side}"


@dataclass(frozen=True)
class ShownSpec:
    """One spec as it is shown: a name, a unit, and how its numbers are written."""

    key: str
    name: str
    unit: str
    decimals: int
    factor: float = 1.0  # from the core's unit to the shown one

    def finer(self) -> ShownSpec:
        """The same with one more digit, for small changes."""
        return replace(self, decimals=self.decimals + 1)

    def value(self, quantity: Quantity) -> str:
        if not isinstance(quantity, Estimate):
            return UNKNOWN
        return _number(quantity.value * self.factor, self.decimals)

    def change(self, quantity: Quantity) -> str:
        if not isinstance(quantity, Estimate):
            return UNKNOWN
        return _number(quantity.value * self.factor, self.decimals, signed=True)

    def told(self, after: Specs, change: Specs) -> dict[str, str]:
        """Name, unit, and what it comes to by how much."""
        return {
            "name": self.name,
            "unit": self.unit,
            "after": self.value(getattr(after, self.key)),
            "u": self.spread(getattr(after, self.key)),
            "change": self.change(getattr(change, self.key)),
        }

    def spread(self, quantity: Quantity) -> str:
        """The ± with one more digit where it would read 0."""
        if not isinstance(quantity, Estimate):
            return ""
        u = quantity.u * abs(self.factor)
        decimals = self.decimals if round(u, self.decimals) > 0 else self.decimals + 1
        return f"±{u:.{decimals}f}"


@lru_cache(maxsize=64)
def shown_specs(units: Units) -> list[ShownSpec]:
    """The five specs of the board, in the order of the work, in a person's units."""
    mass_factor = MASS.from_base(1.0, units.mass)
    return [
        ShownSpec("mass_g", "Static weight", units.mass, _MASS_DECIMALS[units.mass], mass_factor),
        _shown_balance(units),
        ShownSpec("swingweight_kgcm2", "Swing weight", "kg·cm²", 1),
        ShownSpec("twistweight_kgcm2", "Twist weight", "kg·cm²", 2),
        ShownSpec("recoil_kgcm2", "Recoil weight", "kg·cm²", 1),
    ]


def _shown_balance(units: Units) -> ShownSpec:
    if units.balance == "pt":
        return ShownSpec("points_headlight", "Balance", "pt HL", 1)
    factor = LENGTH.from_base(1.0, units.balance)
    return ShownSpec(
        "balance_cm", "Balance", units.balance, _LENGTH_DECIMALS[units.balance], factor
    )


def beside_balance(specs: Specs, units: Units, change: bool = False) -> str:
    """Balance in the other way of counting: points beside a length, a length beside points."""
    if units.balance == "pt":
        if not isinstance(specs.balance_cm, Estimate):
            return ""
        return f"{_number(specs.balance_cm.value * 10, 1, signed=change)} mm"
    if not isinstance(specs.points_headlight, Estimate):
        return ""
    points = specs.points_headlight.value
    return f"{_number(points, 1, signed=True)} pt" if change else points_text(points)
