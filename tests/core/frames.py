"""Frames, pieces and random strategies that the tests of the core share. All made up."""

from __future__ import annotations

from hypothesis import strategies as st

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.editing.plan import Baseline, PlanPiece, PlanState
from kentrobar.core.editing.shelf import Stock
from kentrobar.core.frame.clock import CLOCK_MINUTES
from kentrobar.core.frame.outline import PaddleDimensions, RacketDimensions, outline_of
from kentrobar.core.frame.places import ClockPlace
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.weight.materials import KINDS, MaterialKind
from kentrobar.core.weight.pieces import Piece, Plug, PointPiece, RimStrip, Sleeve

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


def plan(pieces=(), measured=REED, outline=RACKET, axis_cm=10.0, **known) -> PlanState:
    """A plan of these pieces; ``known`` are circumstances and fittings of its baseline."""
    laid = tuple(PlanPiece(number, piece) for number, piece in enumerate(pieces, 1))
    return PlanState(Baseline(outline, measured, **known), "Plan", axis_cm, laid)


def stock(kind: MaterialKind, key: int = 1, **figures) -> Stock:
    """One material of a shelf, by default a tape of 0.2 g/cm or a putty of 2 g/cm³."""
    usual = {
        "name": KINDS[kind].label,
        "facts": KINDS[kind],
        "density": Estimate(0.2, 0.004),
        "g_cm3": 2.0,
        "each_g": 6.0,
    }
    return Stock(key=key, kind=kind, **usual | figures)


masses = st.floats(0.1, 30)
heights = st.floats(0, 68)
points = st.builds(point, masses, heights, st.floats(-13, 13), mirrored=st.booleans(), z_cm=st.floats(-1, 1))
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
    masses,
    st.floats(0, 10),
    st.floats(0.5, 8),
)
plugs = st.builds(
    lambda m, y, length: Plug(mass_g=Estimate(m), from_cm=y, to_cm=y + length),
    masses,
    st.floats(0, 10),
    st.floats(0.5, 8),
)
pieces: st.SearchStrategy[Piece] = st.one_of(points, strips, sleeves, plugs)
