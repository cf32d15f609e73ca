"""What a hit does, as a page tells it: the map, a table of numbers, sentences."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Final, NamedTuple

from kentrobar.core.editing.plan import PlanState
from kentrobar.core.play.hits import hit_centre
from kentrobar.core.play.maps import MEASURES, Measure, round_levels
from kentrobar.core.play.strokes import HOLD_CM
from kentrobar.core.play.sweet_zone import PART_OF_BEST
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import LENGTH, MASS, MM_PER_CM, SPEED
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.numbers import Units, written
from kentrobar.web.kit.requests import Sent
from kentrobar.web.kit.spec_rows import NO_TEXT, SpecCell, SpecRow, SpecText
from kentrobar.web.play.impact import drawing
from kentrobar.web.play.impact.asking import HitChoice, HitForm
from kentrobar.web.play.impact.setting import MISS_CM, Impact, ImpactFigures, impact_of
from kentrobar.web.play.queries import latest_hits
from kentrobar.web.showing.drawing import Backdrop, DrawnPiece, backdrop_of, drawn, x_mm

HARDLY_MM: Final = 0.5  # a shift of the zone that is none worth a word
HARDLY_PERCENT: Final = 0.5
HARDLY_MS: Final = 0.02


class _Number(NamedTuple):
    """One row of the table: its name, unit, factor from the base unit and decimals."""

    name: str
    unit: str
    factor: float
    decimals: int


def figure_rows(units: Units) -> dict[str, _Number]:
    """The rows of the table by the names of what they tell."""
    length = 1 / LENGTH.to_base(1.0, units.length)
    miss = miss_text(units)
    return {
        "zone_y_cm": _Number("Sweet spot: middle, from the butt", units.length, length, 1),
        "zone_height_cm": _Number("Sweet spot: height", units.length, length, 1),
        "zone_width_cm": _Number("Sweet spot: width", units.length, length, 1),
        "middle_ball_ms": _Number(
            "Ball off the middle of the face", units.speed, SPEED.from_base(1.0, units.speed), 1
        ),
        "middle_mass_g": _Number("Effective mass there", units.mass, MASS.from_base(1.0, units.mass), 1),
        "miss_rad_s": _Number(f"Twist after a miss of {miss}", "°/s", math.degrees(1.0), 0),
        "percussion_cm": _Number("Centre of percussion, from the butt", units.length, length, 1),
    }


def miss_text(units: Units) -> str:
    """How far off centre the hit is that is told of."""
    return f"{LENGTH.from_base(MISS_CM, units.length):.3g} {units.length}"


def table(impact: Impact, units: Units) -> list[SpecRow]:
    """A row a number: before, after with its ±, the change."""
    before, after = impact.figures_before, impact.figures_after
    rows = []
    for name, number in figure_rows(units).items():
        was, now = getattr(before, name), getattr(after, name)
        by = (now.value - was.value) * number.factor
        decimals = number.decimals + (1 if number.unit in ("in", "oz") else 0)
        cell = SpecCell(
            now=SpecText(_written(now, number, decimals), _spread(now, number, decimals)),
            before=SpecText(_written(was, number, decimals)),
            change=NO_TEXT if math.isnan(by) else SpecText(written(by, decimals + 1, signed=True)),
        )
        rows.append(SpecRow(name, number.name, number.unit, (cell,)))
    return rows


def _spread(value: Estimate, number: _Number, decimals: int) -> str:
    """The ± with one more digit where it would read 0."""
    if math.isnan(value.value):
        return ""
    u = value.u * number.factor
    return f"±{u:.{decimals if round(u, decimals) > 0 else decimals + 1}f}"


def _written(value: Estimate, number: _Number, decimals: int) -> str:
    return "–" if math.isnan(value.value) else written(value.value * number.factor, decimals)


def sentences(impact: Impact, units: Units) -> list[str]:
    """What the plan does, in words; nothing where nothing is laid."""
    if not impact.is_changed:
        return []
    before, after = impact.figures_before, impact.figures_after
    return [*_of_zone(before, after, units), *_of_hit(before, after, units)]


def _of_zone(before: ImpactFigures, after: ImpactFigures, units: Units) -> Iterator[str]:
    wider = (after.zone_width_cm.value - before.zone_width_cm.value) / 2
    longer = after.zone_height_cm.value - before.zone_height_cm.value
    higher = after.zone_y_cm.value - before.zone_y_cm.value
    if math.isnan(wider):
        return
    moved = [
        _moved(wider, units, "grows {} to each side", "shrinks by {} on each side", ""),
        _moved(longer, units, "gets {} longer", "gets {} shorter", ""),
        _moved(higher, units, "climbs {}", "sinks {}", ""),
    ]
    *first, last = [part for part in moved if part] or ["stays as it is"]
    yield f"The sweet spot {' and '.join([', '.join(first), last] if first else [last])}."


def _of_hit(before: ImpactFigures, after: ImpactFigures, units: Units) -> Iterator[str]:
    faster = after.middle_ball_ms.value - before.middle_ball_ms.value
    if abs(faster) < HARDLY_MS:
        yield "From the middle of the face the ball leaves as fast, with the same swing."
    else:
        by = written(abs(SPEED.from_base(faster, units.speed)), 1 if abs(faster) > 0.1 else 2)
        yield (
            f"Off the middle of the face the ball leaves {by} {units.speed} "
            f"{'faster' if faster > 0 else 'slower'}, at the same swing."
        )
    part = 100 * (after.miss_rad_s.value / before.miss_rad_s.value - 1)
    miss = miss_text(units)
    if abs(part) < HARDLY_PERCENT:
        yield f"A miss of {miss} twists it as much as before."
    else:
        yield f"A miss of {miss} twists it {abs(part):.0f} % {'more' if part > 0 else 'less'}."
    shift = after.percussion_cm.value - before.percussion_cm.value
    if abs(shift) * MM_PER_CM >= HARDLY_MM:
        moved = _moved(shift, units, "climbs {}", "sinks {}", "")
        yield f"The height that does not jar the hand {moved}."


def _moved(cm: float, units: Units, up: str, down: str, still: str) -> str:
    if abs(cm) * MM_PER_CM < HARDLY_MM:
        return still
    return (up if cm > 0 else down).format(units.bench_lengths.text(abs(cm)))


@dataclass(frozen=True, slots=True)
class ImpactMap:
    """The map as the template draws it; ``key`` tells it from others on the page."""

    key: str
    backdrop: Backdrop
    box: str
    face: str
    bands: list[drawing.ShadedBand]
    lines: list[drawing.ContourLine]
    zone: drawing.ZoneShown | None
    was: drawing.ZoneShown | None
    pieces: list[DrawnPiece]
    percussion_x: float
    unit: str
    low: str
    high: str
    is_difference: bool
    measure: str
    label: str
    hits_x: float | None


def map_shown(impact: Impact, units: Units, key: str, hits_y_cm: float | None = None) -> ImpactMap:
    """The map of an impact, with the height of the player's hits where they were marked."""
    plan, of, choice = impact.plan, impact.map, impact.choice
    backdrop = backdrop_of(plan.outline)
    factor, unit = _unit_of(choice.measure, units)
    levels, decimals = round_levels(*of.range, factor)
    signed = impact.is_difference
    texts = [written(level * factor, decimals, signed) for level in levels]
    low, high = (written(end * factor, decimals + 1, signed) for end in of.range)
    zone = impact.setting.zone(impact.shown_body)
    was = None
    if impact.is_changed and not impact.shows_before:
        was = impact.setting.zone(impact.before.body)
    face = impact.setting.face
    measure = MEASURES[choice.measure]
    return ImpactMap(
        key=key,
        backdrop=backdrop,
        box=drawing.view_box(face, backdrop.middle),
        face=drawing.face_path(face, backdrop.middle),
        bands=drawing.shaded(of, levels, backdrop.middle, signed),
        lines=list(drawing.lines(of, levels, texts, backdrop.middle)),
        zone=drawing.zone_shown(zone, backdrop.middle),
        was=drawing.zone_shown(was, backdrop.middle),
        pieces=[] if impact.shows_before else drawn(plan.pieces, plan.outline),
        percussion_x=x_mm(impact.shown_body.percussion_cm(HOLD_CM[plan.outline.sport])),
        unit=unit,
        low=low,
        high=high,
        is_difference=signed,
        measure=measure,
        label=f"{measure.capitalize()} over the face of {plan.name}: from {low} to {high} {unit}",
        hits_x=None if hits_y_cm is None else x_mm(hits_y_cm),
    )


