"""What people say of weight, answered with the numbers of the frame at hand."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.body.moments import STANDARD_GRAVITY_CMS2
from kentrobar.core.body.specs import BALANCE, STATIC_WEIGHT, SWING_WEIGHT, Specs
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.play.common_claims import (
    IN_HANDLE_G,
    LEATHER_MORE_G,
    OVERGRIP_G,
    SAYINGS,
    SHIFTED_G,
    level_torque_gcm,
    tried,
)
from kentrobar.core.play.strokes import HOLD_CM
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import CM_PER_IN, G_PER_OZ
from kentrobar.core.weight.prediction import Prediction
from kentrobar.web.kit.numbers import ShownSpec, Units, shown_specs, written

_NCM_PER_GCM: Final = STANDARD_GRAVITY_CMS2 / 1e5


class Answered(NamedTuple):
    """A saying and what this frame answers."""

    said: str
    answer: str


@dataclass(frozen=True)
class _Trial:
    """A frame before and after a saying was tried on it, as one person reads numbers."""

    start: Prediction
    end: Prediction
    hand_cm: float
    units: Units

    @property
    def before(self) -> Specs:
        return self.start.after

    @property
    def after(self) -> Specs:
        return self.end.after

    def _spec(self, read_key: str) -> ShownSpec:
        return next(s for s in shown_specs(self.units) if s.read_key == read_key)

    def change(self, read_key: str) -> str:
        """By how much a spec changes, with its unit and one more digit than the spec itself."""
        spec = self._spec(read_key).finer()
        was, now = (getattr(each.change, spec.key) for each in (self.start, self.end))
        if not (was and now):
            return "unknown"
        return f"{spec.change(Estimate(now.value - was.value))} {spec.unit}"

    def from_to(self, read_key: str) -> str:
        """A spec before and after, with its unit; its change alone where the spec was not read."""
        spec = self._spec(read_key)
        was, now = (getattr(specs, spec.key) for specs in (self.before, self.after))
        if not was:
            return f"by {self.change(read_key)}"
        return f"from {spec.value(was)} to {spec.value(now)} {spec.unit}"

    def mass(self, grams: float) -> str:
        return f"{self.units.piece_mass_text(grams)} {self.units.mass}"

    def torque(self) -> str:
        """What it takes to hold the frame level, before and after, and by which part it changes."""
        was, now = (level_torque_gcm(specs, self.hand_cm) for specs in (self.before, self.after))
        if was is None or now is None or was <= 0:
            return "what it takes cannot be told"
        part = 100 * (now / was - 1)
        figures_of = [written(self._torque(each), 1) for each in (was, now)]
        unit = "oz·in" if self.units.length == "in" else "N·cm"
        return (
            f"{abs(part):.1f} % {'less' if part < 0 else 'more'} ({figures_of[0]} → {figures_of[1]} {unit})"
        )

    def _torque(self, gcm: float) -> float:
        if self.units.length == "in":
            return gcm / G_PER_OZ / CM_PER_IN
        return gcm * _NCM_PER_GCM


def _handle(trial: _Trial) -> str:
    return (
        f"{trial.mass(IN_HANDLE_G)} in the butt cap change it by {trial.change(SWING_WEIGHT.key)}, and never "
        "down: all that is added raises it, the less the nearer it lies to the swing axis. What moves toward "
        f"the hand is the balance: {trial.change(BALANCE.key)}."
    )


def _lighter(trial: _Trial) -> str:
    hand = trial.units.axis_text(trial.hand_cm)
    return (
        f"It is {trial.mass(IN_HANDLE_G)} heavier. Held level at {hand} it takes {trial.torque()}, which is "
        f"what a hand at rest feels. In the swing it is {trial.change(SWING_WEIGHT.key)}."
    )


def _overgrip(trial: _Trial) -> str:
    return (
        f"A usual one weighs {trial.mass(OVERGRIP_G)}: balance {trial.change(BALANCE.key)}, swing weight "
        f"{trial.change(SWING_WEIGHT.key)}. Of two frames that match, change both or neither."
    )


def _leather(trial: _Trial) -> str:
    return (
        f"A usual one weighs {trial.mass(LEATHER_MORE_G)} more than a usual grip: balance "
        f"{trial.change(BALANCE.key)}, but static weight {trial.from_to(STATIC_WEIGHT.key)}, and swing "
        f"weight {trial.change(SWING_WEIGHT.key)}."
    )


def _same(trial: _Trial) -> str:
    return (
        f"{trial.mass(SHIFTED_G)} taken from the butt and laid at the tip leave its static weight as it is; "
        f"balance goes {trial.from_to(BALANCE.key)}, swing weight {trial.from_to(SWING_WEIGHT.key)}."
    )


_ANSWERS: Final[MappingProxyType[str, Callable[[_Trial], str]]] = MappingProxyType(
    {"handle": _handle, "lighter": _lighter, "overgrip": _overgrip, "leather": _leather, "same": _same}
)


def answered(plan: PlanState, units: Units) -> list[Answered]:
    """What people say, tried on a plan's frame; nothing where its weight or its balance was not read."""
    return list(_answered(plan, units)) if plan.measured.knows_balance else []


def _answered(plan: PlanState, units: Units) -> Iterator[Answered]:
    for key, saying in SAYINGS.items():
        trial = _Trial(plan.prediction, tried(key, plan), HOLD_CM[plan.outline.sport], units)
        yield Answered(saying.said, _ANSWERS[key](trial))
