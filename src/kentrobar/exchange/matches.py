"""Answering ``match``: the least weight that brings frames to a target."""

from __future__ import annotations

import math
import time
from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import Final, Literal, NamedTuple

from kentrobar.core.body.specs import READ_BY_KEY
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.solving.candidates import Choice, PointSlot, Slot, candidates
from kentrobar.core.solving.chance import chance_within
from kentrobar.core.solving.matching import Aim, Match, Reason, match
from kentrobar.core.solving.sets import Alike, Member, match_set
from kentrobar.core.solving.surest import coarsest, drawn_in, surest
from kentrobar.core.weight.pieces import PointPiece
from kentrobar.exchange import convert, models
from kentrobar.exchange.frames import ReadFrame, read_frame, read_pieces, require_axis
from kentrobar.exchange.reading import DocumentError, at_path
from kentrobar.exchange.targets import (
    free_tolerances_of,
    target_document,
    targets_of,
    tolerances_of,
)

Status = Literal["optimal", "feasible", "infeasible", "undecided"]
CHANCE_DECIMALS: Final = 4
SEARCHES: Final = 9  # that the time is shared by where the surest plan is looked for
LEAST_SECONDS: Final = 0.05  # for a frame whose turn comes when the time is over


class _Match(NamedTuple):
    """One frame of a set, what may be laid on it and taken off it, and what was found."""

    frame: ReadFrame
    slots: list[Slot]
    is_target: bool = False
    found: Match = Match(True)


class _Planned(NamedTuple):
    """What a search came to for all frames, with every band drawn in by some multiple of each ±."""

    matches: list[_Match]
    frames: list[models.MatchedFrame]
    target: Mapping[str, float]
    status: Status
    reasons: list[str]
    bound_g: float

    @property
    def is_feasible(self) -> bool:
        return self.status in ("optimal", "feasible")

    @property
    def chance(self) -> float | None:
        """Of all frames together, 0 to 1: each was read by itself. None where one of them has none."""
        chances = [frame.chance for frame in self.frames if frame.chance is not None]
        return math.prod(chances) if len(chances) == len(self.frames) else None


def answer_match(request: models.MatchRequest) -> models.MatchAnswer:
    """What ``match`` prints for this request.

    Raises:
        DocumentError: frames, sites or a target that cannot be; the path says which.
    """
    _require_labels(request.frames)
    frames = [read_frame(document, f"frames.{i}") for i, document in enumerate(request.frames)]
    for frame in frames:
        require_axis(request.axis_cm, frame)
    is_free = len(frames) > 1 and (request.target is None or request.within == "each_other")
    search = _FreeTarget(request, frames) if is_free else _GivenTarget(request, frames)
    lightest = search.planned(0.0)
    assert lightest is not None  # noqa: S101 - bands that are not drawn in never close
    planned, reasons = lightest, list(lightest.reasons)
    if request.objective == "surest" and lightest.is_feasible:
        planned, more = _surest(search, lightest, request.chance)
        reasons += more
    return models.MatchAnswer(
        status=planned.status,
        reasons=reasons,
        target=target_document(planned.target, request.axis_cm),
        added_mass_g=_sum(each.found.added_g for each in planned.matches),
        proven_lower_bound_g=_sum([lightest.bound_g]),
        chance=planned.chance and round(planned.chance, CHANCE_DECIMALS),
        frames=planned.frames,
        warnings=[warning for frame in frames for warning in frame.warnings()],
    )


def _surest(
    search: _GivenTarget | _FreeTarget, lightest: _Planned, wished: float
) -> tuple[_Planned, list[str]]:
    """The lightest plan that reaches the chance, and what is to be said where none does.

    Nothing lighter than the lightest plan is in the bands at all: where it reaches the chance, what is proven
    of it stays proven. How near to the least a surer plan comes is not.
    """
    if (lightest.chance or 0.0) >= wished:
        return lightest, []

    def planned(guard: float) -> _Planned | None:
        found = search.planned(guard) if guard else lightest
        return found if found is not None and found.is_feasible else None

    found = surest(planned, lambda each: each.chance or 0.0, wished) or lightest
    found = found._replace(status="feasible")
    if (found.chance or 0.0) >= wished:
        return found, []
    name, count = coarsest(search.tolerances, search.us())
    if count == 1:
        return found, [
            f"No plan at these sites and steps reaches a chance of {100 * wished:.0f} %; allow more sites or "
            "finer steps, or widen a tolerance."
        ]
    return found, [
        f"No plan reaches a chance of {100 * wished:.0f} %: the {READ_BY_KEY[name].noun} was read too "
        f"coarsely for its tolerance. The mean of {count} readings would do, or a wider tolerance."
    ]


