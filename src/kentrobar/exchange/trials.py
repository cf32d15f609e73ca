"""Answering ``trials``: which specs a player likes best, how sure that is, and what to try next."""

from __future__ import annotations

from collections.abc import Mapping

from kentrobar.core.body.specs import AIMED_BY_KEY
from kentrobar.core.play.trials import (
    Answer,
    Consistency,
    Design,
    Interval,
    Posterior,
    Preference,
    Rating,
    consistency,
    posterior,
)
from kentrobar.core.quantities.errors import SpecError
from kentrobar.exchange import models
from kentrobar.exchange.reading import DocumentError


def answer_trials(request: models.TrialsRequest) -> models.TrialsAnswer:
    """What ``trials`` prints for this request.

    Raises:
        DocumentError: setups that are no trial, or an answer about one that is not there.
    """
    design, numbers = _design(request), _numbers(request)
    answers = [
        Answer(
            _number(each.a, numbers, f"answers.{i}.a"),
            _number(each.b, numbers, f"answers.{i}.b"),
            Preference(each.said),
        )
        for i, each in enumerate(request.answers)
    ]
    ratings = [
        Rating(_number(each.setup, numbers, f"ratings.{i}.setup"), each.rated)
        for i, each in enumerate(request.ratings)
    ]
    found, counted = posterior(design, answers, ratings), consistency(answers)
    is_enough = found.is_enough and not found.is_careless
    pair = None if is_enough else found.next_pair()[0]
    labels = [setup.label for setup in request.setups]
    following = pair and models.PairAnswer(a=labels[pair.first], b=labels[pair.second])
    return models.TrialsAnswer(
        best=_intervals(request, found.best()),
        felt=_intervals(request, found.felt()),
        consistency=models.ConsistencyAnswer(**counted._asdict()),
        careless=found.careless(),
        next=following,
        advice=_advice(request, found, counted, following),
    )


def _design(request: models.TrialsRequest) -> Design:
    if len(set(request.of)) < len(request.of):
        raise DocumentError("of", "a spec stands twice; name each once.")
    rows = []
    for i, setup in enumerate(request.setups):
        row = [getattr(setup, name) for name in request.of]
        if None in row:
            name = request.of[row.index(None)]
            raise DocumentError(
                f"setups.{i}.{name}", f"the {AIMED_BY_KEY[name].noun} is sought; give it for every setup."
            )
        rows.append(tuple(row))
    try:
        return Design(tuple(rows))
    except SpecError as error:
        raise DocumentError(error.field, error.message) from None


def _numbers(request: models.TrialsRequest) -> dict[str, int]:
    numbers: dict[str, int] = {}
    for i, setup in enumerate(request.setups):
        if setup.label in numbers:
            raise DocumentError(f"setups.{i}.label", "two setups have this label; name them apart.")
        numbers[setup.label] = i
    return numbers


def _number(label: str, numbers: Mapping[str, int], path: str) -> int:
    if label not in numbers:
        raise DocumentError(path, f"no setup is called “{label}”.")
    return numbers[label]


def _intervals(
    request: models.TrialsRequest, intervals: list[Interval]
) -> dict[models.TriedSpec, models.IntervalAnswer]:
    return {
        name: models.IntervalAnswer(**interval._asdict())
        for name, interval in zip(request.of, intervals, strict=True)
    }


def _advice(
    request: models.TrialsRequest, found: Posterior, counted: Consistency, following: models.PairAnswer | None
) -> str:
    if found.is_careless:
        agreed = f" ({counted.agree} of {counted.of} repeats agree)" if counted.of else ""
        return (
            f"The answers are hardly better than guesses{agreed}: rest, let somebody else change "
            "the weights, and try again."
        )
    best = " and ".join(
        f"{AIMED_BY_KEY[name].noun} {best.low:.4g} to {best.high:.4g} {AIMED_BY_KEY[name].unit}"
        for name, best in zip(request.of, found.best(), strict=True)
    )
    if following is None:
        return f"Enough: the best lies at {best}, closer than this player feels."
    return f"So far the best lies at {best}. Try “{following.a}” against “{following.b}” next."
