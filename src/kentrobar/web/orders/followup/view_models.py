"""What players said beside what was changed, and from which gap on they feel a difference."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Final, NamedTuple

from kentrobar.core.body.specs import READ
from kentrobar.core.play.felt import FeltGap, felt_threshold
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.reading.comparing import FeltRule
from kentrobar.web.frames.baselines import specs_about
from kentrobar.web.frames.models import Frame, SpecSheet
from kentrobar.web.kit.numbers import Units, read_specs
from kentrobar.web.orders.followup.forms import SCALE
from kentrobar.web.orders.models import PlayTest

RATED: Final = dict(SCALE)


class SaidView(NamedTuple):
    """What was said of a frame, beside what was changed on it."""

    test: PlayTest
    frame: Frame
    ratings: list[tuple[str, str]]
    changes: list[str]


def said_view(test: PlayTest, units: Units) -> SaidView:
    """One answer as a page shows it."""
    gaps, units = _gaps(test.frame, test.before, test.sheet), units.of_sport(test.frame.sport)
    changes = [
        f"{spec.name.lower()} {spec.moved(gaps[spec.read_key])} {'' if spec.unit == 'pt' else spec.unit}"
        for spec in read_specs(units)
        if spec.read_key in gaps
    ]
    ratings = [(quality, RATED[value]) for quality, value in test.ratings.items()]
    return SaidView(test, test.frame, ratings, [text.strip() for text in changes])


def _gaps(
    frame: Frame, before: SpecSheet | None, after: SpecSheet | None, other: Frame | None = None
) -> dict[str, float]:
    """By how much each spec differs, by key; what was not read of both is left out."""
    if before is None or after is None:
        return {}
    first = specs_about(other or frame, before, after.axis_cm)
    last = specs_about(frame, after, after.axis_cm)
    found = {}
    for spec in READ:
        a, b = getattr(first, spec.key), getattr(last, spec.key)
        if a and b:
            found[spec.key] = b.value - a.value
    return found


class FeltRow(NamedTuple):
    """A spec: the gap by the rule in use, the one that half of the players felt with its ±, the answers."""

    name: str
    unit: str
    answers: int
    usual: str
    found: str
    u: str
    is_known: bool


def felt_rows(tests: Sequence[PlayTest], rule: FeltRule, units: Units) -> Iterator[FeltRow]:
    """Per spec the gap that half of the players felt, with its ±, beside the rule that is used."""
    answers = _answers(tests, rule)
    shown = {spec.read_key: spec for spec in read_specs(units)}
    for spec in READ:
        usual = rule.threshold(spec.key)
        found = felt_threshold(answers[spec.key], usual)
        finer = shown[spec.key].finer()
        count, by_rule = len(answers[spec.key]), finer.value(Estimate(usual))
        yield FeltRow(
            spec.title, finer.unit, count, by_rule, finer.value(found), finer.spread(found), bool(found)
        )


def _answers(tests: Sequence[PlayTest], rule: FeltRule) -> dict[str, list[FeltGap]]:
    """Each answer counted for the spec whose gap was the largest, measured by the rule that is used."""
    found: dict[str, list[FeltGap]] = {spec.key: [] for spec in READ}
    for test in tests:
        before = test.other_sheet if test.other else test.before
        gaps = _gaps(test.frame, before, test.sheet, test.other)
        by_rule = {spec: abs(gaps[spec.key]) / rule.threshold(spec.key) for spec in READ if spec.key in gaps}
        if test.alike and by_rule:
            largest = max(by_rule, key=lambda spec: by_rule[spec])
            is_felt = test.alike == PlayTest.AlikeAnswer.DIFFERENT
            found[largest.key].append(FeltGap(abs(gaps[largest.key]), is_felt))
    return found
