"""A frame read again after a plan was laid: is it as predicted, as before, or neither?

What is read and what was predicted rest on readings taken apart, so the ± of their difference is that of
both together. Neither moves the other: the plan stays on the readings it started from.
"""

from __future__ import annotations

from collections.abc import Sequence
from enum import StrEnum
from typing import Final, NamedTuple

from scipy.special import chdtrc

from kentrobar.core.body.specs import READ, Specs
from kentrobar.core.reading.comparing import FeltRule, Gap, Verdict, gap
from kentrobar.core.weight.prediction import Prediction

ODD: Final = 0.01  # so seldom do readings of the very same frame look like another one
_LEAST_U: Final = 1e-9  # what rounding leaves of two equal numbers


class RereadVerdict(StrEnum):
    """What a new reading says of a plan."""

    AS_PREDICTED = "as predicted"
    AS_BEFORE = "as before"
    EITHER = "either"  # the pieces change less than the readings can tell
    NEITHER = "neither"
    UNKNOWN = "unknown"  # nothing was read that the plan predicts


class RereadSpec(NamedTuple):
    """One spec read again: how far it is from what was predicted, and from what it was before."""

    key: str
    from_predicted: Gap
    from_before: Gap


class Reread(NamedTuple):
    """A new reading beside a prediction, spec by spec, and what it comes to."""

    specs: tuple[RereadSpec, ...]
    found: RereadVerdict


def reread(prediction: Prediction, read: Specs) -> Reread:
    """A reading in the plan's own build and about its axis, beside what the plan predicted."""
    rule = FeltRule()
    specs = tuple(
        RereadSpec(
            spec.key,
            gap(spec.key, getattr(prediction.after, spec.key), getattr(read, spec.key), rule),
            gap(spec.key, getattr(prediction.before, spec.key), getattr(read, spec.key), rule),
        )
        for spec in READ
    )
    return Reread(specs, _found(specs))


def _found(specs: tuple[RereadSpec, ...]) -> RereadVerdict:
    known = [each for each in specs if each.from_predicted.verdict is not Verdict.UNKNOWN]
    if not known:
        return RereadVerdict.UNKNOWN
    as_predicted = _are_noise([each.from_predicted for each in known])
    as_before = _are_noise([each.from_before for each in known])
    if as_predicted:
        return RereadVerdict.EITHER if as_before else RereadVerdict.AS_PREDICTED
    return RereadVerdict.AS_BEFORE if as_before else RereadVerdict.NEITHER


def _are_noise(gaps: Sequence[Gap]) -> bool:
    """Whether all gaps together are what chance leaves of none, by the sum of their squares over ±².

    Each alone at twice its ± would call one right frame in six odd where four specs are read.
    """
    squares = sum(
        (gap.difference.value / max(gap.difference.u, _LEAST_U)) ** 2 for gap in gaps if gap.difference
    )
    return bool(chdtrc(len(gaps), squares) >= ODD)
