"""What the shop's accessories do together to a usual frame, as a table."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from kentrobar.core.body.specs import Specs
from kentrobar.core.body.sport import Sport
from kentrobar.core.weight.builds import Fitting
from kentrobar.core.weight.together import USUAL_BARE, is_put_on, put_on_usual
from kentrobar.web.kit.numbers import ShownSpec, Units, shown_specs
from kentrobar.web.kit.spec_rows import SpecText, change_of
from kentrobar.web.materials.models import Accessory

_NAMES = {Sport.TENNIS: "racket", Sport.PICKLEBALL: "paddle"}


@dataclass(frozen=True, slots=True)
class TogetherTable:
    """One sport: what each accessory changes on a usual frame, and all of them."""

    name: str
    frame: str
    specs: list[ShownSpec]
    lines: list[tuple[str, list[SpecText]]]
    total: list[SpecText]


def together(accessories: Iterable[Accessory], units: Units) -> list[TogetherTable]:
    """A table for each sport, the first accessory of each kind standing for it."""
    first: dict[str, Fitting] = {}
    for each in accessories:
        if not each.is_archived:
            first.setdefault(each.kind, each.fitting)
    return [_table(sport, first.values(), units.of_sport(sport)) for sport in Sport]


def _table(sport: Sport, fittings: Iterable[Fitting], units: Units) -> TogetherTable:
    specs = shown_specs(units)
    changed = put_on_usual(sport, [each for each in fittings if is_put_on(each, sport)])

    def texts(change: Specs) -> list[SpecText]:
        return [change_of(spec, getattr(change, spec.key)) for spec in specs]

    bare = USUAL_BARE[sport]
    mass = bare.mass_g.text(lambda q: f"{units.mass_text(q.value)} {units.mass}", "")
    return TogetherTable(
        _NAMES[sport],
        f"{mass} bare, swing weight at {units.axis_text(bare.axis_cm)}",
        specs,
        [(line.fitting.label, texts(line.change)) for line in changed.ledger],
        texts(changed.prediction.change),
    )
