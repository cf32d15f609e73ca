"""Where a frame stands among the shop's frames and the usual range of its sport, as a small strip a spec."""

from __future__ import annotations

from collections.abc import Iterable

from kentrobar.core.body.ranges import USUAL_AXIS_CM, typical_ranges
from kentrobar.core.body.specs import AIMED, SWING_WEIGHT, Specs
from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.reading.reference_ranges import Among, Strip
from kentrobar.core.weight.prediction import predict
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.archive import IN_USE
from kentrobar.web.kit.numbers import ShownSpec, Units, shown_specs
from kentrobar.web.kit.spec_rows import ReferenceStrip
from kentrobar.web.shops.models import Shop

MOST_DOTS = 120  # frames that a strip shows, those read last
WIDTH = 100.0


def among(shop: Shop, sport: str, but: Frame | None = None) -> Among:
    """The shop's frames of a sport in playing form, ``but`` one, about the sport's usual axis: one query."""
    frames = (
        Frame.objects.filter(IN_USE, shop=shop, sport=sport, specs__build="playing")
        .select_related("specs")
        .only("sport", "length_cm", "shop_id", "specs")
    )
    if but is not None:
        frames = frames.exclude(pk=but.pk)
    values: dict[str, list[float]] = {spec.key: [] for spec in AIMED}
    for frame in frames.order_by("-specs__taken_at")[:MOST_DOTS]:
        specs = about_usual_axis(frame)
        for name, found in values.items():
            quantity = getattr(specs, name)
            if quantity:
                found.append(quantity.value)
    return Among(typical_ranges(Sport(sport), shop.usual_ranges.get(sport, {})), values)


def among_each(shop: Shop, frames: Iterable[Frame]) -> dict[str, Among]:
    """The shop's frames of each sport that these are of: one query a sport."""
    return {sport: among(shop, sport) for sport in {frame.sport for frame in frames}}


def about_usual_axis(frame: Frame) -> Specs:
    """A frame's specs as read, about the usual axis of its sport."""
    axis = USUAL_AXIS_CM[Sport(frame.sport)]
    return predict(frame.measured, [], length_cm=frame.length_cm, axis_cm=axis).before


def strips(
    others: Among, before: Specs, after: Specs | None, units: Units, shown_axis_cm: float | None = None
) -> dict[str, ReferenceStrip]:
    """A strip for each spec by the key it is shown under; both specs about the sport's usual axis.

    Where the swing weight that is told beside it is about another (``shown_axis_cm``), the range says its own.
    """
    found = {}
    for spec in shown_specs(units):
        is_other = spec.key == SWING_WEIGHT.key and shown_axis_cm not in (None, before.axis_cm)
        about = f" about {units.axis_text(before.axis_cm)}" if is_other else ""
        values = [
            q.value for specs in (before, after) if specs is not None and (q := getattr(specs, spec.read_key))
        ]
        strip = others.strip(spec.read_key, values) if values else None
        if strip:
            found[spec.key] = _drawn(spec, strip, values, about)
    return found


def _drawn(spec: ShownSpec, strip: Strip, values: list[float], about: str) -> ReferenceStrip:
    def x(value: float) -> float:
        return round(WIDTH * strip.part(value), 2)

    low, high = strip.usual
    return ReferenceStrip(
        band=x(low),
        width=round(x(high) - x(low), 2),
        dots=[x(value) for value in strip.others],
        before=x(values[0]) if len(values) > 1 else None,
        now=x(values[-1]),
        standing=strip.standing(values[-1]).value,
        range=_range_text(spec, strip) + about,
    )


def _range_text(spec: ShownSpec, strip: Strip) -> str:
    """The usual range in the person's unit; none in points, which count from half of a length."""
    if spec.key != spec.read_key:
        return ""
    low, high = (spec.value(Estimate(end)) for end in strip.usual)
    return f"{low} to {high} {spec.unit}"
