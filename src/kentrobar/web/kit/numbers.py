"""Numbers as a person reads them: in the units they chose, with sign and ± where due."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from types import MappingProxyType
from typing import Final

from kentrobar.core.body.specs import (
    AIMED_BY_KEY,
    BALANCE,
    FURTHER,
    POINTS,
    READ_BY_KEY,
    RECOIL_WEIGHT,
    STATIC_WEIGHT,
    SWING_WEIGHT,
    TWIST_WEIGHT,
    AimedSpec,
    Spec,
    Specs,
)
from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.estimates import Amount, Estimate, NotMeasured, Quantity
from kentrobar.core.quantities.units import (
    CM_PER_IN,
    CM_PER_POINT,
    INERTIA,
    LENGTH,
    LINE_DENSITY,
    MASS,
    MM_PER_CM,
    POINTS_UNIT,
    SPEED,
    Ruler,
    parse_number,
    parse_quantity,
    points_headlight,
)
from kentrobar.core.weight.grip import in_sizes

UNKNOWN = "unknown"
IN_PERCENT = (SWING_WEIGHT.key, TWIST_WEIGHT.key)
# Decimals of a whole frame's value, by the unit it is shown in.
DECIMALS: Final[Mapping[str, int]] = MappingProxyType(
    {"g": 1, "oz": 2, "mm": 1, "cm": 2, "in": 2, "kg·cm²": 1, "oz·in²": 0}
)


@dataclass(frozen=True)
class Units:
    """The units one person reads in. ``balance`` may be "pt" for points.

    ``further`` is whether they want the specs that few look at beside the usual ones, ``percent`` whether
    changes of inertia in percent too, ``has_points`` whether a balance is counted in points beside.
    """

    mass: str = "g"
    length: str = "cm"
    balance: str = "mm"
    further: bool = False
    inertia: str = "kg·cm²"
    percent: bool = False
    has_points: bool = True

    def of_sport(self, sport: str) -> Units:
        """How the person reads frames of a sport: paddles in percent too, and their balance as a length.

        Points head-light are a custom of rackets: every paddle would be head-heavy.
        """
        if sport == Sport.TENNIS:
            return self
        balance = self.ruler if self.balance == POINTS_UNIT else self.balance
        return replace(self, percent=True, balance=balance, has_points=False)

    def of(self, spec: AimedSpec) -> str:
        """The unit in which the person types and reads a spec."""
        if spec is BALANCE:
            return self.balance
        return self.mass if spec.dimension is MASS else self.inertia

    def typed_unit(self, spec: AimedSpec) -> str:
        """The unit of a spec where points would not do: a balance is a length from the butt."""
        return self.length if spec is BALANCE else self.of(spec)

    def spec_text(self, spec: AimedSpec, value: float, *, signed: bool = False) -> str:
        """A value of a spec, in its base unit, with its unit; a balance as a length from the butt."""
        unit = self.typed_unit(spec)
        decimals = spec.decimals - (1 if unit == "oz·in²" else 0) + (1 if unit == "oz" else 0)
        return f"{written(spec.dimension.from_base(value, unit), decimals, signed)} {unit}"

    def inertia_text(self, kgcm2: float, decimals: int = 1) -> str:
        """Swing, twist or recoil weight with its unit."""
        finer = decimals - (1 if self.inertia == "oz·in²" else 0)
        return f"{written(INERTIA.from_base(kgcm2, self.inertia), finer)} {self.inertia}"

    def mass_text(self, grams: float, signed: bool = False) -> str:
        """The weight of a frame, without its unit."""
        return written(MASS.from_base(grams, self.mass), DECIMALS[self.mass], signed)

    def piece_mass_text(self, grams: float) -> str:
        """The weight of one piece, finer than that of a frame, without its unit."""
        return written(MASS.from_base(grams, self.mass), DECIMALS[self.mass] + 1)

    def length_text(self, cm: float) -> str:
        """A length without its unit."""
        return written(LENGTH.from_base(cm, self.length), DECIMALS[self.length])

    @cached_property
    def lengths(self) -> Ruler:
        """How lengths are read on the page."""
        return Ruler(self.length_text, self.length)

    @property
    def ruler(self) -> str:
        """What is read off a ruler at the bench: millimetres or inches."""
        return "in" if self.length == "in" else "mm"

    def ruler_text(self, cm: float, decimals: int = 0) -> str:
        """A length as it is cut and marked; an inch takes two more digits than a millimetre."""
        decimals += 2 * (self.ruler == "in")
        return written(LENGTH.from_base(cm, self.ruler), decimals)

    @cached_property
    def bench_lengths(self) -> Ruler:
        """How lengths are read off a ruler at the bench."""
        return Ruler(self.ruler_text, self.ruler)

    @property
    def tape(self) -> str:
        """What a roll of tape is measured out in."""
        return "in" if self.length == "in" else "cm"

    @property
    def speed(self) -> str:
        """What speeds of balls and swings are told in."""
        return "mph" if self.length == "in" else "km/h"

    def speed_text(self, ms: float, signed: bool = False) -> str:
        """A speed without its unit."""
        return written(SPEED.from_base(ms, self.speed), 1, signed)

    @property
    def line_density(self) -> str:
        """Tape is told by the gram per length, by whom counts in ounces too."""
        return f"g/{self.tape}"

    def line_density_text(self, g_per_cm: float) -> str:
        """Weight per length without its unit."""
        return f"{LINE_DENSITY.from_base(g_per_cm, self.line_density):.4g}"

    def axis_text(self, cm: float) -> str:
        """A swing axis in the person's unit of lengths, with it; a round number without digits that are 0."""
        value = LENGTH.from_base(cm, self.length)
        return f"{value:.2f}".rstrip("0").rstrip(".") + f" {self.length}"

    def axis_typed(self, cm: float) -> tuple[str, str]:
        """A swing axis as it stands in a field: exact, in the unit in which it is a round number, and that unit."""
        for unit in (self.length, "cm", "in"):
            value = LENGTH.from_base(cm, unit)
            if abs(value - round(value, 1)) < 1e-6:
                return f"{value:.4g}", unit
        return f"{LENGTH.from_base(cm, self.length):.6g}", self.length

    def tolerance_text(self, spec: AimedSpec, give: float) -> str:
        """A tolerance to start from, in the unit a spec is typed in, in one digit, or two that begin with 1 or 2."""
        unit = self.of(spec)
        value = give / CM_PER_POINT if unit == POINTS_UNIT else spec.dimension.from_base(give, unit)
        short = f"{value:.1g}"
        return short if short.strip("0.")[0] not in "12" else f"{float(f'{value:.2g}'):g}"


