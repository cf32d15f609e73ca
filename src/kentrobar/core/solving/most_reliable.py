"""The least weight that also does it surely: bands drawn in until a stated chance is reached.

The lightest plan ends on an edge of its bands. Drawn in by a multiple of each spec's own ± (guard bands,
JCGM 106:2012), the bands lead to plans that lie deeper within; the least multiple that reaches the chance
gives the least weight. Where readings are coarser than the bands no plan reaches it, and more readings are
what helps.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from typing import Final, TypeVar

MOST_GUARD: Final = 3.0  # times the ±: beyond it nothing is surer that matters
_STEPS: Final = 7  # of the search: to a fortieth of a ±
WIDE_ENOUGH: Final = 2.5  # times its ± a band has to be to either side, for four specs at 95 %

PlanT = TypeVar("PlanT")


def most_reliable(
    plan_at: Callable[[float], PlanT | None], chance_of: Callable[[PlanT], float], wanted_chance: float
) -> PlanT | None:
    """The lightest plan that reaches the chance wished for, else the surest there is.

    Args:
        plan_at: the lightest plan with every band drawn in by so many times its ±; None where there is none.
        chance_of: the chance of a plan, 0 to 1.
        wished: the chance to reach, 0 to 1.
    """
    best = plan_at(0.0)
    if best is None or chance_of(best) >= wanted_chance:
        return best
    low, high, reaches = 0.0, MOST_GUARD, False
    for _ in range(_STEPS):
        guard = (low + high) / 2
        plan = plan_at(guard)
        if plan is None:
            high = guard
        elif chance_of(plan) >= wanted_chance:
            best, high, reaches = plan, guard, True
        else:
            low = guard
            if not reaches and chance_of(plan) > chance_of(best):
                best = plan
    return best


def drawn_in(
    bands: Mapping[str, tuple[float, float]], us: Mapping[str, float], guard: float
) -> dict[str, tuple[float, float]] | None:
    """The bands narrower by ``guard`` times each ± at both ends; None where one of them closes."""
    found = {
        name: (low + guard * us.get(name, 0.0), high - guard * us.get(name, 0.0))
        for name, (low, high) in bands.items()
    }
    return found if all(low <= high for low, high in found.values()) else None


def coarsest(tolerances: Mapping[str, float], us: Mapping[str, float]) -> tuple[str, int]:
    """The spec that was read most coarsely for its tolerance, and how many such readings it takes.

    One where it was read finely enough: then something else stands in the way.
    """
    name = max(tolerances, key=lambda each: us.get(each, 0.0) / max(tolerances[each], 1e-9))
    needed = max(tolerances[name], 1e-9) / WIDE_ENOUGH
    return name, max(math.ceil((us.get(name, 0.0) / needed) ** 2), 1)
