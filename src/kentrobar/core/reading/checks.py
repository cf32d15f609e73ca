"""What is asked of typed specs before they are believed.

What no body can have is refused (``core/body/limits``); what is merely unusual is asked about and may be kept.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Final

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.ranges import LENGTH_KEY, plausible_ranges
from kentrobar.core.body.specs import READ
from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.estimates import NOT_MEASURED, Amount

_CHECKED: Final = {LENGTH_KEY: ("length", "cm")} | {s.key: (s.noun, s.unit) for s in READ}


@dataclass(frozen=True)
class Question:
    """Something unusual about one field, asked and never refused; ``fixes`` are likely slips."""

    field: str
    message: str
    fixes: tuple[Any, ...] = ()


def band_questions(measured: MeasuredSpecs, sport: Sport, length_cm: Amount) -> list[Question]:
    """What is outside the usual band of its field, one question a field."""
    usual = plausible_ranges(sport, length_cm)
    values = {LENGTH_KEY: length_cm} if length_cm else {}
    values |= {field: quantity.value for field in _CHECKED if (quantity := getattr(measured, field, None))}
    return [
        Question(
            field,
            f"A {noun} of {values[field]:g} {unit} is unusual for {sport.noun}; "
            f"{usual[field].low:.4g} to {usual[field].high:.4g} {unit} is usual. Check it, or keep it.",
        )
        for field, (noun, unit) in _CHECKED.items()
        if field in values and not usual[field].holds(values[field])
    ]


def unusual_anywhere(measured: MeasuredSpecs) -> list[Question]:
    """What is outside the usual band of every sport, for readings whose sport nobody said."""
    rackets, paddles = (band_questions(measured, sport, NOT_MEASURED) for sport in Sport)
    odd = {question.field for question in paddles}
    return [question for question in rackets if question.field in odd]