def _unit_of(measure: Measure, units: Units) -> tuple[float, str]:
    match measure:
        case Measure.BALL_SPEED:
            return SPEED.from_base(1.0, units.speed), units.speed
        case Measure.REBOUND:
            return 1.0, "%"
        case _:
            return MASS.from_base(1.0, units.mass), units.mass


@dataclass(frozen=True, slots=True)
class HitView:
    """The form above a map and, where the readings allow one, the map with its numbers."""

    form: HitForm
    problem: str = ""
    map: ImpactMap | None = None
    rows: list[SpecRow] = field(default_factory=list)
    sentences: list[str] = field(default_factory=list)
    impact: Impact | None = None
    stroke: str = ""
    part: str = f"{100 * PART_OF_BEST:.0f} %"
    hand: str = ""
    turns: str = ""
    usual_twist: str = ""
    is_turned: bool = False
    fall: str = ""


def hit_view(
    plan: PlanState,
    data: Sent,
    units: Units,
    key: str = "map",
    *,
    hits_of: Frame | None = None,
    turn: Callable[[PlanState], PlanState],
) -> HitView:
    """A plan under the hit that is asked for, on its frame as ``turn`` makes it ready to play.

    ``hits_of`` a frame marks how high its player hits.
    """
    form = HitForm(data, sport=plan.outline.sport, units=units, has_plan=bool(plan.placed))
    try:
        ready = turn(plan)
        impact = impact_of(ready, form.choice())
    except KentrobarError as error:
        return HitView(form, error.message)
    hits = hit_centre(latest_hits(hits_of, form.stroke_key)) if hits_of else None
    twist = units.inertia_text(impact.before.body.twistweight_kgcm2)
    return HitView(
        form,
        map=map_shown(impact, units, key, hits.y_cm.value if hits else None),
        rows=table(impact, units),
        sentences=sentences(impact, units),
        impact=impact,
        stroke=stroke_text(impact.choice, units),
        hand=units.axis_text(HOLD_CM[ready.outline.sport]),
        turns=turns_text(impact.choice.axis_cm, units),
        usual_twist=twist if impact.before.is_twist_taken else "",
        is_turned=ready.baseline is not plan.baseline,
        fall=f"{100 * impact.setting.ball.fall.part:.0f} %",
    )


def turns_text(axis_cm: Estimate, units: Units) -> str:
    """Where a swing turns, in words."""
    give = f" ±{units.axis_text(axis_cm.u)}" if axis_cm.u else ""
    side = "behind the butt" if axis_cm.value < 0 else "from the butt"
    return f"{units.axis_text(abs(axis_cm.value))}{give} {side}"


def stroke_text(choice: HitChoice, units: Units) -> str:
    """A stroke in words."""
    face, ball = (units.speed_text(ms) for ms in (choice.face_ms, choice.ball.speed_ms))
    return f"{choice.title}: face {face} {units.speed}, ball {ball} {units.speed}"
