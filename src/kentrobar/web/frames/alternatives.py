"""What others would do in the place of one fitting of a frame: those in stock, strings by gauge."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from django.http import HttpResponse
from django.shortcuts import get_object_or_404

from kentrobar.core.editing.alternatives import Alternative, alternatives, edge_tapes, strings_by_gauge
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.weight.builds import Fitting, FittingKind
from kentrobar.web.frames.builds import fitted_at
from kentrobar.web.frames.models import Frame, FrameFitting
from kentrobar.web.frames.queries import frames_with_fittings, shelf_of_accessories
from kentrobar.web.kit.numbers import ShownSpec, Units, grip_change_text, shown_specs
from kentrobar.web.kit.requests import context_of, page
from kentrobar.web.kit.spec_rows import SpecText, change_of
from kentrobar.web.materials.models import Accessory
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.shops.models import User
from kentrobar.web.shops.requests import SignedIn

_GRIPS = frozenset({FittingKind.GRIP, FittingKind.LEATHER})


@dataclass(frozen=True, slots=True)
class AlternativeRow:
    """One that could be in the place: its name, what tells it apart, weight and changes as they are read."""

    name: str
    note: str
    mass: str
    changes: list[SpecText]
    grip: str


@dataclass(frozen=True, slots=True)
class AlternativesView:
    """All that could be in the place of a fitting, lightest first."""

    frame: Frame
    fitting: FrameFitting
    specs: list[ShownSpec]
    axis: str
    rows: list[AlternativeRow]
    cannot: str


def compare(request: SignedIn, pk: int, fitting_pk: int) -> HttpResponse:
    """What each other one of its kind would change on this frame."""
    frame = get_object_or_404(frames_with_fittings(request.user), pk=pk)
    fitting = get_object_or_404(FrameFitting, pk=fitting_pk, frame=frame, is_on=True)
    return page(request, "frames/alternatives.html", context_of(_view(frame, fitting, request.user)))


def _view(frame: Frame, fitting: FrameFitting, user: User) -> AlternativesView:
    units = user.units.of_sport(frame.sport)
    specs, old = shown_specs(units), fitting.fitting(frame)
    fitted = fitted_at(frame, frame.specs) if frame.specs else [old]
    is_read_with = any(each.key == old.key for each in fitted)
    accessories = [each for each in shelf_of_accessories(user) if not each.is_archived]
    offered = list(_offered(frame, old, accessories, user))
    found, cannot = [], "" if offered else "Nothing of this kind is in your stock."
    try:
        found = alternatives(
            frame.measured,
            fitted if is_read_with else [*fitted, old],
            old,
            offered,
            outline=frame.outline,
            axis_cm=frame.measured.axis_cm,
        )
    except KentrobarError as error:  # its dimensions were changed since: the fitting has no place any more
        cannot = error.message
    notes = {each.name: each.note for each in accessories}
    return AlternativesView(
        frame,
        fitting,
        specs,
        units.axis_text(frame.measured.axis_cm),
        [_row(each, notes.get(each.fitting.label, ""), specs, units) for each in found],
        cannot,
    )


def _offered(frame: Frame, old: Fitting, accessories: list[Accessory], user: User) -> Iterator[Fitting]:
    kinds = _GRIPS if old.kind in _GRIPS else {old.kind}
    yield from (each.fitting for each in accessories if each.kind in kinds)
    if old.kind is FittingKind.STRINGS:
        yield from strings_by_gauge(frame.outline, old)
    if old.kind is FittingKind.EDGE_TAPE:
        yield from edge_tapes(frame.outline, shelf_of(user))


def _row(found: Alternative, note: str, specs: list[ShownSpec], units: Units) -> AlternativeRow:
    mass = found.fitting.mass_g
    return AlternativeRow(
        found.fitting.label,
        note,
        f"{units.piece_mass_text(mass.value)} ±{units.piece_mass_text(mass.u)} {units.mass}",
        [change_of(spec, getattr(found.change, spec.key)) for spec in specs],
        grip_change_text(found.grip_mm, units) if found.grip_mm else "",
    )
