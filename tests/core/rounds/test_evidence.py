"""Evidence over jobs: the same as all jobs in one, found where it is there, and not where it is not."""

import numpy as np
import pytest

from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.rounds.evidence import Finding, together, usually
from tests.samples import margin, sample


def finding(random, true, u=0.02, before=0.02):
    """What one job ends with: its own telling of ± u, with its beginning."""
    told = random.normal(true, u)
    precision = u**-2 + before**-2
    return Finding(Estimate((told * u**-2 + before**-2) / precision, precision**-0.5), before)


def test_jobs_together_are_one_job_that_read_all():
    random = np.random.default_rng(1)
    us = (0.01, 0.02, 0.05)
    told = [random.normal(1.03, u) for u in us]
    findings = []
    for value, u in zip(told, us, strict=True):
        precision = u**-2 + 0.02**-2
        mean = (value * u**-2 + 0.02**-2) / precision
        findings.append(Finding(Estimate(mean, precision**-0.5), 0.02))
    found = together(findings, 0.02)
    weights = np.array([0.02**-2, *(u**-2 for u in us)])
    assert found.factor.value == pytest.approx(np.average([1.0, *told], weights=weights))
    assert found.factor.u == pytest.approx(weights.sum() ** -0.5)
    assert found.jobs == 3


def test_a_job_that_told_nothing_is_no_evidence():
    found = together([Finding(Estimate(1.0, 0.02), 0.02)], 0.02)
    assert (found.jobs, found.factor.value) == (0, 1.0)
    assert found.factor.u == pytest.approx(0.02)
    assert not found.is_off


@pytest.mark.parametrize(("true", "off"), [(1.06, True), (0.95, True), (1.0, False)])
def test_a_roll_that_is_off_is_found_and_one_that_is_not_is_left(true, off):
    random = np.random.default_rng(3)
    called = [together([finding(random, true) for _ in range(8)], 0.02).is_off for _ in range(200)]
    if off:
        assert np.mean(called) > 0.95
    else:
        assert np.mean(called) <= 0.05


@pytest.mark.parametrize("u", [0.01, 0.02, 0.04])
def test_a_sound_roll_is_hardly_ever_called_off_however_often_it_is_looked_at(u):
    random, called = np.random.default_rng(9), 0
    for _ in range(sample(400)):
        findings = [finding(random, 1.0, u) for _ in range(30)]
        called += any(together(findings[:n], 0.02).is_off for n in range(2, 31))
    assert called <= 0.05 * sample(400) + margin(0.022) * sample(400)


def test_one_job_alone_is_no_proposal():
    assert not together([Finding(Estimate(1.1, 0.001), 0.02)], 0.02).is_off


class TestWhatIsUsual:
    RULE, SCATTER = Estimate(0.0, 0.01), 0.005

    def findings(self, random, mean, between, count):
        found = []
        for _ in range(count):
            true = mean + random.normal(0, between)
            u_alone = random.uniform(0.003, 0.02)
            told, before = true + random.normal(0, u_alone), self.RULE.u**-2
            after = before + u_alone**-2
            found.append(Finding(Estimate(told * u_alone**-2 / after, after**-0.5), self.RULE.u, 0.0))
        return found

    @pytest.mark.parametrize("count", [2, 8, 30])
    def test_the_next_job_lies_where_it_is_said_to(self, count):
        """Over 300 shops, whose true means scatter as the rule of thumb says."""
        random = np.random.default_rng(21)
        inside = 0
        for _ in range(300):
            mean, between = random.normal(0, self.RULE.u), 0.005
            told = usually(self.findings(random, mean, between, count), self.RULE, self.SCATTER)
            coming = mean + random.normal(0, between)
            inside += abs(coming - told.next_one.value) < 1.96 * told.next_one.u
        assert 0.90 <= inside / 300 <= 0.99

    def test_without_jobs_the_rule_of_thumb_stands(self):
        told = usually([], self.RULE, self.SCATTER)
        assert told.mean == pytest.approx(self.RULE)
        assert told.jobs == 0
