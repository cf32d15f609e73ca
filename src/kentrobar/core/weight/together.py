"""What all accessories do together to a usual frame, from bare to ready to play, each and in sum."""

from __future__ import annotations

from collections.abc import Sequence
from types import MappingProxyType
from typing import Final

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.outline import Outline, PaddleDimensions, RacketDimensions, outline_of
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.weight.builds import USUAL_FITTINGS, Build, BuildChange, Fitting, change_build

# The project's own figures of a usual adult frame, bare: mass g, balance cm, inertia kg·cm² about the usual axis.
USUAL_OUTLINE: Final = MappingProxyType(
    {
        Sport.TENNIS: RacketDimensions(68.58, 34.0, 25.9, 23.0, 18.0, 645.16),
        Sport.PICKLEBALL: PaddleDimensions(41.9, 19.0),
    }
)
USUAL_BARE: Final = MappingProxyType(
    {
        Sport.TENNIS: MeasuredSpecs(Estimate(300.0), Estimate(32.0), Estimate(288.0), 10.0, Estimate(12.5)),
        Sport.PICKLEBALL: MeasuredSpecs(Estimate(225.0), Estimate(23.8), Estimate(112.0), 5.0, Estimate(6.4)),
    }
)


def usual_outline(sport: Sport) -> Outline:
    """The outline of a usual adult frame."""
    return outline_of(USUAL_OUTLINE[sport])


def put_on_usual(sport: Sport, fittings: Sequence[Fitting]) -> BuildChange:
    """A usual unstrung frame with these put on: what each changes by itself, and all of them together."""
    bare = USUAL_BARE[sport]
    return change_build(bare, [], fittings, outline=usual_outline(sport), axis_cm=bare.axis_cm)


def is_put_on(fitting: Fitting, sport: Sport) -> bool:
    """Whether a fitting comes on a unstrung frame of a sport before it is ready to play."""
    usual = USUAL_FITTINGS[fitting.kind]
    return sport in usual.sports and Build.BARE not in usual.builds and Build.PLAYING in usual.builds
