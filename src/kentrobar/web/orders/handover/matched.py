"""The frames of a job against the set they belong to: whether they match by what was read of them last."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from kentrobar.core.bench.stages import Stage
from kentrobar.core.body.specs import POINTS
from kentrobar.core.body.target import Alike, Target
from kentrobar.core.quantities.units import POINTS_UNIT
from kentrobar.core.solving.chance import chance_alike, chance_all_within
from kentrobar.web.kit.numbers import Units, chance_text, shown_specs
from kentrobar.web.matching.models import FrameSet
from kentrobar.web.matching.prepared import PreparedFrame, prepare
from kentrobar.web.orders.job_state import JobState

_BEFORE_READ = frozenset({Stage.MEASURE, Stage.PLAN, Stage.FIT, Stage.READ, Stage.TRIM, Stage.PERMANENT})


@dataclass(frozen=True, slots=True)
class MatchedSpec:
    """A spec of the frames of a set: by how much they differ, what is allowed, whether that is kept."""

    name: str
    spread: str
    allowed: str
    unit: str
    is_within: bool


@dataclass(frozen=True, slots=True)
class MatchView:
    """A job's frames as a set: what is not read yet, spec by spec whether they match, how surely."""

    set: FrameSet
    waiting: list[str]
    missing: list[str]
    specs: list[MatchedSpec]
    is_matched: bool
    chance: str


def match_view(state: JobState, units: Units) -> MatchView | None:
    """How the frames of a job match; None where the job is of no set."""
    of = state.job.set
    if of is None:
        return None
    target = _target_of(of)
    in_job = {member.frame.pk: member for member in state.members}
    members = of.members.select_related("frame__specs", "frame__client", "frame__model")
    frames = prepare(members.prefetch_related("frame__fittings"), target)
    ours = [each for each in frames if each.frame.pk in in_job and not each.member.is_out]
    waiting = [
        each.frame.label for each in ours if in_job[each.frame.pk].stage in _BEFORE_READ or each.missing
    ]
    known = {each.frame.pk for each in frames}
    specs = list(_specs(ours, target, units.of_sport(ours[0].frame.sport))) if len(ours) > 1 else []
    is_matched = bool(specs) and not waiting and all(spec.is_within for spec in specs)
    chance = chance_text(_chance(ours, target)) if specs and not waiting else ""
    missing = [member.frame.label for pk, member in in_job.items() if pk not in known]
    return MatchView(of, waiting, missing, specs, is_matched, chance)


def _target_of(of: FrameSet) -> Target:
    """What the plans of a set were laid for; before any were, what is asked of it."""
    laying = of.layings.first()
    return laying.target if laying is not None else of.target


def _specs(frames: Sequence[PreparedFrame], target: Target, units: Units) -> Iterator[MatchedSpec]:
    for spec in shown_specs(units):
        values = [each.values[spec.read_key] for each in frames if spec.read_key in each.values]
        if spec.read_key not in target.bands or len(values) < 2:
            continue
        yield MatchedSpec(
            spec.name,
            spec.width(max(values) - min(values)),
            spec.width(_most_apart(spec.read_key, target)),
            POINTS_UNIT if spec.key == POINTS.key else spec.unit,
            _is_within(frames, spec.read_key, target),
        )


def _most_apart(key: str, target: Target) -> float:
    """By how much two frames may differ: each lies within its band, or all within the tolerance."""
    return 2 * target.reach[key]


def _is_within(frames: Sequence[PreparedFrame], key: str, target: Target) -> bool:
    values = [each.values[key] for each in frames if key in each.values]
    if target.alike is Alike.TO_EACH_OTHER or target.is_free:
        return max(values) - min(values) <= _most_apart(key, target) + 1e-9
    return not any(target.miss(each.specs).get(key, 0.0) for each in frames)


def _chance(frames: Sequence[PreparedFrame], target: Target) -> float:
    """The chance that they truly match, by the ± of what was read."""
    now = [each.predict([]) for each in frames]
    known: list[Mapping[str, tuple[float, float]]] = [
        {name: band for name, band in target.bands.items() if name in each.values} for each in frames
    ]
    if target.alike is Alike.TO_EACH_OTHER or target.is_free:
        return chance_alike(now, [{name: _most_apart(name, target) for name in bands} for bands in known])
    return chance_all_within(now, known)
