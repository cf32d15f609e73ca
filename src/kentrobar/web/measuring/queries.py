"""The reads of measuring, each through the shop."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Final

from django.db.models import Prefetch, QuerySet

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import BALANCE, STATIC_WEIGHT, SWING_WEIGHT, TWIST_WEIGHT, ReadSpec
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.reading.timing import learnt_scatter_s
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.queries import MOST_SIBLINGS
from kentrobar.web.measuring.models import Calibration, Instrument, Reading
from kentrobar.web.shops.models import User

LEARNT_FROM: Final = 20  # of a person's last swings timed by hand


def instruments_of(user: User) -> QuerySet[Instrument]:
    """The shop's instruments, each with its calibrations, newest first."""
    newest_first = Calibration.objects.select_related("taken_by").order_by("-taken_at", "-pk")
    return Instrument.objects.filter(shop=user.shop_id).prefetch_related(
        Prefetch("calibrations", newest_first)
    )


def in_use(user: User) -> list[Instrument]:
    """The instruments that are not put away."""
    return list(instruments_of(user).filter(is_put_away=False))


_READS: Final = {
    STATIC_WEIGHT: (Instrument.InstrumentKind.SCALE,),
    BALANCE: (
        Instrument.InstrumentKind.BOARD,
        Instrument.InstrumentKind.EDGE,
        Instrument.InstrumentKind.FINGER,
    ),
    SWING_WEIGHT: (Instrument.InstrumentKind.MACHINE,),
    TWIST_WEIGHT: (Instrument.InstrumentKind.TWIST,),
}


def readers_of(spec: ReadSpec, instruments: Iterable[Instrument]) -> list[Instrument]:
    """Those that read a spec straight; first what has a cable, which is what stands on the bench."""
    fit = [each for each in instruments if each.kind in _READS[spec]]
    return sorted(fit, key=lambda each: not each.address)


def used_last(user: User) -> dict[str, int | None]:
    """The key of the instrument that a person last read each spec with, by its field; None: with none."""
    read = Reading.objects.filter(sheet__taken_by=user, sheet__frame__shop=user.shop_id)
    newest = read.exclude(unit="s").order_by("spec", "-pk").distinct("spec")  # s: timed, not read
    return dict(newest.values_list("spec", "instrument_id"))


def sibling_specs(frame: Frame, build: str) -> list[MeasuredSpecs]:
    """Specs of other frames of the same model, read in the same build."""
    if frame.model_id is None:
        return []
    siblings = (
        Frame.objects.filter(shop=frame.shop_id, model=frame.model_id, specs__build=build)
        .exclude(pk=frame.pk)
        .select_related("specs")[:MOST_SIBLINGS]
    )
    return [sibling.measured for sibling in siblings]


def scatter_learnt_of(user: User) -> Estimate | None:
    """What this person's presses scatter by, s, from the swings they timed by hand last."""
    timed = Reading.objects.filter(
        sheet__taken_by=user, sheet__frame__shop=user.shop_id, detail__has_key="by_hand"
    ).order_by("-pk")
    own = [each["by_hand"] for each in timed.values_list("detail", flat=True)[:LEARNT_FROM]]
    return learnt_scatter_s([(each["square_s2"], each["freedom"]) for each in own])
