"""What is asked of typed specs before they are believed.

A hard limit can be refused: all mass lies between butt and tip, so by the Bhatia-Davis inequality
k² ≤ b(L - b). What is merely unusual is asked about and may be kept.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Any, Final

from kentrobar.core.body.limits import most_recoil_kgcm2, most_twist_kgcm2
from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import READ, STATIC_WEIGHT, SWING_WEIGHT, TWIST_WEIGHT, ReadSpec
from kentrobar.core.frame.anatomy import WIDEST_CM
from kentrobar.core.frame.outline import Sport
from kentrobar.core.quantities.errors import SpecError
from kentrobar.core.quantities.estimates import NOT_MEASURED, Amount, Quantity
from kentrobar.core.quantities.units import GCM2_PER_KGCM2


@dataclass(frozen=True)
class UsualRange:
    """A usual range, both ends included."""

    low: float
    high: float

    def holds(self, value: float) -> bool:
        """Whether a value, in the band's unit, lies within."""
        return self.low <= value <= self.high


# Wide enough for juniors and long bodies.
USUAL: Final[dict[Sport, dict[str, UsualRange]]] = {
    Sport.TENNIS: {
        "length_cm": UsualRange(43, 74),
        "mass_g": UsualRange(150, 420),
        "balance_cm": UsualRange(24, 42),
        "swingweight_kgcm2": UsualRange(100, 420),
        "twistweight_kgcm2": UsualRange(6, 22),
    },
    Sport.PICKLEBALL: {
        "length_cm": UsualRange(33, 46),
        "mass_g": UsualRange(150, 320),
        "balance_cm": UsualRange(18, 30),
        "swingweight_kgcm2": UsualRange(40, 180),
        "twistweight_kgcm2": UsualRange(3, 12),
    },
}


TENFOLD: Final = 10.0  # so far beyond what is usual in any sport, no frame is


# Where the length is known, balance and the rest go with it: a junior's balance is no adult's.
BALANCE_BY_LENGTH: Final[Mapping[Sport, UsualRange]] = MappingProxyType(
    {Sport.TENNIS: UsualRange(0.39, 0.58), Sport.PICKLEBALL: UsualRange(0.46, 0.68)}
)
_SHORT_CM: Final = 66.0  # a racket shorter than that is a junior's
_JUNIOR: Final = MappingProxyType(
    {
        "mass_g": UsualRange(120, 330),
        "swingweight_kgcm2": UsualRange(30, 300),
        "twistweight_kgcm2": UsualRange(2.5, 16),
    }
)


def usual_bands(sport: Sport, length_cm: Amount) -> Mapping[str, UsualRange]:
    """The usual range of each spec, by its key; by the frame's length where that is known."""
    if not length_cm:
        return USUAL[sport]
    part = BALANCE_BY_LENGTH[sport]
    by_length = {"balance_cm": UsualRange(part.low * length_cm, part.high * length_cm)}
    is_junior = sport is Sport.TENNIS and length_cm < _SHORT_CM
    return {**USUAL[sport], **(_JUNIOR if is_junior else {}), **by_length}


_ASKED: Final = {"length_cm": ("length", "cm")} | {s.key: (s.noun, s.unit) for s in READ}


@dataclass(frozen=True)
class Question:
    """Something unusual about one field, asked and never refused; ``fixes`` are likely slips."""

    field: str
    message: str
    fixes: tuple[Any, ...] = ()


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
    bands = [usual[spec.key] for usual in USUAL.values()]
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


def band_questions(measured: MeasuredSpecs, sport: Sport, length_cm: Amount) -> list[Question]:
    """What is outside the usual band of its field, one question a field."""
    usual = usual_bands(sport, length_cm)
    values = {"length_cm": length_cm} if length_cm else {}
    values |= {field: quantity.value for field in _ASKED if (quantity := getattr(measured, field, None))}
    return [
        Question(
            field,
            f"A {noun} of {values[field]:g} {unit} is unusual for {_article(sport)}; "
            f"{usual[field].low:.4g} to {usual[field].high:.4g} {unit} is usual. Check it, or keep it.",
        )
        for field, (noun, unit) in _ASKED.items()
        if field in values and not usual[field].holds(values[field])
    ]


def unusual_anywhere(measured: MeasuredSpecs) -> list[Question]:
    """What is outside the usual band of every sport, for readings whose sport nobody said."""
    rackets, paddles = (band_questions(measured, sport, NOT_MEASURED) for sport in Sport)
    odd = {question.field for question in paddles}
    return [question for question in rackets if question.field in odd]


def _article(sport: Sport) -> str:
    return "a racket" if sport is Sport.TENNIS else "a paddle"
