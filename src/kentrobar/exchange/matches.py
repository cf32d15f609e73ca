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
from kentrobar.core.solving.sets import Alike, Member, SetMatch, match_set
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
LEAST_SECONDS: Final = 0.05  # for a frame whose turn comes when the time is over


class _Match(NamedTuple):
    """One frame of a set, what may be laid on it and taken off it, and what was found."""

    frame: ReadFrame
    slots: list[Slot]
    is_target: bool = False
    found: Match = Match(True)


def answer_match(request: models.MatchRequest) -> models.MatchAnswer:
    """What ``match`` prints for this request.

    Raises:
        DocumentError: frames, sites or a target that cannot be; the path says which.
    """
    _require_labels(request.frames)
    frames = [read_frame(document, f"frames.{i}") for i, document in enumerate(request.frames)]
    for frame in frames:
        require_axis(request.axis_cm, frame)
    if len(frames) > 1 and (request.target is None or request.within == "each_other"):
        return _alike(request, frames)
    targets = targets_of(request, frames)
    tolerances = tolerances_of(request, targets)
    wanted = {name: targets[name] for name in targets if tolerances[name] is not None}
    within = {name: value for name, value in tolerances.items() if value is not None}
    aim = Aim.at(wanted, within, request.axis_cm)
    matches = _solved(request, frames, aim)
    done = [_matched(each, request.axis_cm, aim.bounds) for each in matches]
    return models.MatchAnswer(
        chance=_chance_of_all(done),
        status=_status([each.found for each in matches]),
        reasons=[sentence for each in matches for sentence in _reasons(each, len(frames) > 1)],
        target=target_document(wanted, request.axis_cm),
        added_mass_g=_sum(each.found.added_g for each in matches),
        proven_lower_bound_g=_sum(each.found.lower_bound_g for each in matches),
        frames=done,
        warnings=[warning for frame in frames for warning in frame.warnings()],
    )


def _chance_of_all(frames: Sequence[models.MatchedFrame]) -> float | None:
    """The chance of all frames together: each was read by itself."""
    chances = [frame.chance for frame in frames if frame.chance is not None]
    return round(math.prod(chances), CHANCE_DECIMALS) if len(chances) == len(frames) else None


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


# -- a set whose target is chosen too ----------------------------------------------------


def _alike(request: models.MatchRequest, frames: Sequence[ReadFrame]) -> models.MatchAnswer:
    """All frames made alike at once, to a target that is free, or within a band that holds the one given."""
    given = targets_of(request, frames) if request.target is not None else {}
    tolerances = free_tolerances_of(request, frames, given)
    matches = [_to_match(request, i, frame) for i, frame in enumerate(frames)]
    members = [Member(each.frame.measured, each.slots, each.frame.outline) for each in matches]
    found = match_set(
        members, tolerances, request.axis_cm, Alike(request.within), about=given,
        seconds=request.seconds,
    )  # fmt: skip
    if found.is_feasible:
        matches = [
            each._replace(found=Match(True, pieces, added_g))
            for each, pieces, added_g in zip(matches, found.pieces, found.added_g, strict=True)
        ]
        status: Status = "optimal" if found.is_proven else "feasible"
    else:
        status = "infeasible" if found.is_proven else "undecided"
    done = [_matched(each, request.axis_cm, _bands(found, tolerances, request)) for each in matches]
    return models.MatchAnswer(
        chance=_chance_of_all(done),
        status=status,
        reasons=[] if found.is_feasible else [_why_not_alike(tolerances, found.is_proven)],
        target=target_document(found.target, request.axis_cm),
        added_mass_g=_sum(found.added_g),
        proven_lower_bound_g=_sum([found.lower_bound_g]),
        frames=done,
        warnings=[warning for frame in frames for warning in frame.warnings()],
    )


def _bands(
    found: SetMatch, tolerances: Mapping[str, float], request: models.MatchRequest
) -> dict[str, tuple[float, float]]:
    """Within which each frame lies, where the set was made alike."""
    part = 0.5 if request.within == "each_other" else 1.0
    return {
        name: (value - part * tolerances[name], value + part * tolerances[name])
        for name, value in found.target.items()
    }


def _why_not_alike(tolerances: Mapping[str, float], is_proven: bool) -> str:
    if not is_proven:
        return Reason(()).sentence()
    nouns = ", ".join(READ_BY_KEY[name].noun for name in tolerances)
    return (
        f"No weight at these sites makes all frames alike in {nouns}; widen a tolerance, allow more sites or "
        "finer steps, or leave out the frame that differs most."
    )


# -- the search -------------------------------------------------------------------------


def _solved(request: models.MatchRequest, frames: Sequence[ReadFrame], aim: Aim) -> list[_Match]:
    """The plan of each frame; what one frame leaves of the time is the next one's."""
    until = time.monotonic() + request.seconds
    solved = []
    for i, frame in enumerate(frames):
        each = _to_match(request, i, frame)
        if not each.is_target:
            seconds = max((until - time.monotonic()) / (len(frames) - i), LEAST_SECONDS)
            each = each._replace(found=_match(each, i, aim, seconds))
        solved.append(each)
    return solved


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


def _match(each: _Match, index: int, aim: Aim, seconds: float) -> Match:
    frame = each.frame
    try:
        return match(
            frame.measured, each.slots, aim, length_cm=frame.length_cm, outline=frame.outline,
            seconds=seconds,
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
