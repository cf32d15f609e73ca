"""What a player wants, in words, as bounds on the specs: starting points that a person edits.

Weight that is added never lowers the swing weight; "quicker" therefore means a balance nearer the
hand at a swing weight that stays, which costs static weight.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.body.specs import Specs


class SpecShift(NamedTuple):
    """How far a spec is to move from where it is, and how near it is to come to that."""

    by: float
    tolerance: float


@dataclass(frozen=True)
class Goal:
    """A goal: what it says, why these specs answer it, and by how much they move."""

    key: str
    label: str
    reason: str
    racket: Mapping[str, SpecShift]
    paddle: Mapping[str, SpecShift]

    def targets(self, specs: Specs, is_racket: bool) -> dict[str, tuple[float, float]]:
        """Target and tolerance by spec, for those that are known."""
        found = {}
        for name, shift in self.shifts(is_racket).items():
            quantity = getattr(specs, name)
            if quantity:
                found[name] = (quantity.value + shift.by, shift.tolerance)
        return found

    def shifts(self, is_racket: bool) -> Mapping[str, SpecShift]:
        """How far each spec moves, by its key, in its base unit."""
        return self.racket if is_racket else self.paddle


def goals_for(has_strain: bool) -> list[Goal]:
    """The wishes in the order in which they are offered: for who told of strain the gentler one first."""
    return sorted(GOALS.values(), key=lambda goal: (goal.key == GENTLER) != has_strain)


def _shifts(**shifts: tuple[float, float]) -> Mapping[str, SpecShift]:
    return MappingProxyType({name: SpecShift(*pair) for name, pair in shifts.items()})


GENTLER: Final = "gentler"  # the key of what comes first for a player who told of strain

GOALS: Final = {
    goal.key: goal
    for goal in (
        Goal(
            "steadier",
            "Steadier off centre",
            "A higher twist weight turns less when the ball comes off centre.",
            _shifts(twistweight_kgcm2=(0.8, 0.15), balance_cm=(0.0, 0.2)),
            _shifts(twistweight_kgcm2=(0.6, 0.1), balance_cm=(0.0, 0.2)),
        ),
        Goal(
            "power",
            "More power on serve",
            "A higher swing weight carries more through the ball, and is harder to start.",
            _shifts(swingweight_kgcm2=(8.0, 1.0)),
            _shifts(swingweight_kgcm2=(5.0, 0.7)),
        ),
        Goal(
            "quicker",
            "Quicker at the net",
            "The balance moves toward the hand while the swing weight hardly changes. No inertia falls.",
            _shifts(balance_cm=(-0.6, 0.1), swingweight_kgcm2=(0.7, 0.7)),
            _shifts(balance_cm=(-0.6, 0.1), swingweight_kgcm2=(0.5, 0.5)),
        ),
        Goal(
            "heavier",
            "Heavier without feeling it",
            "Static weight near the hand moves the swing weight least.",
            _shifts(mass_g=(6.0, 0.5), swingweight_kgcm2=(1.0, 1.0)),
            _shifts(mass_g=(6.0, 0.5), swingweight_kgcm2=(1.0, 1.0)),
        ),
        Goal(
            "hold",
            "More swing weight, balance held",
            "Weight in the head is counterbalanced in the handle, at the cost of static weight.",
            _shifts(swingweight_kgcm2=(6.0, 1.0), balance_cm=(0.0, 0.05)),
            _shifts(swingweight_kgcm2=(4.0, 0.7), balance_cm=(0.0, 0.05)),
        ),
        Goal(
            GENTLER,
            "Gentler on the arm",
            "A little more weight, near the hand: the swing weight, which arm and shoulder move, hardly rises. "
            "What a hit does to the hand depends on where it lands. A rule of thumb; softer strings do more.",
            _shifts(mass_g=(4.0, 1.0), balance_cm=(-0.4, 0.25), swingweight_kgcm2=(1.0, 1.0)),
            _shifts(mass_g=(4.0, 1.0), balance_cm=(-0.4, 0.25), swingweight_kgcm2=(0.7, 0.7)),
        ),
    )
}
