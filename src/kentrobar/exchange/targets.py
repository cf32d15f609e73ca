"""The target of a match and the tolerances about it: what is asked for, and whether it can be."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from kentrobar.core.body.limits import require_possible
from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.moments import swingweight_at_axis
from kentrobar.core.body.ranges import PLAUSIBLE
from kentrobar.core.body.specs import AIMED_BY_KEY, BALANCE, RECOIL_WEIGHT, SWING_WEIGHT
from kentrobar.core.body.target import Alike, Target
from kentrobar.core.quantities.errors import SpecError
from kentrobar.exchange import convert, models
from kentrobar.exchange.frames import ReadFrame
from kentrobar.exchange.reading import DocumentError, at_path


def target_of(request: models.MatchRequest, frames: Sequence[ReadFrame]) -> Target:
    """What the frames of a request are to become.

    Raises:
        DocumentError: a target or a tolerance that cannot be; the path says which.
    """
    alike = Alike(request.within)
    _require_balance_beside_recoil(request)
    if len(frames) > 1 and (request.target is None or alike is Alike.TO_EACH_OTHER):
        given = targets_of(request, frames) if request.target is not None else {}
        tolerances = free_tolerances_of(request, frames, given)
        return Target.about(given, tolerances, request.axis_cm, alike=alike)
    targets = targets_of(request, frames)
    tolerances = {n: t for n, t in tolerances_of(request, targets).items() if t is not None and n in targets}
    return Target.about(targets, tolerances, request.axis_cm)


def _require_balance_beside_recoil(request: models.MatchRequest | models.RoundsRequest) -> None:
    if request.tolerance.recoil_kgcm2 is not None and request.tolerance.balance_cm is None:
        raise DocumentError(
            f"tolerance.{BALANCE.key}",
            "a recoil weight is aimed at together with the balance; say within what, however wide.",
        )


def targets_of(request: models.MatchRequest, frames: Sequence[ReadFrame]) -> dict[str, float]:
    """The target's specs by name, the swing weight about the request's axis."""
    target = request.target
    if target is None:
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
    block = models.MeasuredBlock(**target.model_dump(exclude={RECOIL_WEIGHT.key}))
    with at_path("target"):
        if target == models.TargetSpecs():
            raise SpecError("give at least one spec to match to.", code="no_target")
        require_possible(convert.measured_specs(block), max(each.length_cm for each in frames))


def bands_of(request: models.RoundsRequest, frame: ReadFrame) -> dict[str, tuple[float, float]]:
    """What each spec that the target gives is to lie within, the swing weight about the request's axis."""
    _require_real_target(request.target, [frame])
    targets = dict(_typed_targets(request.target, request.axis_cm))
    within = tolerances_of(request, targets)
    _require_balance_beside_recoil(request)
    return {n: (v - t, v + t) for n, v in targets.items() if (t := within[n]) is not None}


def tolerances_of(
    request: models.MatchRequest | models.RoundsRequest, targets: Mapping[str, float]
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
                path, f"the target gives a {AIMED_BY_KEY[name].noun}; say within what, or leave it out."
            )
        if tolerance is not None:
            with at_path("tolerance"):
                _require_tolerance(name, tolerance)
        is_asked = name in request.tolerance.model_fields_set and tolerance is not None
        if is_asked and not is_typed and name not in targets:
            raise DocumentError(
                path,
                f"the {AIMED_BY_KEY[name].noun} of the target frame is not known; read it, or make "
                "this null.",
            )
    return found


def _require_tolerance(name: str, tolerance: float) -> None:
    spec = AIMED_BY_KEY[name]
    of = SWING_WEIGHT.key if name == RECOIL_WEIGHT.key else name  # never more than the swing weight
    most = max(usual[of].high for usual in PLAUSIBLE.values())
    if tolerance > most:
        raise SpecError(
            f"within {tolerance:g} {spec.unit} is more than any frame's {spec.noun}; check it.",
            code="inconceivable",
            field=name,
        )


def _specs_of(frame: ReadFrame, axis_cm: float) -> dict[str, float]:
    specs = frame.predict([], axis_cm).before
    quantities = ((name, getattr(specs, name)) for name in AIMED_BY_KEY)
    return {name: q.value for name, q in quantities if q}


def _typed_targets(target: models.TargetSpecs, axis_cm: float) -> Iterator[tuple[str, float]]:
    for name in ("mass_g", "balance_cm", "twistweight_kgcm2", RECOIL_WEIGHT.key):
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


def free_tolerances_of(
    request: models.MatchRequest, frames: Sequence[ReadFrame], given: Mapping[str, float]
) -> dict[str, float]:
    """The specs that are to be alike: those given, or those with a tolerance that all frames were read of."""
    wanted_chance = tolerances_of(request, given) if given else request.tolerance.model_dump()
    found = {}
    for name, tolerance in wanted_chance.items():
        if tolerance is None or (given and name not in given):
            continue
        with at_path("tolerance"):
            _require_tolerance(name, tolerance)
        unread = next((i for i, f in enumerate(frames) if not _knows(f.measured, name)), None)
        if unread is None:
            found[name] = tolerance
        elif name in request.tolerance.model_fields_set or given:
            raise DocumentError(
                f"frames.{unread}.measured.{name}",
                f"the {AIMED_BY_KEY[name].noun} is not known; read it, or make its tolerance null.",
            )
    if not found:
        raise DocumentError("tolerance", "no spec that all frames were measured for is to match.")
    return found


def _knows(measured: MeasuredSpecs, name: str) -> bool:
    return measured.knows_recoil if name == RECOIL_WEIGHT.key else measured.has(name)


def target_document(wanted: Mapping[str, float], axis_cm: float) -> models.TargetAnswer:
    swing = wanted.get("swingweight_kgcm2")
    return models.TargetAnswer(
        mass_g=wanted.get("mass_g"),
        balance_cm=wanted.get("balance_cm"),
        swingweight_kgcm2=(None if swing is None else models.TargetAtAxis(value=swing, axis_cm=axis_cm)),
        twistweight_kgcm2=wanted.get("twistweight_kgcm2"),
        recoil_kgcm2=wanted.get(RECOIL_WEIGHT.key),
    )
