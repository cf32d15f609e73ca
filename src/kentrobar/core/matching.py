"""The least weight that brings a frame to its target: a mixed-integer programme in moment space.

Every piece adds its moments, so weight, first moment and swing weight are sums over the pieces and
"within tolerance" is linear: |M - M*| ≤ tM, (b* - tb)·M ≤ S ≤ (b* + tb)·M, |SW - SW*| ≤ tS, and twist
weight likewise. What is cut or rolled comes in steps, hence whole numbers: a compact piece is a count
of its steps, a strip a run of neighbouring cells of its stretch. HiGHS solves it to a proven optimum.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import combinations
from types import MappingProxyType
from typing import TYPE_CHECKING, Any, Final, NamedTuple

import numpy as np

from kentrobar.core.errors import PieceError, SpecError
from kentrobar.core.estimates import Estimate
from kentrobar.core.moments import Moments
from kentrobar.core.outline import Face, Outline
from kentrobar.core.pieces import (
    CUT_LENGTH_U_CM,
    DENSITY_U_RELATIVE,
    WEIGHED_U_G,
    ClockPlace,
    Piece,
    PointPiece,
    RimPlace,
    RimStrip,
    effect_of,
)
from kentrobar.core.specs import MeasuredSpecs

if TYPE_CHECKING:
    from scipy.optimize import OptimizeResult

SPECS: Final = ("mass_g", "balance_cm", "swingweight_kgcm2", "twistweight_kgcm2")
NOUNS: Final = MappingProxyType(
    {"mass_g": "static weight", "balance_cm": "balance", "swingweight_kgcm2": "swing weight",
     "twistweight_kgcm2": "twist weight"}
)  # fmt: skip
UNITS: Final = MappingProxyType(
    {
        "mass_g": "g",
        "balance_cm": "cm",
        "swingweight_kgcm2": "kg·cm²",
        "twistweight_kgcm2": "kg·cm²",
    }
)
# A good match by the usual rule of thumb; what a miss is measured in where bounds are wider.
USUAL_TOLERANCE: Final = MappingProxyType(
    {"mass_g": 1.0, "balance_cm": 0.1, "swingweight_kgcm2": 1.0, "twistweight_kgcm2": 0.2}
)
MOST_CELLS: Final = 400
_GAP: Final = 2e-5  # of the weight: far less than any cutting step
_PER_PIECE_G: Final = 1e-5  # where asked for, the plan with fewer pieces of two that weigh alike
_SLACK: Final = 1e-7  # relative; by which bounds are drawn in, so that rounding stays within them


@dataclass(frozen=True, kw_only=True)
class PointSite:
    """Where a compact piece may lie, in steps of ``step_g`` (0: any weight) up to ``max_g`` each."""

    label: str
    y_cm: float
    x_cm: float = 0.0
    mirrored: bool = False
    step_g: float = 0.1
    max_g: float = 15.0
    least_g: float = 0.0  # a piece smaller than this is not worth laying


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


Site = PointSite | RimSite


@dataclass(frozen=True)
class Aim:
    """Bounds that a spec must come to lie in, by its name of ``SPECS``; left out: free."""

    bounds: Mapping[str, tuple[float, float]]
    axis_cm: float = 10.0

    @classmethod
    def at(
        cls, targets: Mapping[str, float], tolerances: Mapping[str, float], axis_cm: float
    ) -> Aim:
        """Targets with the same tolerance to either side."""
        return cls({n: (v - tolerances[n], v + tolerances[n]) for n, v in targets.items()}, axis_cm)


@dataclass(frozen=True)
class Match:
    """What was found. ``lower_bound_g`` is proven: no plan adds less.

    Where ``is_feasible`` is false, ``reasons`` say why and ``nearest`` is the plan that comes
    nearest, by the sum of what it misses in parts of each tolerance.
    """

    is_feasible: bool
    pieces: tuple[Piece, ...] = ()
    added_g: float = 0.0
    lower_bound_g: float = 0.0
    reasons: tuple[str, ...] = ()
    clashing: tuple[str, ...] = ()
    nearest: tuple[Piece, ...] = ()
    is_proven: bool = True


class Column(NamedTuple):
    """One variable: the moments that one unit of it adds, its largest value, whether whole."""

    moments: Moments
    most: float
    whole: bool


class _Span(NamedTuple):
    """The columns of one site, from ``first`` to before ``last``, and the least of them in use."""

    first: int
    last: int
    least: float


@dataclass
class _Model:
    """Columns of all sites, and which of them make up which site."""

    columns: list[Column] = field(default_factory=list)
    spans: list[_Span] = field(default_factory=list)


def match(
    measured: MeasuredSpecs,
    sites: Sequence[Site],
    aim: Aim,
    *,
    length_cm: float,
    outline: Outline | None = None,
    seconds: float = 20.0,
    explain: bool = True,
) -> Match:
    """The plan of least added weight that brings a frame within its aim.

    ``explain`` looks for the clash and the nearest plan where there is none.

    Raises:
        SpecError: a spec that is aimed at but was never measured.
        PieceError, OutlineError: a site that cannot be on this frame.
    """
    _require_known(measured, aim)
    problem = _Problem(measured, _model_of(sites, outline), aim, seconds)
    found = problem.least_weight(SPECS)
    if found is not None:
        x, bound, proven = found
        pieces = tuple(_pieces(sites, problem.model, x, outline))
        added = sum(effect_of(piece, outline).moments.mass for piece in pieces)
        return Match(True, pieces, added, min(bound, added), is_proven=proven)
    if not explain:
        return Match(False)
    clashing = problem.clashing()
    nearest = tuple(_pieces(sites, problem.model, problem.nearest(), outline))
    reasons = tuple(problem.reasons(clashing))
    return Match(False, reasons=reasons, clashing=clashing, nearest=nearest)


def _require_known(measured: MeasuredSpecs, aim: Aim) -> None:
    for name in aim.bounds:
        needed: tuple[str, ...] = ("mass_g", name) if name == "balance_cm" else (name,)
        if name == "swingweight_kgcm2" and not measured.knows_swingweight(aim.axis_cm):
            needed = ("mass_g", "balance_cm", name)
        for each in needed:
            if not isinstance(getattr(measured, each), Estimate):
                raise SpecError(
                    f"The {NOUNS[each]} of this frame is not known; read it, or leave out what "
                    "depends on it.",
                    code="not_measured",
                    field=each,
                )


def columns_of(sites: Sequence[Site], outline: Outline | None) -> list[Column]:
    """What can be laid at the sites, unit by unit. Raises as :func:`match`."""
    return _model_of(sites, outline).columns


# -- sites as columns ---------------------------------------------------------------------


def _model_of(sites: Sequence[Site], outline: Outline | None) -> _Model:
    model = _Model()
    for site in sites:
        first = len(model.columns)
        if isinstance(site, PointSite):
            model.columns.append(_point_column(site))
            least = math.ceil(site.least_g / (site.step_g or 1.0) - 1e-9)
        else:
            model.columns.extend(_cells(site, outline))
            least = math.ceil(site.least_cm / site.step_cm - 1e-9)
        model.spans.append(_Span(first, len(model.columns), least))
    if len(model.columns) > MOST_CELLS * 10:
        raise PieceError(
            "The steps are too fine for so many sites; cut in larger steps.",
            code="too_many_cells",
            field="step_cm",
        )
    return model


def _point_column(site: PointSite) -> Column:
    if not (site.max_g > 0 and site.step_g >= 0):
        raise PieceError(
            "A site takes more than 0 g, in steps of 0 or more.", code="no_mass", field="max_g"
        )
    unit = site.step_g or 1.0
    most = site.max_g / unit
    # A step that fits ten times must not fit 9.999 times.
    most = math.floor(most + 1e-9) if site.step_g else most
    return Column(_point_moments(site, unit), float(most), bool(site.step_g))


def _point_moments(site: PointSite, mass_g: float) -> Moments:
    return effect_of(_point(site, mass_g), None).moments


def _point(site: PointSite, mass_g: float) -> PointPiece:
    return PointPiece(
        label=site.label, mass_g=Estimate(mass_g, WEIGHED_U_G), y_cm=site.y_cm, x_cm=site.x_cm,
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
        at=ClockPlace(line.clock_at(line.wrap(start + length / 2))),
        length_cm=Estimate(length, CUT_LENGTH_U_CM),
        g_per_cm=Estimate(site.g_per_cm, DENSITY_U_RELATIVE * site.g_per_cm),
        face=site.face,
        mirrored=site.mirrored,
    )


def _pieces(
    sites: Sequence[Site], model: _Model, x: np.ndarray[Any, Any], outline: Outline | None
) -> Iterator[Piece]:
    """The solution as pieces that can be cut and laid."""
    for site, (first, last, _) in zip(sites, model.spans, strict=True):
        if isinstance(site, PointSite):
            mass = x[first] * (site.step_g or 1.0)
            if site.step_g:
                mass = round(x[first]) * site.step_g
            if mass > 1e-9:
                yield _point(site, mass)
            continue
        laid = [i - first for i in range(first, last) if x[i] > 0.5]
        if laid:
            start, _ = _stretch(site, outline)
            length = len(laid) * site.step_cm
            yield _strip(site, outline, start + laid[0] * site.step_cm, length)


# -- the programme -----------------------------------------------------------------------------


class _Problem:
    """The frame, its columns and its aim, asked in several ways."""

    def __init__(self, measured: MeasuredSpecs, model: _Model, aim: Aim, seconds: float) -> None:
        self.frame, self.model, self.aim, self.seconds = measured.moments(), model, aim, seconds
        self.masses = np.array([c.moments.mass for c in model.columns])

    def least_weight(self, names: Sequence[str]) -> tuple[np.ndarray[Any, Any], float, bool] | None:
        """The lightest plan that meets these demands, its proven bound, whether it is the optimum."""
        rows = list(self._rows(names))
        found = self._solve(self.masses, rows)
        if found.x is None:
            return None
        bound = found.mip_dual_bound if found.mip_dual_bound is not None else found.fun
        for_pieces = _PER_PIECE_G * len(self.model.spans)
        return found.x, max(float(bound) - for_pieces, 0.0), found.status == 0

    def clashing(self) -> tuple[str, ...]:
        """The smallest set of demands that cannot be met together."""
        demanded = [name for name in SPECS if name in self.aim.bounds]
        for size in range(1, len(demanded) + 1):
            for names in combinations(demanded, size):
                if self.least_weight(names) is None:
                    return names
        return tuple(demanded)

    def nearest(self) -> np.ndarray[Any, Any]:
        """The plan that misses least, in parts of each tolerance."""
        rows = list(self._rows(SPECS))
        n, k = len(self.model.columns), len(rows)
        loose = []
        for i, (row, low, high, scale) in enumerate(self._scaled(rows)):
            missed = _unit(2 * k, i, scale) - _unit(2 * k, k + i, scale)
            loose.append((np.concatenate([row, missed]), low, high))
        cost = np.concatenate([self.masses * 1e-6, np.ones(2 * k)])
        found = self._solve(cost, loose, extra=2 * k)
        return np.asarray(found.x[:n]) if found.x is not None else np.zeros(n)

    def reasons(self, clashing: Sequence[str]) -> Iterator[str]:
        """Why the demands cannot be met, the clash first."""
        before = self._values()
        if len(clashing) == 1:
            name = clashing[0]
            low, high = self.aim.bounds[name]
            if before[name] > high and name != "balance_cm":
                yield (
                    f"The {NOUNS[name]} is {before[name]:.2f} {UNITS[name]} already, above "
                    f"{high:.2f}; what is added only raises it. Take weight away, or choose another"
                    " frame."
                )
            else:
                yield (
                    f"No weight at these sites brings the {NOUNS[name]} from {before[name]:.2f} to "
                    f"between {low:.2f} and {high:.2f} {UNITS[name]}; allow more weight, finer steps"
                    " or other sites."
                )
            return
        named = [NOUNS[name] for name in clashing]
        together = "both be met" if len(named) == 2 else "all be met together"
        yield (
            f"{', '.join(named[:-1]).capitalize()} and {named[-1]} cannot {together} with these sites "
            "and steps; widen one of them, or allow more sites."
        )

    def _values(self) -> dict[str, float]:
        frame = self.frame
        return {
            "mass_g": frame.mass,
            "balance_cm": frame.first_y / frame.mass if frame.mass else 0.0,
            "swingweight_kgcm2": frame.swingweight_kgcm2(self.aim.axis_cm),
            "twistweight_kgcm2": frame.second_xz / 1000,
        }

    def _rows(self, names: Sequence[str]) -> Iterator[tuple[np.ndarray[Any, Any], float, float]]:
        """Each demand as low ≤ row·x ≤ high."""
        frame, p = self.frame, self.aim.axis_cm
        columns = [c.moments for c in self.model.columns]
        for name in names:
            if name not in self.aim.bounds:
                continue
            low, high = self.aim.bounds[name]
            give = _SLACK * max(abs(low), abs(high))
            low, high = low + give, high - give
            match name:
                case "mass_g":
                    yield self.masses, low - frame.mass, high - frame.mass
                case "balance_cm":
                    for edge, sign in ((low, 1.0), (high, -1.0)):
                        row = np.array([sign * (m.first_y - edge * m.mass) for m in columns])
                        yield row, -sign * (frame.first_y - edge * frame.mass), np.inf
                case "swingweight_kgcm2":
                    row = np.array([m.swingweight_kgcm2(p) for m in columns])
                    now = frame.swingweight_kgcm2(p)
                    yield row, low - now, high - now
                case _:
                    # Sites to either side cancel in X; one aside costs X²/M, some thousandths.
                    row = np.array([m.second_xz / 1000 for m in columns])
                    yield row, low - frame.second_xz / 1000, high - frame.second_xz / 1000

    def _scaled(
        self, rows: Sequence[tuple[np.ndarray[Any, Any], float, float]]
    ) -> Iterator[tuple[np.ndarray[Any, Any], float, float, float]]:
        """Rows with what one tolerance of them is."""
        names = [n for n in SPECS if n in self.aim.bounds for _ in range(1 + (n == "balance_cm"))]
        for name, (row, low, high) in zip(names, rows, strict=True):
            wide = (self.aim.bounds[name][1] - self.aim.bounds[name][0]) / 2
            wide = min(wide, USUAL_TOLERANCE[name])
            scale = max(wide, 1e-6) * (self.frame.mass if name == "balance_cm" else 1.0)
            yield row, low, high, scale

    def _per_piece(self, helped: Sequence[_Span], before: int) -> Iterator[np.ndarray[Any, Any]]:
        """What a piece costs beside its weight: only where small pieces count as none.

        Telling plans of one weight apart takes the solver several times as long.
        """
        yield np.zeros(before)
        for span in helped:
            yield np.full(span.last - span.first, _PER_PIECE_G if span.least > 0 else 0.0)

    def _solve(
        self,
        cost: np.ndarray[Any, Any],
        rows: Sequence[tuple[np.ndarray[Any, Any], float, float]],
        extra: int = 0,
    ) -> OptimizeResult:
        # scipy takes half a second to load, which every start of the application would pay.
        from scipy.optimize import Bounds, LinearConstraint, milp
        from scipy.sparse import csr_array

        n = len(self.model.columns)
        helped = [s for s in self.model.spans if s.last - s.first > 1 or s.least > 0]
        helpers = sum(s.last - s.first for s in helped)
        width = n + extra + helpers
        full = [(np.concatenate([row, np.zeros(width - len(row))]), low, high)
                for row, low, high in rows]  # fmt: skip
        offset = n + extra
        for span in helped:
            most = self.model.columns[span.first].most
            full += _in_use(span, most, offset, width)
            offset += span.last - span.first
        upper = np.concatenate(
            [[c.most for c in self.model.columns], np.full(extra, np.inf), np.ones(helpers)]
        )
        whole = np.concatenate(
            [
                [c.whole for c in self.model.columns],
                np.zeros(extra),
                *(np.full(s.last - s.first, s.least > 0) for s in helped),
            ]
        )
        matrix = csr_array(np.array([row for row, _, _ in full]).reshape(len(full), width))
        constraints = LinearConstraint(
            matrix, np.array([low for _, low, _ in full]), np.array([high for _, _, high in full])
        )
        return milp(
            np.concatenate([cost, *self._per_piece(helped, width - helpers - len(cost))]),
            integrality=whole,
            bounds=Bounds(np.zeros(width), upper),
            constraints=constraints if full else None,
            options={"time_limit": self.seconds, "mip_rel_gap": _GAP},
        )


def _in_use(
    span: _Span, most: float, offset: int, width: int
) -> list[tuple[np.ndarray[Any, Any], float, float]]:
    """A site takes one piece or none, and none that is too small to lay.

    The helper beside each column, from ``offset`` on, says that the piece starts there; the cells
    of a strip lie side by side, so it starts at most once.
    """
    first, last, least = span
    size, rows = last - first, []
    for i in range(size):
        row = np.zeros(width)
        row[first + i] = 1.0
        if i:
            row[first + i - 1] = -1.0
        row[offset + i] = -most
        rows.append((row, -np.inf, 0.0))
    enough, once = np.zeros(width), np.zeros(width)
    once[offset : offset + size] = 1.0
    enough[first:last], enough[offset : offset + size] = 1.0, -least
    return [*rows, (once, -np.inf, 1.0), (enough, 0.0, np.inf)]


def _unit(size: int, at: int, value: float) -> np.ndarray[Any, Any]:
    vector = np.zeros(size)
    vector[at] = value
    return vector
