"""A frame as a plan starts from it: outline, readings that count, circumstances, what was fitted."""

from __future__ import annotations

from datetime import datetime
from functools import lru_cache

from kentrobar.core.laying.plan import Baseline
from kentrobar.web.frames.builds import fitted_when_read
from kentrobar.web.frames.models import Frame


def baseline_of(frame: Frame) -> Baseline:
    """The frame with its present readings; asks its fittings, which may be fetched before."""
    return Baseline(
        outline=frame.outline,
        measured=frame.measured,
        circumstances=frame.circumstances,
        fitted=tuple(fitted_when_read(frame)),
    )


@lru_cache(maxsize=512)
def baseline_as_of(pk: int, _specs: int | None, _changed: datetime) -> Baseline:
    """The same, kept in memory for as long as neither readings nor the frame change.

    ``_specs`` and ``_changed`` are the state the caller saw; fittings count as a change of the frame.
    """
    with_all = Frame.objects.select_related("specs").prefetch_related("fittings")
    return baseline_of(with_all.get(pk=pk))
