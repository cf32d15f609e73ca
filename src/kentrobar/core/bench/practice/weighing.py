"""Weight by hand: one frame made like another, or brought to a target in rounds while cuts and places err.

The optimum is the plan of least weight at the same places in the same steps, which the solver proves.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Final

from kentrobar.core.bench.practice.hidden import AXIS_CM, SPECS, Exercise, reading_of, rng_of
from kentrobar.core.bench.practice.scores import Score, ScorePart
from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.sport import Sport
from kentrobar.core.body.target import Target
from kentrobar.core.editing.plan import Baseline, PlanState
from kentrobar.core.frame.sites import Site, sites_of
from kentrobar.core.play.what_if import with_weight_at
from kentrobar.core.quantities.estimates import Estimate, Quantity
from kentrobar.core.solving.candidates import PointSlot
from kentrobar.core.solving.matching import match

STEP_G: Final = 0.5
MOST_G: Final = 15.0
SITES: Final = {
    Sport.TENNIS: (
        ("twelve", "butt_cap"),
        ("twelve", "three_nine", "butt_cap"),
        ("twelve", "three_nine", "handle_top", "butt_cap"),
    ),
    Sport.PICKLEBALL: (
        ("top_edge", "butt_cap"),
        ("top_edge", "sides", "butt_cap"),
        ("top_edge", "sides", "handle_top", "butt_cap"),
    ),
}
BANDS: Final = {"mass_g": 1.0, "balance_cm": 0.15, "swingweight_kgcm2": 1.5}  # base units
DENSITY_U: Final = 0.05  # of what a dose truly weighs, in rounds
MOST_ROUNDS: Final = 8
FOR_WITHIN: Final = 60.0
FOR_GRAMS: Final = 25.0
FOR_ROUNDS: Final = 15.0
SOLVE_SECONDS: Final = 2.0

Doses = Mapping[str, float]


@dataclass(frozen=True)
class MatchTwo(Exercise):
    """The exercise: a frame, another that is to become like it, places and steps.

    With ``errs`` each dose weighs a little more or less than was meant, by place, and readings scatter.
    """

    errs: bool = False

    @cached_property
    def sites(self) -> list[Site]:
        """Where weight may lie."""
        wanted = SITES[self.sport][self.level - 1]
        return [site for site in sites_of(self.frame.outline) if site.key in wanted]

    @cached_property
    def target(self) -> dict[str, float]:
        """The specs to come to: those of the frame with doses that nobody sees."""
        rng = rng_of(self.seed, "target")
        doses = {site.key: float(rng.integers(2, 13)) * STEP_G for site in self.sites}
        return self.specs(doses)

    def plan(self, doses: Doses) -> PlanState:
        """The frame with so many grams at each place, as meant."""
        plan = PlanState(Baseline(self.frame.outline, self.frame.truth), "", AXIS_CM[self.sport])
        for site in self.sites:
            if doses.get(site.key, 0.0) > 0:
                plan = with_weight_at(plan, doses[site.key], site)
        return plan

    def specs(self, doses: Doses) -> dict[str, float]:
        """What it comes to, as meant, by the keys of specs."""
        return _values(self.plan(doses))

    def true(self, doses: Doses) -> dict[str, float]:
        """What it truly comes to: with ``errs`` no dose weighs what was meant."""
        if not self.errs:
            return self.specs(doses)
        return self.specs({key: grams * self._factor(key) for key, grams in doses.items()})

    def _factor(self, key: str) -> float:
        return 1.0 + float(rng_of(self.seed, "density", key).normal(0.0, DENSITY_U))

    def read(self, doses: Doses, number: int) -> dict[str, float]:
        """What the bench reads after the ``number``-th round."""
        return {
            key: reading_of(value, key, 1, rng_of(self.seed, key, "round", number))
            for key, value in self.true(doses).items()
        }

    def is_within(self, specs: Mapping[str, float]) -> bool:
        """Whether all specs lie within their bands of the target."""
        return all(self.meets(key, specs[key]) for key in BANDS)

    def meets(self, key: str, value: float) -> bool:
        """Whether one spec lies within its band of the target."""
        return abs(value - self.target[key]) <= BANDS[key] + 1e-9

    @cached_property
    def best(self) -> dict[str, float]:
        """The least weight that does it as meant, by place."""
        slots = [
            PointSlot(
                label=site.key,
                y_cm=site.y_cm,
                x_cm=site.x_cm,
                mirrored=True,
                step_g=STEP_G / 2,
                max_g=MOST_G / 2,
            )
            for site in self.sites
        ]
        found = match(
            self._rounded,
            slots,
            Target.about(self.target, BANDS, AXIS_CM[self.sport]),
            length_cm=self.frame.outline.length_cm,
            outline=self.frame.outline,
            seconds=SOLVE_SECONDS,
            explain=False,
        )
        return {piece.label: piece.total_mass_g for piece in found.pieces}

    @property
    def _rounded(self) -> MeasuredSpecs:
        """What the solver is told of the frame: its specs, each with a ± of its own."""
        truth = self.frame.truth
        return replace(truth, mass_g=_sure(truth.mass_g), balance_cm=_sure(truth.balance_cm))

    def score(self, rounds: Sequence[Doses]) -> Score:
        """Of the doses of each try or round; the last one counts."""
        last = rounds[-1] if rounds else {}
        is_within = bool(rounds) and self.is_within(self.true(last))
        added, least = sum(last.values()), sum(self.best.values())
        few = min(least / added, 1.0) if added > 0 else float(least == 0)
        return Score(
            (
                ScorePart("within all bands", FOR_WITHIN * is_within, FOR_WITHIN),
                ScorePart("no more grams than it takes", FOR_GRAMS * few * is_within, FOR_GRAMS),
                ScorePart(
                    "in few rounds" if self.errs else "in few tries",
                    FOR_ROUNDS * is_within / max(len(rounds) - self.errs, 1),
                    FOR_ROUNDS,
                ),
            )
        )


def _values(plan: PlanState) -> dict[str, float]:
    after = plan.prediction.after
    return {spec.key: _value(getattr(after, spec.key)) for spec in SPECS}


def _value(quantity: Quantity) -> float:
    assert quantity  # noqa: S101 - a hidden frame knows all its specs
    return quantity.value


def _sure(quantity: Quantity) -> Estimate:
    return Estimate(_value(quantity), 0.01)
