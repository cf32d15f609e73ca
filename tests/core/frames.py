"""Frames, pieces and random strategies that the tests of the core share. All made up."""

from __future__ import annotations

from hypothesis import strategies as st

from kentrobar.core.estimates import Estimate
from kentrobar.core.outline import (
    CLOCK_MINUTES,
    Face,
    PaddleDimensions,
    RacketDimensions,
    outline_of,
)
from kentrobar.core.pieces import ClockPlace, Piece, Plug, PointPiece, RimStrip, Sleeve
from kentrobar.core.specs import MeasuredSpecs

RACKET = outline_of(RacketDimensions(68.58, 34.2, 26.1, 23.0, 18.0, 645.16))
PADDLE = outline_of(PaddleDimensions(41.9, 19.0))
REED = MeasuredSpecs(
    Estimate(310.0, 0.1), Estimate(32.4, 0.1), Estimate(318.0, 1.0), 10.0, Estimate(13.6, 0.2)
)


def strip(minutes: float, length_cm: float = 6.0, **options: object) -> RimStrip:
    options = {"g_per_cm": Estimate(0.1, 0.002)} | options
    return RimStrip(at=ClockPlace(minutes), length_cm=Estimate(length_cm, 0.1), **options)


def point(mass_g: float, y_cm: float, x_cm: float = 0.0, **options: object) -> PointPiece:
    return PointPiece(mass_g=Estimate(mass_g, 0.05), y_cm=y_cm, x_cm=x_cm, **options)


masses = st.floats(0.1, 30)
heights = st.floats(0, 68)
points = st.builds(
    point, masses, heights, st.floats(-13, 13), mirrored=st.booleans(), z_cm=st.floats(-1, 1)
)
strips = st.builds(
    strip,
    st.floats(0, CLOCK_MINUTES - 0.01),
    st.floats(0.5, 30),
    face=st.sampled_from(list(Face)),
    mirrored=st.booleans(),
    both_faces=st.booleans(),
)
sleeves = st.builds(
    lambda m, y, length: Sleeve(mass_g=Estimate(m), from_cm=y, to_cm=y + length),
    masses, st.floats(0, 10), st.floats(0.5, 8),
)  # fmt: skip
plugs = st.builds(
    lambda m, y, length: Plug(mass_g=Estimate(m), from_cm=y, to_cm=y + length),
    masses, st.floats(0, 10), st.floats(0.5, 8),
)  # fmt: skip
pieces: st.SearchStrategy[Piece] = st.one_of(points, strips, sleeves, plugs)
