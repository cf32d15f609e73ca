"""Where a job stands is told by what was done: never further than its last frame, never back for nothing."""

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.bench.stages import (
    FrameFacts,
    JobFacts,
    Stage,
    minutes_left,
    stage_of_frame,
    stage_of_job,
)

AT_BENCH = [stage for stage in Stage if stage.is_at_bench]
WORK = [Stage.FIT, Stage.READ, Stage.TRIM, Stage.PERMANENT, Stage.VERIFY]
facts = st.builds(FrameFacts, st.booleans(), st.booleans(), st.sampled_from([None, *WORK]), st.booleans())


@pytest.mark.parametrize(
    ("facts", "stage"),
    [
        (FrameFacts(is_read=False, has_plan=False), Stage.MEASURE),
        (FrameFacts(is_read=True, has_plan=False), Stage.PLAN),
        (FrameFacts(is_read=True, has_plan=True), Stage.FIT),
        (FrameFacts(is_read=True, has_plan=True, bench=Stage.TRIM), Stage.TRIM),
        (FrameFacts(is_read=True, has_plan=False, is_signed_off=True), Stage.CALL),
    ],
)
def test_a_frame_needs_what_was_not_done_yet(facts, stage):
    assert stage_of_frame(facts) is stage


@given(st.lists(facts, min_size=1, max_size=5))
def test_a_job_is_never_further_than_any_of_its_frames(found):
    stages = [stage_of_frame(each) for each in found]
    of_job = stage_of_job(JobFacts(), stages)
    assert not any(stage.is_before(of_job) for stage in stages)
    assert of_job in stages


@given(st.lists(facts, max_size=4), st.integers(0, 3), st.booleans())
def test_reading_planning_or_signing_off_never_takes_a_job_back(found, which, is_notified):
    """Whatever one frame gains, the job stands where it stood or further."""
    order = list(Stage)
    before = stage_of_job(JobFacts(is_notified=is_notified), map(stage_of_frame, found))
    for gain in ({"is_read": True}, {"is_read": True, "has_plan": True}, {"is_signed_off": True}):
        if which >= len(found) or found[which].bench is not None:
            continue
        then = [*found]
        then[which] = then[which]._replace(**gain)
        after = stage_of_job(JobFacts(is_notified=is_notified), map(stage_of_frame, then))
        assert order.index(after) >= order.index(before)


def test_a_job_without_frames_asks_for_them_and_a_client_is_told_once_all_is_signed_off():
    assert stage_of_job(JobFacts(), []) is Stage.TAKE_IN
    assert stage_of_job(JobFacts(), [Stage.CALL, Stage.CALL]) is Stage.CALL
    assert stage_of_job(JobFacts(is_notified=True), [Stage.CALL]) is Stage.HAND_OVER
    assert stage_of_job(JobFacts(is_notified=True), [Stage.CALL, Stage.READ]) is Stage.READ


@pytest.mark.parametrize(("wanted", "asked"), list(itertools.product([False, True], repeat=2)))
def test_what_is_handed_over_is_done_unless_its_player_is_to_be_asked(wanted, asked):
    facts = JobFacts(True, True, is_follow_up_wanted=wanted, is_followed_up=asked)
    open_still = wanted and not asked
    assert stage_of_job(facts, [Stage.CALL]) is (Stage.FOLLOW_UP if open_still else Stage.DONE)


@given(st.floats(0, 300))
def test_a_frame_takes_less_the_further_it_is(to_apply):
    left = [minutes_left(stage, to_apply) for stage in AT_BENCH]
    assert left == sorted(left, reverse=True)
    assert minutes_left(Stage.FIT, to_apply) - minutes_left(Stage.READ, to_apply) == pytest.approx(to_apply)
    assert minutes_left(Stage.READ, to_apply) == minutes_left(Stage.READ, 0)
