"""What a plan may be made of: a tape and a putty of the shelf, and what is fitted on the frame."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace

from kentrobar.core.builds import FittingKind
from kentrobar.core.candidates import Choice
from kentrobar.core.estimates import Estimate
from kentrobar.core.materials import Form, MaterialKind, Undo
from kentrobar.core.pieces import Piece
from kentrobar.core.supply import Supply, Workpiece
from kentrobar.core.taking_away import EASILY_OFF, take_off
from kentrobar.web.frames.builds import worn_now
from kentrobar.web.frames.models import Frame
from kentrobar.web.materials.models import Material
from kentrobar.web.planning.laying import Order, lay, sites_named

USUAL_DENSITY = Estimate(0.1, 0.002)  # g/cm, where a shop has no tape


def usual_of(shelf: Iterable[Material], form: Form, *, is_clean: bool = False) -> Material | None:
    """The first of the shelf that is measured out so; with ``is_clean``, that comes off clean too."""
    return next(
        (m for m in shelf if m.form is form and (not is_clean or m.facts.undo is Undo.CLEAN)), None
    )


def workpiece_for(
    frame: Frame,
    shelf: Iterable[Material],
    tape: Material | None = None,
    putty: Material | None = None,
    *,
    step_cm: float = 0.5,
    layers: int = 1,
    keeps_grip: bool = False,
) -> Workpiece:
    """The frame with what may be laid on it; the first tape and putty of the shelf where none is named."""
    shelf = list(shelf)
    tape = tape or usual_of(shelf, Form.TAPE)
    putty = putty or usual_of(shelf, Form.PUTTY)
    clean = usual_of(shelf, Form.PUTTY, is_clean=True)
    is_clean = putty is None or putty.facts.undo is Undo.CLEAN
    module = next((m for m in shelf if m.kind == MaterialKind.MODULE and m.each_g), None)
    supply = Supply(
        tape.name if tape else "",
        tape.density if tape else USUAL_DENSITY,
        putty.name if putty else "",
        step_cm,
        most_layers=layers,
        is_lead=bool(tape and tape.facts.is_lead),
        putty_g_cm3=(putty and putty.density_g_cm3) or 1.0,
        swaps=tuple(_swaps(frame, shelf, keeps_grip)),
        removals=tuple(_removals(frame, keeps_grip)),
        module=(module.name, module.each_g) if module and module.each_g else None,
        clean=None if is_clean or clean is None else (clean.name, clean.density_g_cm3 or 1.0),
    )
    return Workpiece(frame.outline, supply, frame.measured, frame.circumstances, keeps_grip)


def _swaps(frame: Frame, shelf: list[Material], keeps_grip: bool) -> Iterator[Choice]:
    """A heavier cap, and leather in the place of the grip that is on."""
    grip = next((each for each in worn_now(frame) if each.kind is FittingKind.GRIP), None)
    for material in shelf:
        if material.kind == MaterialKind.BUTT_CAP:
            yield Choice(material.name, (_whole(material, frame, "butt_cap"),))
        if material.kind == MaterialKind.LEATHER and grip and not keeps_grip:
            off = take_off(grip, frame.outline)
            yield Choice(material.name, (off, _whole(material, frame, "handle_middle")))


def _whole(material: Material, frame: Frame, key: str) -> Piece:
    """One of a material that is fitted whole, at its place."""
    order = Order(material, material.each_g or 0.0, frame.outline.usual_face, mirrored=False)
    (site,) = sites_named(frame.outline, key)
    return replace(lay(order, site, frame.outline), label=material.name)


def _removals(frame: Frame, keeps_grip: bool) -> Iterator[Choice]:
    for fitting in worn_now(frame):
        changes_grip = fitting.kind is FittingKind.OVERGRIP
        if fitting.kind in EASILY_OFF and not (keeps_grip and changes_grip):
            yield Choice(fitting.label, (take_off(fitting, frame.outline),))
