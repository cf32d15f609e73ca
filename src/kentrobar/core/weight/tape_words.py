"""What a tape weighs as people say it: "20 cm 2.05 g", "4 strips weigh half an ounce", "2 in a gram"."""

from __future__ import annotations

import re
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.quantities.errors import PieceError, UnitError
from kentrobar.core.quantities.estimates import Amount, Estimate, NotMeasured
from kentrobar.core.quantities.units import LENGTH, MASS, Dimension, parse_number
from kentrobar.core.weight.materials import Cut

LARGEST: Final = 1e6  # no number about a tape is larger
RULE_U_RELATIVE: Final = 0.1  # of a figure that people pass on, until a cut is weighed

_SAID: Final = MappingProxyType(
    {
        word: float(number)
        for number, words in {
            0.25: "quarter",
            0.5: "half",
            1: "a an one",
            2: "two",
            3: "three",
            4: "four",
            5: "five",
            6: "six",
            7: "seven",
            8: "eight",
            9: "nine",
            10: "ten",
        }.items()
        for word in words.split()
    }
)
_WORD: Final = re.compile(r"\d[\d.,]*(?:/\d+)?|[^\d\s;,/=]+")
_STRIP: Final = frozenset({"strip", "strips"})


class _Spoken(NamedTuple):
    """A number and the unit behind it, "" where none was typed."""

    value: float
    unit: str


def length_and_mass(text: str, *, length_unit: str, mass_unit: str, strip_cm: Amount) -> Cut:
    """A length, cm, and what it weighs, g, in either order; two bare numbers are a length and its weight.

    ``strip_cm`` is how long a strip is as sold, cm, for what is given by the strip.

    Raises:
        PieceError: it is not one length with one weight, or strips of a length that nobody gave.
    """
    parts = _parts(text.lower())
    units = (length_unit, mass_unit)
    parts = [part if part.unit else part._replace(unit=unit) for part, unit in zip(parts, units, strict=True)]
    found = {
        "length": [p for p in parts if p.unit in _STRIP or LENGTH.unit_named(p.unit)],
        "mass": [p for p in parts if MASS.unit_named(p.unit)],
    }
    if any(len(each) != 1 for each in found.values()):
        raise _unreadable(text)
    return Cut(_cm(found["length"][0], strip_cm), _in(MASS, found["mass"][0]))


def density_by_rule(cut: Cut) -> Estimate:
    """Grams per cm of a tape from a figure that was passed on, with the ± of such figures.

    Raises:
        PieceError: no length or no weight.
    """
    if not (cut.length_cm > 0 and cut.mass_g > 0):
        raise PieceError("Enter a length and its weight, each above 0.", code="no_cut")
    density = cut.mass_g / cut.length_cm
    return Estimate(density, RULE_U_RELATIVE * density)


def _parts(text: str) -> list[_Spoken]:
    """The two quantities of a line; words between them ("weigh", "of it", "per") say nothing more."""
    found: list[_Spoken] = []
    value: float | None = None
    for word in _WORD.findall(text):
        number = _number(word)
        if number is not None:
            is_part = value is not None and "/" in word
            said = word in _SAID
            if value is not None and not is_part and not said:
                found.append(_Spoken(value, ""))
                value = None
            value = number if value is None else (value + number if is_part else value * number)
        elif _is_unit(word):
            found.append(_Spoken(1.0 if value is None else value, word))
            value = None
    if value is not None:
        found.append(_Spoken(value, ""))
    if len(found) != 2 or any(part.value > LARGEST for part in found):
        raise _unreadable(text)
    return found


def _number(word: str) -> float | None:
    if word in _SAID:
        return _SAID[word]
    try:
        return parse_number(word.rstrip(".,"))[0]
    except UnitError:
        return None


def _is_unit(word: str) -> bool:
    return word in _STRIP or bool(LENGTH.unit_named(word) or MASS.unit_named(word))


def _cm(part: _Spoken, strip_cm: Amount) -> float:
    if part.unit not in _STRIP:
        return _in(LENGTH, part)
    if isinstance(strip_cm, NotMeasured):
        raise PieceError(
            "Type how long a strip is as sold, or give its length here: 8 in 1 g.", code="no_strip_length"
        )
    return part.value * strip_cm


def _in(dimension: Dimension, part: _Spoken) -> float:
    return dimension.to_base(part.value, dimension.unit_named(part.unit))


def _unreadable(text: str) -> PieceError:
    return PieceError(f"“{text.strip()[:40]}” is no length with a weight.", code="no_cut")
