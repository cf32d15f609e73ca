"""Simulated jobs: a frame that nobody knows, work that errs, instruments that err; for tests and bench."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.moments import Moments, moments_from_specs
from kentrobar.core.body.target import Target
from kentrobar.core.frame.places import ClockPlace
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.rounds.estimation import StateEstimate, estimate_state
from kentrobar.core.rounds.trimming import Next, after, next_step
from kentrobar.core.solving.candidates import PointSlot, RimSlot
from kentrobar.core.solving.set_plans import SetFrame, plan_set
from kentrobar.core.weight.pieces import Piece, PointPiece, effect_of
from tests.core.frames import RACKET

AXIS = 10.0
TOLERANCES = {"mass_g": 1.0, "balance_cm": 0.1, "swingweight_kgcm2": 1.0}
READ_U = {"mass_g": 0.1, "balance_cm": 0.05, "swingweight_kgcm2": 0.7}
DENSITY_U, LENGTH_U, PLACE_U, WEIGHED_U = 0.04, 0.1, 0.2, 0.03
WANTED_CHANCE = 0.97
ROLL = "the roll"
GUARDS = (2.0, 1.5, 1.0, 0.5, 0.0)
SITES = [
    RimSlot(label="12", start=ClockPlace(660), end=ClockPlace(60), g_per_cm=Estimate(0.1, 0.004)),
    RimSlot(
        label="3 and 9",
        start=ClockPlace(130),
        end=ClockPlace(220),
        g_per_cm=Estimate(0.2, 0.008),
        mirrored=True,
    ),
    PointSlot(label="butt", y_cm=1.5, step_g=0.1, max_g=15),
    PointSlot(label="top", y_cm=16, step_g=0.1, max_g=10),
]


def specs_of(m: Moments) -> dict[str, float]:
    """The specs that are aimed at, of a true body."""
    return {
        "mass_g": m.mass,
        "balance_cm": m.first_y / m.mass,
        "swingweight_kgcm2": (m.second_yz - 2 * AXIS * m.first_y + AXIS**2 * m.mass) / 1000,
    }


@dataclass
class Job:
    """A frame on its way to a target; ``lies`` is what truly lies on it, ``places`` how far off its place."""

    random: np.random.Generator
    frame: Moments
    target: Mapping[str, float]
    readings: int
    roll: float  # its true density, of what it is taken for
    lies: dict[str, Moments] = field(default_factory=dict)
    places: dict[str, float] = field(default_factory=dict)

    @property
    def bands(self) -> dict[str, tuple[float, float]]:
        return {name: (self.target[name] - t, self.target[name] + t) for name, t in TOLERANCES.items()}

    @property
    def noise(self) -> dict[str, float]:
        """The ± of the mean of its readings."""
        return {name: u / self.readings**0.5 for name, u in READ_U.items()}

    def whole(self) -> Moments:
        whole = self.frame
        for moments in self.lies.values():
            whole = whole.plus(moments)
        return whole

    def read(self) -> MeasuredSpecs:
        """The mean of some readings of the frame as it is."""
        specs = specs_of(self.whole())
        return MeasuredSpecs.read_apart(
            {n: Estimate(specs[n] + self.random.normal(0, u), u) for n, u in self.noise.items()}, AXIS
        )

    def lay(self, key: str, piece: Piece | None) -> None:
        """Lay a piece as well as a hand can, or cut it anew where it lies."""
        if piece is None:
            del self.lies[key]
            return
        place = self.places.setdefault(key, self.random.normal(0, PLACE_U))
        self.lies[key] = effect_of(self._true(piece, place), RACKET).moments

    def _true(self, piece: Piece, place: float) -> Piece:
        strip = piece.as_strip
        if strip is None:
            assert isinstance(piece, PointPiece)
            mass_g = max(piece.mass_g.value + self.random.normal(0, WEIGHED_U), 0.01)
            return replace(piece, y_cm=piece.y_cm + place, mass_g=Estimate(mass_g))
        assert isinstance(strip.g_per_cm, Estimate)
        cut = strip.with_length(max(strip.length_cm.value + self.random.normal(0, LENGTH_U), 0.1))
        cut = cut.with_density(Estimate(strip.g_per_cm.value * self.roll))
        if cut.starts_at_centre_line(RACKET):
            return cut
        return cut.placed_at(RACKET, cut.at.arc_length(RACKET.rim(cut.face)) + place)

    @property
    def is_within(self) -> bool:
        """Whether all specs truly lie within their tolerances."""
        specs = specs_of(self.whole())
        return all(abs(specs[n] - self.target[n]) <= t for n, t in TOLERANCES.items())

    def error_of(self, belief: StateEstimate) -> float:
        """By how much what lies errs from what was predicted of it, in weight and swing weight together."""
        believed = np.array(belief.moments()) - belief.mean[:5]
        off = Moments(*(np.sum([tuple(m) for m in self.lies.values()], axis=0) - believed))
        return float(np.hypot(off.mass, off.swingweight_kgcm2(AXIS)))


def new_job(random: np.random.Generator, readings: int, roll: float | None = None) -> Job:
    """A frame and a target that some weight brings it to."""
    frame = moments_from_specs(
        random.normal(305, 2), random.normal(32.3, 0.2), random.normal(312, 3), AXIS, 13.5
    )
    whole = frame
    for mass_g, y_cm in (
        (random.uniform(1, 3), 67.0),
        (random.uniform(1, 4), 52.0),
        (random.uniform(2, 7), 2.0),
        (random.uniform(0, 2), 16.0),
    ):
        whole = whole.plus(Moments(mass_g, mass_g * y_cm, mass_g * y_cm**2, 0.0, 0.0))
    factor = 1 + random.normal(0, DENSITY_U) if roll is None else roll
    return Job(random, frame, specs_of(whole), readings, factor)


def started(job: Job, factor: Estimate | None = None) -> StateEstimate | None:
    """The job planned and laid, as sure as there is a plan for it; None where there is none.

    ``factor`` is what earlier jobs taught of the roll.
    """
    first = job.read()
    density = 1.0 if factor is None else factor.value
    sites = [
        replace(s, g_per_cm=Estimate(s.g_per_cm.value * density, s.g_per_cm.u * density))
        if isinstance(s, RimSlot)
        else s
        for s in SITES
    ]
    aim = Target.about(job.target, TOLERANCES, AXIS)
    frame = SetFrame(first, sites, RACKET.length_cm, RACKET)
    plans = (plan_set([frame], aim, seconds=3, guard=guard) for guard in GUARDS)
    plan = next((p for p in plans if p is not None and p.status.has_plan), None)
    if plan is None:
        return None
    belief = estimate_state(first, length_cm=RACKET.length_cm, outline=RACKET)
    if factor is not None:
        belief = belief.with_roll(ROLL, factor.u, factor.value)
    for i, planned in enumerate(plan.frames[0].pieces):
        piece, strip = planned, planned.as_strip
        if strip is not None and isinstance(strip.g_per_cm, Estimate):
            # The belief counts from what the roll is taken for; what was learnt of it is its factor.
            u = strip.g_per_cm.u / density
            piece = replace(strip, material=ROLL).with_density(Estimate(strip.g_per_cm.value / density, u))
        belief = belief.with_applied(str(i), piece)
        job.lay(str(i), piece)
    return belief


def one_round(job: Job, belief: StateEstimate) -> tuple[StateEstimate, Next]:
    """Read, and trim as told."""
    belief = belief.with_read(job.read())
    step = next_step(belief, job.bands, AXIS, WANTED_CHANCE, job.noise)
    for key, piece in step.trims:
        job.lay(key, piece)
    return after(belief, step.trims), step
