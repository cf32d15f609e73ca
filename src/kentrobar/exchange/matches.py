"""Answering ``match``: the least weight that brings frames to a target."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Literal, NamedTuple

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.moments import swingweight_at_axis
from kentrobar.core.body.specs import READ_BY_KEY
from kentrobar.core.frame.outline import Outline, outline_of
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.reading.checks import require_possible
from kentrobar.core.solving.candidates import Slot
from kentrobar.core.solving.matching import Aim, Match, match
from kentrobar.core.weight.prediction import predict
from kentrobar.exchange import convert, models
from kentrobar.exchange.documents import DocumentError

Status = Literal["optimal", "feasible", "infeasible", "undecided"]


class _Frame(NamedTuple):
    document: models.Frame
    measured: MeasuredSpecs
    outline: Outline | None


def answer_match(request: models.MatchRequest) -> models.MatchAnswer:
    """What ``match`` prints for this request.

    Raises:
        DocumentError: frames, sites or a target that cannot be; the path says which.
    """
    _require_labels(request.frames)
    frames = [_frame(document, f"frames.{i}") for i, document in enumerate(request.frames)]
    sites = [convert.site(document) for document in request.sites]
    targets = _targets(request, frames)
    tolerances = request.tolerance.model_dump()
    wanted = {n: v for n, v in targets.items() if tolerances[n] is not None}
    aim = Aim.at(wanted, tolerances, request.axis_cm)
    found = [_match(frame, i, sites, aim, request) for i, frame in enumerate(frames)]
    several = len(frames) > 1
    reasons = [
        f"{frame.document.label or 'A frame'}: {sentence}" if several else sentence
        for frame, each in zip(frames, found, strict=True)
        if each.reason
        for sentence in [each.reason.sentence()]
    ]
    return models.MatchAnswer(
        status=_status(found),
        reasons=reasons,
        target=_target_document(wanted, request.axis_cm),
        added_mass_g=round(sum(each.added_g for each in found), convert.DECIMALS),
        proven_lower_bound_g=round(sum(each.lower_bound_g for each in found), convert.DECIMALS),
        frames=[
            _matched(frame, each, request.axis_cm)
            for frame, each in zip(frames, found, strict=True)
        ],
    )


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


def _frame(document: models.Frame, path: str) -> _Frame:
    try:
        dimensions = convert.dimensions(document)
        outline = outline_of(dimensions) if dimensions is not None else None
        measured = convert.measured_specs(document.measured)
        require_possible(measured, document.length_cm)
    except KentrobarError as error:
        raise DocumentError(f"{path}.{error.field}", error.message) from None
    return _Frame(document, measured, outline)


def _targets(request: models.MatchRequest, frames: list[_Frame]) -> dict[str, float]:
    """The target's specs by name, the swing weight about the request's axis."""
    target = request.target
    if target is None:
        if len(frames) > 1:
            raise DocumentError(
                "target", "give the label of one frame, or specs, to match a set to."
            )
        return _specs_of(frames[0], request.axis_cm)
    if isinstance(target, models.TargetFrame):
        named = [frame for frame in frames if frame.document.label == target.label]
        if not named:
            raise DocumentError("target.label", f"no frame is labelled “{target.label[:40]}”.")
        return _specs_of(named[0], request.axis_cm)
    return dict(_typed_targets(target, request.axis_cm))


def _specs_of(frame: _Frame, axis_cm: float) -> dict[str, float]:
    specs = predict(frame.measured, [], length_cm=frame.document.length_cm, axis_cm=axis_cm).before
    quantities = ((name, getattr(specs, name)) for name in READ_BY_KEY)
    return {name: q.value for name, q in quantities if isinstance(q, Estimate)}


def _typed_targets(target: models.TargetSpecs, axis_cm: float) -> Iterator[tuple[str, float]]:
    for name in ("mass_g", "balance_cm", "twistweight_kgcm2"):
        value = getattr(target, name)
        if value is not None:
            yield name, value
    swing = target.swingweight_kgcm2
    if swing is None:
        return
    if abs(swing.axis_cm - axis_cm) < 1e-9:
        yield "swingweight_kgcm2", swing.value
        return
    if target.mass_g is None or target.balance_cm is None:
        raise DocumentError(
            "target.swingweight_kgcm2.axis_cm",
            "a swing weight about another axis than axis_cm needs the target's weight and balance.",
        )
    yield (
        "swingweight_kgcm2",
        swingweight_at_axis(swing.value, swing.axis_cm, target.mass_g, target.balance_cm, axis_cm),
    )


def _match(
    frame: _Frame, index: int, sites: list[Slot], aim: Aim, request: models.MatchRequest
) -> Match:
    target = request.target
    if isinstance(target, models.TargetFrame) and frame.document.label == target.label:
        return Match(True)
    try:
        return match(
            frame.measured, sites, aim, length_cm=frame.document.length_cm, outline=frame.outline
        )
    except KentrobarError as error:
        measured = error.code == "not_measured"
        path = f"frames.{index}.measured.{error.field}" if measured else "sites"
        raise DocumentError(path, error.message) from None


def _matched(frame: _Frame, found: Match, axis_cm: float) -> models.MatchedFrame:
    pieces = found.pieces if found.is_feasible else found.nearest
    prediction = predict(
        frame.measured, pieces, length_cm=frame.document.length_cm, axis_cm=axis_cm,
        outline=frame.outline,
    )  # fmt: skip
    return models.MatchedFrame(
        label=frame.document.label,
        pieces=[convert.piece_document(piece) for piece in pieces],
        before=convert.specs_document(prediction.before),
        after=convert.specs_document(prediction.after),
    )


def _target_document(wanted: dict[str, float], axis_cm: float) -> models.TargetAnswer:
    swing = wanted.get("swingweight_kgcm2")
    return models.TargetAnswer(
        mass_g=wanted.get("mass_g"),
        balance_cm=wanted.get("balance_cm"),
        swingweight_kgcm2=(
            None if swing is None else models.TargetAtAxis(value=swing, axis_cm=axis_cm)
        ),
        twistweight_kgcm2=wanted.get("twistweight_kgcm2"),
    )
