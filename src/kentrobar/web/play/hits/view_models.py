"""A hit map as its page tells it: the drawing, a table, sentences that lead on."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

from kentrobar.core.play.hits import (
    LEAST_HITS,
    WELL_KNOWN_CM,
    Hit,
    HitCentre,
    density,
    hit_centre,
    hits_still_needed,
    part_within,
)
from kentrobar.core.play.maps import contours
from kentrobar.core.play.sweet_zone import PART_OF_BEST, SweetZone, hitting_face
from kentrobar.core.play.zone_plans import ZoneReach, zone_reach
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.quantities.units import LENGTH
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.numbers import Units, written
from kentrobar.web.play.hits.proposing import TRIED_G
from kentrobar.web.play.impact import drawing
from kentrobar.web.play.impact.setting import Impact
from kentrobar.web.play.impact.view_models import stroke_text
from kentrobar.web.play.models import HitMap
from kentrobar.web.showing.drawing import Backdrop, backdrop_of, x_mm

APART: Final = 2.0  # times its ±: from here on a gap is one for real
LEAST_GAP_CM: Final = 0.5  # a smaller one is not worth weight
WELL_WITHIN: Final = 0.9  # so many hits within the zone leave little to gain


@dataclass(frozen=True, slots=True)
class HitSheet:
    """The face with its hits, their density and middle, and the sweet spot."""

    backdrop: Backdrop
    box: str
    face: str
    zone: drawing.ZoneShown | None
    lines: list[str]
    hits: list[tuple[float, float]]
    middle: str
    wanted_x: float | None
    label: str


@dataclass(frozen=True, slots=True)
class HitMapView:
    """A hit map: the drawing, the numbers, and the sentences that lead on."""

    hit_map: HitMap
    frame: Frame
    count: int
    sheet: HitSheet
    rows: list[tuple[str, str, str]]
    sentences: list[str]
    is_worth_weight: bool
    summary: list[tuple[str, str, str]]
    listed: list[tuple[int, str, str]]
    unit: str
    stroke: str
    part: str


def hit_map_view(hit_map: HitMap, impact: Impact | None, units: Units) -> HitMapView:
    """A hit map as its page shows it; without ``impact`` the frame's zone is not known."""
    hits = hit_map.marked
    centre = hit_centre(hits)
    zone = impact.setting.zone(impact.before.body) if impact else None
    zone_y = impact.figures_before.zone_y_cm if impact else None
    gap = gap_of(centre, zone_y)
    reach = None
    if impact and is_apart(gap):
        reach = zone_reach(TRIED_G[impact.setting.outline.sport], impact.plan, impact.setting.zone)
    return HitMapView(
        hit_map,
        hit_map.frame,
        len(hits),
        _drawn(hit_map, hits, centre, zone, units),
        list(_rows(hits, centre, zone, zone_y, units)),
        list(_sentences(hits, centre, zone, gap, reach, units)),
        is_apart(gap) and part_within(hits, zone) < WELL_WITHIN,
        _summary(hits, centre, zone, zone_y, units),
        _listed(hits, units),
        units.length,
        stroke_text(impact.choice, units) if impact else "",
        f"{100 * PART_OF_BEST:.0f} %",
    )


def gap_of(centre: HitCentre | None, zone_y: Estimate | None) -> Estimate | None:
    """How far the hits' middle lies above the zone's, cm; None where one of them is not known."""
    if centre is None or zone_y is None or math.isnan(zone_y.value):
        return None
    return Estimate(centre.y_cm.value - zone_y.value, math.hypot(centre.y_cm.u, zone_y.u))


def is_apart(gap: Estimate | None) -> bool:
    """Whether hits and zone lie apart for real, by more than is worth weight."""
    return gap is not None and abs(gap.value) > max(APART * gap.u, LEAST_GAP_CM)


def _drawn(
    hit_map: HitMap, hits: list[Hit], centre: HitCentre | None, zone: SweetZone | None, units: Units
) -> HitSheet:
    outline = hit_map.frame.outline
    face, backdrop = hitting_face(outline), backdrop_of(outline)
    middle = backdrop.middle
    found = density(hits, face) if len(hits) >= LEAST_HITS else None
    return HitSheet(
        backdrop,
        drawing.view_box(face, middle),
        drawing.face_path(face, middle),
        drawing.zone_shown(zone, middle),
        [drawing.lines_path(line.lines, middle) for line in contours(found.map, found.levels)]
        if found
        else [],
        [drawing.spot(hit.x_cm, hit.y_cm, middle) for hit in hits],
        drawing.cross(centre.x_cm.value, centre.y_cm.value, middle) if centre else "",
        x_mm(centre.y_cm.value) if centre else None,
        _label(hits, centre, units),
    )


def _label(hits: list[Hit], centre: HitCentre | None, units: Units) -> str:
    what = f"{len(hits)} hit{'' if len(hits) == 1 else 's'} on the face"
    if centre is None:
        return what
    return f"{what}, their middle {_length(centre.y_cm.value, units)} {units.length} from the butt"


