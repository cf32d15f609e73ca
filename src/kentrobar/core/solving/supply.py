"""What there is to lay, and where on a frame it can lie: the sites that the solver chooses from."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Final, NamedTuple

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.sport import Sport
from kentrobar.core.editing.grip_size import keeps_size
from kentrobar.core.editing.plan import Baseline
from kentrobar.core.editing.shelf import Shelf, Stock
from kentrobar.core.frame.anatomy import BRIDGE_CLOCK_MIN, CAP_DEPTH_CM
from kentrobar.core.frame.circumstances import (
    Circumstances,
    both_sides,
    bumper_reach_s,
    free_stretches,
    keep_outs,
)
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.places import clock_place
from kentrobar.core.frame.rim import Face
from kentrobar.core.frame.sites import Site, Zone, shaft_ends, sites_of
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.solving.allowed import ANYWHERE_ALLOWED, USUAL_SITES, Allowed
from kentrobar.core.solving.candidates import Choice, PointSlot, RimSlot, Slot
from kentrobar.core.solving.centring import MomentBand
from kentrobar.core.solving.fitted_changes import heavier, lighter, taken_off
from kentrobar.core.weight.grip import Layer
from kentrobar.core.weight.materials import KINDS, Form, MaterialKind, Undo
from kentrobar.core.weight.pieces import Plug, Sleeve
from kentrobar.core.weight.pieces.piece import Piece
from kentrobar.core.weight.prediction import Prediction, predict

MOST_PARTS: Final = 2  # of one site, where keep-outs part it
LEAST_STRIP_CM: Final = 2.0  # shorter ones hardly stick
LEAST_PIECE_G: Final = 0.5
SHORT_STRIP_CM: Final = 6.0  # on a flat bevel, or across the balance point
MOST_MODULES: Final = 2  # at one place


@dataclass(frozen=True, kw_only=True)
class Supply:
    """What there is to lay: a tape for rim, throat and bevels, a putty for cavity and cap, and more.

    ``tape_below`` is another tape for throat and bevels, where one is chosen. ``swaps`` exchange what is
    fitted for something heavier, ``removals`` take it off, ``lighter`` replace it by something lighter or cut
    it short. ``module`` is a clip-on module, ``clean`` the putty that comes off clean where the other does
    not, where there are any.
    """

    tape: Stock
    putty: Stock
    step_cm: float = 0.5
    step_g: float = 0.1
    most_g: float = 20.0
    most_layers: int = 1
    swaps: tuple[Choice, ...] = ()
    removals: tuple[Choice, ...] = ()
    lighter: tuple[Choice, ...] = ()
    module: Stock | None = None
    clean: Stock | None = None
    tape_below: Stock | None = None

    @property
    def below_hoop(self) -> Stock:
        """The tape for throat and bevels."""
        return self.tape_below or self.tape

    def removable(self) -> Supply:
        """The same with a putty that comes off clean."""
        return replace(self, putty=self.clean or self.putty)


# What is reckoned with where a shelf has no tape or no putty.
SOME_TAPE: Final = Stock(
    key=0,
    name="",
    kind=MaterialKind.TUNGSTEN_TAPE,
    facts=KINDS[MaterialKind.TUNGSTEN_TAPE],
    density=Estimate(0.1, 0.002),
)
SOME_PUTTY: Final = Stock(
    key=0, name="", kind=MaterialKind.TUNGSTEN_PUTTY, facts=KINDS[MaterialKind.TUNGSTEN_PUTTY]
)


def supply_for(
    shelf: Shelf,
    baseline: Baseline,
    *,
    tape: Stock | None = None,
    tape_below: Stock | None = None,
    putty: Stock | None = None,
    step_cm: float = 0.5,
    layers: int = 1,
    keeps_grip: bool = False,
) -> Supply:
    """What a plan on this baseline may be made of; the first tape and putty of the shelf unless named."""
    tape = tape or shelf.usual(Form.TAPE) or SOME_TAPE
    putty = putty or shelf.usual(Form.PUTTY) or SOME_PUTTY
    is_clean = putty.facts.undo is Undo.CLEAN
    modules = (s for s in shelf.offered if s.kind is MaterialKind.MODULE and s.each_g)
    return Supply(
        tape=tape,
        putty=putty,
        step_cm=step_cm,
        most_layers=layers,
        swaps=tuple(heavier(shelf, baseline, keeps_grip)),
        removals=tuple(taken_off(baseline, keeps_grip)),
        lighter=tuple(lighter(shelf, baseline, keeps_grip)),
        module=next(modules, None),
        tape_below=tape_below,
        clean=None if is_clean else shelf.usual(Form.PUTTY, is_clean=True),
    )


@dataclass(frozen=True)
class Workpiece:
    """One frame that is planned for: the baseline, what there is to lay on it, and where it may lie.

    ``keeps_grip`` leaves the grip as large as it is; ``sums`` of moments must be met whatever else gives way.
    """

    baseline: Baseline
    supply: Supply
    keeps_grip: bool = False
    allowed: Allowed = ANYWHERE_ALLOWED
    sums: tuple[MomentBand, ...] = ()

    @property
    def outline(self) -> Outline:
        """The frame's outline."""
        return self.baseline.outline

    @property
    def measured(self) -> MeasuredSpecs:
        """What was measured of the frame."""
        return self.baseline.measured

    @property
    def circumstances(self) -> Circumstances:
        """What is in the way on the frame."""
        return self.baseline.circumstances

    def predict(self, pieces: Sequence[Piece], axis_cm: float) -> Prediction:
        """What the frame comes to with these pieces, its swing weight about an axis."""
        return predict(
            self.measured, pieces, length_cm=self.outline.length_cm, axis_cm=axis_cm, outline=self.outline
        )

    @property
    def places(self) -> dict[str, Site]:
        """The named sites by key; the balance point where it is known."""
        return {site.key: site for site in sites_of(self.outline, self.measured.balance_cm)}


