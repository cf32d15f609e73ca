"""Say what weight will do before it is shown: a piece on a known frame, four changes to be guessed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final, NamedTuple

from kentrobar.core.bench.practice.hidden import AXIS_CM, Exercise, rng_of
from kentrobar.core.bench.practice.scores import Score, ScorePart, within
from kentrobar.core.body.specs import BALANCE, READ_BY_KEY, STATIC_WEIGHT, SWING_WEIGHT, TWIST_WEIGHT
from kentrobar.core.editing.plan import Baseline, PlanState
from kentrobar.core.frame.sites import Site, sites_of
from kentrobar.core.play.what_if import with_weight_at
from kentrobar.core.quantities.units import GCM2_PER_KGCM2

PIECES: Final = (1, 1, 2)  # by level
# A guess within this is right, in base units; one five times as far off earns nothing.
RIGHT: Final = {STATIC_WEIGHT.key: 0.1, BALANCE.key: 0.05, SWING_WEIGHT.key: 0.7, TWIST_WEIGHT.key: 0.12}
NOTHING_TIMES: Final = 5.0


class Lever(NamedTuple):
    """A dose at a site: its lever about the swing axis, cm, and what it adds, kg·cm²."""

    site: Site
    grams: float
    arm_cm: float
    swingweight_kgcm2: float
    twistweight_kgcm2: float


@dataclass(frozen=True)
class Predict(Exercise):
    """The exercise: a frame whose specs are shown, and weight at one or two of its places."""

    @property
    def doses(self) -> list[tuple[Site, float]]:
        """What is laid: a site and so many grams there, half on either side."""
        rng = rng_of(self.seed, "doses")
        balance = self.frame.truth.balance_cm
        sites = [site for site in sites_of(self.frame.outline, balance) if site.key != "handle_middle"]
        picked = rng.choice(len(sites), PIECES[self.level - 1], replace=False)
        return [(sites[int(i)], float(rng.integers(4, 17)) / 2) for i in picked]

    @property
    def before(self) -> PlanState:
        """The frame as it is."""
        frame = self.frame
        return PlanState(Baseline(frame.outline, frame.truth), "", AXIS_CM[self.sport])

    @property
    def plan(self) -> PlanState:
        """The frame with what is laid."""
        plan = self.before
        for site, grams in self.doses:
            plan = with_weight_at(plan, grams, site)
        return plan

    def levers(self) -> list[Lever]:
        """How the swing weight and the twist weight of each dose come about."""
        axis = AXIS_CM[self.sport]
        return [
            Lever(
                site,
                grams,
                abs(site.y_cm - axis),
                grams * (site.y_cm - axis) ** 2 / GCM2_PER_KGCM2,
                grams * site.x_cm**2 / GCM2_PER_KGCM2,
            )
            for site, grams in self.doses
        ]

    def truth(self) -> dict[str, float]:
        """The changes, by the keys of specs, in base units."""
        change = self.plan.prediction.change
        found = {}
        for key in RIGHT:
            value = change.of(READ_BY_KEY[key])
            found[key] = value.or_else(0.0)
        return found

    def score(self, guessed: Mapping[str, float]) -> Score:
        """Of the changes that were guessed, by the keys of specs, in base units."""
        each, truth = 100 / len(RIGHT), self.truth()
        return Score(
            tuple(
                ScorePart(
                    READ_BY_KEY[key].noun,
                    each * within(guessed[key] - truth[key], right, NOTHING_TIMES * right),
                    each,
                )
                for key, right in RIGHT.items()
            )
        )
