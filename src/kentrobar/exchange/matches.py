"""Answering ``match``: the least weight that brings frames to a target."""

from __future__ import annotations

import time
from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import Final, Literal, NamedTuple

from kentrobar.core.body.moments import swingweight_at_axis
from kentrobar.core.body.specs import READ_BY_KEY
from kentrobar.core.quantities.errors import KentrobarError, SpecError
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.reading.checks import USUAL, require_possible
from kentrobar.core.solving.candidates import Choice, PointSlot, Slot, candidates
from kentrobar.core.solving.matching import Aim, Match, match
from kentrobar.core.weight.pieces import PointPiece
from kentrobar.exchange import convert, models
from kentrobar.exchange.frames import ReadFrame, read_frame, read_pieces, require_axis
from kentrobar.exchange.reading import DocumentError, at_path

Status = Literal["optimal", "feasible", "infeasible", "undecided"]
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
    targets = _targets(request, frames)
    tolerances = _tolerances(request, targets)
    wanted = {name: targets[name] for name in targets if tolerances[name] is not None}
    within = {name: value for name, value in tolerances.items() if value is not None}
    aim = Aim.at(wanted, within, request.axis_cm)
    matches = _solved(request, frames, aim)
    return models.MatchAnswer(
        status=_status([each.found for each in matches]),
        reasons=[sentence for each in matches for sentence in _reasons(each, len(frames) > 1)],
        target=_target_document(wanted, request.axis_cm),
        added_mass_g=_sum(each.found.added_g for each in matches),
        proven_lower_bound_g=_sum(each.found.lower_bound_g for each in matches),
        frames=[_matched(each, request.axis_cm) for each in matches],
        warnings=[warning for frame in frames for warning in frame.warnings()],
    )


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


# -- the target -------------------------------------------------------------------------


def _targets(request: models.MatchRequest, frames: Sequence[ReadFrame]) -> dict[str, float]:
    """The target's specs by name, the swing weight about the request's axis."""
    target = request.target
    if target is None:
        if len(frames) > 1:
            raise DocumentError(
                "target", "give the label of one frame, or specs, to match a set to."
            )
        return _specs_of(frames[0], request.axis_cm)
    if isinstance(target, models.TargetFrame):
        named = [frame for frame in frames if frame.label == target.label]
        if not named:
            raise DocumentError("target.label", f"no frame is labelled “{target.label[:40]}”.")
        return _specs_of(named[0], request.axis_cm)
    _require_real_target(target, frames)
    return dict(_typed_targets(target, request.axis_cm))


def _require_real_target(target: models.TargetSpecs, frames: Sequence[ReadFrame]) -> None:
    """Refuse a target that no frame of these lengths can have."""
    block = models.MeasuredBlock(**target.model_dump())
    with at_path("target"):
        if block == models.MeasuredBlock():
            raise SpecError("give at least one spec to match to.", code="no_target")
        require_possible(convert.measured_specs(block), max(each.length_cm for each in frames))


def _tolerances(
    request: models.MatchRequest, targets: Mapping[str, float]
) -> dict[str, float | None]:
    """How far each spec may lie from the target, None where it is free.

    A spec that the target gives is never dropped without a word, and neither is a tolerance asked for.
    """
    found: dict[str, float | None] = request.tolerance.model_dump()
    is_typed = isinstance(request.target, models.TargetSpecs)
    for name, tolerance in found.items():
        path = f"tolerance.{name}"
        if is_typed and name in targets and tolerance is None:
            raise DocumentError(
                path,
                f"the target gives a {READ_BY_KEY[name].noun}; say within what, or leave it out.",
            )
        if tolerance is not None:
            with at_path("tolerance"):
                _require_tolerance(name, tolerance)
        is_asked = name in request.tolerance.model_fields_set and tolerance is not None
        if is_asked and not is_typed and name not in targets:
            raise DocumentError(
                path,
                f"the {READ_BY_KEY[name].noun} of the target frame is not known; read it, or make this null.",
            )
    return found


def _require_tolerance(name: str, tolerance: float) -> None:
    spec = READ_BY_KEY[name]
    most = max(usual[name].high for usual in USUAL.values())
    if tolerance > most:
        raise SpecError(
            f"within {tolerance:g} {spec.unit} is more than any frame's {spec.noun}; check it.",
            code="inconceivable",
            field=name,
        )


def _specs_of(frame: ReadFrame, axis_cm: float) -> dict[str, float]:
    specs = frame.predict([], axis_cm).before
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


def _matched(each: _Match, axis_cm: float) -> models.MatchedFrame:
    pieces = each.found.pieces if each.found.is_feasible else each.found.nearest
    try:
        prediction = each.frame.predict(pieces, axis_cm)
    except KentrobarError as error:
        raise DocumentError("removals", error.message) from None
    return models.MatchedFrame(
        label=each.frame.label,
        pieces=[convert.piece_document(piece) for piece in pieces if not piece.removed],
        removed=[convert.piece_document(piece) for piece in pieces if piece.removed],
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
