"""What a set may be made alike to: one of its frames, the heaviest, another set, what leaves most as is."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from statistics import fmean
from types import MappingProxyType
from typing import Final, NamedTuple

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import AIMED, READ, RECOIL_WEIGHT, STATIC_WEIGHT, SWING_WEIGHT

Values = Mapping[str, float]


def values_of(measured: MeasuredSpecs, axis_cm: float) -> dict[str, float]:
    """What was read of a frame by spec, the swing weight about an axis; what is not known is left out."""
    found = {s.key: q.value for s in READ if (q := measured.of(s))}
    found.pop(SWING_WEIGHT.key, None)
    if measured.knows_swingweight(axis_cm):
        about = axis_cm if measured.knows_balance else measured.axis_cm
        found[SWING_WEIGHT.key] = measured.moments().swingweight_kgcm2(about)
    if measured.knows_recoil:
        found[RECOIL_WEIGHT.key] = measured.moments().recoil_kgcm2
    return found


def heaviest(frames: Sequence[Values]) -> int | None:
    """The heaviest of the frames that were weighed, by position; nothing is added to make others like it."""
    weighed = [i for i, each in enumerate(frames) if STATIC_WEIGHT.key in each]
    return max(weighed, key=lambda i: frames[i][STATIC_WEIGHT.key], default=None)


def middle_of(frames: Sequence[Values]) -> dict[str, float]:
    """The mean of each spec that was read of all frames: what another set is like."""
    return {
        spec.key: fmean(each[spec.key] for each in frames)
        for spec in AIMED
        if frames and all(spec.key in each for each in frames)
    }


def alike_already(frames: Sequence[Values], apart: Values) -> Iterator[frozenset[int]]:
    """The groups of frames that need no work to be alike, the largest first, by position.

    ``apart`` is by how much two of them may differ, by spec. Bands are intervals, and intervals that meet two
    by two have a value in common; so a group is alike where each two of it are (Helly, 1923).
    """
    fits = [
        {j for j in range(len(frames)) if j != i and _fit(frames[i], frames[j], apart)}
        for i in range(len(frames))
    ]
    groups = list(_cliques(frozenset(), set(range(len(frames))), set(), fits))
    return iter(sorted(groups, key=lambda group: (-len(group), sorted(group))))


def _fit(one: Values, other: Values, apart: Values) -> bool:
    return all(
        abs(one[name] - other[name]) <= t + 1e-9 for name, t in apart.items() if name in one and name in other
    )


def _cliques(
    chosen: frozenset[int], possible: set[int], done: set[int], fits: Sequence[set[int]]
) -> Iterator[frozenset[int]]:
    """All largest groups of which each two fit (C. Bron and J. Kerbosch, 1973)."""
    if not possible and not done:
        yield chosen
    if not possible:
        return
    pivot = max(possible | done, key=lambda i: len(fits[i] & possible))
    for each in sorted(possible - fits[pivot]):
        yield from _cliques(chosen | {each}, possible & fits[each], done & fits[each], fits)
        possible = possible - {each}
        done = done | {each}


class TolerancePreset(NamedTuple):
    """Tolerances to start from, by spec, and for whom."""

    title: str
    reason: str
    tolerances: Values


USUAL_PRESET: Final = "close"
PRESETS: Final[Mapping[str, TolerancePreset]] = MappingProxyType(
    {
        USUAL_PRESET: TolerancePreset(
            "Close",
            "What a careful bench reaches; a good match for anybody.",
            {"mass_g": 1.0, "balance_cm": 0.1, "swingweight_kgcm2": 1.0},
        ),
        "all_four": TolerancePreset(
            "All four",
            "Weight, balance, swing weight and twist weight: all that is usually measured.",
            {"mass_g": 1.0, "balance_cm": 0.1, "swingweight_kgcm2": 1.0, "twistweight_kgcm2": 0.2},
        ),
        "inertia": TolerancePreset(
            "By inertia",
            "Weight, balance and recoil weight: together they set the swing weight about every axis. There it "
            "may differ up to three times as much as the recoil weight.",
            {"mass_g": 1.0, "balance_cm": 0.1, "recoil_kgcm2": 1.0},
        ),
        "swing": TolerancePreset(
            "Swing weight alone", "Weight and balance may drift; the least work.", {"swingweight_kgcm2": 1.0}
        ),
        "serious": TolerancePreset(
            "Narrow",
            "A rule of thumb for players who notice much; change it as you see fit.",
            {"mass_g": 2.5, "balance_cm": 0.25, "swingweight_kgcm2": 2.5, "twistweight_kgcm2": 0.5},
        ),
        "felt": TolerancePreset(
            "Wide",
            "A rule of thumb for club play: your shop's own answers tell better what is noticed.",
            {"mass_g": 5.0, "balance_cm": 0.5, "swingweight_kgcm2": 5.0, "twistweight_kgcm2": 1.0},
        ),
        "makers": TolerancePreset(
            "Makers' tolerance",
            "What two new frames of one model may differ by; shows what is normal.",
            {"mass_g": 7.0, "balance_cm": 0.7, "swingweight_kgcm2": 7.0},
        ),
    }
)