def sites_in_hand(
    work: Workpiece, wanted: frozenset[str] = USUAL_SITES, *, layers: int = 0, is_hidden: bool = False
) -> dict[str, Slot]:
    """The named sites of a frame that are wanted and allowed, by key.

    Strips lie in as many layers as there may be, unless another number is told.
    """
    sites = slots_to_use(work, layers=layers or work.supply.most_layers, is_hidden=is_hidden)
    return {
        key: site
        for key, site in sites.items()
        if key.partition(".")[0] in wanted and work.allowed.lets_use(key)
    }


def slots_to_use(work: Workpiece, *, layers: int = 1, is_hidden: bool = False) -> dict[str, Slot]:
    """The frame's named sites as slots of the solver, by key: stretches of rim, bodies else.

    Stretches that must stay clear are left out on both sides, so that pairs stay even; a site that is
    parted by them has keys such as "twelve" and "twelve.2".
    """
    places, supply = work.places, work.supply
    found: dict[str, Slot] = {}
    for border in _rim_borders(work.outline):
        found |= _rim_sites(work, border, layers, is_hidden)
    for key in ("throat", "balance_point"):
        if key in places:
            found[key] = _beside_shaft(places[key], work, layers)
    if not supply.below_hoop.facts.is_lead:
        found["handle_top"] = _on_bevels(places["handle_top"], work, layers)
        if not work.keeps_grip or keeps_size(*[Layer(supply.below_hoop.layer_mm, 1)] * layers):
            found["handle_middle"] = _on_bevels(places["handle_middle"], work, layers)
    if work.circumstances.handle.has_cavity:
        in_cavity = (CAP_DEPTH_CM + 0.1, 2 * places["cavity"].y_cm - CAP_DEPTH_CM - 0.1)
        found["cavity"] = _filled(places["cavity"], supply, in_cavity, radius_cm=1.0)
    in_cap = (CAP_DEPTH_CM / 4, 3 * CAP_DEPTH_CM / 4)
    found["butt_cap"] = _filled(places["butt_cap"], supply, in_cap, radius_cm=1.3)
    return found


def _beside_shaft(place: Site, work: Workpiece, layers: int) -> PointSlot:
    """Tape along both shafts (or a paddle's sides), told as compact: it lies about one place."""
    room = SHORT_STRIP_CM
    if place.key == "throat":
        (_, top), (_, bottom) = shaft_ends(work.outline)
        room = 0.8 * (top - bottom)
    tape = work.supply.below_hoop
    density = tape.density.value
    return PointSlot(
        label=place.label,
        y_cm=round(place.y_cm, 2),
        x_cm=round(place.x_cm, 2),
        mirrored=True,
        material=tape.name,
        source=tape.source,
        step_g=work.supply.step_cm * density,
        max_g=room * density * layers,
        least_g=LEAST_STRIP_CM * density,
    )