class _GivenTarget:
    """Each frame planned by itself to a target that is given."""

    def __init__(self, request: models.MatchRequest, frames: Sequence[ReadFrame]) -> None:
        self.request, self.frames = request, frames
        targets = targets_of(request, frames)
        wished = tolerances_of(request, targets)
        self.target = {name: v for name, v in targets.items() if wished[name] is not None}
        self.tolerances = {n: t for n, t in wished.items() if t is not None and n in self.target}
        self.aim = Aim.at(self.target, self.tolerances, request.axis_cm)
        self.seconds = request.seconds / (1 if request.objective == "lightest" else SEARCHES)

    def us(self) -> dict[str, float]:
        """The widest ± of each spec over the frames."""
        return _widest([_us(frame, self.request.axis_cm) for frame in self.frames])

    def planned(self, guard: float) -> _Planned | None:
        """The plan of each frame; what one frame leaves of the time is the next one's."""
        until = time.monotonic() + self.seconds
        matches = []
        for i, frame in enumerate(self.frames):
            each = _to_match(self.request, i, frame)
            if not each.is_target:
                bands = drawn_in(self.aim.bounds, _us(frame, self.request.axis_cm), guard)
                if bands is None:
                    return None
                seconds = max((until - time.monotonic()) / (len(self.frames) - i), LEAST_SECONDS)
                aim = Aim(bands, self.request.axis_cm)
                each = each._replace(found=_match(each, i, aim, seconds, explain=not guard))
            matches.append(each)
        reasons = [line for each in matches for line in _reasons(each, len(matches) > 1)]
        return _Planned(
            matches, [_matched(each, self.request.axis_cm, self.aim.bounds) for each in matches],
            self.target, _status([each.found for each in matches]), reasons,
            sum(each.found.lower_bound_g for each in matches),
        )  # fmt: skip


class _FreeTarget:
    """All frames made alike at once, to a target that is free, or within a band that holds the one given."""

    def __init__(self, request: models.MatchRequest, frames: Sequence[ReadFrame]) -> None:
        self.request = request
        self.given = targets_of(request, frames) if request.target is not None else {}
        self.tolerances = free_tolerances_of(request, frames, self.given)
        self.part = 0.5 if request.within == "each_other" else 1.0
        self.matches = [_to_match(request, i, frame) for i, frame in enumerate(frames)]
        self.seconds = request.seconds / (1 if request.objective == "lightest" else SEARCHES)

    def us(self) -> dict[str, float]:
        """The widest ± of each spec over the frames."""
        return _widest([_us(each.frame, self.request.axis_cm) for each in self.matches])

    def planned(self, guard: float) -> _Planned | None:
        us = self.us()
        within = {name: t - guard * us[name] / self.part for name, t in self.tolerances.items()}
        if min(within.values()) < 0:
            return None
        members = [Member(m.frame.measured, m.slots, m.frame.outline) for m in self.matches]
        found = match_set(
            members, within, self.request.axis_cm, Alike(self.request.within), about=self.given,
            seconds=self.seconds,
        )  # fmt: skip
        matches = self.matches
        status: Status = "infeasible" if found.is_proven else "undecided"
        if found.is_feasible:
            status = "optimal" if found.is_proven else "feasible"
            matches = [
                each._replace(found=Match(True, pieces, added_g))
                for each, pieces, added_g in zip(matches, found.pieces, found.added_g, strict=True)
            ]
        bands = {
            name: (
                value - self.part * self.tolerances[name],
                value + self.part * self.tolerances[name],
            )
            for name, value in found.target.items()
        }
        done = [_matched(m._replace(is_target=False), self.request.axis_cm, bands) for m in matches]
        reasons = [] if found.is_feasible else [_why_not_alike(self.tolerances, found.is_proven)]
        return _Planned(matches, done, found.target, status, reasons, found.lower_bound_g)


def _us(frame: ReadFrame, axis_cm: float) -> dict[str, float]:
    """The ± of each spec that was read of a frame, by its key."""
    specs = frame.predict([], axis_cm).before
    return {n: q.u for n in READ_BY_KEY if isinstance(q := getattr(specs, n), Estimate)}


def _widest(of_frames: Sequence[Mapping[str, float]]) -> dict[str, float]:
    return {n: max(us.get(n, 0.0) for us in of_frames) for n in READ_BY_KEY}


