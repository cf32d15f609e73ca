"""What a dragged target costs, many times a second: what each piece does is kept in memory for a while."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import lru_cache
from typing import Any, TypedDict

from kentrobar.core.body.specs import AIMED_BY_KEY
from kentrobar.core.body.target import Target
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.solving.relaxation import Prospect, least_weights, prospect
from kentrobar.core.solving.set_ways import SetWay, relaxed_target
from kentrobar.web.kit.numbers import Units
from kentrobar.web.matching.models import FrameSet, SetMember
from kentrobar.web.matching.prepared import ready_frames, works
from kentrobar.web.matching.queries import sets_in_full, sets_of
from kentrobar.web.matching.targets import start_of_drag
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.shops.models import User

_LARGEST = 10_000.0  # beyond any spec of any frame, in its base unit


class Costs(TypedDict):
    """What a target takes at least: each frame by its key and all of them, in words; the target itself."""

    frames: dict[str, str]
    total: str
    target: dict[str, float]


def costs(user: User, set_pk: int, target: Mapping[str, float]) -> Costs | None:
    """What it takes to bring each frame to a target, at least; None for a set that is not theirs.

    Without a target it is the one that would take least weight in all.
    """
    state = sets_of(user).filter(pk=set_pk).values_list("version", "target").first()
    if state is None:
        return None
    version, of_set = state
    # A new reading is no change of its frame, so both are told.
    state_of_frames = ("frame", "frame__changed_at", "frame__specs")
    members = SetMember.objects.filter(set=set_pk).values_list(*state_of_frames)
    known = (user.pk, set_pk, version, tuple(members))
    ready = _ready(*known)
    centres = {n: v for n, v in target.items() if n in of_set.bands} or dict(_lightest_target(*known))
    placed = Target.about(centres, of_set.tolerances, of_set.axis_cm)
    least = least_weights([each for _, each in ready], placed, centres)
    return _as_shown([pk for pk, _ in ready], least, user.units, centres)


@lru_cache(maxsize=64)
def _lightest_target(
    user_pk: int, set_pk: int, version: int, frames: tuple[Any, ...]
) -> tuple[tuple[str, float], ...]:
    """The target of least weight for pieces of any size; that of the middle where there is none at all."""
    of: FrameSet = sets_in_full(User.objects.get(pk=user_pk)).get(pk=set_pk)
    ready = [each.frame for _, each in _ready(user_pk, set_pk, version, frames)]
    known = of.target.tolerances.items()
    tolerances = {n: t for n, t in known if all(n not in f.left_out for f in ready)}
    free = Target.about({}, tolerances, of.target.axis_cm)
    found = relaxed_target(ready, free) if len(ready) > 1 else None
    if found is not None:
        return tuple(found.target.items())
    return tuple(start_of_drag(of, ready_frames(of)).items())


@lru_cache(maxsize=64)
def _ready(user_pk: int, set_pk: int, _version: int, _frames: tuple[Any, ...]) -> list[tuple[int, Prospect]]:
    """The frames made ready; the version and when its frames changed are the state that this was made for."""
    user = User.objects.get(pk=user_pk)
    of: FrameSet = sets_in_full(user).get(pk=set_pk)
    frames = ready_frames(of)
    planned = works(of, frames, shelf_of(user))
    return [
        (each.frame.pk, prospect(work.frame_by(SetWay.LEAST)))
        for each, work in zip(frames, planned, strict=True)
    ]


def _as_shown(
    keys: Sequence[int], least: Sequence[float | None], units: Units, target: Mapping[str, float]
) -> Costs:
    known = [each for each in least if each is not None]
    beyond = len(least) - len(known)
    total = f"{units.piece_mass_text(sum(known))} {units.mass}"
    text = f"about {total} in total" if not beyond else (f"{beyond} of {len(least)} frames cannot get there")
    return {
        "frames": {
            str(pk): "cannot" if w is None else f"{units.piece_mass_text(w)} {units.mass}"
            for pk, w in zip(keys, least, strict=True)
        },
        "total": text,
        "target": dict(target),
    }


def read_target(sent: Mapping[str, str]) -> dict[str, float]:
    """A dragged target by the keys of specs. Raises KentrobarError for what is no spec of any frame."""
    try:
        found = {name: float(sent[name]) for name in AIMED_BY_KEY if name in sent}
    except ValueError:
        raise KentrobarError("Enter numbers as the target.", code="not_a_number") from None
    if not all(0 < value < _LARGEST for value in found.values()):
        raise KentrobarError("No frame can reach this target.", code="out_of_range")
    return found
