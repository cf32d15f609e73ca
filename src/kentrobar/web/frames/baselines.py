"""A frame as a plan starts from it: outline, one sheet of readings, circumstances, what was fitted then."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import replace
from datetime import datetime
from functools import lru_cache

from kentrobar.core.bench.cautions import Strain
from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import Specs
from kentrobar.core.editing.plan import Baseline
from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.weight.builds import Build, Fitting
from kentrobar.core.weight.prediction import predict
from kentrobar.web.frames.builds import fitted_at, fittings_in, fittings_now, in_build
from kentrobar.web.frames.models import Frame, SpecSheet


def baseline_of(frame: Frame, sheet: SpecSheet | None) -> Baseline:
    """The frame as it was read then; asks its fittings, which may be fetched before.

    Dimensions and circumstances are what is known of the frame today: correcting them is no new reading.
    """
    fitted = tuple(fitted_at(frame, sheet) if sheet else fittings_now(frame))
    return Baseline(
        outline=frame.outline,
        measured=sheet.measured if sheet else MeasuredSpecs(),
        circumstances=frame.circumstances,
        fitted=fitted,
        ceiling_g=_ceiling_g(frame, fitted),
    )


def _ceiling_g(frame: Frame, fitted: Iterable[Fitting]) -> float:
    """The static weight that it may have with just these fittings on, g; its ceiling is one ready to play."""
    if frame.ceiling_g is None:
        return math.inf
    here = {each.key: each.mass_g.value for each in fitted}
    playing = {each.key: each.mass_g.value for each in fittings_in(frame, Build.PLAYING)}
    return frame.ceiling_g - sum(playing.values()) + sum(here.values())


def ready_to_play(baseline: Baseline, frame: Frame, sheet: SpecSheet | None) -> Baseline:
    """The frame ready to play, read so or turned into it: so it is compared, and so a ball meets it.

    Raises:
        PieceError: what it takes for that was never noted.
    """
    if sheet is None or sheet.build == Build.PLAYING:
        return baseline
    if sheet.build == Build.MIX and sheet.fitting_ids is None:
        raise PieceError(
            "What was fitted when this frame was measured is unknown, so it cannot be converted to ready to play.",
            code="mix_unknown",
        )
    wanted = fittings_in(frame, Build.PLAYING)
    change = in_build(frame, Build.PLAYING, wanted, baseline.measured.axis_cm, sheet)
    ceiling_g = _ceiling_g(frame, wanted)
    return replace(baseline, measured=change.measured, fitted=tuple(wanted), ceiling_g=ceiling_g)


def strains_of(frame: Frame) -> frozenset[Strain]:
    """What strain the frame's player told of."""
    return frozenset(map(Strain, frame.client.strain)) if frame.client else frozenset()


def specs_about(frame: Frame, sheet: SpecSheet, axis_cm: float) -> Specs:
    """The specs that a sheet tells of its frame, swing weights about an axis."""
    return predict(sheet.measured, [], length_cm=frame.length_cm, axis_cm=axis_cm).before


@lru_cache(maxsize=512)
def baseline_as_of(pk: int, specs: int | None, _changed: datetime) -> Baseline:
    """The same by key, kept in memory for as long as the frame does not change.

    ``_changed`` is the state the caller saw; fittings count as a change of the frame.
    """
    frame = Frame.objects.prefetch_related("fittings").get(pk=pk)
    return baseline_of(frame, SpecSheet.objects.get(pk=specs) if specs else None)


@lru_cache(maxsize=512)
def ready_as_of(pk: int, specs: int | None, changed: datetime) -> Baseline:
    """The same ready to play. Raises PieceError where what it takes for that was never noted."""
    frame = Frame.objects.prefetch_related("fittings").get(pk=pk)
    sheet = SpecSheet.objects.get(pk=specs) if specs else None
    return ready_to_play(baseline_as_of(pk, specs, changed), frame, sheet)
