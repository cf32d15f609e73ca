"""Where a frame stands among the shop's frames and the usual range of its sport, as a small strip a spec."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from kentrobar.core.body.ranges import SHORT_CM, USUAL_AXIS_CM, is_junior, typical_ranges
from kentrobar.core.body.specs import AIMED, SWING_WEIGHT, Specs
from kentrobar.core.body.sport import Sport
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.frame.outline import Outline
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.reading.reference_ranges import Among, Strip
from kentrobar.core.weight.prediction import predict
from kentrobar.web.frames.baselines import baseline_of, ready_to_play
from kentrobar.web.frames.models import Frame, SpecSheet
from kentrobar.web.kit.archive import IN_USE
from kentrobar.web.kit.numbers import ShownSpec, Units, shown_specs
from kentrobar.web.kit.spec_rows import ReferenceStrip
from kentrobar.web.shops.models import Shop

MOST_DOTS = 120  # frames that a strip shows, those read last
WIDTH = 100.0


def among(shop: Shop, sport: str, but: Frame | None = None) -> Among:
    """The shop's adult frames of a sport ready to play, ``but`` one, about its usual axis: one query."""
    frames = (
        Frame.objects.filter(IN_USE, shop=shop, sport=sport, specs__build="playing")
        .select_related("specs")
        .only("sport", "length_cm", "shop_id", "specs")
    )
    if sport == Sport.TENNIS:
        frames = frames.filter(length_cm__gte=SHORT_CM)
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


def strips_of(frame: Frame, others: Among, units: Units) -> dict[str, ReferenceStrip]:
    """Where a frame stands ready to play, however it was read; nothing where that is not known."""
    baseline = baseline_of(frame, frame.specs)
    return strips_of_plan(PlanState(baseline, "", frame.measured.axis_cm), frame, frame.specs, others, units)


def strips_of_plan(
    plan: PlanState, frame: Frame, sheet: SpecSheet | None, others: Among, units: Units, axis_cm: float = 0.0
) -> dict[str, ReferenceStrip]:
    """The same with what a plan on the readings of ``sheet`` adds; ``axis_cm`` is that of the page, where another."""
    try:
        ready = ready_to_play(plan.baseline, frame, sheet)
    except KentrobarError:
        return {}
    about = replace(plan, baseline=ready, axis_cm=USUAL_AXIS_CM[plan.outline.sport]).prediction
    is_as_read = ready is plan.baseline
    shown_axis_cm, after = axis_cm or plan.axis_cm, about.after if plan.placed else None
    return strips(others, plan.outline, about.before, after, units, shown_axis_cm, is_as_read=is_as_read)


def strips(
    others: Among,
    outline: Outline,
    before: Specs,
    after: Specs | None,
    units: Units,
    shown_axis_cm: float | None = None,
    *,
    is_as_read: bool = True,
) -> dict[str, ReferenceStrip]:
    """A strip for each spec by the key it is shown under; both specs ready to play, about the usual axis.

    Where the swing weight beside it is about another axis (``shown_axis_cm``), the range says its own; where
    the frame was read in another setup, what it comes to ready to play. A junior frame has no usual range.
    """
    if is_junior(outline.sport, outline.length_cm):
        return {}
    found = {}
    for spec in shown_specs(units):
        is_other = spec.key == SWING_WEIGHT.key and shown_axis_cm not in (None, before.axis_cm)
        about = f" about {units.axis_text(before.axis_cm)}" if is_other else ""
        values = [
            q.value for specs in (before, after) if specs is not None and (q := getattr(specs, spec.read_key))
        ]
        strip = others.strip(spec.read_key, values) if values else None
        if strip:
            ready = "" if is_as_read else f"; ready to play {spec.value(getattr(after or before, spec.key))}"
            found[spec.key] = _drawn(spec, strip, values, about + ready)
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
        words=strip.tier_words(spec.key, values[-1]),
    )


def _range_text(spec: ShownSpec, strip: Strip) -> str:
    """The usual range in the person's unit; none in points, which count from half of a length."""
    if spec.key != spec.read_key:
        return ""
    low, high = (spec.value(Estimate(end)) for end in strip.usual)
    return f"{low} to {high} {spec.unit}"
