"""What a plan may change of what is fitted, each wholly or not at all: off, cut short, heavier, lighter.

Choices that touch one fitting exclude each other: a strip is cut once, an overgrip comes off or makes way.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

import numpy as np

from kentrobar.core.editing.grip_size import is_under_hand, keeps_size
from kentrobar.core.editing.placing import Order, lay, sites_named
from kentrobar.core.editing.plan import Baseline
from kentrobar.core.editing.removal import (
    EASILY_OFF,
    EXCHANGED,
    LEAST_CHANGE_G,
    exchange,
    in_place_of,
    take_off,
    takes_place_of,
    trim_bumper,
)
from kentrobar.core.editing.shelf import Shelf, Stock
from kentrobar.core.frame.outline import Outline
from kentrobar.core.solving.candidates import Choice
from kentrobar.core.weight.builds import Fitting, FittingKind
from kentrobar.core.weight.grip import Layer
from kentrobar.core.weight.materials import MaterialKind
from kentrobar.core.weight.pieces.piece import Piece

TRIM_STEP_CM: Final = 0.5  # at each end of a bumper
MOST_TRIM_CM: Final = 6.0  # the rest still guards the tip
_CUT_SHORT: Final = frozenset({FittingKind.BUMPER, FittingKind.GUARD})


def heavier(shelf: Shelf, baseline: Baseline, keeps_grip: bool) -> Iterator[Choice]:
    """A heavier cap, and leather in the place of the grip that is on."""
    grip = next((each for each in baseline.fitted if each.kind is FittingKind.GRIP), None)
    for stock in shelf.offered:
        if stock.kind is MaterialKind.BUTT_CAP:
            yield Choice(stock.name, (_whole(stock, baseline.outline, "butt_cap"),))
        if stock.kind is MaterialKind.LEATHER and grip:
            if keeps_grip and not keeps_size(Layer(stock.layer_mm, 1), Layer(grip.layer_mm, -1)):
                continue
            off = take_off(grip, baseline.outline)
            on = _whole(stock, baseline.outline, "handle_middle")
            yield Choice(stock.name, (off, on), grip.key)


def _whole(stock: Stock, outline: Outline, key: str) -> Piece:
    """One of a material that is fitted whole, at its place."""
    order = Order(stock, stock.each_g, outline.usual_face, mirrored=False)
    (site,) = sites_named(outline, key)
    return lay(order, site, outline).with_field("label", stock.name)


def taken_off(baseline: Baseline, keeps_grip: bool) -> Iterator[Choice]:
    """What comes off in a minute, with nothing of the frame opened for it."""
    for fitting in baseline.fitted:
        if fitting.kind not in EASILY_OFF:
            continue
        off = take_off(fitting, baseline.outline)
        takes_part = fitting.goes_round_handle and is_under_hand(off, baseline.outline)
        if keeps_grip and takes_part and not keeps_size(Layer(fitting.layer_mm, -1)):
            continue
        yield Choice(fitting.label, (off,), fitting.key)


def lighter(shelf: Shelf, baseline: Baseline, keeps_grip: bool) -> Iterator[Choice]:
    """What is fitted replaced by something lighter that the shop knows, and the ends of a bumper cut short."""
    for fitting in baseline.fitted:
        if fitting.kind in _CUT_SHORT:
            yield from _cut_short(fitting, baseline.outline)
        if fitting.kind in EXCHANGED:
            yield from _lighter_ones(fitting, shelf, baseline.outline, keeps_grip)


def _cut_short(fitting: Fitting, outline: Outline) -> Iterator[Choice]:
    for each_end_cm in np.arange(TRIM_STEP_CM, MOST_TRIM_CM + TRIM_STEP_CM / 2, TRIM_STEP_CM):
        cut = trim_bumper(fitting, outline, float(each_end_cm))
        yield Choice(fitting.label, (cut,), fitting.key)


def _lighter_ones(fitting: Fitting, shelf: Shelf, outline: Outline, keeps_grip: bool) -> Iterator[Choice]:
    for other in shelf.fittings:
        new = in_place_of(fitting, other)
        if not takes_place_of(other.kind, fitting.kind):
            continue
        if new.mass_g.value > fitting.mass_g.value - LEAST_CHANGE_G:
            continue
        if keeps_grip and fitting.goes_round_handle and not _is_as_thick(new, fitting):
            continue
        yield Choice(new.label, exchange(fitting, new, outline), fitting.key)


def _is_as_thick(new: Fitting, old: Fitting) -> bool:
    return keeps_size(Layer(new.layer_mm, 1), Layer(old.layer_mm, -1))
