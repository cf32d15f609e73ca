"""Random plans and the targets they make, for the tests and the bench of matching."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.moments import moments_from_specs
from kentrobar.core.body.specs import READ_BY_KEY
from kentrobar.core.body.target import Target
from kentrobar.core.frame.places import ClockPlace
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.solving.candidates import PointSlot, RimSlot, Slot
from kentrobar.core.solving.set_programme import FrameProblem
from kentrobar.core.weight.pieces import Piece, PointPiece, RimStrip, effect_of
from kentrobar.core.weight.prediction import predict
from tests.core.frames import RACKET, REED

SITES: list[Slot] = [
    RimSlot(label="12", start=ClockPlace(660), end=ClockPlace(60), g_per_cm=Estimate(0.1, 0.002)),
    RimSlot(
        label="10 and 2",
        start=ClockPlace(70),
        end=ClockPlace(150),
        g_per_cm=Estimate(0.1, 0.002),
        mirrored=True,
    ),
    RimSlot(
        label="3 and 9",
        start=ClockPlace(150),
        end=ClockPlace(220),
        g_per_cm=Estimate(0.2, 0.004),
        mirrored=True,
    ),
    PointSlot(label="throat", y_cm=33, x_cm=3, mirrored=True, step_g=0.5),
    PointSlot(label="handle top", y_cm=16, step_g=0.5),
    PointSlot(label="butt cap", y_cm=1.2, step_g=0.1),
]
TOLERANCES = {"mass_g": 0.5, "balance_cm": 0.05, "swingweight_kgcm2": 0.5, "twistweight_kgcm2": 0.1}
SETTING = {"length_cm": 68.58, "outline": RACKET}


def random_plan(random: np.random.Generator) -> list[Piece]:
    """Pieces at some of the sites, of whole steps."""
    line, pieces = RACKET.rim(Face.INNER), []
    for site in SITES:
        if random.uniform() < 0.4:
            continue
        if isinstance(site, PointSlot):
            mass = Estimate(int(random.integers(1, 10)) * site.step_g)
            pieces.append(PointPiece(mass_g=mass, y_cm=site.y_cm, x_cm=site.x_cm, mirrored=site.mirrored))
            continue
        steps = int(random.integers(2, 14))
        start, end = site.start.arc_length(line), site.end.arc_length(line)
        end += line.length if end <= start else 0.0
        free = int((end - start) / site.step_cm) - steps
        middle = start + (int(random.integers(0, free + 1)) + steps / 2) * site.step_cm
        pieces.append(
            RimStrip(
                at=ClockPlace(line.clock_at(line.wrap(middle))),
                length_cm=Estimate(steps * site.step_cm),
                g_per_cm=site.g_per_cm,
                mirrored=site.mirrored,
            )
        )
    return pieces


def specs_with(pieces: list[Piece] | tuple[Piece, ...]) -> dict[str, float]:
    after = predict(REED, pieces, axis_cm=10.0, **SETTING).after
    return {name: getattr(after, name).value for name in READ_BY_KEY}


def random_aim(random: np.random.Generator, pieces: list[Piece]) -> Target:
    """What a plan makes, as a target of three or four specs."""
    targets = specs_with(pieces)
    if random.uniform() < 0.5:
        del targets["twistweight_kgcm2"]
    # The known plan lies anywhere within the tolerance.
    moved = {n: v + random.uniform(-0.9, 0.9) * TOLERANCES[n] for n, v in targets.items()}
    return Target.about(moved, TOLERANCES, 10.0)


def impossible_aim(random: np.random.Generator) -> Target:
    """A target that no weight at the sites can make, for one reason or another."""
    now = specs_with([])
    kind = int(random.integers(0, 4))
    if kind == 0:
        now["mass_g"] -= random.uniform(1, 20)
    elif kind == 1:
        now["swingweight_kgcm2"] -= random.uniform(1, 20)
    elif kind == 2:  # heavier head, hardly more weight
        now["mass_g"] += 1.0
        now["swingweight_kgcm2"] += random.uniform(8, 25)
    else:  # balance far toward the tip with the swing weight as it was
        now["balance_cm"] += random.uniform(0.5, 2.0)
    return Target.about(now, TOLERANCES, 10.0)


def is_met(aim: Target, pieces: tuple[Piece, ...]) -> bool:
    specs = specs_with(pieces)
    return all(low - 1e-9 <= specs[name] <= high + 1e-9 for name, (low, high) in aim.bands.items())


def added_g(pieces: list[Piece]) -> float:
    return specs_with(pieces)["mass_g"] - specs_with([])["mass_g"]


def random_set(
    random: np.random.Generator, count: int, sites: Sequence[Slot] = tuple(SITES)
) -> list[FrameProblem]:
    """Frames that a plan of whole steps each brings near one target: that target less random pieces."""
    target = moments_from_specs(315.0, 32.0, 320.0, 10.0, 14.0)
    found = []
    for _ in range(count):
        whole = target
        for piece in random_plan(random):
            whole = whole.plus(effect_of(piece, RACKET).moments.times(-1.0))
        spread = random.normal(0.0, [0.3, 0.03, 0.3, 0.05])
        specs = (whole.mass, whole.balance_cm, whole.swingweight_kgcm2(10.0), whole.twistweight_kgcm2)
        m, b, s, t = (float(x + d) for x, d in zip(specs, spread, strict=True))
        read = MeasuredSpecs(Estimate(m, 0.1), Estimate(b, 0.05), Estimate(s, 1.0), 10.0, Estimate(t, 0.2))
        found.append(FrameProblem(read, sites, RACKET))
    return found
