"""A sample racket and a sample paddle to try without an account: all of it stands in the address.

What can be added is a short list of chips, so that a stranger can ask for few states only; each is worked out
once a process.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import lru_cache
from typing import Final, NamedTuple
from urllib.parse import urlencode

from django.db import transaction

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.sport import Sport
from kentrobar.core.editing.actions import Done
from kentrobar.core.editing.plan import Baseline, PlanState
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.frame.outline import outline_of
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.weight.verdict import verdict
from kentrobar.web.kit.numbers import Units
from kentrobar.web.kit.spec_rows import SpecRow
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.materials.services import starting_stock
from kentrobar.web.measuring.services import as_readings
from kentrobar.web.planning.board.actions import act
from kentrobar.web.planning.board.parameters import ActionRequest
from kentrobar.web.planning.board.view_models import spec_rows
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.services import save_plan
from kentrobar.web.planning.stored import plan_state
from kentrobar.web.shops.models import User
from kentrobar.web.showing.drawing import Label, SmallDrawing, backdrop_of, small_drawing
from kentrobar.web.welcome.trying import USUAL_DIMENSIONS, begin


class Chip(NamedTuple):
    """Weight to try at a tap: what it says, and the order that the board would be given."""

    key: str
    text: str
    material: str
    amount: str
    site: str


SAMPLES: Final = {Sport.TENNIS: "Sample racket", Sport.PICKLEBALL: "Sample paddle"}
# Nobody's frames: near the middle of what is usual.
SPECS: Final = {
    Sport.TENNIS: MeasuredSpecs(
        Estimate(305.0, 0.1), Estimate(32.5, 0.05), Estimate(312.0, 1.0), 10.0, Estimate(13.4, 0.2)
    ),
    Sport.PICKLEBALL: MeasuredSpecs(
        Estimate(228.0, 0.1), Estimate(23.9, 0.05), Estimate(112.0, 0.5), 5.0, Estimate(6.4, 0.1)
    ),
}
UNITS: Final = {
    Sport.TENNIS: Units(),
    Sport.PICKLEBALL: Units(mass="oz", length="in", balance="in", percent=True),
}
_TAPE, _PUTTY = "Lead tape, half inch", "Removable putty"
CHIPS: Final = {
    Sport.TENNIS: (
        Chip("sides", "3 g at 3 and 9", _TAPE, "1.5 g a side", "three_nine"),
        Chip("tip", "2 g at 12", _TAPE, "2 g", "twelve"),
        Chip("upper", "3 g at 10 and 2", _TAPE, "1.5 g a side", "ten_two"),
        Chip("butt", "8 g in the butt", _PUTTY, "8 g", "butt_cap"),
    ),
    Sport.PICKLEBALL: (
        Chip("sides", "0.2 oz on the sides", _TAPE, "0.1 oz a side", "sides"),
        Chip("corners", "0.2 oz at the top corners", _TAPE, "0.1 oz a side", "top_corners"),
        Chip("low", "0.2 oz at the bottom corners", _TAPE, "0.1 oz a side", "bottom_corners"),
        Chip("butt", "0.3 oz in the butt", _PUTTY, "0.3 oz", "butt_cap"),
    ),
}


class ShownChip(NamedTuple):
    """A chip of the page: whether it is on, the address with it turned over, its rings on the drawing."""

    text: str
    is_on: bool
    address: str
    rings: Sequence[Label]


class SampleView(NamedTuple):
    """The sample as its page shows it."""

    name: str
    sports: Sequence[tuple[str, str, bool]]
    chips: Sequence[ShownChip]
    rows: Sequence[SpecRow]
    drawing: SmallDrawing
    verdict: str
    query: str
    is_changed: bool


def asked_for(sport: str, keys: Iterable[str]) -> tuple[Sport, tuple[str, ...]]:
    """The sample and the chips of an address; what is no chip is left out."""
    of = Sport(sport) if sport in list(Sport) else Sport.TENNIS
    wanted = set(keys)
    return of, tuple(chip.key for chip in CHIPS[of] if chip.key in wanted)


@lru_cache(maxsize=64)
def sample_view(sport: Sport, on: tuple[str, ...]) -> SampleView:
    """A sample with these chips on it."""
    state = _state(sport, on)
    after = state.prediction.after
    backdrop = backdrop_of(state.outline)

    def query(keys: Iterable[str], of: Sport = sport) -> str:
        return urlencode([("sport", of.value), *(("on", key) for key in keys)])

    def turned_over(key: str) -> list[str]:
        return [each.key for each in CHIPS[sport] if (each.key in on) != (each.key == key)]

    return SampleView(
        name=SAMPLES[sport],
        sports=[(name, query((), each), each is sport) for each, name in SAMPLES.items()],
        chips=[
            ShownChip(
                chip.text,
                chip.key in on,
                query(turned_over(chip.key)),
                [ring for ring in backdrop.sites if ring.key == chip.site],
            )
            for chip in CHIPS[sport]
        ],
        rows=spec_rows(state, UNITS[sport])[:4],
        drawing=small_drawing(state.pieces, state.outline, after.balance_cm, SAMPLES[sport]),
        verdict=verdict(state.prediction.before, after) if on else "",
        query=query(on),
        is_changed=bool(on),
    )


def _state(sport: Sport, on: tuple[str, ...]) -> PlanState:
    measured, shelf = SPECS[sport], Shelf(starting_stock())
    state = PlanState(
        Baseline(outline_of(USUAL_DIMENSIONS[sport]), measured), SAMPLES[sport], measured.axis_cm
    )
    for key in on:
        state = _placed(state, sport, key, shelf).plan
    return state


def _placed(state: PlanState, sport: Sport, key: str, shelf: Shelf) -> Done:
    """A chip placed as the board places an order."""
    chip = next(each for each in CHIPS[sport] if each.key == key)
    stock = next(each for each in shelf if each.name == chip.material)
    order = {
        "material": str(stock.key),
        "amount": chip.amount,
        "site": chip.site,
        "face": Face.INNER.value,
        "mirrored": "1",
    }
    return act("add", ActionRequest(state, order, UNITS[sport], lambda: shelf))


@transaction.atomic
def keep(user: User, sport: Sport, on: tuple[str, ...] = ()) -> Plan:
    """The sample as a frame with a plan of the person's own shop."""
    measured = SPECS[sport]
    plan = begin(user, SAMPLES[sport], USUAL_DIMENSIONS[sport], measured, as_readings(measured))
    for key in on:
        save_plan(plan, _placed(plan_state(plan), sport, key, shelf_of(user)), plan.version, user)
    return plan
