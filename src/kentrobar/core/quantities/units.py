"""Units: the core works in g, cm, s and shows inertia in kg·cm²; all else is turned at the edge.

A person may type a decimal comma, a common fraction ("8 3/8 oz") and a unit behind the number;
a unit that is typed wins over the one that was chosen beside the field.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.quantities.errors import UnitError

G_PER_OZ: Final = 28.349523125  # international avoirdupois ounce, exact by definition
CM_PER_IN: Final = 2.54  # exact by definition
MM_PER_CM: Final = 10.0
CM_PER_POINT: Final = CM_PER_IN / 8  # 1 point of balance = 1/8 in
POINTS_UNIT: Final = "pt"  # in which a balance may be typed and read
GCM2_PER_KGCM2: Final = 1000.0
KGCM2_PER_OZIN2: Final = G_PER_OZ * CM_PER_IN**2 / GCM2_PER_KGCM2
CM2_PER_IN2: Final = CM_PER_IN**2

LONGEST_INPUT = 60  # characters; no quantity a person means to type is longer


@dataclass(frozen=True)
class Dimension:
    """A kind of quantity: its noun and its units, as factors to the base unit (the first)."""

    noun: str
    example: str
    factors: Mapping[str, float]
    aliases: Mapping[str, str]

    def unit_named(self, text: str) -> str:
        """The unit that a person writes so, in whatever spelling; empty where it is none of these."""
        plain = text.lower().strip(". ")
        for unit in self.factors:
            if unit in (plain, text):
                return unit
        squeezed = plain.replace("²", "2").replace("·", "").replace("*", "").replace(" ", "")
        if squeezed == '"' and "in" in self.factors:
            return "in"
        return self.aliases.get(squeezed, "")

    def to_base(self, value: float, unit: str) -> float:
        """A number of ``unit`` in the base unit."""
        return value * self.factors[unit]

    def from_base(self, value: float, unit: str) -> float:
        """A number of the base unit in ``unit``."""
        return value / self.factors[unit]


def _dimension(noun: str, example: str, factors: dict[str, float], **aliases: str) -> Dimension:
    return Dimension(noun, example, MappingProxyType(factors), MappingProxyType(aliases))


MASS: Final = _dimension(
    "weight",
    "308.6 g or 10.9 oz",
    {"g": 1.0, "oz": G_PER_OZ, "kg": 1000.0},
    gram="g",
    grams="g",
    gr="g",
    ounce="oz",
    ounces="oz",
)
LENGTH: Final = _dimension(
    "length",
    "31.8 cm, 318 mm or 12.5 in",
    {"cm": 1.0, "mm": 0.1, "m": 100.0, "in": CM_PER_IN},
    inch="in",
    inches="in",
)
INERTIA: Final = _dimension(
    "inertia",
    "287 kg·cm²",
    {"kg·cm²": 1.0, "oz·in²": KGCM2_PER_OZIN2},
    kgcm2="kg·cm²",
    ozin2="oz·in²",
    sw="kg·cm²",
    tw="kg·cm²",
)
AREA: Final = _dimension(
    "area",
    "100 in² or 645 cm²",
    {"cm²": 1.0, "in²": CM2_PER_IN2},
    cm2="cm²",
    in2="in²",
    sqin="in²",
    sqcm="cm²",
)
LINE_DENSITY: Final = _dimension(
    "weight per length",
    "0.1 g/cm or 0.25 g/in",
    {"g/cm": 1.0, "g/in": 1 / CM_PER_IN, "oz/in": G_PER_OZ / CM_PER_IN},
)
SPEED: Final = _dimension(
    "speed",
    "90 km/h or 56 mph",
    {"m/s": 1.0, "km/h": 1 / 3.6, "mph": 0.44704},
    ms="m/s",
    kmh="km/h",
    kph="km/h",
)


class Ruler(NamedTuple):
    """How a person reads lengths: ``number`` writes one that is given in cm, without its ``unit``."""

    number: Callable[[float], str]
    unit: str

    def text(self, cm: float) -> str:
        """A length with its unit."""
        return f"{self.number(cm)} {self.unit}"

    def span(self, start_cm: float, end_cm: float) -> str:
        """From where to where, with the unit; once where both are the same."""
        if start_cm == end_cm:
            return self.text(start_cm)
        return f"{self.number(start_cm)} to {self.text(end_cm)}"


_NUMBER = re.compile(
    r"""\s*(?P<sign>[+\-−]?)\s*
    (?:(?P<whole>\d+)\s+)?(?P<top>\d+)\s*/\s*(?P<bottom>\d+)   # 8 3/8
    |\s*(?P<decimal>[+\-−]?\s*(?:\d+(?:[.,]\d*)?|[.,]\d+))      # 308.6 or 308,6
    """,
    re.VERBOSE,
)


def parse_number(text: str) -> tuple[float, str]:
    """The number at the start of ``text`` and what stands behind it.

    Raises:
        UnitError: the text is too long, or does not begin with a number.
    """
    if len(text) > LONGEST_INPUT:
        raise UnitError(
            f"This is {len(text)} characters long; type one number of at most {LONGEST_INPUT} characters.",
            code="too_long",
        )
    match = _NUMBER.match(text)
    if not match:
        raise UnitError(f"“{text.strip()}” is not a number; type digits.", code="not_a_number")
    rest = text[match.end() :].strip()
    if match["bottom"]:
        if int(match["bottom"]) == 0:
            raise UnitError("A fraction cannot have 0 below its line.", code="not_a_number")
        value = int(match["whole"] or 0) + int(match["top"]) / int(match["bottom"])
        return (-value if match["sign"] in ("-", "−") else value), rest
    digits = match["decimal"].replace("−", "-").replace(",", ".").replace(" ", "")
    return float(digits), rest


def is_signed(text: str) -> bool:
    """Whether a typed number begins with its sign, as a change does."""
    return text[:1] in ("+", "-", "−")


def parse_quantity(text: str, dimension: Dimension, unit: str) -> tuple[float, str]:
    """Read a typed quantity; returns its value *as typed* and the unit it was meant in.

    ``unit`` is used where none is typed. Turn the pair with ``dimension.to_base``.

    Raises:
        UnitError: no number, a unit that is not one of ``dimension``, or a number out of all bounds.
    """
    value, rest = parse_number(text)
    if not math.isfinite(value) or abs(value) > 1e9:
        raise UnitError("This number is far too large.", code="too_large")
    if not rest:
        return value, unit
    return value, _known_unit(rest, dimension)


_RANGE = re.compile(r"(?<=[\d\s])\s*(?:\.\.|–|-|\bto\b)\s*(?=[\d.])")


def parse_range(text: str, dimension: Dimension, unit: str) -> tuple[float, float]:
    """Read a typed range, "305-310 g", "over 320" or one number; returns its two ends in the base unit.

    One number is what rounds to it: "305" is from 304.5 to 305.5. An open end is infinite. ``unit`` is used
    where none is typed.

    Raises:
        UnitError: as :func:`parse_quantity`, or a range whose ends are the wrong way round.
    """
    plain = text.strip().lower()
    for words, is_low in ((("over", "from", "above", ">"), True), (("under", "below", "up to", "<"), False)):
        for word in words:
            if plain.startswith(word):
                value, unit = parse_quantity(plain.removeprefix(word).lstrip("= "), dimension, unit)
                end = dimension.to_base(value, unit)
                return (end, math.inf) if is_low else (-math.inf, end)
    ends = _RANGE.split(plain, maxsplit=1)
    value, unit = parse_quantity(ends[-1], dimension, unit)
    high = dimension.to_base(value, unit)
    if len(ends) == 1:
        _, _, fraction = plain.replace(",", ".").partition(".")
        digits = len(re.match(r"\d*", fraction)[0])  # type: ignore[index]
        half = abs(dimension.to_base(0.5 * 10**-digits, unit) - dimension.to_base(0.0, unit))
        return high - half, high + half
    low = dimension.to_base(*parse_quantity(ends[0], dimension, unit))
    if low > high:
        raise UnitError("A range goes from its lower to its higher end.", code="wrong_way_round")
    return low, high


def _known_unit(typed: str, dimension: Dimension) -> str:
    unit = dimension.unit_named(typed)
    if unit:
        return unit
    known = ", ".join(dimension.factors)
    raise UnitError(
        f"“{typed[:20]}” is not a unit of {dimension.noun}; use {known}, as in {dimension.example}.",
        code="unknown_unit",
    )


def points_headlight(balance_cm: float, length_cm: float) -> float:
    """Balance in points, positive head-light, negative head-heavy, from half the own length."""
    return (length_cm / 2 - balance_cm) / CM_PER_POINT


def balance_from_points(points: float, length_cm: float) -> float:
    """Balance in cm from the butt; the inverse of :func:`points_headlight`."""
    return length_cm / 2 - points * CM_PER_POINT


_POINTS = re.compile(r"^(?:pts?|points?)?\s*(?P<side>hl|hh|head[- ]?light|head[- ]?heavy)?$")


def parse_balance(text: str, unit: str, length_cm: float) -> tuple[float, str, float]:
    """Read a typed balance; returns (value as typed, unit, balance in cm from the butt).

    The unit may be that of a length or ``"pt"``: "6 HL", "2 pts HH" and, with ``unit="pt"``, a bare
    number (positive head-light).

    Raises:
        UnitError: as :func:`parse_quantity`.
    """
    value, rest = parse_number(text)
    points = _POINTS.match(rest.lower().strip(". "))
    if (rest and points) or (not rest and unit == POINTS_UNIT):
        head_heavy = bool(points and points["side"] and points["side"].endswith(("hh", "heavy")))
        value = -abs(value) if head_heavy else value
        return value, POINTS_UNIT, balance_from_points(value, length_cm)
    value, unit = parse_quantity(text, LENGTH, unit)
    return value, unit, LENGTH.to_base(value, unit)