def _sum(masses_g: Iterable[float]) -> float:
    return round(sum(masses_g), convert.DECIMALS)


def _require_labels(frames: Sequence[models.Frame]) -> None:
    """Labels tell the frames of a set apart. Raises DocumentError where one is empty or stands twice."""
    seen: set[str] = set()
    for i, frame in enumerate(frames):
        path = f"frames.{i}.label"
        if len(frames) > 1 and not frame.label.strip():
            raise DocumentError(path, "this frame has no label; give each frame of a set its own.")
        if frame.label in seen:
            problem = (
                f"“{frame.label[:40]}” is the label of an earlier frame too; give each its own."
            )
            raise DocumentError(path, problem)
        seen.add(frame.label)


def _status(found: Sequence[Match]) -> Status:
    """How much is proven: of all frames the worst."""
    if all(each.is_feasible for each in found):
        return "optimal" if all(each.is_proven for each in found) else "feasible"
    # One frame that is proven out of reach decides for the set.
    is_ruled_out = any(not each.is_feasible and each.is_proven for each in found)
    return "infeasible" if is_ruled_out else "undecided"


def _why_not_alike(tolerances: Mapping[str, float], is_proven: bool) -> str:
    if not is_proven:
        return Reason(()).sentence()
    nouns = ", ".join(READ_BY_KEY[name].noun for name in tolerances)
    return (
        f"No weight at these sites makes all frames alike in {nouns}; widen a tolerance, allow more sites or "
        "finer steps, or leave out the frame that differs most."
    )


# -- the search -------------------------------------------------------------------------


def _to_match(request: models.MatchRequest, index: int, frame: ReadFrame) -> _Match:
    own = request.frames[index]
    place = f"frames.{index}."
    sites, at_sites = (request.sites, "") if own.sites is None else (own.sites, place)
    removals, at_removals = (
        (request.removals, "") if own.removals is None else (own.removals, place)
    )
    slots: list[Slot] = []
    for i, document in enumerate(sites):
        with at_path(f"{at_sites}sites.{i}"):
            slots.append(convert.site(document))
            _require_site(slots[-1], frame)
    pieces = read_pieces(
        [each.model_copy(update={"removed": True}) for each in removals], frame, request.axis_cm,
        f"{at_removals}removals",
    )  # fmt: skip
    slots += [Choice(piece.name, (piece,)) for piece in pieces]
    target = request.target
    is_target = isinstance(target, models.TargetFrame) and frame.label == target.label
    return _Match(frame, slots, is_target)


def _require_site(slot: Slot, frame: ReadFrame) -> None:
    """Refuse a site that is off the frame. Raises KentrobarError."""
    candidates([slot], frame.outline)
    if isinstance(slot, PointSlot):
        probe = PointPiece(mass_g=Estimate(1.0), y_cm=slot.y_cm, x_cm=slot.x_cm)
        probe.require_within(frame.room)


def _match(each: _Match, index: int, aim: Aim, seconds: float, *, explain: bool) -> Match:
    frame = each.frame
    try:
        return match(
            frame.measured, each.slots, aim, length_cm=frame.length_cm, outline=frame.outline,
            seconds=seconds, explain=explain,
        )  # fmt: skip
    except KentrobarError as error:
        measured = error.code == "not_measured"
        path = f"frames.{index}.measured.{error.field}" if measured else "sites"
        raise DocumentError(path, error.message) from None


def _reasons(each: _Match, is_one_of_several: bool) -> Iterator[str]:
    if each.found.reason:
        sentence = each.found.reason.sentence()
        yield f"{each.frame.label}: {sentence}" if is_one_of_several else sentence


def _matched(
    each: _Match, axis_cm: float, bands: Mapping[str, tuple[float, float]]
) -> models.MatchedFrame:
    pieces = each.found.pieces if each.found.is_feasible else each.found.nearest
    try:
        prediction = each.frame.predict(pieces, axis_cm)
    except KentrobarError as error:
        raise DocumentError("removals", error.message) from None
    is_aimed = bool(bands) and each.found.is_feasible and not each.is_target
    chance = chance_within(prediction, bands) if is_aimed else None
    return models.MatchedFrame(
        chance=1.0 if each.is_target else chance and round(chance, CHANCE_DECIMALS),
        label=each.frame.label,
        pieces=[convert.piece_document(piece) for piece in pieces if not piece.removed],
        removed=[convert.piece_document(piece) for piece in pieces if piece.removed],
        before=convert.specs_document(prediction.before),
        after=convert.specs_document(prediction.after),
    )
