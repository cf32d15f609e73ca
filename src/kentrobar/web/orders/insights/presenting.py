"""Texts of what the bench has learnt."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, Final

from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import LINE_DENSITY
from kentrobar.core.reading.side_by_side import SIGMAS_OF_95
from kentrobar.core.rounds.evidence import Finding
from kentrobar.web.bench.evidence import MaterialShift, PlaceLearnt, Roll
from kentrobar.web.frames.model_figures import ModelSeen
from kentrobar.web.kit.numbers import ShownSpec, Units, read_specs, written
from kentrobar.web.measuring.comparing.instruments import InstrumentComparison


def roll_shown(roll: Roll, units: Units) -> dict[str, Any]:
    """What was learnt of a roll: in its own unit and in per cent, with the jobs that told it."""
    factor, unit = roll.evidence.factor, units.line_density
    percent = 100 * (factor.value - 1.0)
    found = [LINE_DENSITY.from_base(each, unit) for each in roll.proposed]
    return {
        "roll": roll, "material": roll.material, "jobs": roll.evidence.jobs, "unit": unit,
        "taken_for": units.line_density_text(roll.material.g_per_cm or 0.0),
        "found": f"{found[0]:.4f}", "found_u": f"{found[1]:.4f}",
        "percent": f"{written(percent, 1, signed=True)} ± {100 * factor.u:.1f} %",
        "is_off": roll.evidence.is_off,
        "findings": [
            (each.work, f"{written(100 * (each.factor - 1), 1, signed=True)} ± {100 * each.factor_u:.1f} %")
            for each in roll.findings
        ],
        "chart_id": f"roll-chart-{roll.material.pk}",
        "chart": {
            "jobs": [
                _point(f.work.plan.frame.label, told.value - 1, told.u)
                for f in roll.findings
                if (told := Finding(Estimate(f.factor, f.factor_u), f.u_before).alone)
            ],
            "together": _point("all jobs", factor.value - 1, factor.u),
        },
        "correction": roll.correction,
        "before": "" if roll.correction is None else units.line_density_text(
            roll.correction.before_g_per_cm
        ),
    }  # fmt: skip


def shift_shown(shift: MaterialShift) -> dict[str, Any]:
    """How a material shifts when it is made permanent, in per cent of its weight."""
    usual = shift.usual
    return {
        "name": shift.material.name, "jobs": usual.jobs,
        "mean": f"{written(100 * usual.mean.value, 1, signed=True)} ± {100 * usual.mean.u:.1f} %",
        "next": f"{written(100 * usual.next_one.value, 1, signed=True)} ± {100 * usual.next_one.u:.1f} %",
    }  # fmt: skip


def _point(name: str, value: float, u: float) -> dict[str, Any]:
    return {"name": name, "value": round(100 * value, 2), "u": round(100 * u, 2)}


def compared_shown(compared: InstrumentComparison, units: Units) -> dict[str, Any]:
    """Two instruments beside each other, in a sentence's parts."""
    found = compared.found
    spec = next(s for s in lengths_for_points(units) if s.key == compared.spec.key).finer()
    scale = found.scale
    return {
        "spec": spec.name, "one": compared.one, "other": compared.other, "frames": found.frames,
        "instrument": compared.instrument,
        "difference": f"{spec.change(found.difference)} {spec.spread(found.difference)} {spec.unit}",
        "is_real": found.is_real,
        "scale": "" if scale is None or abs(scale.value) < SIGMAS_OF_95 * scale.u else
        f"{written(100 * scale.value, 1, signed=True)} ± {100 * scale.u:.1f} %",
    }  # fmt: skip


def model_shown(seen: ModelSeen, units: Units) -> dict[str, Any]:
    """What a shop has seen of a model in one build: mean and spread of each spec."""
    cells = []
    for spec in lengths_for_points(units):
        told = seen.specs.get(spec.read_key)
        if told is None:
            cells.append(("–", ""))
            continue
        spread = f"±{told.spread * abs(spec.factor):.{spec.decimals}f}" if told.frames > 1 else ""
        cells.append((spec.value(Estimate(told.mean)), spread))
    return {"model": seen.model, "build": seen.build, "frames": seen.frames, "cells": cells}


def lengths_for_points(units: Units) -> list[ShownSpec]:
    """The specs with the balance as a length: points count from each frame's own middle."""
    return read_specs(replace(units, balance="mm") if units.balance == "pt" else units)


def place_shown(place: PlaceLearnt, units: Units) -> dict[str, Any]:
    """How far off pieces lie at a named place, read off a ruler."""
    mean, coming = place.usual.mean, place.usual.next_one
    return {
        "name": _SITE_NAMES.get(place.site, place.site.replace("_", " ")), "jobs": place.usual.jobs,
        "mean": _ruled(mean, units), "next": _ruled(coming, units),
        "is_off": place.is_off, "key": place.site, "correction": place.correction,
    }  # fmt: skip


def _ruled(offset: Estimate, units: Units) -> str:
    sign = "−" if offset.value < 0 else "+"
    value, u = (units.ruler_text(abs(each), 1) for each in offset)
    return f"{sign}{value} ± {u} {units.ruler}"


_SITE_NAMES: Final = {"twelve": "12", "three_nine": "3 and 9", "ten_two": "10 and 2"}
