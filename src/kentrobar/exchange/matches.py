"""Answering ``match``: the least weight that brings frames to a target."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Final

from kentrobar.core.body.specs import AIMED_BY_KEY
from kentrobar.core.body.target import Target
from kentrobar.core.quantities.errors import KentrobarError, PieceError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.solving.candidates import Choice, PointSlot, Slot, candidates
from kentrobar.core.solving.matching import Reason, require_known
from kentrobar.core.solving.set_plans import (
    SEARCHES,
    FramePlan,
    SetFrame,
    SetPlan,
    Status,
    TooCoarse,
    plan_most_reliable,
    plan_set,
)
from kentrobar.core.weight.pieces import PointPiece
from kentrobar.exchange import convert, models
from kentrobar.exchange.frames import ReadFrame, read_frame, read_pieces, require_axis
from kentrobar.exchange.reading import DocumentError, at_path
from kentrobar.exchange.targets import target_document, target_of

CHANCE_DECIMALS: Final = 4


def answer_match(request: models.MatchRequest) -> models.MatchAnswer:
    """What ``match`` prints for this request.

    Raises:
        DocumentError: frames, sites or a target that cannot be; the path says which.
    """
    _require_labels(request.frames)
    read = [read_frame(document, f"frames.{i}") for i, document in enumerate(request.frames)]
    for i, frame in enumerate(read):
        if frame.sport is not read[0].sport:
            raise DocumentError(
                f"frames.{i}.sport", "rackets and paddles are not matched; leave one sport out."
            )
        require_axis(request.axis_cm, frame)
    target = target_of(request, read)
    frames = [_set_frame(request, i, frame) for i, frame in enumerate(read)]
    seconds = request.seconds / (1 if request.objective == "lightest" else SEARCHES)
    planned = _lightest(frames, target, seconds)
    reasons = _reasons(planned, target, read)
    if request.objective == "surest":
        planned, obstacle = plan_most_reliable(frames, target, planned, request.chance, request.seconds)
        reasons += [_obstacle_sentence(obstacle, request.chance)] if obstacle else []
    documents = [_matched(r, f, p, target) for r, f, p in zip(read, frames, planned.frames, strict=True)]
    return models.MatchAnswer(
        status=planned.status.value,
        reasons=reasons,
        target=target_document(planned.target, request.axis_cm),
        added_mass_g=round(planned.added_g, convert.DECIMALS),
        proven_lower_bound_g=round(planned.bound_g, convert.DECIMALS),
        chance=planned.chance and round(planned.chance, CHANCE_DECIMALS),
        frames=documents,
        warnings=[warning for frame in read for warning in frame.warnings()],
    )


def _lightest(frames: Sequence[SetFrame], target: Target, seconds: float) -> SetPlan:
    """The lightest plan; a spec that is not known is told by its path."""
    for i, frame in enumerate(frames):
        if not frame.is_kept:
            with at_path(f"frames.{i}.measured"):
                require_known(frame.measured, target.tolerances, target.axis_cm)
    try:
        found = plan_set(frames, target, seconds=seconds)
    except PieceError as error:
        raise DocumentError("removals", error.message) from None
    except KentrobarError as error:
        raise DocumentError("sites", error.message) from None
    assert found is not None  # noqa: S101 - bands that are not drawn in never close
    return found


def _reasons(planned: SetPlan, target: Target, read: Sequence[ReadFrame]) -> list[str]:
    """Why there is no plan: of each frame that cannot be brought there, or of all of them together."""
    lines = []
    for frame, each in zip(read, planned.frames, strict=True):
        if each.found.reason:
            sentence = each.found.reason.sentence()
            lines.append(f"{frame.label}: {sentence}" if len(read) > 1 else sentence)
    if not lines and not planned.status.has_plan:
        lines = [_why_not_alike(target.tolerances, planned.status is Status.INFEASIBLE)]
    return lines


def _obstacle_sentence(obstacle: TooCoarse, wanted_chance: float) -> str:
    if obstacle.readings == 1:
        return (
            f"No plan at these sites and steps reaches a chance of {100 * wanted_chance:.0f} %; allow more sites or "
            "finer steps, or widen a tolerance."
        )
    return (
        f"No plan reaches a chance of {100 * wanted_chance:.0f} %: the {AIMED_BY_KEY[obstacle.name].noun} was read "
        f"too coarsely for its tolerance. The mean of {obstacle.readings} readings would do, or a wider "
        "tolerance."
    )


def _require_labels(frames: Sequence[models.FrameDocument]) -> None:
    """Labels tell the frames of a set apart. Raises DocumentError where one is empty or stands twice."""
    seen: set[str] = set()
    for i, frame in enumerate(frames):
        path = f"frames.{i}.label"
        if len(frames) > 1 and not frame.label.strip():
            raise DocumentError(path, "this frame has no label; give each frame of a set its own.")
        if frame.label in seen:
            problem = f"“{frame.label[:40]}” is the label of an earlier frame too; give each its own."
            raise DocumentError(path, problem)
        seen.add(frame.label)


def _why_not_alike(tolerances: Mapping[str, float], is_proven: bool) -> str:
    if not is_proven:
        return Reason(()).sentence()
    nouns = ", ".join(AIMED_BY_KEY[name].noun for name in tolerances)
    return (
        f"No weight at these sites makes all frames alike in {nouns}; widen a tolerance, allow more sites or "
        "finer steps, or leave out the frame that differs most."
    )


# -- frames in and out ------------------------------------------------------------------


def _set_frame(request: models.MatchRequest, index: int, frame: ReadFrame) -> SetFrame:
    own = request.frames[index]
    place = f"frames.{index}."
    sites, at_sites = (request.sites, "") if own.sites is None else (own.sites, place)
    removals, at_removals = (request.removals, "") if own.removals is None else (own.removals, place)
    slots: list[Slot] = []
    for i, document in enumerate(sites):
        with at_path(f"{at_sites}sites.{i}"):
            slots.append(convert.site(document))
            _require_site(slots[-1], frame)
    pieces = read_pieces(
        [each.model_copy(update={"removed": True}) for each in removals],
        frame,
        request.axis_cm,
        f"{at_removals}removals",
    )
    slots += [Choice(piece.name, (piece,)) for piece in pieces]
    target = request.target
    is_target = isinstance(target, models.TargetFrame) and frame.label == target.label
    is_kept = is_target and request.within == "target"
    return SetFrame(frame.measured, slots, frame.length_cm, frame.outline, is_kept)


def _require_site(slot: Slot, frame: ReadFrame) -> None:
    """Refuse a site that is off the frame. Raises KentrobarError."""
    candidates([slot], frame.outline)
    if isinstance(slot, PointSlot):
        probe = PointPiece(mass_g=Estimate(1.0), y_cm=slot.y_cm, x_cm=slot.x_cm)
        probe.require_within(frame.room)


def _matched(frame: ReadFrame, planned_for: SetFrame, plan: FramePlan, target: Target) -> models.MatchedFrame:
    try:
        prediction = frame.predict(plan.pieces, target.axis_cm)
    except KentrobarError as error:
        raise DocumentError("removals", error.message) from None
    chance = plan.chance if target.tolerances or planned_for.is_kept else None
    return models.MatchedFrame(
        chance=chance and round(chance, CHANCE_DECIMALS),
        label=frame.label,
        pieces=[convert.piece_document(piece) for piece in plan.pieces if not piece.removed],
        removed=[convert.piece_document(piece) for piece in plan.pieces if piece.removed],
        before=convert.specs_document(prediction.before),
        after=convert.specs_document(prediction.after),
    )