def written(value: float, decimals: int, signed: bool = False) -> str:
    """The number with a true minus sign and never a negative zero."""
    rounded = round(value, decimals) + 0.0
    text = f"{abs(rounded):.{decimals}f}"
    if rounded < 0:
        return f"−{text}"
    return f"+{text}" if signed and rounded > 0 else text


def grip_change_text(change_mm: Estimate, units: Units) -> str:
    """A change of the circumference of a grip, with ± and in sizes."""
    value, u, decimals = (
        (change_mm.value / MM_PER_CM / CM_PER_IN, change_mm.u / MM_PER_CM / CM_PER_IN, 2)
        if units.length == "in"
        else (change_mm.value, change_mm.u, 1)
    )
    unit = "in" if units.length == "in" else "mm"
    return (
        f"{written(value, decimals, signed=True)} ±{u:.{decimals}f} {unit} round, {in_sizes(change_mm.value)}"
    )


def price_text(amount: Amount, currency: str, unknown: str = "") -> str:
    """A price in the shop's currency; ``unknown`` where one was never said."""
    return unknown if isinstance(amount, NotMeasured) else f"{amount:.2f} {currency}"


def points_text(value: float) -> str:
    """Points of balance with their side: 6.0 pt HL."""
    side = "even" if round(value, 1) == 0 else ("HL" if value > 0 else "HH")
    return f"{abs(value):.1f} pt {side}"