def _on_bevels(place: Site, work: Workpiece, layers: int) -> PointSlot:
    """Strips on the two flat bevels, in pairs."""
    tape = work.supply.below_hoop
    density = tape.density
    pair_g = 2 * SHORT_STRIP_CM * density.value
    highest = work.outline.handle_length_cm - SHORT_STRIP_CM
    start = min(max(place.y_cm - SHORT_STRIP_CM / 2, 0.0), highest)
    body = Sleeve(mass_g=density, from_cm=start, to_cm=start + SHORT_STRIP_CM)
    return PointSlot(
        label=place.label,
        y_cm=place.y_cm,
        material=tape.name,
        source=tape.source,
        like=body,
        step_g=pair_g,
        max_g=pair_g * layers,
    )


def _filled(place: Site, supply: Supply, span: tuple[float, float], radius_cm: float) -> PointSlot:
    """Putty that fills part of the cavity or of the butt cap."""
    holds_g = math.pi * radius_cm**2 * (span[1] - span[0]) * supply.putty.g_cm3
    body = Plug(mass_g=Estimate(1.0), from_cm=span[0], to_cm=span[1], radius_cm=radius_cm)
    return PointSlot(
        label=place.label,
        y_cm=place.y_cm,
        material=supply.putty.name,
        source=supply.putty.source,
        like=body,
        step_g=supply.step_g,
        max_g=min(supply.most_g, holds_g),
        least_g=LEAST_PIECE_G,
    )


def clipped_on(work: Workpiece) -> Iterator[Slot]:
    """Modules on the rim at its named places."""
    module = work.supply.module
    if module:
        for place in sites_of(work.outline):
            if place.zone is Zone.RIM and work.allowed.lets_use(place.key):
                yield PointSlot(
                    label=place.label,
                    y_cm=round(place.y_cm, 2),
                    x_cm=round(place.x_cm, 2),
                    mirrored=place.mirrored,
                    material=module.name,
                    source=module.source,
                    step_g=module.each_g,
                    max_g=MOST_MODULES * module.each_g,
                )


class _Border(NamedTuple):
    """A rim site's name, and between which clock minutes it lies."""

    key: str
    label: str
    start_min: float
    end_min: float


def _rim_borders(outline: Outline) -> Iterator[_Border]:
    """The rim's sites on the right side: each ends half way to the next."""
    rim = [s for s in sites_of(outline) if s.zone is Zone.RIM and s.clock is not None]
    hours = [s.clock.minutes for s in rim if s.clock is not None]
    if outline.sport is Sport.TENNIS:
        hours = [min(hour, BRIDGE_CLOCK_MIN) for hour in hours]
    borders = [0.0, *((a + b) / 2 for a, b in pairwise(hours)), hours[-1]]
    for site, start, end in zip(rim, borders, borders[1:], strict=False):
        if site.clock is not None and end - start >= 10 and site.clock.minutes <= BRIDGE_CLOCK_MIN:
            yield _Border(site.key, site.label, start, end)


def _rim_sites(work: Workpiece, border: _Border, layers: int, is_hidden: bool) -> Iterator[tuple[str, Slot]]:
    outline, supply = work.outline, work.supply
    if is_hidden and outline.sport is not Sport.TENNIS:
        return
    face = Face.BUMPER if is_hidden else outline.usual_face
    line = outline.rim(face)
    last = line.at_clock(border.end_min)
    if is_hidden:
        last = min(last, bumper_reach_s(work.circumstances, outline))
    outs = both_sides(keep_outs(work.circumstances, outline, face))
    circuit = line.length if line.closed else 0.0
    free = free_stretches(line.at_clock(border.start_min), last, outs, circuit)
    longest = sorted(free, key=lambda part: part.start - part.end)[:MOST_PARTS]
    for count, part in enumerate(longest, 1):
        if part.end - part.start < LEAST_STRIP_CM:
            continue
        yield (
            f"{border.key}.{count}" if count > 1 else border.key,
            RimSlot(
                label=border.label,
                start=clock_place(line, part.start),
                end=clock_place(line, part.end),
                mirrored=True,
                g_per_cm=supply.tape.density,
                face=face,
                step_cm=supply.step_cm,
                least_cm=LEAST_STRIP_CM,
                layers=layers,
                material=supply.tape.name,
                source=supply.tape.source,
            ),
        )