def _rows(
    hits: list[Hit], centre: HitCentre | None, zone: SweetZone | None, zone_y: Estimate | None, units: Units
) -> Iterator[tuple[str, str, str]]:
    """Name, value and ± of each number."""
    unit = units.length
    if centre:
        yield f"Middle of the impacts, from the butt, {unit}", *_value_and_u(centre.y_cm, units)
        side = "right" if centre.x_cm.value >= 0 else "left"
        aside = Estimate(abs(centre.x_cm.value), centre.x_cm.u)
        yield f"… to the {side} of the long axis, {unit}", *_value_and_u(aside, units)
        yield f"They scatter along the axis by, {unit}", _length(centre.along_cm, units), ""
        yield f"… and across by, {unit}", _length(centre.across_cm, units), ""
    if zone_y is not None and not math.isnan(zone_y.value):
        yield f"Middle of the sweet spot, from the butt, {unit}", *_value_and_u(zone_y, units)
    if zone and hits:
        within = round(part_within(hits, zone) * len(hits))
        yield "Impacts within the sweet spot", f"{within} of {len(hits)}", ""


def _summary(
    hits: list[Hit], centre: HitCentre | None, zone: SweetZone | None, zone_y: Estimate | None, units: Units
) -> list[tuple[str, str, str]]:
    """Name, value and what stands after it, of the few numbers that lead to a plan."""
    found = []
    for name, value in (("Hits at", centre and centre.y_cm), ("Sweet spot at", zone_y)):
        if value and not math.isnan(value.value):
            text, u = _value_and_u(value, units)
            found.append((name, text, f"{units.length} {u}"))
    if zone and hits:
        found.append(("Impacts within it", f"{100 * part_within(hits, zone):.0f} %", ""))
    return found


def _value_and_u(value: Estimate, units: Units) -> tuple[str, str]:
    u = _length(value.u, units)
    return _length(value.value, units), f"±{u if float(u) else _length(value.u, units, finer=1)}"


def _length(cm: float, units: Units, *, finer: int = 0) -> str:
    decimals = (2 if units.length == "in" else 1) + finer
    return written(LENGTH.from_base(cm, units.length), decimals)


def _sentences(
    hits: list[Hit],
    centre: HitCentre | None,
    zone: SweetZone | None,
    gap: Estimate | None,
    reach: ZoneReach | None,
    units: Units,
) -> Iterator[str]:
    if centre is None:
        missing = LEAST_HITS - len(hits)
        yield (
            f"{len(hits)} marked: too few. Mark at least {missing} more."
            if hits
            else "Play, then tap the ball's marks on the face."
        )
        return
    within = part_within(hits, zone)
    if gap is not None:
        yield _gap_text(gap, within, reach, units)
    if zone:
        yield (
            f"{100 * within:.0f} % of the hits fall within the sweet spot"
            f"{'; weight for its place gains little' if within >= WELL_WITHIN else ''}."
        )
    if abs(centre.x_cm.value) > max(APART * centre.x_cm.u, LEAST_GAP_CM):
        side = "right" if centre.x_cm.value > 0 else "left"
        yield (
            f"They lie {units.bench_lengths.text(abs(centre.x_cm.value))} to the {side} of the long axis, "
            "seen from the front. Weight makes the zone wider (a higher twist weight); on one side alone it moves it "
            "aside by millimetres only. That is a matter of the stroke."
        )
    needed = hits_still_needed(centre, len(hits))
    now, then = map(units.bench_lengths.text, (max(centre.x_cm.u, centre.y_cm.u), WELL_KNOWN_CM))
    if needed and now != then:
        yield f"{len(hits)} hits tell their middle to ±{now}; about {needed} more would tell it to ±{then}."


def _gap_text(gap: Estimate, within: float, reach: ZoneReach | None, units: Units) -> str:
    far = units.bench_lengths.text(abs(gap.value))
    spread = units.bench_lengths.text(gap.u)
    where = "nearer the tip" if gap.value > 0 else "nearer the hand"
    if is_apart(gap):
        said = f"The player hits {far} {where} than the middle of the sweet spot (±{spread})."
        return (
            said
            if within >= WELL_WITHIN or reach is None
            else f"{said} {_reach_text(gap.value, reach, units)}"
        )
    if abs(gap.value) > APART * gap.u:
        return f"The impacts are {far} {where} than the middle of the sweet spot: near enough."
    return (
        f"The impacts are about the middle of the sweet spot: {far} {where}, which cannot be told from none "
        f"(±{spread})."
    )


def _reach_text(gap_cm: float, reach: ZoneReach, units: Units) -> str:
    """Whether weight brings the zone there."""
    come = reach.toward(gap_cm)
    if come >= abs(gap_cm):
        return "That is where the sweet spot should be, and weight can move it there."
    grams = f"{units.mass_text(reach.grams)} {units.mass}"
    return f"{grams} at the best place move it by {units.bench_lengths.text(come)} that way: short of there."


def _listed(hits: list[Hit], units: Units) -> list[tuple[int, str, str]]:
    """The hits as a list, the last first: its number, across with its side, from the butt."""
    found = []
    for i, hit in reversed(list(enumerate(hits))):
        across = _length(abs(hit.x_cm), units)
        side = " right" if hit.x_cm > 0.05 else " left" if hit.x_cm < -0.05 else ""
        found.append((i, f"{across}{side}", _length(hit.y_cm, units)))
    return found