@dataclass(frozen=True)
class ShownSpec:
    """One spec as one person is shown it: a name, a unit, and how its numbers are written."""

    key: str
    name: str
    unit: str
    decimals: int
    factor: float = 1.0  # from the core's unit to the shown one

    @property
    def is_balance(self) -> bool:
        return self.key in (BALANCE.key, POINTS.key)

    @property
    def read_key(self) -> str:
        """The key of what is read for it: points are read as a balance."""
        return BALANCE.key if self.key == POINTS.key else self.key

    def finer(self) -> ShownSpec:
        """The same with one more digit, for small changes."""
        return replace(self, decimals=self.decimals + 1)

    def value(self, quantity: Quantity) -> str:
        """The value without its unit, or that it is unknown."""
        return quantity.text(lambda q: written(q.value * self.factor, self.decimals), UNKNOWN)

    def change(self, quantity: Quantity) -> str:
        """A change with its sign, without its unit, or that it is unknown."""
        return quantity.text(lambda q: written(q.value * self.factor, self.decimals, signed=True), UNKNOWN)

    @property
    def _width_factor(self) -> float:
        """From the base unit of a difference to what is shown: points are told for a balance."""
        return 1 / CM_PER_POINT if self.key == POINTS.key else self.factor

    def width(self, difference: float) -> str:
        """A difference of what is read without its unit, finer than a whole frame's value."""
        return written(difference * self._width_factor, self.decimals + 1)

    def moved(self, change: float) -> str:
        """A change of what is read with its sign; points count the other way than the balance."""
        sign = -1.0 if self.key == POINTS.key else 1.0
        return written(sign * change * self._width_factor, self.decimals, signed=True)

    def of_length(self, value: float, length_cm: float) -> str:
        """A value of what is read with its unit; points are told of a frame so long."""
        if self.key == POINTS.key:
            return points_text(points_headlight(value, length_cm))
        return f"{self.value(Estimate(value))} {self.unit}"

    def read(self, text: str) -> float:
        """A typed value or change in the core's unit: in the unit shown, or in one that is typed with it.

        Raises:
            UnitError: it is no number, or of another kind.
        """
        number, rest = parse_number(text)
        if not rest or self.key == POINTS.key:
            return number / self.factor
        dimension = AIMED_BY_KEY[self.read_key].dimension
        return dimension.to_base(*parse_quantity(text, dimension, self.unit))

    def percent(self, before: Quantity, change: Quantity) -> str:
        """A change of swing or twist weight in percent of what it was; empty of other specs, or unknown."""
        if self.key not in IN_PERCENT or not change:
            return ""
        if not before or not before.value:
            return ""
        return f"{written(100 * change.value / before.value, 1, signed=True)} %"

    def spread(self, quantity: Quantity) -> str:
        """The ± with one more digit where it would read 0."""
        if not quantity:
            return ""
        u = quantity.u * abs(self.factor)
        decimals = self.decimals if round(u, self.decimals) > 0 else self.decimals + 1
        return f"±{u:.{decimals}f}"


@lru_cache(maxsize=64)
def shown_specs(units: Units) -> list[ShownSpec]:
    """The specs of a frame, in the order of the work, in a person's units."""
    mass_factor = MASS.from_base(1.0, units.mass)
    mass = _as_is(STATIC_WEIGHT)
    mass = replace(mass, unit=units.mass, decimals=DECIMALS[units.mass], factor=mass_factor)
    rest = (SWING_WEIGHT, TWIST_WEIGHT, RECOIL_WEIGHT)
    return [mass, _shown_balance(units), *(_inertia(spec, units) for spec in rest)]


def read_specs(units: Units) -> list[ShownSpec]:
    """Those of them that are read, not worked out."""
    return [spec for spec in shown_specs(units) if spec.read_key in READ_BY_KEY]


def further_specs(units: Units) -> list[ShownSpec]:
    """The specs that few look at, for a person who wants them."""
    if not units.further:
        return []
    return [_inertia(s, units) if s.unit == "kg·cm²" else _as_is(s) for s in FURTHER]


def _inertia(spec: Spec, units: Units) -> ShownSpec:
    """A spec in kg·cm² in the person's unit of inertia, to the same fineness."""
    factor = INERTIA.from_base(1.0, units.inertia)
    decimals = spec.decimals - (1 if factor > 1 else 0)
    return ShownSpec(spec.key, spec.title, units.inertia, decimals, factor)


def _as_is(spec: Spec) -> ShownSpec:
    return ShownSpec(spec.key, spec.title, spec.unit, spec.decimals)


def _shown_balance(units: Units) -> ShownSpec:
    if units.balance == POINTS_UNIT:
        return _as_is(POINTS)
    factor = LENGTH.from_base(1.0, units.balance)
    return ShownSpec(BALANCE.key, BALANCE.title, units.balance, DECIMALS[units.balance], factor)


def beside_balance(specs: Specs, units: Units, change: bool = False) -> str:
    """Balance in the other way of counting: points beside a length, a length beside points."""
    if units.balance == POINTS_UNIT:
        if not specs.balance_cm:
            return ""
        return f"{written(specs.balance_cm.value * 10, 1, signed=change)} mm"
    if not (units.has_points and specs.points_headlight):
        return ""
    points = specs.points_headlight.value
    return f"{written(points, 1, signed=True)} pt" if change else points_text(points)


_FEW: Final = 0.5  # per cent: less is written as less


def odds_text(chance: float | None) -> str:
    """A chance as one says it, never more than it is: "9 of 10", "97 of 100"; empty where there is none."""
    if chance is None:
        return ""
    if chance >= 1 - 1e-9 or 100 * chance > 100 - _FEW:
        return "more than 99 of 100"
    if chance > 0.9:
        return f"{math.floor(100 * chance + 1e-9)} of 100"
    tens = math.floor(10 * chance + 1e-9)
    return f"{tens} of 10" if tens else "less than 1 of 10"


def chance_text(chance: float | None) -> str:
    """A chance in per cent; never 0 or 100, which no reading bears out."""
    if chance is None:
        return ""
    percent = 100 * chance
    if percent < _FEW:
        return "below 1 %"
    return "above 99 %" if percent > 100 - _FEW else f"{percent:.0f} %"
