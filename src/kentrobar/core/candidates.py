"""What a plan may be made of: sites and choices as columns of a programme, and back as pieces.

Each column is one unit of something that can be laid, with the moments it adds: a step of putty, a cell
of a stretch of rim, a grip in place of another. A strip is a run of neighbouring cells.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, Final, NamedTuple

import numpy as np

from kentrobar.core.errors import PieceError
from kentrobar.core.estimates import Estimate
from kentrobar.core.moments import Moments
from kentrobar.core.outline import Face, Outline
from kentrobar.core.pieces import (
    CUT_LENGTH_U_CM,
    DENSITY_U_RELATIVE,
    WEIGHED_U_G,
    ClockPlace,
    Piece,
    Plug,
    PointPiece,
    RimPlace,
    RimStrip,
    Sleeve,
    effect_of,
)

MOST_CELLS: Final = 400


@dataclass(frozen=True, kw_only=True)
class PointSite:
    """Where one body may lie, in steps of ``step_g`` (0: any weight) up to ``max_g`` each.

    ``like`` is a body whose shape it has, whatever its weight; without, it is a compact piece.
    """

    label: str
    y_cm: float
    x_cm: float = 0.0
    mirrored: bool = False
    step_g: float = 0.1
    max_g: float = 15.0
    least_g: float = 0.0  # a piece smaller than this is not worth laying
    material: str = ""
    like: Plug | Sleeve | None = None


@dataclass(frozen=True, kw_only=True)
class RimSite:
    """A stretch of rim where one strip may lie, cut in steps of ``step_cm``; clockwise from start."""

    label: str
    start: RimPlace
    end: RimPlace
    g_per_cm: float
    mirrored: bool = False
    face: Face = Face.INNER
    step_cm: float = 0.5
    least_cm: float = 0.0
    layers: int = 1
    material: str = ""


class Choice(NamedTuple):
    """What is done wholly or not at all: a heavier cap, one grip for another, a fitting taken off."""

    label: str
    pieces: tuple[Piece, ...]


Site = PointSite | RimSite | Choice


class Column(NamedTuple):
    """One variable: the moments that one unit of it adds, its largest value, whether whole."""

    moments: Moments
    most: float
    whole: bool


class Span(NamedTuple):
    """The columns of one site, from ``first`` to before ``last``, and the least of them in use."""

    first: int
    last: int
    least: float


@dataclass
class Candidates:
    """All that may be laid: the columns of all sites, and which of them make up which site."""

    sites: Sequence[Site]
    outline: Outline | None
    columns: list[Column] = field(default_factory=list)
    spans: list[Span] = field(default_factory=list)

    def pieces(self, x: np.ndarray[Any, Any]) -> Iterator[Piece]:
        """A solution as pieces that can be cut and laid."""
        for site, (first, last, _) in zip(self.sites, self.spans, strict=True):
            match site:
                case PointSite():
                    mass = x[first] * (site.step_g or 1.0)
                    if site.step_g:
                        mass = round(x[first]) * site.step_g
                    if mass > 1e-9:
                        yield _body(site, mass)
                case RimSite():
                    laid = [i - first for i in range(first, last) if x[i] > 0.5]
                    if laid:
                        start, _ = _stretch(site, self.outline)
                        length = len(laid) * site.step_cm
                        yield _strip(site, self.outline, start + laid[0] * site.step_cm, length)
                case _ if x[first] > 0.5:
                    yield from site.pieces


def candidates(sites: Sequence[Site], outline: Outline | None) -> Candidates:
    """The columns of these sites.

    Raises:
        PieceError, OutlineError: a site that cannot be on this frame, or steps too fine.
    """
    found = Candidates(sites, outline)
    for site in sites:
        first = len(found.columns)
        least = 0
        match site:
            case PointSite():
                found.columns.append(_body_column(site))
                least = math.ceil(site.least_g / (site.step_g or 1.0) - 1e-9)
            case RimSite():
                found.columns.extend(_cells(site, outline))
                least = math.ceil(site.least_cm / site.step_cm - 1e-9)
            case _:
                found.columns.append(_choice_column(site, outline))
        found.spans.append(Span(first, len(found.columns), least))
    if len(found.columns) > MOST_CELLS * 10:
        raise PieceError(
            "The steps are too fine for so many sites; cut in larger steps.",
            code="too_many_cells",
            field="step_cm",
        )
    return found


def _choice_column(choice: Choice, outline: Outline | None) -> Column:
    moments = Moments()
    for piece in choice.pieces:
        moments = moments.plus(effect_of(piece, outline).moments)
    return Column(moments, 1.0, True)


def _body_column(site: PointSite) -> Column:
    if not (site.max_g > 0 and site.step_g >= 0):
        raise PieceError(
            "A site takes more than 0 g, in steps of 0 or more.", code="no_mass", field="max_g"
        )
    unit = site.step_g or 1.0
    most = site.max_g / unit
    # A step that fits ten times must not fit 9.999 times.
    most = math.floor(most + 1e-9) if site.step_g else most
    return Column(effect_of(_body(site, unit), None).moments, float(most), bool(site.step_g))


def _body(site: PointSite, mass_g: float) -> Piece:
    mass = Estimate(mass_g, WEIGHED_U_G)
    if site.like:
        return replace(site.like, label=site.label, material=site.material, mass_g=mass)
    return PointPiece(
        label=site.label, material=site.material, mass_g=mass, y_cm=site.y_cm, x_cm=site.x_cm,
        mirrored=site.mirrored,
    )  # fmt: skip


def _stretch(site: RimSite, outline: Outline | None) -> tuple[float, float]:
    """Arc lengths of a site's start and end along its line, start first."""
    if outline is None:
        raise PieceError("A site on the rim needs the outline.", code="no_outline", field="outline")
    line = outline.rim(site.face)
    start, end = site.start.arc_length(line), site.end.arc_length(line)
    if end <= start and line.closed:
        end += line.length
    return (start, end) if start < end else (end, start)


def _cells(site: RimSite, outline: Outline | None) -> Iterator[Column]:
    start, end = _stretch(site, outline)
    if not (site.step_cm > 0 and site.g_per_cm > 0):
        raise PieceError(
            "A strip needs a step and a weight per length above 0.", code="no_step", field="step_cm"
        )
    count = math.floor((end - start) / site.step_cm + 1e-9)
    if not 1 <= count <= MOST_CELLS:
        raise PieceError(
            f"{site.label or 'A site'} takes {count} steps; make it 1 to {MOST_CELLS}.",
            code="empty_stretch" if count < 1 else "too_many_cells",
            field="step_cm",
        )
    for i in range(count):
        strip = _strip(site, outline, start + i * site.step_cm, site.step_cm)
        yield Column(effect_of(strip, outline).moments, 1.0, True)


def _strip(site: RimSite, outline: Outline | None, start: float, length: float) -> RimStrip:
    assert outline is not None  # noqa: S101 - asked by _stretch
    line = outline.rim(site.face)
    return RimStrip(
        label=site.label,
        material=site.material,
        at=ClockPlace(line.clock_at(line.wrap(start + length / 2))),
        length_cm=Estimate(length, CUT_LENGTH_U_CM),
        g_per_cm=Estimate(site.g_per_cm, DENSITY_U_RELATIVE * site.g_per_cm),
        face=site.face,
        mirrored=site.mirrored,
        layers=site.layers,
    )
