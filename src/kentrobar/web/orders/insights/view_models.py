"""Insights, as its page shows it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Final, TypedDict

from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import LINE_DENSITY, POINTS_UNIT
from kentrobar.core.rounds.evidence import Finding
from kentrobar.web.bench.evidence import MaterialShift, PlaceLearnt, Roll
from kentrobar.web.bench.models import BenchWork, DensityCorrection, PlaceCorrection
from kentrobar.web.frames.model_figures import ModelSeen
from kentrobar.web.kit.numbers import ShownSpec, Units, read_specs, written
from kentrobar.web.materials.models import Material
from kentrobar.web.measuring.comparing.instruments import InstrumentComparison


class ChartPoint(TypedDict):
    """One point of a chart, as its script reads it: per cent, with ±."""

    name: str
    value: float
    u: float


class RollChart(TypedDict):
    """What each job told of a roll, and what all of them tell together."""

    jobs: list[ChartPoint]
    together: ChartPoint


@dataclass(frozen=True, slots=True)
class RollView:
    """What was learnt of a roll: in its own unit and in per cent, with the jobs that told it."""

    roll: Roll
    material: Material
    jobs: int
    unit: str
    taken_for: str
    found: str
    found_u: str
    percent: str
    is_off: bool
    findings: list[tuple[BenchWork, str]]
    chart_id: str
    chart: RollChart
    correction: DensityCorrection | None
    before: str


def roll_view(roll: Roll, units: Units) -> RollView:
    """A roll as the page shows it."""
    factor, unit = roll.evidence.factor, units.line_density
    found = [LINE_DENSITY.from_base(each, unit) for each in roll.proposed]
    correction = roll.correction
    return RollView(
        roll=roll,
        material=roll.material,
        jobs=roll.evidence.jobs,
        unit=unit,
        taken_for=units.line_density_text(roll.material.g_per_cm or 0.0),
        found=f"{found[0]:.4f}",
        found_u=f"{found[1]:.4f}",
        percent=_percent(factor.value - 1.0, factor.u),
        is_off=roll.evidence.is_off,
        findings=[(each.work, _percent(each.factor - 1, each.factor_u)) for each in roll.findings],
        chart_id=f"roll-chart-{roll.material.pk}",
        chart={
            "jobs": [
                _point(f.work.plan.frame.label, alone.value - 1, alone.u)
                for f in roll.findings
                if (alone := Finding(Estimate(f.factor, f.factor_u), f.u_before).alone)
            ],
            "together": _point("all jobs", factor.value - 1, factor.u),
        },
        correction=correction,
        before=units.line_density_text(correction.before_g_per_cm) if correction else "",
    )


def _percent(share: float, u: float) -> str:
    return f"{written(100 * share, 1, signed=True)} ± {100 * u:.1f} %"


def _point(name: str, value: float, u: float) -> ChartPoint:
    return {"name": name, "value": round(100 * value, 2), "u": round(100 * u, 2)}


@dataclass(frozen=True, slots=True)
class ShiftView:
    """How a material shifts when it is made permanent, in per cent of its weight."""

    name: str
    jobs: int
    mean: str
    next: str


def shift_view(shift: MaterialShift) -> ShiftView:
    """A shift as the page shows it."""
    usual = shift.usual
    texts = (_percent(each.value, each.u) for each in (usual.mean, usual.next_one))
    return ShiftView(shift.material.name, usual.jobs, *texts)


@dataclass(frozen=True, slots=True)
class ComparisonView:
    """Two instruments beside each other, in a sentence's parts."""

    spec: str
    one: str
    other: str
    frames: int
    instrument: int
    difference: str
    is_real: bool
    scale: str


def comparison_view(compared: InstrumentComparison, units: Units) -> ComparisonView:
    """A comparison of two instruments as the page shows it."""
    found = compared.found
    spec = next(s for s in lengths_for_points(units) if s.key == compared.spec.key).finer()
    scale = found.scale
    is_scaled = scale is not None and abs(scale.value) >= found.sigmas * scale.u
    return ComparisonView(
        spec=spec.name,
        one=compared.one,
        other=compared.other,
        frames=found.frames,
        instrument=compared.instrument,
        difference=f"{spec.change(found.difference)} {spec.spread(found.difference)} {spec.unit}",
        is_real=found.is_real,
        scale=_percent(scale.value, scale.u) if scale is not None and is_scaled else "",
    )


@dataclass(frozen=True, slots=True)
class ModelView:
    """What a shop has seen of a model in one build: mean and spread of each spec."""

    model: str
    build: str
    frames: int
    cells: list[tuple[str, str]]


def model_view(seen: ModelSeen, units: Units) -> ModelView:
    """A model as the page shows it."""
    cells = []
    for spec in lengths_for_points(units):
        difference = seen.specs.get(spec.read_key)
        if difference is None:
            cells.append(("–", ""))
            continue
        spread = f"±{difference.spread * abs(spec.factor):.{spec.decimals}f}" if difference.frames > 1 else ""
        cells.append((spec.value(Estimate(difference.mean)), spread))
    return ModelView(seen.model, seen.build, seen.frames, cells)


def lengths_for_points(units: Units) -> list[ShownSpec]:
    """The specs with the balance as a length: points count from each frame's own middle."""
    return read_specs(replace(units, balance="mm") if units.balance == POINTS_UNIT else units)


@dataclass(frozen=True, slots=True)
class PlaceView:
    """How far off pieces lie at a named place, read off a ruler."""

    name: str
    jobs: int
    mean: str
    next: str
    is_off: bool
    key: str
    correction: PlaceCorrection | None


def place_view(place: PlaceLearnt, units: Units) -> PlaceView:
    """A place as the page shows it."""
    return PlaceView(
        name=_SITE_NAMES.get(place.site, place.site.replace("_", " ")),
        jobs=place.usual.jobs,
        mean=_ruled(place.usual.mean, units),
        next=_ruled(place.usual.next_one, units),
        is_off=place.is_off,
        key=place.site,
        correction=place.correction,
    )


def _ruled(offset: Estimate, units: Units) -> str:
    sign = "−" if offset.value < 0 else "+"
    value, u = (units.ruler_text(abs(each), 1) for each in offset)
    return f"{sign}{value} ± {u} {units.ruler}"


_SITE_NAMES: Final = {"twelve": "12", "three_nine": "3 and 9", "ten_two": "10 and 2"}
