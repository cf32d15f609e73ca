"""``trials``: what a player said becomes the best specs, what is felt, the next pair and advice."""

import copy

import pytest

from kentrobar.exchange import models
from kentrobar.exchange.trials import answer_trials
from tests.exchange.test_absurd import DOCUMENTS


def answered(**changes):
    document = copy.deepcopy(DOCUMENTS["trials"]) | changes
    return answer_trials(models.TrialsRequest.model_validate(document))


def said(best, pairs):
    """What somebody answers who prefers, without a slip, what lies nearer to ``best``."""
    values = {s["label"]: s["swingweight_kgcm2"] for s in DOCUMENTS["trials"]["setups"]}
    found = []
    for a, b in pairs:
        nearer = abs(values[b] - best) - abs(values[a] - best)
        found.append({"a": a, "b": b, "said": "a" if nearer > 1 else "b" if nearer < -1 else "same"})
    return found


def test_nothing_said_is_a_wide_guess_and_a_first_pair():
    found = answered(answers=[])
    best = found.best["swingweight_kgcm2"]
    assert best.low < 302
    assert best.high > 328
    assert found.next is not None
    assert found.consistency == models.ConsistencyAnswer(agree=0, of=0, chance=1.0)


def test_the_best_is_found_and_the_next_pair_lies_about_it():
    labels = [s["label"] for s in DOCUMENTS["trials"]["setups"]]
    pairs = [(a, b) for i, a in enumerate(labels) for b in labels[i + 1 :]]
    found = answered(answers=said(318.0, pairs))
    best = found.best["swingweight_kgcm2"]
    assert best.low < 318 < best.high
    assert best.high - best.low < 12
    assert "best lies at swing weight" in found.advice


def test_answers_that_do_not_hang_together_are_said_so():
    answers = [
        {"a": "0 g", "b": "12 g", "said": each} for each in ("a", "b", "a", "b", "same", "b", "a", "b")
    ]
    answers += [{"a": "0 g", "b": "6 g", "said": each} for each in ("a", "b", "a", "b", "b", "a")]
    found = answered(answers=answers)
    assert found.consistency.agree < found.consistency.of / 2
    assert found.careless > 0.3
    assert "guesses" in found.advice
    assert found.next is not None


@pytest.mark.parametrize("of", [["swingweight_kgcm2", "balance_cm"], ["balance_cm"]])
def test_one_spec_or_two(of):
    found = answered(of=of)
    assert list(found.best) == of
    assert list(found.felt) == of
