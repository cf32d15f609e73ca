"""What is searched for is known by all that goes into it, and asked for once."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kentrobar.core.body.target import Target
from kentrobar.core.editing.plan import Baseline
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate
from kentrobar.core.solving.allowed import Allowed
from kentrobar.core.solving.supply import SOME_PUTTY, SOME_TAPE, Supply, Workpiece
from kentrobar.web.kit import searches
from kentrobar.web.kit.fingerprints import fingerprint
from kentrobar.web.kit.models import Search
from kentrobar.web.kit.searches import Prepared, SearchCard, SearchRequest, ask, solve_now, stop
from tests.core.frames import PADDLE, RACKET, REED

WORK = Workpiece(Baseline(RACKET, REED), Supply(tape=SOME_TAPE, putty=SOME_PUTTY))


def test_equal_inputs_have_one_fingerprint_whatever_order_their_sets_are_in():
    keys = ["twelve", "three_nine", "butt_cap", "throat"]
    one, other = (replace(WORK, allowed=Allowed(frozenset(k))) for k in (keys, reversed(keys)))
    assert fingerprint(one, {"a": 1, "b": 2}) == fingerprint(other, {"b": 2, "a": 1})


@pytest.mark.parametrize(
    "other",
    [
        replace(WORK, baseline=Baseline(RACKET, replace(REED, mass_g=Estimate(310.0, 0.11)))),
        replace(WORK, baseline=Baseline(RACKET, replace(REED, twistweight_kgcm2=NOT_MEASURED))),
        replace(WORK, baseline=Baseline(PADDLE, REED)),
        replace(WORK, supply=replace(WORK.supply, step_cm=0.6)),
        replace(WORK, supply=replace(WORK.supply, tape=SOME_PUTTY)),
        replace(WORK, allowed=Allowed(frozenset({"twelve"}))),
        replace(WORK, keeps_grip=True),
    ],
)
def test_whatever_changes_in_a_workpiece_changes_its_fingerprint(other):
    assert fingerprint(other) != fingerprint(WORK)


@given(st.dictionaries(st.sampled_from(["mass_g", "balance_cm"]), st.floats(0.1, 5), min_size=1))
def test_targets_are_told_apart_by_every_part(tolerances):
    target = Target.about({}, tolerances)
    for other in (
        target.with_tolerances({key: t + 0.01 for key, t in tolerances.items()}),
        replace(target, axis_cm=10.16),
        replace(target, chance=0.9),
        replace(target, ceiling_g=320.0),
        target.placed(dict.fromkeys(tolerances, 300.0)),
    ):
        assert fingerprint(other) != fingerprint(target)


def test_what_has_no_fingerprint_is_refused():
    with pytest.raises(TypeError, match="no fingerprint"):
        fingerprint(object())


# -- one search ------------------------------------------------------------------------------


class Counted:
    """A kind that counts how often it is solved, and finds what it is told to."""

    name = "counted"

    def __init__(self):
        self.solved, self.state = 0, "now"

    def prepare(self, search):
        def solve(watch):
            self.solved += 1
            is_going_on = watch(3.0, 2.0)
            return {"status": "optimal" if is_going_on else "undecided"}

        return Prepared(self.state, solve)

    def cards(self, found, user):
        return [SearchCard(each, each.part, order=-each.pk, same=each.part[:1]) for each in found]


@pytest.fixture
def counted(monkeypatch):
    kind = Counted()
    monkeypatch.setitem(searches._KINDS, kind.name, kind)
    return kind


def asked(by, *parts, state="now"):
    return ask("counted", 1, [SearchRequest(part, state, {}) for part in parts], by)


def test_a_search_is_solved_once_and_tells_how_far_it_came(technician, counted):
    (first,) = asked(technician, "a")
    for _ in range(2):
        solve_now(first.pk)
    assert asked(technician, "a") == [first]
    first.refresh_from_db()
    assert (counted.solved, first.state, first.best_g, first.bound_g) == (1, "done", 3.0, 2.0)


def test_a_search_of_another_state_is_another_and_the_old_one_goes(technician, counted):
    (first,) = asked(technician, "a")
    solve_now(first.pk)
    counted.state = "later"
    (second,) = asked(technician, "a", state="later")
    solve_now(second.pk)
    assert list(Search.objects.all()) == [second]


def test_a_search_whose_inputs_changed_before_its_turn_fails_with_a_sentence(technician, counted):
    (found,) = asked(technician, "a")
    counted.state = "later"
    solve_now(found.pk)
    found.refresh_from_db()
    assert (found.state, counted.solved) == ("failed", 0)
    assert "earch again" in found.problem


def test_a_search_that_is_stopped_while_it_waits_never_begins(technician, counted):
    (found,) = asked(technician, "a")
    stop(found)
    solve_now(found.pk)
    found.refresh_from_db()
    assert (found.state, counted.solved) == ("stopped", 0)
    (again,) = asked(technician, "a")
    assert (again.pk, again.state) == (found.pk, "waiting")


def test_a_search_that_is_aborted_ends_with_what_it_has(technician, counted):
    (found,) = asked(technician, "a")
    solve_now(found.pk, is_aborted=lambda: True)
    found.refresh_from_db()
    assert (found.state, found.result) == ("done", {"status": "undecided"})


def test_cards_stand_in_their_order_and_the_same_answer_once(technician, counted):
    found = asked(technician, "ax", "b", "ay")
    for each in found:
        solve_now(each.pk)
    cards = searches.cards_of(list(Search.objects.all()), technician)
    assert [card.title for card in cards] == ["ay", "b"]
