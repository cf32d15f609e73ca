"""What is asked of typed specs before they are believed.

A hard limit can be refused: all mass lies between butt and tip, so by the Bhatia-Davis inequality
k² ≤ b(L - b). What is merely unusual is asked about and may be kept.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Final

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import READ, STATIC_WEIGHT, SWING_WEIGHT, TWIST_WEIGHT
from kentrobar.core.frame.outline import Sport
from kentrobar.core.quantities.errors import SpecError
from kentrobar.core.quantities.estimates import Amount, Estimate, NotMeasured
from kentrobar.core.quantities.units import GCM2_PER_KGCM2


@dataclass(frozen=True)
class Band:
    """A usual range, both ends included."""

    low: float
    high: float

    def holds(self, value: float) -> bool:
        """Whether a value, in the band's unit, lies within."""
        return self.low <= value <= self.high


# Wide enough for juniors and long bodies.
USUAL: Final[dict[Sport, dict[str, Band]]] = {
    Sport.TENNIS: {
        "length_cm": Band(43, 74),
        "mass_g": Band(150, 420),
        "balance_cm": Band(24, 42),
        "swingweight_kgcm2": Band(100, 420),
        "twistweight_kgcm2": Band(6, 22),
    },
    Sport.PICKLEBALL: {
        "length_cm": Band(33, 46),
        "mass_g": Band(150, 320),
        "balance_cm": Band(18, 30),
        "swingweight_kgcm2": Band(40, 180),
        "twistweight_kgcm2": Band(3, 12),
    },
}


_ASKED: Final = {"length_cm": ("length", "cm")} | {s.key: (s.noun, s.unit) for s in READ}


@dataclass(frozen=True)
class Question:
    """Something unusual about one field, asked and never refused; ``mends`` are likely slips."""

    field: str
    message: str
    mends: tuple[Any, ...] = ()


def require_possible(measured: MeasuredSpecs, length_cm: float) -> None:
    """Refuse specs that no real frame of this length can have.

    Raises:
        SpecError: ``field`` names the quantity at fault.
    """
    for spec in (STATIC_WEIGHT, SWING_WEIGHT, TWIST_WEIGHT):
        quantity = measured.of(spec)
        if isinstance(quantity, Estimate) and not quantity.value > 0:
            raise SpecError(f"A {spec.noun} is above 0.", code="not_positive", field=spec.key)
    balance = measured.balance_cm
    if isinstance(balance, Estimate) and not 0 < balance.value < length_cm:
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


def _require_possible_spread(measured: MeasuredSpecs, length_cm: float) -> None:
    moments = measured.moments()
    b, recoil = moments.balance_cm, moments.recoil_kgcm2
    lever = moments.mass * (b - measured.axis_cm) ** 2 / GCM2_PER_KGCM2
    most = lever + moments.mass * b * (length_cm - b) / GCM2_PER_KGCM2
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


def band_questions(measured: MeasuredSpecs, sport: Sport, length_cm: Amount) -> list[Question]:
    """What is outside the usual band of its field, one question a field."""
    usual = USUAL[sport]
    values = {} if isinstance(length_cm, NotMeasured) else {"length_cm": length_cm}
    values |= {
        field: quantity.value
        for field in _ASKED
        if isinstance(quantity := getattr(measured, field, None), Estimate)
    }
    return [
        Question(
            field,
            f"A {noun} of {values[field]:g} {unit} is unusual for {_article(sport)}; "
            f"{usual[field].low:g} to {usual[field].high:g} {unit} is usual. Check it, or keep it.",
        )
        for field, (noun, unit) in _ASKED.items()
        if field in values and not usual[field].holds(values[field])
    ]


def _article(sport: Sport) -> str:
    return "a racket" if sport is Sport.TENNIS else "a paddle"
