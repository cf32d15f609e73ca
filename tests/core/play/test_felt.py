"""From which gap on players feel it: the stated ± holds over simulated players, few answers tell nothing."""

import numpy as np
import pytest

from kentrobar.core.play.felt import LEAST_ANSWERS, FeltGap, felt_threshold
from kentrobar.core.quantities.estimates import Estimate, NotMeasured

USUAL = 10.0


def said(random, threshold, count, width=0.4, careless=0.05):
    gaps = USUAL * np.exp(random.uniform(-2, 1.2, count))
    answers = []
    for gap in gaps:
        is_felt = np.log(gap / threshold) / width + random.normal() > 0
        if random.random() < careless:
            is_felt = random.random() < 0.5
        answers.append(FeltGap(gap, bool(is_felt)))
    return answers


def test_few_answers_tell_no_number():
    few = [FeltGap(5.0, True)] * (LEAST_ANSWERS - 1)
    assert isinstance(felt_threshold(few, USUAL), NotMeasured)
    assert isinstance(felt_threshold([FeltGap(0.0, True)] * 20, USUAL), NotMeasured)


def test_the_interval_holds_what_it_claims():
    """Of 300 simulated shops, whose true thresholds scatter about the usual rule as they are taken to."""
    random = np.random.default_rng(12)
    inside = 0
    for _ in range(300):
        true = USUAL * np.exp(random.normal(0, 1))
        found = felt_threshold(said(random, true, 25), USUAL)
        assert isinstance(found, Estimate)
        inside += abs(found.value - true) < 1.96 * found.u
    assert 0.91 <= inside / 300 <= 0.99


def test_many_answers_narrow_it_and_the_usual_rule_no_longer_counts():
    random = np.random.default_rng(3)
    answers = said(random, 4.0, 400)
    found = felt_threshold(answers, USUAL)
    assert found.value == pytest.approx(4.0, rel=0.15)
    assert found.u < felt_threshold(answers[:20], USUAL).u
    assert felt_threshold(answers, 2.0).value == pytest.approx(found.value, rel=0.05)
